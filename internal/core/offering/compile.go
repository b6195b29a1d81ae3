package offering

import (
	"fmt"
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
	"heptad/internal/core/picture"
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
	Barred   []string       // IDs of those who never decide on its requests, as they have written it
	title    *rule.Placeholder
}

var keyShape = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// Compile examines a document and compiles it. With errors among the findings
// the result must not take requests.
func Compile(d Document, version int, company Company) (*Compiled, finding.List) {
	findings := finding.List{}
	checkPurpose(d, company, &findings)
	c := &Compiled{Document: d, Version: version}
	c.Audience = audience.Compile(d.Audience, &findings)
	c.Promise = promise.Compile(d.Promise, company.Directory, &findings)
	scope := form.Scope(d.Questions, d.Items.Currency)
	scope.Calendar = c.Promise.Calendar()
	env, err := rule.NewEnv(scope)
	if err != nil {
		findings.Error("scope", "/questions", "The questions cannot be read together: "+err.Error()+".", "")
		return c, findings
	}
	outer := env.Within(form.Outer(scope, d.Questions, form.Private))
	told := env.Within(form.Outer(scope, d.Questions, form.Private, form.ForStaff)) // what the asker's side reads
	c.Catalog = price.Compile(d.Items, outer, &findings)
	c.Form = form.Compile(form.Source{Questions: d.Questions, Sections: d.Sections, Currency: d.Items.Currency}, c.Catalog, env, &findings)
	question := func(key string) bool { _, ok := c.Form.Question(key); return ok }
	c.Ladder = ladder.Compile(d.Ladder, ladder.Surroundings{Env: outer, Company: company.Directory, Question: question, Person: c.asksPerson}, &findings)
	c.Plan = plan.Compile(d.Plan, c.surroundings(outer, company), &findings)
	c.Messages = message.Compile(d.Promise.Messages, "/promise/messages", &findings)
	c.Promise.CompileTargets(d.Promise.Targets, outer, func(key string) bool { _, ok := c.Plan.Task(key); return ok }, &findings)
	if c.title, err = told.CompileText(d.Purpose.Title); err != nil {
		findings.Error("placeholder", "/purpose/title", "A placeholder cannot be read: "+err.Error()+".", "")
	}
	checkPicks(d, &findings)
	checkFits(d, &findings)
	c.checkGrants(company, &findings)
	if company.Directory != nil {
		c.checkPools(company.Directory, &findings)
	}
	return c, findings
}

// checkPools finds rules that read pools which are not there.
func (c *Compiled) checkPools(company *people.Directory, findings *finding.List) {
	check := func(place string, pools []string) {
		for _, key := range pools {
			c.Pools = append(c.Pools, key)
			if _, ok := company.Pool(key); !ok && !company.Partial() {
				findings.Error("unknownPool", place, fmt.Sprintf("There is no pool %q.", key), "Choose one of the company's.")
			}
		}
	}
	for _, r := range slices.Concat(c.Form.Rules(), c.Catalog.Rules(), c.Ladder.Rules(), c.Promise.Rules()) {
		check(r.Place, r.Rule.Pools())
	}
	c.Plan.Pools(check)
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

func checkPurpose(d Document, company Company, findings *finding.List) {
	if !keyShape.MatchString(d.Key) || len(d.Key) > 60 {
		findings.Error("badKey", "/key", fmt.Sprintf("%q cannot be the key of an offering.", d.Key), "Use small letters, digits and single hyphens.")
	}
	if strings.TrimSpace(d.Purpose.Name) == "" {
		findings.Error("noName", "/purpose/name", "The offering has no name.", "Name it as people ask for it.")
	}
	checkLines(d, findings)
	if strings.TrimSpace(d.Purpose.Text) == "" {
		findings.Error("noText", "/purpose/text", "Nothing says what the offering is for.", "Say in a sentence what it is for, and what not.")
	}
	if d.Purpose.Door != "" && d.Purpose.Door != Wanted && d.Purpose.Door != Broken {
		findings.Error("door", "/purpose/door", fmt.Sprintf("%q is no door.", d.Purpose.Door), "Choose wanted or broken.")
	}
	if !picture.Good(d.Purpose.Picture) {
		findings.Error("picture", "/purpose/picture", "This is no picture.", "Use a PNG, JPEG or WebP, or an SVG of plain shapes, of less than 60 kB.")
	}
	for i, a := range d.Purpose.Articles {
		if strings.TrimSpace(a.Title) == "" || strings.TrimSpace(a.Text) == "" {
			findings.Error("emptyArticle", finding.At("purpose", "articles", i), "An article has no title or no text.", "Write it, or take it out.")
		}
	}
	for i, key := range d.Purpose.Replaces {
		if key == d.Key {
			findings.Error("replacesItself", finding.At("purpose", "replaces", i), "The offering cannot replace itself.", "A new version replaces the old one anyway.")
		}
	}
	if company.Directory != nil && !company.Directory.Partial() {
		if _, ok := company.Directory.Service(d.Purpose.Service); !ok {
			findings.Error("unknownService", "/purpose/service", fmt.Sprintf("There is no service %q.", d.Purpose.Service), "Choose the service it belongs to.")
		}
	}
}

// checkLines finds names and labels with line breaks or control characters.
func checkLines(d Document, findings *finding.List) {
	check := func(text string, steps ...any) {
		if !form.OneLine(text) {
			findings.Error("oneLine", finding.At(steps...), "This has a line break or a control character in it, where one line is needed.", "Write it on one line.")
		}
	}
	check(d.Purpose.Name, "purpose", "name")
	check(d.Purpose.Title, "purpose", "title")
	for i, a := range d.Purpose.Articles {
		check(a.Title, "purpose", "articles", i, "title")
	}
	for i, s := range d.Sections {
		check(s.Name, "sections", i, "name")
	}
	for i, q := range d.Questions {
		check(q.Label, "questions", i, "label")
		check(q.Short, "questions", i, "short")
		for j, c := range q.Choices {
			check(c.Label, "questions", i, "choices", j, "label")
		}
		for j, c := range q.Columns {
			check(c.Label, "questions", i, "columns", j, "label")
		}
	}
	for i, item := range d.Items.List {
		check(item.Name, "items", "list", i, "name")
	}
	for i, extra := range d.Items.Extras {
		check(extra.Name, "items", "extras", i, "name")
	}
	for i, r := range d.Ladder {
		check(r.Name, "ladder", i, "name")
	}
	for i, t := range d.Plan {
		check(t.Name, "plan", i, "name")
		for j, o := range t.Outputs {
			check(o.Name, "plan", i, "outputs", j, "name")
		}
		if t.Words != nil {
			check(t.Words.Subject, "plan", i, "words", "subject")
		}
	}
	for i, m := range d.Promise.Messages {
		check(m.Subject, "promise", "messages", i, "subject")
	}
	for i, t := range d.Promise.Targets {
		check(t.Name, "promise", "targets", i, "name")
	}
}

// checkFits finds fits that no question can name.
func checkFits(d Document, findings *finding.List) {
	for i, fit := range d.Purpose.Fits {
		at := finding.At("purpose", "fits", i)
		if strings.TrimSpace(fit.Kind) == "" {
			findings.Error("noKind", at+"/kind", "Nothing says what sort of thing it fits.", "Name a kind, such as licence.")
		}
		if !slices.ContainsFunc(d.Questions, func(q form.Question) bool { return q.Key == fit.Question && q.Kind == form.Belonging }) {
			findings.Error("unknownQuestion", at+"/question", fmt.Sprintf("%q is no question for a belonging.", fit.Question), "Choose one.")
		}
		if !slices.Contains([]string{"change", "extend", "handBack"}, fit.Does) {
			findings.Error("fit", at+"/does", fmt.Sprintf("%q is nothing an offering does to a belonging.", fit.Does), "Choose change, extend or handBack.")
		}
	}
}

// checkPicks warns of items that no question offers.
func checkPicks(d Document, findings *finding.List) {
	offered := map[string]bool{}
	for _, q := range d.Questions {
		for _, key := range q.Items {
			offered[key] = true
		}
	}
	for i, item := range d.Items.List {
		if !offered[item.Key] {
			findings.Warning("neverOffered", finding.At("items", "list", i), fmt.Sprintf("No question offers the item %q.", item.Name), "Add it to an item pick on the questions side.")
		}
	}
}

// Beneficiary is for whom a request is: a person of the directory, or somebody
// who is not in it yet.
type Beneficiary struct {
	Person   string           `json:"person,omitempty" doc:"ID; empty for a newcomer"`
	Newcomer *people.Newcomer `json:"newcomer,omitempty"`
	Other    bool             `json:"other,omitempty" doc:"For somebody else, who is not named yet"`
	Via      Via              `json:"via,omitempty" enum:"person,phone,mail,chat" doc:"How they asked, when staff write it down for them; empty when nobody asked"`
}

// Or is for the asker, given by ID, when nobody is named and nobody else is meant.
func (b Beneficiary) Or(asker string) Beneficiary {
	if b.Person == "" && b.Newcomer == nil && !b.Other {
		b.Person = asker
	}
	return b
}

// Via is the way by which somebody asked for what another writes down.
type Via string

// The ways to ask.
const (
	InPerson Via = "person"
	ByPhone  Via = "phone"
	ByMail   Via = "mail"
	ByChat   Via = "chat"
)

// Words of a way, such as "by phone"; empty for none.
func (v Via) Words() string {
	return map[Via]string{InPerson: "in person", ByPhone: "by phone", ByMail: "by mail", ByChat: "in a chat"}[v]
}

// Parties are who asks, and for whom.
type Parties struct {
	Asker       people.Person
	Beneficiary Beneficiary
	Belongings  []people.Belonging // of the beneficiary
	Pools       map[string]int     // free places, by key; nil when unknown
	Company     *people.Directory
	Known       func(people.Person) people.Person // as much of a person as rules may know here; nil for all of it
}

// known is as much of a person as rules may know.
func (p Parties) known(person people.Person) people.Person {
	if p.Known == nil {
		return person
	}
	return p.Known(person)
}

// Self are the parties of somebody who asks for themselves.
func Self(asker people.Person, company *people.Directory) Parties {
	return Parties{Asker: asker, Beneficiary: Beneficiary{Person: asker.ID}, Company: company}
}

// Name of the beneficiary.
func (p Parties) Name() string {
	if n := p.Beneficiary.Newcomer; n != nil {
		return n.Name
	}
	return p.Company.Name(p.Beneficiary.Person)
}

// Facts are what answers are read with.
func (p Parties) Facts() form.Facts {
	return form.Facts{Company: p.Company, Belongings: p.Belongings}
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
	return append(slices.Clip(c.Barred), service.Owner)
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
