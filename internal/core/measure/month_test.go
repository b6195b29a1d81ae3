package measure_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/measure"
	"heptad/internal/core/request"
)

// october is a month worked out by hand: a line for each request. Its columns are the day and
// hour it was sent, delivered and closed (none for not), how it ended, what became of its
// promise, hours used of the clock, hours it waited for the asker, how often it was sent back,
// its rating, and when it fell due. All of 2026, UTC.
const october = `
 1  10-01T09  10-02T15  10-05T09  fulfilled  kept    6   0  0  5  10-08T17
 2  10-01T10  10-09T17  10-12T09  fulfilled  missed  50  0  0  2  10-08T17
 3  10-02T09  10-06T12  10-07T09  fulfilled  kept    18  4  0  4  10-09T17
 4  10-02T11  -         10-05T10  declined   over    3   0  0  -  10-09T17
 5  10-05T09  -         10-05T16  withdrawn  over    5   0  0  -  10-12T17
 6  10-05T10  10-07T10  10-14T10  fulfilled  kept    14  0  1  3  10-12T17
 7  10-06T09  -         10-28T09  expired    over    40  30 0  -  10-13T17
 8  10-06T13  10-08T13  10-09T09  cancelled  kept    12  0  0  -  10-13T17
 9  10-07T09  10-14T12  10-15T09  fulfilled  missed  44  0  2  1  10-14T09
10  10-08T09  10-08T09  10-09T09  fulfilled  none    0   0  0  -  -
11  10-09T15  10-13T11  10-14T09  fulfilled  kept    10  0  0  5  10-16T17
12  10-12T09  -         -         deliver    -       0   0  0  -  10-19T17
13  10-13T09  -         -         decide     -       0   0  0  -  11-03T17
14  10-14T09  10-30T12  -         deliver    kept    30  80 0  -  11-02T17
15  10-15T09  10-16T09  10-19T09  fulfilled  kept    8   0  0  4  10-22T17
16  10-19T09  -         -         decide     -       0   0  0  -  -
17  09-28T09  10-01T09  10-02T09  fulfilled  kept    20  0  0  5  10-05T17
18  09-29T09  10-12T09  10-13T09  fulfilled  missed  70  0  0  -  10-06T17
19  10-20T09  10-30T09  11-03T09  fulfilled  missed  60  0  0  2  10-27T17
20  10-21T09  11-04T09  11-05T09  fulfilled  missed  80  0  0  -  10-28T17
21  10-30T17  11-02T09  11-03T09  fulfilled  kept    5   0  0  5  11-06T17
22  09-30T23  10-01T12  10-01T13  fulfilled  kept    2   0  0  4  10-07T17
`

// ofOctober reads the month. What is under way has one spell since it was sent; what ended
// has one until then.
func ofOctober(t *testing.T) (all []measure.Facts) {
	at := func(text string) int64 {
		if text == "-" {
			return 0
		}
		return coretest.At(t, "2026-"+strings.Replace(text, "T", " ", 1)+":00").Unix()
	}
	for _, line := range strings.Split(strings.TrimSpace(october), "\n") {
		var number, used, asking, back int64
		var sent, delivered, closed, end, kept, rated, due string
		_, err := fmt.Sscan(line, &number, &sent, &delivered, &closed, &end, &kept, &used, &asking, &back, &rated, &due)
		require.NoError(t, err, line)
		r := measure.Request{Number: number, Sending: measure.Sending{Offering: "badge", Version: 1, Service: "access", Asker: fmt.Sprint("p", number), Sent: at(sent)}}
		r.Delivered, r.Closed, r.Due, r.Used, r.Asking, r.Backs = at(delivered), at(closed), at(due), used*3600, asking*3600, int(back)
		r.Status = request.Closed
		switch end {
		case "deliver":
			r.Status = request.Delivering
		case "decide":
			r.Status = request.Deciding
		default:
			r.Outcome = request.Outcome(end)
		}
		switch kept {
		case "kept", "missed", "over":
			r.Kept = measure.Kept(kept)
		}
		f := measure.Facts{Request: r, Spells: []measure.Spell{{Number: number, From: r.Sent, Until: r.Closed, Status: request.Delivering, Due: r.Due, Late: r.Due}}}
		if rated != "-" {
			var stars int
			_, err := fmt.Sscan(rated, &stars)
			require.NoError(t, err)
			f.Ratings = []measure.Rating{{Number: number, Person: r.Asker, At: r.Closed, Stars: stars}}
		}
		all = append(all, f)
	}
	return all
}

func TestOctoberByHand(t *testing.T) {
	facts := ofOctober(t)
	require.GreaterOrEqual(t, len(facts), 20)
	columns := measure.NewColumns("EUR")
	columns.Put(facts...)
	ask := func(now, period string, figures ...string) map[string]measure.Value {
		at := coretest.At(t, now)
		p, err := measure.ParsePeriod(period, calendar.DateOf(at), time.January)
		require.NoError(t, err)
		q := measure.Question{Period: p}
		for _, key := range figures {
			q.Wanted = append(q.Wanted, measure.Wanted{Figure: key})
		}
		series, err := columns.View().Ask(q, measure.Circumstances{Now: at, Zone: time.UTC, Sight: measure.Sight{All: true}})
		require.NoError(t, err)
		out := map[string]measure.Value{}
		for _, s := range series {
			out[s.Figure] = s.Total
		}
		return out
	}
	got := ask("2026-11-10 09:00", "2026-10", "asked", "ended", "open", "overdue", "oldest", "kept", "keptOfDue", "well", "declined", "withdrawn", "sentBack", "done", "used", "asking", "rating", "rated")
	share := func(key string, part, of int64) {
		assert.Equal(t, of, got[key].Records, key)
		assert.Equal(t, part, got[key].Part, key)
		assert.InDelta(t, float64(part)/float64(of), *got[key].Number, 1e-9, key)
	}
	assert.EqualValues(t, 19, got["asked"].Records, "all but the three of September")
	assert.EqualValues(t, 15, got["ended"].Records, "1 to 11, 15, 17, 18 and 22")
	// Under way when October ended: 12, 13, 14, 16, 19, 20 and 21.
	assert.EqualValues(t, 7, got["open"].Records)
	// Of these past their time by then: 12, 19 and 20.
	assert.EqualValues(t, 3, got["overdue"].Records)
	assert.InDelta(t, float64(coretest.At(t, "2026-11-01 00:00").Unix()-coretest.At(t, "2026-10-12 09:00").Unix()), *got["oldest"].Number, 0.5, "12 is the oldest")
	// Delivered in October, fulfilled, with a promise: 1, 2, 3, 6, 9, 11, 15, 17, 18, 19 and 22.
	share("kept", 7, 11)
	// Due in October and fulfilled: 1, 2, 3, 6, 9, 11, 15, 17, 18, 19, 20, 22; and 12, which is late still.
	share("keptOfDue", 7, 13)
	share("well", 11, 15) // 1, 2, 3, 6, 9, 10, 11, 15, 17, 18, 22
	share("declined", 1, 15)
	share("withdrawn", 1, 15)
	share("sentBack", 2, 14) // of 1, 2, 3, 6, 8, 9, 10, 11, 14, 15, 17, 18, 19 and 22
	// Hours used of 2, 6, 8, 8 … sorted: 2 6 8 10 12 14 18 20 30 44 50 60 70 of 1, 2, 3, 6, 8, 9, 11, 14, 15, 17, 18, 19, 22.
	assert.EqualValues(t, 13, got["used"].Records)
	assert.InDelta(t, 18*3600, *got["used"].Number, 0.5, "the seventh of thirteen")
	assert.InDelta(t, (44+0.6*(50-44))*3600, *got["used"].P80, 0.5, "rank 1 + 12 × 0.8 = 10.6")
	assert.InDelta(t, (60+0.4*(70-60))*3600, *got["used"].P95, 0.5, "rank 1 + 12 × 0.95 = 12.4")
	assert.InDelta(t, 84.0/13*3600, *got["asking"].Mean, 0.5, "4 and 80 hours in thirteen")
	assert.EqualValues(t, 14, got["done"].Records)
	// Ratings of what was closed in October: 5 2 4 3 1 5 4 5 4.
	assert.EqualValues(t, 9, got["rating"].Records)
	assert.InDelta(t, 33.0/9, *got["rating"].Number, 1e-9)
	share("rated", 9, 11)

	// Asked again three weeks later, and a year later, what was under way and late then is the same.
	for _, later := range []string{"2026-11-22 09:00", "2027-10-01 09:00"} {
		again := ask(later, "2026-10", "open", "overdue", "oldest")
		for _, key := range []string{"open", "overdue", "oldest"} {
			assert.Equal(t, got[key], again[key], "%s as of %s", key, later)
		}
	}
	// On the evening of the 13th: 18 was closed that morning, and 11 waits to be closed.
	then := ask("2026-10-13 18:00", "2026-10", "open", "overdue")
	assert.EqualValues(t, 6, then["open"].Records, "6, 7, 9, 11, 12 and 13")
	assert.EqualValues(t, 2, then["overdue"].Records, "6 and 7, whose spells say so")
	// In December there is nothing yet: counts are 0, all else is none.
	none := ask("2026-11-10 09:00", "2026-12", "asked", "kept", "done", "open")
	assert.Zero(t, *none["asked"].Number)
	assert.Nil(t, none["kept"].Number)
	assert.Nil(t, none["done"].Number)
}
