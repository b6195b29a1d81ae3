package offering

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/message"
	"heptad/internal/core/money"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// Company is what an offering is checked against.
type Company struct {
	Directory   *people.Directory // nil: people, teams and services are not checked
	Connectors  []plan.Connector
	DecideAbove money.Amount // what costs more needs a decision; zero for no such rule

	Grants  func(service string) plan.Grants // nil: what a service may use is not checked
	Editors []string                         // IDs of those who have written it: they never decide on what is sensitive
}

// Compiled is an offering that can run. It never changes and is safe for
// concurrent use.
type Compiled struct {
	Document Document
	Version  int
	Audience *audience.Compiled
	Catalog  *price.Catalog
	Form     *form.Form
	Ladder   *ladder.Ladder
	Plan     *plan.Plan
	Promise  *promise.Compiled
	Messages *message.Texts // of its own
	Pools    []string       // keys of the pools it reads or takes from
	Careful  bool           // it does something sensitive in another system
	Barred   []string       // IDs of those who never decide on its requests, as they have written it
	title    *rule.Placeholder
	next     *rule.Placeholder
}

var keyShape = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// Compile examines a document and compiles it. The offering is nil when the
// questions cannot be worked out; else all of it is there. One with errors among
// its findings can be looked at and tried, and must not be published.
func Compile(d Document, version int, company Company) (*Compiled, finding.List) {
	findings := finding.List{}
	checkPurpose(d, company, &findings)
	c := &Compiled{Document: d, Version: version}
	c.Audience = audience.Compile(d.Audience, &findings)
	checkBundles(d.Audience.Bundles, company.Directory, &findings)
	c.Promise = promise.Compile(d.Promise, company.Directory, &findings)
	scope := form.Scope(d.Questions, d.Items.Currency)
	scope.Calendar = c.Promise.Calendar()
	env, err := rule.NewEnv(scope)
	if err != nil {
		findings.Error(finding.Scope, "/questions", "The questions cannot be read together: "+err.Error()+".", "")
		return nil, findings
	}
	outer := env.Within(form.Outer(scope, d.Questions, form.Private))
	open := env.Within(form.Outer(scope, d.Questions, form.Private, form.ForStaff)) // what the asker's side reads
	c.Catalog = price.Compile(d.Items, outer, &findings)
	c.Form = form.Compile(form.Source{Questions: d.Questions, Sections: d.Sections, Currency: d.Items.Currency}, c.Catalog, env, &findings)
	question := func(key string) bool { _, ok := c.Form.Question(key); return ok }
	c.Ladder = ladder.Compile(d.Ladder, ladder.Surroundings{Env: outer, Company: company.Directory, Question: question, Person: c.asksPerson}, &findings)
	c.Plan = plan.Compile(d.Plan, c.surroundings(outer, company), &findings)
	c.Messages = message.Compile(d.Promise.Messages, "/promise/messages", &findings)
	planned := func(key string) bool { _, ok := c.Plan.Task(key); return ok }
	c.Promise.CompileTargets(d.Promise.Targets, outer, planned, &findings)
	d.Promise.Right.Check(planned, &findings)
	if c.title, err = open.CompileText(d.Purpose.Title); err != nil {
		findings.Error(finding.Placeholder, "/purpose/title", "A placeholder cannot be read: "+err.Error()+".", "")
	}
	c.checkUrge(&findings)
	if c.next, err = open.CompileText(d.Promise.Next); err != nil {
		findings.Error(finding.Placeholder, "/promise/next", "A placeholder cannot be read: "+err.Error()+".", "")
	}
	checkPicks(d, &findings)
	checkFits(d, &findings)
	c.checkGrants(company, &findings)
	if company.Directory != nil {
		c.checkPools(company.Directory, &findings)
	}
	if !c.Form.Usable() {
		return nil, findings
	}
	return c, findings
}

// ReadsBelongings reports whether it needs to know what the beneficiary has.
func (c *Compiled) ReadsBelongings() bool {
	return c.Form.Asks(form.Belonging) || slices.ContainsFunc(c.Document.Plan, func(t plan.Task) bool { return t.Each == plan.Belongings })
}

// surroundings are what the plan is checked against.
func (c *Compiled) surroundings(env *rule.Env, company Company) plan.Surroundings {
	return plan.Surroundings{
		Env: env, Company: company.Directory, Connectors: company.Connectors, Person: c.asksPerson,
		Question: func(key string) bool { _, ok := c.Form.Question(key); return ok },
		ForStaff: func(key string) bool { q, ok := c.Form.Question(key); return ok && q.Readers == form.ForStaff },
		Thing:    func(source string) plan.Thing { return thing(c.Document.Questions, source) },
		Fields:   func(source string) rule.Fields { return columns(c.Document.Questions, source) },
	}
}

// thing says what the answers to a question, or belongings, are lists of.
func thing(questions []form.Question, source string) plan.Thing {
	if source == plan.Belongings {
		return plan.Holdings
	}
	for _, q := range questions {
		if q.Key == source && q.Readers != form.Private {
			return map[form.Kind]plan.Thing{form.Items: plan.Picks, form.Table: plan.Rows, form.Choices: plan.Choices}[q.Kind]
		}
	}
	return plan.NoThing
}

// columns are what rules read of a row of a table.
func columns(questions []form.Question, table string) rule.Fields {
	for _, q := range questions {
		if q.Key == table && q.Kind == form.Table {
			return form.Columns(q)
		}
	}
	return nil
}

// Things lists what a task can be made for each of, with some answers.
func (c *Compiled) Things(source string, answers form.Answers, facts form.Facts) []plan.Each {
	var all []plan.Each
	if source == plan.Belongings {
		for i, b := range facts.Belongings {
			all = append(all, plan.Each{Number: i + 1, Key: b.ID, Name: b.Name, Belonging: &b})
		}
		return all
	}
	for i, line := range c.Form.Lines(source, answers[source], facts, c.Promise.Zone()) {
		all = append(all, plan.Each{Number: i + 1, Key: line.Key, Name: line.Name, Quantity: line.Quantity})
	}
	return all
}

// asksPerson reports whether a question, or a column given as table.column, asks
// for a person.
func (c *Compiled) asksPerson(key string) bool {
	table, column, _ := strings.Cut(key, ".")
	q, ok := c.Form.Question(table)
	if q.Readers == form.Private {
		return false // nothing outside of the form reads it
	}
	if !ok || column == "" {
		return ok && q.Kind == form.Person
	}
	for _, in := range q.Columns {
		if in.Key == column {
			return in.Kind == form.Person
		}
	}
	return false
}

// NeverDecide lists the IDs of those who never decide on its requests, as they
// have designed it or own the service now; nobody when nothing in it is sensitive.
func (c *Compiled) NeverDecide(service people.Service) []string {
	if len(c.Barred) == 0 {
		return nil
	}
	return append(append(slices.Clip(c.Barred), service.Owner), service.Editors...)
}

// LadderFacts are what approvers are found from, with answers and their price.
func (c *Compiled) LadderFacts(p Parties, answers form.Answers, cost price.Price, service people.Service, at time.Time) ladder.Facts {
	f := ladder.Facts{Company: p.Company, Asker: p.Asker.ID, Beneficiary: p.Beneficiary.Person, Service: service, At: at, Barred: c.NeverDecide(service)}
	if n := p.Beneficiary.Newcomer; n != nil {
		f.CostCentre = n.CostCentre
	} else if person, ok := p.Company.Person(p.Beneficiary.Person); ok {
		f.CostCentre = p.known(person).CostCentre
	}
	if f.CostCentre == "" {
		f.CostCentre = p.Asker.CostCentre
	}
	for _, share := range cost.Shares {
		if share.Payer == price.OfCostCentre && share.Name != "" && !slices.Contains(f.Centres, share.Name) {
			f.Centres = append(f.Centres, share.Name)
		}
	}
	f.Named = answers.Texts
	return f
}

// Values are what the rules of the offering are run on, before any answer.
func (c *Compiled) Values(p Parties, now time.Time) rule.Values {
	of := func(person people.Person) rule.Record {
		var managers []string
		if known := p.known(person); known.ID != "" {
			managers = p.Company.Managers(person.ID)
		}
		return rule.OfPerson(p.known(person), managers)
	}
	asker := of(p.Asker)
	beneficiary := asker
	if n := p.Beneficiary.Newcomer; n != nil {
		beneficiary = rule.OfPerson(n.Person(), nil)
	} else if p.Beneficiary.Person != p.Asker.ID {
		person, _ := p.Company.Person(p.Beneficiary.Person)
		beneficiary = of(person)
	}
	return rule.Values{
		Roots: map[string]rule.Record{"asker": asker, "beneficiary": beneficiary},
		Now:   now,
		Today: c.Promise.Today(now),
		Pools: p.Pools,
	}
}

// MayAsk reports whether the parties may be as they are, with the reason.
func (c *Compiled) MayAsk(p Parties) (bool, string) {
	asker := audience.Of(p.Asker, p.Company)
	if ok, why := c.Audience.MayAsk(asker); !ok {
		return false, why
	}
	if p.Beneficiary.Newcomer != nil {
		if !c.Audience.Newcomers {
			return false, "It cannot be asked for somebody who is not in the directory yet."
		}
		return true, "It can be asked for newcomers."
	}
	person, ok := p.Company.Person(p.Beneficiary.Person)
	if !ok {
		return false, "Say for whom it is."
	}
	return c.Audience.MayAskFor(asker, audience.Of(person, p.Company))
}

// Show gives the label of an answer for placeholders in texts for people.
func (c *Compiled) Show(answers form.Answers, facts form.Facts) plan.Show {
	return func(root, field string) (string, bool) {
		if root != "answers" || answers[field].None() {
			return "", false
		}
		return c.Form.Show(field, answers[field], facts, c.Promise.Zone()), true
	}
}

// ShowSystems gives the label of an answer for placeholders in what other systems
// are given: dates and instants stay as they are, by ISO 8601.
func (c *Compiled) ShowSystems(answers form.Answers, facts form.Facts) plan.Show {
	people := c.Show(answers, facts)
	return func(root, field string) (string, bool) {
		q, _ := c.Form.Question(field)
		if kind := q.AnswerKind(); root == "answers" && (kind == form.Date || kind == form.DateTime) {
			return "", false
		}
		return people(root, field)
	}
}

// Next is what its asker reads comes next when all work is done; empty when nothing is said.
func (c *Compiled) Next(values rule.Values, show func(root, field string) (string, bool)) (string, error) {
	if strings.TrimSpace(c.Document.Promise.Next) == "" {
		return "", nil
	}
	return c.next.Render(values, show)
}

// Title of a request: the placeholders filled in, or the name of the offering.
func (c *Compiled) Title(values rule.Values, show func(root, field string) (string, bool)) string {
	if strings.TrimSpace(c.Document.Purpose.Title) == "" || c.title == nil {
		return c.Document.Purpose.Name
	}
	title, err := c.title.Render(values, show)
	if err != nil || strings.TrimSpace(title) == "" {
		return c.Document.Purpose.Name
	}
	return strings.TrimSpace(title)
}
