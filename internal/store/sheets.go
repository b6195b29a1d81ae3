package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"heptad/internal/core/intake"
)

const sheetsFolder = "sheets"

// Sheet is a spreadsheet that somebody looks through before it is done.
type Sheet struct {
	ID    string
	Kind  intake.Kind
	Name  string
	Edits intake.Edits
	By    string // ID
	At    time.Time
	Done  time.Time // zero until then
}

func (s *Store) sheetPath(id string) string {
	return filepath.Join(s.dir, sheetsFolder, filepath.Base(id))
}

// AddSheet keeps a sheet with its content.
func (s *Store) AddSheet(ctx context.Context, sh Sheet, content []byte) error {
	if err := os.MkdirAll(filepath.Join(s.dir, sheetsFolder), 0o700); err != nil {
		return full(err)
	}
	if err := os.WriteFile(s.sheetPath(sh.ID), content, 0o600); err != nil {
		return full(err)
	}
	return s.Write(ctx, func(tx *Tx) error {
		return tx.exec("INSERT INTO sheets (id, kind, name, added_by, added_at) VALUES (?,?,?,?,?)", sh.ID, sh.Kind, sh.Name, sh.By, millis(sh.At))
	})
}

// SheetContent reads the file of a sheet.
func (s *Store) SheetContent(id string) ([]byte, error) {
	data, err := os.ReadFile(s.sheetPath(id))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, ErrNotFound
	}
	return data, err
}

// Sheet finds a sheet by its ID.
func (r ofCompany) Sheet(ctx context.Context, id string) (Sheet, error) {
	var row struct {
		ID, Kind, Name, Mended string
		AddedBy                string        `db:"added_by"`
		AddedAt                int64         `db:"added_at"`
		DoneAt                 sql.NullInt64 `db:"done_at"`
	}
	if err := r.get(ctx, &row, "SELECT id, kind, name, mended, added_by, added_at, done_at FROM sheets WHERE id = ?", id); err != nil {
		return Sheet{}, err
	}
	sh := Sheet{ID: row.ID, Kind: intake.Kind(row.Kind), Name: row.Name, By: row.AddedBy, At: instant(row.AddedAt)}
	if row.DoneAt.Valid {
		sh.Done = instant(row.DoneAt.Int64)
	}
	return sh, json.Unmarshal([]byte(row.Mended), &sh.Edits)
}

// EditSheet keeps what somebody has said of a sheet.
func (t companyTx) EditSheet(id string, edits intake.Edits) error {
	text, err := json.Marshal(edits)
	if err != nil {
		return err
	}
	return t.exec("UPDATE sheets SET mended = ? WHERE id = ?", string(text), id)
}

// SheetDone notes that a sheet was done; ErrExists when it was before.
func (t companyTx) SheetDone(id string, at time.Time) error {
	n, err := t.tx.ExecContext(t.ctx, "UPDATE sheets SET done_at = ? WHERE id = ? AND done_at IS NULL", millis(at), id)
	if err != nil {
		return err
	}
	if rows, err := n.RowsAffected(); err != nil || rows == 0 {
		return errors.Join(err, ErrExists)
	}
	return nil
}

// DropSheet throws a sheet away; its file goes after the transaction.
func (s *Store) DropSheet(ctx context.Context, id string) error {
	if err := s.Write(ctx, func(tx *Tx) error { return tx.exec("DELETE FROM sheets WHERE id = ?", id) }); err != nil {
		return err
	}
	return s.ForgetSheet(id)
}

// ForgetSheet removes the file of a sheet.
func (s *Store) ForgetSheet(id string) error {
	err := os.Remove(s.sheetPath(id))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// SheetsBefore lists the sheets that were added before an instant.
func (r ofCompany) SheetsBefore(ctx context.Context, at time.Time) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, "SELECT id FROM sheets WHERE added_at < ? ORDER BY id LIMIT 100", millis(at))
	return ids, err
}
