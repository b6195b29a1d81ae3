package work

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"github.com/gabriel-vasile/mimetype"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
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
func (k *kernel) keep(q form.Question, file IncomingFile) (form.Upload, error) {
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
		return form.Upload{}, refusedFile(refusal.EmptyFile, "%s is empty.", name)
	case !slices.Contains(q.Types(), media):
		return form.Upload{}, refusedFile(refusal.FileType, "%s is %s, whatever its name says. Taken here are %s.", name, MediaName(media), kindsInWords(q.Types()))
	}
	name = fitting(name, media, kind.Extension())
	id, size, err := k.Store.KeepContent(io.MultiReader(bytes.NewReader(head), file.Content), q.SizeLimit())
	if errors.Is(err, store.ErrTooLarge) {
		return form.Upload{}, refusedFile(refusal.FileTooLarge, "%s is larger than %d MB, the most this question takes.", name, q.SizeLimit()/1_000_000)
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

// forgetUploads removes the files of a request that no answer names: those that
// were taken out again before sending, or all of a discarded draft. Whatever
// cannot be removed stays, which harms nobody.
func (k *kernel) forgetUploads(ctx context.Context, state request.State) {
	sent := state.Reference != ""
	var c *offering.Compiled
	var err error
	if sent {
		if c, err = k.Version(ctx, state.Offering, state.Version); err != nil || !c.Form.Asks(form.File) {
			return
		}
	}
	uploads, err := k.Store.Uploads(ctx, state.ID)
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
		err := k.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropUpload(id) })
		if err == nil {
			err = k.Store.ForgetContent(id)
		}
		if err != nil {
			k.Log.Error("a file that is not needed stays", "file", id, "error", err)
		}
	}
}
