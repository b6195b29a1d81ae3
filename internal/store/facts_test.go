package store_test

import (
	"context"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/measure/measuretest"
	"heptad/internal/store"
)

// counted is what SQL counts of a figure, by service.
type counted struct {
	Service     string
	Records     int64
	Part        int64
	Sum, Middle float64
}

// Of requests, tasks, decisions and spells between two instants, ?1 and ?2: a row for each
// that a figure counts, with its service, whether it is in the part, and its value.
var bySQL = map[string]string{
	"asked":        "SELECT service, 0 AS part, 0 AS value FROM facts_requests WHERE sent >= ?1 AND sent < ?2",
	"ended":        "SELECT service, 0, 0 FROM facts_requests WHERE closed >= ?1 AND closed < ?2",
	"kept":         "SELECT service, kept = 'kept', 0 FROM facts_requests WHERE outcome = 'fulfilled' AND kept IN ('kept', 'missed') AND delivered >= ?1 AND delivered < ?2",
	"well":         "SELECT service, outcome = 'fulfilled', 0 FROM facts_requests WHERE closed >= ?1 AND closed < ?2",
	"done":         "SELECT service, 0, delivered - sent FROM facts_requests WHERE delivered >= ?1 AND delivered < ?2",
	"used":         "SELECT service, 0, used FROM facts_requests WHERE kept IN ('kept', 'missed') AND delivered >= ?1 AND delivered < ?2",
	"working":      "SELECT service, 0, used - deciding FROM facts_requests WHERE kept IN ('kept', 'missed') AND delivered >= ?1 AND delivered < ?2",
	"response":     "SELECT service, 0, response_used FROM facts_requests WHERE response_target > 0 AND sent >= ?1 AND sent < ?2",
	"sentBack":     "SELECT service, backs > 0, 0 FROM facts_requests WHERE delivered >= ?1 AND delivered < ?2",
	"led":          "SELECT service, EXISTS (SELECT 1 FROM facts_requests o WHERE ' ' || o.came || ' ' LIKE '% ' || r.number || ' %'), 0 FROM facts_requests r WHERE sent >= ?1 AND sent < ?2",
	"sure":         "SELECT service, delivered <= sure, 0 FROM facts_requests WHERE likely > 0 AND delivered >= ?1 AND delivered < ?2",
	"cost":         "SELECT service, 0, iif(currency = 'EUR', cost, 0) FROM facts_requests WHERE sent >= ?1 AND sent < ?2",
	"real":         "SELECT service, 0, real FROM facts_requests WHERE real_known AND currency = 'EUR' AND closed >= ?1 AND closed < ?2",
	"tasks":        "SELECT service, 0, 0 FROM facts_tasks t JOIN facts_requests r USING (number) WHERE t.kind IN ('manual', 'automatic') AND t.how IN ('done', 'undone') AND t.ended >= ?1 AND t.ended < ?2",
	"taskInTime":   "SELECT service, t.late = 0, 0 FROM facts_tasks t JOIN facts_requests r USING (number) WHERE t.kind IN ('manual', 'automatic') AND t.how IN ('done', 'undone') AND t.due > 0 AND t.ended >= ?1 AND t.ended < ?2",
	"taskTook":     "SELECT service, 0, t.waited + t.worked FROM facts_tasks t JOIN facts_requests r USING (number) WHERE (t.kind = 'manual' OR t.kind = 'automatic' AND t.person <> '') AND t.how IN ('done', 'undone') AND t.ended >= ?1 AND t.ended < ?2",
	"automatic":    "SELECT service, t.kind = 'automatic' AND t.person = '', 0 FROM facts_tasks t JOIN facts_requests r USING (number) WHERE t.kind IN ('manual', 'automatic') AND t.how IN ('done', 'undone') AND t.ended >= ?1 AND t.ended < ?2",
	"decisionTime": "SELECT service, 0, g.open FROM facts_rungs g JOIN facts_requests r USING (number) WHERE g.ended >= ?1 AND g.ended < ?2",
	"passed":       "SELECT service, g.outcome = 'passed', 0 FROM facts_rungs g JOIN facts_requests r USING (number) WHERE g.ended >= ?1 AND g.ended < ?2",
	"open":         "SELECT service, 0, 0 FROM facts_spells s JOIN facts_requests r USING (number) WHERE s.from_at < ?2 AND (s.until_at = 0 OR s.until_at >= ?2)",
	"overdue":      "SELECT service, 0, 0 FROM facts_spells s JOIN facts_requests r USING (number) WHERE s.from_at < ?2 AND (s.until_at = 0 OR s.until_at >= ?2) AND s.late > 0 AND s.late < ?2",
}

// The columns count what SQL counts over the facts they were read from.
func TestColumnsCountAsSQL(t *testing.T) {
	ctx := context.Background()
	kept, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer func() { require.NoError(t, kept.Close()) }()
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	given := measuretest.Random(rand.New(rand.NewPCG(5, 8)), 9_000, 1_500, start.Unix(), start.AddDate(0, 10, 0).Unix())
	require.NoError(t, kept.Write(ctx, func(tx *store.Tx) error {
		for _, f := range given {
			if err := tx.ReplaceFacts(f); err != nil {
				return err
			}
		}
		return nil
	}))
	read, err := kept.Facts(ctx, 0, len(given)+1)
	require.NoError(t, err)
	assert.Equal(t, given, read, "facts are read as they were kept")
	columns := measure.NewColumns(measuretest.Currency)
	columns.Put(read...)
	db := sqlx.NewDb(kept.Writer(), "sqlite")
	c := measure.Circumstances{Now: start.AddDate(2, 0, 0), Zone: time.UTC, Sight: measure.Sight{All: true}}
	for _, text := range []string{"2026", "2026-05", "2026-02-10/2026-08-03"} {
		p, err := measure.ParsePeriod(text, calendar.DateOf(c.Now), time.January)
		require.NoError(t, err)
		from, until := p.From.In(time.UTC).Unix(), p.Until.In(time.UTC).Unix()
		for figure, query := range bySQL {
			series, err := columns.View().Ask(measure.Question{Period: p, Wanted: []measure.Wanted{{Figure: figure, By: []measure.Side{measure.ByService}}}}, c)
			require.NoError(t, err)
			var rows []counted
			require.NoError(t, db.Select(&rows, "WITH x(service, part, value) AS ("+query+") SELECT service, count(*) AS records, sum(part) AS part, sum(value) AS sum, 0 AS middle FROM x GROUP BY service", from, until), figure)
			byService := map[string]counted{}
			for _, row := range rows {
				// the middle one by rank 1 + (n - 1) / 2
				require.NoError(t, db.Get(&row.Middle, "WITH x(service, part, value) AS ("+query+"), y AS (SELECT value, row_number() OVER (ORDER BY value) AS n FROM x WHERE service = ?3) SELECT avg(value) FROM y WHERE n IN ((?4 + 1) / 2, (?4 + 2) / 2)", from, until, row.Service, row.Records), figure)
				byService[row.Service] = row
			}
			f, _ := measure.FigureOf(figure)
			for i, service := range series[0].Keys[0] {
				got, want := series[0].Cells[i], byService[service]
				name := figure + " of " + service + " in " + text
				assert.Equal(t, want.Records, got.Records, name)
				switch {
				case want.Records == 0:
				case f.Unit == measure.Share:
					assert.Equal(t, want.Part, got.Part, name)
				case f.Unit == measure.Money:
					assert.InDelta(t, want.Sum, *got.Number, 0.5, name)
				case f.Unit == measure.Open || f.Unit == measure.Clock:
					assert.InDelta(t, want.Sum/float64(want.Records), *got.Mean, 1e-6*want.Sum+1e-6, name)
					assert.InDelta(t, want.Middle, *got.Number, 1e-6, name)
				}
				delete(byService, service)
			}
			assert.Empty(t, byService, "every service is there: %s in %s", figure, text)
		}
	}
}

// A form is given up when it was thrown away, or nobody has touched it for long.
func TestFormsBegunAndGivenUp(t *testing.T) {
	ctx := context.Background()
	kept, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer func() { require.NoError(t, kept.Close()) }()
	at := time.Date(2026, 11, 2, 9, 7, 0, 0, time.UTC)
	touch := func(draft, question string, after time.Duration) {
		require.NoError(t, kept.Write(ctx, func(tx *store.Tx) error {
			return tx.TouchForm(store.FormTouched{Draft: draft, Offering: "badge", Department: "Fleet", Question: question, At: at.Add(after)})
		}))
	}
	end := func(draft string, sent bool) {
		require.NoError(t, kept.Write(ctx, func(tx *store.Tx) error { return tx.EndForm(draft, at.Add(time.Hour), sent) }))
	}
	for _, draft := range []string{"sent", "thrown away", "left", "gone on with", "of later"} {
		touch(draft, "", 0)
		touch(draft, "port", time.Minute)
	}
	touch("gone on with", "zones", 20*24*time.Hour)
	touch("thrown away", "zones", 2*time.Minute)
	touch("thrown away", "", 3*time.Minute) // a look changes nothing of where it was left
	end("sent", true)
	end("thrown away", false)
	touch("another hour", "port", time.Hour)

	from, until := at.Add(-time.Hour).Unix(), at.Add(30*time.Minute).Unix()
	begun, err := kept.FormsBegun(ctx, from, until, at.Add(10*24*time.Hour).Unix())
	require.NoError(t, err)
	quarter := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC).Unix()
	assert.Equal(t, []measure.Plain{{At: quarter, Department: "Fleet", Offering: "badge", Records: 5, Part: 3}}, begun, "but for the one that was gone on with, and the one that was sent")
	where, err := kept.FormsGivenUp(ctx, from, until, at.Add(10*24*time.Hour).Unix())
	require.NoError(t, err)
	assert.ElementsMatch(t, []store.GivenUpAt{{Offering: "badge", Question: "port", Times: 2}, {Offering: "badge", Question: "zones", Times: 1}}, where)
	require.NoError(t, kept.Write(ctx, func(tx *store.Tx) error { return tx.ForgetOld(at.Add(30 * time.Minute)) }))
	begun, err = kept.FormsBegun(ctx, 0, until, 0)
	require.NoError(t, err)
	assert.Empty(t, begun, "it is kept for a year")
}
