package request

import (
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// Command is something somebody wants to happen.
type Command interface{ isCommand() }

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
	// PassOn gives one's own decision to a colleague.
	PassOn struct{ Rung, To, Reason string }
	// Withdraw takes a request back before any work has begun.
	Withdraw struct{ Reason string }
	// Comment says something to all who see the request.
	Comment struct{ Text string }
	// Follow makes a person hear of the request.
	Follow struct{ Person string }
	// Unfollow ends that.
	Unfollow struct{ Person string }
	// Tick does what has fallen due by itself: reminders, limits, expiry.
	Tick struct{}
	// Relieve looks whether somebody else must be asked, as those who are asked
	// have left or become absent.
	Relieve struct{}
	// Take makes the actor the holder of a task.
	Take struct{ Task string }
	// Complete ends a task by hand.
	Complete struct{ Task string }
	// Succeed is the report of an automatic task.
	Succeed struct {
		Task    string
		Outputs map[string]string
	}
	// Fail is the report of a failed call of an automatic task.
	Fail struct {
		Task    string
		Trouble string
		Jitter  float64 // from 0 to 1, spreads the retries
	}
	// Retry starts a stuck task anew.
	Retry struct{ Task string }
	// Confirm is the asker's word that it is done.
	Confirm struct{ Remark string }
	// Lapse closes a delivered request that nobody confirmed in time.
	Lapse struct{}
)

func (Begin) isCommand()    {}
func (Discard) isCommand()  {}
func (Submit) isCommand()   {}
func (Decide) isCommand()   {}
func (AskBack) isCommand()  {}
func (Resubmit) isCommand() {}
func (PassOn) isCommand()   {}
func (Withdraw) isCommand() {}
func (Comment) isCommand()  {}
func (Follow) isCommand()   {}
func (Unfollow) isCommand() {}
func (Tick) isCommand()     {}
func (Relieve) isCommand()  {}
func (Take) isCommand()     {}
func (Complete) isCommand() {}
func (Succeed) isCommand()  {}
func (Fail) isCommand()     {}
func (Retry) isCommand()    {}
func (Confirm) isCommand()  {}
func (Lapse) isCommand()    {}

// Facts are what a decision is made on, beside the state.
type Facts struct {
	Actor      string // ID of a person, or Program
	Company    *people.Directory
	Offering   *offering.Compiled // the version of the request; for a draft the current one
	Service    people.Service
	Belongings []people.Belonging                  // of the beneficiary
	Files      func(id string) (form.Upload, bool) // of the draft
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
}

// EffectKind says what an effect is.
type EffectKind string

// The kinds of effect.
const (
	Call       EffectKind = "call"  // of a connector
	LapseTimer EffectKind = "lapse" // a timer that sends Lapse
	TickTimer  EffectKind = "tick"  // a timer that sends Tick
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
