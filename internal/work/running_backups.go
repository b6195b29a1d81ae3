package work

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/store"
)

// Backups is when backups are made, where, and how many are kept.
type Backups struct {
	Dir  string
	At   []time.Duration // after midnight in the zone of the organisation
	Keep int             // those made at set times; older ones are taken away
}

// Due is the last set time up to an instant.
func (b Backups) Due(now time.Time) time.Time {
	var last time.Time
	for _, day := range []int{-1, 0} {
		for _, at := range b.At {
			if due := b.on(now, day, at); !due.After(now) && due.After(last) {
				last = due
			}
		}
	}
	return last
}

// Next is the first set time after an instant.
func (b Backups) Next(now time.Time) time.Time {
	var first time.Time
	for _, day := range []int{0, 1} {
		for _, at := range b.At {
			if due := b.on(now, day, at); due.After(now) && (first.IsZero() || due.Before(first)) {
				first = due
			}
		}
	}
	return first
}

// on is a set time so many days after the day of an instant. On a day on which the clocks
// change, one that is left out comes as much later.
func (b Backups) on(now time.Time, days int, at time.Duration) time.Time {
	y, m, d := now.Date()
	return time.Date(y, m, d+days, int(at.Hours()), int(at.Minutes())%60, 0, 0, now.Location())
}

// Fresh reports an error when no backup of the last day and an hour is in the folder.
func (b Backups) Fresh(now time.Time) error {
	all, err := b.made()
	if err != nil {
		return err
	}
	if len(all) == 0 {
		return fmt.Errorf("no backup is in %s", b.Dir)
	}
	last, err := os.Stat(all[len(all)-1])
	if err != nil {
		return err
	}
	if now.Sub(last.ModTime()) > 25*time.Hour {
		return fmt.Errorf("the last backup in %s is of %s", b.Dir, last.ModTime().Format("Monday 2 January 2006, 15:04"))
	}
	return nil
}

// made lists the backups in the folder, the oldest first: their names are instants.
func (b Backups) made() ([]string, error) {
	all, err := filepath.Glob(filepath.Join(b.Dir, backupNames))
	if err != nil {
		return nil, fmt.Errorf("the folder of the backups cannot be read: %w", err)
	}
	slices.Sort(all)
	return all, nil
}

const (
	backupAgain = 10 * time.Minute // until one that could not be made is tried again
	backupNames = "heptad-*.heptad"
)

// runBackups makes backups at their set times, until the context ends.
func (w *Running) runBackups(ctx context.Context) {
	if w.Backups == nil {
		return
	}
	for ctx.Err() == nil {
		next := w.Clock().Add(backupAgain)
		err := w.caught("backups", "", func() (err error) { next, err = w.BackUp(ctx); return err })
		if err != nil && ctx.Err() == nil {
			w.Log.Error("it could not be kept how the backup went", "error", err)
		}
		rest(ctx, min(longestNap, max(time.Second, next.Sub(w.Clock()))), nil) // a nap that is not longer notices that the clock was set
	}
}

// BackUp makes the backup that is due, if one is, and tells when to look again. A set time
// that passed while nothing ran is made up for, once.
func (w *Running) BackUp(ctx context.Context) (next time.Time, err error) {
	now := w.Clock().In(w.Organisation().Location())
	next = w.Backups.Next(now)
	last, err := w.Store.LastBackup(ctx)
	if ignoreMissing(err) != nil {
		return next, err
	}
	if err == nil && !last.BegunAt().Before(w.Backups.Due(now)) {
		return next, nil
	}
	tried, err := w.Store.BackupRuns(ctx, 1)
	if err != nil {
		return next, err
	}
	again := len(tried) > 0 && tried[0].Trouble != ""
	if again {
		if at := tried[0].At().Add(backupAgain); at.After(now) {
			return at, nil
		}
	}
	file := filepath.Join(w.Backups.Dir, "heptad-"+now.UTC().Format("20060102-150405")+".heptad")
	size, failed := w.backUp(ctx, file)
	if ctx.Err() != nil {
		return next, ctx.Err()
	}
	trouble := ""
	if failed != nil {
		trouble, next = failed.Error(), w.Clock().Add(backupAgain)
		w.Log.Error("no backup could be made", "error", failed)
	}
	return next, errors.Join(w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.AddBackupRun(now, w.Clock(), file, size, trouble); err != nil {
			return err
		}
		if failed == nil {
			return w.note(ctx, tx, "", audit.BackedUp, "", filepath.Base(file))
		}
		if again { // they know
			return nil
		}
		var d duties
		for _, p := range w.administrators() {
			d.add(p.ID, "No backup could be made: %s. It is tried again every ten minutes; Manage, Backups says how it goes.", strings.TrimRight(trouble, "."))
		}
		return d.tell(ctx, w.kernel, tx, "")
	}), w.afterBackup(failed))
}

// backUp makes a backup and tells how large it is, in bytes.
func (w *Running) backUp(ctx context.Context, file string) (int64, error) {
	if err := os.MkdirAll(w.Backups.Dir, 0o750); err != nil {
		return 0, err
	}
	if err := w.Store.Backup(ctx, file); err != nil {
		return 0, err
	}
	info, err := os.Stat(file)
	if err != nil {
		return 0, err
	}
	return info.Size(), nil
}

// afterBackup takes away those that are too many, when one was made.
func (w *Running) afterBackup(failed error) error {
	w.rouseMail()
	if failed != nil {
		return nil
	}
	all, err := w.Backups.made()
	if err != nil {
		return err
	}
	for _, old := range all[:max(0, len(all)-w.Backups.Keep)] {
		if err := os.Remove(old); err != nil {
			return err
		}
	}
	return nil
}
