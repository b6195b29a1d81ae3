package work

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Outgoing is something that would go out.
type Outgoing = store.Outgoing

// BackupRun is how one backup went.
type BackupRun = store.BackupRun

// HeldBack is what would go out after a restore.
type HeldBack struct {
	Made, At     time.Time // the backup, and the restore
	Calls, Mails []store.Outgoing
	Counts       [2]int // of calls and mails
}

// outgoingShown is how many calls and mails that would go out are listed.
const outgoingShown = 100

// HeldBack lists what would go out after a restore, to administrators; ErrNotFound when
// nothing is held back.
func (w *Keeping) HeldBack(ctx context.Context, person string) (HeldBack, error) {
	if !w.Administers(person) {
		return HeldBack{}, ErrNotFound
	}
	held, err := w.Store.HeldBack(ctx)
	if err != nil {
		return HeldBack{}, err
	}
	out := HeldBack{Made: held.Made, At: held.At}
	out.Calls, out.Mails, out.Counts, err = w.Store.Outgoing(ctx, outgoingShown)
	for i, call := range out.Calls {
		if c, ok := w.connectors[call.What]; ok {
			out.Calls[i].What = c.Describe().Name
		}
	}
	return out, err
}

// BackupsMade is how the backups go that are made at set times.
type BackupsMade struct {
	Set  *Backups    // nil: none are made
	Next time.Time   // when the next is made
	Late bool        // the one that was due last is not there
	Last *BackupRun  // that was made; nil for none
	Runs []BackupRun // how the last went, the last first
}

// backupRunsShown is how many runs of backups are listed.
const backupRunsShown = 14

// BackupsMade tells administrators how the backups go.
func (w *Keeping) BackupsMade(ctx context.Context, person string) (BackupsMade, error) {
	if !w.Administers(person) {
		return BackupsMade{}, ErrNotFound
	}
	out := BackupsMade{Set: w.Backups}
	last, err := w.Store.LastBackup(ctx)
	if ignoreMissing(err) != nil {
		return out, err
	}
	if err == nil {
		out.Last = &last
	}
	if w.Backups != nil {
		now := w.Clock().In(w.Organisation().Location())
		out.Next = w.Backups.Next(now)
		out.Late = out.Last == nil || out.Last.BegunAt().Before(w.Backups.Due(now))
	}
	out.Runs, err = w.Store.BackupRuns(ctx, backupRunsShown)
	return out, err
}

// LetGo lets what is held back after a restore go out, by an administrator.
func (w *Keeping) LetGo(ctx context.Context, person string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		held, err := tx.HeldBack(ctx)
		if errors.Is(err, ErrNotFound) {
			return conflict(refusal.NothingHeld, "Nothing is held back any more.")
		}
		if err != nil {
			return err
		}
		if err := tx.LetGo(w.Clock()); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.LetGo, "", "", audit.Change{Field: "backup of", After: held.Made.Format(time.RFC3339)})
	})
	w.rouse()
	w.rouseMail()
	return err
}
