package store

import (
	"database/sql"
	"errors"
	"slices"

	"heptad/internal/core/message"
)

// AddMessages keeps messages with their event.
func (t tellingTx) AddMessages(all []Message) error {
	for some := range slices.Chunk(all, rowsAtOnce) {
		var args []any
		for _, m := range some {
			decideBy, due := int64(0), int64(0)
			if !m.DecideBy.IsZero() {
				decideBy = millis(m.DecideBy)
			}
			if m.Mail != "off" {
				due = millis(m.Due)
			}
			said, err := t.wordsOf(m)
			if err != nil {
				return err
			}
			args = append(args, m.Person, said, m.Listed, m.Mail, m.Daily, due, decideBy)
		}
		if err := t.execRows("INSERT INTO messages (person, words, listed, mail, daily, due_at, decide_by) VALUES ", 7, args); err != nil {
			return err
		}
	}
	return nil
}

// telling is what somebody is told of an event, whoever they are.
type telling struct {
	Request       string
	Seq           int
	Kind          message.Kind
	Rung, Task    string
	Text          message.Text
	Subject, Body string
}

// wordsOf keeps the words of a message, unless somebody was told them already.
func (t tellingTx) wordsOf(m Message) (int64, error) {
	key := telling{m.Request, m.Seq, m.Kind, m.Rung, m.Task, m.Text, m.Subject, m.Body}
	if id, ok := t.told[key]; ok {
		return id, nil
	}
	version, err := t.versionOf(m.Text)
	if err != nil {
		return 0, err
	}
	said := pack(words, m.Subject+"\n"+m.Body)
	var id int64
	if first, added := t.added[m.Request]; added && m.Seq >= first {
		err = ErrNotFound // of an event of this transaction nobody was told before it
	} else {
		err = t.get(t.ctx, &id, "SELECT id FROM message_words WHERE request = ? AND request IS NOT NULL AND seq = ? AND kind = ? AND rung = ? AND task = ? AND words = ? AND text = ?", m.Request, m.Seq, m.Kind, m.Rung, m.Task, said, version)
	}
	if errors.Is(err, ErrNotFound) {
		id, err = t.insert("INSERT INTO message_words (request, seq, kind, rung, task, words, at, text) VALUES (?,?,?,?,?,?,?,?)",
			sql.NullString{String: m.Request, Valid: m.Request != ""}, m.Seq, m.Kind, m.Rung, m.Task, said, millis(m.At), version)
	}
	if err == nil {
		t.told[key] = id
	}
	return id, err
}

// versionOf keeps a text, unless it is kept.
func (t tellingTx) versionOf(text message.Text) (int64, error) {
	if id, ok := t.texts.Load(text); ok {
		return id.(int64), nil
	}
	var id int64
	err := t.get(t.ctx, &id, "SELECT id FROM message_versions WHERE version = ?", text.Version())
	if errors.Is(err, ErrNotFound) {
		err = t.get(t.ctx, &id, "INSERT INTO message_versions (version, kind, subject, body) VALUES (?,?,?,?) RETURNING id", text.Version(), text.Kind, text.Subject, text.Body)
	}
	if err == nil {
		t.Then(func() { t.texts.Store(text, id) })
	}
	return id, err
}
