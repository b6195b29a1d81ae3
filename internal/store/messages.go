package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/core/message"
)

// Message is what one person was told of one event.
type Message struct {
	ID, Person, Request string
	Seq                 int
	Kind                message.Kind
	Rung, Task          string
	Subject, Body       string
	Text                message.Text // that was filled in; only its version is kept with the message
	At                  time.Time
	Listed              bool
	Read                bool
	Mail                string // off, waiting, sending, sent or failed
	Daily               bool
	Due                 time.Time // when its mail goes out, or is tried again
	Attempts            int
	Trouble             string    // of the last try
	DecideBy            time.Time // until when its links decide; zero for no links
	Used                bool      // a link of it has decided
}

type messageRow struct {
	ID, Person, Request string
	Seq                 int
	Kind, Rung, Task    string
	Subject, Body, Mail string
	At                  int64
	Listed, Daily       bool
	ReadAt              sql.NullInt64 `db:"read_at"`
	DueAt               int64         `db:"due_at"`
	Attempts            int
	Trouble             string
	DecideBy            int64         `db:"decide_by"`
	UsedAt              sql.NullInt64 `db:"used_at"`
}

const messageColumns = "id, person, coalesce(request, '') AS request, seq, kind, rung, task, subject, body, at, listed, read_at, mail, daily, due_at, attempts, trouble, decide_by, used_at"

func (r messageRow) message() Message {
	m := Message{
		ID: r.ID, Person: r.Person, Request: r.Request, Seq: r.Seq, Kind: message.Kind(r.Kind), Rung: r.Rung, Task: r.Task, Subject: r.Subject, Body: r.Body,
		At: instant(r.At), Listed: r.Listed, Read: r.ReadAt.Valid, Mail: r.Mail, Daily: r.Daily, Due: instant(r.DueAt), Attempts: r.Attempts, Trouble: r.Trouble, Used: r.UsedAt.Valid,
	}
	if r.DecideBy > 0 {
		m.DecideBy = instant(r.DecideBy)
	}
	return m
}

func messagesOf(rows []messageRow) []Message {
	all := make([]Message, len(rows))
	for i, row := range rows {
		all[i] = row.message()
	}
	return all
}

// AddMessage keeps a message with its event.
func (t *Tx) AddMessage(m Message) error {
	decideBy := int64(0)
	if !m.DecideBy.IsZero() {
		decideBy = millis(m.DecideBy)
	}
	version := m.Text.Version()
	if err := t.exec("INSERT INTO message_versions (version, kind, subject, body) VALUES (?,?,?,?) ON CONFLICT DO NOTHING", version, m.Text.Kind, m.Text.Subject, m.Text.Body); err != nil {
		return err
	}
	return t.exec("INSERT INTO messages (id, person, request, seq, kind, rung, task, subject, body, at, listed, mail, daily, due_at, decide_by, text) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		m.ID, m.Person, sql.NullString{String: m.Request, Valid: m.Request != ""}, m.Seq, m.Kind, m.Rung, m.Task, m.Subject, m.Body, millis(m.At), m.Listed, m.Mail, m.Daily, millis(m.Due), decideBy, version)
}

// Message finds one by its ID.
func (r ofCompany) Message(ctx context.Context, id string) (Message, error) {
	var row messageRow
	err := r.get(ctx, &row, "SELECT "+messageColumns+" FROM messages WHERE id = ?", id)
	return row.message(), err
}

// MessagesOf lists what a person was told, the last first.
func (r ofCompany) MessagesOf(ctx context.Context, person string, unread bool, p Page) ([]Message, error) {
	ms, id := p.after()
	var rows []messageRow
	err := r.all(ctx, &rows, "SELECT "+messageColumns+` FROM messages WHERE person = ?1 AND listed = 1 AND (?5 = 0 OR read_at IS NULL)
		AND (?2 = 0 OR at < ?2 OR (at = ?2 AND id < ?3)) ORDER BY at DESC, id DESC LIMIT ?4`, person, ms, id, p.Limit, unread)
	return messagesOf(rows), err
}

// Unread counts what a person was told and has not read.
func (r ofCompany) Unread(ctx context.Context, person string) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM messages WHERE person = ? AND listed = 1 AND read_at IS NULL", person)
	return n, err
}

// MailsOf lists the messages on a request that go or went out by mail, the
// first first; at most 500.
func (r ofCompany) MailsOf(ctx context.Context, request string) ([]Message, error) {
	var rows []messageRow
	err := r.all(ctx, &rows, "SELECT "+messageColumns+" FROM messages WHERE request = ? AND mail <> 'off' ORDER BY at, id LIMIT 500", request)
	return messagesOf(rows), err
}

// MarkRead marks messages of a person as read: one, or all when id is empty,
// or those on one request.
func (t *Tx) MarkRead(person, id, request string, at time.Time) error {
	return t.exec("UPDATE messages SET read_at = ?1 WHERE person = ?2 AND read_at IS NULL AND listed = 1 AND (?3 = '' OR id = ?3) AND (?4 = '' OR request = ?4)", millis(at), person, id, request)
}

// MarkOldRead marks everything as read that was told before an instant.
func (t *Tx) MarkOldRead(before, at time.Time) error {
	return t.exec("UPDATE messages SET read_at = ? WHERE read_at IS NULL AND at < ?", millis(at), millis(before))
}

// letGo holds for a mail that goes out: after a restore, before somebody says yes, only
// links for a new password that were asked for since.
const letGo = "(kind = 'entry' AND at > (SELECT coalesce(max(restored_at), 0) FROM restored) OR NOT EXISTS (SELECT 1 FROM restored WHERE let_go_at IS NULL))"

// LeaseMails marks mails due by now as being sent and gives them, the oldest
// first.
func (s *Store) LeaseMails(ctx context.Context, now time.Time, limit int) ([]Message, error) {
	var rows []messageRow
	err := s.writer.SelectContext(ctx, &rows, `UPDATE messages SET mail = 'sending' WHERE id IN
		(SELECT id FROM messages WHERE mail = 'waiting' AND due_at <= ? AND `+letGo+` ORDER BY due_at LIMIT ?) RETURNING `+messageColumns, millis(now), limit)
	return messagesOf(rows), err
}

// MailSent ends mails that were sent.
func (s *Store) MailSent(ctx context.Context, ids []string, at time.Time) error {
	query, args, err := sqlx.In("UPDATE messages SET mail = 'sent', sent_at = ?, trouble = '' WHERE id IN (?)", millis(at), ids)
	if err == nil {
		_, err = s.writer.ExecContext(ctx, query, args...)
	}
	return err
}

// MailFailed puts mails off to another try, or ends them as failed when there
// is none.
func (s *Store) MailFailed(ctx context.Context, ids []string, trouble string, next time.Time) error {
	state := "waiting"
	if next.IsZero() {
		state = "failed"
	}
	query, args, err := sqlx.In("UPDATE messages SET mail = ?, attempts = attempts + 1, trouble = ?, due_at = ? WHERE id IN (?)", state, trouble, millis(next), ids)
	if err == nil {
		_, err = s.writer.ExecContext(ctx, query, args...)
	}
	return err
}

// NextMail is when the next mail falls due, or ErrNotFound.
func (r ofCompany) NextMail(ctx context.Context) (time.Time, error) {
	var due int64
	err := r.get(ctx, &due, "SELECT due_at FROM messages WHERE mail = 'waiting' AND "+letGo+" ORDER BY due_at LIMIT 1")
	if err != nil {
		return time.Time{}, err
	}
	return instant(due), nil
}

// MailsWait lets mails wait that nobody was there to take; the trouble of before
// stays when there is none.
func (s *Store) MailsWait(ctx context.Context, ids []string, until time.Time, trouble string) error {
	query, args, err := sqlx.In("UPDATE messages SET mail = 'waiting', due_at = max(due_at, ?), trouble = CASE ? WHEN '' THEN trouble ELSE ? END WHERE id IN (?)", millis(until), trouble, trouble, ids)
	if err == nil {
		_, err = s.writer.ExecContext(ctx, query, args...)
	}
	return err
}

// MailAgain lets a mail go out that was set aside.
func (t *Tx) MailAgain(id string, at time.Time) error {
	return t.exec("UPDATE messages SET mail = 'waiting', due_at = ? WHERE id = ? AND mail IN ('sending', 'failed')", millis(at), id)
}

// ReleaseMails makes mails wait again that a process which is no more was
// sending.
func (s *Store) ReleaseMails(ctx context.Context) error {
	_, err := s.writer.ExecContext(ctx, "UPDATE messages SET mail = 'waiting' WHERE mail = 'sending' AND id NOT IN (SELECT id FROM set_aside WHERE lane = 'mail')")
	return err
}

// UseLink marks the links of a message as used; ErrExists when they were.
func (t *Tx) UseLink(id string, at time.Time) error {
	done, err := t.tx.ExecContext(t.ctx, "UPDATE messages SET used_at = ? WHERE id = ? AND used_at IS NULL", millis(at), id)
	if err != nil {
		return err
	}
	if n, err := done.RowsAffected(); err != nil || n == 0 {
		return ErrExists
	}
	return nil
}

// Ways are how some people get their messages, where they have chosen.
func (r ofCompany) Ways(ctx context.Context, persons []string) (map[string]map[message.Kind]message.Way, error) {
	out := map[string]map[message.Kind]message.Way{}
	if len(persons) == 0 {
		return out, nil
	}
	query, args, err := sqlx.In("SELECT person, kind, listed, mail FROM message_ways WHERE person IN (?)", persons)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		Person, Kind, Mail string
		Listed             bool
	}
	if err := r.all(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	for _, row := range rows {
		if out[row.Person] == nil {
			out[row.Person] = map[message.Kind]message.Way{}
		}
		out[row.Person][message.Kind(row.Kind)] = message.Way{Kind: message.Kind(row.Kind), List: row.Listed, Mail: message.Mail(row.Mail)}
	}
	return out, nil
}

// SetWay keeps how a person gets the messages of a kind.
func (t *Tx) SetWay(person string, w message.Way) error {
	return t.exec("INSERT INTO message_ways (person, kind, listed, mail) VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET listed = excluded.listed, mail = excluded.mail", person, w.Kind, w.List, w.Mail)
}

// Texts are the general texts that took the place of the usual ones.
func (r ofCompany) Texts(ctx context.Context) ([]message.Text, error) {
	texts := []message.Text{}
	err := r.all(ctx, &texts, "SELECT kind, subject, body FROM message_texts ORDER BY kind")
	return texts, err
}

// UsualThen gives the usual texts as they were when somebody wrote others in their place.
func (r ofCompany) UsualThen(ctx context.Context) (map[message.Kind]message.Text, error) {
	var rows []struct{ Kind, Usual string }
	if err := r.all(ctx, &rows, "SELECT kind, usual FROM message_texts WHERE usual <> ''"); err != nil {
		return nil, err
	}
	then := map[message.Kind]message.Text{}
	for _, row := range rows {
		var t message.Text
		if err := json.Unmarshal([]byte(row.Usual), &t); err != nil {
			return nil, err
		}
		then[message.Kind(row.Kind)] = t
	}
	return then, nil
}

// SetText keeps a general text; an empty one makes the usual one hold again.
func (t *Tx) SetText(text, usual message.Text, by string, at time.Time) error {
	if text.Subject == "" && text.Body == "" {
		return t.exec("DELETE FROM message_texts WHERE kind = ?", text.Kind)
	}
	then, err := json.Marshal(usual)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO message_texts (kind, subject, body, usual, changed_at, changed_by) VALUES (?,?,?,?,?,?) ON CONFLICT DO UPDATE SET subject = excluded.subject, body = excluded.body, usual = excluded.usual, changed_at = excluded.changed_at, changed_by = excluded.changed_by",
		text.Kind, text.Subject, text.Body, string(then), millis(at), by)
}

// Silent reports whether somebody wants to hear no news of a request.
func (r ofCompany) Silent(ctx context.Context, person, request string) (bool, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM silenced WHERE request = ? AND person = ?", request, person)
	return n > 0, err
}

// Silenced lists who wants to hear no news of a request.
func (r ofCompany) Silenced(ctx context.Context, request string) ([]string, error) {
	var persons []string
	err := r.all(ctx, &persons, "SELECT person FROM silenced WHERE request = ?", request)
	return persons, err
}

// Silence keeps that somebody wants to hear no news of a request, or wants to
// again.
func (t *Tx) Silence(person, request string, silent bool) error {
	if silent {
		return t.exec("INSERT INTO silenced (request, person) VALUES (?,?) ON CONFLICT DO NOTHING", request, person)
	}
	return t.exec("DELETE FROM silenced WHERE request = ? AND person = ?", request, person)
}
