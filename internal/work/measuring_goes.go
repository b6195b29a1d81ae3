package work

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Goes is where the time of an offering goes, in one of its versions, or in one period.
type Goes struct {
	Offering string // key
	Version  int    // 0 for all, as the newest has its steps
	Period   measure.Period
	Requests measure.Value // time used
	Steps    []StepTook
	measure.Path
}

// StepTook is a step with what was measured of it.
type StepTook struct {
	measure.Step
	Name   string
	Kind   string // rung, or the kind of the task
	Team   string // key
	Stuck  measure.Value
	Late   measure.Value // in time
	Handed measure.Value
	Passed measure.Value // of a rung
}

// WhereTimeGoes measures the steps of an offering, as far as a person may see.
func (w *Measuring) WhereTimeGoes(ctx context.Context, person, key string, version int, period string) (Goes, error) {
	sight := w.Sight(person)
	number, err := w.Store.NewestNumber(ctx, key)
	if err != nil {
		return Goes{}, err
	}
	if version > 0 {
		number = version
	}
	c, err := w.numbered(ctx, w.Store, key, number)
	if err != nil {
		return Goes{}, ErrNotFound
	}
	if !sight.All && !sight.Services[c.Document.Purpose.Service] {
		return Goes{}, ErrNotFound
	}
	p, err := measure.ParsePeriod(period, w.day(), yearStart(w.kernel))
	if err != nil {
		return Goes{}, invalid(refusal.Sentence, "/period", "%s.", err)
	}
	out := Goes{Offering: key, Version: version, Period: p}
	q := measure.Question{Period: p, Only: map[measure.Side][]string{measure.ByOffering: {key}}}
	if version > 0 {
		q.Only = map[measure.Side][]string{measure.ByVersion: {key + "/" + strconv.Itoa(version)}}
	}
	byTask, byRung := []measure.Side{measure.ByTask}, []measure.Side{measure.ByRung}
	for _, figure := range []string{"taskWaited", "taskWorked", "taskTook", "taskStuck", "taskInTime", "taskHanded", "tasks"} {
		q.Wanted = append(q.Wanted, measure.Wanted{Figure: figure, By: byTask})
	}
	q.Wanted = append(q.Wanted, measure.Wanted{Figure: "decisionTime", By: byRung}, measure.Wanted{Figure: "passed", By: byRung}, measure.Wanted{Figure: "used"})
	answers, err := w.answer(ctx, sight, q)
	if err != nil {
		return Goes{}, err
	}
	out.Requests = answers[len(answers)-1].Total
	out.Steps = stepsOf(c, answers)
	steps := make([]measure.Step, len(out.Steps))
	for i, s := range out.Steps {
		steps[i] = s.Step
	}
	out.Path = measure.PathOf(steps)
	return out, nil
}

// stepsOf are the rungs of a version, one after the other, and then its tasks, each after
// those that it waits for.
func stepsOf(c *offering.Compiled, answers []measure.Series) []StepTook {
	of := func(series measure.Series, key string) measure.Value {
		if i := slices.Index(series.Keys[0], c.Document.Key+"/"+key); i >= 0 {
			return series.Cells[i]
		}
		return measure.Value{}
	}
	number := func(n *float64) float64 {
		if n == nil {
			return 0
		}
		return *n
	}
	var steps []StepTook
	after := []int{}
	for _, r := range c.Document.Ladder {
		took := of(answers[7], r.Key)
		steps = append(steps, StepTook{
			Step: measure.Step{Key: r.Key, After: after, Count: took.Records, Waited: number(took.Number), P80: number(took.P80)},
			Name: r.Name, Kind: "rung", Passed: of(answers[8], r.Key),
		})
		after = []int{len(steps) - 1}
	}
	place := map[string]int{}
	tasks := c.Plan.Tasks()
	for len(tasks) > 0 { // those whose forerunners stand already
		left := tasks[:0:0]
		for _, t := range tasks {
			waits := slices.Clone(after)
			ready := true
			for _, key := range t.After {
				at, is := place[key]
				ready = ready && is
				waits = append(waits, at)
			}
			if !ready {
				left = append(left, t)
				continue
			}
			if t.OnDemand {
				place[t.Key] = 0
				continue
			}
			place[t.Key] = len(steps)
			steps = append(steps, taskStep(c, t, waits, func(i int) measure.Value { return of(answers[i], t.Key) }, number))
		}
		if len(left) == len(tasks) {
			return steps // a circle, which no published version has
		}
		tasks = left
	}
	return steps
}

func taskStep(c *offering.Compiled, t plan.Task, after []int, of func(int) measure.Value, number func(*float64) float64) StepTook {
	took := of(2)
	return StepTook{
		Step: measure.Step{Key: t.Key, After: after, Count: of(6).Records, Waited: number(of(0).Number), Worked: number(of(1).Number), P80: number(took.P80)},
		Name: t.Name, Kind: string(t.Kind), Team: t.Team, Stuck: of(3), Late: of(4), Handed: of(5),
	}
}

// Chosen is an offering whose times can be looked at.
type Chosen struct {
	Offering string
	Versions []int // the newest first
}

// GoesChoices lists the offerings whose times a person may look at, and what teams that they
// see handed over to each other.
func (w *Measuring) GoesChoices(ctx context.Context, person string) ([]Chosen, []Handed, error) {
	sight := w.Sight(person)
	named, err := w.Store.NamedOfferings(ctx)
	if err != nil {
		return nil, nil, err
	}
	var all []Chosen
	for _, n := range named {
		if !sight.All && !sight.Services[n.Service] {
			continue
		}
		versions, err := w.Store.PublishedNumbers(ctx, n.Offering)
		if err != nil {
			return nil, nil, err
		}
		all = append(all, Chosen{n.Offering, versions})
	}
	slices.SortFunc(all, func(a, b Chosen) int { return cmp.Compare(named[a.Offering].Name, named[b.Offering].Name) })
	p, err := w.usual()
	if err != nil {
		return nil, nil, err
	}
	zone := w.Organisation().Location()
	handed, err := w.Store.HandedBetween(ctx, p.From.In(zone).Unix(), p.Until.In(zone).Unix())
	handed = slices.DeleteFunc(handed, func(h Handed) bool {
		return !sight.All && !sight.Services[h.Service] && !sight.Teams[h.From] && !sight.Teams[h.To]
	})
	return all, handed[:min(20, len(handed))], err
}

// Handed is how often tasks went from one team to another.
type Handed = store.Handed
