package work_test

import (
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/intake"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// founded is an empty office with one administrator.
func founded(b *testing.B) (*work.Office, string, string) {
	dir := b.TempDir()
	kept, err := store.Open(ctx, dir)
	require.NoError(b, err)
	b.Cleanup(func() { require.NoError(b, kept.Close()) })
	o, err := work.New(ctx, work.Settings{Store: kept, Clock: time.Now, Sealed: make([]byte, 32)})
	require.NoError(b, err)
	link, err := o.Entering.EntryLink(ctx)
	require.NoError(b, err)
	admin, err := o.Entering.MoveIn(ctx, link, work.Newcomer{Name: "Signe Halvorsen", Login: "signe", Password: passphrase})
	require.NoError(b, err)
	return o, admin, dir
}

// BenchmarkReadingPeople reads a sheet of ten thousand people with all of it audited, and
// the same sheet again. Beside it bare SQLite writes as many rows of people in one
// transaction. The aims are ten seconds and three.
func BenchmarkReadingPeople(b *testing.B) {
	file := demotest.CSV(intake.People, demotest.Greenhouses{Size: 10_000}.People())
	var first, again, bare time.Duration
	for b.Loop() {
		o, admin, _ := founded(b)
		reads := func() time.Duration {
			began := time.Now()
			id, err := o.Keeping.AddSheet(ctx, admin, intake.People, "people.csv", file)
			require.NoError(b, err)
			_, err = o.Keeping.DoSheet(ctx, admin, id, false, false)
			require.NoError(b, err)
			return time.Since(began)
		}
		first += reads()
		again += reads()
		bare += bareRows(b, 10_000, len(file)/10_000)
	}
	n := float64(b.N)
	b.ReportMetric(first.Seconds()/n, "s/first")
	b.ReportMetric(again.Seconds()/n, "s/again")
	b.ReportMetric(float64(bare)/float64(first), "of-bare-rate")
	b.ReportMetric(0, "ns/op")
}

// bareRows has bare SQLite write so many rows of so many bytes in one transaction.
func bareRows(b *testing.B, rows, size int) time.Duration {
	db, err := sql.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "bare.db")+"?_pragma=synchronous(FULL)&_pragma=journal_mode(WAL)")
	require.NoError(b, err)
	defer func() { require.NoError(b, db.Close()) }()
	_, err = db.Exec("CREATE TABLE people (id TEXT PRIMARY KEY, line TEXT NOT NULL) STRICT")
	require.NoError(b, err)
	line := strings.Repeat("x", size)
	began := time.Now()
	tx, err := db.Begin()
	require.NoError(b, err)
	for i := range rows {
		_, err := tx.Exec("INSERT INTO people (id, line) VALUES (?,?)", fmt.Sprint(i), line)
		require.NoError(b, err)
	}
	require.NoError(b, tx.Commit())
	return time.Since(began)
}

// BenchmarkEntering signs somebody in by password; beside it the hash alone is compared,
// which bounds it.
func BenchmarkEntering(b *testing.B) {
	o, _, _ := founded(b)
	hash, err := argon2id.CreateHash(passphrase, &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32})
	require.NoError(b, err)
	var ours, theirs time.Duration
	for b.Loop() {
		began := time.Now()
		_, err := o.Entering.Enter(ctx, "signe", work.Proof{Password: passphrase})
		ours += time.Since(began)
		require.NoError(b, err)
		began = time.Now()
		_, err = argon2id.ComparePasswordAndHash(passphrase, hash)
		theirs += time.Since(began)
		require.NoError(b, err)
	}
	b.ReportMetric(float64(theirs)/float64(ours), "of-hash-alone")
	b.ReportMetric(float64(ours.Milliseconds())/float64(b.N), "ms/entry")
	b.ReportMetric(0, "ns/op")
}

// BenchmarkALargeFolder begins with a folder of a hundred thousand requests and ten
// thousand people, keeps it in a file, and makes another folder of that. The aim of
// beginning is a second; the floor of the other two is copying as many bytes.
func BenchmarkALargeFolder(b *testing.B) {
	dir := large(b)
	settings := func(kept *store.Store) work.Settings {
		return work.Settings{Store: kept, Clock: time.Now, Sealed: make([]byte, 32)}
	}
	b.Run("begin", func(b *testing.B) {
		for b.Loop() {
			kept, err := store.Open(ctx, dir)
			require.NoError(b, err)
			o, err := work.New(ctx, settings(kept))
			require.NoError(b, err)
			require.Greater(b, len(o.Company().Persons()), 10_000)
			b.StopTimer()
			require.NoError(b, kept.Close())
			b.StartTimer()
		}
	})
	var kept, restored, copied time.Duration
	var size int64
	b.Run("backup", func(b *testing.B) {
		n := 0
		for b.Loop() {
			n++
			to := filepath.Join(b.TempDir(), fmt.Sprint(n))
			began := time.Now()
			require.NoError(b, store.Backup(ctx, dir, to, ""))
			kept += time.Since(began)
			info, err := os.Stat(to)
			require.NoError(b, err)
			size += info.Size()
			began = time.Now()
			_, err = store.Restore(ctx, to, to+"-back", "", time.Now())
			require.NoError(b, err)
			restored += time.Since(began)
			copied += copyOf(b, to, to+"-copy")
			require.NoError(b, os.RemoveAll(to+"-back"))
		}
		rate := func(took time.Duration) float64 { return float64(size) / 1e6 / took.Seconds() }
		b.ReportMetric(float64(size)/1e6/float64(n), "MB")
		b.ReportMetric(rate(kept), "MB/s-backup")
		b.ReportMetric(rate(restored), "MB/s-restore")
		b.ReportMetric(float64(copied)/float64(kept), "of-copy-backup")
		b.ReportMetric(float64(copied)/float64(restored), "of-copy-restore")
		b.ReportMetric(0, "ns/op")
	})
}

// large is a folder of a hundred thousand requests and ten thousand people, closed.
func large(b *testing.B) string {
	dir := b.TempDir()
	kept, err := store.Open(ctx, dir)
	require.NoError(b, err)
	o, err := work.New(ctx, work.Settings{Store: kept, Clock: time.Now, Sealed: make([]byte, 32)})
	require.NoError(b, err)
	link, err := o.Entering.EntryLink(ctx)
	require.NoError(b, err)
	admin, err := o.Entering.MoveIn(ctx, link, work.Newcomer{Name: "Signe Halvorsen", Login: "signe", Password: passphrase})
	require.NoError(b, err)
	id, err := o.Keeping.AddSheet(ctx, admin, intake.People, "people.csv", demotest.CSV(intake.People, demotest.Greenhouses{Size: 10_000}.People()))
	require.NoError(b, err)
	_, err = o.Keeping.DoSheet(ctx, admin, id, false, false)
	require.NoError(b, err)
	company, err := demo.Company()
	require.NoError(b, err)
	require.NoError(b, kept.Write(ctx, func(tx *store.Tx) error { return tx.AddCompany(company) }))
	require.NoError(b, demotest.AddMany(ctx, kept, time.Now(), 100_000, nil))
	for i := range 650 { // files on requests, a megabyte each: a gigabyte in all
		id, size, err := kept.KeepContent(io.LimitReader(rand.Reader, 1<<20), 1<<20)
		require.NoError(b, err)
		u := store.Upload{Upload: form.Upload{ID: id, Name: "photo.jpg", Size: size}, Request: fmt.Sprintf("many-%d", i)}
		require.NoError(b, kept.Write(ctx, func(tx *store.Tx) error { return tx.AddUpload(u, demo.ID("sarmento"), time.Now()) }))
	}
	require.NoError(b, kept.Close())
	return dir
}

// copyOf copies a file onto the disk and takes the copy away.
func copyOf(b *testing.B, from, to string) time.Duration {
	began := time.Now()
	in, err := os.Open(from)
	require.NoError(b, err)
	defer in.Close()
	out, err := os.Create(to)
	require.NoError(b, err)
	_, err = io.Copy(out, in)
	require.NoError(b, errors.Join(err, out.Sync(), out.Close()))
	took := time.Since(began)
	require.NoError(b, os.Remove(to))
	return took
}
