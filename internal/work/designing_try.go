package work

import (
	"context"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// Trial is how a draft is tried: as whom, for whom, on which day, with which
// answers.
type Trial struct {
	As      string // ID of a person; empty: somebody who may ask for it
	For     offering.Beneficiary
	At      time.Time // zero: now
	Answers form.Answers
}

// Tried is what a draft would be like.
type Tried struct {
	Form
	As    people.Person
	At    time.Time
	Title string
	Tasks []TriedTask
	Rungs []TriedRung

	Findings finding.List // of what is tried, beside those of the offering
}

// TriedTask is a task as its team would see it.
type TriedTask struct {
	plan.Task
	Wanted       bool
	Instructions string
}

// TriedRung is a rung as its approvers would see it.
type TriedRung struct {
	Name  string
	Say   string
	Facts []string
}

// Try works out a draft as it would be for a person, without keeping anything.
func (w *Designing) Try(ctx context.Context, person, key string, t Trial) (Tried, error) {
	opened, err := w.latest(ctx, w.Store, person, key)
	if err != nil {
		return Tried{}, err
	}
	c, findings := offering.Compile(opened.Document, opened.Number, w.checked(opened.Editors...))
	if c == nil {
		return Tried{}, invalid(refusal.Unusable, "", "The form cannot be shown before its errors are mended.")
	}
	if t.As == "" {
		t.As = w.sample(c, person)
	}
	who, ok := w.Company().Person(t.As)
	if !ok {
		return Tried{}, invalid(refusal.UnknownPerson, "/as", "There is no such person.")
	}
	parties, err := w.parties(ctx, w.Store, c, t.As, t.For)
	if err != nil {
		return Tried{}, err
	}
	parties.Known, parties.Belongings = card, samples(c)
	if t.At.IsZero() {
		t.At = w.Clock()
	}
	out := Tried{As: card(who), At: t.At, Form: Form{Offering: c, Answers: t.Answers, For: parties.Beneficiary, Belongings: parties.Belongings}}
	out.Evaluated = w.evaluate(ctx, c, parties, parties.Facts(), t.Answers, t.At)
	if slices.ContainsFunc(findings, func(f finding.Finding) bool {
		return f.Severity == finding.Error && strings.HasPrefix(f.Place, "/plan")
	}) {
		out.Evaluated.Forecast = request.Forecast{} // what is broken cannot be computed
	}
	out.Findings = out.Evaluated.Forecast.Examine(who.Name)
	out.staff(c, out.Evaluated, c.Show(out.Evaluated.Kept(), parties.Facts()))
	return out, nil
}

// sample is somebody who may ask for an offering, by name the first; the one
// who tries it when there is nobody.
func (w *Designing) sample(c *offering.Compiled, otherwise string) string {
	for _, p := range w.Company().Persons() {
		if p.Former || p.ID == otherwise {
			continue
		}
		if in, _ := c.Audience.MayAsk(w.audiencePerson(p.ID)); in {
			return p.ID
		}
	}
	return otherwise
}

// card is what everybody may know of a colleague.
func card(p people.Person) people.Person {
	return people.Person{ID: p.ID, Login: p.Login, Name: p.Name, Title: p.Title, Email: p.Email, Department: p.Department, Location: p.Location, Language: p.Language}
}

// samples are belongings to try an offering with: one of each kind it speaks of.
// What somebody really has is their own business.
func samples(c *offering.Compiled) []people.Belonging {
	var kinds []string
	add := func(kind string) {
		if kind != "" && !slices.Contains(kinds, kind) {
			kinds = append(kinds, kind)
		}
	}
	for _, fit := range c.Document.Purpose.Fits {
		add(fit.Kind)
	}
	for _, task := range c.Document.Plan {
		if task.Belonging != nil {
			add(task.Belonging.Kind)
		}
	}
	if len(kinds) == 0 {
		add("thing")
	}
	all := make([]people.Belonging, len(kinds))
	for i, kind := range kinds {
		all[i] = people.Belonging{ID: "sample-" + kind, Kind: kind, Name: "Sample " + kind, Detail: "S-1000"}
	}
	return all
}

// staff works out what those who decide and work would see.
func (t *Tried) staff(c *offering.Compiled, e Evaluated, show plan.Show) {
	t.Title = c.Title(e.Values, show)
	for _, task := range c.Plan.Tasks() {
		wanted, err := c.Plan.Wanted(task.Key, e.Values)
		tried := TriedTask{Task: task, Wanted: wanted && err == nil}
		if tried.Instructions, err = c.Plan.Instructions(task.Key, e.Values, show); err != nil {
			tried.Instructions = task.Instructions
		}
		t.Tasks = append(t.Tasks, tried)
	}
	for _, rung := range c.Ladder.Needed(e.Values) {
		say, err := c.Ladder.Say(rung.Key, e.Values, show)
		if err != nil {
			say = rung.Say
		}
		t.Rungs = append(t.Rungs, TriedRung{rung.Name, say, rung.Facts})
	}
}

// Survey tells who of the company is in the audience of an offering of the
// person: who may ask, or who finds it, or for whom a given person may ask.
func (w *Designing) Survey(ctx context.Context, person, key, which, asker string, wanted audience.Wanted) (audience.Surveyed, error) {
	opened, err := w.latest(ctx, w.Store, person, key)
	if err != nil {
		return audience.Surveyed{}, err
	}
	findings := finding.List{}
	compiled := audience.Compile(opened.Document.Audience, &findings)
	if findings.HasErrors() {
		return audience.Surveyed{}, invalid(refusal.Unusable, "/"+which, "%s", findings[0].Sentence)
	}
	switch which {
	case "see":
		return audience.Survey(w.Company(), wanted, compiled.Sees), nil
	case "for":
		by := w.audiencePerson(asker)
		if by.ID == "" {
			return audience.Surveyed{}, invalid(refusal.UnknownPerson, "/asker", "There is no such person.")
		}
		return audience.Survey(w.Company(), wanted, func(p audience.Person) (bool, string) { return compiled.MayAskFor(by, p) }), nil
	}
	return audience.Survey(w.Company(), wanted, compiled.MayAsk), nil
}
