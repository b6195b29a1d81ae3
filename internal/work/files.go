package work

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/gabriel-vasile/mimetype"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// IncomingFile is a file on its way in.
type IncomingFile struct {
	Name    string
	Content io.Reader
}

// sniffed is how much of a file tells what it is, in bytes.
const sniffed = 3072

// keep writes a file for good, if the question takes it: by its content, not
// by its name.
func (o *Office) keep(q form.Question, file IncomingFile) (form.Upload, error) {
	name := cleanName(file.Name)
	head := make([]byte, sniffed)
	n, err := io.ReadFull(file.Content, head)
	if err != nil && !errors.Is(err, io.EOF) && !errors.Is(err, io.ErrUnexpectedEOF) {
		return form.Upload{}, err
	}
	head = head[:n]
	kind := mimetype.Detect(head)
	media, _, _ := strings.Cut(kind.String(), ";")
	switch {
	case n == 0:
		return form.Upload{}, refusedFile("emptyFile", "%s is empty.", name)
	case !slices.Contains(q.Types(), media):
		return form.Upload{}, refusedFile("fileType", "%s is %s, whatever its name says. Taken here are %s.", name, MediaName(media), kindsInWords(q.Types()))
	}
	name = fitting(name, media, kind.Extension())
	id, size, err := o.Store.KeepContent(io.MultiReader(bytes.NewReader(head), file.Content), q.SizeLimit())
	if errors.Is(err, store.ErrTooLarge) {
		return form.Upload{}, refusedFile("fileTooLarge", "%s is larger than %d MB, the most this question takes.", name, q.SizeLimit()/1_000_000)
	}
	return form.Upload{ID: id, Name: name, Type: media, Size: size}, err
}

// endings are those that fit a media type beside its own.
var endings = map[string][]string{
	"image/jpeg": {".jpg", ".jpeg"}, "text/plain": {".txt", ".text", ".log", ".md"}, "text/csv": {".csv"},
}

// fitting gives a name the ending that the content has, in place of others: what
// is called a program or a page and is none must not become one where it is
// saved.
func fitting(name, media, ending string) string {
	fits := append([]string{ending}, endings[media]...)
	for range 5 {
		ext := strings.ToLower(filepath.Ext(name))
		if slices.Contains(fits, ext) {
			return name
		}
		if ext == "" || ext == "." || len(ext) > 8 || strings.Contains(ext, " ") {
			break
		}
		name = strings.TrimSuffix(name, filepath.Ext(name))
	}
	return strings.TrimRight(name, ".") + ending
}

func refusedFile(code, format string, args ...any) error {
	return &request.Refusal{Kind: request.Invalid, Code: code, Sentence: fmt.Sprintf(format, args...), Place: "/file"}
}

// cleanName keeps the last part of a name, without what could harm where it is
// shown or saved.
func cleanName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, "\\", "/"))
	name = strings.Map(func(r rune) rune {
		if form.LeavesLine(r) || strings.ContainsRune(`<>:"|?*`, r) {
			return -1
		}
		return r
	}, strings.ToValidUTF8(name, ""))
	name = strings.TrimLeft(strings.TrimSpace(name), ".")
	if letters := []rune(name); len(letters) > 120 {
		name = string(letters[:100]) + string(letters[len(letters)-20:])
	}
	if name == "" || name == "/" {
		return "file"
	}
	return name
}

// what people call some media types.
var mediaWords = map[string]string{
	"application/pdf": "a PDF", "image/png": "a PNG picture", "image/jpeg": "a JPEG picture", "image/webp": "a WebP picture",
	"text/plain": "plain text", "text/csv": "a CSV table",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document": "a text document (docx)",
	"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet":       "a spreadsheet (xlsx)",
	"application/vnd.oasis.opendocument.text":                                 "a text document (odt)",
	"application/vnd.oasis.opendocument.spreadsheet":                          "a spreadsheet (ods)",
}

// MediaName is what people call a media type.
func MediaName(media string) string {
	if words, ok := mediaWords[media]; ok {
		return words
	}
	return media
}

func kindsInWords(types []string) string {
	all := make([]string, len(types))
	for i, t := range types {
		all[i] = MediaName(t)
	}
	return strings.Join(all, ", ")
}

// File opens a file of a request for somebody who may see the answer it is.
func (o *Office) File(ctx context.Context, person, id, file string) (store.Upload, *os.File, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil {
		return store.Upload{}, nil, err
	}
	uploads, err := o.Store.Uploads(ctx, id)
	if err != nil {
		return store.Upload{}, nil, err
	}
	upload, ok := uploads[file]
	if !ok {
		return store.Upload{}, nil, ErrNotFound
	}
	if sees, err := o.seesFile(ctx, person, state, upload); err != nil || !sees {
		return store.Upload{}, nil, cmp.Or(err, ErrNotFound)
	}
	content, err := o.Store.Content(file)
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
func (o *Office) seesFile(ctx context.Context, person string, state request.State, upload store.Upload) (bool, error) {
	v := o.Viewer(person, state)
	if upload.Question == attached {
		return slices.ContainsFunc(state.Files, func(f request.Attachment) bool { return f.ID == upload.ID && f.Opens(v) }), nil
	}
	if state.Status == request.Draft || state.Reference == "" {
		return v.Asker, nil
	}
	c, err := o.numbered(ctx, o.Store, state.Offering, state.Version)
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

// orphanAge is how old a file must be that nothing names before it is removed:
// longer than any upload takes.
const orphanAge = time.Hour

// sweep removes the files that a sudden end of the program left behind.
func (o *Office) sweep(ctx context.Context) error {
	orphans, err := o.Store.Orphans(ctx, o.Clock().Add(-orphanAge))
	for _, id := range orphans {
		if err := o.Store.ForgetContent(id); err != nil {
			o.Log.Error("a file that nothing names stays", "file", id, "error", err)
		}
	}
	return err
}

// forgetUploads removes the files of a request that no answer names: those that
// were taken out again before sending, or all of a discarded draft. Whatever
// cannot be removed stays, which harms nobody.
func (o *Office) forgetUploads(ctx context.Context, state request.State) {
	sent := state.Reference != ""
	var c *offering.Compiled
	var err error
	if sent {
		if c, err = o.Version(ctx, state.Offering, state.Version); err != nil || !c.Form.Asks(form.File) {
			return
		}
	}
	uploads, err := o.Store.Uploads(ctx, state.ID)
	if err != nil {
		return
	}
	if sent { // what its answers name stays
		for _, f := range state.Files {
			delete(uploads, f.ID)
		}
		for _, q := range c.Document.Questions {
			for _, u := range form.FilesIn(q, state.Answers[q.Key]) {
				delete(uploads, u.ID)
			}
		}
	}
	for id := range uploads {
		err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropUpload(id) })
		if err == nil {
			err = o.Store.ForgetContent(id)
		}
		if err != nil {
			o.Log.Error("a file that is not needed stays", "file", id, "error", err)
		}
	}
}
