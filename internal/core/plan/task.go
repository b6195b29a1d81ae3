package plan

// Kind says who does a task.
type Kind string

// The kinds of task.
const (
	Manual    Kind = "manual"
	Automatic Kind = "automatic"
)

// Task is one step of a plan.
type Task struct {
	Key          string   `json:"key" maxLength:"60"`
	Name         string   `json:"name" maxLength:"200"`
	Kind         Kind     `json:"kind" enum:"manual,automatic"`
	Team         string   `json:"team" maxLength:"60" doc:"Key of the team that does it, or mends it when it is automatic and stuck"`
	After        []string `json:"after,omitempty" maxItems:"200" nullable:"false" doc:"Keys of the tasks that must have ended"`
	When         string   `json:"when,omitempty" maxLength:"4000" doc:"CEL; skipped when it does not hold"`
	Slice        []string `json:"slice,omitempty" maxItems:"500" nullable:"false" doc:"Keys of the questions whose answers the team sees"`
	Instructions string   `json:"instructions,omitempty" maxLength:"8000" doc:"Text with {{ CEL }} placeholders"`
	Action       *Action  `json:"action,omitempty" doc:"What an automatic task calls"`
}

// Action is a call of a connector.
type Action struct {
	Connector string            `json:"connector" maxLength:"60"`
	Do        string            `json:"do" maxLength:"60"`
	Inputs    map[string]string `json:"inputs,omitempty" doc:"Texts with {{ CEL }} placeholders, by input"`
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
}

// Field is a named text that goes into an action or comes out of it.
type Field struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// State is where a task stands.
type State string

// The states of a task.
const (
	Blocked State = "blocked"
	Ready   State = "ready"
	Taken   State = "taken"
	Stuck   State = "stuck"
	Done    State = "done"
	Skipped State = "skipped"
)

// Ended tells whether nothing more happens to a task.
func (s State) Ended() bool { return s == Done || s == Skipped }
