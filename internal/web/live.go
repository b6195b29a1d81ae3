package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/work"
)

// heartbeat keeps a stream open through proxies, and is how soon it ends after
// its session.
const heartbeat = 15 * time.Second

// gathered is how long a change waits for others that go out with it.
const gathered = 60 * time.Millisecond

var listening = huma.Operation{
	Description: "Server-sent events (text/event-stream): a 'change' for what has changed that concerns the person, with its kind (request, message, " +
		"company, calendar or catalog), the ids of its requests, and counts of what waits for them on each desk; and 'refresh' when something was " +
		"missed since Last-Event-ID or after.",
	Parameters: []*huma.Param{{Name: "after", In: "query", Schema: &huma.Schema{Type: "integer"}}}, Security: needsSession,
	Responses: map[string]*huma.Response{"200": {Description: "The stream", Content: map[string]*huma.MediaType{"text/event-stream": {}}}},
}

// live streams what changes that concerns the person, as server-sent events.
// The ID of an event is the number of the newest stored event.
func (s *Server) live(w http.ResponseWriter, r *http.Request) {
	person := me(r.Context())
	if person == "" {
		s.refuse(w, r, errNotSignedIn)
		return
	}
	session := s.sessions.Token(r.Context())
	if !s.meters.streams.begin(session, s.meters.limits.Streams) {
		s.refuse(w, r, slowDown(heartbeat, "Heptad is open in too many windows. Close some of them."))
		return
	}
	defer s.meters.streams.end(session)
	changes, end := s.Office.Live.Listen(person)
	defer end()
	stream := stream{w, http.NewResponseController(w)}
	w.Header().Set("Content-Type", "text/event-stream")
	if err := s.begin(r, stream); err != nil {
		return
	}
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-r.Context().Done():
			return
		case <-s.ending:
			return
		case change := <-changes:
			if !s.send(r, stream, person, change, changes) {
				return
			}
		case <-beat.C:
			if !s.still(r, person) || stream.write(": still here\n\n") != nil {
				return
			}
		}
	}
}

// begin tells a listener whether it has missed something since the event it
// names: when it comes back, in the header; when it is new, in the address.
func (s *Server) begin(r *http.Request, out stream) error {
	after := r.Header.Get("Last-Event-ID")
	if after == "" {
		after = r.URL.Query().Get("after")
	}
	last, what := s.Office.LastEvent(), "hello"
	if seen, err := strconv.ParseInt(after, 10, 64); err == nil && s.Office.Live.Missed(me(r.Context()), seen) {
		what = "refresh"
	}
	return out.write(fmt.Sprintf("id: %d\nevent: %s\ndata: {}\n\n", last, what))
}

// told is a change as it goes out: of several at once those of the same kind are one.
type told struct {
	Kind  string   `json:"kind"`
	IDs   []string `json:"ids,omitempty"`
	Waits *waits   `json:"waits,omitempty"`
}

// send tells a change with all that have come meanwhile; more than wait are told as what was
// missed. It reports whether the stream goes on.
func (s *Server) send(r *http.Request, out stream, person string, change work.Change, more <-chan work.Change) bool {
	select { // what one act leads to comes in several changes
	case <-time.After(gathered):
	case <-s.ending:
		return false
	case <-r.Context().Done():
		return false
	}
	full := len(more) >= cap(more)-1 // it was, before this one was taken, and others may have found no room
	kinds, ids := []string{}, map[string][]string{}
	for waiting := true; waiting; {
		if !slices.Contains(kinds, change.Kind) {
			kinds = append(kinds, change.Kind)
		}
		if change.ID != "" && !slices.Contains(ids[change.Kind], change.ID) {
			ids[change.Kind] = append(ids[change.Kind], change.ID)
		}
		select {
		case change = <-more:
		default:
			waiting = false
		}
	}
	if slices.Contains(kinds, "company") && !s.still(r, person) {
		return false
	}
	if full {
		return out.write(fmt.Sprintf("id: %d\nevent: refresh\ndata: {}\n\n", change.Event)) == nil
	}
	var counted *waits
	for _, kind := range kinds {
		what := told{Kind: kind, IDs: ids[kind]}
		if kind == "request" || kind == "message" {
			if counted == nil {
				now, err := waitingFor(r.Context(), s.Office, person)
				if err != nil {
					return false // who comes back reads everything anew
				}
				counted = &now
			}
			what.Waits = counted
		}
		data, err := json.Marshal(what)
		if err != nil || out.write(fmt.Sprintf("id: %d\nevent: change\ndata: %s\n\n", change.Event, data)) != nil {
			return false
		}
	}
	return true
}

type stream struct {
	w       http.ResponseWriter
	control *http.ResponseController
}

func (s stream) write(text string) error {
	if _, err := s.w.Write([]byte(text)); err != nil {
		return err
	}
	return s.control.Flush()
}
