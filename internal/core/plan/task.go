package plan

import (
	"encoding/json"
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"heptad/internal/core/calendar"
)

// Kind says who or what does a task.
type Kind string

// The kinds of task.
const (
	Manual    Kind = "manual"    // people of a team
	Automatic Kind = "automatic" // a connector
	Wait      Kind = "wait"      // nobody: it ends at an instant, or when a rule holds
	Message   Kind = "message"   // Heptad writes to somebody
)

// All lists them in their order.
func (Kind) All() []Kind { return []Kind{Manual, Automatic, Wait, Message} }

// Task is one step of a plan.
type Task struct {
	Key          string     `json:"key" maxLength:"60"`
	Name         string     `json:"name" maxLength:"200"`
	Kind         Kind       `json:"kind"`
	Team         string     `json:"team,omitempty" maxLength:"60" doc:"Key of the team that does it, or mends it when it is stuck"`
	Routes       []Route    `json:"routes,omitempty" maxItems:"20" nullable:"false" doc:"Other teams; the first that fits wins over team"`
	After        []string   `json:"after,omitempty" maxItems:"200" nullable:"false" doc:"Keys of the tasks that must have ended"`
	When         string     `json:"when,omitempty" maxLength:"4000" doc:"CEL; skipped when it does not hold once its forerunners have ended"`
	Each         string     `json:"each,omitempty" maxLength:"60" doc:"One task for each: the key of an item pick, a table or several choices, or belongings"`
	Effort       string     `json:"effort,omitempty" maxLength:"20" doc:"Working time it takes, such as 2h or 1d"`
	Slice        []string   `json:"slice,omitempty" maxItems:"500" nullable:"false" doc:"Keys of the questions whose answers the team sees"`
	Instructions string     `json:"instructions,omitempty" maxLength:"8000" doc:"Text with {{ CEL }} placeholders"`
	MustDos      []string   `json:"mustDos,omitempty" maxItems:"30" nullable:"false" doc:"Points to tick before it can be done"`
	Lines        string     `json:"lines,omitempty" maxLength:"60" doc:"Key of an item pick or table whose lines can be done in part"`
	Outputs      []Output   `json:"outputs,omitempty" maxItems:"30" nullable:"false" doc:"What comes out of it: typed by who does it, or read from the reply of a web call"`
	Due          *Due       `json:"due,omitempty" doc:"When it is due by itself, beside the promise"`
	Rescue       *Rescue    `json:"rescue,omitempty" doc:"Whose work it is when it is stuck"`
	Action       *Action    `json:"action,omitempty" doc:"What an automatic task calls"`
	OnDemand     bool       `json:"onDemand,omitempty" doc:"Of an automatic one: staff start it from a request when they need it. It is no step of the plan, and what it leaves empty of its inputs they type"`
	Tries        []string   `json:"tries,omitempty" maxItems:"20" nullable:"false" doc:"Delays between the tries of an automatic task, such as 30s or 10m"`
	Undo         *Undo      `json:"undo,omitempty" doc:"What takes it back"`
	Wait         *Until     `json:"wait,omitempty" doc:"When a wait ends"`
	Pool         *PoolUse   `json:"pool,omitempty" doc:"What it takes of what there is only so much of"`
	Belonging    *Belonging `json:"belonging,omitempty" doc:"What somebody has, or has no more, once it is done"`
	People       *People    `json:"people,omitempty" doc:"Many people at once, who each confirm"`
	Words        *Words     `json:"words,omitempty" doc:"What a message task writes"`
}

// Route sends a task to another team, and to one of its members.
type Route struct {
	When   string `json:"when" maxLength:"4000" doc:"CEL"`
	Team   string `json:"team" maxLength:"60"`
	Person string `json:"person,omitempty" maxLength:"60" doc:"Login of a member who gets it"`
}

// Output is a value that comes out of a task.
type Output struct {
	Key  string `json:"key" maxLength:"60" pattern:"^[a-z][A-Za-z0-9_]*$"`
	Name string `json:"name" maxLength:"120"`
	Kind Type   `json:"kind,omitempty" enum:"text,number,money,date,file" doc:"Text when left out; money is in the currency of the offering, a file is added by who does it"`
	Real bool   `json:"real,omitempty" doc:"Of money: what it really cost, which is shown beside the price asked"`
	From string `json:"from,omitempty" maxLength:"200" doc:"JSON Pointer into the reply of a web call (RFC 6901)"`
	Free bool   `json:"free,omitempty" doc:"It may be left empty"`

	Secret bool `json:"secret,omitempty" doc:"Shown only to whom the request is for, on asking and for a time; no rule, text or task reads it"`
}

// Type is what a value of a connector or an output is.
type Type string

// The types of values.
const (
	Text   Type = "text"
	Number Type = "number"
	Date   Type = "date"
	Money  Type = "money"
	File   Type = "file"
)

// MadeUp is a value of a type where nothing real is at hand: a text, a day (RFC 3339) and an
// amount of money (a decimal number) are given.
func (t Type) MadeUp(text, day, money string) string {
	switch t {
	case Date:
		return day
	case Money:
		return money
	case Number:
		return "1"
	}
	return text
}

// Action is a call of a connector.
type Action struct {
	Connector string            `json:"connector" maxLength:"60"`
	Do        string            `json:"do" maxLength:"60"`
	Inputs    map[string]string `json:"inputs,omitempty" doc:"Texts with {{ CEL }} placeholders, by input"`
	Limit     string            `json:"limit,omitempty" maxLength:"10" doc:"How long one call may take, such as 30s, up to 5m; 10s when left out"`
}

// Undo takes a task back that was done: an action, or words for its team.
type Undo struct {
	Action *Action `json:"action,omitempty"`
	Text   string  `json:"text,omitempty" maxLength:"2000" doc:"What its team is to do by hand; may hold {{ CEL }}"`
}

// Moment is an instant computed from a date in the calendar of the team.
type Moment struct {
	Of   string `json:"of,omitempty" maxLength:"4000" doc:"CEL that gives a date or an instant"`
	Task string `json:"task,omitempty" maxLength:"60" doc:"Key of another task, whose end it is computed from"`
	Days int    `json:"days,omitempty" minimum:"-250" maximum:"250" doc:"So many working days after it, or before it when negative"`
	At   string `json:"at,omitempty" maxLength:"5" pattern:"^$|^[0-2][0-9]:[0-5][0-9]$" doc:"Clock time, in or out of working hours"`
}

// Until says when a wait ends: at a moment, or as soon as a rule holds.
type Until struct {
	Moment
	Holds string `json:"holds,omitempty" maxLength:"4000" doc:"CEL"`
}

// Due says when a task is due: effort forward from when it is ready, or a
// moment, at the day's close when no clock time is given.
type Due struct {
	Moment
	Within string   `json:"within,omitempty" maxLength:"20" doc:"Working time from when it is ready, such as 4h"`
	Remind []string `json:"remind,omitempty" maxItems:"10" nullable:"false" doc:"Working time before, such as 1d"`
}

// Rescue says what happens once a task is stuck. Without it the work is its own
// team's, which is told.
type Rescue struct {
	Team   string   `json:"team,omitempty" maxLength:"60" doc:"Key of the team whose work it is then; the task's own when left out"`
	Within string   `json:"within,omitempty" maxLength:"20" doc:"Working time it may take from being stuck, such as 4h; as for the task when left out"`
	Tell   []string `json:"tell,omitempty" maxItems:"4" enum:"lead,home,owner,asker" nullable:"false" doc:"Who is told beside the team: its lead, the lead of the home team, the owner of the service, the asker"`
}

// Whom a rescue tells beside the team.
const (
	TellLead  = "lead"
	TellHome  = "home"
	TellOwner = "owner"
	TellAsker = "asker"
)

// PoolUse takes from a pool or adds to it.
type PoolUse struct {
	Pool string `json:"pool" maxLength:"60"`
	Adds bool   `json:"adds,omitempty" doc:"Makes the pool one larger instead of taking a place"`
}

// Belonging is what a task makes, changes or ends of what somebody has.
type Belonging struct {
	Does   Does   `json:"does" enum:"make,change,end"`
	Which  string `json:"which,omitempty" maxLength:"4000" doc:"Text with {{ CEL }} that gives the ID of what is changed or ended"`
	Kind   string `json:"kind,omitempty" maxLength:"60" doc:"Such as badge or licence"`
	Name   string `json:"name,omitempty" maxLength:"400" doc:"Text with {{ CEL }}"`
	Detail string `json:"detail,omitempty" maxLength:"1000" doc:"Text with {{ CEL }}"`
	Until  string `json:"until,omitempty" maxLength:"4000" doc:"CEL that gives the last day on which they have it"`
}

// Does says what happens to a belonging.
type Does string

// What can happen to a belonging.
const (
	Make   Does = "make"
	Change Does = "change"
	End    Does = "end"
)

// People are asked all at once to confirm; the task ends when enough have.
type People struct {
	Team     string `json:"team,omitempty" maxLength:"60" doc:"All of a team"`
	Question string `json:"question,omitempty" maxLength:"121" doc:"Key of a person question, or table.column"`
	Enough   string `json:"enough" maxLength:"10" doc:"all, any, a number or a share such as 50%"`
	Silence  string `json:"silence,omitempty" maxLength:"20" doc:"Working time after which it ends all the same, such as 5d"`
}

// Words are what a message task writes.
type Words struct {
	To      string `json:"to" enum:"asker,beneficiary,team,followers" doc:"Who is written to"`
	Subject string `json:"subject" maxLength:"200" doc:"Text with {{ CEL }}"`
	Text    string `json:"text" maxLength:"4000" doc:"Text with {{ CEL }}"`
}

// Connector describes another system that tasks can call.
type Connector struct {
	Key     string       `json:"key"`
	Name    string       `json:"name"`
	Actions []ActionType `json:"actions" nullable:"false"`
}

// ActionType describes one thing a connector can do.
type ActionType struct {
	Key     string  `json:"key"`
	Name    string  `json:"name"`
	Inputs  []Field `json:"inputs" nullable:"false"`
	Outputs []Field `json:"outputs" nullable:"false"`
	Undo    string  `json:"undo,omitempty" doc:"Key of the action that takes it back; it reads inputs and outputs of the same names"`
	Later   bool    `json:"later,omitempty" doc:"The result comes later by a report"`
	Free    bool    `json:"free,omitempty" doc:"Its outputs are the ones the task names"`

	Sensitive bool `json:"sensitive,omitempty" doc:"Somebody must always decide before it is done"`
	Makes     bool `json:"makes,omitempty" doc:"It makes the account of a person, whom later tasks of the request may then name"`
}

// absent stands in an input for something absent.
const absent = "—"

// Input gives an input of a call, or of an undo what came out of the call it undoes.
func Input(key string, inputs, outputs map[string]string) string {
	if text := strings.TrimSpace(inputs[key]); text != "" && text != absent {
		return text
	}
	return outputs[key]
}

// Wrong says what is wrong with the inputs of a call, in words; empty when they can be
// sent. What is taken back needs no more than is there.
func (a ActionType) Wrong(input func(key string) string, undoes bool) string {
	for _, field := range a.Inputs {
		text := input(field.Key)
		switch {
		case text == "" && !field.Free && !undoes:
			return field.Name + " is missing."
		case text == "":
		case field.Kind == Number:
			if _, err := strconv.ParseFloat(text, 64); err != nil {
				return fmt.Sprintf("%s: %q is no number.", field.Name, text)
			}
		case field.Kind == Date:
			if _, err := calendar.ParseDate(text); err != nil {
				return fmt.Sprintf("%s: %q is no date.", field.Name, text)
			}
		}
	}
	return ""
}

// Field is a named value that goes into an action or comes out of it.
type Field struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Kind Type   `json:"kind,omitempty" enum:"text,number,money,date"`
	Real bool   `json:"real,omitempty" doc:"Of an output: what it really cost"`
	Free bool   `json:"free,omitempty" doc:"It may be left empty"`
	Form Form   `json:"form,omitempty" enum:"json,url" doc:"What it is written as, so that what fills a placeholder stays inside of it"`

	Secret bool `json:"secret,omitempty" doc:"Of an output: shown only to whom the request is for, on asking and for a time"`
	Person bool `json:"person,omitempty" doc:"Of an input: it says whom the action is about"`
	Group  bool `json:"group,omitempty" doc:"Of an input: its value may be one of those that are sensitive"`
}

// Form says what an input is written as.
type Form string

// The forms of inputs that are more than a text.
const (
	JSON Form = "json" // placeholders stand in its strings (RFC 8259)
	URL  Form = "url"  // placeholders are parts of its path or query (RFC 3986); one at its beginning is the whole address
)

// escape makes a text fit into an input.
func (f Form) escape(text string, first bool) string {
	switch {
	case f == JSON:
		quoted, err := json.Marshal(text)
		if err != nil {
			return "" // a text always marshals
		}
		return string(quoted[1 : len(quoted)-1])
	case f == URL && !first:
		return strings.ReplaceAll(url.QueryEscape(text), "+", "%20")
	}
	return text
}

// State is where a task stands.
type State string

// The states of a task.
const (
	Blocked State = "blocked" // forerunners are open
	Ready   State = "ready"   // somebody or something can begin
	Taken   State = "taken"   // somebody works on it
	Asking  State = "asking"  // it waits for an answer of the asker
	Stuck   State = "stuck"   // with a reason
	Done    State = "done"
	Skipped State = "skipped"
	Stopped State = "stopped" // the request ended first
	Undone  State = "undone"  // it was done and taken back
)

// All lists them in their order.
func (State) All() []State {
	return []State{Blocked, Ready, Taken, Asking, Stuck, Done, Skipped, Stopped, Undone}
}

// Ended reports whether nothing more happens to a task on the way to delivery.
func (s State) Ended() bool {
	switch s {
	case Done, Skipped, Stopped, Undone:
		return true
	}
	return false
}
