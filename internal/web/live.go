package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/work"
)

// heartbeat keeps a stream open through proxies, and is how soon it ends after
// its session.
const heartbeat = 15 * time.Second

var listening = huma.Operation{
	Description: "Server-sent events (text/event-stream): a 'change' with kind and id for whatever changes that concerns the person, " +
		"and 'refresh' when events were missed since Last-Event-ID or after.",
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
			if change.Kind == "company" && !s.still(r, person) || s.send(r.Context(), stream, change) != nil {
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
	last, err := s.Office.LastEvent(r.Context())
	if err != nil {
		return err
	}
	after := r.Header.Get("Last-Event-ID")
	if after == "" {
		after = r.URL.Query().Get("after")
	}
	if seen, err := strconv.ParseInt(after, 10, 64); err == nil && seen < last {
		return out.write(fmt.Sprintf("id: %d\nevent: refresh\ndata: {}\n\n", last))
	}
	return out.write(fmt.Sprintf("id: %d\nevent: hello\ndata: {}\n\n", last))
}

func (s *Server) send(ctx context.Context, out stream, c work.Change) error {
	last, err := s.Office.LastEvent(ctx)
	if err != nil {
		return err
	}
	return out.write(fmt.Sprintf("id: %d\nevent: change\ndata: {\"kind\":%q,\"id\":%q}\n\n", last, c.Kind, c.ID))
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
