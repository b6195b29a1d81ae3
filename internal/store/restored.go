package store

import (
	"context"
	"errors"
	"time"
)

// HeldBack is a restore of which nothing goes out yet.
type HeldBack struct{ Made, At time.Time }

// HeldBack tells of a restore of which nothing goes out before somebody says yes;
// ErrNotFound when there is none.
func (r ofSystems) HeldBack(ctx context.Context) (HeldBack, error) {
	var row struct {
		Made     int64 `db:"made_at"`
		Restored int64 `db:"restored_at"`
	}
	err := r.get(ctx, &row, "SELECT made_at, restored_at FROM restored WHERE let_go_at IS NULL")
	return HeldBack{instant(row.Made), instant(row.Restored)}, err
}

// LetGo notes that what was held back goes out.
func (t *Tx) LetGo(at time.Time) error {
	return t.exec("UPDATE restored SET let_go_at = ? WHERE let_go_at IS NULL", millis(at))
}

// Outgoing is something that would go out: a call of another system, or a mail.
type Outgoing struct {
	Reference string
	What      string // the connector of a call, the subject of a mail
	To        string // the task of a call, the name of a mail's reader
	DueAt     int64  `db:"due_at"`
}

// Due is when it would go out.
func (o Outgoing) Due() time.Time { return instant(o.DueAt) }

// goingOut are the mails that wait or are being sent: few of many, each kind by its index.
const goingOut = "(SELECT * FROM messages WHERE mail = 'waiting' UNION ALL SELECT * FROM messages WHERE mail = 'sending')"

// Outgoing lists the calls and the mails that wait to go out, the first due first; at
// most so many of each, with how many there are.
func (r ofSystems) Outgoing(ctx context.Context, limit int) (calls, mails []Outgoing, counts [2]int, err error) {
	err = errors.Join(
		r.all(ctx, &calls, "SELECT coalesce(r.reference, '') AS reference, e.connector AS what, e.task AS \"to\", e.due_at FROM effects e JOIN requests r ON r.id = e.request WHERE e.state <> 'done' AND e.state IN ('waiting', 'running') AND e.kind = 'call' ORDER BY e.due_at, e.key LIMIT ?", limit),
		r.all(ctx, &mails, "SELECT coalesce(r.reference, '') AS reference, substr(unpacked(w.words), 1, instr(unpacked(w.words), char(10)) - 1) AS what, p.name AS \"to\", m.due_at FROM "+goingOut+" m JOIN message_words w ON w.id = m.words JOIN people p ON p.id = m.person LEFT JOIN requests r ON r.id = w.request ORDER BY m.due_at, m.words LIMIT ?", limit),
		r.get(ctx, &counts[0], "SELECT count(*) FROM effects WHERE state <> 'done' AND state IN ('waiting', 'running') AND kind = 'call'"),
		r.get(ctx, &counts[1], "SELECT count(*) FROM "+goingOut),
	)
	return calls, mails, counts, err
}
