package request

import (
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
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

// All lists the statuses in their order.
func (Status) All() []Status {
	return []Status{Draft, Deciding, Returned, Delivering, Waiting, Undoing, Delivered, Closed}
}

// UnderWay reports whether a request has been sent and is not closed.
func (s Status) UnderWay() bool { return s != Draft && s != Closed }

// Promising reports whether a request is on its way to delivery: then it is
// foreseen when it will be there, and it can be late.
func (s Status) Promising() bool { return s.UnderWay() && s != Delivered && s != Undoing }

// WithAsker reports whether the asker has to do something, and WithSide whether
// whom it is for can do it as well.
func (s Status) WithAsker() bool { return s == Draft || s.WithSide() }
func (s Status) WithSide() bool  { return s == Returned || s == Waiting || s == Delivered }

// Which lists the statuses that something is true of, in their order.
func Which(is func(Status) bool) []Status {
	return slices.DeleteFunc(Draft.All(), func(s Status) bool { return !is(s) })
}

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

// All lists the outcomes.
func (Outcome) All() []Outcome { return []Outcome{Fulfilled, Declined, Withdrawn, Expired, Cancelled} }

// Stage is one of the seven edges of the dial.
type Stage string

// Stages lists the seven in their order.
var Stages = []Stage{"drafted", "submitted", "decided", "planned", "delivered", "confirmed", "closed"}

// All lists the stages in their order.
func (Stage) All() []Stage { return Stages }

// State is a request as all its events make it. It holds everything that must
// not change when the offering or the company changes.
type State struct {
	ID         string                    `json:"id"`
	Reference  string                    `json:"reference"`
	Offering   string                    `json:"offering"`
	Version    int                       `json:"version"`
	Title      string                    `json:"title"`
	Service    string                    `json:"service"`
	Asker      string                    `json:"asker"`
	For        offering.Beneficiary      `json:"for"`
	Shared     bool                      `json:"told,omitempty"` // the beneficiary sees it
	Status     Status                    `json:"status"`
	Outcome    Outcome                   `json:"outcome,omitempty"`
	Stages     map[Stage]time.Time       `json:"stages"`
	Answers    form.Answers              `json:"answers"`           // without the private ones
	Private    []string                  `json:"private,omitempty"` // keys of the questions whose answers are kept apart
	Price      price.Price               `json:"price"`
	Promise    *promise.Promised         `json:"promise,omitempty"` // nil when no time is promised
	Rungs      []Rung                    `json:"rungs"`
	Question   *Question                 `json:"question,omitempty"`  // while it is returned
	Foreseen   []string                  `json:"foreseen,omitempty"`  // keys of the teams that the plan foresees
	Followers  []string                  `json:"followers,omitempty"` // IDs of persons
	Tasks      []Task                    `json:"tasks"`
	Files      []Attachment              `json:"files,omitempty"`   // added after sending
	Named      []people.Belonging        `json:"held,omitempty"`    // what the answers name of what they had on sending
	Present    map[string]string         `json:"present,omitempty"` // how it was on sending, by key of the question
	Pauses     []promise.Pause           `json:"pauses,omitempty"`
	Responded  time.Time                 `json:"responded"`        // of staff's first word; zero while there was none
	Ends       map[ClockKind]promise.End `json:"ends,omitempty"`   // of the clocks that have ended
	Went       *Went                     `json:"went,omitempty"`   // where the time of the delivery's clock went, once it has ended
	Ending     Outcome                   `json:"ending,omitempty"` // while it is being undone: how it will end
	Why        string                    `json:"why,omitempty"`    // of the ending
	Chosen     string                    `json:"chosen,omitempty"` // of the reasons that the offering gives, for an end
	ConfirmBy  time.Time                 `json:"confirmBy"`
	Remind     []time.Time               `json:"remind,omitempty"`   // of the asker's side, while it waits for them
	Reminded   int                       `json:"reminded,omitempty"` // how many of them have passed
	Marks      []Reached                 `json:"marks,omitempty"`    // of its promised times, as they were reached
	Warned     []string                  `json:"warned,omitempty"`   // IDs of whom they told that nothing else lets see it
	BackBy     time.Time                 `json:"backBy,omitzero"`    // until when a closed one can be sent back; zero for never
	Rates      bool                      `json:"rates,omitempty"`    // it can be rated
	Ratings    []Rating                  `json:"ratings,omitempty"`
	Together   *Together                 `json:"together,omitempty"` // with others on one slip
	Links      []Link                    `json:"links,omitempty"`    // to other requests
	EndsWith   *EndsWith                 `json:"endsWith,omitempty"` // as its main one did, once nothing is being done by itself
	Fault      *Fault                    `json:"fault,omitempty"`    // that others have, too
	Urging     *Urging                   `json:"urging,omitempty"`   // asked for, and not decided yet
	Closing    *Closing                  `json:"closing,omitempty"`  // what was said as the work ended
	Backs      []Back                    `json:"backs,omitempty"`
	Likely     time.Time                 `json:"likely,omitzero"` // as the asker's side knows it; zero after an act of their own
	SlipToldAt time.Time                 `json:"toldAt,omitzero"` // when they were told last that it slips
	DueAt      time.Time                 `json:"dueAt,omitzero"`  // by its promise, as of the last time its clock went; zero for never
	LateAt     time.Time                 `json:"lateAt,omitzero"` // the first instant at which it is late
	Seq        int                       `json:"seq"`             // of the last event
	At         time.Time                 `json:"at"`              // of the last event
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
