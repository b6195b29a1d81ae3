// Package audience says who may ask for an offering (rules.md 4): CEL over a
// person.
package audience

import (
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Audience is the audience side of an offering. Without a rule it is everyone.
type Audience struct {
	Ask string `json:"ask,omitempty" maxLength:"4000" doc:"CEL over asker; who sees it and may ask"`
}

// Compiled is an audience that can be asked.
type Compiled struct {
	source string
	ask    *rule.Rule
}

// Compile checks the rules.
func Compile(a Audience, findings *finding.List) *Compiled {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"asker": rule.PersonFields}})
	if err != nil {
		panic(err) // a constant scope
	}
	return &Compiled{source: a.Ask, ask: env.Condition(a.Ask, "/audience/ask", findings)}
}

// MayAsk tells whether a person may ask, with the reason in words. A rule that
// hangs on something unknown of the person, or fails, lets them out.
func (c *Compiled) MayAsk(p people.Person) (bool, string) {
	if p.Away {
		return false, p.Name + " has left."
	}
	if c.ask == nil {
		return true, "Everyone may ask."
	}
	ok, err := c.ask.Holds(rule.Values{Roots: map[string]rule.Record{"asker": rule.OfPerson(p)}}, false)
	if ok && err == nil {
		return true, p.Name + " fits the rule " + c.source + "."
	}
	return false, p.Name + " does not fit the rule " + c.source + "."
}
