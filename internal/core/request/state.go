package request

import (
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
)

// Status says what a request is now.
type Status string

// The statuses.
const (
	Draft      Status = "draft"
	Deciding   Status = "deciding"
	Returned   Status = "returned" // to the asker, with a question
	Delivering Status = "delivering"
	Waiting    Status = "waiting" // for the asker, during the work
	Undoing    Status = "undoing" // taken back, work being undone
	Delivered  Status = "delivered"
	Closed     Status = "closed"
)

// Outcome says how a closed request ended.
type Outcome string

// The outcomes.
const (
	Fulfilled Outcome = "fulfilled"
	Declined  Outcome = "declined"
	Withdrawn Outcome = "withdrawn"
	Expired   Outcome = "expired"
	Cancelled Outcome = "cancelled" // by staff
)

// Stage is one of the seven edges of the dial.
type Stage string

// Stages lists the seven in their order.
var Stages = []Stage{"drafted", "submitted", "decided", "planned", "delivered", "confirmed", "closed"}

// State is a request as all its events make it. It holds everything that must
// not change when the offering or the company changes.
type State struct {
	ID        string                    `json:"id"`
	Reference string                    `json:"reference"`
	Offering  string                    `json:"offering"`
	Version   int                       `json:"version"`
	Title     string                    `json:"title"`
	Service   string                    `json:"service"`
	Asker     string                    `json:"asker"`
	For       offering.Beneficiary      `json:"for"`
	Told      bool                      `json:"told,omitempty"` // the beneficiary sees it
	Status    Status                    `json:"status"`
	Outcome   Outcome                   `json:"outcome,omitempty"`
	Stages    map[Stage]time.Time       `json:"stages"`
	Answers   form.Answers              `json:"answers"`           // without the private ones
	Private   []string                  `json:"private,omitempty"` // keys of the questions whose answers are kept apart
	Price     price.Price               `json:"price"`
	Promise   *promise.Promised         `json:"promise,omitempty"` // nil when no time is promised
	Rungs     []Rung                    `json:"rungs"`
	Question  *Question                 `json:"question,omitempty"`  // while it is returned
	Foreseen  []string                  `json:"foreseen,omitempty"`  // keys of the teams that the plan foresees
	Followers []string                  `json:"followers,omitempty"` // IDs of persons
	Tasks     []Task                    `json:"tasks"`
	Files     []Attachment              `json:"files,omitempty"`   // added after sending
	Held      []people.Belonging        `json:"held,omitempty"`    // what the answers name of what they had on sending
	Present   map[string]string         `json:"present,omitempty"` // how it was on sending, by key of the question
	Pauses    []promise.Pause           `json:"pauses,omitempty"`
	Responded time.Time                 `json:"responded"`        // of staff's first word; zero while there was none
	Ends      map[ClockKind]promise.End `json:"ends,omitempty"`   // of the clocks that have ended
	Ending    Outcome                   `json:"ending,omitempty"` // while it is being undone: how it will end
	Why       string                    `json:"why,omitempty"`    // of the ending
	ConfirmBy time.Time                 `json:"confirmBy"`
	Likely    time.Time                 `json:"likely,omitzero"` // as the asker's side knows it; zero after an act of their own
	ToldAt    time.Time                 `json:"toldAt,omitzero"` // when they were told last that it slips
	Seq       int                       `json:"seq"`             // of the last event
	At        time.Time                 `json:"at"`              // of the last event
}

// ClockKind says what a clock measures.
type ClockKind string

// The clocks of a request.
const (
	ResponseClock   ClockKind = "response"
	FulfilmentClock ClockKind = "fulfilment"
)

// Beneficiary is the ID of the person it is for; empty for a newcomer.
func (s *State) Beneficiary() string {
	if s.For.Newcomer == nil && s.For.Person == "" {
		return s.Asker
	}
	return s.For.Person
}

// Question is what an approver asked back, or why they declined what can still be
// mended.
type Question struct {
	Rung     string    `json:"rung"`
	By       string    `json:"by"` // ID of a person
	Text     string    `json:"text"`
	At       time.Time `json:"at"`
	Until    time.Time `json:"until"` // unanswered until then, the request expires
	Declined bool      `json:"declined,omitempty"`
	Parts    []string  `json:"parts,omitempty"` // cost centres whose shares were declined
}

// Rung is a decision as it stands on a request.
type Rung struct {
	Key     string         `json:"key"`
	Name    string         `json:"name"`
	Quorum  string         `json:"quorum"`
	Facts   []string       `json:"facts,omitempty"` // keys of the questions it shows; all when empty
	NoPrice bool           `json:"noPrice,omitempty"`
	Say     string         `json:"say,omitempty"`  // what there is to decide
	Opened  time.Time      `json:"opened"`         // zero while it waits for an earlier rung
	Times   ladder.Times   `json:"times"`          // of what happens by itself
	Told    int            `json:"told,omitempty"` // the highest share reminded of, in per cent; 100 once the limit is passed
	Note    string         `json:"note,omitempty"` // what is to be known of how it was asked
	Outcome ladder.Outcome `json:"outcome"`
	Seats   []ladder.Seat  `json:"seats"`
	Votes   []Vote         `json:"votes"`
}

// Vote is what one approver said. A seat has one vote at most.
type Vote struct {
	Seat     string    `json:"seat"`           // ID of the approver whose seat it fills
	Part     string    `json:"part,omitempty"` // of the seat
	Person   string    `json:"person"`         // ID of who voted
	Decision Decision  `json:"decision"`
	Reason   string    `json:"reason,omitempty"`
	At       time.Time `json:"at"`
	Carried  bool      `json:"carried,omitempty"` // they approved on an earlier rung
}

// Decision is one vote's yes or no.
type Decision string

// The decisions.
const (
	Approve Decision = "approve"
	Decline Decision = "decline"
)

// Attachment is a file added after sending.
type Attachment struct {
	form.Upload
	By   string    `json:"by"` // ID of a person
	At   time.Time `json:"at"`
	Task string    `json:"task,omitempty"`

	Readers *Readers `json:"readers,omitempty"` // nil before they could be chosen
}

// Opens reports whether somebody may see a file.
func (a Attachment) Opens(v Viewer) bool { return v.OpensFile(before(a.Readers, a.Task, false), a.By) }

// Concerns reports whether a file is for the team of a task.
func (a Attachment) Concerns(task string) bool {
	return before(a.Readers, a.Task, false).concerns(a.Task, task)
}

// Task finds a task by key.
func (s *State) Task(key string) (*Task, bool) {
	for i := range s.Tasks {
		if s.Tasks[i].Key == key {
			return &s.Tasks[i], true
		}
	}
	return nil, false
}

// OpenRung is the rung that is being decided, if any.
func (s *State) OpenRung() (*Rung, bool) {
	if s.Status != Deciding && s.Status != Returned {
		return nil, false
	}
	for i := range s.Rungs {
		if s.Rungs[i].Outcome == ladder.Open && !s.Rungs[i].Opened.IsZero() {
			return &s.Rungs[i], true
		}
	}
	return nil, false
}

// DueAt is until when the rung is to be decided: its limit, else when the
// request expires.
func (r *Rung) DueAt() time.Time {
	if r.Times.Limit.IsZero() {
		return r.Times.Expire
	}
	return r.Times.Limit
}

// Waiting lists with whom the open seats of a rung lie.
func (r *Rung) Waiting() []string {
	var out []string
	for _, seat := range r.Seats {
		if _, filled := r.VoteFor(seat); filled {
			continue
		}
		for _, person := range seat.Asked() {
			if !slices.Contains(out, person) {
				out = append(out, person)
			}
		}
	}
	return out
}

// VoteOf finds what a person said on the rung.
func (r *Rung) VoteOf(person string) (Vote, bool) {
	for _, v := range r.Votes {
		if v.Person == person {
			return v, true
		}
	}
	return Vote{}, false
}

// VoteFor finds what fills a seat.
func (r *Rung) VoteFor(seat ladder.Seat) (Vote, bool) {
	for _, v := range r.Votes {
		if v.Seat == seat.Person && (v.Part == seat.Part || v.Part == "" && !r.hasWhole(v.Seat)) {
			return v, true
		}
	}
	return Vote{}, false
}

// hasWhole reports whether an approver decides on the whole. Of one who decides on
// a part only, votes of before name no part.
func (r *Rung) hasWhole(approver string) bool {
	return slices.ContainsFunc(r.Seats, func(s ladder.Seat) bool { return s.Person == approver && s.Part == "" })
}

// HasSeat reports whether a person is, or was, asked for the decision.
func (r *Rung) HasSeat(person string) bool {
	for _, seat := range r.Seats {
		if seat.Person == person || slices.ContainsFunc(seat.Others, func(o ladder.Other) bool { return o.Person == person }) {
			return true
		}
	}
	return false
}

// SeatsFor finds the seats that a person's decision fills: of those for the whole
// the one they have voted on, else their own, else the first open one they are
// asked for; and of those for a part each that nobody else has filled.
func (r *Rung) SeatsFor(person string) []ladder.Seat {
	var whole *ladder.Seat
	rank := 0
	var parts []ladder.Seat
	for i, seat := range r.Seats {
		vote, filled := r.VoteFor(seat)
		if !seat.May(person) || filled && vote.Person != person {
			continue
		}
		if seat.Part != "" {
			parts = append(parts, seat)
			continue
		}
		better := 1
		switch {
		case filled:
			better = 3
		case seat.Person == person:
			better = 2
		}
		if better > rank {
			whole, rank = &r.Seats[i], better
		}
	}
	if whole == nil {
		return parts
	}
	return append([]ladder.Seat{*whole}, parts...)
}

// Parts lists the cost centres on whose shares alone a person decides; none when
// they decide on the whole, or not at all.
func (r *Rung) Parts(person string) []string {
	var parts []string
	for _, seat := range r.Seats {
		switch {
		case !slices.Contains(seat.Everybody(), person):
		case seat.Part == "":
			return nil
		default:
			parts = append(parts, seat.Part)
		}
	}
	return parts
}

// PriceFor is as much of a price as the rung shows a person: nothing, their
// parts, or the whole.
func (r *Rung) PriceFor(person string, p price.Price) price.Price {
	if r.NoPrice {
		return price.Price{}
	}
	if parts := r.Parts(person); len(parts) > 0 {
		return p.OfParts(parts)
	}
	return p
}

// OpenSeatsFor finds the seats of these that nobody has filled yet.
func (r *Rung) OpenSeatsFor(person string) []ladder.Seat {
	return slices.DeleteFunc(r.SeatsFor(person), func(s ladder.Seat) bool {
		_, filled := r.VoteFor(s)
		return filled
	})
}

// deciders lists everybody who sits on the rung or has decided on it.
func (r *Rung) deciders() []string {
	var all []string
	for _, seat := range r.Seats {
		all = append(all, seat.Deciders()...)
	}
	for _, v := range r.Votes {
		all = append(all, v.Person)
	}
	return all
}

// rivals lists who cannot join a seat, as they decide already: of one for a part
// those who fill it, as one person may decide on several parts; of one for the
// whole those who decide on the whole.
func (r *Rung) rivals(seat ladder.Seat) []string {
	if seat.Part != "" {
		return seat.Everybody()
	}
	var all []string
	for _, other := range r.Seats {
		if other.Part == "" {
			all = append(all, other.Deciders()...)
			if v, filled := r.VoteFor(other); filled {
				all = append(all, v.Person)
			}
		}
	}
	return all
}

// stand counts the votes: the quorum of the seats for the whole must be reached,
// and every part needs its own yes (rules.md 5).
func (r *Rung) stand() ladder.Outcome {
	seats, approvals, declines, open := 0, 0, 0, false
	for _, seat := range r.Seats {
		vote, filled := r.VoteFor(seat)
		if seat.Part != "" {
			if filled && vote.Decision == Decline {
				return ladder.Declined
			}
			open = open || !filled
			continue
		}
		seats++
		switch {
		case filled && vote.Decision == Approve:
			approvals++
		case filled:
			declines++
		}
	}
	switch outcome := ladder.Stand(r.Quorum, seats, approvals, declines); {
	case seats > 0 && outcome != ladder.Passed:
		return outcome
	case open:
		return ladder.Open
	}
	return ladder.Passed
}

// Holder is with whom a request lies: a person, a team, or a system by itself.
type Holder struct {
	Person string `json:"person,omitempty"`
	Team   string `json:"team,omitempty"`
	System string `json:"system,omitempty" doc:"Key of the connector at work"`
	Pool   string `json:"pool,omitempty" doc:"Key of the pool whose waiting list it is on"`
	Wait   bool   `json:"wait,omitempty" doc:"It waits for its time"`
	Task   string `json:"task,omitempty" doc:"Key of the task in hand"`
}

// Holders lists with whom the request lies now; it is empty only when closed.
// Home is the key of the home team of its service.
func (s *State) Holders(home string) []Holder {
	switch s.Status {
	case Draft, Returned, Delivered:
		return []Holder{{Person: s.Asker}}
	case Deciding:
		rung, ok := s.OpenRung()
		if !ok {
			return nil
		}
		var out []Holder
		if len(rung.Seats) == 0 { // nobody was found: whoever is at home in the service must see to it
			return []Holder{{Team: home}}
		}
		for _, person := range rung.Waiting() {
			out = append(out, Holder{Person: person})
		}
		return out
	case Delivering, Waiting, Undoing:
		var out []Holder
		for i := range s.Tasks {
			if h, ok := s.Tasks[i].holder(s.Asker, s.Status == Undoing); ok {
				out = append(out, h)
			}
		}
		if len(out) == 0 && s.Status == Undoing {
			return []Holder{{Team: home}}
		}
		return out
	}
	return nil
}

// holder is with whom a task lies; false when with nobody.
func (t *Task) holder(asker string, undoing bool) (Holder, bool) {
	if u := t.Undo; u != nil {
		switch {
		case u.State == plan.Ready && u.Text == "":
			return Holder{System: t.Connector, Task: t.Key}, true
		case u.State == plan.Taken:
			return Holder{Person: u.Holder, Team: t.Team, Task: t.Key}, true
		}
		return Holder{Team: t.Team, Task: t.Key}, true
	}
	switch t.State {
	case plan.Ready:
		switch {
		case t.Place == Queued:
			return Holder{Pool: t.Pool, Team: t.Team, Task: t.Key}, true
		case t.Kind == plan.Automatic:
			return Holder{System: t.Connector, Task: t.Key}, true
		case t.Kind == plan.Wait:
			return Holder{Wait: true, Task: t.Key}, true
		}
		return Holder{Team: t.Team, Task: t.Key}, true
	case plan.Stuck:
		return Holder{Person: t.Holder, Team: t.Team, Task: t.Key}, true
	case plan.Taken:
		return Holder{Person: t.Holder, Team: t.Team, Task: t.Key}, true
	case plan.Asking:
		return Holder{Person: asker, Task: t.Key}, true
	}
	return Holder{}, false
}
