package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/refusal"
)

// Linking says how a request belongs to another.
type Linking string

// How a request belongs to another.
const (
	WaitsFor  Linking = "waitsFor"  // it cannot end before the other has
	SameAs    Linking = "sameAs"    // the other is the main one: it follows its words, and ends with it
	ComesFrom Linking = "comesFrom" // it was made because of the other
)

// All lists them in their order.
func (Linking) All() []Linking { return []Linking{WaitsFor, SameAs, ComesFrom} }

// Link ties a request to another. It stands on the one that waits, is the same, or came.
type Link struct {
	Kind      Linking   `json:"kind"`
	Other     string    `json:"other"`     // ID
	Reference string    `json:"reference"` // of the other
	At        time.Time `json:"at"`
	By        string    `json:"by"`              // ID of a person, or Program
	Ended     bool      `json:"ended,omitempty"` // the other has
}

// Together is a slip on which several wishes were sent at once.
type Together struct {
	ID    string `json:"id"`
	Title string `json:"title"` // as who sent them has named it
}

// mostLinks is how many others a request is tied to.
const mostLinks = 50

// The commands that tie requests together.
type (
	// Tie ties a request to another, by staff of both.
	Tie struct {
		Kind  Linking
		Other string // ID
	}
	// Untie takes a tie off.
	Untie struct {
		Kind  Linking
		Other string
	}
	// Heed looks at what has become of the requests it is tied to.
	Heed struct{}
	// Retie ties it to another main one, as the one it had is no more.
	Retie struct{ From, To string }
	// Echo passes on what staff said on its main one.
	Echo struct{ From, By, Text string }
)

func (c Tie) do(t *transition) error { return ties{t}.tie(c) }

func (c Untie) do(t *transition) error { return ties{t}.untie(c) }

func (Heed) do(t *transition) error { return t.tasks().heed() }

func (c Retie) do(t *transition) error { return ties{t}.retie(c) }

func (c Echo) do(t *transition) error { return ties{t}.echo(c) }

// ties is a turn as far as it is about other requests and people.
type ties struct{ *transition }

// linkTo finds a tie of a kind to another request.
func (s *State) linkTo(kind Linking, other string) *Link {
	for i := range s.Links {
		if s.Links[i].Kind == kind && s.Links[i].Other == other {
			return &s.Links[i]
		}
	}
	return nil
}

// Main is the tie to the request it is the same as; nil when it is none's.
func (s *State) Main() *Link {
	for i := range s.Links {
		if s.Links[i].Kind == SameAs && !s.Links[i].Ended {
			return &s.Links[i]
		}
	}
	return nil
}

// Awaits are the ties to requests that have to end before it can.
func (s *State) Awaits() []Link {
	var all []Link
	for _, l := range s.Links {
		if l.Kind == WaitsFor && !l.Ended {
			all = append(all, l)
		}
	}
	return all
}

// awaited names those that have to end first.
func (s *State) awaited() string {
	var names []string
	for _, l := range s.Awaits() {
		names = append(names, l.Reference)
	}
	return strings.Join(names, " and ")
}

func (t ties) tie(c Tie) error {
	s := &t.state
	invalid := func(code, format string, args ...any) error {
		return &Refusal{Kind: Invalid, Code: code, Sentence: fmt.Sprintf(format, args...), Place: "/other"}
	}
	if !s.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service).Staff() {
		return notYours("Only staff of both can tie requests together.")
	}
	if !slices.Contains(c.Kind.All(), c.Kind) {
		return &Refusal{Kind: Invalid, Code: refusal.Link, Sentence: "Choose how they belong together.", Place: "/kind"}
	}
	other, ok := t.facts.Request(c.Other)
	switch {
	case !ok || other.Status == Draft:
		return invalid(refusal.Link, "There is no such request.")
	case c.Other == s.ID:
		return invalid(refusal.Link, "A request is not tied to itself.")
	case s.linkTo(c.Kind, c.Other) != nil:
		return conflict(refusal.Linked, "They are tied so already.")
	case len(s.Links) >= mostLinks:
		return conflict(refusal.TooManyLinks, "A request is tied to %d others at most.", mostLinks)
	}
	link := Link{Kind: c.Kind, Other: c.Other, Reference: other.Reference}
	switch c.Kind {
	case WaitsFor:
		if !s.running() {
			return conflict(refusal.NotNow, "It has nothing left to wait with.")
		}
		if !other.Status.UnderWay() {
			return invalid(refusal.Link, "%s has ended already.", other.Reference)
		}
		if main := other.Main(); main != nil && main.Other == s.ID {
			return invalid(refusal.LinkCircle, "%s ends with this one: both would wait for ever.", other.Reference)
		}
		if t.waitsOn(c.Other, s.ID, map[string]bool{}) {
			return invalid(refusal.LinkCircle, "%s waits for this one: both would wait for ever.", other.Reference)
		}
	case SameAs:
		if !s.Status.UnderWay() {
			return conflict(refusal.Closed, "This request is closed.")
		}
		if !other.Status.UnderWay() {
			return invalid(refusal.Link, "%s has ended already.", other.Reference)
		}
		if main := other.Main(); main != nil {
			return invalid(refusal.NotMain, "%s is itself the same as %s: tie it to that one.", other.Reference, main.Reference)
		}
		if t.waitsOn(c.Other, s.ID, map[string]bool{}) {
			return invalid(refusal.LinkCircle, "%s waits for this one: both would wait for ever.", other.Reference)
		}
		if main := s.Main(); main != nil {
			return conflict(refusal.Linked, "It is the same as %s already.", main.Reference)
		}
	case ComesFrom:
		link.Ended = other.Status == Closed
	}
	t.emit(Tied{link})
	return nil
}

// waitsOn reports whether a request waits for another, itself or by those it waits for.
func (t ties) waitsOn(id, other string, seen map[string]bool) bool {
	if id == other {
		return true
	}
	if seen[id] || len(seen) > 10*mostLinks {
		return len(seen) > 10*mostLinks // too long a chain is as good as a circle
	}
	seen[id] = true
	s, ok := t.facts.Request(id)
	return ok && slices.ContainsFunc(s.Awaits(), func(l Link) bool { return t.waitsOn(l.Other, other, seen) })
}

func (t ties) untie(c Untie) error {
	if !t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service).Staff() {
		return notYours("Only staff of both can tie requests together.")
	}
	link := t.state.linkTo(c.Kind, c.Other)
	if link == nil {
		return conflict(refusal.NotLinked, "They are not tied so.")
	}
	t.emit(Untied{Link: *link})
	t.tasks().release()
	return nil
}

// heed goes on where what it waits for has ended, and ends with the one it is the same as.
func (t tasks) heed() error {
	if t.state.Status == Closed || t.facts.Request == nil {
		return conflict(refusal.Closed, "This request is closed.")
	}
	for _, link := range slices.Clone(t.state.Links) {
		other, ok := t.facts.Request(link.Other)
		if link.Ended || !ok || other.Status != Closed {
			continue
		}
		t.emit(TieEnded{link.Kind, link.Other, other.Outcome})
		if link.Kind == SameAs {
			t.endWith(other)
		}
	}
	if len(t.events) == 0 {
		return conflict(refusal.NotDue, "Nothing has changed.")
	}
	t.release()
	return nil
}

// endWith ends a request as its main one did; what is being done by itself is waited for.
func (t tasks) endWith(main State) {
	why := "It was the same as " + main.Reference + "."
	if main.Closing != nil && main.Closing.Word != "" {
		why += " " + main.Closing.Word
	} else if main.Why != "" {
		why += " " + main.Why
	}
	t.emit(EndsWith{main.Outcome, why})
	t.endTied()
}

// endTied ends what ends with another, once nothing is being done by itself any more.
func (t tasks) endTied() {
	s := &t.state
	if s.EndsWith == nil || s.Status == Undoing || s.Status == Closed {
		return
	}
	outcome, why := s.EndsWith.Outcome, s.EndsWith.Why
	if outcome != Fulfilled {
		t.undo(outcome, why, "")
		return
	}
	if !s.mayClose() && (s.Status == Delivering || s.Status == Waiting) {
		return
	}
	if s.Status == Delivering || s.Status == Waiting || len(s.Tasks) > 0 {
		t.leaveOpen(why)
	}
	t.close(RequestClosed{Outcome: Fulfilled, Word: why})
}

// freeTies takes off the ties to what it waits for, as it ends otherwise.
func (t *transition) freeTies() {
	for _, link := range t.state.Awaits() {
		t.emit(Untied{Link: link, Free: true})
	}
}

func (t ties) retie(c Retie) error {
	link := t.state.linkTo(SameAs, c.From)
	if link == nil || link.Ended || t.state.Status == Closed {
		return conflict(refusal.NotLinked, "They are not tied so.")
	}
	t.emit(Untied{Link: *link, Free: true})
	other, ok := t.facts.Request(c.To)
	if c.To != t.state.ID && ok && other.Status.UnderWay() {
		t.emit(Tied{Link{Kind: SameAs, Other: c.To, Reference: other.Reference}})
	}
	return nil
}

func (t ties) echo(c Echo) error {
	if main := t.state.Main(); main == nil || t.state.Status == Closed {
		return conflict(refusal.NotLinked, "They are not tied so.")
	}
	t.emit(Echoed(c))
	return nil
}

func (b Tied) apply(s *State, e Event) {
	b.At, b.By = e.At, e.Actor
	s.Links = append(slices.Clip(s.Links), b.Link)
}

func (b Untied) apply(s *State, _ Event) {
	s.Links = slices.DeleteFunc(slices.Clone(s.Links), func(l Link) bool { return l.Kind == b.Kind && l.Other == b.Other })
}

func (b TieEnded) apply(s *State, _ Event) {
	s.Links = slices.Clone(s.Links)
	if l := s.linkTo(b.Kind, b.Other); l != nil {
		l.Ended = true
	}
}

func (b EndsWith) apply(s *State, _ Event) { s.EndsWith = &b }

func (Echoed) apply(*State, Event) {}

// Words say how a request belongs to another, before the reference of that.
func (l Linking) Words() string {
	return map[Linking]string{WaitsFor: "waits for", SameAs: "is the same as", ComesFrom: "comes from"}[l]
}

func (b Tied) tell(w *telling) bool {
	w.Kind, w.Sentence = "stage", "It "+b.Kind.Words()+" "+b.Reference
	return true
}

func (b Untied) tell(w *telling) bool {
	w.Kind, w.Sentence = "stage", "It "+b.Kind.Words()+" "+b.Reference+" no more"
	return true
}

func (b TieEnded) tell(w *telling) bool {
	w.Kind, w.Actor = "stage", ""
	l := w.state.linkTo(b.Kind, b.Other)
	if l == nil {
		return false
	}
	w.Sentence = fmt.Sprintf("%s has ended: %s", l.Reference, b.Outcome)
	return b.Kind != ComesFrom
}

func (b EndsWith) tell(*telling) bool { return false }

func (b Echoed) tell(w *telling) bool {
	w.Kind, w.Actor, w.Sentence, w.Remark = "word", w.company.Name(b.By), "Wrote on "+b.From, b.Text
	return true
}
