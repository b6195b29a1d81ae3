package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"heptad/internal/core/measure"
)

// Board is a board that somebody has made.
type Board struct {
	measure.Board
	ID        string
	Owner     string        // ID
	Sight     measure.Sight // what they could measure when they saved it
	Revision  int
	ChangedAt time.Time
	OnWall    bool      // it is shown without signing in
	MailAt    time.Time // when it is sent next; zero for never
}

type boardRow struct {
	ID, Owner, Document, Sight string
	Revision                   int
	ChangedAt                  int64 `db:"changed_at"`
	OnWall                     bool  `db:"on_wall"`
	MailAt                     int64 `db:"mail_at"`
}

const boardColumns = "SELECT id, owner, document, sight, revision, changed_at, wall IS NOT NULL AS on_wall, mail_at FROM boards "

func (r boardRow) board() (Board, error) {
	b := Board{ID: r.ID, Owner: r.Owner, Revision: r.Revision, ChangedAt: instant(r.ChangedAt), OnWall: r.OnWall}
	if r.MailAt > 0 {
		b.MailAt = instant(r.MailAt)
	}
	return b, errors.Join(json.Unmarshal([]byte(r.Document), &b.Board), json.Unmarshal([]byte(r.Sight), &b.Sight))
}

func (r ofCompany) boards(ctx context.Context, where string, args ...any) ([]Board, error) {
	var rows []boardRow
	if err := r.all(ctx, &rows, boardColumns+where, args...); err != nil {
		return nil, err
	}
	all := make([]Board, len(rows))
	for i, row := range rows {
		var err error
		if all[i], err = row.board(); err != nil {
			return nil, err
		}
	}
	return all, nil
}

func (r ofCompany) oneBoard(ctx context.Context, where string, args ...any) (Board, error) {
	all, err := r.boards(ctx, where, args...)
	if err == nil && len(all) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Board{}, err
	}
	return all[0], nil
}

// mostBoards is how many boards are looked at for one person.
const mostBoards = 2000

// Boards lists all boards, the last changed first.
func (r ofCompany) Boards(ctx context.Context) ([]Board, error) {
	return r.boards(ctx, "ORDER BY changed_at DESC, id LIMIT ?", mostBoards)
}

// SeesBoard reports whether there is a board that a person who is in some teams sees.
func (r ofCompany) SeesBoard(ctx context.Context, person string, teams []string) (bool, error) {
	of, err := json.Marshal(append([]string{}, teams...))
	if err != nil {
		return false, err
	}
	var sees bool
	err = r.get(ctx, &sees, `SELECT EXISTS (SELECT 1 FROM boards WHERE owner = ?1 OR document ->> '$.shared.everyone'
		OR EXISTS (SELECT 1 FROM json_each(document, '$.shared.people') WHERE value = ?1)
		OR EXISTS (SELECT 1 FROM json_each(document, '$.shared.teams') t JOIN json_each(?2) mine ON mine.value = t.value))`, person, string(of))
	return sees, err
}

// Board reads a board.
func (r ofCompany) Board(ctx context.Context, id string) (Board, error) {
	return r.oneBoard(ctx, "WHERE id = ?", id)
}

// BoardOnWall finds the board that a link shows, by its hash.
func (r ofCompany) BoardOnWall(ctx context.Context, hash []byte) (Board, error) {
	return r.oneBoard(ctx, "WHERE wall = ?", hash)
}

// BoardsToMail lists boards that are to be sent by an instant.
func (r ofCompany) BoardsToMail(ctx context.Context, now time.Time, limit int) ([]Board, error) {
	return r.boards(ctx, "WHERE mail_at > 0 AND mail_at <= ? ORDER BY mail_at LIMIT ?", millis(now), limit)
}

// SaveBoard keeps a board in place of its revision before; ErrExists when it has changed
// meanwhile.
func (t ownTx) SaveBoard(b Board) error {
	document, err := json.Marshal(b.Board)
	if err != nil {
		return err
	}
	sight, err := json.Marshal(b.Sight)
	if err != nil {
		return err
	}
	var saved int
	err = t.get(t.ctx, &saved, `INSERT INTO boards (id, owner, document, sight, revision, changed_at, mail_at) VALUES (?1,?2,?3,?4,?5,?6,?7)
		ON CONFLICT (id) DO UPDATE SET document = excluded.document, sight = excluded.sight, revision = excluded.revision, changed_at = excluded.changed_at, mail_at = excluded.mail_at
		WHERE boards.revision = excluded.revision - 1 RETURNING 1`, b.ID, b.Owner, string(document), string(sight), b.Revision, millis(b.ChangedAt), millisOr0(b.MailAt))
	if errors.Is(err, ErrNotFound) {
		return ErrExists
	}
	return err
}

// SetWall shows a board to whoever has a link, or takes that back with nil.
func (t ownTx) SetWall(board string, hash []byte) error {
	return t.exec("UPDATE boards SET wall = ? WHERE id = ?", hash, board)
}

// SetBoardMail keeps when a board is sent next.
func (t ownTx) SetBoardMail(board string, at time.Time) error {
	return t.exec("UPDATE boards SET mail_at = ? WHERE id = ?", millisOr0(at), board)
}

// DropBoard throws a board and its copies away.
func (t ownTx) DropBoard(id string) error { return t.exec("DELETE FROM boards WHERE id = ?", id) }

// BoardCopy is a board as it was on a day.
type BoardCopy struct {
	ID, Board, Day string
	MadeAt         time.Time
	MadeBy         string
	Shown          string // JSON; left out of lists
}

type copyRow struct {
	ID, Board, Day, Shown string
	MadeAt                int64  `db:"made_at"`
	MadeBy                string `db:"made_by"`
}

func (r copyRow) copied() BoardCopy {
	return BoardCopy{r.ID, r.Board, r.Day, instant(r.MadeAt), r.MadeBy, r.Shown}
}

// BoardCopies lists the copies of a board, the newest day first.
func (r ofCompany) BoardCopies(ctx context.Context, board string) ([]BoardCopy, error) {
	var rows []copyRow
	err := r.all(ctx, &rows, "SELECT id, board, day, made_at, made_by, '' AS shown FROM board_copies WHERE board = ? ORDER BY day DESC, made_at DESC LIMIT 500", board)
	all := make([]BoardCopy, len(rows))
	for i, row := range rows {
		all[i] = row.copied()
	}
	return all, err
}

// BoardCopy reads a copy.
func (r ofCompany) BoardCopy(ctx context.Context, board, id string) (BoardCopy, error) {
	var row copyRow
	err := r.get(ctx, &row, "SELECT id, board, day, made_at, made_by, shown FROM board_copies WHERE board = ? AND id = ?", board, id)
	return row.copied(), err
}

// AddBoardCopy keeps a copy.
func (t ownTx) AddBoardCopy(c BoardCopy) error {
	return t.exec("INSERT INTO board_copies (id, board, day, made_at, made_by, shown) VALUES (?,?,?,?,?,?)", c.ID, c.Board, c.Day, millis(c.MadeAt), c.MadeBy, c.Shown)
}

// DropBoardCopy throws a copy away.
func (t ownTx) DropBoardCopy(board, id string) error {
	return t.exec("DELETE FROM board_copies WHERE board = ? AND id = ?", board, id)
}
