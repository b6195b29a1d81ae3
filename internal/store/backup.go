package store

import (
	"archive/tar"
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/core/audit"
)

// A backup is one tar file: the data as SQLite writes it anew, the contents of the files
// on requests, the keys when they are wanted, and at the end what all of it hashes to. One
// that was cut off has no end, and is refused.
const (
	backupFormat = "heptad/backup/1"
	backupEnd    = "contents.json"
	backupData   = "heptad.db"
	backupFiles  = uploadsFolder + "/"
	backupKeys   = "keys/"
)

// contents is the end of a backup.
type contents struct {
	Format  string            `json:"format"`
	Made    time.Time         `json:"made"`
	Version int               `json:"version"` // of the data
	Files   map[string]string `json:"files"`   // SHA-256 by name
}

// archive writes a backup and remembers what it writes.
type archive struct {
	*tar.Writer
	sums map[string]string
	at   time.Time
}

func (a archive) add(name string, size int64, from io.Reader) error {
	if err := a.WriteHeader(&tar.Header{Name: name, Size: size, Mode: 0o600, ModTime: a.at, Format: tar.FormatPAX}); err != nil {
		return err
	}
	sum := sha256.New()
	if _, err := io.Copy(io.MultiWriter(a, sum), from); err != nil {
		return err
	}
	a.sums[name] = hex.EncodeToString(sum.Sum(nil))
	return nil
}

func (a archive) addFile(name, from string) (err error) {
	file, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, file.Close()) }()
	info, err := file.Stat()
	if err != nil {
		return err
	}
	return a.add(name, info.Size(), file)
}

// Backup keeps the whole of a data folder in one file, while a Heptad may be running on
// it; with a folder of keys, these too. It writes beside the file and puts it there when
// it is whole. There must be no file of the name.
func Backup(ctx context.Context, dir, to, keys string) (err error) {
	if _, err := os.Stat(to); !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("there is a file %s already: nothing was written over it", to)
	}
	in, err := Inspect(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	made := time.Now().UTC()
	version, _, err := in.Version(ctx)
	if err != nil {
		return err
	}
	apart, err := os.MkdirTemp(dir, "backup-")
	if err != nil {
		return full(err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(apart)) }()
	// Contents are linked first, so that one whose row is in the data is not gone before
	// it is read.
	if err := linkAll(filepath.Join(dir, uploadsFolder), apart); err != nil {
		return err
	}
	data := filepath.Join(apart, backupData)
	if err := in.vacuum(ctx, data); err != nil {
		return full(err)
	}
	part := to + ".part"
	out, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return full(err)
	}
	defer func() { _ = os.Remove(part) }() // unless it was put in its place
	buffered := bufio.NewWriterSize(out, 1<<20)
	a := archive{tar.NewWriter(buffered), map[string]string{}, made}
	err = errors.Join(a.addFile(backupData, data), in.addContents(ctx, a, apart, data), addKeys(a, keys), a.end(contents{Format: backupFormat, Made: made, Version: version, Files: a.sums}), a.Close(), buffered.Flush(), out.Sync(), out.Close())
	if err != nil {
		return full(err)
	}
	return os.Rename(part, to)
}

// Backup keeps the whole of the folder in one file, without the keys.
func (s *Store) Backup(ctx context.Context, to string) error { return Backup(ctx, s.dir, to, "") }

// vacuum writes the data anew into a file, as of one instant. Its connection writes
// nothing else.
func (i *Inspection) vacuum(ctx context.Context, to string) (err error) {
	db, err := sqlx.ConnectContext(ctx, "sqlite", "file:"+filepath.Join(i.dir, backupData)+"?mode=ro&_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	_, err = db.ExecContext(ctx, "VACUUM INTO ?", to)
	return err
}

func (a archive) end(c contents) error {
	text, err := json.MarshalIndent(c, "", " ")
	if err != nil {
		return err
	}
	return a.add(backupEnd, int64(len(text)), bytes.NewReader(text))
}

func addKeys(a archive, keys string) error {
	if keys == "" {
		return nil
	}
	for _, name := range KeyNames {
		if err := a.addFile(backupKeys+name+".secret", filepath.Join(keys, name+".secret")); err != nil {
			return err
		}
	}
	return nil
}

// linkAll gives every file of a folder a second name in another, where the disk can.
func linkAll(from, to string) error {
	files, err := os.ReadDir(from)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	for _, f := range files {
		if err := os.Link(filepath.Join(from, f.Name()), filepath.Join(to, f.Name())); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return full(err)
		}
	}
	return err
}

// addContents adds the contents that the data names.
func (i *Inspection) addContents(ctx context.Context, a archive, apart, data string) (err error) {
	snapshot, err := sqlx.ConnectContext(ctx, "sqlite", "file:"+data+"?mode=ro")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, snapshot.Close()) }()
	var ids []string
	if err := snapshot.SelectContext(ctx, &ids, "SELECT id FROM uploads ORDER BY id"); err != nil {
		return err
	}
	for _, id := range ids {
		name := filepath.Base(id)
		err := a.addFile(backupFiles+name, filepath.Join(apart, name))
		if errors.Is(err, fs.ErrNotExist) { // it came after the links were made
			err = a.addFile(backupFiles+name, filepath.Join(i.dir, uploadsFolder, name))
		}
		if err != nil && !errors.Is(err, fs.ErrNotExist) { // of one that is gone, the doctor tells
			return err
		}
	}
	return nil
}

// Restored says what a backup was.
type Restored struct {
	Made    time.Time
	Version int
	Keys    bool // it held the keys
}

// Restore makes a data folder from a backup. The folder must be empty or not there; it is
// there when all of the backup was read and found whole. Keys that stand in a folder of
// their own are looked at: with others, what is sealed could not be read.
func Restore(ctx context.Context, from, dir, keys string, now time.Time) (r Restored, err error) {
	if err := isEmpty(dir, "Restore"); err != nil {
		return r, err
	}
	part := strings.TrimRight(dir, "/") + ".part"
	if err := os.RemoveAll(part); err != nil {
		return r, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(full(err), os.RemoveAll(part))
		}
	}()
	c, err := unpack(from, part)
	if err != nil {
		return r, err
	}
	_, held := c.Files[backupKeys+KeyNames[0]+".secret"]
	r = Restored{c.Made, c.Version, held}
	if held {
		for _, name := range KeyNames {
			if err := os.Rename(filepath.Join(part, backupKeys, name+".secret"), filepath.Join(part, name+".secret")); err != nil {
				return r, err
			}
		}
		if err := os.Remove(filepath.Join(part, backupKeys)); err != nil {
			return r, err
		}
		if keys == "" || keys == dir {
			keys = part
		}
	}
	if err := settleIn(ctx, part, keys, r, now); err != nil {
		return r, err
	}
	return r, putInPlace(part, dir)
}

// isEmpty refuses a folder that holds anything; one that is not there is empty. What is to
// be done begins the advice.
func isEmpty(dir, do string) error {
	names, err := os.ReadDir(dir)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil
	case err == nil && len(names) > 0:
		return fmt.Errorf("the folder %s is not empty: nothing was touched. %s into a new one", dir, do)
	}
	return err
}

// putInPlace makes a folder that was made beside it the one that was asked for, which is
// empty or not there.
func putInPlace(part, dir string) error {
	if err := os.Remove(dir); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return os.Rename(part, dir)
}

// unpack reads a backup into a folder, and compares all of it with its end.
func unpack(from, part string) (c contents, err error) {
	file, err := os.Open(from)
	if err != nil {
		return c, err
	}
	defer func() { err = errors.Join(err, file.Close()) }()
	damaged := func(why string) (contents, error) {
		return c, fmt.Errorf("the backup %s is damaged or was cut off: %s. Nothing was restored; use another", from, why)
	}
	sums := map[string]string{}
	for r := tar.NewReader(bufio.NewReaderSize(file, 1<<20)); ; {
		header, err := r.Next()
		if err != nil {
			return damaged("it ends before its end")
		}
		name := path.Clean(header.Name)
		if name == backupEnd {
			text, err := io.ReadAll(io.LimitReader(r, 256<<20))
			if err != nil || json.Unmarshal(text, &c) != nil {
				return damaged("its end cannot be read")
			}
			break
		}
		if name != backupData && !strings.HasPrefix(name, backupFiles) && !strings.HasPrefix(name, backupKeys) || strings.Contains(name, "..") || header.Typeflag != tar.TypeReg {
			return damaged("it holds what is no part of a backup: " + name)
		}
		sum := sha256.New()
		if err := writeOut(filepath.Join(part, name), io.TeeReader(r, sum)); err != nil {
			if errors.Is(err, io.ErrUnexpectedEOF) {
				return damaged("it ends before its end")
			}
			return c, err
		}
		sums[name] = hexOf(sum)
	}
	if c.Format != backupFormat {
		return damaged("it is no backup of Heptad")
	}
	for name, want := range c.Files {
		if sums[name] != want {
			return damaged(name + " is not what it was")
		}
	}
	if len(sums) != len(c.Files) {
		return damaged("it holds more than it says")
	}
	return c, nil
}

func hexOf(sum hash.Hash) string { return hex.EncodeToString(sum.Sum(nil)) }

func writeOut(to string, from io.Reader) error {
	if err := os.MkdirAll(filepath.Dir(to), 0o700); err != nil {
		return err
	}
	file, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(file, from)
	return errors.Join(err, file.Sync(), file.Close())
}

// referencesAhead is by how much references go on higher after a restore: those that were given
// after the backup was made are not given again.
const referencesAhead = 10_000

// settleIn makes restored data ready: brought up to date, with its keys, nothing of it
// going out before somebody says yes, and references going on higher.
func settleIn(ctx context.Context, dir, keys string, r Restored, now time.Time) (err error) {
	s, err := Open(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if keys != "" {
		for _, name := range KeyNames {
			key, err := Secret(keys, name, false)
			if err != nil {
				return err
			}
			if err := s.KnowKey(ctx, name, key); err != nil {
				return err
			}
		}
	}
	return s.Write(ctx, func(tx *Tx) error {
		if err := tx.exec("UPDATE counters SET value = value + ? WHERE name = 'reference'", referencesAhead); err != nil {
			return err
		}
		if err := tx.AddAct(audit.Row{At: now, Act: audit.Restored, Body: audit.Body{Changes: []audit.Change{{Field: "backup of", After: r.Made.Format(time.RFC3339)}}}}); err != nil {
			return err
		}
		return tx.exec("INSERT INTO restored (id, made_at, restored_at) VALUES (1,?,?) ON CONFLICT (id) DO UPDATE SET made_at = excluded.made_at, restored_at = excluded.restored_at, let_go_at = NULL", millis(r.Made), millis(now))
	})
}
