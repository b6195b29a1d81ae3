package work

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/measure"
	"heptad/internal/core/plan"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// Next is what could be done next, in four lists, each with its reasons.
type Next struct {
	Period   measure.Period
	Decide   []LessDeciding
	Automate []Automating
	Offer    []measure.Wishes
	Mend     []Mending
	Searches measure.Value // that found nothing
	Catch    []CatchAll
}

// LessDeciding is a decision that is nearly always a yes.
type LessDeciding struct {
	Rung    string // key of offering and rung
	Passed  measure.Value
	Took    measure.Value
	Waiting float64 // open seconds that all of them waited
}

// Automating is a task that people do by hand.
type Automating struct {
	Task       string // key of offering and task
	Tasks      int64
	Took       measure.Value // people's hours; hidden when too few people do it
	Monthly    float64       // open seconds of people a month; what is planned for it where the hours are hidden
	Planned    bool          // Monthly is from the plan
	Connectors []string      // keys of those that its service may use
}

// Mending is an offering with what goes wrong with it.
type Mending struct {
	Offering string
	What     string // sentBack, givenUp, declined, stuck, missed
	Value    measure.Value
	Where    string // in words: the question, rung or task where it happens most; empty for none
}

// CatchAll is what people send to an offering that takes what nothing else is for.
type CatchAll struct {
	Offering string
	Requests int64
	Words    []measure.Wishes
	Else     int64 // of Requests, that fit nowhere
}

// From when on something is worth a line.
const (
	leastDecisions = 20
	nearlyAlways   = 0.95
	leastTasks     = 10
	leastOfMended  = 20
	mostLinesNext  = 12
)

// Next works out what could be done next in the last twelve months, as far as a person may
// see.
func (w *Measuring) Next(ctx context.Context, person string) (Next, error) {
	sight := w.Sight(person)
	p, err := w.usual()
	if err != nil {
		return Next{}, err
	}
	out := Next{Period: p}
	byRung, byTask, byOffering := []measure.Side{measure.ByRung}, []measure.Side{measure.ByTask}, []measure.Side{measure.ByOffering}
	q := measure.Question{Period: p, Only: map[measure.Side][]string{}, Wanted: []measure.Wanted{
		{Figure: "passed", By: byRung}, {Figure: "decisionTime", By: byRung},
		{Figure: "hours", By: byTask}, {Figure: "taskStuck", By: byTask}, {Figure: "taskWaited", By: byTask},
		{Figure: "sentBack", By: byOffering}, {Figure: "declined", By: byOffering}, {Figure: "kept", By: byOffering}, {Figure: "givenUp", By: byOffering}, {Figure: "taskStuck", By: byOffering},
		{Figure: "foundNothing"},
	}}
	answers, err := w.answer(ctx, sight, q)
	if err != nil {
		return Next{}, err
	}
	out.Searches = answers[10].Total
	out.Decide = lessDeciding(answers[0], answers[1])
	names, err := w.Names(ctx)
	if err != nil {
		return Next{}, err
	}
	zone := w.Organisation().Location()
	forms, err := w.Store.FormsGivenUp(ctx, p.From.In(zone).Unix(), p.Until.In(zone).Unix(), w.untouched())
	if err != nil {
		return Next{}, err
	}
	out.Automate = w.automating(ctx, answers[2], p, names)
	out.Mend = w.mending(ctx, answers, names, forms)
	out.Offer, err = w.wished(ctx, p)
	if err != nil {
		return Next{}, err
	}
	out.Catch, err = w.caughtAll(ctx, sight, p)
	return out, err
}

func lessDeciding(passed, took measure.Series) []LessDeciding {
	var all []LessDeciding
	for i, key := range passed.Keys[0] {
		v, t := passed.Cells[i], took.Cells[i]
		if v.Records >= leastDecisions && v.Number != nil && *v.Number >= nearlyAlways && t.Number != nil && t.Mean != nil {
			all = append(all, LessDeciding{key, v, t, *t.Mean * float64(t.Records)})
		}
	}
	slices.SortFunc(all, func(a, b LessDeciding) int { return cmp.Compare(b.Waiting, a.Waiting) })
	return all[:min(mostLinesNext, len(all))]
}

// automating ranks what people do by hand by the hours that it takes a month.
func (w *Measuring) automating(ctx context.Context, hours measure.Series, p measure.Period, names Names) []Automating {
	elapsed := p.Elapsed(w.day())
	months := float64(elapsed.Until.Since(elapsed.From)) / (365.25 / 12)
	var all []Automating
	for i, key := range hours.Keys[0] {
		offering, task := offeringAnd(key)
		v := hours.Cells[i]
		if v.Records < leastTasks || task == "" || !w.byHand(ctx, offering, task) {
			continue
		}
		a := Automating{Task: key, Tasks: v.Records, Took: v}
		if v.Number != nil {
			a.Monthly = *v.Number / months
		} else {
			a.Monthly, a.Planned = w.effort(ctx, offering, task).Seconds()*float64(v.Records)/months, true
		}
		for _, g := range w.grantsOf(names.offerings[offering].Service).All {
			if !slices.Contains(a.Connectors, g.Connector) {
				a.Connectors = append(a.Connectors, g.Connector)
			}
		}
		all = append(all, a)
	}
	slices.SortFunc(all, func(a, b Automating) int { return cmp.Compare(b.Monthly, a.Monthly) })
	return all[:min(mostLinesNext, len(all))]
}

// offeringAnd parts the key of a task or a rung from that of its offering.
func offeringAnd(key string) (offering, rest string) {
	offering, rest, _ = strings.Cut(key, "/")
	return offering, rest
}

// byHand reports whether a task is done by people in the current version of an offering.
func (w *Measuring) byHand(ctx context.Context, key, task string) bool {
	c, err := w.current(ctx, w.Store, key)
	if err != nil {
		return false
	}
	t, there := c.Plan.Task(task)
	return there && t.Kind == plan.Manual
}

// mending lists offerings with what goes wrong with them most often, and where.
func (w *Measuring) mending(ctx context.Context, answers []measure.Series, names Names, forms []store.GivenUpAt) []Mending {
	var all []Mending
	add := func(what string, s measure.Series, least float64, bad func(measure.Value) float64, where func(offering string) string) {
		for i, key := range s.Keys[0] {
			if v := s.Cells[i]; v.Records >= leastOfMended && v.Number != nil && bad(v) >= least {
				all = append(all, Mending{key, what, v, where(key)})
			}
		}
	}
	share := func(v measure.Value) float64 { return *v.Number }
	missed := func(v measure.Value) float64 { return 1 - *v.Number }
	worst := func(s measure.Series, name func(offering, key string) string, weight func(measure.Value) float64) func(string) string {
		return func(key string) string {
			best, found := 0.0, ""
			for i, k := range s.Keys[0] {
				if offering, rest := offeringAnd(k); offering == key && s.Cells[i].Records > 0 && weight(s.Cells[i]) > best {
					best, found = weight(s.Cells[i]), name(offering, rest)
				}
			}
			return found
		}
	}
	part := func(v measure.Value) float64 { return float64(v.Part) }
	noes := func(v measure.Value) float64 { return float64(v.Records - v.Part) }
	waited := func(v measure.Value) float64 {
		if v.Mean == nil {
			return 0
		}
		return *v.Mean * float64(v.Records)
	}
	nowhere := func(string) string { return "" }
	add("sentBack", answers[5], 0.03, share, nowhere)
	add("declined", answers[6], 0.05, share, worst(answers[0], names.Rung, noes))
	add("missed", answers[7], 0.12, missed, worst(answers[4], names.Task, waited))
	add("givenUp", answers[8], 0.1, share, func(key string) string { return w.givenUpAt(ctx, key, forms) })
	add("stuck", answers[9], 0.03, share, worst(answers[3], names.Task, part))
	slices.SortStableFunc(all, func(a, b Mending) int { return cmp.Compare(mendWeight(b), mendWeight(a)) })
	return all[:min(2*mostLinesNext, len(all))]
}

// mendWeight is of how many requests something goes wrong.
func mendWeight(m Mending) int64 {
	if m.What == "missed" {
		return m.Value.Records - m.Value.Part
	}
	return m.Value.Part
}

// givenUpAt is the question at which most forms of an offering are given up, in words.
func (w *Measuring) givenUpAt(ctx context.Context, key string, forms []store.GivenUpAt) string {
	c, err := w.current(ctx, w.Store, key)
	if err != nil {
		return ""
	}
	at := map[string]int{}
	for _, f := range forms {
		if f.Offering == key {
			at[f.Question] += f.Times
		}
	}
	most, question := 0, form.Question{}
	place := 0
	for i, q := range c.Document.Questions {
		if at[q.Key] > most {
			most, question, place = at[q.Key], q, i+1
		}
	}
	if most == 0 {
		return ""
	}
	return "question " + itoa(place) + ": " + question.Label
}

// mostWishes is how many different words are looked at: those of most people.
const mostWishes = 2000

// wished groups what people looked for and did not find.
func (w *Measuring) wished(ctx context.Context, p measure.Period) ([]measure.Wishes, error) {
	zone := w.Organisation().Location()
	searches, err := w.Store.SearchedInVain(ctx, p.From.In(zone), p.Until.In(zone), mostWishes)
	if err != nil {
		return nil, err
	}
	var all []measure.Wish
	for _, s := range searches {
		all = append(all, measure.Wish{Words: s.Words, Stems: search.Content(s.Words), People: s.People})
	}
	grouped := measure.Grouped(all)
	return grouped[:min(40, len(grouped))], nil
}

// caughtAll tells what is sent to offerings that take what nothing else is for: the words that
// the titles of several people share, never a title itself.
func (w *Measuring) caughtAll(ctx context.Context, sight measure.Sight, p measure.Period) ([]CatchAll, error) {
	entries, err := w.Store.Catalog(ctx)
	if err != nil {
		return nil, err
	}
	zone := w.Organisation().Location()
	var out []CatchAll
	for _, e := range entries {
		if !e.CatchAll || !sight.All && !sight.Services[e.Service] {
			continue
		}
		titles, err := w.Store.TitlesSent(ctx, e.Offering, p.From.In(zone), p.Until.In(zone))
		if err != nil {
			return nil, err
		}
		shared, left := sharedWords(titles)
		out = append(out, CatchAll{e.Offering, int64(len(titles)), shared, left})
	}
	return out, nil
}

// sharedWords groups titles by words that those of three people share at least; left is how
// many titles have none of them.
func sharedWords(titles []store.TitleSent) (words []measure.Wishes, left int64) {
	people := map[string]map[string]bool{}
	count := map[string]int{}
	for _, t := range titles {
		for _, stem := range search.Content(t.Title) {
			if people[stem] == nil {
				people[stem] = map[string]bool{}
			}
			people[stem][t.Asker] = true
			count[stem]++
		}
	}
	for stem, who := range people {
		if len(who) >= 3 {
			words = append(words, measure.Wishes{Words: []string{stem}, People: len(who), Times: count[stem]})
		}
	}
	slices.SortFunc(words, func(a, b measure.Wishes) int {
		return cmp.Or(cmp.Compare(b.People, a.People), cmp.Compare(a.Words[0], b.Words[0]))
	})
	words = words[:min(mostLinesNext, len(words))]
	for _, t := range titles {
		has := slices.ContainsFunc(search.Content(t.Title), func(stem string) bool {
			return slices.ContainsFunc(words, func(w measure.Wishes) bool { return w.Words[0] == stem })
		})
		if !has {
			left++
		}
	}
	return words, left
}
