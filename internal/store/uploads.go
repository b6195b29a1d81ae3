package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"heptad/internal/core/form"
)

// uploadsFolder holds the content of files, each under its ID. Nothing is
// served from it by name.
const uploadsFolder = "uploads"

// Upload is a file on a request.
type Upload struct {
	form.Upload
	Request  string
	Question string
}

// ErrTooLarge says that a file is larger than it may be.
var ErrTooLarge = errors.New("too large")

// KeepContent writes the content of a new file, at most so many bytes, and
// gives its ID and size. It is on disk for good when this returns; without
// AddUpload nobody finds it, and ForgetContent takes it away again.
func (s *Store) KeepContent(content io.Reader, limit int64) (string, int64, error) {
	folder := filepath.Join(s.dir, uploadsFolder)
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return "", 0, err
	}
	id := rand.Text()
	file, err := os.OpenFile(filepath.Join(folder, id), os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", 0, err
	}
	size, err := io.Copy(file, io.LimitReader(content, limit+1))
	if err == nil && size > limit {
		err = ErrTooLarge
	}
	if err == nil {
		err = file.Sync()
	}
	if err = errors.Join(err, file.Close()); err != nil {
		return "", 0, errors.Join(full(err), s.ForgetContent(id))
	}
	return id, size, nil
}

// ForgetContent removes the content of a file.
func (s *Store) ForgetContent(id string) error {
	err := os.Remove(filepath.Join(s.dir, uploadsFolder, filepath.Base(id)))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// Content opens the content of a file.
func (s *Store) Content(id string) (*os.File, error) {
	file, err := os.Open(filepath.Join(s.dir, uploadsFolder, filepath.Base(id)))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("the content of a file is gone: %w", ErrNotFound)
	}
	return file, err
}

// Orphans lists the files that were written before an instant and that nothing
// names: the program was ended before it could say what they are.
func (s *Store) Orphans(ctx context.Context, before time.Time) ([]string, error) {
	files, err := os.ReadDir(filepath.Join(s.dir, uploadsFolder))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var ids []string
	if err := s.all(ctx, &ids, "SELECT id FROM uploads"); err != nil {
		return nil, err
	}
	named := map[string]bool{}
	for _, id := range ids {
		named[id] = true
	}
	var orphans []string
	for _, file := range files {
		info, err := file.Info()
		if err == nil && !named[file.Name()] && info.ModTime().Before(before) {
			orphans = append(orphans, file.Name())
		}
	}
	return orphans, nil
}

// AddUpload puts a file on a request.
func (t *Tx) AddUpload(u Upload, by string, at time.Time) error {
	return t.exec("INSERT INTO uploads (id, request, question, name, type, size, added_by, added_at) VALUES (?,?,?,?,?,?,?,?)",
		u.ID, u.Request, u.Question, u.Name, u.Type, u.Size, by, millis(at))
}

// DropUpload takes a file off its request; its content is apart.
func (t *Tx) DropUpload(id string) error { return t.exec("DELETE FROM uploads WHERE id = ?", id) }

// Uploads lists the files on a request, by ID.
func (r ofRequests) Uploads(ctx context.Context, request string) (map[string]Upload, error) {
	var rows []Upload
	if err := r.all(ctx, &rows, "SELECT id, request, question, name, type, size FROM uploads WHERE request = ?", request); err != nil {
		return nil, err
	}
	byID := map[string]Upload{}
	for _, u := range rows {
		byID[u.ID] = u
	}
	return byID, nil
}
