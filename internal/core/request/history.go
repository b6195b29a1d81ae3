package request

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// Entry is one event told to people.
type Entry struct {
	At       time.Time `json:"at"`
	Kind     string    `json:"kind" enum:"stage,decision,task,word" doc:"For filtering"`
	Actor    string    `json:"actor" doc:"Name of who did it; empty when it happened by itself"`
	Sentence string    `json:"sentence"`
	Remark   string    `json:"remark,omitempty" doc:"What they wrote"`
}

// History tells the events of a request, the first first. Events that say
// nothing new to people are left out.
func History(events []Event, company *people.Directory) []Entry {
	told := []Entry{}
	var s State
	for _, e := range events {
		s.Apply(e)
		entry := Entry{At: e.At}
		if e.Actor != Program {
			entry.Actor = company.Name(e.Actor)
		}
		if s.tell(e, &entry, company) {
			told = append(told, entry)
		}
	}
	return told
}

// tell puts an event that the state has already taken in into words.
func (s *State) tell(e Event, entry *Entry, company *people.Directory) bool {
	switch b := e.Body.(type) {
	case DraftBegun:
		entry.Kind, entry.Sentence = "stage", "Began to write"
	case Submitted:
		entry.Kind, entry.Sentence = "stage", "Sent as "+b.Reference
		if b.For.Via != "" {
			entry.Sentence += fmt.Sprintf(", for %s, who asked %s", (offering.Parties{Beneficiary: b.For, Company: company}).Name(), b.For.Via.Words())
		}
	case Decided:
		entry.Kind, entry.Sentence, entry.Actor = "stage", "Every decision needed was a yes", ""
		if len(s.Rungs) == 0 {
			entry.Sentence = "No decision is needed"
		}
	case Planned:
		entry.Kind, entry.Sentence, entry.Actor = "stage", fmt.Sprintf("Planned %s", count(len(b.Tasks), "task")), ""
	case WorkDelivered:
		entry.Kind, entry.Sentence, entry.Actor = "stage", "All work is done", ""
	case Confirmed:
		entry.Kind, entry.Sentence, entry.Remark = "stage", "Confirmed that it is done", b.Remark
	case RequestClosed:
		entry.Kind, entry.Sentence, entry.Actor = "stage", "Closed as "+string(b.Outcome), ""
		if b.Silent {
			entry.Sentence += ", as nobody objected in time"
		}
		entry.Remark = b.Reason
		if b.Outcome == Withdrawn && e.Actor != Program {
			entry.Actor, entry.Sentence = company.Name(e.Actor), "Took it back"
		}
	case RungOpened:
		entry.Kind, entry.Actor = "decision", ""
		entry.Sentence = fmt.Sprintf("%s: asked %s", b.Name, strings.Join(seatNames(b.Seats, company), " and "))
		if len(b.Seats) == 0 {
			entry.Sentence = b.Name + ": waits for somebody who may decide"
		}
		entry.Remark = b.Note
	case RungResumed:
		entry.Kind, entry.Actor, entry.Sentence = "decision", "", b.Name+": asked again"
	case SeatJoined:
		entry.Kind, entry.Actor = "decision", ""
		entry.Sentence = fmt.Sprintf("%s is asked, too: %s", company.Name(b.Other.Person), b.Other.Reason)
		if b.Other.As == ladder.PassedOn {
			entry.Actor, entry.Sentence, entry.Remark = company.Name(e.Actor), "Passed the decision on to "+company.Name(b.Other.Person), b.Other.Reason
		}
	case RungReminded:
		entry.Kind, entry.Actor = "decision", ""
		entry.Sentence = fmt.Sprintf("%s: reminded, %d %% of the time is gone", s.rung(b.Rung).Name, b.Share)
		if b.Share == 100 {
			entry.Sentence = s.rung(b.Rung).Name + ": the time to decide is over"
		}
	case AskedBack:
		entry.Kind, entry.Sentence, entry.Remark = "decision", "Asked a question back", b.Text
	case Resubmitted:
		entry.Kind, entry.Sentence, entry.Remark = "decision", "Answered", b.Reply
		if len(b.Changed) > 0 {
			entry.Sentence = fmt.Sprintf("Answered, and changed %s", count(len(b.Changed), "answer"))
		}
	case RungEnded:
		if b.Reason == "" {
			return false
		}
		entry.Kind, entry.Actor, entry.Remark = "decision", "", b.Reason
		entry.Sentence = s.rung(b.Rung).Name + ": " + map[ladder.Outcome]string{ladder.Passed: "passed", ladder.Declined: "declined"}[b.Outcome]
	case Commented:
		entry.Kind, entry.Sentence, entry.Remark = "word", "Wrote", b.Text
	case Followed:
		entry.Kind, entry.Sentence = "word", "Added "+company.Name(b.Person)+", to hear of it"
	case Unfollowed:
		entry.Kind, entry.Sentence = "word", company.Name(b.Person)+" no longer hears of it"
	case Voted:
		entry.Kind, entry.Actor, entry.Remark = "decision", company.Name(b.Person), b.Reason
		entry.Sentence = map[Decision]string{Approve: "Approved", Decline: "Declined"}[b.Decision]
		if b.Seat != b.Person {
			entry.Sentence += ", for " + company.Name(b.Seat)
		}
		if b.Carried {
			entry.Sentence += ", as before"
		}
	default:
		return s.tellTask(e, entry, company)
	}
	return true
}

func (s *State) tellTask(e Event, entry *Entry, company *people.Directory) bool {
	entry.Kind = "task"
	switch b := e.Body.(type) {
	case TaskReady:
		t := s.task(b.Task)
		entry.Actor, entry.Sentence = "", fmt.Sprintf("%s: now with %s", t.Name, company.TeamName(t.Team))
		if t.Connector != "" {
			entry.Sentence = t.Name + ": now being done by itself"
		}
	case TaskSkipped:
		entry.Actor, entry.Sentence = "", s.task(b.Task).Name+": not needed"
	case TaskTaken:
		entry.Sentence = s.task(b.Task).Name + ": taken"
	case TaskDone:
		entry.Sentence = s.task(b.Task).Name + ": done"
		for _, key := range slices.Sorted(maps.Keys(b.Outputs)) {
			entry.Remark += b.Outputs[key] + " "
		}
		entry.Remark = strings.TrimSpace(entry.Remark)
	case CallFailed:
		entry.Sentence = fmt.Sprintf("%s: try %d failed; it is tried again by itself", s.task(b.Task).Name, b.Attempt)
		entry.Remark = b.Trouble
	case TaskStuck:
		entry.Sentence, entry.Remark = fmt.Sprintf("%s: stuck, now with %s", s.task(b.Task).Name, company.TeamName(s.task(b.Task).Team)), b.Trouble
	case TaskRetried:
		entry.Sentence = s.task(b.Task).Name + ": started again"
	default:
		return false
	}
	return true
}

// seatNames names who is asked on each seat, with whom they stand in for.
func seatNames(seats []ladder.Seat, company *people.Directory) []string {
	names := make([]string, len(seats))
	for i, seat := range seats {
		names[i] = company.Name(seat.Person)
		if asked := seat.Asked(); seat.Absent && len(asked) > 0 {
			names[i] = company.Name(asked[0]) + ", for " + names[i]
		}
	}
	return names
}

func count(n int, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	return fmt.Sprintf("%d %ss", n, thing)
}
