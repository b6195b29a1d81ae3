package work_test

import (
	"database/sql"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// BenchmarkSubmission sends a request with all its rows, and beside it, turn
// by turn, lets bare SQLite write the same rows in one transaction on a file
// of the same schema and settings. It reports Heptad's rate as a share of the
// bare one; the aim is a half.
func BenchmarkSubmission(b *testing.B) {
	office := demotest.New(b)
	file := newBare(b, office)
	var ours, theirs time.Duration
	for b.Loop() {
		draft, err := office.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", demotest.Parking("covered"), offering.Beneficiary{})
		require.NoError(b, err)
		bare := file.begin(b, "berth-side-parking", draft.Draft)
		began := time.Now()
		state, err := office.Asking.Submit(ctx, demo.ID("castelo"), draft.Draft, request.Submit{Answers: draft.Answers})
		ours += time.Since(began)
		require.NoError(b, err)
		theirs += bare.write(b, state)
	}
	b.ReportMetric(float64(theirs)/float64(ours), "of-bare-rate")
	b.ReportMetric(float64(ours.Microseconds())/float64(b.N), "µs/submission")
	b.ReportMetric(float64(theirs.Microseconds())/float64(b.N), "µs/bare")
	b.ReportMetric(0, "ns/op")
}

// bare is a file of the same schema that bare SQLite writes, beside that of an
// office.
type bare struct {
	db   *sql.DB
	from *sql.DB // what the office has written
}

func newBare(b *testing.B, o *demotest.Office) bare {
	dir := b.TempDir()
	kept, err := store.Open(ctx, dir)
	require.NoError(b, err)
	company, err := demo.Company()
	require.NoError(b, err)
	require.NoError(b, kept.Write(ctx, func(tx *store.Tx) error { return tx.AddCompany(company) }))
	require.NoError(b, kept.Close())
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?_txlock=immediate&_pragma=foreign_keys(1)&_pragma=synchronous(FULL)&_pragma=journal_mode(WAL)")
	require.NoError(b, err)
	db.SetMaxOpenConns(1)
	b.Cleanup(func() { _ = db.Close() })
	from, err := sql.Open("sqlite", "file:"+filepath.Join(o.Dir, "heptad.db")+"?mode=ro")
	require.NoError(b, err)
	b.Cleanup(func() { _ = from.Close() })
	return bare{db, from}
}

// written reads how a request stands in the file: its state and its brief.
func (f bare) written(b *testing.B, id string) (state, brief []byte) {
	require.NoError(b, f.from.QueryRow("SELECT state, brief FROM requests WHERE id = ?", id).Scan(&state, &brief))
	return state, brief
}
