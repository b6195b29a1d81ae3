package offering

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/picture"
)

func checkPurpose(d Document, company Company, findings *finding.List) {
	if !keyShape.MatchString(d.Key) || len(d.Key) > 60 {
		findings.Error(finding.BadKey, "/key", fmt.Sprintf("%q cannot be the key of an offering.", d.Key), "Use small letters, digits and single hyphens.")
	}
	if strings.TrimSpace(d.Purpose.Name) == "" {
		findings.Error(finding.NoName, "/purpose/name", "The offering has no name.", "Name it as people ask for it.")
	}
	checkLines(d, findings)
	if strings.TrimSpace(d.Purpose.Text) == "" {
		findings.Error(finding.NoText, "/purpose/text", "Nothing says what the offering is for.", "Say in a sentence what it is for, and what not.")
	}
	if d.Purpose.Door != "" && d.Purpose.Door != Wanted && d.Purpose.Door != Broken {
		findings.Error(finding.Door, "/purpose/door", fmt.Sprintf("%q is no door.", d.Purpose.Door), "Choose wanted or broken.")
	}
	if !picture.Good(d.Purpose.Picture) {
		findings.Error(finding.Picture, "/purpose/picture", "This is no picture.", "Use a PNG, JPEG or WebP, or an SVG of plain shapes, of less than 60 kB.")
	}
	for i, a := range d.Purpose.Articles {
		if strings.TrimSpace(a.Title) == "" || strings.TrimSpace(a.Text) == "" {
			findings.Error(finding.EmptyArticle, finding.At("purpose", "articles", i), "An article has no title or no text.", "Write it, or take it out.")
		}
	}
	for i, key := range d.Purpose.Replaces {
		if key == d.Key {
			findings.Error(finding.ReplacesItself, finding.At("purpose", "replaces", i), "The offering cannot replace itself.", "A new version replaces the old one anyway.")
		}
	}
	if company.Directory != nil && !company.Directory.Partial() {
		if _, ok := company.Directory.Service(d.Purpose.Service); !ok {
			findings.Error(finding.UnknownService, "/purpose/service", fmt.Sprintf("There is no service %q.", d.Purpose.Service), "Choose the service it belongs to.")
		}
	}
}

// checkLines finds names and labels with line breaks or control characters.
func checkLines(d Document, findings *finding.List) {
	check := func(text string, steps ...any) {
		if !form.OneLine(text) {
			findings.Error(finding.OneLine, finding.At(steps...), "This has a line break or a control character in it, where one line is needed.", "Write it on one line.")
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
			findings.Error(finding.NoKind, at+"/kind", "Nothing says what sort of thing it fits.", "Name a kind, such as licence.")
		}
		if !slices.ContainsFunc(d.Questions, func(q form.Question) bool { return q.Key == fit.Question && q.Kind == form.Belonging }) {
			findings.Error(finding.UnknownQuestion, at+"/question", fmt.Sprintf("%q is no question for a belonging.", fit.Question), "Choose one.")
		}
		if !slices.Contains([]string{"change", "extend", "handBack"}, fit.Does) {
			findings.Error(finding.Fit, at+"/does", fmt.Sprintf("%q is nothing an offering does to a belonging.", fit.Does), "Choose change, extend or handBack.")
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
			findings.Warning(finding.NeverOffered, finding.At("items", "list", i), fmt.Sprintf("No question offers the item %q.", item.Name), "Add it to an item pick on the questions side.")
		}
	}
}

// checkPools finds rules that read pools which are not there.
func (c *Compiled) checkPools(company *people.Directory, findings *finding.List) {
	check := func(place string, pools []string) {
		for _, key := range pools {
			c.Pools = append(c.Pools, key)
			if _, ok := company.Pool(key); !ok && !company.Partial() {
				findings.Error(finding.UnknownPool, place, fmt.Sprintf("There is no pool %q.", key), "Choose one of the company's.")
			}
		}
	}
	for _, r := range slices.Concat(c.Form.Rules(), c.Catalog.Rules(), c.Ladder.Rules(), c.Promise.Rules()) {
		check(r.Place, r.Rule.Pools())
	}
	c.Plan.Pools(check)
}

// checkBundles looks whether the bundles that an audience names are there.
func checkBundles(parts []audience.Part, d *people.Directory, findings *finding.List) {
	if d == nil || d.Partial() {
		return
	}
	for i, part := range parts {
		b, ok := d.Bundle(part.Key)
		switch at := finding.At("audience", "bundles", i); {
		case ok && strings.TrimSpace(b.Rule) == "":
			findings.Warning(finding.EmptyBundle, at, fmt.Sprintf("Nobody is in the bundle %q yet.", b.Name), "Have an administrator say who is.")
		case !part.Known(d) && part.Key != "":
			findings.Error(finding.UnknownBundle, at, fmt.Sprintf("There is no bundle %q.", part.Key), "Choose another.")
		}
	}
}

// checkUrge looks whether there is the question that more urgency is asked for by.
func (c *Compiled) checkUrge(findings *finding.List) {
	u := c.Document.Promise.Urge
	if u == nil {
		return
	}
	q, ok := c.Form.Question(u.Question)
	if !ok || q.Kind != form.Choice {
		findings.Error(finding.UnknownQuestion, "/promise/urge/question", fmt.Sprintf("There is no choice %q in the form.", u.Question), "Choose the question that speed hangs on.")
		return
	}
	for i, key := range u.Choices {
		if !slices.ContainsFunc(q.Choices, func(choice form.Option) bool { return choice.Key == key }) {
			findings.Error(finding.UnknownQuestion, finding.At("promise", "urge", "choices", i), fmt.Sprintf("%q is no choice of it.", key), "")
		}
	}
}
