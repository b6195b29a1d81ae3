package coretest

import (
	"encoding/json"

	"heptad/internal/core/form"
)

// Answers are answers written with the values of Go that package json reads: texts,
// numbers, yes and no, lists, and maps for rows and picks.
func Answers(plain map[string]any) form.Answers {
	data, err := json.Marshal(plain)
	if err != nil {
		panic(err) // a test is wrong
	}
	var out form.Answers
	if err := json.Unmarshal(data, &out); err != nil {
		panic(err)
	}
	return out
}

// Answer is one answer, written as those of Answers.
func Answer(plain any) form.Answer { return Answers(map[string]any{"": plain})[""] }
