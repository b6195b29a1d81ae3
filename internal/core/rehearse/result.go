package rehearse

import (
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/message"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// Format names the open format of results and its version.
const Format = "heptad/rehearsed/1"

// Rehearsed is what happened in a rehearsal, as it travels. People are given by login,
// instants in UTC, sums as decimal numbers in the currency of the offering, open time in
// ISO 8601.
type Rehearsed struct {
	Format    string                   `json:"format" enum:"heptad/rehearsed/1"`
	End       End                      `json:"end" doc:"How it ended: the request is closed; the instant was reached; nothing more would ever happen; it was stopped after two years or 10,000 events; it could not be sent"`
	Why       string                   `json:"why,omitempty" doc:"It ended so"`
	Until     time.Time                `json:"until" doc:"As its clock ended"`
	Names     map[string]string        `json:"names" doc:"Of the people in it, by login"`
	Teams     map[string]string        `json:"teams" doc:"Names of the teams in it, by key"`
	Counts    Counts                   `json:"counts"`
	Events    []Event                  `json:"events" nullable:"false"`
	Request   Requested                `json:"request"`
	Rungs     []Rung                   `json:"rungs" nullable:"false"`
	Tasks     []Task                   `json:"tasks" nullable:"false"`
	Promise   *Promise                 `json:"promise,omitempty" doc:"Left out when nothing is promised"`
	Sending   *Sending                 `json:"sending,omitempty" doc:"What the forecast said at sending, and how far it was off"`
	Forecasts []Forecast               `json:"forecasts" nullable:"false" doc:"Each that differs from the one before"`
	Held      []Held                   `json:"held" nullable:"false" doc:"Who held it when"`
	Messages  []Told                   `json:"messages" nullable:"false"`
	Calls     []Called                 `json:"calls" nullable:"false"`
	Refused   []NotDone                `json:"refused" nullable:"false" doc:"What was not allowed"`
	Measured  map[string]script.Length `json:"measured,omitempty" doc:"Lengths that were measured and used, by rung/KEY or task/KEY"`
	Children  []Rehearsed              `json:"children" nullable:"false" doc:"Requests that it raised"`
}

// Counts is how much there was of some things.
type Counts struct {
	Rungs    int `json:"rungs" doc:"That were needed"`
	Tasks    int `json:"tasks" doc:"That were not skipped"`
	Messages int `json:"messages"`
	Calls    int `json:"calls"`
}

// Event is one entry of its history.
type Event struct {
	At    time.Time `json:"at"`
	By    string    `json:"by,omitempty" doc:"Login; left out for Heptad"`
	Kind  string    `json:"kind"`
	Text  string    `json:"text,omitempty" doc:"In words; left out for what says nothing new to people"`
	Said  string    `json:"said,omitempty" doc:"What they wrote"`
	Rung  string    `json:"rung,omitempty" doc:"Key"`
	Task  string    `json:"task,omitempty" doc:"Key"`
	Place string    `json:"place,omitempty" doc:"JSON Pointer into the offering, of the rule that made it so"`
	Why   string    `json:"why,omitempty" doc:"That rule, and what it was worked out from"`
}

// Requested is the request as it ended.
type Requested struct {
	Status  request.Status  `json:"status"`
	Outcome request.Outcome `json:"outcome,omitempty"`
	Why     string          `json:"why,omitempty" doc:"Of the outcome"`
	Title   string          `json:"title"`
	Price   Price           `json:"price"`
	Answers form.Answers    `json:"answers" doc:"As they were sent: hidden ones are left out"`
	Shown   []string        `json:"shown" nullable:"false" doc:"Keys of the questions that were shown on sending"`
	Hidden  []string        `json:"hidden" nullable:"false" doc:"Keys of the others"`
}

// Price is what it costs.
type Price struct {
	Currency string  `json:"currency"`
	Once     string  `json:"once"`
	Monthly  string  `json:"monthly"`
	Yearly   string  `json:"yearly"`
	Term     string  `json:"term,omitempty" doc:"Over all its months"`
	Shares   []Share `json:"shares" nullable:"false"`
}

// Share is what one payer bears.
type Share struct {
	Payer   string `json:"payer" enum:"costCentre,company,own"`
	Name    string `json:"name,omitempty" doc:"Key of the cost centre"`
	Once    string `json:"once"`
	Monthly string `json:"monthly"`
	Yearly  string `json:"yearly"`
}

// Rung is a decision.
type Rung struct {
	Key     string         `json:"key"`
	Name    string         `json:"name"`
	Outcome ladder.Outcome `json:"outcome"`
	Opened  *time.Time     `json:"opened,omitempty"`
	Closed  *time.Time     `json:"closed,omitempty"`
	Note    string         `json:"note,omitempty"`
	Seats   []Seat         `json:"seats" nullable:"false"`
}

// Seat is one place on a rung.
type Seat struct {
	Person string           `json:"person" doc:"Login of who decided or is asked"`
	For    string           `json:"for,omitempty" doc:"Login of whose seat it is, when it is another's"`
	Part   string           `json:"part,omitempty" doc:"Key of the cost centre whose share it is about"`
	Why    string           `json:"why" doc:"Why it is they"`
	Vote   request.Decision `json:"vote,omitempty"`
	At     *time.Time       `json:"at,omitempty"`
	Reason string           `json:"reason,omitempty" doc:"What they said"`
}

// Task is a task.
type Task struct {
	Key          string            `json:"key"`
	Name         string            `json:"name"`
	Kind         plan.Kind         `json:"kind"`
	Team         string            `json:"team,omitempty" doc:"Key"`
	Holder       string            `json:"holder,omitempty" doc:"Login"`
	State        plan.State        `json:"state"`
	After        []string          `json:"after,omitempty" nullable:"false" doc:"Keys of the tasks it waited for"`
	Ready        *time.Time        `json:"ready,omitempty"`
	Due          *time.Time        `json:"due,omitempty" doc:"Of its own"`
	LatestStart  *time.Time        `json:"latestStart,omitempty" doc:"As it was before it began"`
	Taken        *time.Time        `json:"taken,omitempty"`
	Ended        *time.Time        `json:"ended,omitempty"`
	Trouble      string            `json:"trouble,omitempty" doc:"The last error, or why it is stuck"`
	Instructions string            `json:"instructions,omitempty"`
	Outputs      map[string]string `json:"outputs,omitempty"`
	Slice        []Answer          `json:"slice,omitempty" nullable:"false" doc:"The answers that its team sees"`
}

// Answer is an answer in words.
type Answer struct {
	Key   string `json:"key"`
	Label string `json:"label"`
	Text  string `json:"text"`
}

// Promise is how the clock of the promised delivery ended, or stands.
type Promise struct {
	Name   string        `json:"name,omitempty"`
	Target string        `json:"target,omitempty" doc:"Such as 8h or 5d; left out where it is to be ready by an instant"`
	Due    *time.Time    `json:"due,omitempty"`
	State  promise.State `json:"state"`
	Used   script.Length `json:"used"`
	Left   string        `json:"left" doc:"ISO 8601, with a minus sign when it is late"`
	Kept   *bool         `json:"kept,omitempty" doc:"Left out while it runs"`
	Pauses []Pause       `json:"pauses" nullable:"false"`
	Marks  []Mark        `json:"marks" nullable:"false"`
}

// Pause is a time in which the clock stood still.
type Pause struct {
	From time.Time  `json:"from"`
	To   *time.Time `json:"to,omitempty"`
	Why  string     `json:"why"`
}

// Mark is a share of a promised time that was reached.
type Mark struct {
	Clock request.ClockKind `json:"clock"`
	Share int               `json:"share" doc:"Per cent; at 100 it is missed"`
	At    time.Time         `json:"at"`
	Told  []string          `json:"told" nullable:"false" doc:"Logins"`
}

// Forecast is when it was likely done, as of an instant.
type Forecast struct {
	At     time.Time `json:"at"`
	Likely time.Time `json:"likely" doc:"In half of all cases"`
	By80   time.Time `json:"by80" doc:"In four of five"`
}

// Sending is what the forecast said at sending.
type Sending struct {
	Likely time.Time  `json:"likely"`
	By80   time.Time  `json:"by80"`
	Was    *time.Time `json:"was,omitempty" doc:"When it was delivered"`
	Off    string     `json:"off,omitempty" doc:"Open time of the promise's calendar from the likely finish until then, ISO 8601; with a minus sign when it was earlier"`
}

// Held says with whom it lay.
type Held struct {
	From time.Time  `json:"from"`
	To   *time.Time `json:"to,omitempty"`
	Who  []string   `json:"who" nullable:"false" doc:"Names of persons, teams and systems"`
}

// Told is a message as it would read.
type Told struct {
	At      time.Time    `json:"at"`
	To      string       `json:"to" doc:"Login"`
	Kind    message.Kind `json:"kind"`
	Subject string       `json:"subject"`
	Text    string       `json:"text"`
	Rung    string       `json:"rung,omitempty"`
	Task    string       `json:"task,omitempty"`
}

// Called is a call of another system.
type Called struct {
	At        time.Time         `json:"at"`
	Connector string            `json:"connector"`
	Action    string            `json:"action"`
	Task      string            `json:"task"`
	Key       string            `json:"key" doc:"The same over all tries"`
	Inputs    map[string]string `json:"inputs"`
	Outputs   map[string]string `json:"outputs,omitempty"`
	Undoes    string            `json:"undoes,omitempty" doc:"Key of the call that it takes back"`
	Outcome   string            `json:"outcome"`
}

// NotDone is what was not allowed.
type NotDone struct {
	Line     *int      `json:"line,omitempty" doc:"Of the script, from 1; 0 for sending; left out for the cast"`
	At       time.Time `json:"at"`
	Code     string    `json:"code"`
	Sentence string    `json:"sentence"`
	Details  []string  `json:"details,omitempty" nullable:"false"`
}
