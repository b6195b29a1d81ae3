package work_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// BenchmarkDeliverList is the first page of a team with 20,000 open tasks, in
// each order; the aim by latest start is 50 ms.
func BenchmarkDeliverList(b *testing.B) {
	o := demotest.New(b)
	require.NoError(b, demotest.AddMany(ctx, o.Store, o.Clock.Now(), 20_000, nil))
	for name, q := range map[string]store.Tasks{
		"latest start": {}, "due": {Sort: "due"}, "ready": {Sort: "ready"}, "late": {Late: true, Now: o.Clock.Now()}, "found": {Words: "place 19999"},
	} {
		q.Limit = 50
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				entries, err := o.Delivering.Tasks(ctx, demo.ID("marrec"), q)
				if err != nil || len(entries) == 0 {
					b.Fatal(len(entries), err)
				}
			}
		})
	}
}

// BenchmarkFind looks among 20,000 requests, as somebody with a task in each,
// and as somebody with none.
func BenchmarkFind(b *testing.B) {
	o := demotest.New(b)
	require.NoError(b, demotest.AddMany(ctx, o.Store, o.Clock.Now(), 20_000, nil))
	for name, w := range map[string]store.Wanted{"words": {Words: "sarmento 19999"}, "a reference": {Words: "QS-10409-P"}, "a standing": {Standing: store.BeingDone}} {
		for _, login := range []string{"marrec", "castelo"} {
			b.Run(name+" by "+login, func(b *testing.B) {
				for b.Loop() {
					_, err := o.Following.Find(ctx, demo.ID(login), w)
					require.NoError(b, err)
				}
			})
		}
	}
	for _, login := range []string{"marrec", "castelo"} {
		b.Run("all under way by "+login, func(b *testing.B) {
			for b.Loop() {
				_, err := o.Following.Overview(ctx, demo.ID(login))
				require.NoError(b, err)
			}
		})
	}
}

// BenchmarkDueEffects drains 10,000 timers that are due at once, and beside it
// lets bare SQLite mark as many rows, each in a transaction of its own.
func BenchmarkDueEffects(b *testing.B) {
	const n = 10_000
	var ours, theirs time.Duration
	for range b.N {
		o := demotest.New(b)
		require.NoError(b, demotest.AddMany(ctx, o.Store, o.Clock.Now(), n, func(id string) []request.Effect {
			return []request.Effect{{Kind: request.TickTimer, Key: id + "/tick", At: o.Clock.Now()}}
		}))
		began := time.Now()
		for drained := 0; drained < n; {
			ran, err := o.Running.RunDue(ctx)
			require.NoError(b, err)
			require.NotZero(b, ran)
			drained += ran
		}
		ours += time.Since(began)

		f := newBare(b, o)
		_, err := f.db.Exec("CREATE TABLE timers (key TEXT PRIMARY KEY, state TEXT NOT NULL) STRICT, WITHOUT ROWID")
		require.NoError(b, err)
		tx, err := f.db.Begin()
		require.NoError(b, err)
		for i := range n {
			_, err := tx.Exec("INSERT INTO timers VALUES (?, 'running')", i)
			require.NoError(b, err)
		}
		require.NoError(b, tx.Commit())
		began = time.Now()
		for i := range n {
			tx, err := f.db.Begin()
			require.NoError(b, err)
			_, err = tx.Exec("UPDATE timers SET state = 'done' WHERE key = ?", i)
			require.NoError(b, err)
			require.NoError(b, tx.Commit())
		}
		theirs += time.Since(began)
	}
	b.ReportMetric(float64(theirs)/float64(ours), "of-bare-rate")
	b.ReportMetric(float64(n*b.N)/ours.Seconds(), "effects/s")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkWholeLife takes a request of nine tasks from sending to its
// confirmation, and beside it, turn by turn, lets bare SQLite write the same
// rows in the same number of transactions. The aim is a third of the rate.
func BenchmarkWholeLife(b *testing.B) {
	o := demotest.New(b)
	tasks := make([]plan.Task, 9)
	for i := range tasks {
		tasks[i] = plan.Task{Key: fmt.Sprintf("t%d", i), Name: fmt.Sprintf("Step %d", i), Kind: plan.Manual, Team: "keys-badges"}
		if i > 1 {
			tasks[i].After = []string{fmt.Sprintf("t%d", i-2)}
		}
	}
	publish(b, o, "nine", tasks...)
	file := newBare(b, o)
	var ours, theirs time.Duration
	transactions := 0
	for b.Loop() {
		draft, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "nine", form.Answers{}, offering.Beneficiary{})
		require.NoError(b, err)
		bare := file.begin(b, "nine", draft.Draft)
		step := func(do func() (request.State, error)) {
			began := time.Now()
			state, err := do()
			ours += time.Since(began)
			require.NoError(b, err)
			theirs += bare.write(b, state)
			transactions++
		}
		step(func() (request.State, error) {
			return o.Asking.Submit(ctx, demo.ID("castelo"), draft.Draft, request.Submit{Answers: draft.Answers})
		})
		for i := range tasks {
			for _, c := range []request.Command{request.Take{Task: tasks[i].Key}, request.Complete{Task: tasks[i].Key}} {
				step(func() (request.State, error) { return o.Do(ctx, demo.ID("marrec"), draft.Draft, c) })
			}
		}
		step(func() (request.State, error) { return o.Do(ctx, demo.ID("castelo"), draft.Draft, request.Confirm{}) })
	}
	b.ReportMetric(float64(theirs)/float64(ours), "of-bare-rate")
	b.ReportMetric(float64(ours.Milliseconds())/float64(b.N), "ms/life")
	b.ReportMetric(float64(transactions)/float64(b.N), "transactions/life")
	b.ReportMetric(0, "ns/op")
}

// life writes what became of one request with bare SQLite.
type life struct {
	bare
	offering, id string
	sent         bool
	tasks        map[string]plan.State
	seen         map[string]bool // rows of the tables below as they were written
}

// beside are the tables that are written beside the request, with what finds
// the rows of one; what others point at goes first.
var beside = [][2]string{
	{"events", "request = ?1"}, {"message_words", "request = ?1"}, {"messages", "words IN (SELECT id FROM message_words WHERE request = ?1)"},
	{"effects", "request = ?1"}, {"seats", "request = ?1"}, {"measures", "offering = ?2"},
}

// insert is a row of such a table, ready to be written.
type insert struct {
	query string
	args  []any
}

// added are the rows that are new or other since the last time.
func (l *life) added(b *testing.B) (all []insert) {
	for _, of := range beside {
		table, where := of[0], of[1]
		rows, err := l.from.Query("SELECT * FROM "+table+" WHERE "+where+" AND ?1 <> ?2", l.id, l.offering)
		require.NoError(b, err)
		columns, err := rows.Columns()
		require.NoError(b, err)
		for rows.Next() {
			row := make([]any, len(columns))
			into := make([]any, len(columns))
			for i := range row {
				into[i] = &row[i]
			}
			require.NoError(b, rows.Scan(into...))
			if key := fmt.Sprint(table, row); !l.seen[key] {
				l.seen[key] = true
				all = append(all, insert{"INSERT OR REPLACE INTO " + table + " VALUES (?" + strings.Repeat(",?", len(row)-1) + ")", row})
			}
		}
		require.NoError(b, rows.Close())
	}
	return all
}

// begin writes the draft of a request, untimed.
func (f bare) begin(b *testing.B, offering, id string) *life {
	_, err := f.db.Exec("INSERT INTO requests (id, offering, title, service, asker, status, outcome, seq, changed_at, state) VALUES (?,?,'','',?,'draft','',1,0,x'')", id, offering, demo.ID("castelo"))
	require.NoError(b, err)
	_, err = f.db.Exec("INSERT INTO drafts (request, answers, saved_at) VALUES (?,'{}',0)", id)
	require.NoError(b, err)
	l := &life{bare: f, offering: offering, id: id, tasks: map[string]plan.State{}, seen: map[string]bool{}}
	l.added(b)
	return l
}

// write writes what is new since the last time, in one transaction.
func (l *life) write(b *testing.B, s request.State) time.Duration {
	state, brief := l.written(b, s.ID)
	added := l.added(b)
	began := time.Now()
	tx, err := l.db.Begin()
	require.NoError(b, err)
	do := func(query string, args ...any) {
		_, err := tx.Exec(query, args...)
		require.NoError(b, err)
	}
	if !l.sent {
		l.sent = true
		do("INSERT INTO counters (name, value) VALUES ('reference', 1) ON CONFLICT (name) DO UPDATE SET value = value + 1")
		do("DELETE FROM drafts WHERE request = ?", l.id)
	}
	do("UPDATE requests SET reference = ?, title = ?, service = ?, status = ?, outcome = ?, seq = ?, changed_at = ?, state = ?, brief = ? WHERE id = ?", s.Reference, s.Title, s.Service, s.Status, s.Outcome, s.Seq, 1, state, brief, l.id)
	for _, t := range s.Tasks {
		if l.tasks[t.Key] != t.State {
			do("INSERT OR REPLACE INTO tasks (request, key, team, kind, state, holder, since) VALUES (?,?,?,?,?,?,?)", l.id, t.Key, t.Team, t.Kind, t.State, t.Holder, 1)
		}
	}
	for _, row := range added {
		do(row.query, row.args...)
	}
	require.NoError(b, tx.Commit())
	took := time.Since(began)
	for _, t := range s.Tasks {
		l.tasks[t.Key] = t.State
	}
	return took
}
