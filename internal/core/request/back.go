package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
)

// Back is one time that a request was sent back.
type Back struct {
	At        time.Time `json:"at"`
	By        string    `json:"by"` // ID of a person
	Text      string    `json:"text"`
	Lines     []string  `json:"lines,omitempty"` // names of what is not right
	Delivered time.Time `json:"delivered"`       // when all work was done before
	Tasks     []string  `json:"tasks"`           // keys of those that put it right
}

// raisedAt is how often a request is sent back before the owner of its service is told.
const raisedAt = 3

// mostBacks is how often a request can be sent back.
const mostBacks = 50

// sendBack is the word of the asker's side that it is not right: from delivery on, and
// after closing for as long as the offering says (rules.md 8).
func (t *transition) sendBack(c SendBack) error {
	s := &t.state
	switch {
	case !t.side():
		return notYours("Only %s can send this back.", t.sideNames())
	case s.Status != Delivered && (s.Status != Closed || s.Outcome != Fulfilled):
		return conflict(refusal.NotDelivered, "There is nothing yet to send back.")
	case s.Status == Closed && !t.facts.Now.Before(s.BackBy):
		return conflict(refusal.BackOver, "It is closed for too long to be sent back: ask anew.")
	case len(s.Backs) >= mostBacks:
		return conflict(refusal.BackOver, "It was sent back %d times: ask anew.", mostBacks)
	}
	text, err := reason(c.Text, "/text", "Say what is not right.")
	if err != nil {
		return err
	}
	for _, line := range c.Lines {
		if !slices.Contains(s.MayBeWrong(), line) {
			return &Refusal{Kind: Invalid, Code: refusal.Line, Sentence: fmt.Sprintf("There is no line %q.", line), Place: "/lines"}
		}
	}
	stopped := time.Time{}
	if s.Promise != nil {
		stopped = s.stop().At
	}
	n := len(s.Backs) + 1
	again := t.tasks().putRight(n, text, c.Lines)
	t.emit(SentBack{Text: text, Lines: c.Lines, Stopped: stopped, Tasks: again, Undo: t.tasks().redone(again), Raised: n%raisedAt == 0})
	t.tasks().undoRedone()
	t.tasks().release()
	return nil
}

// MayBeWrong are the names of the parts of a request that the asker can point at: what was
// picked, and the lines of its tasks.
func (s *State) MayBeWrong() []string {
	names := []string{}
	add := func(name string) {
		if name != "" && !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	for _, l := range s.Price.Lines {
		if l.Kind == "item" || l.Kind == "extra" {
			add(l.Name)
		}
	}
	for i := range s.Tasks {
		for _, l := range s.Tasks[i].Lines {
			add(l.Name)
		}
	}
	return names
}

// putRight are the tasks that follow the n-th sending back: those that the offering names,
// done again under new keys, or one for its home team, or the team the offering names, with
// the asker's words.
func (t tasks) putRight(n int, text string, lines []string) []Task {
	o := t.facts.Offering
	right := o.Document.Promise.Right
	if right == nil {
		right = &promise.Right{}
	}
	words := t.facts.Company.Name(t.facts.Actor) + ": " + text
	if len(lines) > 0 {
		words += "\n\nNot right: " + strings.Join(lines, ", ")
	}
	var again []Task
	keys := map[string]string{}
	for _, task := range t.made() {
		if slices.Contains(right.Tasks, task.Of) {
			keys[task.Key] = fmt.Sprintf("%s-again-%d", task.Key, n)
			again = append(again, task)
		}
	}
	for i := range again {
		task := &again[i]
		after := []string{}
		for _, before := range task.After {
			if key, ok := keys[before]; ok { // the others have ended
				after = append(after, key)
			}
		}
		if instructions, err := o.Plan.Instructions(task.Of, t.taskValues(task), t.show()); err == nil {
			task.Instructions = instructions
		}
		task.Key, task.After, task.Back = keys[task.Key], after, n
		task.Instructions = strings.TrimSpace(words + "\n\n" + task.Instructions)
	}
	if len(again) > 0 {
		return again
	}
	team := right.Team
	if _, known := t.facts.Company.Team(team); !known {
		team = t.facts.Service.Home
	}
	return []Task{{
		Key: fmt.Sprintf("right-%d", n), Name: "Put right", Kind: plan.Manual, Team: team, After: []string{}, Slice: openQuestions(o), Instructions: words, State: plan.Blocked, Back: n,
	}}
}

// redone are the keys of the tasks that are taken back before they are done again, where the
// offering wants that: those that were done, and that it says how to take back.
func (t tasks) redone(again []Task) []string {
	right := t.facts.Offering.Document.Promise.Right
	if right == nil || !right.Undo {
		return nil
	}
	var keys []string
	for i := range t.state.Tasks {
		old := &t.state.Tasks[i]
		of, ok := t.facts.Offering.Plan.Task(old.Of)
		if !ok || of.Undo == nil || old.State != plan.Done || old.Left || t.state.doneAgain(i) {
			continue
		}
		if slices.ContainsFunc(again, func(n Task) bool { return n.Of == old.Of && n.number() == old.number() }) {
			keys = append(keys, old.Key)
		}
	}
	return keys
}

// undoRedone takes back the next task that is done again, the last first, one after the
// other; then what is done again begins.
func (t tasks) undoRedone() {
	if t.state.Status != Delivering && t.state.Status != Waiting {
		return
	}
	next := -1
	for i := range t.state.Tasks {
		switch task := &t.state.Tasks[i]; {
		case task.Undo != nil:
			return
		case task.toRedo() && (next < 0 || task.EndedBy >= t.state.Tasks[next].EndedBy):
			next = i
		}
	}
	if next >= 0 {
		t.takeBack(t.state.Tasks[next].Key)
		return
	}
	t.release()
}

// toRedo reports whether it is still to be taken back before it is done again.
func (t *Task) toRedo() bool { return t.Redone && t.State == plan.Done && !t.Left }

// openQuestions are the keys of the questions whose answers are neither private nor only
// for some.
func openQuestions(o *offering.Compiled) []string {
	keys := []string{}
	for _, q := range o.Document.Questions {
		if q.Readers != form.Private && q.Kind != form.Statement {
			keys = append(keys, q.Key)
		}
	}
	return keys
}

func (b SentBack) apply(s *State, e Event) {
	back := Back{At: e.At, By: e.Actor, Text: b.Text, Lines: b.Lines, Delivered: s.Stages["delivered"]}
	for _, task := range b.Tasks {
		back.Tasks = append(back.Tasks, task.Key)
	}
	if !b.Stopped.IsZero() { // from then on until now nobody owed anything
		s.Pauses = append(slices.Clip(s.Pauses), promise.Pause{From: b.Stopped, Until: e.At, Why: promise.Delivered})
	}
	s.unreach("delivered", "confirmed", "closed")
	s.Ends = without(s.Ends, FulfilmentClock)
	s.Status, s.Outcome, s.ConfirmBy, s.BackBy, s.Likely = Delivering, "", time.Time{}, time.Time{}, time.Time{}
	for _, key := range b.Undo {
		s.task(key).Redone = true
	}
	s.Backs, s.Tasks = append(slices.Clip(s.Backs), back), append(slices.Clip(s.Tasks), b.Tasks...)
}

func (b SentBack) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "stage", "Sent back: it is not right", b.Text
	if len(b.Lines) > 0 {
		w.Sentence += ", " + strings.Join(b.Lines, ", ")
	}
	w.all = true
	return true
}
