package store

import (
	"context"
	"time"
)

// BackupRun is one backup that was made at a set time, or that could not be.
type BackupRun struct {
	Begun   int64 `db:"begun_at"` // ms UTC
	Ended   int64 `db:"ended_at"`
	File    string
	Size    int64  // bytes
	Trouble string // why none was made; empty when one was
}

// BegunAt is when it began: what it holds is as of then.
func (b BackupRun) BegunAt() time.Time { return instant(b.Begun) }

// At is when it ended.
func (b BackupRun) At() time.Time { return instant(b.Ended) }

// Took is how long it took.
func (b BackupRun) Took() time.Duration { return time.Duration(b.Ended-b.Begun) * time.Millisecond }

// backupRunsKept is how many of them are kept.
const backupRunsKept = 100

// AddBackupRun keeps how a backup went.
func (t *Tx) AddBackupRun(begun, ended time.Time, file string, size int64, trouble string) error {
	if err := t.exec("INSERT INTO backups (begun_at, ended_at, file, size, trouble) VALUES (?,?,?,?,?)", millis(begun), millis(ended), file, size, trouble); err != nil {
		return err
	}
	return t.exec("DELETE FROM backups WHERE id <= (SELECT max(id) FROM backups) - ?", backupRunsKept)
}

// BackupRuns lists how the last backups went, the last first.
func (r ofSystems) BackupRuns(ctx context.Context, limit int) ([]BackupRun, error) {
	all := []BackupRun{}
	err := r.all(ctx, &all, "SELECT begun_at, ended_at, file, size, trouble FROM backups ORDER BY id DESC LIMIT ?", limit)
	return all, err
}

// LastBackup is the last one that was made; ErrNotFound when there is none.
func (r ofSystems) LastBackup(ctx context.Context) (b BackupRun, err error) {
	err = r.get(ctx, &b, "SELECT begun_at, ended_at, file, size, trouble FROM backups WHERE trouble = '' ORDER BY id DESC LIMIT 1")
	return b, err
}
