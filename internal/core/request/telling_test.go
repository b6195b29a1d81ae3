package request_test

import (
	"reflect"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// Every kind of event is told in words, or says nothing new to people: who did it, what, and
// what they wrote.
func TestEveryEventIsTold(t *testing.T) {
	monday := time.Date(2027, 3, 8, 9, 0, 0, 0, time.UTC)
	state := request.State{
		ID: "r-1", Asker: "p-ilse", Service: "access", Title: "Quay access badge",
		Rungs: []request.Rung{{Key: "manager", Name: "Line manager"}},
		Tasks: []request.Task{
			{Key: "photo", Name: "Take photo", Kind: plan.Manual, Team: "keys", MustDos: []request.MustDo{{Text: "Smile"}}, Lines: []request.Line{{Name: "Card", Of: 3}}},
			{Key: "write", Name: "Write badge", Kind: plan.Automatic, Team: "keys"},
			{Key: "wait", Name: "Wait for Monday", Kind: plan.Wait},
			{Key: "tell", Name: "Tell them", Kind: plan.Message, Team: "crew"},
		},
		Links: []request.Link{{Kind: request.WaitsFor, Other: "r-2", Reference: "QS-10433-Q"}, {Kind: request.ComesFrom, Other: "r-3", Reference: "QS-10434-R"}},
	}
	seat := ladder.Seat{Person: "p-tomas"}
	badge := people.Belonging{ID: "b-1", Kind: "badge", Name: "Quay badge", Detail: "QB-20012"}
	tested := map[reflect.Type]bool{}
	for _, c := range []struct {
		body                    request.Body
		kind, actor, says, note string // nothing said where it is told to nobody
	}{
		{request.DraftBegun{}, "stage", "Kira Matsuda", "Began to write", ""},
		{request.Submitted{Reference: "QS-1-A"}, "stage", "Kira Matsuda", "Sent as QS-1-A", ""},
		{request.Submitted{Reference: "QS-1-A", For: offering.Beneficiary{Person: "p-olga", Via: offering.ByPhone}}, "stage", "Kira Matsuda", "Sent as QS-1-A, for Olga Ferreira, who asked by phone", ""},
		{request.DueSet{}, "", "", "", ""},
		{request.RungOpened{Name: "Line manager", Seats: []ladder.Seat{seat, {Person: "p-noor"}}, Note: "Both must say yes."}, "decision", "", "Line manager: asked Tomas Lindqvist and Noor Adeyemi", "Both must say yes."},
		{request.RungOpened{Name: "Line manager"}, "decision", "", "Line manager: waits for somebody who may decide", ""},
		{request.RungResumed{Name: "Line manager"}, "decision", "", "Line manager: asked again", ""},
		{request.SeatJoined{Other: ladder.Other{Person: "p-noor", As: ladder.StandIn, Reason: "Tomas Lindqvist is absent"}}, "decision", "", "Noor Adeyemi is asked, too: Tomas Lindqvist is absent", ""},
		{request.SeatJoined{Other: ladder.Other{Person: "p-olga", As: ladder.PassedOn, Reason: "She knows."}}, "decision", "Kira Matsuda", "Passed the decision on to Olga Ferreira", "She knows."},
		{request.SeatLeft{Person: "p-noor", Seat: "p-tomas"}, "decision", "", "Tomas Lindqvist is back: Noor Adeyemi no longer stands in", ""},
		{request.SeatLeft{Person: "p-noor", Back: true}, "decision", "Kira Matsuda", "Took the decision back from Noor Adeyemi", ""},
		{request.RungReminded{Rung: "manager", Share: 50}, "decision", "", "Line manager: reminded, 50 % of the time is gone", ""},
		{request.RungReminded{Rung: "manager", Share: 100}, "decision", "", "Line manager: the time to decide is over", ""},
		{request.Voted{Person: "p-tomas", Seat: "p-tomas", Decision: request.Approve}, "decision", "Tomas Lindqvist", "Approved", ""},
		{request.Voted{Person: "p-noor", Seat: "p-tomas", Decision: request.Decline, Reason: "Too dear."}, "decision", "Noor Adeyemi", "Declined, for Tomas Lindqvist", "Too dear."},
		{request.Voted{Person: "p-tomas", Seat: "p-tomas", Decision: request.Approve, Part: "CC-1", Carried: true}, "decision", "Tomas Lindqvist", "Approved the share of CC-1, as before", ""},
		{request.AskedBack{Text: "Why?"}, "decision", "Kira Matsuda", "Asked a question back", "Why?"},
		{request.AskedBack{Text: "Not mine.", Declined: true, Parts: []string{"CC-1"}}, "decision", "Kira Matsuda", "Declined the share of CC-1, and sent it back to be changed", "Not mine."},
		{request.Resubmitted{Reply: "Because."}, "decision", "Kira Matsuda", "Answered", "Because."},
		{request.Resubmitted{Reply: "So.", Changed: []string{"a", "b"}}, "decision", "Kira Matsuda", "Answered, and changed 2 answers", "So."},
		{request.QuestionDropped{}, "decision", "Kira Matsuda", "Took the question back", ""},
		{request.RungEnded{Rung: "manager", Outcome: ladder.Passed}, "", "", "", ""},
		{request.RungEnded{Rung: "manager", Outcome: ladder.Declined, Reason: "Nobody answered in time."}, "decision", "", "Line manager: declined", "Nobody answered in time."},
		{request.Decided{}, "stage", "", "Every decision needed was a yes", ""},
		{request.Planned{Tasks: make([]request.Task, 1)}, "stage", "", "Planned 1 task", ""},
		{request.Commented{Text: "Hello"}, "word", "Kira Matsuda", "Wrote", "Hello"},
		{request.Commented{Text: "Hello", Task: "photo"}, "word", "Kira Matsuda", "Wrote, on Take photo", "Hello"},
		{request.Noted{Text: "Known"}, "note", "Kira Matsuda", "Noted for staff", "Known"},
		{request.Attached{File: form.Upload{Name: "scan.png"}, Task: "photo"}, "word", "Kira Matsuda", "Added a file, on Take photo", "scan.png"},
		{request.Followed{Person: "p-olga"}, "word", "Kira Matsuda", "Added Olga Ferreira, to hear of it", ""},
		{request.Unfollowed{Person: "p-olga"}, "word", "Kira Matsuda", "Olga Ferreira no longer hears of it", ""},
		{request.Doubted{Task: "photo", Reason: "No ship."}, "note", "Kira Matsuda", "Says that Ilse Brandvik is not eligible, on Take photo", "No ship."},
		{request.Foretold{}, "", "", "", ""},
		{request.Foretold{Slips: true}, "stage", "", "Will likely be done later than foreseen", ""},
		{request.SideReminded{}, "stage", "", "Reminded Ilse Brandvik", ""},
		{request.MarkReached{Reached: request.Reached{Clock: request.ResponseClock, Share: 80, At: monday}}, "stage", "Kira Matsuda", "80 % of the time of the first word is used", ""},
		{request.MarkReached{Reached: request.Reached{Share: promise.Whole, At: monday.Add(-time.Hour)}}, "stage", "Kira Matsuda", "The promised time is missed, on 8 March, 08:00 UTC", ""},
		{request.ClockEnded{}, "", "", "", ""},
		{request.WorkDelivered{}, "stage", "", "All work is done", ""},
		{request.WorkDelivered{LeftOut: []request.LeftOut{{Task: "Take photo", Reason: "No camera"}}}, "stage", "", "The work is done, but for what was left out: Take photo (No camera)", ""},
		{request.Confirmed{Remark: "Thanks"}, "stage", "Kira Matsuda", "Confirmed that it is done", "Thanks"},
		{request.SentBack{Text: "It is bent.", Lines: []string{"Card", "Fob"}}, "stage", "Kira Matsuda", "Sent back: it is not right, Card, Fob", "It is bent."},
		{request.Rated{Stars: 4, Text: "Quick", Answers: []request.RatingAnswer{{Question: "Friendly?", Stars: 5}}}, "word", "Kira Matsuda", "Rated it 4 of 5; Friendly? 5", "Quick"},
		{request.RequestClosed{Outcome: request.Fulfilled, Silent: true}, "stage", "", "Closed as fulfilled, as nobody objected in time", ""},
		{request.RequestClosed{Outcome: request.Fulfilled, Word: "It lies at the gate."}, "stage", "Kira Matsuda", "Closed it as done", "It lies at the gate."},
		{request.RequestClosed{Outcome: request.Withdrawn, Reason: "Found it."}, "stage", "", "Closed as withdrawn", "Found it."},
		{request.UndoingBegun{Outcome: request.Cancelled, Reason: "No longer made."}, "stage", "Kira Matsuda", "Cancelled it: what is open stops, what was done is taken back", "No longer made."},
		{request.UndoingBegun{Outcome: request.Expired}, "stage", "Kira Matsuda", "Nobody answered in time: what is open stops, what was done is taken back", ""},
		{request.Urged{Choice: "At once", Reason: "The ship sails."}, "stage", "Kira Matsuda", "Asked for more urgency: At once", "The ship sails."},
		{request.UrgeDecided{Granted: true}, "stage", "", "More urgency is granted, from now on", ""},
		{request.UrgeDecided{}, "stage", "", "More urgency is not granted: all is as it was", ""},
		{request.OpenedToAll{Sentence: "The gate is shut."}, "stage", "Kira Matsuda", "Others who have this can join", "The gate is shut."},
		{request.OpenedToAll{}, "stage", "Kira Matsuda", "Others cannot join this any more", ""},
		{request.Joined{}, "", "", "", ""},
		{request.Tied{Link: request.Link{Kind: request.SameAs, Reference: "QS-2-B"}}, "stage", "Kira Matsuda", "It is the same as QS-2-B", ""},
		{request.Untied{Link: request.Link{Kind: request.WaitsFor, Reference: "QS-2-B"}}, "stage", "Kira Matsuda", "It waits for QS-2-B no more", ""},
		{request.TieEnded{Kind: request.WaitsFor, Other: "r-2", Outcome: request.Fulfilled}, "stage", "", "QS-10433-Q has ended: fulfilled", ""},
		{request.TieEnded{Kind: request.ComesFrom, Other: "r-3", Outcome: request.Fulfilled}, "", "", "", ""},
		{request.TieEnded{Kind: request.WaitsFor, Other: "r-9"}, "", "", "", ""},
		{request.EndsWith{}, "", "", "", ""},
		{request.Echoed{From: "QS-2-B", By: "p-olga", Text: "It is mended."}, "word", "Olga Ferreira", "Wrote on QS-2-B", "It is mended."},

		{request.TaskAdded{Task: request.Task{Key: "more", Name: "Look twice", Team: "crew"}, Reason: "It sticks."}, "task", "Kira Matsuda", `Added the task "Look twice", for Crewing`, "It sticks."},
		{request.TaskAdded{Task: request.Task{Key: "reset-run-1", Of: "reset", Name: "Write it again"}}, "task", "Kira Matsuda", "Write it again: started by hand", ""},
		{request.TaskReady{Task: "photo"}, "task", "", "Take photo: now with Keys & Badges", ""},
		{request.TaskReady{Task: "photo", Person: "p-olga"}, "task", "", "Take photo: now with Olga Ferreira", ""},
		{request.TaskReady{Task: "photo", Confirmers: []string{"p-olga", "p-caro"}}, "task", "", "Take photo: asked 2 people", ""},
		{request.TaskReady{Task: "write"}, "task", "", "Write badge: now being done by itself", ""},
		{request.TaskReady{Task: "wait"}, "task", "", "Wait for Monday: waits for its time", ""},
		{request.TaskReady{Task: "tell"}, "", "", "", ""},
		{request.TaskSkipped{Task: "photo"}, "task", "", "Take photo: not needed", ""},
		{request.TaskSkipped{Task: "photo", Reason: "There is one."}, "task", "Kira Matsuda", "Take photo: left out", "There is one."},
		{request.TaskStopped{Task: "photo"}, "task", "", "Take photo: stopped", ""},
		{request.TaskTaken{Task: "photo"}, "task", "Kira Matsuda", "Take photo: taken", ""},
		{request.TaskHanded{Task: "photo", Team: "crew", Reason: "Theirs."}, "task", "Kira Matsuda", "Take photo: handed over to Crewing", "Theirs."},
		{request.TaskHanded{Task: "photo", Team: "keys", Person: "p-keks"}, "task", "Kira Matsuda", "Take photo: handed over to Keks Oyelaran", ""},
		{request.TaskWaived{Task: "write", After: "photo", Reason: "Urgent."}, "task", "Kira Matsuda", `Write badge: need not wait for "Take photo"`, "Urgent."},
		{request.PointTicked{Task: "photo", Done: true}, "task", "Kira Matsuda", `Take photo: ticked "Smile"`, ""},
		{request.PointTicked{Task: "photo"}, "", "", "", ""},
		{request.LineDone{Task: "photo", Done: 2}, "task", "Kira Matsuda", "Take photo: 2 of 3 done of Card", ""},
		{request.PartConfirmed{Task: "photo"}, "task", "Kira Matsuda", "Take photo: confirmed", ""},
		{request.AskerAsked{Task: "photo", Text: "When?"}, "word", "Kira Matsuda", "Take photo: asked a question", "When?"},
		{request.AskerAnswered{Task: "photo", Text: "At noon"}, "word", "Kira Matsuda", "Take photo: answered", "At noon"},
		{request.AskerAnswered{Task: "photo", Text: "At noon", Heard: &request.Heard{From: "p-ilse", At: monday, How: "phone"}}, "word", "Kira Matsuda", "Take photo: answered", "At noon (as Ilse Brandvik said by phone on 8 March 2027, 09:00 UTC)"},
		{request.TaskQuestionDropped{Task: "photo"}, "task", "Kira Matsuda", "Take photo: took the question back", ""},
		{request.TaskReminded{Task: "photo"}, "task", "", "Take photo: reminded, it is due soon", ""},
		{request.TaskReminded{Task: "photo", Over: true}, "task", "", "Take photo: is due", ""},
		{request.TaskDone{Task: "photo", Word: "Nice picture."}, "task", "Kira Matsuda", "Take photo: done", "Nice picture."},
		{request.TaskDone{Task: "photo", Over: "2h", Reason: "2 of 3 have confirmed."}, "task", "", "Take photo: done, 2 working hours after it was due", "2 of 3 have confirmed."},
		{request.MessageWritten{Task: "tell", To: "asker", Subject: "Come by"}, "word", "", "Tell them: wrote to Ilse Brandvik", "Come by"},
		{request.MessageWritten{Task: "tell", To: "team", Subject: "Come by"}, "word", "", "Tell them: wrote to Crewing", "Come by"},
		{request.CallFailed{Task: "write", Attempt: 2, Trouble: "Down."}, "task", "Kira Matsuda", "Write badge: try 2 failed; it is tried again by itself", "Down."},
		{request.CallAccepted{Task: "write"}, "task", "Kira Matsuda", "Write badge: accepted by the other side, which will report", ""},
		{request.Reported{Task: "write", Words: "On its way."}, "task", "Kira Matsuda", "Write badge: the other side reports", "On its way."},
		{request.TaskStuck{Task: "write", Trouble: "Refused."}, "task", "Kira Matsuda", "Write badge: stuck, with Keys & Badges", "Refused."},
		{request.TaskStuck{Task: "write", Undo: true}, "task", "Kira Matsuda", "Write badge: taking it back is stuck, with Keys & Badges", ""},
		{request.TaskRetried{Task: "write"}, "task", "Kira Matsuda", "Write badge: started again", ""},
		{request.TaskRetried{Task: "write", Inputs: map[string]string{"zones": "Fuel"}, Reason: "Zones were wrong."}, "task", "Kira Matsuda", "Write badge: corrected what is asked for, and started again", "Zones were wrong."},
		{request.PlaceQueued{Task: "photo"}, "task", "", "Take photo: waits for a free place", ""},
		{request.PlaceReserved{Task: "photo"}, "task", "", "Take photo: a place is reserved", ""},
		{request.PlaceReturned{Task: "photo"}, "", "", "", ""},
		{request.PoolGrown{Task: "photo"}, "", "", "", ""},
		{request.HoldingMade{Task: "write", Holding: request.Holding{Belonging: badge}}, "belonging", "", "Now there: Quay badge, QB-20012", ""},
		{request.HoldingChanged{Task: "write", Before: badge, Now: people.Belonging{Name: "Quay badge", Detail: "QB-30000"}}, "belonging", "", "Changed: Quay badge, QB-20012 is now Quay badge, QB-30000", ""},
		{request.HoldingEnded{Task: "write", Name: "Quay badge"}, "belonging", "", "No longer there: Quay badge", ""},
		{request.HoldingEnded{Task: "write", Name: "Quay badge", Over: 3}, "belonging", "", "No longer there: Quay badge, 3 days after its last day", ""},
		{request.HoldingRestored{Task: "write", Name: "Quay badge"}, "belonging", "", "There again: Quay badge", ""},
		{request.UndoBegun{Task: "photo", Text: "Throw it away."}, "task", "", "Take photo: now being taken back", "Throw it away."},
		{request.UndoTaken{Task: "photo"}, "task", "Kira Matsuda", "Take photo: taken, to take it back", ""},
		{request.TaskUndone{Task: "photo"}, "task", "Kira Matsuda", "Take photo: taken back", ""},
		{request.UndoLeft{Task: "photo"}, "", "", "", ""},
		{request.UndoLeft{Task: "photo", Reason: "It is burnt."}, "task", "Kira Matsuda", "Take photo: left as it was done", "It is burnt."},
	} {
		tested[reflect.TypeOf(c.body)] = true
		entry, told := request.Event{Seq: 9, At: monday, Actor: "p-kira", Body: c.body}.Told(&state, coretest.Company().Directory)
		if c.says == "" {
			assert.False(t, told, "%T says %q", c.body, entry.Sentence)
			continue
		}
		assert.True(t, told, "%T", c.body)
		assert.Equal(t, []string{c.kind, c.actor, c.says, c.note}, []string{entry.Kind, entry.Actor, entry.Sentence, entry.Remark}, "%T", c.body)
	}
	for _, body := range request.Bodies() {
		assert.True(t, tested[reflect.TypeOf(body)], "how a %T is told is not tested", body)
	}
}
