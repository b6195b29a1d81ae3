package request

import (
	"strings"

	"heptad/internal/core/refusal"
)

// Close ends a request as fulfilled, by staff: what is still open is left out with their
// word to the asker.
type Close struct{ Word string }

func (c Close) do(t *transition) error { return t.tasks().closeDone(c) }

func (t tasks) closeDone(c Close) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch s := t.state.Status; {
	case !v.Owner && !v.HomeLead:
		return notYours("Only the lead of the home team, or the owner of the service, can close this.")
	case s != Delivering && s != Waiting && s != Delivered:
		return conflict(refusal.NotNow, "This cannot be closed as done now.")
	}
	word, err := reason(c.Word, "/word", "Say how it ended: the asker will read it.")
	if err != nil {
		return err
	}
	if t.state.Status != Delivered {
		for i := range t.state.Tasks {
			if task := &t.state.Tasks[i]; task.unsettled() || task.Undo != nil {
				return conflict(refusal.Calling, "%q is being done by itself. Wait for its end.", task.Name)
			}
		}
		for i := range t.state.Tasks {
			task := &t.state.Tasks[i]
			if task.State.Ended() {
				continue
			}
			t.giveBack(task)
			t.emit(TaskSkipped{task.Key, "Closed: " + word, t.needs(task)})
		}
		t.emit(WorkDelivered{ConfirmBy: t.facts.Now, LeftOut: t.state.LeftOut(), Word: word, Next: t.next()})
	}
	t.close(RequestClosed{Outcome: Fulfilled, Word: word})
	return nil
}

// lastWord is what staff said with the task whose end delivers.
func (t *transition) lastWord() string {
	for i := len(t.events) - 1; i >= 0; i-- {
		if done, is := t.events[i].Body.(TaskDone); is {
			return done.Word
		}
	}
	return ""
}

// next is what the offering says comes next, filled in; a faulty text says nothing.
func (t *transition) next() string {
	text, err := t.facts.Offering.Next(t.values(), t.show())
	if err != nil {
		return ""
	}
	return strings.TrimSpace(text)
}

// mayClose reports whether staff can close it as fulfilled: nothing is being done by itself.
func (s *State) mayClose() bool {
	if s.Status == Delivered {
		return true
	}
	if s.Status != Delivering && s.Status != Waiting {
		return false
	}
	for i := range s.Tasks {
		if t := &s.Tasks[i]; t.unsettled() || t.Undo != nil {
			return false
		}
	}
	return true
}

// Closing is how staff ended the work, and what comes next.
type Closing struct {
	Word string `json:"word,omitempty"`
	By   string `json:"by,omitempty"` // ID of who said it
	Next string `json:"next,omitempty"`
}
