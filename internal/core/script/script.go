package script

import (
	"bytes"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/people"
)

// Format names the open format and its version.
const Format = "heptad/rehearsal/1"

// Script is one rehearsal as people write it.
type Script struct {
	Format  string       `json:"format" enum:"heptad/rehearsal/1"`
	Asker   Who          `json:"asker" doc:"Login, or somebody made up"`
	For     *Who         `json:"for,omitempty" doc:"Login, or a newcomer; the asker when left out"`
	Send    time.Time    `json:"send" doc:"When it is sent"`
	Answers form.Answers `json:"answers,omitempty" maxProperties:"500" doc:"By question"`
	Company *Company     `json:"company,omitempty" doc:"Changes to the company, or the whole of it"`
	Cast    Cast         `json:"cast,omitzero" doc:"How those behave whom the script does not name"`
	Script  []Line       `json:"script,omitempty" maxItems:"500" nullable:"false" doc:"What happens, in order of time"`
	Until   Until        `json:"until,omitzero" doc:"closed, or an instant; closed when left out"`
}

// Who is somebody: a login, or a person who is made up.
type Who struct {
	Login string  // empty for somebody made up
	Made  *Person // nil for a login
}

// Newcomer is somebody made up as a newcomer; nil for a login.
func (w Who) Newcomer() *people.Newcomer {
	m := w.Made
	if m == nil {
		return nil
	}
	return &people.Newcomer{Name: m.Name, Email: m.Email, Title: m.Title, Department: m.Department, Location: m.Location, CostCentre: m.CostCentre}
}

// Cast says how people and systems behave.
type Cast struct {
	Approvers Approvers         `json:"approvers,omitzero" doc:"Who decides: after PT1H when left out"`
	Tasks     Tasks             `json:"tasks,omitzero" doc:"Who does tasks: their effort when left out"`
	Systems   map[string]System `json:"systems,omitempty" doc:"By key of the connector; they succeed when left out"`
	Asker     Asking            `json:"asker,omitempty" enum:"confirms,answers,silent" doc:"confirms when left out: they answer questions and confirm; answers: they never confirm"`
}

// Asking says how the asker behaves.
type Asking string

// How the asker behaves.
const (
	Confirms Asking = "confirms" // answers questions, and confirms what was delivered
	Answers  Asking = "answers"  // answers questions only
	Silent   Asking = "silent"
)

// All lists them in their order.
func (Asking) All() []Asking { return []Asking{Confirms, Answers, Silent} }

// Approvers say when who is asked for a decision approves; or, as the word none, that they
// do nothing.
type Approvers struct {
	After Pace
	None  bool
}

// Pace is a length of open time, or as it was measured.
type Pace struct {
	Length
	Measured bool
}

// Tasks say how long who does tasks takes; or, as the word none, that they do nothing.
type Tasks struct {
	Factor   float64              `json:"factor,omitempty" exclusiveMinimum:"0" maximum:"1000" doc:"Times their effort; 1 when left out"`
	Measured bool                 `json:"measured,omitempty" doc:"As long as such tasks took in the middle, where that was measured"`
	Each     map[string]TimesItem `json:"each,omitempty" maxProperties:"200" doc:"By key of the task of the plan"`
	None     bool                 `json:"-"`
}

// TimesItem says how long one task takes.
type TimesItem struct {
	Factor float64 `json:"factor" exclusiveMinimum:"0" maximum:"1000" doc:"Times its effort"`
}

// Of is by how much the effort of a task of the plan is multiplied.
func (t Tasks) Of(task string) float64 {
	if each, ok := t.Each[task]; ok {
		return each.Factor
	}
	if t.Factor == 0 {
		return 1
	}
	return t.Factor
}

// System says how another system behaves.
type System struct {
	Refuse  int               `json:"refuse,omitempty" minimum:"0" maximum:"10000" doc:"It refuses so many calls first"`
	Down    []time.Time       `json:"down,omitempty" minItems:"2" maxItems:"2" nullable:"false" doc:"From when until when nobody answers"`
	Outputs map[string]string `json:"outputs,omitempty" maxProperties:"50" doc:"What comes out of its calls"`
	Report  []Report          `json:"report,omitempty" maxItems:"50" nullable:"false" doc:"What it reports later, of each call that it takes; done at once when left out"`
}

// Report is one word of another system after it has taken a call.
type Report struct {
	At        time.Time         `json:"at,omitzero" doc:"An instant, or after"`
	After     Length            `json:"after,omitzero" doc:"Open time of the promise's calendar since the call was taken"`
	Step      string            `json:"step" minLength:"1" maxLength:"60"`
	State     ReportState       `json:"state,omitempty" enum:"underway,done,failed" doc:"underway when left out"`
	Delivered *int              `json:"delivered,omitempty" minimum:"0" doc:"How many of its one line are there"`
	Words     string            `json:"words,omitempty" maxLength:"2000"`
	Outputs   map[string]string `json:"outputs,omitempty" maxProperties:"50"`
}

// ReportState says how far another system is.
type ReportState string

// How far another system is.
const (
	Underway ReportState = "underway"
	Done     ReportState = "done"
	Failed   ReportState = "failed"
)

// All lists them in their order.
func (ReportState) All() []ReportState { return []ReportState{Underway, Done, Failed} }

// Until says when a rehearsal ends: once the request is closed, or at an instant.
type Until struct {
	At time.Time // zero for once it is closed
}

const (
	none     = "none"
	measured = "measured"
	closed   = "closed"
)

// UnmarshalJSON reads a login, or a person.
func (w *Who) UnmarshalJSON(data []byte) error {
	if word, ok := asWord(data); ok {
		*w = Who{Login: word}
		return nil
	}
	w.Login, w.Made = "", &Person{}
	return strict(data, w.Made)
}

// MarshalJSON writes what UnmarshalJSON reads.
func (w Who) MarshalJSON() ([]byte, error) {
	if w.Made == nil {
		return json.Marshal(w.Login)
	}
	return json.Marshal(w.Made)
}

// approversShape is how approvers are written who do something.
type approversShape struct {
	After string `json:"after"`
}

// UnmarshalJSON reads none, or {after}.
func (a *Approvers) UnmarshalJSON(data []byte) error {
	*a = Approvers{}
	if word, ok := asWord(data); ok {
		if word != none {
			return errors.New(`write none, or {after: PT1H}`)
		}
		a.None = true
		return nil
	}
	var shape approversShape
	if err := strict(data, &shape); err != nil {
		return err
	}
	if shape.After == measured {
		a.After.Measured = true
		return nil
	}
	length, err := ParseLength(shape.After)
	a.After.Length = length
	return err
}

// MarshalJSON writes what UnmarshalJSON reads.
func (a Approvers) MarshalJSON() ([]byte, error) {
	switch {
	case a.None:
		return json.Marshal(none)
	case a.After.Measured:
		return json.Marshal(approversShape{measured})
	}
	return json.Marshal(approversShape{a.After.String()})
}

// UnmarshalJSON reads none, or {factor, each}.
func (t *Tasks) UnmarshalJSON(data []byte) error {
	*t = Tasks{}
	if word, ok := asWord(data); ok {
		if word != none {
			return errors.New(`write none, or {factor: 1}`)
		}
		t.None = true
		return nil
	}
	type shape Tasks
	return strict(data, (*shape)(t))
}

// MarshalJSON writes what UnmarshalJSON reads.
func (t Tasks) MarshalJSON() ([]byte, error) {
	if t.None {
		return json.Marshal(none)
	}
	type shape Tasks
	return json.Marshal(shape(t))
}

// UnmarshalJSON reads closed, or an instant.
func (u *Until) UnmarshalJSON(data []byte) error {
	*u = Until{}
	word, _ := asWord(data)
	if word == closed {
		return nil
	}
	at, err := time.Parse(time.RFC3339, word)
	if err != nil {
		return errors.New("write closed, or an instant such as 2027-05-18T09:10:00+01:00")
	}
	u.At = at
	return nil
}

// MarshalJSON writes what UnmarshalJSON reads.
func (u Until) MarshalJSON() ([]byte, error) {
	if u.At.IsZero() {
		return json.Marshal(closed)
	}
	return json.Marshal(u.At)
}

// IsZero reports whether it is what it is when left out.
func (u Until) IsZero() bool { return u.At.IsZero() }

func asWord(data []byte) (string, bool) {
	var word string
	return word, json.Unmarshal(data, &word) == nil && word != ""
}

func strict(data []byte, into any) error {
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	return decoder.Decode(into)
}

// Names lists the logins that act in the script, each once.
func (s Script) Names() []string {
	var all []string
	for _, line := range s.Script {
		if line.Who != "" && !slices.Contains(all, line.Who) {
			all = append(all, line.Who)
		}
	}
	return all
}
