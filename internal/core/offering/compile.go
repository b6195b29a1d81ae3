package offering

import (
	"fmt"
	"regexp"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// Company is what an offering is checked against.
type Company struct {
	Directory  *people.Directory
	Connectors []plan.Connector
}

// Compiled is an offering that can run. It never changes and is safe for
// concurrent use.
type Compiled struct {
	Document Document
	Version  int
	Audience *audience.Compiled
	Form     *form.Form
	Ladder   *ladder.Ladder
	Plan     *plan.Plan
	Promise  *promise.Compiled
}

var keyShape = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// Compile examines a document and compiles it. With errors among the findings
// the result must not take requests.
func Compile(d Document, version int, company Company) (*Compiled, finding.List) {
	findings := finding.List{}
	checkPurpose(d, company, &findings)
	c := &Compiled{Document: d, Version: version}
	c.Audience = audience.Compile(d.Audience, &findings)
	catalog := price.Compile(d.Items, &findings)
	env, err := rule.NewEnv(form.Scope(d.Questions, d.Items.Currency))
	if err != nil {
		findings.Error("scope", "/questions", "The questions cannot be read together: "+err.Error()+".", "")
		return c, findings
	}
	c.Form = form.Compile(d.Questions, catalog, env, &findings)
	c.Ladder = ladder.Compile(d.Ladder, env, company.Directory, &findings)
	c.Plan = plan.Compile(d.Plan, plan.Surroundings{
		Env: env, Company: company.Directory, Connectors: company.Connectors,
		Question: func(key string) bool { _, ok := c.Form.Question(key); return ok },
	}, &findings)
	c.Promise = promise.Compile(d.Promise, &findings)
	checkPicks(d, &findings)
	return c, findings
}

func checkPurpose(d Document, company Company, findings *finding.List) {
	if !keyShape.MatchString(d.Key) || len(d.Key) > 60 {
		findings.Error("badKey", "/key", fmt.Sprintf("%q cannot be the key of an offering.", d.Key), "Use small letters, digits and single hyphens.")
	}
	if strings.TrimSpace(d.Purpose.Name) == "" {
		findings.Error("noName", "/purpose/name", "The offering has no name.", "Name it as people ask for it.")
	}
	if strings.TrimSpace(d.Purpose.Text) == "" {
		findings.Error("noText", "/purpose/text", "Nothing says what the offering is for.", "Say in a sentence what it is for, and what not.")
	}
	if _, ok := company.Directory.Service(d.Purpose.Service); !ok {
		findings.Error("unknownService", "/purpose/service", fmt.Sprintf("There is no service %q.", d.Purpose.Service), "Choose the service it belongs to.")
	}
	if len(d.Purpose.Keywords) == 0 {
		findings.Warning("noKeywords", "/purpose/keywords", "People find it by its name and text only.", "Add other words they may type.")
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

// Values are what the rules of the offering are run on for one asker, before
// any answer.
func (c *Compiled) Values(asker people.Person, now time.Time) rule.Values {
	return rule.Values{
		Roots: map[string]rule.Record{"asker": rule.OfPerson(asker)},
		Now:   now,
		Today: c.Promise.Today(now),
	}
}

// Show gives the label of an answer for placeholders in texts for people.
func (c *Compiled) Show(answers form.Answers) func(root, field string) (string, bool) {
	return func(root, field string) (string, bool) {
		if root != "answers" || answers[field] == nil {
			return "", false
		}
		return c.Form.Show(field, answers[field]), true
	}
}
