package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
)

// snapshotFile is the file beside the data that columns are kept in. It is no part of a
// backup: all in it can be made anew.
const snapshotFile = "measure.columns"

// snapshotRoom is how much room the disk must have for one, in bytes, so that work is taken
// while it is written.
const snapshotRoom = 1 << 30

// SaveSnapshot keeps a snapshot in place of the one there is, whole or not at all.
func (s *Store) SaveSnapshot(write func(io.Writer) error) error {
	if s.lacks(snapshotRoom) {
		return ErrFull
	}
	path := filepath.Join(s.dir, snapshotFile)
	out, err := os.OpenFile(path+".part", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return full(err)
	}
	defer func() { _ = os.Remove(path + ".part") }() // unless it was put in its place
	if err := errors.Join(write(out), out.Sync(), out.Close()); err != nil {
		return full(err)
	}
	return os.Rename(path+".part", path)
}

// ReadSnapshot reads the snapshot there is, if any.
func (s *Store) ReadSnapshot(read func(io.Reader) error) (err error) {
	in, err := os.Open(filepath.Join(s.dir, snapshotFile))
	if errors.Is(err, fs.ErrNotExist) {
		return ErrNotFound
	}
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	return read(in)
}

// DropSnapshot throws the snapshot away.
func (s *Store) DropSnapshot() error {
	err := os.Remove(filepath.Join(s.dir, snapshotFile))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// Mark tells the newest event of all requests from every other that could have its number:
// it is empty when nothing has happened.
func (r ofRequests) Mark(ctx context.Context) (string, error) {
	var mark string
	err := r.get(ctx, &mark, "SELECT id || ' ' || hex(chain) FROM events ORDER BY id DESC LIMIT 1")
	if errors.Is(err, ErrNotFound) {
		err = nil
	}
	return mark, err
}

// ChangedSince gives the numbers of the requests to which something has happened since a
// mark. It is ErrNotFound when the mark is of another history than this one.
func (r ofRequests) ChangedSince(ctx context.Context, mark string) ([]int64, error) {
	var id int64
	if _, err := fmt.Sscanf(mark, "%d", &id); err != nil {
		return nil, ErrNotFound
	}
	var same bool
	if err := r.get(ctx, &same, "SELECT id || ' ' || hex(chain) = ? FROM events WHERE id = ?", mark, id); err != nil {
		return nil, err
	}
	if !same {
		return nil, ErrNotFound
	}
	var numbers []int64
	err := r.all(ctx, &numbers, "SELECT DISTINCT r.number FROM events e CROSS JOIN requests r ON r.id = e.request WHERE e.id > ? AND r.number IS NOT NULL", id)
	return numbers, err
}
