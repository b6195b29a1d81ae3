package request

import (
	"fmt"
	"strings"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
)

// Entry is one event told to people.
type Entry struct {
	At       time.Time `json:"at"`
	Kind     string    `json:"kind" enum:"stage,decision,task,word,note,belonging" doc:"For filtering"`
	Actor    string    `json:"actor" doc:"Name of who did it; empty when it happened by itself"`
	Sentence string    `json:"sentence"`
	Remark   string    `json:"remark,omitempty" doc:"What they wrote"`
	Task     string    `json:"task,omitempty" doc:"Key of the task it is about"`
	Readers  string    `json:"readers,omitempty" doc:"Of a word, a note or a file: who reads it beside the service's owner and home lead"`

	readers Readers
	all     bool // it concerns all who worked on it
}

// Concerns reports whether a word, a note or a file is for the team of a task.
func (e Entry) Concerns(task string) bool {
	return e.all || (e.Kind == "word" || e.Kind == "note") && e.readers.concerns(e.Task, task)
}

// History tells the events of a request to somebody, the first first. Events
// that say nothing new to people are left out, and words, notes and files that
// are for others.
func History(events []Event, company *people.Directory, v Viewer) []Entry {
	entries := []Entry{}
	var s State
	for _, e := range events {
		s.Apply(e)
		readers, written, open := v.reads(e)
		if written && !open {
			continue
		}
		entry, told := e.Told(&s, company)
		if written {
			entry.Readers, entry.readers = readers.Words(&s, company), readers
		}
		if told {
			entries = append(entries, entry)
		}
	}
	return entries
}

// Told puts an event into words, with the state that has taken it in; false when it says
// nothing new to people.
func (e Event) Told(s *State, company *people.Directory) (entry Entry, told bool) {
	entry = Entry{At: e.At, Kind: "task"}
	if e.Actor != Program {
		entry.Actor = company.Name(e.Actor)
	}
	told = e.Body.tell(&telling{&entry, s, e, company})
	return entry, told
}

// reads tells who reads what was written by an event, if anything was, and
// whether somebody is among them.
func (v Viewer) reads(e Event) (readers Readers, written, open bool) {
	switch b := e.Body.(type) {
	case Commented:
		readers = before(b.Readers, b.Task, false)
	case Noted:
		readers = before(b.Readers, b.Task, true)
	case Doubted:
		readers = Readers{Tasks: []string{b.Task}}
	case Rated:
		return Readers{Staff: !b.Pooled}, true, v.SeesRating(Rating{By: e.Actor, Pooled: b.Pooled})
	case Attached:
		readers = before(b.Readers, b.Task, false)
		return readers, true, v.OpensFile(readers, e.Actor)
	default:
		return readers, false, true
	}
	return readers, true, v.Open(readers, e.Actor)
}

// about names the task that somebody speaks of.
func (s *State) about(task string) string {
	if t, ok := s.Task(task); ok {
		return ", on " + t.Name
	}
	return ""
}

// withOutputs adds what came out of a task to what was said, each with its label.
func (s *State) withOutputs(said, task string, outputs map[string]string) string {
	parts := []string{}
	for _, out := range s.CameOut(s.task(task), outputs) {
		parts = append(parts, out.Name+": "+out.Text)
	}
	return strings.TrimSpace(said + " " + strings.Join(parts, ", "))
}

// in says of the words of an answer that staff have entered who said them, how and
// when, on their wall clock.
func (h *Heard) in(words string, company *people.Directory) string {
	if h == nil {
		return words
	}
	return words + fmt.Sprintf(" (as %s said by %s on %s", company.Name(h.From), h.How, h.At.In(company.HoursOf(h.From).Zone()).Format("2 January 2006, 15:04 MST)"))
}

// seatNames names who is asked on each seat, with whom they stand in for.
func seatNames(seats []ladder.Seat, company *people.Directory) []string {
	names := make([]string, len(seats))
	for i, seat := range seats {
		names[i] = company.Name(seat.Person)
		if deciding := seat.DecidingNow(); seat.Absent && len(deciding) > 0 {
			names[i] = company.Name(deciding[0]) + ", for " + names[i]
		}
	}
	return names
}

// ofParts names the shares that somebody decided on; empty when it was the whole.
func ofParts(parts []string, company *people.Directory) string {
	if len(parts) == 0 {
		return ""
	}
	names := make([]string, len(parts))
	for i, key := range parts {
		names[i] = company.CentreName(key)
	}
	return " the share of " + strings.Join(names, " and ")
}

func count(n int, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	return fmt.Sprintf("%d %ss", n, thing)
}
