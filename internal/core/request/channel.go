package request

import (
	"heptad/internal/core/form"
	"heptad/internal/core/plan"
)

// Channel is the way by which a request came.
type Channel string

// The channels.
const (
	ByPage    Channel = "page"    // its asker filled in the form
	ByProgram Channel = "program" // a rule, such as that of who leaves the company
)

// All lists the channels.
func (Channel) All() []Channel { return []Channel{ByPage, ByProgram} }

// or is the channel, or by the page when nothing is said.
func (c Channel) or() Channel {
	if c == "" {
		return ByPage
	}
	return c
}

// Keys of the choices that are counted by, where a form has them.
const (
	impactQuestion  = "impact"
	urgencyQuestion = "urgency"
)

// classed gives the words of a choice that requests are counted by; empty where the form has
// no such choice, or keeps its answer private.
func (t *transition) classed(question string, kept form.Answers, show plan.Show) string {
	if q, is := t.facts.Offering.Form.Question(question); !is || q.Kind != form.Choice || kept[question].None() {
		return ""
	}
	words, _ := show("answers", question)
	return words
}
