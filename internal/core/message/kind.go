package message

// Kind says what a message is about.
type Kind string

// The kinds of message.
const (
	Sent      Kind = "sent"      // to the asker: it has come in
	Decide    Kind = "decide"    // to whom a decision came
	Remind    Kind = "remind"    // to with whom a decision waits
	Asked     Kind = "asked"     // to the asker: somebody asks back
	Answered  Kind = "answered"  // to who asked back
	Decided   Kind = "decided"   // to the asker: every decision was a yes
	Task      Kind = "task"      // to the team a task came to
	Stuck     Kind = "stuck"     // to the team whose automatic task is stuck
	Delivered Kind = "delivered" // to the asker: it is to be confirmed
	Ended     Kind = "ended"     // to all whom it concerned: it closed without being done
	Said      Kind = "said"      // to all who see it: somebody wrote
	Following Kind = "following" // to who was added
	Due       Kind = "due"       // to who has a task that is due
	Written   Kind = "written"   // what the plan of an offering writes itself
	Expiring  Kind = "expiring"  // to who has something that ends soon
	Absent    Kind = "absent"    // to whose absence somebody else has set or ended
)

// Kinds lists them in the order people meet them.
var Kinds = []Kind{Sent, Decide, Remind, Asked, Answered, Decided, Task, Stuck, Delivered, Ended, Said, Following, Due, Written, Expiring, Absent}

// Words say what a message of a kind tells.
func (k Kind) Words() string {
	return map[Kind]string{
		Sent: "What you asked for has come in", Decide: "A decision has come to you", Remind: "A decision still waits for you",
		Asked: "Somebody asks you back", Answered: "Your question is answered", Decided: "What you asked for is approved",
		Task: "A task has come to your team", Stuck: "A task of your team is stuck", Delivered: "All work is done",
		Ended: "A request ended undone", Said: "Somebody wrote on a request", Following: "You are to hear of a request", Due: "A task of yours is due", Written: "Word on your request", Expiring: "Something you have ends soon", Absent: "Somebody changed when you are absent",
	}[k]
}
