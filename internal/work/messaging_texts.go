package work

import (
	"context"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Texts lists the general texts, one for each kind, to owners of services and
// administrators.
func (w *Messaging) Texts(ctx context.Context, person string) ([]message.Text, error) {
	if !w.Writes(person) {
		return nil, ErrNotFound
	}
	own, err := w.Store.Texts(ctx)
	if err != nil {
		return nil, err
	}
	texts := message.Usual()
	for i := range texts {
		for _, t := range own {
			if t.Kind == texts[i].Kind {
				texts[i] = t
			}
		}
	}
	return texts, nil
}

// SuppliedTexts gives the usual texts, of the kinds for which somebody wrote others, and
// of which of them the program has changed its own since.
func (w *Messaging) SuppliedTexts(ctx context.Context) (usual map[message.Kind]message.Text, renewed map[message.Kind]bool, err error) {
	then, err := w.Store.UsualThen(ctx)
	usual, renewed = map[message.Kind]message.Text{}, map[message.Kind]bool{}
	for kind, was := range then {
		usual[kind] = usualOf(kind)
		renewed[kind] = was != usual[kind]
	}
	return usual, renewed, err
}

func usualOf(kind message.Kind) message.Text {
	for _, t := range message.Usual() {
		if t.Kind == kind {
			return t
		}
	}
	return message.Text{}
}

// SetText keeps a general text, by administrators; an empty one makes the usual
// one hold again.
func (w *Messaging) SetText(ctx context.Context, person string, text message.Text) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	if text.Subject != "" || text.Body != "" {
		findings := finding.List{}
		message.Compile([]message.Text{text}, "", &findings)
		for _, f := range findings {
			return &request.Refusal{Kind: request.Invalid, Code: f.Code, Sentence: f.Sentence, Place: strings.TrimPrefix(f.Place, "/0")}
		}
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := w.note(ctx, tx, person, audit.TextSet, string(text.Kind), text.Kind.Words(), audit.Change{Field: "subject", After: text.Subject}, audit.Change{Field: "text", After: text.Body}); err != nil {
			return err
		}
		return tx.SetText(text, usualOf(text.Kind), person, w.Clock())
	})
	w.letters.texts.Store(nil)
	return err
}

// Sample fills in a text with made-up facts, for those who write it.
func (w *Messaging) Sample(text message.Text) (subject, body string, findings finding.List) {
	findings = finding.List{}
	texts := message.Compile([]message.Text{text}, "", &findings)
	if len(findings) > 0 {
		return "", "", findings
	}
	due := w.Clock().UTC().AddDate(0, 0, 2).Format(notice.DueForm)
	subject, body, _ = message.Write(text.Kind, message.Facts{
		Reference: w.Example(), Title: "Desk lamp", Offering: "Desk lamp", Asker: "Who asks", For: "Who it is for", By: "Who wrote", Said: "What they wrote",
		Decision: "Line manager", Task: "Bring the lamp", Price: w.Organisation().Currency + " 12.50 in the first year", Due: due, Holder: "With whom it lies", Outcome: "declined", Person: "Who reads this",
	}, texts)
	return subject, body, findings
}
