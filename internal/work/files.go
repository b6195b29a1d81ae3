package work

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

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
		return form.Upload{}, refusedFile("fileType", "%s is %s, whatever its name says. Taken here are %s.", name, inWords(media), kindsInWords(q.Types()))
	}
	if filepath.Ext(name) == "" {
		name += kind.Extension()
	}
	id, size, err := o.Store.KeepContent(io.MultiReader(bytes.NewReader(head), file.Content), q.SizeLimit())
	if errors.Is(err, store.ErrTooLarge) {
		return form.Upload{}, refusedFile("fileTooLarge", "%s is larger than %d MB, the most this question takes.", name, q.SizeLimit()/1_000_000)
	}
	return form.Upload{ID: id, Name: name, Type: media, Size: size}, err
}

func refusedFile(code, format string, args ...any) error {
	return &request.Refusal{Kind: request.Invalid, Code: code, Sentence: fmt.Sprintf(format, args...), Place: "/file"}
}

// cleanName keeps the last part of a name, without what could harm where it is
// shown or saved.
func cleanName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, "\\", "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f || strings.ContainsRune(`<>:"|?*`, r) || (r >= 0x202a && r <= 0x202e) {
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

func inWords(media string) string {
	if words, ok := mediaWords[media]; ok {
		return words
	}
	return media
}

func kindsInWords(types []string) string {
	all := make([]string, len(types))
	for i, t := range types {
		all[i] = inWords(t)
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
	if !ok || !o.seesAnswer(person, state, upload.Question) {
		return store.Upload{}, nil, ErrNotFound
	}
	content, err := o.Store.Content(file)
	return upload, content, err
}

// seesAnswer tells whether a person may see the answer to a question: by the
// request, by a rung that shows it, or by a task whose slice it is in.
func (o *Office) seesAnswer(person string, state request.State, question string) bool {
	question, _, _ = strings.Cut(question, ".") // the column of a table
	v := o.Viewer(person, state)
	if question == attached && len(v.Tasks) > 0 {
		return true
	}
	if v.SeesFiles() || (state.Status == request.Draft && v.Asker) {
		return true
	}
	for _, r := range state.Rungs {
		if r.HasSeat(person) && (len(r.Facts) == 0 || slices.Contains(r.Facts, question)) {
			return true
		}
	}
	for _, t := range state.Tasks {
		if v.SeesTask(t.Key) && slices.Contains(t.Slice, question) {
			return true
		}
	}
	return false
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
