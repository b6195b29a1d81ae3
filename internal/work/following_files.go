package work

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"io"
	"os"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// File opens a file of a request for somebody who may see the answer it is.
func (w *Following) File(ctx context.Context, person, id, file string) (store.Upload, *os.File, error) {
	state, err := w.Store.Request(ctx, id)
	if err != nil {
		return store.Upload{}, nil, err
	}
	uploads, err := w.Store.Uploads(ctx, id)
	if err != nil {
		return store.Upload{}, nil, err
	}
	upload, ok := uploads[file]
	if !ok {
		return store.Upload{}, nil, ErrNotFound
	}
	if sees, err := w.seesFile(ctx, person, state, upload); err != nil || !sees {
		return store.Upload{}, nil, cmp.Or(err, ErrNotFound)
	}
	content, err := w.Store.Content(file)
	if err != nil {
		return upload, nil, err
	}
	if runs, err := runsInPages(content); err != nil || runs {
		upload.Type = "application/octet-stream" // whatever it says it is
	}
	_, err = content.Seek(0, io.SeekStart)
	return upload, content, err
}

// marks begin what a browser could run, wherever in a file they stand.
var marks = [][]byte{[]byte("<script"), []byte("<html"), []byte("<!doctype html"), []byte("<svg"), []byte("<iframe"), []byte("<body"), []byte("<object"), []byte("<embed"), []byte("javascript:"), []byte("onerror="), []byte("onload=")}

// runsInPages reports whether a content holds HTML or a script anywhere.
func runsInPages(content io.Reader) (bool, error) {
	const overlap = 16 // no mark is longer
	window := make([]byte, 0, 64<<10+overlap)
	for {
		n, err := io.ReadFull(content, window[len(window):cap(window)])
		window = window[:len(window)+n]
		for i, b := range window {
			if b >= 'A' && b <= 'Z' {
				window[i] = b + 'a' - 'A'
			}
		}
		if slices.ContainsFunc(marks, func(mark []byte) bool { return bytes.Contains(window, mark) }) {
			return true, nil
		}
		switch {
		case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
			return false, nil
		case err != nil:
			return false, err
		}
		window = window[:copy(window, window[max(0, len(window)-overlap):])]
	}
}

// seesFile reports whether a person may open a file: added for its readers, or
// among the answers that they see by the request, a rung or a task.
func (w *Following) seesFile(ctx context.Context, person string, state request.State, upload store.Upload) (bool, error) {
	v := w.Viewer(person, state)
	if upload.Question == attached {
		return slices.ContainsFunc(state.Files, func(f request.Attachment) bool { return f.ID == upload.ID && f.Opens(v) }), nil
	}
	if state.Status == request.Draft || state.Reference == "" {
		return v.Asker, nil
	}
	c, err := w.numbered(ctx, w.Store, state.Offering, state.Version)
	if err != nil {
		return false, err
	}
	key, _, _ := strings.Cut(upload.Question, ".") // the column of a table
	q, ok := c.Form.Question(key)
	if !ok {
		return false, nil
	}
	sights := []request.Sight{v.Whole()}
	for i := range state.Rungs {
		if slices.Contains(v.Rungs, state.Rungs[i].Key) {
			sights = append(sights, state.Rungs[i].Sight())
		}
	}
	for i := range state.Tasks {
		if v.SeesTask(state.Tasks[i].Key) {
			sights = append(sights, state.Tasks[i].Sight())
		}
	}
	return slices.ContainsFunc(sights, func(s request.Sight) bool { return s.Files() && s.Of(q) == request.Open }), nil
}

// anyFile is what files added after sending may be.
var anyFile = form.Question{Kind: form.File}

// Addressed says what something is about and for whom: the key of a task, if
// any, and who may read it.
type Addressed struct {
	Task string
	To   request.To
}

// Attach adds a file to a request that was sent.
func (w *Following) Attach(ctx context.Context, person, id string, a Addressed, file IncomingFile) (form.Upload, error) {
	if err := w.Concerns(ctx, person, id); err != nil {
		return form.Upload{}, err
	}
	upload, err := w.keep(anyFile, file)
	if err != nil {
		return upload, err
	}
	_, err = w.run(ctx, change{actor: person, id: id, command: func(tx *store.Tx) (request.Command, error) {
		return request.Attach{File: upload, Task: a.Task, To: a.To}, tx.AddUpload(store.Upload{Upload: upload, Request: id, Question: attached}, person, w.Clock())
	}})
	if err != nil {
		return form.Upload{}, errors.Join(err, w.Store.ForgetContent(upload.ID))
	}
	return upload, nil
}

// attached stands in place of a question with files added after sending.
const attached = "+"
