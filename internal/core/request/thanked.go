package request

// Thanked is a word of thanks of the asker's side to those who did a task.
type Thanked struct {
	Task string `json:"task"`
	Text string `json:"text"`
}

func (Thanked) apply(*State, Event) {}

func (b Thanked) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark, w.Task = "note", "Says thank you"+w.state.about(b.Task), b.Text, b.Task
	return true
}
