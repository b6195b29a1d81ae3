package work

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"strings"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/message"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Target is a target with how it stands.
type Target struct {
	store.Target
	Now    measure.Value
	Pace   *float64 // of counts and sums: what it will come to
	Stands measure.Standing
	Period measure.Period
}

// mostOwnTargets is how many targets one person has.
const mostOwnTargets = 100

// Targets lists the targets of a person, with how they stand.
func (w *Measuring) Targets(ctx context.Context, person string) ([]Target, error) {
	all, err := w.Store.Targets(ctx, person)
	if err != nil {
		return nil, err
	}
	out := make([]Target, len(all))
	for i, t := range all {
		if out[i], err = w.stands(ctx, t); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// stands works out how a target stands, as who set it may measure.
func (w *Measuring) stands(ctx context.Context, t store.Target) (Target, error) {
	p, err := measure.ParsePeriod(t.Period, w.day(), yearStart(w.kernel))
	if err != nil {
		return Target{}, err
	}
	q := measure.Question{Period: p, Only: map[measure.Side][]string{}, Wanted: []measure.Wanted{{Figure: t.Figure}}}
	for _, n := range t.Only {
		q.Only[n.Side] = append(q.Only[n.Side], n.Keys...)
	}
	answers, err := w.answer(ctx, w.Sight(t.Person), q)
	if err != nil {
		return Target{}, err
	}
	out := Target{Target: t, Now: answers[0].Total, Period: p}
	out.Stands, out.Pace = t.Stands(out.Now, p.Gone(w.now(), homeHours(w.kernel), w.Organisation().Location()))
	return out, nil
}

// AddTarget sets a target of a person.
func (w *Measuring) AddTarget(ctx context.Context, person string, t measure.Target) (Target, error) {
	if err := refusedFor(refusal.Target, t.Check(w.day(), yearStart(w.kernel))); err != nil {
		return Target{}, err
	}
	there, err := w.Store.Targets(ctx, person)
	if err != nil {
		return Target{}, err
	}
	if len(there) >= mostOwnTargets {
		return Target{}, invalid(refusal.Target, "", "At most %d targets can be set by one person.", mostOwnTargets)
	}
	kept := store.Target{Target: t, ID: rand.Text(), Person: person, ChangedAt: w.Clock().UTC()}
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddTarget(kept) }); err != nil {
		return Target{}, err
	}
	return w.stands(ctx, kept)
}

// DropTarget throws a target of a person away.
func (w *Measuring) DropTarget(ctx context.Context, person, id string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropTarget(person, id) })
}

// lookEvery is how often targets are looked at.
const lookEvery = time.Hour

// keptYears is for how long it is kept what people looked for, and which forms they began.
const keptYears = 1

// lookHourly looks at targets once an hour, and forgets searches and forms that are old.
func (w *Measuring) lookHourly(ctx context.Context) error {
	now := w.Clock()
	if now.Sub(w.watched) < lookEvery && !now.Before(w.watched) {
		return nil
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.ForgetOld(now.AddDate(-keptYears, 0, 0)) })
	if err == nil {
		err = w.watchTargets(ctx)
	}
	if err == nil {
		w.watched = now
	}
	return err
}

// watchTargets looks at all targets, and tells what got worse; once, until it is well again.
func (w *Measuring) watchTargets(ctx context.Context) error {
	all, err := w.Store.Targets(ctx, "")
	if err != nil {
		return err
	}
	told := false
	for _, t := range all {
		if p, known := w.Company().Person(t.Person); !known || p.Former || !w.Measures(t.Person) {
			continue // who set it measures no more
		}
		err := w.caught("target", t.ID, func() error {
			now, err := w.stands(ctx, t)
			if err != nil || now.Stands == t.Told || now.Stands == measure.StandsOpen || now.Stands == measure.StandsWell && t.Told == "" {
				return err
			}
			told = true
			return w.tellTarget(ctx, now)
		})
		if err != nil {
			w.Log.Error("a target cannot be looked at", "target", t.ID, "error", err)
		}
	}
	if told {
		w.rouseMail()
	}
	return nil
}

// tellTarget keeps how a target stands now, and tells when that is worse than what was told.
func (w *Measuring) tellTarget(ctx context.Context, t Target) error {
	told := t.Stands
	if told == measure.StandsWell {
		told = ""
	}
	worse := told == measure.StandsMissed || told == measure.StandsEarly && t.Told == ""
	title, said, err := w.targetWords(ctx, t)
	if err != nil {
		return err
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetTold(t.ID, told); err != nil || !worse {
			return err
		}
		return w.tell(ctx, tx, append([]string{t.Person}, t.People...), message.Alarm, title, said, t.Person)
	})
}

// targetWords say how a target stands.
func (w *Measuring) targetWords(ctx context.Context, t Target) (title, said string, err error) {
	names, err := w.Names(ctx)
	if err != nil {
		return "", "", err
	}
	f, _ := measure.FigureOf(t.Figure)
	currency := w.Organisation().Currency
	what := f.Name
	for _, n := range t.Only {
		var keys []string
		for _, key := range n.Keys {
			keys = append(keys, names.Of(n.Side, key))
		}
		what += ", " + n.Side.Name() + " " + strings.Join(keys, " or ")
	}
	bound := "at most"
	if t.AtLeast {
		bound = "at least"
	}
	in := func(n float64) string {
		v := measure.Value{Number: &n, Records: t.Now.Records, Part: t.Now.Part}
		text, _, _ := strings.Cut(measure.InWords(f, v, currency), " (")
		return text
	}
	said = fmt.Sprintf("%s in %s: %s. The target is %s %s.", what, t.Period.Words, measure.InWords(f, t.Now, currency), bound, in(t.Goal))
	if t.Pace != nil && t.Stands == measure.StandsEarly {
		said += fmt.Sprintf(" At the present pace it will come to %s.", in(*t.Pace))
	}
	path := "/measure/targets"
	said += "\n\nLook at it: " + cmp.Or(w.letters.pageOf(path), path)
	if t.Stands == measure.StandsMissed {
		return "Missed: " + what, said, nil
	}
	return "It will be missed: " + what, said, nil
}
