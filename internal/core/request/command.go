package request

import (
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// Command is something somebody wants to happen. Each says what it does: one that
// does not is no command.
type Command interface {
	// do adds events and effects to a turn, or refuses.
	do(t *transition) error
}

// The commands.
type (
	// Begin opens a draft of the offering in the facts.
	Begin struct{ ID string }
	// Discard ends a draft that is not wanted any more.
	Discard struct{}
	// Submit sends a draft with its answers.
	Submit struct {
		Answers form.Answers
		For     offering.Beneficiary
		Slip    string // fingerprint of what the asker last saw; empty: whatever it is
		Prefix  string // of the organisation's references
		Number  int64  // of the reference

		Together *Together // sent with others on one slip; nil for alone
		Channel  Channel   // how it came; by the page when it is empty
	}
	// Decide is a vote on a rung, or another one in place of it while the rung
	// is open.
	Decide struct {
		Rung     string
		Decision Decision
		Reason   string
	}
	// AskBack returns the request to its asker with a question.
	AskBack struct{ Rung, Text string }
	// Resubmit answers a question, with the answers of the form as they are now;
	// those of before when there are none.
	Resubmit struct {
		Answers form.Answers
		Reply   string
		Slip    string // fingerprint of what the asker last saw; empty: whatever it is
	}
	// Unask takes back a question that one has asked back.
	Unask struct{ Rung string }
	// TakeBack takes a decision back that one has passed on, until it is decided.
	TakeBack struct{ Rung string }
	// UnaskAsker takes back a question that one has asked about a task.
	UnaskAsker struct{ Task string }
	// Hear enters an answer of the asker, in their words, by staff: to what was
	// asked about a task, else to what was asked back.
	Hear struct {
		Task, Text, From, How string // From is the ID of who said it: asker or beneficiary
		At                    time.Time
	}
	// Doubt says that somebody is not eligible, to those who lead.
	Doubt struct{ Task, Reason string }
	// PassOn gives one's own decision to a colleague.
	PassOn struct{ Rung, To, Reason string }
	// Withdraw takes a request back; what was done already is undone.
	Withdraw struct {
		Chosen string // of the reasons that the offering gives its askers; empty for none
		Reason string
	}
	// Comment says something to all who see the request; of staff with the task
	// they speak of.
	Comment struct {
		Task, Text string
		To         To
	}
	// Follow makes a person hear of the request. The program adds who takes the place of
	// another.
	Follow struct{ Person string }
	// Unfollow ends that.
	Unfollow struct{ Person string }
	// Tick does what has fallen due by itself: reminders, limits, expiry.
	Tick struct{}
	// Relieve looks whether somebody else must be asked, as those who are asked
	// have left or become absent.
	Relieve struct{}
	// Note says something to staff only.
	Note struct {
		Task, Text string
		To         To
	}
	// Attach adds a file that was kept.
	Attach struct {
		File form.Upload
		Task string
		To   To
	}
	// Cancel ends a request, by staff.
	Cancel struct {
		Chosen string // of the reasons that the offering gives; empty where it gives none
		Reason string // in free words
	}
	// Take makes the actor the holder of a task, or of its undo by hand.
	Take struct{ Task string }
	// HandOver gives a task to a person, a team, or the next team upward.
	HandOver struct {
		Task, Person, Team string
		Upward             bool
		Reason             string
	}
	// Free gives a task back to its team whose holder has left.
	Free struct{ Task string }
	// Check ticks a must-do, or takes the tick away.
	Check struct {
		Task  string
		Point int // from 0
		Done  bool
	}
	// Count says how many of a line are done.
	Count struct {
		Task string
		Line int // from 0
		Done int
	}
	// ConfirmPart is the word of one of many who are asked.
	ConfirmPart struct{ Task string }
	// AskAsker asks the asker something about a task.
	AskAsker struct{ Task, Text string }
	// Answer answers that.
	Answer struct{ Task, Text string }
	// Complete ends a task by hand: with what came out of it, and a word to the
	// asker.
	Complete struct {
		Task    string
		Outputs map[string]string
		Word    string
	}
	// Report is a report of another system, or of a supplier. A step is taken
	// once.
	Report struct {
		Task    string
		Step    string
		Words   string
		Outputs map[string]string
		Lines   map[int]int
		Final   bool
		Failed  bool // it will not be done
	}
	// GetStuck says that a task of people cannot go on.
	GetStuck struct{ Task, Reason string }
	// Skip ends a task, or an undo, that is left out.
	Skip struct{ Task, Reason string }
	// Waive lets a task begin before a forerunner has ended.
	Waive struct{ Task, After, Reason string }
	// AddTask adds a task by hand.
	AddTask struct {
		Name, Team, Instructions, Effort string
		Before                           string // key of a task that is to wait for it; empty for none
		Reason                           string
	}
	// Advance looks whether a place of a pool has become free for a task.
	Advance struct{ Task string }
	// Succeed is the report of a call: of an automatic task, or of its undo.
	Succeed struct {
		Task    string
		Undo    bool
		Later   bool // it is accepted, and reported later
		Outputs map[string]string
	}
	// Fail is the report of a failed call.
	Fail struct {
		Task    string
		Undo    bool
		Trouble string
		Final   bool    // trying again is of no use
		Jitter  float64 // from 0 to 1, spreads the retries
	}
	// Retry starts a stuck task, or undo, anew. Of an automatic one its lead can
	// correct what is asked for, with a reason.
	Retry struct {
		Task   string
		Inputs map[string]string // corrected ones by key; nil for none
		Reason string
	}
	// Confirm is the asker's word that it is done.
	Confirm struct{ Remark string }
	// Rate is what one of the asker's side thinks of how it went.
	Rate struct {
		Stars   int // from 1 to MostStars, the best
		Text    string
		Answers map[string]int // of the questions of the offering, by question
	}
	// SendBack is the word of the asker's side that what was delivered is not right.
	SendBack struct {
		Text  string
		Lines []string // names of what is not right, of MayBeWrong
	}
	// Foresee says when it is likely done, by a forecast.
	Foresee struct{ Likely time.Time }
	// Settle keeps what clocks showed that ended before that was kept.
	Settle struct{}
	// Lapse closes a delivered request that nobody confirmed in time.
	Lapse struct{}
)

func (c Begin) do(t *transition) error { return t.begin(c) }

func (Discard) do(t *transition) error { return t.discard() }

func (c Submit) do(t *transition) error { return t.submit(c) }

func (c Decide) do(t *transition) error { return t.decide(c) }

func (c AskBack) do(t *transition) error { return t.askBack(c) }

func (c Resubmit) do(t *transition) error { return t.resubmit(c) }

func (c PassOn) do(t *transition) error { return t.passOn(c) }

func (c Withdraw) do(t *transition) error { return t.tasks().withdraw(c) }

func (c Comment) do(t *transition) error { return t.comment(c) }

func (c Follow) do(t *transition) error { return t.follow(c) }

func (c Unfollow) do(t *transition) error { return t.unfollow(c) }

func (Tick) do(t *transition) error { return t.tick() }

func (Relieve) do(t *transition) error { return t.relieve() }

func (c Note) do(t *transition) error { return t.note(c) }

func (c Attach) do(t *transition) error { return t.attach(c) }

func (c Cancel) do(t *transition) error { return t.tasks().cancel(c) }

func (c Take) do(t *transition) error { return t.tasks().take(c) }

func (c HandOver) do(t *transition) error { return t.tasks().handOver(c) }

func (c Free) do(t *transition) error { return t.tasks().free(c) }

func (c Check) do(t *transition) error { return t.tasks().check(c) }

func (c Count) do(t *transition) error { return t.tasks().count(c) }

func (c ConfirmPart) do(t *transition) error { return t.tasks().confirmPart(c) }

func (c AskAsker) do(t *transition) error { return t.tasks().askAsker(c) }

func (c Answer) do(t *transition) error { return t.tasks().answer(c) }

func (c Complete) do(t *transition) error { return t.tasks().complete(c) }

func (c Report) do(t *transition) error { return t.tasks().report(c) }

func (c GetStuck) do(t *transition) error { return t.tasks().getStuck(c) }

func (c Skip) do(t *transition) error { return t.tasks().skip(c) }

func (c Waive) do(t *transition) error { return t.tasks().waive(c) }

func (c AddTask) do(t *transition) error { return t.tasks().addTask(c) }

func (c Advance) do(t *transition) error { return t.tasks().advance(c) }

func (c Succeed) do(t *transition) error { return t.tasks().succeed(c) }

func (c Fail) do(t *transition) error { return t.tasks().fail(c) }

func (c Retry) do(t *transition) error { return t.tasks().retry(c) }

func (c Confirm) do(t *transition) error { return t.confirm(c) }

func (c Rate) do(t *transition) error { return t.rate(c) }

func (c SendBack) do(t *transition) error { return t.sendBack(c) }

func (Lapse) do(t *transition) error { return t.lapse() }

func (Settle) do(t *transition) error { return t.settle() }

func (c Foresee) do(t *transition) error { return t.foresee(c) }

func (c Unask) do(t *transition) error { return t.unask(c) }

func (c TakeBack) do(t *transition) error { return t.takeBackPassed(c) }

func (c UnaskAsker) do(t *transition) error { return t.tasks().unaskAsker(c) }

func (c Hear) do(t *transition) error { return t.hear(c) }

func (c Doubt) do(t *transition) error { return t.tasks().doubt(c) }

// Facts are what a decision is made on, beside the state.
type Facts struct {
	Actor      string // ID of a person, or Program
	Company    *people.Directory
	Offering   *offering.Compiled // the version of the request; for a draft the current one
	Service    people.Service
	Belongings []people.Belonging                  // of the beneficiary
	Holding    func(id string) (Holding, bool)     // a belonging that a task changes or ends
	Files      func(id string) (form.Upload, bool) // of the draft
	Pools      map[string]int                      // free places that nobody before waits for, by key
	Request    func(id string) (State, bool)       // another one
	Measures   Measures                            // nil when nothing was measured
	Hands      func(person string) Hands           // what they have in hand, of all requests; nil when that is not known
	Private    form.Answers                        // private ones of the request as it is, which its state does not hold
	Known      func(people.Person) people.Person   // as much of a person as rules may know; nil for all of it
	Now        time.Time
}

// Effect is something to be done in the world because of an event. Doing it
// twice under one key does it once.
type Effect struct {
	Kind      EffectKind
	Key       string // never changes over retries
	At        time.Time
	Task      string
	Connector string
	Do        string
	Inputs    map[string]string
	Outputs   map[string]string // of the call that is undone
	Undoes    string            // key of the call that is undone; empty for others
	Within    time.Duration     // how long one call may take
	Seals     *Sealing
}

// Sealing is a value that is to be kept apart, encrypted, and stands in no event
// (rules.md 9).
type Sealing struct {
	Task  string      // key, of an output; empty for an answer
	Key   string      // of the question or the output
	Value form.Answer // of an output a text; none takes away what is there
	For   string      // ID of the person whom a secret output is for; empty for an answer
}

// EffectKind says what an effect is.
type EffectKind string

// The kinds of effect.
const (
	Call        EffectKind = "call"   // of a connector
	LapseTimer  EffectKind = "lapse"  // a timer that sends Lapse
	TickTimer   EffectKind = "tick"   // a timer that sends Tick
	TieTimer    EffectKind = "tie"    // a timer of a request that is tied to another
	JoinedTimer EffectKind = "joined" // a timer that tells those who have joined how it ended
	Seal        EffectKind = "seal"   // keeps a value apart, in the same transaction; see Sealing
)

// Refusal says why a command is not allowed.
type Refusal struct {
	Kind     RefusalKind
	Code     string
	Sentence string
	Place    string    // JSON Pointer into the command, when there is one
	Details  []Refusal // of an invalid form, one for each problem
}

func (r *Refusal) Error() string { return r.Sentence }

// RefusalKind groups refusals by what the sender can do about them.
type RefusalKind string

// The kinds of refusal.
const (
	Invalid  RefusalKind = "invalid"  // mend the command
	Conflict RefusalKind = "conflict" // look at the state again
	NotYours RefusalKind = "notYours" // somebody else's to do
)
