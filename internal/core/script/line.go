package script

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
)

// Line is something that happens: somebody does something, or Heptad is off.
type Line struct {
	At    time.Time `json:"at,omitzero" doc:"An instant, or after"`
	After *Length   `json:"after,omitempty" doc:"Open time of the promise's calendar since the line before, or since sending"`
	Who   string    `json:"who,omitempty" maxLength:"60" doc:"Login; asker and beneficiary are those of the request"`
	Do    Do        `json:"do,omitempty" doc:"What they do"`
	Down  *Length   `json:"down,omitempty" doc:"Heptad itself is off for so long, on the clock"`

	Rung    string            `json:"rung,omitempty" maxLength:"60" doc:"Key; the open one when left out"`
	Task    string            `json:"task,omitempty" maxLength:"80" doc:"Key"`
	Text    string            `json:"text,omitempty" maxLength:"4000"`
	Reason  string            `json:"reason,omitempty" maxLength:"2000"`
	Person  string            `json:"person,omitempty" maxLength:"60" doc:"Login of another"`
	Team    string            `json:"team,omitempty" maxLength:"60" doc:"Key"`
	Name    string            `json:"name,omitempty" maxLength:"200" doc:"Of a task that is added, or a file"`
	Effort  string            `json:"effort,omitempty" maxLength:"20" doc:"Of a task that is added, such as 2h"`
	Before  string            `json:"before,omitempty" maxLength:"80" doc:"Key of the task that waits for one that is added"`
	Skips   string            `json:"skips,omitempty" maxLength:"80" doc:"Key of the task that one no longer waits for"`
	To      string            `json:"to,omitempty" enum:",request,task,staff" doc:"Who reads a word"`
	How     string            `json:"how,omitempty" maxLength:"40" doc:"How an answer was heard, such as phone"`
	Chosen  string            `json:"chosen,omitempty" maxLength:"200" doc:"Of the reasons the offering gives"`
	Choice  string            `json:"choice,omitempty" maxLength:"60" doc:"Key of the speed that is asked for"`
	Step    string            `json:"step,omitempty" maxLength:"60" doc:"Of a report"`
	State   ReportState       `json:"state,omitempty" enum:",underway,done,failed" doc:"Of a report"`
	Answers form.Answers      `json:"answers,omitempty" maxProperties:"500" doc:"That change, by question"`
	Outputs map[string]string `json:"outputs,omitempty" maxProperties:"50" doc:"What came out of a task"`
	Inputs  map[string]string `json:"inputs,omitempty" maxProperties:"50" doc:"Of a call, corrected or typed"`
	Lines   map[string]int    `json:"lines,omitempty" maxProperties:"200" doc:"How many are done, by number of the line from 0"`
	Wrong   []string          `json:"wrong,omitempty" maxItems:"200" nullable:"false" doc:"Names of what is not right"`
	Ratings map[string]int    `json:"ratings,omitempty" maxProperties:"20" doc:"By question of the offering"`
	Stars   int               `json:"stars,omitempty" minimum:"0" maximum:"5"`
	Point   *int              `json:"point,omitempty" minimum:"0" doc:"Number of a must-do, from 0"`
	Upward  bool              `json:"upward,omitempty" doc:"To the next team upward"`
	Off     bool              `json:"off,omitempty" doc:"Takes a tick away"`
}

// Do is what somebody does: a command of rules.md 8 by its name.
type Do string

// The commands.
const (
	Approve     Do = "approve"
	Decline     Do = "decline"
	AskBack     Do = "askBack"
	Unask       Do = "unask"
	Answer      Do = "answer"
	PassOn      Do = "passOn"
	TakeBack    Do = "takeBack"
	Take        Do = "take"
	HandOver    Do = "handOver"
	Tick        Do = "tick"
	Count       Do = "count"
	ConfirmPart Do = "confirmPart"
	Ask         Do = "ask"
	Hear        Do = "hear"
	Doubt       Do = "doubt"
	Complete    Do = "complete"
	Stuck       Do = "stuck"
	Retry       Do = "retry"
	Skip        Do = "skip"
	Waive       Do = "waive"
	AddTask     Do = "addTask"
	RunNow      Do = "runNow"
	Reporting   Do = "report"
	Comment     Do = "comment"
	Note        Do = "note"
	Attach      Do = "attach"
	Follow      Do = "follow"
	Unfollow    Do = "unfollow"
	Urge        Do = "urge"
	Withdraw    Do = "withdraw"
	Cancel      Do = "cancel"
	Close       Do = "close"
	Confirm     Do = "confirm"
	SendBack    Do = "sendBack"
	Rate        Do = "rate"
)

// takes lists the fields that a command reads beside at, after, who and do; those with an
// exclamation mark are needed.
var takes = map[Do]string{
	Approve: "rung reason", Decline: "rung reason!", AskBack: "rung text!", Unask: "rung task", Answer: "task text answers",
	PassOn: "rung person! reason", TakeBack: "rung", Take: "task!", HandOver: "task! person team upward reason",
	Tick: "task! point! off", Count: "task! lines!", ConfirmPart: "task!", Ask: "task! text!", Hear: "task text! person how!",
	Doubt: "task! reason!", Complete: "task! outputs text", Stuck: "task! reason!", Retry: "task! inputs reason", Skip: "task! reason!",
	Waive: "task! skips! reason!", AddTask: "name! team! text effort before reason!", RunNow: "task! inputs text",
	Reporting: "task! step! state text outputs lines", Comment: "task text! to", Note: "task text! to", Attach: "task name! to",
	Follow: "person!", Unfollow: "person!", Urge: "choice! reason", Withdraw: "chosen reason", Cancel: "chosen reason", Close: "text!",
	Confirm: "text", SendBack: "text! wrong", Rate: "stars! text ratings",
}

// later are commands of rules.md 8 that Heptad does not have yet.
var later = []Do{"amend"}

// All lists the commands, by name.
func (Do) All() []Do { return slices.Sorted(maps.Keys(takes)) }

// Decides reports whether it is a vote, or something else in place of one.
func (d Do) Decides() bool { return d == Approve || d == Decline || d == AskBack || d == PassOn }

// Asks reports whether it is the turn of who asks.
func (d Do) Asks() bool {
	return d == Answer || d == Confirm || d == SendBack || d == Withdraw || d == Rate
}

// fields are the fields of a line that are given, by their names.
func (l Line) fields() map[string]bool {
	given := map[string]bool{}
	v := reflect.ValueOf(l)
	for i := range v.NumField() {
		name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		given[name] = !v.Field(i).IsZero()
	}
	return given
}

// check says what is wrong with a line as it stands alone; nil for nothing.
func (l Line) check() error {
	given := l.fields()
	if given["at"] == given["after"] {
		return fmt.Errorf("say when it happens: at an instant, or after a length of open time")
	}
	if l.Down != nil {
		if l.Down.Days != 0 || l.Down.Open <= 0 {
			return fmt.Errorf("write how long Heptad is off on the clock, like PT6H")
		}
		for name, is := range given {
			if is && name != "at" && name != "after" && name != "down" {
				return fmt.Errorf("while Heptad is off nobody does anything: take %q out", name)
			}
		}
		return nil
	}
	fields, known := takes[l.Do]
	switch {
	case l.Do == "":
		return fmt.Errorf("say what is done")
	case slices.Contains(later, l.Do):
		return fmt.Errorf("there will be %q, but Heptad does not have it yet", l.Do)
	case !known:
		return fmt.Errorf("there is no %q; there are %s", l.Do, joined(l.Do.All()))
	case l.Who == "" && l.Do != Reporting:
		return fmt.Errorf("say who does it")
	case l.Who != "" && l.Do == Reporting:
		return fmt.Errorf("a system reports, nobody in person: take \"who\" out")
	}
	read := map[string]bool{"at": true, "after": true, "who": true, "do": true}
	for _, field := range strings.Fields(fields) {
		name, needed := strings.CutSuffix(field, "!")
		read[name] = true
		if needed && !given[name] {
			return fmt.Errorf("%s needs %q", l.Do, name)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(given)) {
		if given[name] && !read[name] {
			return fmt.Errorf("%s does not read %q", l.Do, name)
		}
	}
	return nil
}

func joined(all []Do) string {
	names := make([]string, len(all))
	for i, d := range all {
		names[i] = string(d)
	}
	return strings.Join(names, ", ")
}
