package script

// Case is a rehearsal that is kept, with what is expected of it. It stands on its own: it
// carries the people, teams, calendars and times it is worked out with.
type Case struct {
	Name   string `json:"name" minLength:"1" maxLength:"120"`
	Script Script `json:"script"`
	Expect Expect `json:"expect" doc:"Any parts of heptad/rehearsed/1; lists by key, and compared where it speaks only"`
}

// Expect are parts of a result as they are to be: objects, lists, texts, numbers and yes or
// no, as JSON has them.
type Expect map[string]any
