package request

import (
	"fmt"
	"strings"

	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
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
	case len(t.state.Awaits()) > 0:
		return conflict(refusal.Awaits, "It waits for %s, and cannot end before.", t.state.awaited())
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
		t.leaveOpen(word)
	}
	t.close(RequestClosed{Outcome: Fulfilled, Word: word})
	return nil
}

// leaveOpen delivers without what is still open, with a word to the asker.
func (t tasks) leaveOpen(word string) {
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		if task.State.Ended() {
			continue
		}
		t.giveBack(task)
		t.emit(TaskSkipped{Task: task.Key, Reason: "Closed: " + word, Needed: t.needs(task)})
	}
	t.emit(WorkDelivered{ConfirmBy: t.facts.Now, LeftOut: t.state.LeftOut(), Word: word, Next: t.next()})
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

func (t *transition) deliver() {
	by := t.facts.Offering.Promise.ConfirmBy(t.facts.Now)
	t.emit(WorkDelivered{ConfirmBy: by, LeftOut: t.state.LeftOut(), Remind: t.facts.Offering.Promise.Reminders(t.facts.Now, by), Word: t.lastWord(), Next: t.next(), Rates: t.facts.Offering.Promise.RatesAt() == promise.RateDelivered})
	if !by.After(t.facts.Now) {
		t.close(RequestClosed{Outcome: Fulfilled})
		return
	}
	t.effects = append(t.effects, Effect{Kind: LapseTimer, Key: t.lapseKey(), At: by})
}

// close ends the request, and gives back the places that nobody has.
func (t *transition) close(c RequestClosed) {
	t.freeTies()
	for i := range t.state.Tasks {
		if task := &t.state.Tasks[i]; task.Place != NoPlace && (task.Did == nil || task.Did.Does != plan.Make) {
			t.emit(PlaceReturned{task.Key, task.Pool})
		}
	}
	if c.Outcome == Fulfilled {
		c.Rates = t.facts.Offering.Promise.RatesAt() == promise.RateClosed
		c.BackBy = t.facts.Offering.Promise.BackBy(t.facts.Now)
	}
	t.emit(c)
}

// lapseKey is that of the timer of a delivery; each has its own.
func (t *transition) lapseKey() string {
	if n := len(t.state.Backs); n > 0 {
		return fmt.Sprintf("%s/lapse/%d", t.state.ID, n+1)
	}
	return t.state.ID + "/lapse"
}
