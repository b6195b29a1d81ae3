package web

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/work"
)

type boardLine struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	By      string `json:"by" doc:"Name of who made it"`
	Own     bool   `json:"own"`
	Wall    bool   `json:"wall" doc:"It is shown by a link without signing in"`
	Stopped string `json:"stopped,omitempty" doc:"Why it is not counted any more"`
}

type boardView struct {
	ID       string        `json:"id"`
	Board    measure.Board `json:"board"`
	Revision int           `json:"revision"`
	By       string        `json:"by" doc:"Name of who made it"`
	Own      bool          `json:"own"`
	Wall     bool          `json:"wall"`
	Stopped  string        `json:"stopped,omitempty"`
	MailAt   *time.Time    `json:"mailAt,omitempty" doc:"When it is sent next"`
	Pages    []pageView    `json:"pages" nullable:"false"`
	Figures  []figureView  `json:"figures" nullable:"false"`
	Currency string        `json:"currency"`
	AsOf     time.Time     `json:"asOf"`
	People   []namedKey    `json:"people" nullable:"false" doc:"With whom it is shared by name; for who made it"`
	Teams    []namedKey    `json:"teams" nullable:"false" doc:"That it can be shared with; for who made it"`
}

// pageView is one page of a board, with its numbers.
type pageView struct {
	Title  string       `json:"title"`
	Show   measure.Show `json:"show"`
	Screen screenBody   `json:"screen"`
	Stages *stagesView  `json:"stages,omitempty"`
}

type stagesView struct {
	Now     seriesView `json:"now" doc:"How many stand where"`
	Oldest  seriesView `json:"oldest" doc:"How long ago the oldest of them was sent, in seconds"`
	Overdue seriesView `json:"overdue"`
}

func boardLineOf(h measuring, b work.Board) boardLine {
	return boardLine{b.ID, b.Title, h.Office.Company().Name(b.Owner), b.Own, b.OnWall, b.Stopped}
}

func (h measuring) boards(ctx context.Context, _ *none) (*body[listOf[boardLine]], error) {
	all, err := h.Office.Measuring.Boards(ctx, me(ctx))
	out := listOf[boardLine]{Entries: []boardLine{}}
	for _, b := range all {
		out.Entries = append(out.Entries, boardLineOf(h, b))
	}
	return answer(out, err)
}

type BoardInput struct {
	Board string `path:"board" maxLength:"60" doc:"ID"`
}

func (h measuring) board(ctx context.Context, in *BoardInput) (*body[boardView], error) {
	b, err := h.Office.Measuring.Board(ctx, me(ctx), in.Board)
	if err != nil {
		return nil, err
	}
	out, err := h.shown(ctx, b, "")
	return answer(out, err)
}

// shown counts a board, now or as of the end of a day.
func (h measuring) shown(ctx context.Context, b work.Board, day string) (boardView, error) {
	out := boardView{ID: b.ID, Board: b.Board.Board, Revision: b.Revision, By: h.Office.Company().Name(b.Owner), Own: b.Own, Wall: b.OnWall, Stopped: b.Stopped, Pages: []pageView{}, Figures: figures(), Currency: h.Office.Organisation().Currency, AsOf: h.Office.Clock().UTC(), People: []namedKey{}, Teams: []namedKey{}}
	if !b.MailAt.IsZero() {
		out.MailAt = &b.MailAt
	}
	if b.Own {
		for _, id := range b.Shared.People {
			out.People = append(out.People, namedKey{id, h.Office.Company().Name(id)})
		}
		for _, t := range h.Office.Company().Teams() {
			out.Teams = append(out.Teams, namedKey{t.Key, t.Name})
		}
	} else {
		out.Board.Shared = measure.Shared{}
	}
	pages, err := h.Office.Measuring.Count(ctx, b, day)
	if err != nil {
		return boardView{}, err
	}
	out.Pages, err = h.pages(ctx, pages)
	return out, err
}

func (h measuring) pages(ctx context.Context, pages []work.BoardPage) ([]pageView, error) {
	names, err := h.Office.Measuring.Names(ctx)
	out := []pageView{}
	for _, p := range pages {
		view := pageView{Title: p.Title, Show: p.Show, Screen: screenOf(names, p.Screen)}
		if p.Show == measure.ShowStages {
			by := measure.ByStatus
			view.Stages = &stagesView{seriesOf(names, p.Now, by), seriesOf(names, p.Oldest, by), seriesOf(names, p.Screen.Side, by)}
		}
		out = append(out, view)
	}
	return out, err
}

type boardBody struct {
	Revision int           `json:"revision" minimum:"0" doc:"That it is made from; 0 for a new one"`
	Board    measure.Board `json:"board"`
}

func (h measuring) addBoard(ctx context.Context, in *struct{ Body boardBody }) (*body[boardView], error) {
	return h.save(ctx, "", in.Body)
}

func (h measuring) saveBoard(ctx context.Context, in *struct {
	BoardInput
	Body boardBody
}) (*body[boardView], error) {
	return h.save(ctx, in.Board, in.Body)
}

func (h measuring) save(ctx context.Context, id string, given boardBody) (*body[boardView], error) {
	b, err := h.Office.Measuring.SaveBoard(ctx, me(ctx), id, given.Revision, given.Board)
	if err != nil {
		return nil, err
	}
	out, err := h.shown(ctx, b, "")
	return answer(out, err)
}

func (h measuring) dropBoard(ctx context.Context, in *BoardInput) (*none, error) {
	return nil, h.Office.Measuring.DropBoard(ctx, me(ctx), in.Board)
}

type wallLink struct {
	Path string `json:"path" doc:"Of the page that shows it; whoever has it sees the board without signing in"`
}

func (h measuring) putOnWall(ctx context.Context, in *BoardInput) (*body[wallLink], error) {
	token, err := h.Office.Measuring.PutOnWall(ctx, me(ctx), in.Board)
	return answer(wallLink{"/wall/" + token}, err)
}

func (h measuring) takeOffWall(ctx context.Context, in *BoardInput) (*none, error) {
	return nil, h.Office.Measuring.TakeOffWall(ctx, me(ctx), in.Board)
}

type WallInput struct {
	Token string `path:"token" maxLength:"60"`
}

type wallBody struct {
	Title        string       `json:"title"`
	Organisation string       `json:"organisation"`
	Turns        int          `json:"turns" doc:"Seconds for which a page is shown"`
	Stopped      string       `json:"stopped,omitempty"`
	Pages        []pageView   `json:"pages" nullable:"false"`
	Figures      []figureView `json:"figures" nullable:"false"`
	Currency     string       `json:"currency"`
	AsOf         time.Time    `json:"asOf"`
}

// usualTurns is for how many seconds a wall shows a page when nothing is said.
const usualTurns = 20

func (h measuring) wall(ctx context.Context, in *WallInput) (*body[wallBody], error) {
	b, pages, err := h.Office.Measuring.Wall(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	o := h.Office.Organisation()
	out := wallBody{Title: b.Title, Organisation: o.Name, Turns: b.Turns, Figures: figures(), Currency: o.Currency, AsOf: h.Office.Clock().UTC()}
	if b.Stopped != "" {
		out.Stopped = "This board has stopped. Ask who gave you the link."
	}
	if out.Turns == 0 {
		out.Turns = usualTurns
	}
	out.Pages, err = h.pages(ctx, pages)
	return answer(out, err)
}

type copyLine struct {
	ID     string    `json:"id"`
	Day    string    `json:"day" doc:"As of whose end it was counted, RFC 3339"`
	MadeAt time.Time `json:"madeAt"`
	MadeBy string    `json:"madeBy" doc:"Name"`
}

func (h measuring) copies(ctx context.Context, in *BoardInput) (*body[listOf[copyLine]], error) {
	all, err := h.Office.Measuring.Copies(ctx, me(ctx), in.Board)
	out := listOf[copyLine]{Entries: []copyLine{}}
	for _, c := range all {
		out.Entries = append(out.Entries, copyLine{c.ID, c.Day, c.MadeAt, h.Office.Company().Name(c.MadeBy)})
	}
	return answer(out, err)
}

type KeepInput struct {
	BoardInput
	Body struct {
		Day string `json:"day" maxLength:"10" doc:"As of whose end it is counted, RFC 3339"`
	}
}

func (h measuring) keepCopy(ctx context.Context, in *KeepInput) (*body[copyLine], error) {
	day, err := h.Office.Measuring.Day(in.Body.Day)
	if err != nil {
		return nil, err
	}
	b, err := h.Office.Measuring.Board(ctx, me(ctx), in.Board)
	if err != nil {
		return nil, err
	}
	shown, err := h.shown(ctx, b, day)
	if err != nil {
		return nil, err
	}
	c, err := h.Office.Measuring.KeepCopy(ctx, me(ctx), in.Board, day, shown)
	return answer(copyLine{c.ID, c.Day, c.MadeAt, h.Office.Company().Name(c.MadeBy)}, err)
}

type CopyInput struct {
	BoardInput
	Copy string `path:"copy" maxLength:"60" doc:"ID"`
}

func (h measuring) copy(ctx context.Context, in *CopyInput) (*body[boardView], error) {
	c, err := h.Office.Measuring.Copy(ctx, me(ctx), in.Board, in.Copy)
	if err != nil {
		return nil, err
	}
	var out boardView
	err = json.Unmarshal([]byte(c.Shown), &out)
	return answer(out, err)
}

func (h measuring) dropCopy(ctx context.Context, in *CopyInput) (*none, error) {
	return nil, h.Office.Measuring.DropCopy(ctx, me(ctx), in.Board, in.Copy)
}

type BoardRecordsInput struct {
	BoardInput
	Page  int    `path:"page" minimum:"0" maximum:"24" doc:"From 0"`
	After string `query:"after" maxLength:"60" doc:"What the page before gave as next"`
}

func (h measuring) boardRecords(ctx context.Context, in *BoardRecordsInput) (*body[countedBody], error) {
	after, err := work.ParseRef(in.After)
	if err != nil {
		return nil, err
	}
	records, err := h.Office.Measuring.BoardRecords(ctx, me(ctx), in.Board, in.Page, after, countedShown)
	if err != nil {
		return nil, err
	}
	return h.counted(ctx, records)
}
