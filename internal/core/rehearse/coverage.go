package rehearse

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
)

// Point is something of an offering that a case can reach.
type Point struct {
	ID       string `json:"id"`
	Side     string `json:"side" enum:"questions,items,ladder,plan,promise"`
	Place    string `json:"place" doc:"JSON Pointer into the offering"`
	Sentence string `json:"sentence"`
	Reached  bool   `json:"reached"`
	Cannot   bool   `json:"cannot,omitempty" doc:"It is proved that nothing reaches it"`
	Why      string `json:"why,omitempty" doc:"The proof, or what was tried"`

	rule  *rule.Rule // that it hangs on; nil for none
	holds bool       // the rule is to hold
}

// mostShown is how much of a rule stands in a sentence, in letters.
const mostShown = 80

// Points lists all that can be reached of an offering.
func Points(c *offering.Compiled) []Point {
	p := &pointing{c: c}
	d := c.Document
	for i, q := range d.Questions {
		at := finding.At("questions", i)
		if q.Kind == form.Choice || q.Kind == form.Choices {
			for _, o := range q.Choices {
				p.add(Point{ID: "choice/" + q.Key + "/" + o.Key, Side: "questions", Place: at + "/choices", Sentence: strings.TrimRight(q.ForStaff(), "?:") + ": " + o.Label})
			}
		}
	}
	for _, r := range c.Form.Rules() {
		p.formRule(r)
	}
	offered := map[string]bool{}
	for _, q := range d.Questions {
		for _, key := range q.Items {
			offered[key] = true
		}
	}
	for i, item := range d.Items.List {
		point := Point{ID: "item/" + item.Key, Side: "items", Place: finding.At("items", "list", i), Sentence: item.Name + " is picked"}
		if !offered[item.Key] {
			point.Cannot, point.Why = true, "No question offers it."
		}
		p.add(point)
	}
	for i, r := range d.Ladder {
		at := finding.At("ladder", i)
		p.add(Point{ID: "rung/" + r.Key, Side: "ladder", Place: at, Sentence: r.Name + " is asked", rule: p.at(c.Ladder.Rules(), at+"/when"), holds: true})
		p.add(Point{ID: "rung/" + r.Key + "/declined", Side: "ladder", Place: at, Sentence: r.Name + " declines", rule: p.at(c.Ladder.Rules(), at+"/when"), holds: true})
		if r.When != "" {
			p.add(Point{ID: "rung/" + r.Key + "/not", Side: "ladder", Place: at + "/when", Sentence: r.Name + " is not needed", rule: p.at(c.Ladder.Rules(), at+"/when")})
		}
	}
	for i, t := range d.Plan {
		p.task(i, t)
	}
	for i, t := range d.Promise.Targets {
		at := finding.At("promise", "targets", i)
		p.add(Point{ID: "target/" + t.Name, Side: "promise", Place: at, Sentence: fmt.Sprintf("The promise %q counts", t.Name), rule: p.at(c.Promise.Rules(), at+"/when"), holds: true})
	}
	for i, m := range d.Promise.Messages {
		p.add(Point{ID: "text/" + string(m.Kind), Side: "promise", Place: finding.At("promise", "messages", i), Sentence: "The text “" + m.Kind.Words() + "” is read"})
	}
	return p.all
}

type pointing struct {
	c   *offering.Compiled
	all []Point
}

func (p *pointing) add(point Point) { p.all = append(p.all, point) }

// at finds a rule by its place; nil when there is none.
func (p *pointing) at(rules []rule.Placed, place string) *rule.Rule {
	for _, r := range rules {
		if r.Place == place {
			return r.Rule
		}
	}
	return nil
}

// formRule adds a rule of the form both ways. What presets, computes, offers and checks cells
// is seen by its answers; a rule that always holds has one way.
func (p *pointing) formRule(r rule.Placed) {
	end := r.Place[strings.LastIndex(r.Place, "/")+1:]
	if strings.Contains(r.Place, "/columns/") || !slices.Contains([]string{"show", "require", "lock"}, end) || !ofForm(r.Rule) {
		return
	}
	source := strings.TrimSpace(r.Rule.Source)
	if source == "true" || source == "false" {
		return
	}
	q := p.c.Document.Questions[indexIn(r.Place)]
	words := map[string][2]string{"show": {"is shown", "is hidden"}, "require": {"is required", "is not required"}, "lock": {"is locked", "is not locked"}}[end]
	for i, word := range words {
		p.add(Point{ID: fmt.Sprintf("rule%s/%v", r.Place, i == 0), Side: "questions", Place: r.Place, Sentence: fmt.Sprintf("“%s” %s", q.ForStaff(), word), rule: r.Rule, holds: i == 0})
	}
}

// ofForm reports whether a rule can be worked out with the answers of a form.
func ofForm(r *rule.Rule) bool {
	return r.OnlyReads("answers", "asker", "beneficiary", "cost", "now", "today", "pools")
}

func indexIn(place string) int {
	n := 0
	_, _ = fmt.Sscanf(strings.Split(place, "/")[2], "%d", &n) // the place was made from a number
	return n
}

func (p *pointing) task(i int, t plan.Task) {
	at := finding.At("plan", i)
	when := p.at(p.c.Plan.Rules(), at+"/when")
	of := func(kind, sentence string) {
		p.add(Point{ID: "task/" + t.Key + kind, Side: "plan", Place: at, Sentence: t.Name + " " + sentence, rule: when, holds: true})
	}
	if t.OnDemand {
		return // staff start it, or nobody does
	}
	of("", "is done")
	if t.When != "" {
		p.add(Point{ID: "task/" + t.Key + "/skipped", Side: "plan", Place: at + "/when", Sentence: t.Name + " is not needed", rule: when})
	}
	if t.Kind == plan.Automatic {
		of("/stuck", "is stuck")
	}
	if t.Undo != nil {
		of("/undone", "is taken back")
	}
	for j, r := range t.Routes {
		p.add(Point{ID: fmt.Sprintf("route/%s/%d", t.Key, j), Side: "plan", Place: at + finding.At("routes", j), Sentence: fmt.Sprintf("%s goes to %s by a route", t.Name, r.Team), rule: p.at(p.c.Plan.Rules(), at+finding.At("routes", j, "when")), holds: true})
	}
}

// Reaches lists the IDs of the points that a life reaches.
func (l *Life) Reaches() map[string]bool {
	out := map[string]bool{}
	d := l.Offering.Document
	answers := l.State.Answers
	if l.End == Unsent {
		answers = l.Script.Answers
	}
	result := l.Form(answers)
	for _, q := range d.Questions {
		if q.Kind != form.Choice && q.Kind != form.Choices {
			continue
		}
		for _, key := range answers.Texts(q.Key) {
			out["choice/"+q.Key+"/"+key] = true
		}
	}
	for _, r := range l.Offering.Form.Rules() {
		if ofForm(r.Rule) && !strings.Contains(r.Place, "/columns/") {
			if holds, err := r.Rule.Holds(result.Values, false); err == nil {
				out[fmt.Sprintf("rule%s/%v", r.Place, holds)] = true
			}
		}
	}
	if l.End == Unsent {
		return out
	}
	for _, q := range d.Questions {
		if picks, ok := answers[q.Key].Picks(); ok && q.Kind == form.Items {
			for _, pick := range picks {
				out["item/"+pick.Item] = true
			}
		}
	}
	for _, r := range d.Ladder {
		i := slices.IndexFunc(l.State.Rungs, func(o request.Rung) bool { return o.Key == r.Key })
		switch {
		case i < 0:
			out["rung/"+r.Key+"/not"] = true
		case !l.State.Rungs[i].Opened.IsZero():
			out["rung/"+r.Key] = true
		}
	}
	if p := l.State.Promise; p != nil {
		out["target/"+p.Name] = true
	}
	for _, m := range l.Messages {
		out["text/"+string(m.Kind)] = true
	}
	for _, e := range l.Events {
		switch b := e.Body.(type) {
		case request.Voted:
			out["rung/"+b.Rung+"/declined"] = out["rung/"+b.Rung+"/declined"] || b.Decision == request.Decline
		case request.AskedBack:
			out["rung/"+b.Rung+"/declined"] = out["rung/"+b.Rung+"/declined"] || b.Declined
		}
	}
	l.reachesTasks(out)
	return out
}

// reachesTasks adds what became of tasks.
func (l *Life) reachesTasks(out map[string]bool) {
	of := func(key string) string {
		t, _ := l.State.Task(key)
		if t == nil {
			return ""
		}
		return t.Of
	}
	for _, e := range l.Events {
		switch b := e.Body.(type) {
		case request.TaskDone:
			out["task/"+of(b.Task)] = true
		case request.TaskSkipped:
			if b.Reason == "" {
				out["task/"+of(b.Task)+"/skipped"] = true
			}
		case request.TaskStuck:
			out["task/"+of(b.Task)+"/stuck"] = true
		case request.TaskUndone:
			out["task/"+of(b.Task)+"/undone"] = true
		case request.TaskReady:
			t, _ := l.State.Task(b.Task)
			task, there := l.Offering.Plan.Task(of(b.Task))
			if t == nil || !there {
				continue
			}
			if j := routed(task, t.Team); j >= 0 {
				out[fmt.Sprintf("route/%s/%d", task.Key, j)] = true
			}
		}
	}
}

// Cover tells which points some lives reach, and of the others which cannot be reached, with
// the proof.
func Cover(c *offering.Compiled, lives []*Life) []Point {
	return cover(c, reachedBy(lives))
}

// reachedBy lists the IDs of the points that some lives reach.
func reachedBy(lives []*Life) map[string]bool {
	reached := map[string]bool{}
	for _, l := range lives {
		add(reached, l.Reaches())
	}
	return reached
}

// add adds the points that are reached to others.
func add(to, more map[string]bool) {
	for id, is := range more {
		to[id] = to[id] || is
	}
}

func cover(c *offering.Compiled, reached map[string]bool) []Point {
	points := Points(c)
	reach := c.Form.Reach()
	for i := range points {
		p := &points[i]
		p.Reached = reached[p.ID]
		if !p.Reached && !p.Cannot {
			prove(c, reach, p)
		}
	}
	return points
}

// prove tries to prove that nothing reaches a point.
func prove(c *offering.Compiled, reach *form.Reach, p *Point) {
	if rest, is := strings.CutPrefix(p.ID, "choice/"); is {
		key, choice, _ := strings.Cut(rest, "/")
		if came := reach.Chosen(key, choice); came.Known && !came.Holds {
			p.Cannot, p.Why = true, "Nothing offers it: "+came.Proof+"."
		}
		return
	}
	if rest, is := strings.CutPrefix(p.ID, "item/"); is {
		for _, r := range c.Catalog.Rules() {
			at, _, found := strings.Cut(r.Place, "/when")
			if found && at == p.Place && rest != "" {
				if came := reach.Comes(r.Rule, true, form.Filling); came.Known && !came.Holds {
					p.Cannot, p.Why = true, "It can never be picked: "+came.Proof+"."
				}
			}
		}
		return
	}
	if p.rule == nil {
		return
	}
	when := form.Sent
	if strings.HasPrefix(p.ID, "rule/") {
		when = form.Filling
	}
	came := reach.Comes(p.rule, strings.HasPrefix(p.ID, "rung/"), when)
	source := p.rule.Source
	if len(source) > mostShown {
		source = source[:mostShown] + "…"
	}
	switch {
	case !came.Known:
	case p.holds && !came.Holds:
		p.Cannot, p.Why = true, fmt.Sprintf("No answers make %q hold: %s.", source, came.Proof)
	case !p.holds && !came.Fails:
		p.Cannot, p.Why = true, fmt.Sprintf("%q always holds: %s.", source, came.Proof)
	}
}
