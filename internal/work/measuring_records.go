package work

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/measure"
	"heptad/internal/core/money"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Record is a line of the records that a figure counts.
type Record struct {
	store.Record
	Ref       measure.Ref
	Reference string
	Price     string        // as asked for, with its currency; empty for none
	Task      *measure.Task // of figures of tasks
	TaskName  string
}

// Records are the records that a figure counts, newest first.
type Records struct {
	Lines  []Record
	Total  int64
	Hidden int64 // that are counted and stand in no list for who asks
	More   bool
}

// Records lists what a figure of a sentence counts, after a place in the list; nil for the
// beginning.
func (w *Measuring) Records(ctx context.Context, person string, s measure.Sentence, after *measure.Ref, limit int) (Records, error) {
	return w.records(ctx, person, w.Sight(person), s, after, limit)
}

func (w *Measuring) records(ctx context.Context, reader string, sight measure.Sight, s measure.Sentence, after *measure.Ref, limit int) (Records, error) {
	s = s.Fitted()
	q, err := w.asked(s)
	if err != nil {
		return Records{}, err
	}
	f, _ := measure.FigureOf(s.Figure)
	if f.Subject == measure.OfSearches || f.Subject == measure.OfForms { // nobody is told who looked for what
		answers, err := w.answer(ctx, sight, measure.Question{Wanted: []measure.Wanted{{Figure: s.Figure}}, Period: q.Period, Only: q.Only})
		if err != nil {
			return Records{}, err
		}
		return Records{Total: answers[0].Total.Records, Hidden: answers[0].Total.Records}, nil
	}
	v, err := w.view(ctx)
	if err != nil {
		return Records{}, err
	}
	quiet, err := w.Store.QuietOfferings(ctx)
	if err != nil {
		return Records{}, err
	}
	listed, err := v.Records(s.Figure, q, w.circumstances(ctx, sight), measure.Listing{
		Sight: w.Sight(reader), After: after, Limit: limit + 1,
		Quiet: func(offering string) bool { return quiet[offering] },
	})
	if err != nil {
		return Records{}, invalid(refusal.Sentence, "", "%s.", err)
	}
	out := Records{Total: listed.Total, Hidden: listed.Total - listed.Shown, More: len(listed.Refs) > limit}
	refs := listed.Refs[:min(limit, len(listed.Refs))]
	numbers := make([]int64, len(refs))
	for i, ref := range refs {
		numbers[i] = ref.Number
	}
	slices.Sort(numbers)
	records, err := w.Store.Records(ctx, sightOf(w.kernel, reader), slices.Compact(numbers))
	if err != nil {
		return Records{}, err
	}
	for _, ref := range refs {
		line, err := w.record(ctx, f, ref, records[ref.Number])
		if err != nil {
			return Records{}, err
		}
		out.Lines = append(out.Lines, line)
	}
	return out, nil
}

// record makes one line. Its title is for those who see the request; others read the name of
// the offering.
func (w *Measuring) record(ctx context.Context, f *measure.Figure, ref measure.Ref, record store.Record) (Record, error) {
	line := Record{Ref: ref, Record: record}
	line.Reference = request.Reference(w.Organisation().Prefix, ref.Number)
	if line.Cost > 0 {
		line.Price = money.Of(line.Cost, line.Currency).String()
	}
	if f.Subject == measure.OfTasks {
		tasks, err := w.Store.TasksMeasured(ctx, ref.Number)
		if err != nil {
			return line, err
		}
		if ref.Nth < len(tasks) {
			line.Task = &tasks[ref.Nth]
			line.TaskName = w.taskName(ctx, line.Offering, line.Version, line.Task.Of)
		}
	}
	if !line.Opens { // its title is none of their business
		line.Title = line.Name
	}
	return line, nil
}

// taskName is what a version of an offering calls a task.
func (w *Measuring) taskName(ctx context.Context, offering string, version int, of string) string {
	if of == "" {
		return "Added by staff"
	}
	if c, err := w.numbered(ctx, w.Store, offering, version); err == nil {
		if t, there := c.Plan.Task(of); there {
			return t.Name
		}
	}
	return of
}

// RefText writes a place in a list of records.
func RefText(r measure.Ref) string { return fmt.Sprintf("%d-%d-%d", r.At, r.Number, r.Nth) }

// ParseRef reads it; nil for the beginning.
func ParseRef(text string) (*measure.Ref, error) {
	if text == "" {
		return nil, nil
	}
	var r measure.Ref
	if n, err := fmt.Sscanf(text, "%d-%d-%d", &r.At, &r.Number, &r.Nth); err != nil || n != 3 {
		return nil, invalid(refusal.Sentence, "", "%q is no place in a list.", text)
	}
	return &r, nil
}

// Counted is a value of a side, with how many there are of it.
type Counted struct {
	Key, Name string
	Records   int64
}

// mostValues is how many values of a side are offered at once.
const mostValues = 50

// Values lists the values of a side that a sentence can be narrowed to, by parts of their
// names.
func (w *Measuring) Values(ctx context.Context, person string, s measure.Sentence, side measure.Side, words string) ([]Counted, error) {
	s = s.Fitted()
	s.Only = slices.DeleteFunc(slices.Clone(s.Only), func(n measure.Narrowed) bool { return n.Side == side })
	q, err := w.asked(s)
	if err != nil {
		return nil, err
	}
	if f, _ := measure.FigureOf(s.Figure); !f.Takes(side) || side.Timely() {
		return nil, invalid(refusal.Sentence, "/side", "%q cannot be narrowed by that.", f.Name)
	}
	q.Wanted = []measure.Wanted{{Figure: s.Figure, By: []measure.Side{side}}}
	answers, err := w.answer(ctx, w.Sight(person), q)
	if err != nil {
		return nil, err
	}
	names, err := w.Names(ctx)
	if err != nil {
		return nil, err
	}
	var all []Counted
	for i, key := range answers[0].Keys[0] {
		name := names.Of(side, key)
		if n := answers[0].Cells[i].Records; n > 0 && contains(name, words) {
			all = append(all, Counted{key, name, n})
		}
	}
	if !side.Recurring() {
		slices.SortStableFunc(all, func(a, b Counted) int { return cmp.Compare(b.Records, a.Records) })
	}
	return all[:min(mostValues, len(all))], nil
}

// contains reports whether each word is a part of a text, whatever the case.
func contains(text, words string) bool {
	text = strings.ToLower(text)
	for _, word := range strings.Fields(strings.ToLower(words)) {
		if !strings.Contains(text, word) {
			return false
		}
	}
	return true
}
