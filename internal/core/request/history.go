package request

import (
	"fmt"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
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

// Concerns tells whether a word, a note or a file is for the team of a task.
func (e Entry) Concerns(task string) bool {
	return e.all || (e.Kind == "word" || e.Kind == "note") && e.readers.concerns(e.Task, task)
}

// History tells the events of a request to somebody, the first first. Events
// that say nothing new to people are left out, and words, notes and files that
// are for others.
func History(events []Event, company *people.Directory, v Viewer) []Entry {
	told := []Entry{}
	var s State
	for _, e := range events {
		s.Apply(e)
		entry := Entry{At: e.At}
		if readers, written, open := v.reads(e); written {
			if !open {
				continue
			}
			entry.Readers, entry.readers = readers.Words(&s, company), readers
		}
		if e.Actor != Program {
			entry.Actor = company.Name(e.Actor)
		}
		if s.tell(e, &entry, company) {
			told = append(told, entry)
		}
	}
	return told
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
	case Attached:
		readers = before(b.Readers, b.Task, false)
		return readers, true, v.OpensFile(readers, e.Actor)
	default:
		return readers, false, true
	}
	return readers, true, v.Open(readers, e.Actor)
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
		if len(b.LeftOut) > 0 {
			entry.Sentence = "The work is done, but for what was left out: " + leftWords(b.LeftOut)
		}
	case Confirmed:
		entry.Kind, entry.Sentence, entry.Remark = "stage", "Confirmed that it is done", b.Remark
		entry.all = b.Remark != ""
	case RequestClosed:
		entry.Kind, entry.Sentence, entry.Actor = "stage", "Closed as "+string(b.Outcome), ""
		if b.Silent {
			entry.Sentence += ", as nobody objected in time"
		}
		entry.Remark = b.Reason
		if b.Outcome == Withdrawn && e.Actor != Program && len(s.Tasks) == 0 {
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
	case SeatLeft:
		entry.Kind, entry.Sentence = "decision", "Took the decision back from "+company.Name(b.Person)
		if !b.Back {
			entry.Actor, entry.Sentence = "", fmt.Sprintf("%s is back: %s no longer stands in", company.Name(b.Seat), company.Name(b.Person))
		}
	case Foretold:
		if !b.Told {
			return false
		}
		entry.Kind, entry.Actor, entry.Sentence = "stage", "", "Will likely be done later than foreseen"
	case QuestionDropped:
		entry.Kind, entry.Sentence = "decision", "Took the question back"
	case Doubted:
		entry.Kind, entry.Sentence, entry.Remark, entry.Task = "note", "Says that "+company.Name(s.Asker)+" is not eligible"+s.about(b.Task), b.Reason, b.Task
	case RungReminded:
		entry.Kind, entry.Actor = "decision", ""
		entry.Sentence = fmt.Sprintf("%s: reminded, %d %% of the time is gone", s.rung(b.Rung).Name, b.Share)
		if b.Share == 100 {
			entry.Sentence = s.rung(b.Rung).Name + ": the time to decide is over"
		}
	case AskedBack:
		entry.Kind, entry.Sentence, entry.Remark = "decision", "Asked a question back", b.Text
		if b.Declined {
			entry.Sentence = "Declined" + ofParts(b.Parts, company) + ", and sent it back to be changed"
		}
	case Resubmitted:
		entry.Kind, entry.Sentence, entry.Remark = "decision", "Answered", b.Heard.in(b.Reply, company)
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
		entry.Kind, entry.Sentence, entry.Remark, entry.Task = "word", "Wrote"+s.about(b.Task), b.Text, b.Task
	case Noted:
		entry.Kind, entry.Sentence, entry.Remark, entry.Task = "note", "Noted for staff"+s.about(b.Task), b.Text, b.Task
	case Attached:
		entry.Kind, entry.Sentence, entry.Remark, entry.Task = "word", "Added a file"+s.about(b.Task), b.File.Name, b.Task
	case UndoingBegun:
		entry.Kind, entry.Sentence, entry.Remark = "stage", map[Outcome]string{Withdrawn: "Took it back", Cancelled: "Cancelled it", Expired: "Nobody answered in time"}[b.Outcome]+": what is open stops, what was done is taken back", b.Reason
	case Followed:
		entry.Kind, entry.Sentence = "word", "Added "+company.Name(b.Person)+", to hear of it"
	case Unfollowed:
		entry.Kind, entry.Sentence = "word", company.Name(b.Person)+" no longer hears of it"
	case Voted:
		entry.Kind, entry.Actor, entry.Remark = "decision", company.Name(b.Person), b.Reason
		entry.Sentence = map[Decision]string{Approve: "Approved", Decline: "Declined"}[b.Decision]
		if b.Part != "" {
			entry.Sentence += ofParts([]string{b.Part}, company)
		}
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

// about names the task that somebody speaks of.
func (s *State) about(task string) string {
	if t, ok := s.Task(task); ok {
		return ", on " + t.Name
	}
	return ""
}

func (s *State) tellTask(e Event, entry *Entry, company *people.Directory) bool {
	entry.Kind = "task"
	say := func(task, format string, args ...any) {
		entry.Task, entry.Sentence = task, s.task(task).Name+": "+fmt.Sprintf(format, args...)
	}
	itself := func() { entry.Actor = "" }
	switch b := e.Body.(type) {
	case TaskAdded:
		entry.Task, entry.Remark = b.Task.Key, b.Reason
		entry.Sentence = fmt.Sprintf("Added the task %q, for %s", b.Task.Name, company.TeamName(b.Task.Team))
	case TaskReady:
		itself()
		t := s.task(b.Task)
		switch {
		case t.Kind == plan.Automatic:
			say(b.Task, "now being done by itself")
		case t.Kind == plan.Message:
			return false
		case t.Kind == plan.Wait:
			say(b.Task, "waits for its time")
		case b.Person != "":
			say(b.Task, "now with %s", company.Name(b.Person))
		case len(b.Asked) > 0:
			say(b.Task, "asked %d people", len(b.Asked))
		default:
			say(b.Task, "now with %s", company.TeamName(t.Team))
		}
	case TaskSkipped:
		say(b.Task, "not needed")
		if b.Reason == "" {
			itself()
		} else {
			say(b.Task, "left out")
			entry.Remark = b.Reason
		}
	case TaskStopped:
		itself()
		say(b.Task, "stopped")
	case TaskTaken:
		say(b.Task, "taken")
	case TaskHanded:
		to := company.TeamName(b.Team)
		if b.Person != "" {
			to = company.Name(b.Person)
		}
		say(b.Task, "handed over to %s", to)
		entry.Remark = b.Reason
	case TaskWaived:
		say(b.Task, "need not wait for %q", s.task(b.After).Name)
		entry.Remark = b.Reason
	case PointTicked:
		if !b.Done {
			return false
		}
		say(b.Task, "ticked %q", s.task(b.Task).MustDos[b.Point].Text)
	case LineDone:
		line := s.task(b.Task).Lines[b.Line]
		say(b.Task, "%d of %d done of %s", b.Done, line.Of, line.Name)
	case PartConfirmed:
		say(b.Task, "confirmed")
	case AskerAsked:
		say(b.Task, "asked a question")
		entry.Kind, entry.Remark = "word", b.Text
	case AskerAnswered:
		say(b.Task, "answered")
		entry.Kind, entry.Remark = "word", b.Heard.in(b.Text, company)
	case TaskQuestionDropped:
		say(b.Task, "took the question back")
	case TaskReminded:
		itself()
		say(b.Task, "reminded, it is due soon")
		if b.Over {
			say(b.Task, "is due")
		}
	case TaskDone:
		say(b.Task, "done")
		if l, err := calendar.ParseLength(b.Over); err == nil && b.Over != "" {
			entry.Sentence += ", " + l.Words() + " after it was due"
		}
		entry.Remark = strings.TrimSpace(b.Word + " " + b.Reason)
		if b.Reason != "" {
			itself()
		}
		entry.Remark = s.withOutputs(entry.Remark, b.Task, b.Outputs)
	case MessageWritten:
		itself()
		say(b.Task, "wrote to %s", map[string]string{"asker": company.Name(s.Asker), "beneficiary": "whom it is for", "team": company.TeamName(s.task(b.Task).Team), "followers": "who follows it"}[b.To])
		entry.Kind, entry.Remark = "word", b.Subject
	default:
		return s.tellCall(e, entry, company)
	}
	return true
}

// tellCall puts what other systems, pools and undoing lead to into words.
func (s *State) tellCall(e Event, entry *Entry, company *people.Directory) bool {
	say := func(task, format string, args ...any) {
		entry.Task, entry.Sentence = task, s.task(task).Name+": "+fmt.Sprintf(format, args...)
	}
	belonging := func(task, sentence string) {
		entry.Kind, entry.Task, entry.Actor, entry.Sentence = "belonging", task, "", sentence
	}
	switch b := e.Body.(type) {
	case CallFailed:
		say(b.Task, "try %d failed; it is tried again by itself", b.Attempt)
		entry.Remark = b.Trouble
	case CallAccepted:
		say(b.Task, "accepted by the other side, which will report")
	case Reported:
		say(b.Task, "the other side reports")
		entry.Remark = s.withOutputs(b.Words, b.Task, b.Outputs)
	case TaskStuck:
		say(b.Task, "stuck, with %s", company.TeamName(s.task(b.Task).Team))
		if b.Undo {
			say(b.Task, "taking it back is stuck, with %s", company.TeamName(s.task(b.Task).Team))
		}
		entry.Remark = b.Trouble
	case TaskRetried:
		say(b.Task, "started again")
		if len(b.Inputs) > 0 {
			say(b.Task, "corrected what is asked for, and started again")
			entry.Remark = b.Reason
		}
	case PlaceQueued:
		say(b.Task, "waits for a free place")
		entry.Actor = ""
	case PlaceReserved:
		say(b.Task, "a place is reserved")
		entry.Actor = ""
	case UndoBegun:
		say(b.Task, "now being taken back")
		entry.Actor, entry.Remark = "", b.Text
	case UndoTaken:
		say(b.Task, "taken, to take it back")
	case TaskUndone:
		say(b.Task, "taken back")
	case UndoLeft:
		if b.Reason == "" {
			return false
		}
		say(b.Task, "left as it was done")
		entry.Remark = b.Reason
	case HoldingMade:
		belonging(b.Task, "Now there: "+b.Held.Words())
	case HoldingChanged:
		belonging(b.Task, "Changed: "+b.Before.Words()+" is now "+b.Now.Words())
	case HoldingEnded:
		belonging(b.Task, "No longer there: "+b.Name)
		if b.Over > 0 {
			entry.Sentence += ", " + count(b.Over, "day") + " after its last day"
		}
	case HoldingRestored:
		belonging(b.Task, "There again: "+b.Name)
	default:
		return false
	}
	return true
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
		if asked := seat.Asked(); seat.Absent && len(asked) > 0 {
			names[i] = company.Name(asked[0]) + ", for " + names[i]
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
