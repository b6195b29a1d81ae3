package plan

import (
	"fmt"
	"maps"
	"slices"

	"heptad/internal/core/finding"
	"heptad/internal/core/rule"
)

// readsAhead warns of what is read of tasks that need not have ended by then.
func (c *compiling) readsAhead() {
	for i := range c.plan.tasks {
		t := &c.plan.tasks[i]
		before := map[int]bool{}
		var collect func(int)
		collect = func(j int) {
			for _, k := range c.plan.forerunners(j) {
				if !before[k] {
					before[k] = true
					collect(k)
				}
			}
		}
		collect(i)
		check := func(name, place string, own bool) {
			for j := range c.plan.tasks {
				if ident(c.plan.tasks[j].Key) == name && !before[j] && (j != i || !own) {
					c.findings.Warning(finding.NotYetKnown, finding.At("plan", i)+place, fmt.Sprintf("%q reads what comes out of %q, which need not be done by then.", t.Name, c.plan.tasks[j].Name), "Let it begin after that task.")
				}
			}
		}
		for _, r := range t.placed() {
			for _, name := range r.reads("outputs") {
				check(name, r.place, r.own)
			}
		}
	}
}

// placedText is a rule or text of a task with its place in it.
type placedText struct {
	place string
	own   bool // it is read once the task is done
	reads func(root string) []string
	pools func() []string
}

// placed lists all rules and texts of a task.
func (t *compiled) placed() []placedText {
	var all []placedText
	rules := func(place string, r *rule.Rule, own bool) {
		if r != nil {
			all = append(all, placedText{place, own, r.Reads, r.Pools})
		}
	}
	text := func(place string, p *rule.Placeholder, own bool) {
		if p != nil {
			all = append(all, placedText{place, own, p.Reads, p.Pools})
		}
	}
	rules("/when", t.when, false)
	rules("/wait/of", t.waitOf, false)
	rules("/wait/holds", t.holds, false)
	rules("/due/of", t.dueOf, false)
	rules("/belonging/until", t.heldUntil, true)
	for j, r := range t.routes {
		rules(finding.At("routes", j, "when"), r, false)
	}
	text("/instructions", t.instructions, false)
	text("/words/subject", t.subject, false)
	text("/words/text", t.words, false)
	text("/undo/text", t.undoText, true)
	text("/belonging/which", t.which, true)
	text("/belonging/name", t.named, true)
	text("/belonging/detail", t.detail, true)
	for _, key := range slices.Sorted(maps.Keys(t.inputs)) {
		text("/action/inputs/"+key, t.inputs[key], false)
	}
	for _, key := range slices.Sorted(maps.Keys(t.undoInputs)) {
		text("/undo/action/inputs/"+key, t.undoInputs[key], true)
	}
	return all
}

// Pools visits every rule and text that reads pools, and what tasks take from
// or add to, with its place.
func (p *Plan) Pools(visit func(place string, pools []string)) {
	for i := range p.tasks {
		if use := p.tasks[i].Pool; use != nil {
			visit(finding.At("plan", i, "pool"), []string{use.Pool})
		}
		for _, r := range p.tasks[i].placed() {
			if pools := r.pools(); len(pools) > 0 {
				visit(finding.At("plan", i)+r.place, pools)
			}
		}
	}
}

// Rules lists the conditions of the tasks with their places.
func (p *Plan) Rules() []rule.Placed {
	var all []rule.Placed
	for i := range p.tasks {
		t := &p.tasks[i]
		if t.when != nil {
			all = append(all, rule.Placed{Place: finding.At("plan", i, "when"), Rule: t.when})
		}
		for j, r := range t.routes {
			if r != nil {
				all = append(all, rule.Placed{Place: finding.At("plan", i, "routes", j, "when"), Rule: r})
			}
		}
	}
	return all
}
