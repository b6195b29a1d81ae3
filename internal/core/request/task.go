package request

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/money"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// Task is a task as it stands on a request.
type Task struct {
	Key          string            `json:"key"`
	Of           string            `json:"of,omitempty"` // key of the task of the plan; empty when staff added it
	Name         string            `json:"name"`
	Kind         plan.Kind         `json:"kind"`
	Team         string            `json:"team"`
	After        []string          `json:"after"`
	Slice        []string          `json:"slice"`
	Instructions string            `json:"instructions"`
	Each         *plan.Each        `json:"each,omitempty"` // what it is made for
	State        plan.State        `json:"state"`
	Holder       string            `json:"holder,omitempty"` // ID of who took it
	Connector    string            `json:"connector,omitempty"`
	Effort       string            `json:"effort,omitempty"` // of one that staff added
	Attempts     int               `json:"attempts,omitempty"`
	Trouble      string            `json:"trouble,omitempty"` // the last error, or why it is stuck
	RetryAt      time.Time         `json:"retryAt"`
	StuckAt      time.Time         `json:"stuckAt,omitzero"` // when it got stuck last; it may go on since
	ReadyAt      time.Time         `json:"readyAt"`
	TakenAt      time.Time         `json:"takenAt"`
	Since        time.Time         `json:"since,omitzero"` // when it came to stand as it does, until it has ended
	Mark         int64             `json:"mark,omitempty"` // what the hands of its holder had worked by then, in milliseconds
	Spent        Spent             `json:"spent,omitzero"` // until then
	EndedAt      time.Time         `json:"endedAt"`
	EndedBy      int               `json:"endedBy,omitempty"` // number of the event, which orders what ended in the same instant
	Until        time.Time         `json:"until"`             // when a wait ends, or the silence of those who are asked; zero for never
	Due          time.Time         `json:"due"`               // of its own; zero for none
	Remind       []time.Time       `json:"remind,omitempty"`
	Reminded     int               `json:"reminded,omitempty"` // how many of them were told; one more once it is due
	MustDos      []MustDo          `json:"mustDos,omitempty"`
	Lines        []Line            `json:"lines,omitempty"`
	Confirmers   []string          `json:"asked,omitempty"`     // IDs of those who are to confirm
	Confirmed    []string          `json:"confirmed,omitempty"` // IDs of those who have
	Question     *TaskQuestion     `json:"question,omitempty"`  // while it waits for the asker
	Outputs      map[string]string `json:"outputs,omitempty"`
	Comes        []Coming          `json:"comes,omitempty"`     // what its outputs are called
	Corrected    map[string]string `json:"corrected,omitempty"` // inputs of its call that its lead has corrected
	LeftOut      string            `json:"leftOut,omitempty"`   // why staff left it out, though it was needed
	Secrets      []string          `json:"secrets,omitempty"`   // keys of the outputs that are kept apart
	Waived       []string          `json:"waived,omitempty"`    // forerunners it does not wait for any more
	Accepted     bool              `json:"accepted,omitempty"`  // by the other system, which reports later
	Steps        []string          `json:"steps,omitempty"`     // of the reports that were taken
	Place        Place             `json:"place,omitempty"`
	Pool         string            `json:"pool,omitempty"`
	Undo         *Undo             `json:"undo,omitempty"`
	Word         string            `json:"word,omitempty"` // with which it ended
	Left         bool              `json:"left,omitempty"` // it was not taken back, but left as it was done
	Did          *Did              `json:"did,omitempty"`
	Redone       bool              `json:"redone,omitempty"` // it is taken back before it is done again
	Back         int               `json:"back,omitempty"`   // number of the sending back that made it; zero for none
}

// Coming is what an output of a task is called, and what it is.
type Coming struct {
	Key      string    `json:"key"`
	Name     string    `json:"name"`
	Kind     plan.Type `json:"kind,omitempty"`
	Currency string    `json:"currency,omitempty"` // of money; ISO 4217
	Real     bool      `json:"real,omitempty"`     // it is what it really cost
}

// CameOut is an output in words, with its label.
type CameOut struct {
	Coming
	Text string // for people; the name of a file
	File string // ID of a file
}

// CameOut puts what came out of a task into words, in the order of the plan; of
// requests of before, which keep no labels, by key.
func (s *State) CameOut(t *Task, outputs map[string]string) []CameOut {
	var all []CameOut
	known := map[string]bool{}
	add := func(c Coming) {
		text, there := outputs[c.Key]
		known[c.Key] = true
		if !there || text == "" {
			return
		}
		out := CameOut{Coming: c, Text: text}
		switch c.Kind {
		case plan.Money:
			if a, err := money.Parse(text, c.Currency); err == nil {
				out.Text = a.String()
			}
		case plan.File:
			out.File = text
			for _, f := range s.Files {
				if f.ID == text {
					out.Text = f.Name
				}
			}
		}
		all = append(all, out)
	}
	for _, c := range t.Comes {
		add(c)
	}
	for _, key := range slices.Sorted(maps.Keys(outputs)) {
		if !known[key] {
			add(Coming{Key: key, Name: key})
		}
	}
	return all
}

// RealCost adds up what tasks said that it really cost; false while none did.
func (s *State) RealCost() (money.Amount, bool) {
	var total money.Amount
	found := false
	for i := range s.Tasks {
		t := &s.Tasks[i]
		for _, c := range t.Comes {
			a, err := money.Parse(t.Outputs[c.Key], c.Currency)
			if !c.Real || err != nil || t.State == plan.Undone {
				continue
			}
			if !found {
				total, found = a, true
			} else if more, err := total.Plus(a); err == nil {
				total = more
			}
		}
	}
	return total, found
}

// Did is what a task did to a belonging.
type Did struct {
	Does   plan.Does        `json:"does"`
	Now    people.Belonging `json:"now"`
	Before people.Belonging `json:"before"` // of a change
}

// MustDo is a point to tick.
type MustDo struct {
	Text string `json:"text"`
	Done bool   `json:"done,omitempty"`
}

// Line is a part of a task that is done by numbers.
type Line struct {
	Name string `json:"name"`
	Of   int    `json:"of"`
	Done int    `json:"done,omitempty"`
}

// TaskQuestion is what somebody asks the asker about a task.
type TaskQuestion struct {
	By    string    `json:"by"` // ID of a person
	Text  string    `json:"text"`
	At    time.Time `json:"at"`
	Until time.Time `json:"until"` // unanswered until then, the request expires
}

// Place says what a task has of a pool.
type Place string

// The places.
const (
	NoPlace  Place = ""
	Queued   Place = "queued"
	Reserved Place = "reserved"
)

// Undo is how a task that was done is being taken back.
type Undo struct {
	State    plan.State `json:"state"` // ready, taken, stuck; then the task is undone, or done when it was let be
	Text     string     `json:"text,omitempty"`
	Holder   string     `json:"holder,omitempty"`
	Attempts int        `json:"attempts,omitempty"`
	Trouble  string     `json:"trouble,omitempty"`
	RetryAt  time.Time  `json:"retryAt"`
}

// plan is the key of the task of the plan, and the number of what it is made
// for; zero for a single one.
func (t *Task) number() int {
	if t.Each == nil {
		return 0
	}
	return t.Each.Number
}

// Waits lists the forerunners that the task waits for: all but those that were
// waived.
func (t *Task) Waits() []string {
	return slices.DeleteFunc(slices.Clone(t.After), func(key string) bool { return slices.Contains(t.Waived, key) })
}

// isWork reports whether somebody or something has to do it: it is no wait and no
// message.
func (t *Task) isWork() bool { return t.Kind == plan.Manual || t.Kind == plan.Automatic }

// LeftOut lists the work that was needed and that staff left out, in order.
func (s *State) LeftOut() []LeftOut {
	var all []LeftOut
	for i := range s.Tasks {
		if t := &s.Tasks[i]; t.LeftOut != "" {
			all = append(all, LeftOut{t.Name, t.LeftOut})
		}
	}
	return all
}

// unsettled reports whether nobody knows yet if the task was done: a call of it
// is under way.
func (t *Task) unsettled() bool {
	return t.Kind == plan.Automatic && t.State == plan.Ready && t.Place != Queued && !t.Accepted
}

// ForPeople reports whether people of its team have something to do on a task
// now, or have it in hand.
func (t *Task) ForPeople() bool {
	if u := t.Undo; u != nil {
		return u.Text != "" || u.State == plan.Stuck || u.State == plan.Taken
	}
	switch t.State {
	case plan.Ready:
		return t.Kind == plan.Manual && len(t.Confirmers) == 0 && t.Place != Queued
	case plan.Taken, plan.Asking, plan.Stuck:
		return true
	}
	return false
}

// HoldingID is the ID of the belonging that a task makes, and of its place in a
// pool.
func HoldingID(request, task string) string { return request + "/" + task }

// Holding is a belonging of somebody.
type Holding struct {
	people.Belonging
	Person   string `json:"person,omitempty"`   // ID; empty for a newcomer
	Newcomer string `json:"newcomer,omitempty"` // name
	Login    string `json:"login,omitempty"`    // by which a newcomer will be found, once they are in the directory
}
