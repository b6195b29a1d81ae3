package measure_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/measure/measuretest"
)

// everything asks for all figures of the columns, each by one of the sides it takes.
func everything(t require.TestingT, v *measure.View) map[string]measure.Value {
	p, err := measure.ParsePeriod("2023-01-01/2026-12-31", calendar.Date{}, time.January)
	require.NoError(t, err)
	q := measure.Question{Period: p}
	sides := measure.ByMonth.All()
	for i, f := range measure.Figures {
		if f.Subject == measure.OfSearches || f.Subject == measure.OfForms {
			continue
		}
		for !f.Takes(sides[i%len(sides)]) {
			i++
		}
		q.Wanted = append(q.Wanted, measure.Wanted{Figure: f.Key, By: []measure.Side{sides[i%len(sides)]}})
	}
	all, err := v.Ask(q, measure.Circumstances{Now: time.Unix(measuretest.Start+measuretest.Years*365*86400, 0), Zone: time.UTC, Area: area, Sight: measure.Sight{All: true}})
	require.NoError(t, err)
	told := map[string]measure.Value{}
	for _, s := range all {
		told[s.Figure] = s.Total
		for i, key := range s.Keys[0] {
			told[s.Figure+" of "+key] = s.Cells[i]
		}
	}
	return told
}

func TestSnapshotTellsTheSame(t *testing.T) {
	columns := measure.NewColumns("EUR")
	more := []measure.Facts{}
	measuretest.Company(6_000, func(f measure.Facts) {
		if columns.Put(f); f.Request.Number%100 == 7 {
			f.Request.Offering, f.Request.Department = "another", "nobody knew it"
			more = append(more, f)
		}
	})
	var file bytes.Buffer
	require.NoError(t, columns.View().WriteSnapshot(&file, "the mark"))
	again, mark, err := measure.ReadSnapshot(bytes.NewReader(file.Bytes()), "EUR")
	require.NoError(t, err)
	assert.Equal(t, "the mark", mark)
	assert.Equal(t, everything(t, columns.View()), everything(t, again.View()))
	columns.Put(more...)
	again.Put(more...) // what has happened since
	assert.Equal(t, everything(t, columns.View()), everything(t, again.View()))
}

func TestSnapshotThatIsOfNoUse(t *testing.T) {
	columns := measure.NewColumns("EUR")
	measuretest.Company(300, func(f measure.Facts) { columns.Put(f) })
	var file bytes.Buffer
	require.NoError(t, columns.View().WriteSnapshot(&file, ""))
	whole := file.Bytes()
	_, _, err := measure.ReadSnapshot(bytes.NewReader(whole), "USD")
	require.ErrorIs(t, err, measure.ErrSnapshot)
	for _, length := range []int{0, 5, 15, 18, 200, len(whole) / 2, len(whole) - 1} {
		_, _, err := measure.ReadSnapshot(bytes.NewReader(whole[:length]), "EUR")
		require.ErrorIs(t, err, measure.ErrSnapshot, "%d bytes of it", length)
	}
	for at := 3; at < len(whole); at += 997 {
		damaged := bytes.Clone(whole)
		damaged[at] ^= 0x10
		_, _, err := measure.ReadSnapshot(bytes.NewReader(damaged), "EUR")
		require.ErrorIs(t, err, measure.ErrSnapshot, "damaged at %d", at)
	}
}

func FuzzReadSnapshot(f *testing.F) {
	columns := measure.NewColumns("EUR")
	measuretest.Company(3, func(f measure.Facts) { columns.Put(f) })
	var file bytes.Buffer
	require.NoError(f, columns.View().WriteSnapshot(&file, ""))
	f.Add(file.Bytes())
	f.Fuzz(func(t *testing.T, file []byte) {
		if columns, _, err := measure.ReadSnapshot(bytes.NewReader(file), "EUR"); err == nil {
			columns.View()
		}
	})
}
