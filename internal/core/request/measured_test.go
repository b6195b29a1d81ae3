package request_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/request"
)

// measured are the facts of a request, kept event by event as the store keeps them.
type measured struct{ measure.Facts }

func (k *measured) take(m measure.Made) {
	switch {
	case m.Number == 0:
		return
	case m.Sending != nil:
		k.Request = measure.Request{Number: m.Number, Sending: *m.Sending, Going: m.Going}
	case m.Went:
		k.Request.Going = m.Going
	}
	for _, t := range m.Tasks {
		k.Tasks = append(slices.DeleteFunc(k.Tasks, func(o measure.Task) bool { return o.Key == t.Key }), t)
	}
	for _, r := range m.Ratings {
		k.Ratings = append(slices.DeleteFunc(k.Ratings, func(o measure.Rating) bool { return o.Person == r.Person }), r)
	}
	k.Votes, k.Rungs = append(k.Votes, m.Votes...), append(k.Rungs, m.Rungs...)
	for i, spell := range m.Spells {
		if i+1 < len(m.Spells) {
			spell.Until = m.Spells[i+1].From
		}
		if n := len(k.Spells); i == 0 && n > 0 && k.Spells[n-1].Until == 0 && k.Spells[n-1].From < spell.From {
			k.Spells[n-1].Until = spell.From
		}
		k.Spells = slices.DeleteFunc(k.Spells, func(o measure.Spell) bool { return o.From == spell.From })
		if spell.Status != request.Closed {
			k.Spells = append(k.Spells, spell)
		}
	}
	slices.SortFunc(k.Tasks, func(a, b measure.Task) int { return strings.Compare(a.Key, b.Key) })
	slices.SortFunc(k.Ratings, func(a, b measure.Rating) int { return strings.Compare(a.Person, b.Person) })
}

// asEvents requires that the facts kept event by event are those of the whole history.
func (k *measured) asEvents(t require.TestingT, events []request.Event) {
	again, sent := measure.Of(events)
	if !sent {
		require.Equal(t, measure.Facts{}, k.Facts)
		return
	}
	require.Equal(t, again.Request, k.Request)
	require.ElementsMatch(t, again.Tasks, k.Tasks)
	require.ElementsMatch(t, again.Votes, k.Votes)
	require.ElementsMatch(t, again.Rungs, k.Rungs)
	require.ElementsMatch(t, again.Ratings, k.Ratings)
	require.ElementsMatch(t, again.Spells, k.Spells)
}

// countsFromEvents compares what the columns count of lives with what their events say, looked
// at one by one.
func countsFromEvents(t *testing.T, random *rand.Rand, lives [][]request.Event) {
	columns := measure.NewColumns("EUR")
	first, last := lives[0][0].At, lives[0][0].At
	for i, events := range lives {
		f, sent := measure.Of(events)
		require.True(t, sent)
		f.Request.Number = int64(5_000 + 3*i) // they all have the same
		columns.Put(f)
		for _, e := range events {
			if e.At.Before(first) {
				first = e.At
			}
			if e.At.After(last) {
				last = e.At
			}
		}
	}
	days := int(last.Sub(first).Hours()/24) + 2
	for range 12 {
		from := calendar.DateOf(first).AddDays(random.IntN(days))
		until := from.AddDays(1 + random.IntN(8))
		p, err := measure.ParsePeriod(from.String()+"/"+until.AddDays(-1).String(), from, time.January)
		require.NoError(t, err)
		begin, end := from.In(time.UTC), until.In(time.UTC)
		within := func(at time.Time) bool { return !at.IsZero() && !at.Before(begin) && at.Before(end) }
		want := map[string]int64{}
		for _, events := range lives {
			now, then := request.Replay(events), request.State{}
			for _, e := range events {
				if e.At.Truncate(time.Second).Before(end) {
					then.Apply(e)
				}
				if _, is := e.Body.(request.Submitted); is && within(e.At) {
					want["asked"]++
				}
			}
			if now.Status == request.Closed && within(now.Stages["closed"]) {
				want["ended"]++
				if now.Outcome == request.Fulfilled {
					want["well"]++
				}
			}
			if clock, over := now.Ends[request.FulfilmentClock]; over && now.Outcome == request.Fulfilled && within(now.Stages["delivered"]) && clock.Verdict == "kept" {
				want["kept"]++
			}
			if len(then.Reference) > 0 && then.Status.UnderWay() {
				want["open"]++
			}
			for _, task := range now.Tasks {
				if within(task.EndedAt) && (task.Kind == "manual" || task.Kind == "automatic") && (task.State == "done" || task.State == "undone") {
					want["tasks"]++
				}
			}
		}
		got, err := columns.View().Ask(measure.Question{Period: p, Wanted: []measure.Wanted{{Figure: "asked"}, {Figure: "ended"}, {Figure: "well"}, {Figure: "kept"}, {Figure: "open"}, {Figure: "tasks"}}},
			measure.Circumstances{Now: last.AddDate(1, 0, 0), Zone: time.UTC, Area: func(s string) string { return s }, Sight: measure.Sight{All: true}})
		require.NoError(t, err)
		for _, series := range got {
			f, _ := measure.FigureOf(series.Figure)
			number := series.Total.Records
			if f.Unit == measure.Share {
				number = series.Total.Part
			}
			require.Equal(t, want[series.Figure], number, "%s from %s to %s", series.Figure, from, until)
		}
	}
}
