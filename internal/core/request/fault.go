package request

import (
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/form"
	"heptad/internal/core/refusal"
)

// Fault is what staff say of a request that many have the same trouble as: others see this
// sentence, and may join.
type Fault struct {
	Sentence string    `json:"sentence"`
	By       string    `json:"by"` // ID of a person
	At       time.Time `json:"at"`
	Joined   int       `json:"joined,omitempty"` // how many have
}

type (
	// OpenToAll lets others join, by staff, with a sentence that they read; an empty one
	// ends that.
	OpenToAll struct{ Sentence string }
	// Join says that somebody has the same trouble.
	Join struct {
		Line   string // in their words; may be empty
		Joined bool   // they have before
	}
)

func (c OpenToAll) do(t *transition) error { return ties{t}.openToAll(c) }

func (c Join) do(t *transition) error { return ties{t}.join(c) }

func (t ties) openToAll(c OpenToAll) error {
	s := &t.state
	sentence := strings.TrimSpace(c.Sentence)
	switch {
	case !s.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service).works():
		return notYours("Only staff can open a request to all.")
	case !s.Status.UnderWay():
		return conflict(refusal.Closed, "This request is closed.")
	case !form.OneLine(sentence):
		return &Refusal{Kind: Invalid, Code: refusal.OneLine, Sentence: "What others read stands on one line.", Place: "/sentence"}
	case s.Fault == nil && sentence == "":
		return missing("/sentence", "Write what others read: no name, and nothing of the answers.")
	case s.Main() != nil:
		return conflict(refusal.NotMain, "It is the same as %s: open that one.", s.Main().Reference)
	}
	t.emit(OpenedToAll{sentence})
	return nil
}

func (t ties) join(c Join) error {
	s := &t.state
	asker, _ := t.facts.Company.Person(t.facts.Actor)
	may, _ := t.facts.Offering.Audience.MayAsk(audience.Of(asker, t.facts.Company))
	switch {
	case s.Fault == nil || s.Fault.Sentence == "" || !may:
		return conflict(refusal.NotOpen, "Nobody can join this any more.")
	case !s.Status.UnderWay():
		return conflict(refusal.Closed, "This has ended.")
	case c.Joined || s.isSide(t.facts.Actor):
		return conflict(refusal.Joined, "You have this already.")
	}
	t.emit(Joined{strings.TrimSpace(c.Line)})
	return nil
}

func (b OpenedToAll) apply(s *State, e Event) {
	joined := 0
	if s.Fault != nil {
		joined = s.Fault.Joined
	}
	s.Fault = &Fault{Sentence: b.Sentence, By: e.Actor, At: e.At, Joined: joined}
}

func (Joined) apply(s *State, _ Event) {
	now := *s.Fault
	now.Joined++
	s.Fault = &now
}

func (b OpenedToAll) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "stage", "Others who have this can join", b.Sentence
	if b.Sentence == "" {
		w.Sentence = "Others cannot join this any more"
	}
	return true
}

// A joining is told only as a count: who it was is theirs.
func (Joined) tell(*telling) bool { return false }
