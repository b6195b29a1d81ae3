package work

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"sync"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Board is a board as somebody sees it.
type Board struct {
	store.Board
	Own     bool   // the reader made it
	Stopped string // why it is not counted any more; empty while it is
}

// Boards lists the boards that a person sees, the last changed first.
func (w *Measuring) Boards(ctx context.Context, person string) ([]Board, error) {
	all, err := w.Store.Boards(ctx)
	if err != nil {
		return nil, err
	}
	var seen []Board
	for _, b := range all {
		if b.Owner == person || b.Shared.With(person, w.TeamsOf(person)) {
			seen = append(seen, w.asBoard(b, person))
		}
	}
	return seen, nil
}

func (w *Measuring) asBoard(b store.Board, person string) Board {
	return Board{b, b.Owner == person, w.stopped(b)}
}

// stopped says why a board is not counted any more: who shares it has left, or may not
// measure what they could when they saved it.
func (w *Measuring) stopped(b store.Board) string {
	owner, known := w.Company().Person(b.Owner)
	switch {
	case !known || owner.Former:
		return "It has stopped: " + w.Company().Name(b.Owner) + ", who made it, is not with the company any more."
	case !w.Sight(b.Owner).Covers(b.Sight):
		return "It has stopped: " + owner.Name + ", who made it, may not measure all of it any more."
	}
	return ""
}

// Board opens a board that a person sees.
func (w *Measuring) Board(ctx context.Context, person, id string) (Board, error) {
	b, err := w.Store.Board(ctx, id)
	if err == nil && b.Owner != person && !b.Shared.With(person, w.TeamsOf(person)) {
		err = ErrNotFound
	}
	return w.asBoard(b, person), err
}

// ownBoard opens a board that a person has made.
func (w *Measuring) ownBoard(ctx context.Context, person, id string) (store.Board, error) {
	b, err := w.Store.Board(ctx, id)
	if err == nil && b.Owner != person {
		err = ErrNotFound
	}
	return b, err
}

// SaveBoard keeps a board of a person: a new one without an ID, else in place of a revision.
func (w *Measuring) SaveBoard(ctx context.Context, person, id string, revision int, b measure.Board) (Board, error) {
	zone, hours := w.Organisation().Location(), homeHours(w.kernel)
	if err := refusedFor(refusal.Board, b.Check(w.day(), yearStart(w.kernel), hours, zone)); err != nil {
		return Board{}, err
	}
	for i := range b.Parts {
		b.Parts[i].Sentence = b.Parts[i].Sentence.Fitted()
	}
	kept := store.Board{Board: b, ID: id, Owner: person, Sight: w.Sight(person), Revision: revision + 1, ChangedAt: w.Clock().UTC()}
	var err error
	if kept.MailAt, err = b.Mail.Next(w.Clock(), hours, zone); err != nil {
		return Board{}, err
	}
	if id == "" {
		kept.ID, kept.Revision = rand.Text(), 1
	} else if _, err := w.ownBoard(ctx, person, id); err != nil {
		return Board{}, err
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveBoard(kept) })
	if errors.Is(err, store.ErrExists) {
		return Board{}, conflict(refusal.BoardChanged, "You have changed this board elsewhere meanwhile. Open it anew.")
	}
	if err != nil {
		return Board{}, err
	}
	return w.Board(ctx, person, kept.ID)
}

// DropBoard throws a board of a person away, with its copies and its link.
func (w *Measuring) DropBoard(ctx context.Context, person, id string) error {
	if _, err := w.ownBoard(ctx, person, id); err != nil {
		return err
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropBoard(id) })
}

// BoardPage is one page of a board, counted.
type BoardPage struct {
	measure.Part
	Screen Screen         // of the sentence, as far as the page shows it
	Now    measure.Series // of stages: how many stand where
	Oldest measure.Series // of stages: since when the oldest does
}

// Count counts the pages of a board as its owner sees them, now or as of the end of a day.
func (w *Measuring) Count(ctx context.Context, b Board, day string) ([]BoardPage, error) {
	if b.Stopped != "" {
		return nil, nil
	}
	if date, err := calendar.ParseDate(day); err == nil {
		w = w.asOf(date)
	}
	var pages []BoardPage
	for _, part := range b.Parts {
		p := BoardPage{Part: part}
		var err error
		if part.Show == measure.ShowStages {
			err = w.stages(ctx, b.Owner, part.Sentence, &p)
		} else {
			p.Screen, err = w.screen(ctx, w.Sight(b.Owner), part.Sentence)
		}
		if err != nil {
			return nil, err
		}
		pages = append(pages, p)
	}
	return pages, nil
}

// stages counts how many requests stand where, and since when the oldest of them is under
// way.
func (w *Measuring) stages(ctx context.Context, owner string, s measure.Sentence, p *BoardPage) error {
	s.Figure = "open"
	q, err := w.asked(s.Fitted())
	if err != nil {
		return err
	}
	by := []measure.Side{measure.ByStatus}
	q.Wanted = []measure.Wanted{{Figure: "open", By: by}, {Figure: "oldest", By: by}, {Figure: "overdue", By: by}}
	answers, err := w.answer(ctx, w.Sight(owner), q)
	if err != nil {
		return err
	}
	p.Screen.Sentence, p.Screen.Period, p.Screen.AsOf = s, q.Period, w.now().UTC()
	p.Now, p.Oldest, p.Screen.Side = answers[0], answers[1], answers[2]
	return nil
}

// BoardRecords lists what a page of a board counts, as far as the reader may see records.
func (w *Measuring) BoardRecords(ctx context.Context, person, id string, page int, after *measure.Ref, limit int) (Records, error) {
	b, err := w.Board(ctx, person, id)
	if err != nil {
		return Records{}, err
	}
	if page < 0 || page >= len(b.Parts) || b.Stopped != "" {
		return Records{}, ErrNotFound
	}
	return w.records(ctx, person, w.Sight(b.Owner), b.Parts[page].Sentence, after, limit)
}

// KeepCopy keeps what a board shows as of the end of a day, already worded; it gives its ID.
func (w *Measuring) KeepCopy(ctx context.Context, person, id, day string, shown any) (store.BoardCopy, error) {
	if _, err := w.ownBoard(ctx, person, id); err != nil {
		return store.BoardCopy{}, err
	}
	text, err := json.Marshal(shown)
	if err != nil {
		return store.BoardCopy{}, err
	}
	c := store.BoardCopy{ID: rand.Text(), Board: id, Day: day, MadeAt: w.Clock().UTC(), MadeBy: person, Shown: string(text)}
	return c, w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddBoardCopy(c) })
}

// Day reads the day that a copy is made of: one that is over, or today.
func (w *Measuring) Day(text string) (string, error) {
	day, err := calendar.ParseDate(text)
	if err != nil || day.Compare(w.day()) > 0 {
		return "", invalid(refusal.Board, "/day", "Choose today, or a day that is over.")
	}
	return day.String(), nil
}

// DropCopy throws a copy of a board of a person away.
func (w *Measuring) DropCopy(ctx context.Context, person, board, id string) error {
	if _, err := w.ownBoard(ctx, person, board); err != nil {
		return err
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropBoardCopy(board, id) })
}

// Copies lists the copies of a board that a person sees.
func (w *Measuring) Copies(ctx context.Context, person, board string) ([]store.BoardCopy, error) {
	if _, err := w.Board(ctx, person, board); err != nil {
		return nil, err
	}
	return w.Store.BoardCopies(ctx, board)
}

// Copy opens a copy of a board that a person sees.
func (w *Measuring) Copy(ctx context.Context, person, board, id string) (store.BoardCopy, error) {
	if _, err := w.Board(ctx, person, board); err != nil {
		return store.BoardCopy{}, err
	}
	return w.Store.BoardCopy(ctx, board, id)
}

// PutOnWall gives the link by which a board of a person is shown without signing in; one of
// before shows nothing any more.
func (w *Measuring) PutOnWall(ctx context.Context, person, id string) (token string, err error) {
	if _, err := w.ownBoard(ctx, person, id); err != nil {
		return "", err
	}
	token = rand.Text()
	return token, w.setWall(ctx, id, wallHash(token))
}

// TakeOffWall ends that.
func (w *Measuring) TakeOffWall(ctx context.Context, person, id string) error {
	if _, err := w.ownBoard(ctx, person, id); err != nil {
		return err
	}
	return w.setWall(ctx, id, nil)
}

func (w *Measuring) setWall(ctx context.Context, id string, hash []byte) error {
	defer w.walls.Clear()
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetWall(id, hash) })
}

func wallHash(token string) []byte {
	sum := sha256.Sum256([]byte("wall " + token))
	return sum[:]
}

// wallFresh is how long what a wall shows is shown to others, too, without counting anew.
const wallFresh = 5 * time.Second

// onWall is what a wall shows.
type onWall struct {
	mu    sync.Mutex
	at    time.Time
	board Board
	pages []BoardPage
}

// Wall shows the board of a link to whoever has it.
func (w *Measuring) Wall(ctx context.Context, token string) (Board, []BoardPage, error) {
	kept, err := w.Store.BoardOnWall(ctx, wallHash(token))
	if err != nil {
		return Board{}, nil, err
	}
	entry, _ := w.walls.LoadOrStore(kept.ID, &onWall{})
	shown := entry.(*onWall)
	shown.mu.Lock()
	defer shown.mu.Unlock()
	if now := w.Clock(); shown.board.Revision != kept.Revision || now.Sub(shown.at) > wallFresh || now.Before(shown.at) {
		shown.board = w.asBoard(kept, "")
		if shown.pages, err = w.Count(ctx, shown.board, ""); err != nil {
			return Board{}, nil, err
		}
		shown.at = now
	}
	return shown.board, shown.pages, nil
}

// readers are those whom a board is sent to: who made it, and whom it is shared with by name
// or team. Some may stand there twice.
func (w *Measuring) readers(b store.Board) []string {
	people := []string{b.Owner}
	for _, team := range b.Shared.Teams {
		people = append(people, w.Company().Members(team)...)
	}
	return append(people, b.Shared.People...)
}
