package work

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// Measuring tells what happened, how fast and how well.
type Measuring struct {
	*kernel
	walls sync.Map  // of IDs of boards to *onWall
	then  time.Time // as of which it counts; zero for now

	watched time.Time // when targets were looked at last
}

// asOf counts as of the end of a day.
func (w *Measuring) asOf(day calendar.Date) *Measuring {
	return &Measuring{kernel: w.kernel, then: day.AddDays(1).In(w.Organisation().Location()).Add(-time.Second)}
}

// now is the instant as of which it counts.
func (w *Measuring) now() time.Time {
	if w.then.IsZero() {
		return w.Clock()
	}
	return w.then
}

// Sight is what a person may measure: executives and analysts everything, who designs a
// service or leads its home team all of its requests, and a lead the tasks of their teams.
func (w *Measuring) Sight(person string) measure.Sight {
	company := w.Company()
	if w.Has(person, people.Executive) || w.Has(person, people.Analyst) {
		return measure.Sight{All: true}
	}
	sight := measure.Sight{Services: map[string]bool{}, Teams: map[string]bool{}}
	for _, t := range company.Teams() {
		if t.Lead == person {
			sight.Teams[t.Key] = true
		}
	}
	for _, s := range company.Services() {
		if company.Designs(person, s) || sight.Teams[s.Home] {
			sight.Services[s.Key] = true
		}
	}
	return sight
}

// Measures reports whether there is anything that a person may measure.
func (w *Measuring) Measures(person string) bool {
	s := w.Sight(person)
	return s.All || len(s.Services) > 0 || len(s.Teams) > 0
}

// Looks reports whether there is anything for a person at the desk of Measure: what they may
// measure, or a board that somebody shares with them.
func (w *Measuring) Looks(ctx context.Context, person string) (bool, error) {
	if w.Measures(person) {
		return true, nil
	}
	return w.Store.SeesBoard(ctx, person, w.TeamsOf(person))
}

// Told is a figure as the desk shows it above all else.
type Told struct {
	measure.Series
	Before measure.Value // of the period of the same length before
	Aim    *Aim          // nil where the reader has set no target for it
}

// Screen is all that the desk shows of a sentence.
type Screen struct {
	Sentence measure.Sentence
	Period   measure.Period
	Before   measure.Period
	AsOf     time.Time
	Sight    measure.Sight
	Row      []Told
	Along    measure.Series
	Goal     *float64 // what each stretch that it is told along should be; nil for no target
	Side     measure.Series
	Grid     measure.Series
}

// day is the day of the organisation.
func (w *Measuring) day() calendar.Date {
	return calendar.DateOf(w.now().In(w.Organisation().Location()))
}

// usual is the period of the lists that need no sentence.
func (w *Measuring) usual() (measure.Period, error) {
	return measure.ParsePeriod(measure.UsualPeriod, w.day(), yearStart(w.kernel))
}

// circumstances are those of a question by who may see so much.
func (w *Measuring) circumstances(ctx context.Context, sight measure.Sight) measure.Circumstances {
	company := w.Company()
	return measure.Circumstances{
		Now: w.now(), Zone: w.Organisation().Location(), Sight: sight,
		Area: func(service string) string {
			s, _ := company.Service(service)
			return s.Area
		},
		Effort: func(offering, task string) time.Duration { return w.effort(ctx, offering, task) },
	}
}

// workday is how long a working day counts where an effort is given in days.
const workday = 8 * time.Hour

// effort is what the current version of an offering plans for a task; nothing where there is
// no such task.
func (w *Measuring) effort(ctx context.Context, offering, task string) time.Duration {
	c, err := w.current(ctx, w.Store, offering)
	if err != nil {
		return 0
	}
	if _, there := c.Plan.Task(task); !there {
		return 0
	}
	length := c.Plan.Effort(task)
	return length.Open + time.Duration(length.Days)*workday
}

// asked reads a sentence; one that cannot be read is refused at its place.
func (w *Measuring) asked(s measure.Sentence) (measure.Question, error) {
	q, err := s.Question(w.day(), yearStart(w.kernel))
	var wrong measure.Wrong
	if errors.As(err, &wrong) {
		return q, invalid(refusal.Sentence, wrong.Place, "%s", wrong.Sentence)
	}
	if !w.then.IsZero() { // what came after it does not count
		q.Period = q.Period.Elapsed(w.day())
	}
	return q, err
}

// refusedFor refuses what is wrong, the first of it above all else; nil for nothing.
func refusedFor(code string, wrong []measure.Wrong) error {
	if len(wrong) == 0 {
		return nil
	}
	refused := invalid(code, wrong[0].Place, "%s", wrong[0].Sentence)
	for _, x := range wrong {
		refused.Details = append(refused.Details, request.Refusal{Kind: request.Invalid, Code: code, Sentence: x.Sentence, Place: x.Place})
	}
	return refused
}

// Screen answers a sentence, as far as a person may see.
func (w *Measuring) Screen(ctx context.Context, person string, s measure.Sentence) (Screen, error) {
	screen, err := w.screen(ctx, w.Sight(person), s)
	if err != nil {
		return Screen{}, err
	}
	targets, err := w.Store.Targets(ctx, person)
	if err == nil && len(targets) > 0 {
		screen.aim(targets, screen.Period.Gone(w.now(), homeHours(w.kernel), w.Organisation().Location()))
	}
	return screen, err
}

func (w *Measuring) screen(ctx context.Context, sight measure.Sight, s measure.Sentence) (Screen, error) {
	s = s.Fitted()
	q, err := w.asked(s)
	if err != nil {
		return Screen{}, err
	}
	out := Screen{Sentence: s, Period: q.Period, Before: q.Period.Before(), AsOf: w.now().UTC(), Sight: sight}
	f, _ := measure.FigureOf(s.Figure)
	row := measure.Rows(f.Subject)
	if !slices.Contains(row, s.Figure) {
		row = append([]string{s.Figure}, row...)
	}
	var wanted []measure.Wanted
	for _, key := range row {
		wanted = append(wanted, measure.Wanted{Figure: key})
	}
	before := q
	before.Period, before.Wanted = out.Before, wanted
	grid := []measure.Side{s.Side, s.Second}
	if s.Side == s.Second {
		grid = grid[:1]
	}
	q.Wanted = append(slices.Clone(wanted), measure.Wanted{Figure: s.Figure, By: []measure.Side{s.Along}}, measure.Wanted{Figure: s.Figure, By: []measure.Side{s.Side}}, measure.Wanted{Figure: s.Figure, By: grid})
	now, err := w.answer(ctx, sight, q)
	if err != nil {
		return Screen{}, err
	}
	then, err := w.answer(ctx, sight, before)
	if err != nil {
		return Screen{}, err
	}
	for i := range row {
		out.Row = append(out.Row, Told{Series: now[i], Before: then[i].Total})
	}
	out.Along, out.Side, out.Grid = now[len(row)].Present(mostAlong), now[len(row)+1].Ranked(mostSides), now[len(row)+2].Ranked(mostLines)
	return out, nil
}

// How much is shown of a series at once: stretches of time, values of a side, lines of a grid.
const (
	mostAlong = 800
	mostSides = 25
	mostLines = 15
)

// answer answers a question by the columns, and of searches and forms by what is kept of
// them.
func (w *Measuring) answer(ctx context.Context, sight measure.Sight, q measure.Question) ([]measure.Series, error) {
	c := w.circumstances(ctx, sight)
	all := make([]measure.Series, len(q.Wanted))
	var columns []measure.Wanted
	var places []int
	for i, wanted := range q.Wanted {
		f, known := measure.FigureOf(wanted.Figure)
		if !known || f.Subject != measure.OfSearches && f.Subject != measure.OfForms {
			columns, places = append(columns, wanted), append(places, i)
			continue
		}
		plain, err := w.plain(ctx, f, q)
		if err != nil {
			return nil, err
		}
		if all[i], err = measure.CountPlain(f, plain, wanted.By, q, c); err != nil {
			return nil, invalid(refusal.Sentence, "", "%s.", err)
		}
	}
	if len(columns) == 0 {
		return all, nil
	}
	v, err := w.view(ctx)
	if err != nil {
		return nil, err
	}
	q.Wanted = columns
	answers, err := v.Ask(q, c)
	if err != nil {
		return nil, invalid(refusal.Sentence, "", "%s.", err)
	}
	for i, at := range places {
		all[at] = answers[i]
	}
	return all, nil
}

// plain counts the searches, or the forms, of a period.
func (w *Measuring) plain(ctx context.Context, f *measure.Figure, q measure.Question) ([]measure.Plain, error) {
	zone := w.Organisation().Location()
	from, until := q.Period.From.In(zone), q.Period.Until.In(zone)
	if f.Subject == measure.OfSearches {
		return w.Store.SearchesMade(ctx, from, until)
	}
	forms, err := w.Store.FormsBegun(ctx, from.Unix(), until.Unix(), w.untouched())
	if err != nil {
		return nil, err
	}
	named, err := w.Store.NamedOfferings(ctx)
	for i := range forms {
		forms[i].Service = named[forms[i].Offering].Service
	}
	return forms, err
}

// untouched is before which instant a form must have been touched last to count as given up.
func (w *Measuring) untouched() int64 { return w.now().Add(-measure.GivenUp).Unix() }
