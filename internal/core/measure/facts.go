package measure

import (
	"time"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// Form is the form that facts have as this program makes them: those of another are made anew
// from the events.
const Form = 2

// Facts are all that is kept of one request for measuring. They hold no answers, no title
// and no names: people are keys.
type Facts struct {
	Request Request
	Tasks   []Task
	Votes   []Vote
	Rungs   []Rung
	Spells  []Spell
	Ratings []Rating
}

// Request is the fact of one request that was sent.
type Request struct {
	Number int64 `db:"number" json:"number"` // in its reference
	Sending
	Going
}

// Sending is what never changes once a request is sent.
type Sending struct {
	Offering   string          `db:"offering" json:"offering"`
	Version    int             `db:"version" json:"version"`
	Service    string          `db:"service" json:"service"`
	Asker      string          `db:"asker" json:"asker"`           // ID of a person
	Department string          `db:"department" json:"department"` // of the asker, as when they sent it; so are the next three
	Location   string          `db:"location" json:"location"`
	CostCentre string          `db:"cost_centre" json:"costCentre"`
	Employment string          `db:"employment" json:"employment"`
	Channel    request.Channel `db:"channel" json:"channel"`
	Door       offering.Door   `db:"door" json:"door"`
	Impact     string          `db:"impact" json:"impact"` // in words; empty where the form does not ask
	Urgency    string          `db:"urgency" json:"urgency"`
	Sent       int64           `db:"sent" json:"sent"`
	Likely     int64           `db:"likely" json:"likely"` // foreseen on sending to be done, in half of all cases; 0 for unknown
	Sure       int64           `db:"sure" json:"sure"`     // in four of five
}

// Going is what changes on the way.
type Going struct {
	Status    request.Status  `db:"status" json:"status"`
	Outcome   request.Outcome `db:"outcome" json:"outcome"`
	Decided   int64           `db:"decided" json:"decided"` // 0 while it is not; so are the other stages
	Planned   int64           `db:"planned" json:"planned"`
	Delivered int64           `db:"delivered" json:"delivered"`
	Confirmed int64           `db:"confirmed" json:"confirmed"`
	Closed    int64           `db:"closed" json:"closed"`
	Due       int64           `db:"due" json:"due"`     // by the promise; 0 for never
	Speed     string          `db:"speed" json:"speed"` // name of what is promised
	Kept      Kept            `db:"kept" json:"kept"`

	Used     int64 `db:"used" json:"used"`         // of the clock of the delivery, once it has ended: open seconds; so are the next five
	Target   int64 `db:"target" json:"target"`     // 0 for none
	Deciding int64 `db:"deciding" json:"deciding"` // of what is used
	Working  int64 `db:"working" json:"working"`   // of what is used
	Asking   int64 `db:"asking" json:"asking"`     // it stood still and waited for the asker
	Waiting  int64 `db:"waiting" json:"waiting"`   // it stood still and waited for a time or a place

	ResponseUsed   int64 `db:"response_used" json:"responseUsed"` // of the clock of the first word, once it has ended
	ResponseTarget int64 `db:"response_target" json:"responseTarget"`

	Currency  string `db:"currency" json:"currency"` // ISO 4217, of the next two; empty where nothing costs anything
	Cost      int64  `db:"cost" json:"cost"`         // as asked for, in the first year
	Real      int64  `db:"real" json:"real"`         // as tasks said that it really was; of RealKnown
	RealKnown bool   `db:"real_known" json:"realKnown"`

	Backs     int   `db:"backs" json:"backs"` // how often it was sent back
	Asked     int   `db:"asked" json:"asked"` // how often the asker was asked something
	ByPeople  int   `db:"by_people" json:"byPeople"`
	BySystems int   `db:"by_systems" json:"bySystems"` // tasks that were done
	Stuck     bool  `db:"stuck" json:"stuck"`          // a task was, ever
	Hand      int64 `db:"hand" json:"hand"`            // seconds that people worked

	Came string `db:"came" json:"came"` // numbers of the requests that it came from, with spaces between them
}

// Kept says how the promise of the delivery ended.
type Kept string

// What became of a promise.
const (
	NonePromised Kept = ""     // or its clock has not ended
	KeptInTime   Kept = "kept" // it was delivered in time
	KeptLate     Kept = "missed"
	KeptOver     Kept = "over" // the request ended without what was promised
)

// Task is the fact of one task that became ready.
type Task struct {
	Number    int64  `db:"number" json:"number"` // of its request
	Key       string `db:"key" json:"key"`
	Of        string `db:"of" json:"of"` // key of the task of the plan; empty when staff added it
	Kind      string `db:"kind" json:"kind"`
	Team      string `db:"team" json:"team"` // key; empty for nobody's
	Connector string `db:"connector" json:"connector"`
	Person    string `db:"person" json:"person"` // ID of who had it last; empty for a system, or nobody
	Ready     int64  `db:"ready" json:"ready"`
	Taken     int64  `db:"taken" json:"taken"` // 0 for never
	Ended     int64  `db:"ended" json:"ended"` // 0 while it is open
	How       string `db:"how" json:"how"`     // how it stands, or ended
	Waited    int64  `db:"waited" json:"waited"`
	Worked    int64  `db:"worked" json:"worked"`
	Paused    int64  `db:"paused" json:"paused"`
	Hand      int64  `db:"hand" json:"hand"`     // seconds that people gave to it
	Handed    int    `db:"handed" json:"handed"` // how often it went to another person or team
	First     string `db:"first" json:"first"`   // key of the team that it lay with first; empty for Team
	Due       int64  `db:"due" json:"due"`
	Late      int64  `db:"late" json:"late"` // open seconds after it was due
	Tries     int    `db:"tries" json:"tries"`
	Stuck     bool   `db:"stuck" json:"stuck"` // it was, ever
}

// Vote is the fact of one decision of somebody.
type Vote struct {
	Number   int64  `db:"number" json:"number"`
	Seq      int    `db:"seq" json:"seq"` // of its event
	Rung     string `db:"rung" json:"rung"`
	Person   string `db:"person" json:"person"`
	Asked    int64  `db:"asked" json:"asked"`
	Answered int64  `db:"answered" json:"answered"`
	Open     int64  `db:"open" json:"open"`       // open seconds between them
	As       string `db:"role" json:"as"`         // approver, or how they came to the seat
	Outcome  string `db:"outcome" json:"outcome"` // approve, decline, return
}

// Rung is the fact of one decision that ended.
type Rung struct {
	Number  int64  `db:"number" json:"number"`
	Seq     int    `db:"seq" json:"seq"` // of its event
	Rung    string `db:"rung" json:"rung"`
	Opened  int64  `db:"opened" json:"opened"`
	Ended   int64  `db:"ended" json:"ended"`
	Open    int64  `db:"open" json:"open"`       // open seconds between them
	Outcome string `db:"outcome" json:"outcome"` // passed, declined
	Silent  bool   `db:"silent" json:"silent"`   // nobody's vote ended it
}

// Spell is a time in which a request stood in one way.
type Spell struct {
	Number int64          `db:"number" json:"number"`
	From   int64          `db:"from_at" json:"from"`
	Until  int64          `db:"until_at" json:"until"` // 0 while it lasts
	Status request.Status `db:"status" json:"status"`
	Paused bool           `db:"paused" json:"paused"` // the clock of its promise stood still
	Due    int64          `db:"due" json:"due"`       // as of From; 0 for never
	Late   int64          `db:"late" json:"late"`     // from when on it was late; 0 for never
	Teams  string         `db:"teams" json:"teams"`   // keys of those with open tasks, in order, with spaces between them
}

// Rating is what one person thought of how a request went.
type Rating struct {
	Number int64  `db:"number" json:"number"`
	Person string `db:"person" json:"person"`
	At     int64  `db:"at" json:"at"`
	Stars  int    `db:"stars" json:"stars"` // from 1 to 5
}

// second is the whole second of an instant; 0 for none.
func second(at time.Time) int64 {
	if at.IsZero() {
		return 0
	}
	return at.Unix()
}

// seconds are the whole seconds of a length in milliseconds.
func seconds(ms int64) int64 { return ms / 1000 }
