package offering

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/money"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// Examine compiles a document and looks at it as a whole: what can never
// happen, what may be missing, and whom it reaches. It takes longer than
// Compile.
func Examine(d Document, version int, company Company) (*Compiled, finding.List) {
	c, findings := Compile(d, version, company)
	if c == nil {
		return nil, findings
	}
	reach := c.Form.Reach()
	c.Form.Examine(reach, &findings)
	c.neverHappens(reach, &findings)
	c.mayBeAbsent(&findings)
	c.freeText(&findings)
	c.noDecision(company.DecideAbove, &findings)
	c.promises(&findings)
	c.reachesPeople(company.Directory, &findings)
	return c, findings
}

// neverHappens finds items, options, extras, surcharges, rungs and tasks whose
// rule can never hold.
func (c *Compiled) neverHappens(reach *form.Reach, findings *finding.List) {
	for _, r := range c.Catalog.Rules() {
		if reach.Never(r.Rule, !strings.Contains(r.Place, "/surcharges/"), form.Filling) {
			findings.Warning(finding.NeverAvailable, r.Place, "This can never be picked: no answers make its rule hold.", "Mend the rule, or take it out.")
		}
	}
	for _, r := range c.Ladder.Rules() {
		if reach.Never(r.Rule, true, form.Sent) {
			findings.Warning(finding.Unreachable, r.Place, fmt.Sprintf("The rung %q is never needed: no answers make its rule hold.", c.Document.Ladder[index(r.Place)].Name), "Mend the rule, or take the rung out.")
		}
	}
	for _, r := range c.Plan.Rules() {
		if reach.Never(r.Rule, false, form.Sent) {
			findings.Warning(finding.Unreachable, r.Place, fmt.Sprintf("The task %q is never done: no answers make its rule hold.", c.Document.Plan[index(r.Place)].Name), "Mend the rule, or take the task out.")
		}
	}
	for _, r := range c.Promise.Rules() {
		if reach.Never(r.Rule, false, form.Sent) {
			target := c.Document.Promise.Targets[number(strings.Split(r.Place, "/")[3])]
			findings.Warning(finding.Unreachable, r.Place, fmt.Sprintf("The promise %q never holds: no answers make its rule hold.", target.Name), "Mend the rule, or take the promise out.")
		}
	}
}

// index reads the number after the first name of a place: 3 of /plan/3/when.
func index(place string) int { return number(strings.Split(place, "/")[2]) }

func number(step string) int {
	n := 0
	_, _ = fmt.Sscanf(step, "%d", &n) // the place was made from a number
	return n
}

// what happens when a rule hangs on an absent answer, by the end of its place.
var whenAbsent = map[string]string{
	"show": "the question is hidden then", "require": "the question is not required then", "lock": "the question is not locked then",
	"preset": "nothing is filled in then", "offer": "all choices are offered then", "compute": "nothing is computed then", "rule": "the check does not apply then",
}

// mayBeAbsent gives hints on rules that hang on answers that may be absent.
func (c *Compiled) mayBeAbsent(findings *finding.List) {
	hint := func(placed rule.Placed, happens string) {
		for _, key := range placed.Rule.Uses("answers") {
			q, ok := c.Form.Question(key)
			if ok && !c.Form.Always(key) && !c.own(placed.Place, key) && !strings.Contains(placed.Rule.Source, "has(answers."+key+")") {
				findings.Hint(finding.MayBeAbsent, placed.Place, fmt.Sprintf("This rule reads %q, which may have no answer: %s.", q.Label, happens), "Require the question, or ask has(answers."+key+") first.")
				return
			}
		}
	}
	for _, r := range c.Form.Rules() {
		if happens := whenAbsent[r.Place[strings.LastIndex(r.Place, "/")+1:]]; happens != "" && !strings.HasSuffix(r.Place, "/show") {
			hint(r, happens)
		}
	}
	for _, r := range c.Ladder.Rules() {
		hint(r, "the decision is needed then")
	}
	for _, r := range c.Plan.Rules() {
		hint(r, "the task is skipped then")
	}
	for _, r := range c.Promise.Rules() {
		hint(r, "this promise does not hold then")
	}
}

// own reports whether a place lies in the question with a key.
func (c *Compiled) own(place, key string) bool {
	return strings.HasPrefix(place, "/questions/") && c.Document.Questions[index(place)].Key == key
}

// freeText warns of free text that steers work.
func (c *Compiled) freeText(findings *finding.List) {
	steering := slices.Concat(c.Form.Rules(), c.Catalog.Rules(), c.Ladder.Rules(), c.Plan.Rules(), c.Promise.Rules())
	for i, q := range c.Document.Questions {
		if q.Kind != form.Text && q.Kind != form.LongText {
			continue
		}
		for _, r := range steering {
			shapes := strings.HasSuffix(r.Place, "/preset") || strings.HasSuffix(r.Place, "/compute") || strings.Contains(r.Place, "/check/")
			if !shapes && !c.own(r.Place, q.Key) && slices.Contains(r.Rule.Uses("answers"), q.Key) {
				findings.Warning(finding.FreeTextSteers, finding.At("questions", i, "kind"), fmt.Sprintf("%q steers the work, but is free text: no two people write the same.", q.Label), "Make it a choice from a list.")
				break
			}
		}
	}
}

// noDecision warns of something dear that nobody decides on.
func (c *Compiled) noDecision(above money.Amount, findings *finding.List) {
	if above.IsZero() || len(c.Document.Ladder) > 0 || above.Currency() != c.Document.Items.Currency {
		return
	}
	for i, item := range c.Document.Items.List {
		pick := price.Pick{Item: item.Key, Quantity: max(item.Min, 1)}
		cost, err := c.Catalog.Of([]price.Pick{pick}, rule.Values{Roots: map[string]rule.Record{}})
		if err == nil && cost.FirstYear.Minor() > above.Minor() {
			findings.Warning(finding.NoDecision, finding.At("items", "list", i, "price"), fmt.Sprintf("%s costs %s in the first year, and nobody decides on it.", item.Name, cost.FirstYear), "Add a rung: the company wants a decision above "+above.String()+".")
			return
		}
	}
}

// someMonday is where working time of decisions and promises is compared, at an
// opening.
var someMonday = time.Date(2027, 3, 8, 0, 0, 0, 0, time.UTC)

// promises finds that nothing is promised, and promises that the decisions alone
// would take up.
func (c *Compiled) promises(findings *finding.List) {
	targets := c.Document.Promise.Targets
	if len(targets) == 0 && !c.Document.Audience.Inner {
		findings.Warning(finding.PromisesNothing, "/promise/targets", "No time is promised: nobody knows when it will be done, and nothing is ever late.", "Add a promise.")
		return
	}
	if c.Document.Promise.Starts == promise.OnDecision {
		return
	}
	work := c.Promise.Calendar()
	from, err := work.NextOpen(someMonday)
	if err != nil {
		return
	}
	decided := from
	for _, r := range c.Document.Ladder {
		if limit, err := calendar.ParseLength(r.Limit); err == nil && r.When == "" && r.Limit != "" {
			decided = work.After(decided, limit)
		}
	}
	for i, t := range targets {
		length, err := calendar.ParseLength(t.Fulfilment)
		if err != nil || t.Fulfilment == "" || t.From != "" || t.Calendar != "" {
			continue
		}
		if decided.After(work.After(from, length)) {
			findings.Warning(finding.DecisionsTooLong, finding.At("promise", "targets", i, "fulfilment"), fmt.Sprintf("The decisions alone may take longer than %q promises.", t.Name), "Promise more time, let the clock start with the decision, or give the rungs shorter limits.")
		}
	}
}

// reachesPeople looks at whom the offering is for, and how they find it.
func (c *Compiled) reachesPeople(d *people.Directory, findings *finding.List) {
	if len(c.Document.Purpose.Keywords) == 0 && !c.Document.Audience.Inner {
		findings.Warning(finding.NoKeywords, "/purpose/keywords", "People find it by its name and text only.", "Add other words they may type.")
	}
	if d == nil {
		return
	}
	s, ok := d.Service(c.Document.Purpose.Service)
	a, _ := d.Area(s.Area)
	switch {
	case !ok || c.Document.Audience.Inner:
	case s.Place != "" && s.Place != people.Offered:
		findings.Warning(finding.ServiceNotOffered, "/purpose/service", fmt.Sprintf("Nothing leads a person to it: the service %q is %s.", s.Name, s.Place), "Offer the service, or choose another.")
	case a.Place != "" && a.Place != people.Offered:
		findings.Warning(finding.ServiceNotOffered, "/purpose/service", fmt.Sprintf("Nothing leads a person to it: the area %q is %s.", a.Name, a.Place), "Have the area offered, or choose another service.")
	}
	if findings.HasErrors() || d.Partial() && slices.ContainsFunc(c.Document.Audience.Bundles, func(part audience.Part) bool { return !part.Known(d) }) {
		return
	}
	switch {
	case !audience.Anybody(d, c.Audience.MayAsk):
		findings.Error(finding.NobodyAsks, "/audience/ask", "Nobody of the company may ask for it.", "Mend the rule.")
	case !c.Document.Audience.Inner && !audience.Anybody(d, c.Audience.Sees):
		findings.Error(finding.NobodySees, "/audience/see", "Nobody of the company finds it.", "Mend the rule.")
	}
}

// Breaks finds the changes from one version to the next that would lose
// answers which people hold in drafts.
func Breaks(old, next *Compiled, drafts []form.Answers) finding.List {
	findings := finding.List{}
	for _, q := range old.Document.Questions {
		answered, gone := 0, 0
		at := "/questions"
		now, ok := next.Form.Question(q.Key)
		for _, answers := range drafts {
			if answers[q.Key].None() {
				continue
			}
			answered++
			if ok && now.Kind == q.Kind && !offeredStill(now, answers[q.Key]) {
				gone++
			}
		}
		switch i := slices.IndexFunc(next.Document.Questions, func(n form.Question) bool { return n.Key == q.Key }); {
		case answered == 0:
			continue
		case i < 0:
			findings.Warning(finding.BreaksDrafts, at, fmt.Sprintf("%q is taken out, but %s an answer to it.", q.Label, draftsHold(answered)), "Those answers will be lost.")
		case now.Kind != q.Kind:
			findings.Warning(finding.BreaksDrafts, finding.At("questions", i, "kind"), fmt.Sprintf("%q is now of another kind, but %s an answer to it.", q.Label, draftsHold(answered)), "Those answers will have to be given again.")
		case gone > 0:
			findings.Warning(finding.BreaksDrafts, finding.At("questions", i, "choices"), fmt.Sprintf("A choice of %q is taken out that %s.", q.Label, draftsHold(gone)), "It will have to be chosen again.")
		}
	}
	return findings
}

func draftsHold(n int) string {
	if n == 1 {
		return "one draft holds"
	}
	return fmt.Sprintf("%d drafts hold", n)
}

// offeredStill reports whether what was chosen can still be chosen.
func offeredStill(q form.Question, answer form.Answer) bool {
	offered := map[string]bool{}
	for _, o := range q.Choices {
		offered[o.Key] = true
	}
	if !q.Kind.HasOptions() {
		return true
	}
	chosen := form.Answers{q.Key: answer}.Texts(q.Key)
	return !slices.ContainsFunc(chosen, func(key string) bool { return !offered[key] })
}
