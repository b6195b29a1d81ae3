package request

import (
	"fmt"
	"strings"

	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// telling is an event that is being put into words, with the state that has taken it
// in.
type telling struct {
	*Entry
	state   *State
	event   Event
	company *people.Directory
}

// say says something of a task.
func (w *telling) say(task, format string, args ...any) {
	w.Task, w.Sentence = task, w.state.task(task).Name+": "+fmt.Sprintf(format, args...)
}

// itself says that nobody did it.
func (w *telling) itself() { w.Actor = "" }

// belonging says what became of a belonging.
func (w *telling) belonging(task, sentence string) {
	w.Kind, w.Task, w.Actor, w.Sentence = "belonging", task, "", sentence
}

func (DraftBegun) tell(w *telling) bool {
	w.Kind, w.Sentence = "stage", "Began to write"
	return true
}

func (b Submitted) tell(w *telling) bool {
	w.Kind, w.Sentence = "stage", "Sent as "+b.Reference
	if b.For.Via != "" {
		w.Sentence += fmt.Sprintf(", for %s, who asked %s", (offering.Parties{Beneficiary: b.For, Company: w.company}).Name(), b.For.Via.Words())
	}
	return true
}

func (Decided) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Actor = "stage", "Every decision needed was a yes", ""
	if len(w.state.Rungs) == 0 {
		w.Sentence = "No decision is needed"
	}
	return true
}

func (b Planned) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Actor = "stage", fmt.Sprintf("Planned %s", count(len(b.Tasks), "task")), ""
	return true
}

func (b WorkDelivered) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Actor = "stage", "All work is done", ""
	if len(b.LeftOut) > 0 {
		w.Sentence = "The work is done, but for what was left out: " + leftWords(b.LeftOut)
	}
	return true
}

func (b Confirmed) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "stage", "Confirmed that it is done", b.Remark
	w.all = b.Remark != ""
	return true
}

func (b RequestClosed) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Actor = "stage", "Closed as "+string(b.Outcome), ""
	if b.Silent {
		w.Sentence += ", as nobody objected in time"
	}
	w.Remark = b.Reason
	if b.Word != "" {
		w.Actor, w.Sentence, w.Remark = w.company.Name(w.event.Actor), "Closed it as done", b.Word
	}
	if b.Outcome == Withdrawn && w.event.Actor != Program && len(w.state.Tasks) == 0 {
		w.Actor, w.Sentence = w.company.Name(w.event.Actor), "Took it back"
	}
	return true
}

func (b RungOpened) tell(w *telling) bool {
	w.Kind, w.Actor = "decision", ""
	w.Sentence = fmt.Sprintf("%s: asked %s", b.Name, strings.Join(seatNames(b.Seats, w.company), " and "))
	if len(b.Seats) == 0 {
		w.Sentence = b.Name + ": waits for somebody who may decide"
	}
	w.Remark = b.Note
	return true
}

func (b RungResumed) tell(w *telling) bool {
	w.Kind, w.Actor, w.Sentence = "decision", "", b.Name+": asked again"
	return true
}

func (b SeatJoined) tell(w *telling) bool {
	w.Kind, w.Actor = "decision", ""
	w.Sentence = fmt.Sprintf("%s is asked, too: %s", w.company.Name(b.Other.Person), b.Other.Reason)
	if b.Other.As == ladder.PassedOn {
		w.Actor, w.Sentence, w.Remark = w.company.Name(w.event.Actor), "Passed the decision on to "+w.company.Name(b.Other.Person), b.Other.Reason
	}
	return true
}

func (b SeatLeft) tell(w *telling) bool {
	w.Kind, w.Sentence = "decision", "Took the decision back from "+w.company.Name(b.Person)
	if !b.Back {
		w.Actor, w.Sentence = "", fmt.Sprintf("%s is back: %s no longer stands in", w.company.Name(b.Seat), w.company.Name(b.Person))
	}
	return true
}

func (DueSet) tell(*telling) bool { return false }

func (b Foretold) tell(w *telling) bool {
	if !b.Slips {
		return false
	}
	w.Kind, w.Actor, w.Sentence = "stage", "", "Will likely be done later than foreseen"
	return true
}

func (QuestionDropped) tell(w *telling) bool {
	w.Kind, w.Sentence = "decision", "Took the question back"
	return true
}

func (b Doubted) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark, w.Task = "note", "Says that "+w.company.Name(w.state.Asker)+" is not eligible"+w.state.about(b.Task), b.Reason, b.Task
	return true
}

func (SideReminded) tell(w *telling) bool {
	w.Kind, w.Actor, w.Sentence = "stage", "", "Reminded "+w.company.Name(w.state.Asker)
	return true
}

func (b RungReminded) tell(w *telling) bool {
	w.Kind, w.Actor = "decision", ""
	w.Sentence = fmt.Sprintf("%s: reminded, %d %% of the time is gone", w.state.rung(b.Rung).Name, b.Share)
	if b.Share == 100 {
		w.Sentence = w.state.rung(b.Rung).Name + ": the time to decide is over"
	}
	return true
}

func (b AskedBack) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "decision", "Asked a question back", b.Text
	if b.Declined {
		w.Sentence = "Declined" + ofParts(b.Parts, w.company) + ", and sent it back to be changed"
	}
	return true
}

func (b Resubmitted) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "decision", "Answered", b.Heard.in(b.Reply, w.company)
	if len(b.Changed) > 0 {
		w.Sentence = fmt.Sprintf("Answered, and changed %s", count(len(b.Changed), "answer"))
	}
	return true
}

func (b RungEnded) tell(w *telling) bool {
	if b.Reason == "" {
		return false
	}
	w.Kind, w.Actor, w.Remark = "decision", "", b.Reason
	w.Sentence = w.state.rung(b.Rung).Name + ": " + map[ladder.Outcome]string{ladder.Passed: "passed", ladder.Declined: "declined"}[b.Outcome]
	return true
}

func (b Commented) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark, w.Task = "word", "Wrote"+w.state.about(b.Task), b.Text, b.Task
	return true
}

func (b Noted) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark, w.Task = "note", "Noted for staff"+w.state.about(b.Task), b.Text, b.Task
	return true
}

func (b Attached) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark, w.Task = "word", "Added a file"+w.state.about(b.Task), b.File.Name, b.Task
	return true
}

func (b UndoingBegun) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "stage", map[Outcome]string{Withdrawn: "Took it back", Cancelled: "Cancelled it", Expired: "Nobody answered in time"}[b.Outcome]+": what is open stops, what was done is taken back", b.Reason
	return true
}

func (b Followed) tell(w *telling) bool {
	w.Kind, w.Sentence = "word", "Added "+w.company.Name(b.Person)+", to hear of it"
	return true
}

func (b Unfollowed) tell(w *telling) bool {
	w.Kind, w.Sentence = "word", w.company.Name(b.Person)+" no longer hears of it"
	return true
}

func (b Voted) tell(w *telling) bool {
	w.Kind, w.Actor, w.Remark = "decision", w.company.Name(b.Person), b.Reason
	w.Sentence = map[Decision]string{Approve: "Approved", Decline: "Declined"}[b.Decision]
	if b.Part != "" {
		w.Sentence += ofParts([]string{b.Part}, w.company)
	}
	if b.Seat != b.Person {
		w.Sentence += ", for " + w.company.Name(b.Seat)
	}
	if b.Carried {
		w.Sentence += ", as before"
	}
	return true
}

// What says nothing new to people.
func (PlaceReturned) tell(*telling) bool { return false }

func (PoolGrown) tell(*telling) bool { return false }

func (ClockEnded) tell(*telling) bool { return false }
