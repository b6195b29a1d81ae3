// Package notice says who hears of what happens to a request; rules.md 9 says
// who may. It sends nothing: the shell does.
package notice

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Notice is one message to one person.
type Notice struct {
	Kind   message.Kind
	Person string    // ID
	Seq    int       // of the event it tells
	Rung   string    // key, of a decision
	Task   string    // key, of a task
	By     string    // ID of who did it; empty for the program
	Said   string    // what they wrote
	Day    string    // that a supplier names; RFC 3339
	Likely time.Time // of what slips
	Due    time.Time // of a promised time

	Subject string // of a message that an offering's plan writes itself
	Text    string
}

// Of lists who is to be told of some events, in order. After is the request
// with the events taken in. Nobody is told what they did themselves, nor of a
// request they may not read.
func Of(after request.State, events []request.Event, company *people.Directory, service people.Service) []Notice {
	n := &noticing{state: after, company: company, service: service}
	for _, e := range events {
		n.event(e)
	}
	return n.all
}

type noticing struct {
	state   request.State
	company *people.Directory
	service people.Service
	all     []Notice
}

// tell adds a notice for each person once.
func (n *noticing) tell(e request.Event, base Notice, persons ...string) {
	base.Seq, base.By = e.Seq, e.Actor
	for _, person := range persons {
		p, ok := n.company.Person(person)
		mark := base.Kind == message.Nearing || base.Kind == message.Missed // each of two clocks has its own
		twice := !mark && slices.ContainsFunc(n.all, func(o Notice) bool {
			return o.Person == person && o.Kind == base.Kind && o.Rung == base.Rung && o.Task == base.Task
		})
		if !ok || p.Former || person == e.Actor || twice || !n.state.ViewerOf(person, n.company, n.service).Any() {
			continue
		}
		base.Person = person
		n.all = append(n.all, base)
	}
}

// askers are those who may answer for the asker's side: who asks, and who it is for
// when they see it.
func (n *noticing) askers() []string {
	persons := []string{n.state.Asker}
	if n.state.Shared {
		persons = append(persons, n.state.Beneficiary())
	}
	return persons
}

// side is the asker's: those, and who follows.
func (n *noticing) side() []string { return append(n.askers(), n.state.Followers...) }

// homeLead is the lead of the team its service is home to.
func (n *noticing) homeLead() string {
	home, _ := n.company.Team(n.service.Home)
	return home.Lead
}

// waiting are those with whom the open rung lies.
func (n *noticing) waiting(rung string) []string {
	if r, open := n.state.OpenRung(); open && r.Key == rung {
		return r.Waiting()
	}
	return nil
}

func (n *noticing) event(e request.Event) {
	switch b := e.Body.(type) {
	case request.Submitted:
		base := Notice{Kind: message.Sent}
		n.tell(request.Event{Seq: e.Seq}, base, n.state.Asker) // a receipt for what they did themselves
		n.tell(e, base, n.side()...)
	case request.RungOpened:
		n.tell(e, Notice{Kind: message.Decide, Rung: b.Rung}, n.waiting(b.Rung)...)
	case request.RungResumed:
		persons := slices.DeleteFunc(n.waiting(b.Rung), func(person string) bool {
			return slices.ContainsFunc(n.all, func(o Notice) bool { return o.Person == person && o.Kind == message.Answered })
		})
		n.tell(e, Notice{Kind: message.Decide, Rung: b.Rung}, persons...)
	case request.SeatJoined:
		n.tell(e, Notice{Kind: message.Decide, Rung: b.Rung, Said: b.Other.Reason}, b.Other.Person)
	case request.SeatLeft:
		said := "It was taken back."
		if !b.Back {
			said = n.company.Name(b.Seat) + " is back."
			n.tell(e, Notice{Kind: message.Decide, Rung: b.Rung, Said: said}, b.Seat)
		}
		n.tell(e, Notice{Kind: message.Over, Rung: b.Rung, Said: said}, b.Person)
	case request.QuestionDropped:
		n.tell(e, Notice{Kind: message.Said, Rung: b.Rung, Said: "The question is taken back; you need not answer it."}, n.askers()...)
	case request.RungEnded:
		if b.Outcome == ladder.Passed && n.openAfter(b.Rung) {
			n.tell(e, Notice{Kind: message.Passed, Rung: b.Rung}, n.side()...)
		}
	case request.Foretold:
		if b.Slips {
			n.tell(e, Notice{Kind: message.Slipped, Likely: b.Likely}, n.side()...)
		}
	case request.RungReminded:
		n.tell(e, Notice{Kind: message.Remind, Rung: b.Rung}, n.waiting(b.Rung)...)
	case request.AskedBack:
		n.tell(e, Notice{Kind: message.AskedBack, Rung: b.Rung, Said: b.Text}, n.askers()...)
	case request.Resubmitted:
		if b.Heard != nil {
			n.tell(e, Notice{Kind: message.Said, Said: b.Reply}, n.side()...)
		}
		for _, r := range n.state.Rungs {
			for _, seat := range r.Seats {
				if r.Outcome == ladder.Open {
					n.tell(e, Notice{Kind: message.Answered, Rung: r.Key, Said: b.Reply}, seat.DecidingNow()...)
				}
			}
		}
	case request.Decided:
		if len(n.state.Rungs) > 0 {
			n.tell(e, Notice{Kind: message.Decided}, n.side()...)
		}
	case request.WorkDelivered:
		said := ""
		for _, left := range b.LeftOut {
			said += "Not done: " + left.Task + " (" + left.Reason + "). "
		}
		if b.Word != "" {
			said += n.byWords(e.Actor) + b.Word + "\n\n"
		}
		said = strings.TrimSpace(said + b.Next)
		kind := message.Delivered
		if !b.ConfirmBy.After(e.At) {
			kind = message.Finished
		}
		n.tell(request.Event{Seq: e.Seq}, Notice{Kind: kind, Said: said}, n.side()...)
	case request.Confirmed:
		if b.Remark != "" {
			n.tell(e, Notice{Kind: message.Said, Said: b.Remark}, append(n.doers(), n.homeLead())...)
		}
	case request.MarkReached:
		n.marked(e, b)
	case request.UrgeDecided:
		said := "It is more urgent now, as was asked for."
		if !b.Granted {
			said = "More urgency is not granted: all is as it was."
		}
		n.tell(e, Notice{Kind: message.Said, Said: said}, append(n.side(), n.atWork()...)...)
	case request.Tied:
		n.tied(e, b.Link, "It %s %s now.")
	case request.Untied:
		n.tied(e, b.Link, "It %s %s no more.")
	case request.Echoed:
		n.tell(request.Event{Seq: e.Seq, Actor: b.By}, Notice{Kind: message.Said, Said: b.Text}, n.side()...)
	case request.SideReminded:
		if q := n.state.Question; q != nil {
			n.tell(request.Event{Seq: e.Seq, Actor: q.By}, Notice{Kind: message.AskedBack, Rung: q.Rung, Said: q.Text}, n.askers()...)
		} else {
			n.tell(request.Event{Seq: e.Seq}, Notice{Kind: message.Delivered}, n.askers()...)
		}
	case request.Rated:
		if b.Stars <= request.LowStars && !b.Pooled {
			n.tell(e, Notice{Kind: message.Rated, Said: strings.TrimSpace(fmt.Sprintf("%d of %d. %s", b.Stars, request.MostStars, b.Text))}, n.service.Owner)
		}
	case request.SentBack:
		said := b.Text
		if len(b.Lines) > 0 {
			said += "\n\nNot right: " + strings.Join(b.Lines, ", ")
		}
		n.tell(e, Notice{Kind: message.SentBack, Said: said}, append(append(n.doers(), n.homeLead()), n.side()...)...)
		if b.Raised {
			n.tell(e, Notice{Kind: message.SentBack, Said: fmt.Sprintf("It was sent back %d times.\n\n%s", len(n.state.Backs), said)}, n.service.Owner)
		}
	case request.RequestClosed:
		n.ended(e, b)
	case request.Commented:
		n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: b.Text}, n.readers(b.Readers)...)
	case request.Noted:
		n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: b.Text}, n.readers(b.Readers)...)
	case request.Attached:
		persons := slices.DeleteFunc(n.readers(b.Readers), func(person string) bool {
			return slices.Contains(n.state.Followers, person) && !n.state.ViewerOf(person, n.company, n.service).SeesFiles()
		})
		n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: b.File.Name}, persons...)
	case request.Followed:
		n.tell(e, Notice{Kind: message.Following}, b.Person)
	default:
		n.taskEvent(e)
	}
}

// openAfter reports whether a decision is still open after one that has passed.
func (n *noticing) openAfter(rung string) bool {
	return slices.ContainsFunc(n.state.Rungs, func(r request.Rung) bool { return r.Key != rung && r.Outcome == ladder.Open })
}

// doers are those who did the work, each once.
func (n *noticing) doers() []string {
	var persons []string
	for i := range n.state.Tasks {
		if t := &n.state.Tasks[i]; t.State == plan.Done && t.Holder != "" && !slices.Contains(persons, t.Holder) {
			persons = append(persons, t.Holder)
		}
	}
	return persons
}

// taskEvent tells of what happens to one task.
func (n *noticing) taskEvent(e request.Event) {
	team := func(task string) (request.Task, []string) {
		t, _ := n.state.Task(task)
		if t.Holder != "" {
			return *t, []string{t.Holder}
		}
		return *t, n.company.Members(t.Team)
	}
	switch b := e.Body.(type) {
	case request.TaskReady:
		t, persons := team(b.Task)
		if len(b.Confirmers) > 0 {
			persons = b.Confirmers
		}
		if t.Kind == plan.Manual {
			n.tell(e, Notice{Kind: message.Task, Task: b.Task}, persons...)
		}
	case request.TaskHanded:
		_, persons := team(b.Task)
		n.tell(e, Notice{Kind: message.Task, Task: b.Task, Said: b.Reason}, persons...)
	case request.TaskReminded:
		_, persons := team(b.Task)
		n.tell(e, Notice{Kind: message.Due, Task: b.Task}, persons...)
	case request.TaskStuck:
		t, _ := team(b.Task)
		n.tell(e, Notice{Kind: message.Stuck, Task: b.Task, Said: b.Trouble}, append(n.company.Members(t.Team), b.Tell...)...)
		if !b.Undo && n.state.Status != request.Undoing {
			n.tell(e, Notice{Kind: message.HeldUp, Task: b.Task}, n.side()...)
		}
	case request.TaskTaken:
		n.tell(e, Notice{Kind: message.Progress, Task: b.Task, Said: "taken by " + n.company.Name(e.Actor)}, n.side()...)
	case request.Reported:
		t, persons := team(b.Task)
		for _, coming := range t.Comes {
			if day := b.Outputs[coming.Key]; coming.Kind == plan.Date && day != "" {
				n.tell(e, Notice{Kind: message.Dated, Task: b.Task, Day: day}, append(n.side(), persons...)...)
			}
		}
	case request.TaskQuestionDropped:
		n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: "The question is taken back; you need not answer it."}, n.askers()...)
	case request.Doubted:
		t, _ := team(b.Task)
		of, _ := n.company.Team(t.Team)
		n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: n.company.Name(n.state.Asker) + " is not eligible: " + b.Reason}, of.Lead, n.homeLead(), n.service.Owner)
	case request.AskerAsked:
		n.tell(e, Notice{Kind: message.AskedBack, Task: b.Task, Said: b.Text}, n.askers()...)
	case request.AskerAnswered:
		_, persons := team(b.Task)
		if b.Heard != nil {
			n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: b.Text}, n.side()...)
		}
		n.tell(e, Notice{Kind: message.Answered, Task: b.Task, Said: b.Text}, persons...)
	case request.TaskDone:
		t, _ := team(b.Task)
		switch {
		case b.Word != "":
			n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: b.Word}, n.side()...)
		case t.Kind == plan.Manual || t.Kind == plan.Automatic:
			n.tell(e, Notice{Kind: message.Progress, Task: b.Task, Said: "done"}, n.side()...)
		}
	case request.MessageWritten:
		t, _ := n.state.Task(b.Task)
		persons := map[string][]string{
			"asker": {n.state.Asker}, "beneficiary": {n.state.Beneficiary()}, "team": n.company.Members(t.Team), "followers": n.state.Followers,
		}[b.To]
		n.tell(request.Event{Seq: e.Seq}, Notice{Kind: message.Written, Task: b.Task, Subject: b.Subject, Text: b.Text}, persons...)
	case request.UndoBegun:
		if t, _ := n.state.Task(b.Task); b.Text != "" {
			n.tell(e, Notice{Kind: message.Task, Task: b.Task, Said: b.Text}, n.company.Members(t.Team)...)
		}
	case request.TaskSkipped:
		if t, _ := n.state.Task(b.Task); t.Holder != "" && b.Reason != "" {
			n.tell(e, Notice{Kind: message.Said, Task: b.Task, Said: t.Name + " is left out: " + b.Reason}, t.Holder)
		}
	case request.TaskStopped:
		if t, _ := n.state.Task(b.Task); t.Holder != "" {
			n.tell(e, Notice{Kind: message.Ended, Said: n.state.Why}, t.Holder)
		}
	case request.DraftBegun, request.Voted, request.Unfollowed, request.Planned, request.CallFailed,
		request.TaskRetried, request.TaskAdded, request.TaskWaived, request.PointTicked, request.LineDone, request.PartConfirmed,
		request.CallAccepted, request.PlaceQueued, request.PlaceReserved, request.PlaceReturned, request.PoolGrown, request.HoldingMade,
		request.HoldingChanged, request.HoldingEnded, request.HoldingRestored, request.UndoingBegun, request.UndoTaken,
		request.TaskUndone, request.UndoLeft, request.ClockEnded, request.DueSet, request.TieEnded, request.EndsWith, request.OpenedToAll, request.Joined, request.Urged: // nobody need hear of these
	}
}

// readers are those who are told of what was written for some readers. Of a
// task it is who has it, else its team; when nobody is at work, or all is done, the
// lead of the home team as well.
func (n *noticing) readers(r *request.Readers) []string {
	if r == nil {
		return nil
	}
	var persons []string
	if r.Side {
		persons = n.side()
	}
	for i := range n.state.Rungs {
		if rung := &n.state.Rungs[i]; rung.Key == r.Rung {
			for _, seat := range rung.Seats {
				persons = append(persons, seat.DecidingNow()...)
			}
		}
	}
	atWork := false
	for _, t := range n.state.Tasks {
		named := slices.Contains(r.Tasks, t.Key)
		if !named && !(r.Staff && !t.State.Ended() && t.State != plan.Blocked) {
			continue
		}
		atWork = true
		if t.Holder != "" {
			persons = append(persons, t.Holder)
		} else {
			persons = append(persons, n.company.Members(t.Team)...)
		}
	}
	if r.Rung == "" && (!atWork || n.state.Status == request.Delivered) {
		persons = append(persons, n.homeLead())
	}
	return persons
}

// ended tells of an end without delivery: the asker's side, and those with
// whom a decision still lay.
func (n *noticing) ended(e request.Event, b request.RequestClosed) {
	if b.Word != "" && !n.has(message.Finished) {
		n.tell(e, Notice{Kind: message.Finished, Said: n.byWords(e.Actor) + b.Word}, n.side()...)
	}
	if b.Outcome == request.Fulfilled && b.Silent {
		n.tell(request.Event{Seq: e.Seq}, Notice{Kind: message.Finished, Said: "Nobody said that it is not right, so it counts as done."}, n.side()...)
	}
	if b.Outcome == request.Fulfilled || n.state.Reference == "" {
		return
	}
	said := b.Reason
	var persons []string
	for i := range n.state.Rungs {
		r := &n.state.Rungs[i]
		if !r.Opened.IsZero() && r.Outcome == ladder.Open {
			persons = append(persons, r.Waiting()...)
		}
		for _, v := range r.Votes {
			if v.Decision == request.Decline && b.Outcome == request.Declined && said == "" {
				said = v.Reason
			}
		}
	}
	n.tell(e, Notice{Kind: message.Ended, Said: said}, append(n.side(), persons...)...)
}
