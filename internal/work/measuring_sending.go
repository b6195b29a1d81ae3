package work

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/message"
	"heptad/internal/store"
)

// boardsAtATime is how many boards are sent in one look.
const boardsAtATime = 20

// sendAgainAfter is when it is tried again to send a board that could not be sent: others do
// not wait for it.
const sendAgainAfter = time.Hour

// sendBoards sends the boards whose time has come, once each: when it is sent next is kept
// in the transaction of its messages.
func (w *Measuring) sendBoards(ctx context.Context) error {
	due, err := w.Store.BoardsToMail(ctx, w.Clock(), boardsAtATime)
	if err != nil {
		return err
	}
	for _, b := range due {
		if err := w.caught("board", b.ID, func() error { return w.sendBoard(ctx, b) }); err != nil && ctx.Err() == nil {
			w.Log.Error("a board cannot be sent", "board", b.ID, "error", err)
			if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetBoardMail(b.ID, w.Clock().Add(sendAgainAfter)) }); err != nil {
				return err
			}
		}
	}
	if len(due) > 0 {
		w.rouseMail()
	}
	return nil
}

func (w *Measuring) sendBoard(ctx context.Context, b store.Board) error {
	next, err := b.Mail.Next(w.Clock(), homeHours(w.kernel), w.Organisation().Location())
	if err != nil {
		next = time.Time{} // a rule that cannot be read any more is not followed
	}
	board := w.asBoard(b, b.Owner)
	said := board.Stopped
	if said == "" {
		pages, err := w.Count(ctx, board, "")
		if err != nil {
			return err
		}
		if said, err = w.inWords(ctx, pages); err != nil {
			return err
		}
	}
	path := "/measure/boards/" + b.ID
	said += "\n\nOpen it: " + cmp.Or(w.letters.pageOf(path), path)
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		return errors.Join(w.tell(ctx, tx, w.readers(b), message.Board, b.Title, said, b.Owner), tx.SetBoardMail(b.ID, next))
	})
}

// tell writes a message to people, once to each who is still with the company.
func (w *Measuring) tell(ctx context.Context, tx *store.Tx, people []string, kind message.Kind, title, said, by string) error {
	company := w.Company()
	for _, person := range slices.Compact(slices.Sorted(slices.Values(people))) {
		p, known := company.Person(person)
		if !known || p.Former {
			continue
		}
		if err := w.letters.postKind(ctx, tx, company, store.Message{Person: person, Kind: kind, At: w.Clock()}, message.Facts{Title: title, Said: said, Person: p.Name, By: company.Name(by)}); err != nil {
			return err
		}
	}
	return nil
}

// mostLinesSaid is how many lines of a page are written into a mail.
const mostLinesSaid = 15

// inWords writes the pages of a board as lines that can be read in a mail.
func (w *Measuring) inWords(ctx context.Context, pages []BoardPage) (string, error) {
	names, err := w.Names(ctx)
	if err != nil {
		return "", err
	}
	var out strings.Builder
	line := func(name string, f *measure.Figure, v measure.Value) {
		_, _ = fmt.Fprintf(&out, "%s: %s\n", name, measure.InWords(f, v, w.Organisation().Currency)) // a builder never fails
	}
	for _, p := range pages {
		title := p.Title
		if title == "" {
			title = "In " + p.Screen.Period.Words
		}
		_, _ = fmt.Fprintf(&out, "%s\n", title)
		f, _ := measure.FigureOf(p.Sentence.Figure)
		series, side := p.Screen.Side, p.Sentence.Side
		switch p.Show {
		case measure.ShowFigures:
			for _, told := range p.Screen.Row {
				of, _ := measure.FigureOf(told.Figure)
				line("  "+of.Name, of, told.Total)
			}
			out.WriteString("\n")
			continue
		case measure.ShowAlong:
			series, side = p.Screen.Along, p.Sentence.Along
		case measure.ShowStages:
			f, _ = measure.FigureOf("open")
			series, side = p.Now, measure.ByStatus
		}
		line("  "+f.Name+", in all", f, series.Total)
		for i := range series.Keys[0][:min(mostLinesSaid, len(series.Keys[0]))] {
			at := i
			if side.Timely() { // the last ones
				at += max(0, len(series.Keys[0])-mostLinesSaid)
			}
			cell := at
			if len(series.Keys) == 2 {
				break
			}
			if v := series.Cells[cell]; v.Records > 0 {
				line("  "+names.Of(side, series.Keys[0][at]), f, v)
			}
		}
		out.WriteString("\n")
	}
	return strings.TrimSpace(out.String()), nil
}
