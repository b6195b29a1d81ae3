package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"syscall"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/core/measure"
	"heptad/internal/core/request"
)

// Inspection looks into a data folder and changes nothing of it, whether a Heptad
// runs on it or not.
type Inspection struct {
	db  *sqlx.DB
	dir string
}

// Inspect opens a data folder to look into it. It is an error when there is no data
// file that can be read.
func Inspect(ctx context.Context, dir string) (*Inspection, error) {
	path := filepath.Join(dir, "heptad.db")
	if info, err := os.Stat(path); errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("there is no data file in %s", dir)
	} else if err != nil {
		return nil, err
	} else if info.Size() == 0 {
		return nil, fmt.Errorf("the data file in %s is empty", dir)
	}
	db, err := sqlx.ConnectContext(ctx, "sqlite", "file:"+path+"?mode=ro&_pragma=query_only(1)&_pragma=busy_timeout(5000)")
	if err != nil {
		return nil, fmt.Errorf("the data file %s cannot be opened: %w", path, err)
	}
	return &Inspection{db, dir}, nil
}

// Close ends it.
func (i *Inspection) Close() error { return i.db.Close() }

// Version is that of the data file, and the one this program makes of it: a file of a
// later one was written by a newer program.
func (i *Inspection) Version(ctx context.Context) (file, program int, err error) {
	names, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil {
		return 0, 0, err
	}
	return file, len(names) + len(inGo), i.db.GetContext(ctx, &file, "SELECT coalesce(max(version_id), 0) FROM goose_db_version WHERE is_applied = 1")
}

// Damage is what SQLite finds wrong with the file itself, at most so many lines.
func (i *Inspection) Damage(ctx context.Context, limit int) ([]string, error) {
	var lines []string
	if err := i.db.SelectContext(ctx, &lines, fmt.Sprintf("PRAGMA integrity_check(%d)", limit)); err != nil {
		return nil, err
	}
	if len(lines) == 1 && lines[0] == "ok" {
		return nil, nil
	}
	return lines, nil
}

// Dangling names the rows that point at what is not there, by their table and that of
// what they point at; at most so many.
func (i *Inspection) Dangling(ctx context.Context, limit int) ([]string, error) {
	var names []string
	err := i.db.SelectContext(ctx, &names, `SELECT "table" || ' ' || coalesce(rowid, '') || ' points at nothing in ' || parent FROM pragma_foreign_key_check LIMIT ?`, limit)
	return names, err
}

// Kept is a request as it stands in the file: its state, and its history.
type Kept struct {
	ID     string
	Name   string // its reference; the ID of a draft
	Status request.Status
	State  request.State
	Events []request.Event
	Err    error // why state or history cannot be read

	Facts    measure.Facts // that are kept of it for measuring, if Measured
	Measured bool
}

// Requests reads requests whole, by their IDs after one; at most so many.
func (i *Inspection) Requests(ctx context.Context, after string, limit int) ([]Kept, error) {
	tx, err := i.db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true}) // state and history of one instant
	if err != nil {
		return nil, err
	}
	defer func() { _ = tx.Rollback() }()
	var rows []struct {
		ID, Name string
		State    unpacked
		Status   request.Status
	}
	if err := sqlx.SelectContext(ctx, tx, &rows, "SELECT id, coalesce(reference, id) AS name, status, state FROM requests WHERE id > ? ORDER BY id LIMIT ?", after, limit); err != nil {
		return nil, err
	}
	all := make([]Kept, len(rows))
	for n, r := range rows {
		k := Kept{ID: r.ID, Name: r.Name, Status: r.Status}
		k.Events, k.Err = readsOf(tx).Events(ctx, r.ID)
		k.Err = errors.Join(k.Err, json.Unmarshal([]byte(r.State), &k.State))
		if number := request.Number(r.Name); number > 0 {
			if k.Facts, k.Measured, err = readsOf(tx).FactsOf(ctx, number); err != nil {
				return nil, err
			}
		}
		all[n] = k
	}
	return all, nil
}

// Strays names the effects that are still to be brought about and are of no task of
// their request; at most so many.
func (i *Inspection) Strays(ctx context.Context, limit int) ([]string, error) {
	var keys []string
	err := i.db.SelectContext(ctx, &keys, `SELECT e.key FROM effects e LEFT JOIN requests r ON r.id = e.request
		WHERE e.state <> 'done' AND CASE WHEN r.id IS NULL THEN 1 WHEN e.task = '' OR NOT json_valid(unpacked(r.state)) THEN 0
			ELSE NOT EXISTS (SELECT 1 FROM json_each(unpacked(r.state), '$.tasks') t WHERE t.value ->> 'key' = e.task) END
		ORDER BY e.key LIMIT ?`, limit)
	return keys, err
}

// Attachment is a file on a request, and what is wrong with its content, if anything.
type Attachment struct {
	ID, Request string
	Wrong       string
}

// Attachments looks at the content of files by their IDs after one; at most so many.
func (i *Inspection) Attachments(ctx context.Context, after string, limit int) ([]Attachment, error) {
	var rows []struct {
		ID, Request string
		Size        int64
	}
	if err := i.db.SelectContext(ctx, &rows, "SELECT id, request, size FROM uploads WHERE id > ? ORDER BY id LIMIT ?", after, limit); err != nil {
		return nil, err
	}
	all := make([]Attachment, len(rows))
	for n, r := range rows {
		all[n] = Attachment{ID: r.ID, Request: r.Request}
		switch info, err := os.Stat(filepath.Join(i.dir, uploadsFolder, filepath.Base(r.ID))); {
		case errors.Is(err, fs.ErrNotExist):
			all[n].Wrong = "its content is gone"
		case err != nil:
			all[n].Wrong = err.Error()
		case info.Size() != r.Size:
			all[n].Wrong = fmt.Sprintf("its content has %d bytes and not %d", info.Size(), r.Size)
		}
	}
	return all, nil
}

// LastChange is when the newest event happened; zero when there is none.
func (i *Inspection) LastChange(ctx context.Context) (time.Time, error) {
	var at sql.NullInt64
	if err := i.db.GetContext(ctx, &at, "SELECT max(at) FROM events"); err != nil || !at.Valid {
		return time.Time{}, err
	}
	return instant(at.Int64), nil
}

// Room is how much room the disk has left, and the least with which work is taken, in
// bytes.
func (i *Inspection) Room() (left, least uint64, err error) {
	var fs syscall.Statfs_t
	if err := syscall.Statfs(i.dir, &fs); err != nil {
		return 0, 0, err
	}
	return fs.Bavail * uint64(fs.Bsize), leastRoom, nil
}

// FactsMade says which form the facts have, and how far they are made anew.
func (i *Inspection) FactsMade(ctx context.Context) (FactsMade, error) {
	return ofRequests{queries{i.db}}.FactsMade(ctx)
}

// Facts reads the facts of requests with a number above one, at most so many.
func (i *Inspection) Facts(ctx context.Context, after int64, limit int) ([]measure.Facts, error) {
	return ofRequests{queries{i.db}}.Facts(ctx, after, limit)
}
