package store

import (
	"context"
	"database/sql"
	"io/fs"
	"os"
	"strconv"
	"time"

	"github.com/pressly/goose/v3"
)

// LimitPages lets the disk be full beyond so many pages of the file; 0 for as
// many as it has now.
func (s *Store) LimitPages(ctx context.Context, pages int) error {
	if pages == 0 {
		if err := s.writer.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
			return err
		}
	}
	var limit int
	return s.writer.GetContext(ctx, &limit, "PRAGMA max_page_count = "+strconv.Itoa(pages))
}

// UpTo makes a data file as a program of before made it.
func UpTo(ctx context.Context, db *sql.DB, version int64) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	files, err := goose.NewProvider(goose.DialectSQLite3, db, sub, goose.WithGoMigrations(inGo...))
	if err != nil {
		return err
	}
	_, err = files.UpTo(ctx, version)
	return err
}

// Disk has another disk take what is written ahead.
func (s *Store) Disk(takes func() error) {
	s.durable.sync = func(*os.File) error { return takes() }
}

// PutAside is SetAside inside a transaction.
func (t *Tx) PutAside(a Aside) error {
	return t.exec("INSERT INTO set_aside (lane, id, reason, at) VALUES (?,?,?,?)", a.Lane, a.ID, a.Reason, millis(a.At))
}

// Coming waits until so many wait for their turn to write.
func (s *Store) Coming(n int) {
	for s.turns.coming.Load() != int32(n) {
		time.Sleep(time.Millisecond)
	}
}

// GoOnLong lets others go on in what is open however long ago it began.
func (s *Store) GoOnLong() { s.turns.longest = time.Hour }

// Standings are those of the statuses under way.
var Standings = standings
