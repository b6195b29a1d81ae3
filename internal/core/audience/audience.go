// Package audience says who sees an offering, who may ask for it, and for
// whom (rules.md 4): CEL over a person.
package audience

import (
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Audience is the audience side of an offering. Without any rule everyone sees
// it and may ask, each for themselves.
type Audience struct {
	Everyone  *bool  `json:"everyone,omitempty" doc:"Everyone may ask, and somebody has said so; false: nobody has said yet who may. Left out in older documents, which are for everyone where they name no bundle and no rule"`
	Bundles   []Part `json:"bundles,omitempty" maxItems:"20" nullable:"false" doc:"Who may ask is in one of these"`
	See       string `json:"see,omitempty" maxLength:"4000" doc:"CEL over asker; who finds it. Those who may ask when left out"`
	Ask       string `json:"ask,omitempty" maxLength:"4000" doc:"CEL over asker; who may ask, of those in the bundles. All of them when left out"`
	For       string `json:"for,omitempty" maxLength:"4000" doc:"CEL over asker and beneficiary; for whom else one may ask. Nobody when left out"`
	Newcomers bool   `json:"newcomers,omitempty" doc:"It can be asked for somebody not yet in the directory"`
	NotSelf   bool   `json:"notSelf,omitempty" doc:"It cannot be asked for oneself"`
	Shared    bool   `json:"told,omitempty" doc:"The person it is for sees the request, too"`
	Quiet     bool   `json:"quiet,omitempty" doc:"What is asked for is nobody else's business: it is counted, and stands in no list of records that are measured"`
	Inner     bool   `json:"inner,omitempty" doc:"Only steps of other offerings use it; nobody finds it"`
}

// Unsaid reports whether it is still to be said who may ask.
func (a Audience) Unsaid() bool {
	return a.Everyone != nil && !*a.Everyone && len(a.Bundles) == 0 && strings.TrimSpace(a.Ask) == ""
}

// Compiled is an audience that can be asked. The bundles it names are those of the
// company at the moment of asking: it is never older than they are.
type Compiled struct {
	Audience
	see, ask, whom audienceRule
}

// audienceRule is a rule with its words, made once for many people.
type audienceRule struct {
	rule   *rule.Rule // nil for none, and for one that cannot be read
	source string
	words  string
}

// Person is somebody with what rules read of them, made once for many
// questions.
type Person struct {
	people.Person
	record rule.Record
	of     *people.Directory
}

// Of reads a person of the directory.
func Of(p people.Person, d *people.Directory) Person {
	return Person{p, rule.OfPerson(p, d.Managers(p.ID)), d}
}

// envs are the same for every offering.
var askerEnv, bothEnv = env("asker"), env("asker", "beneficiary")

func env(roots ...string) *rule.Env {
	scope := rule.Scope{Roots: map[string]rule.Fields{}}
	for _, root := range roots {
		scope.Roots[root] = rule.PersonFields
	}
	e, err := rule.NewEnv(scope)
	if err != nil {
		panic(err) // a constant scope
	}
	return e
}

// Compile checks the rules.
func Compile(a Audience, findings *finding.List) *Compiled {
	if a.NotSelf && a.For == "" && !a.Newcomers {
		findings.Error(finding.ForNobody, "/audience/for", "It can be asked for nobody: not for oneself, and for no one else.", "Say for whom one may ask.")
	}
	if a.Unsaid() {
		findings.Error(finding.AudienceUnsaid, "/audience/ask", "Nobody has said yet who may ask.", "Choose a bundle, give a rule, or say that everyone may.")
	}
	if a.Everyone != nil && *a.Everyone && (len(a.Bundles) > 0 || strings.TrimSpace(a.Ask) != "") {
		findings.Error(finding.AudienceTwice, "/audience/ask", "Everyone may ask, and yet it names who.", "Choose one of the two.")
	}
	for i, b := range a.Bundles {
		compileBundle(b, finding.At("audience", "bundles", i), findings)
	}
	compile := func(env *rule.Env, source, place string) audienceRule {
		return audienceRule{env.Condition(source, place, findings), source, Words(source)}
	}
	return &Compiled{
		Audience: a,
		see:      compile(askerEnv, a.See, "/audience/see"),
		ask:      compile(askerEnv, a.Ask, "/audience/ask"),
		whom:     compile(bothEnv, a.For, "/audience/for"),
	}
}

// Sees reports whether a person finds the offering, with the reason in words. A
// rule that hangs on something unknown of the person, or fails, lets them out.
func (c *Compiled) Sees(p Person) (bool, string) {
	if c.Inner {
		return false, "Only steps of other offerings use it."
	}
	if c.See == "" {
		return c.MayAsk(p)
	}
	return fits(p, c.see, rule.Values{Roots: map[string]rule.Record{"asker": p.record}}, "Everyone sees it.")
}

// MayAsk reports whether a person may ask, with the reason in words.
func (c *Compiled) MayAsk(p Person) (bool, string) {
	if c.Unsaid() {
		return false, "Nobody has said yet who may ask."
	}
	if len(c.Bundles) > 0 {
		in, why := p.inAny(c.Bundles)
		if !in || c.ask.blank() {
			return in, why
		}
		if fits, whyNot := c.fits(p); !fits {
			return false, whyNot
		}
		return true, why
	}
	return c.fits(p)
}

// fits reports whether the rule alone lets a person ask.
func (c *Compiled) fits(p Person) (bool, string) {
	return fits(p, c.ask, rule.Values{Roots: map[string]rule.Record{"asker": p.record}}, "Everyone may ask.")
}

// MayAskFor reports whether a person may ask for another, with the reason.
func (c *Compiled) MayAskFor(asker, beneficiary Person) (bool, string) {
	switch {
	case asker.ID == beneficiary.ID && c.NotSelf:
		return false, "Say for whom it is; it cannot be asked for oneself."
	case asker.ID == beneficiary.ID:
		return true, "Everyone asks for themselves."
	case c.For == "":
		return false, "It can only be asked for oneself."
	}
	values := rule.Values{Roots: map[string]rule.Record{"asker": asker.record, "beneficiary": beneficiary.record}}
	return fits(beneficiary, c.whom, values, "")
}

func (r audienceRule) blank() bool { return strings.TrimSpace(r.source) == "" }

func fits(p Person, r audienceRule, values rule.Values, without string) (bool, string) {
	if p.Former {
		return false, p.Name + " has left."
	}
	if r.rule == nil {
		return r.blank(), without // a rule that cannot be read lets nobody in
	}
	ok, err := r.rule.Holds(values, false)
	if ok && err == nil {
		return true, p.Name + " fits: " + r.words + "."
	}
	return false, p.Name + " does not fit: " + r.words + "."
}

// Words gives a rule as a sentence, when it reads as one.
func Words(source string) string {
	s, ok := rule.ParseSentence(source)
	if !ok {
		return strings.TrimSpace(source)
	}
	return s.Words(func(path, value string) (string, string) {
		root, field, _ := strings.Cut(path, ".")
		if field == "costCentre" {
			field = "cost centre"
		}
		if root == "beneficiary" {
			return "the beneficiary's " + field, value
		}
		return field, value
	})
}
