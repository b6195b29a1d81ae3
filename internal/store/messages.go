package store

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
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
	Person, Request  string
	Words            int64
	Seq              int
	Kind, Rung, Task string
	Text             unpacked // subject, a line feed, and body
	Mail             string
	At               int64
	Listed, Daily    bool
	ReadAt           sql.NullInt64 `db:"read_at"`
	DueAt            int64         `db:"due_at"`
	Attempts         int
	Trouble          string
	DecideBy         int64         `db:"decide_by"`
	UsedAt           sql.NullInt64 `db:"used_at"`
}

// messages read what people were told with its words; the words of one event are kept once.
const messages = `SELECT m.person, m.words, coalesce(w.request, '') AS request, w.seq, w.kind, w.rung, w.task, w.words AS text, w.at, m.listed, m.read_at, m.mail, m.daily,
	m.due_at, m.attempts, m.trouble, m.decide_by, m.used_at FROM messages m JOIN message_words w ON w.id = m.words`

// messageID names a message: by its words, and who is told.
func messageID(words int64, person string) string { return fmt.Sprintf("%d.%s", words, person) }

// message finds by which words and person a message is kept.
func (r queries) message(ctx context.Context, id string) (words int64, person string, err error) {
	before, person, _ := strings.Cut(id, ".")
	if words, err = strconv.ParseInt(before, 10, 64); err == nil && person != "" {
		return words, person, nil
	}
	var row struct { // a mail of before
		Words  int64
		Person string
	}
	err = r.get(ctx, &row, "SELECT words, person FROM message_names WHERE name = ?", id)
	return row.Words, row.Person, err
}

func (r messageRow) message() Message {
	subject, body, _ := strings.Cut(string(r.Text), "\n")
	m := Message{
		ID: messageID(r.Words, r.Person), Person: r.Person, Request: r.Request, Seq: r.Seq, Kind: message.Kind(r.Kind), Rung: r.Rung, Task: r.Task, Subject: subject, Body: body,
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

// Message finds one by its ID.
func (r ofCompany) Message(ctx context.Context, id string) (Message, error) {
	said, person, err := r.message(ctx, id)
	if err != nil {
		return Message{}, err
	}
	var row messageRow
	err = r.get(ctx, &row, messages+" WHERE m.person = ? AND m.words = ?", person, said)
	return row.message(), err
}

// MessagesOf lists what a person was told, the last first. The ID of a message is the
// cursor after it.
func (r ofCompany) MessagesOf(ctx context.Context, person string, unread bool, p Page) ([]Message, error) {
	before, _ := p.after()
	which := ""
	if unread {
		which = " AND m.read_at IS NULL"
	}
	var rows []messageRow
	err := r.all(ctx, &rows, messages+" WHERE m.person = ? AND m.listed = 1 AND m.words < ?"+which+" ORDER BY m.words DESC LIMIT ?", person, cmp.Or(before, math.MaxInt64), p.Limit)
	return messagesOf(rows), err
}

// mostUnread is how far what somebody has not read is counted; nobody wants to know more.
const mostUnread = 100

// Unread counts what a person was told and has not read; at most 100.
func (r ofCompany) Unread(ctx context.Context, person string) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM (SELECT 1 FROM messages WHERE person = ? AND listed = 1 AND read_at IS NULL LIMIT ?)", person, mostUnread)
	return n, err
}

// MailsOf lists the messages on a request that go or went out by mail, the
// first first; at most 500.
func (r ofCompany) MailsOf(ctx context.Context, request string) ([]Message, error) {
	var rows []messageRow
	err := r.all(ctx, &rows, messages+" WHERE w.request = ? AND m.mail <> 'off' ORDER BY w.at, w.id, m.person LIMIT 500", request)
	return messagesOf(rows), err
}

// MarkRead marks messages of a person as read: one, or all when id is empty,
// or those on one request.
func (t tellingTx) MarkRead(person, id, request string, at time.Time) error {
	which, args := "", []any{millis(at), person}
	if id != "" {
		said, _, err := t.message(t.ctx, id)
		if err != nil {
			return err
		}
		which, args = " AND words = ?", append(args, said)
	}
	if request != "" {
		which, args = which+" AND words IN (SELECT id FROM message_words WHERE request = ?)", append(args, request)
	}
	return t.exec("UPDATE messages SET read_at = ? WHERE person = ? AND read_at IS NULL AND listed = 1"+which, args...)
}

// MarkOldRead marks everything as read that was told before an instant.
func (t tellingTx) MarkOldRead(before, at time.Time) error {
	return t.exec("UPDATE messages SET read_at = ? WHERE read_at IS NULL AND (SELECT w.at FROM message_words w WHERE w.id = messages.words) < ?", millis(at), millis(before))
}

// letGo holds for a mail m with words w that goes out: after a restore, before somebody
// says yes, only links for a new password that were asked for since.
const letGo = "(w.kind = 'entry' AND w.at > (SELECT coalesce(max(restored_at), 0) FROM restored) OR NOT EXISTS (SELECT 1 FROM restored WHERE let_go_at IS NULL))"

// LeaseMails marks mails due by now as being sent and gives them, the oldest
// first.
func (s *Store) LeaseMails(ctx context.Context, now time.Time, limit int) (leased []Message, err error) {
	if next, err := s.NextMail(ctx); errors.Is(err, ErrNotFound) || err == nil && next.After(now) {
		return nil, nil // who looks in vain holds up nobody who writes
	}
	err = s.Write(ctx, func(tx *Tx) error {
		var rows []messageRow
		if err := tx.all(ctx, &rows, messages+" WHERE m.mail = 'waiting' AND m.due_at <= ? AND "+letGo+" ORDER BY m.due_at LIMIT ?", millis(now), limit); err != nil {
			return err
		}
		leased = messagesOf(rows)
		return tx.setMails(leased, "mail = 'sending'")
	})
	return leased, err
}

// setMails sets columns of mails.
func (t tellingTx) setMails(mails []Message, set string, args ...any) error {
	for _, m := range mails {
		said, person, err := t.message(t.ctx, m.ID)
		if err != nil {
			return err
		}
		if err := t.exec("UPDATE messages SET "+set+" WHERE person = ? AND words = ?", append(slices.Clone(args), person, said)...); err != nil {
			return err
		}
	}
	return nil
}

// MailSent ends mails that were sent.
func (s *Store) MailSent(ctx context.Context, mails []Message, at time.Time) error {
	return s.Write(ctx, func(tx *Tx) error { return tx.setMails(mails, "mail = 'sent', sent_at = ?, trouble = ''", millis(at)) })
}

// MailFailed puts mails off to another try, or ends them as failed when there
// is none.
func (s *Store) MailFailed(ctx context.Context, mails []Message, trouble string, next time.Time) error {
	state := "waiting"
	if next.IsZero() {
		state = "failed"
	}
	return s.Write(ctx, func(tx *Tx) error {
		return tx.setMails(mails, "mail = ?, attempts = attempts + 1, trouble = ?, due_at = ?", state, trouble, millis(next))
	})
}

// NextMail is when the next mail falls due, or ErrNotFound.
func (r ofCompany) NextMail(ctx context.Context) (time.Time, error) {
	var due int64
	err := r.get(ctx, &due, "SELECT m.due_at FROM messages m JOIN message_words w ON w.id = m.words WHERE m.mail = 'waiting' AND "+letGo+" ORDER BY m.due_at LIMIT 1")
	if err != nil {
		return time.Time{}, err
	}
	return instant(due), nil
}

// MailsWait lets mails wait that nobody was there to take; the trouble of before
// stays when there is none.
func (s *Store) MailsWait(ctx context.Context, mails []Message, until time.Time, trouble string) error {
	return s.Write(ctx, func(tx *Tx) error {
		return tx.setMails(mails, "mail = 'waiting', due_at = max(due_at, ?), trouble = CASE ? WHEN '' THEN trouble ELSE ? END", millis(until), trouble, trouble)
	})
}

// MailAgain lets a mail go out that was set aside.
func (t tellingTx) MailAgain(id string, at time.Time) error {
	said, person, err := t.message(t.ctx, id)
	if err != nil {
		return err
	}
	return t.exec("UPDATE messages SET mail = 'waiting', due_at = ? WHERE person = ? AND words = ? AND mail IN ('sending', 'failed')", millis(at), person, said)
}

// ReleaseMails makes mails wait again that a process which is no more was
// sending.
func (s *Store) ReleaseMails(ctx context.Context) error {
	return s.change(ctx, "UPDATE messages SET mail = 'waiting' WHERE mail = 'sending' AND words || '.' || person NOT IN (SELECT id FROM set_aside WHERE lane = 'mail')")
}

// UseLink marks the links of a message as used; ErrExists when they were.
func (t tellingTx) UseLink(id string, at time.Time) error {
	said, person, err := t.message(t.ctx, id)
	if err != nil {
		return err
	}
	done, err := t.tx.ExecContext(t.ctx, "UPDATE messages SET used_at = ? WHERE person = ? AND words = ? AND used_at IS NULL", millis(at), person, said)
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
func (t tellingTx) SetWay(person string, w message.Way) error {
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
func (t tellingTx) SetText(text, usual message.Text, by string, at time.Time) error {
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
func (t tellingTx) Silence(person, request string, silent bool) error {
	if silent {
		return t.exec("INSERT INTO silenced (request, person) VALUES (?,?) ON CONFLICT DO NOTHING", request, person)
	}
	return t.exec("DELETE FROM silenced WHERE request = ? AND person = ?", request, person)
}
