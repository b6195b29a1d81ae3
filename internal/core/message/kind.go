package message

// Kind says what a message is about.
type Kind string

// The kinds of message.
const (
	Sent      Kind = "sent"      // to the asker: it has come in
	Decide    Kind = "decide"    // to whom a decision came
	Remind    Kind = "remind"    // to with whom a decision waits
	AskedBack Kind = "asked"     // to the asker: somebody asks back
	Answered  Kind = "answered"  // to who asked back
	Decided   Kind = "decided"   // to the asker: every decision was a yes
	Task      Kind = "task"      // to the team a task came to
	Stuck     Kind = "stuck"     // to the team whose automatic task is stuck
	Delivered Kind = "delivered" // to the asker: it is to be confirmed
	Rated     Kind = "rated"     // to the owner: somebody was not content
	SentBack  Kind = "sentBack"  // to who did the work and who answers for it: it is not right
	Ended     Kind = "ended"     // to all whom it concerned: it closed without being done
	Said      Kind = "said"      // to all who see it: somebody wrote
	Following Kind = "following" // to who was added
	Due       Kind = "due"       // to who has a task that is due
	Nearing   Kind = "nearing"   // to whom a mark tells: so much of a promised time is used
	Missed    Kind = "missed"    // to who has it and who answers for it: a promised time is missed
	Joined    Kind = "joined"    // to who has the same trouble: it has ended
	Written   Kind = "written"   // what the plan of an offering writes itself
	Expiring  Kind = "expiring"  // to who has something that ends soon
	Absent    Kind = "absent"    // to whose absence somebody else has set or ended
	StandsIn  Kind = "standsIn"  // to who is to stand in for somebody, or no longer
	Over      Kind = "over"      // to with whom a decision is no longer
	Passed    Kind = "passed"    // to the asker: one of several decisions was a yes
	Progress  Kind = "progress"  // to the asker: a task was taken or is done
	HeldUp    Kind = "heldUp"    // to the asker: a task is stuck
	Dated     Kind = "dated"     // to the asker and the team: a supplier names a day
	Slipped   Kind = "slipped"   // to the asker: it will likely be done later
	Finished  Kind = "finished"  // to the asker: it is done and closed, with nothing to confirm
	Duty      Kind = "duty"      // to who got or lost something to answer for, such as a service or a role
	Care      Kind = "care"      // to who is to look after something, such as a service or the backups
	Second    Kind = "second"    // to whose yes an offering waits for to be published
	Board     Kind = "board"     // to whom a board of measures is sent at set times
	Alarm     Kind = "alarm"     // to whom a target tells that it is missed, or will be
	Entry     Kind = "entry"     // to who is to set a new password: never listed, always by mail
)

// Kinds lists them in the order people meet them.
var Kinds = []Kind{
	Sent, Decide, Remind, Over, AskedBack, Answered, Passed, Decided, Progress, HeldUp, Dated, Slipped, Delivered, Finished, SentBack, Rated, Ended, Said, Following,
	Task, Stuck, Due, Nearing, Missed, Joined, Written, Expiring, Absent, StandsIn, Duty, Care, Second, Board, Alarm, Entry,
}

// All lists the kinds in their order.
func (Kind) All() []Kind { return Kinds }

// Words say what a message of a kind tells.
func (k Kind) Words() string {
	return map[Kind]string{
		Sent: "What you asked for has come in", Decide: "A decision has come to you", Remind: "A decision still waits for you",
		AskedBack: "Somebody asks you back", Answered: "Your question is answered", Decided: "What you asked for is approved",
		Task: "A task has come to your team", Stuck: "A task of your team is stuck", Delivered: "All work is done",
		Ended: "A request ended undone", SentBack: "A request was sent back", Rated: "Somebody was not content", Said: "Somebody wrote on a request", Following: "You are to hear of a request", Due: "A task of yours is due", Nearing: "A promised time is nearing its end", Missed: "A promised time is missed", Joined: "What you have, too, has ended", Written: "Word on your request", Expiring: "Something you have ends soon", Absent: "Somebody changed when you are absent",
		StandsIn: "You are to stand in for somebody", Over: "A decision is no longer with you", Passed: "One of several decisions was a yes", Progress: "A task of your request was taken or is done",
		HeldUp: "Your request is held up", Dated: "A supplier names a day", Slipped: "Your request will likely be done later", Finished: "Your request is done and closed",
		Duty: "What you answer for has changed", Care: "Something is to be looked after", Second: "An offering waits for your yes", Board: "A board of figures has come", Alarm: "A figure misses its target, or will", Entry: "Your link for a new password",
	}[k]
}

// Chosen reports whether its reader can choose how they get it.
func (k Kind) Chosen() bool { return k != Entry }

// News reports whether a message says only what has come about, and nothing waits
// for its reader: who silences a request hears no more of it.
func (k Kind) News() bool {
	switch k {
	case Decide, Remind, Over, AskedBack, Task, Stuck, Due, Nearing, Missed, Delivered, Care, Second, Alarm:
		return false
	}
	return true
}
