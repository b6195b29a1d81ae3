package store

import (
	"context"
	"time"
)

// Part says what a sealed value is.
type Part string

// The parts.
const (
	AnswerPart Part = "answer" // a private answer
	OutputPart Part = "output" // a secret that came out of a task
)

// TypedTask stands in place of a task for answers that are typed and not sent.
const TypedTask = "+typed"

// Sealed is a value kept apart, encrypted.
type Sealed struct {
	Request string
	Part    Part
	Task    string // key, of an output; TypedTask of what is only typed; else empty
	Key     string // of the question or the output
	Value   []byte // encrypted
	Person  string // ID of whom a secret is for; empty for an answer
	At      time.Time
	Until   time.Time // when a secret is forgotten; zero for an answer
}

const sealedColumns = "request, part, task, key, value, person, kept_at, until_at"

type sealedRow struct {
	Request, Task, Key, Person string
	Part                       Part
	Value                      []byte
	KeptAt                     int64 `db:"kept_at"`
	UntilAt                    int64 `db:"until_at"`
}

func (r sealedRow) sealed() Sealed {
	s := Sealed{Request: r.Request, Part: r.Part, Task: r.Task, Key: r.Key, Value: r.Value, Person: r.Person, At: instant(r.KeptAt)}
	if r.UntilAt > 0 {
		s.Until = instant(r.UntilAt)
	}
	return s
}

// KeepSealed keeps a value, in place of the one of before.
func (t *Tx) KeepSealed(s Sealed) error {
	return t.exec("INSERT INTO sealed ("+sealedColumns+") VALUES (?,?,?,?,?,?,?,?) ON CONFLICT DO UPDATE SET value = excluded.value, person = excluded.person, kept_at = excluded.kept_at, until_at = excluded.until_at",
		s.Request, s.Part, s.Task, s.Key, s.Value, s.Person, millis(s.At), millisOr0(s.Until))
}

// DropSealed takes a value away.
func (t *Tx) DropSealed(s Sealed) error {
	return t.exec("DELETE FROM sealed WHERE request = ? AND part = ? AND task = ? AND key = ?", s.Request, s.Part, s.Task, s.Key)
}

// DropTyped takes away what was typed privately into a request and not sent.
func (t *Tx) DropTyped(request string) error {
	return t.exec("DELETE FROM sealed WHERE request = ? AND part = 'answer' AND task = ?", request, TypedTask)
}

// OneSealed finds a value.
func (r ofRequests) OneSealed(ctx context.Context, s Sealed) (Sealed, error) {
	var row sealedRow
	err := r.get(ctx, &row, "SELECT "+sealedColumns+" FROM sealed WHERE request = ? AND part = ? AND task = ? AND key = ?", s.Request, s.Part, s.Task, s.Key)
	return row.sealed(), err
}

// SealedAnswers lists the private answers of a request: those that were sent, or
// those typed and not sent.
func (r ofRequests) SealedAnswers(ctx context.Context, request, task string) ([]Sealed, error) {
	var rows []sealedRow
	err := r.all(ctx, &rows, "SELECT "+sealedColumns+" FROM sealed WHERE request = ? AND part = 'answer' AND task = ? ORDER BY key", request, task)
	return sealedOf(rows), err
}

// SecretsFor lists the secrets that are for a person, the last first; at most
// 100.
func (r ofRequests) SecretsFor(ctx context.Context, person string, now time.Time) ([]Sealed, error) {
	var rows []sealedRow
	err := r.all(ctx, &rows, "SELECT "+sealedColumns+" FROM sealed WHERE person = ? AND until_at > ? ORDER BY kept_at DESC LIMIT 100", person, millis(now))
	return sealedOf(rows), err
}

func sealedOf(rows []sealedRow) []Sealed {
	all := make([]Sealed, len(rows))
	for i, row := range rows {
		all[i] = row.sealed()
	}
	return all
}

// ForgetSecrets takes away the secrets whose time is over.
func (s *Store) ForgetSecrets(ctx context.Context, now time.Time) error {
	var due bool
	if err := s.get(ctx, &due, "SELECT EXISTS (SELECT 1 FROM sealed WHERE until_at > 0 AND until_at <= ?)", millis(now)); err != nil || !due {
		return err
	}
	return s.change(ctx, "DELETE FROM sealed WHERE until_at > 0 AND until_at <= ?", millis(now))
}

// Reading is that somebody read a value that is kept apart.
type Reading struct {
	Request   string
	Part      Part
	Task, Key string
	Person    string // ID
	As        string // asker, the key of a task, or rung/ and the key of a rung
	At        time.Time
}

// AddReading keeps a reading. It stays for good.
func (t *Tx) AddReading(r Reading) error {
	return t.exec("INSERT INTO readings (request, part, task, key, person, as_what, at) VALUES (?,?,?,?,?,?,?)", r.Request, r.Part, r.Task, r.Key, r.Person, r.As, millis(r.At))
}

// Readings lists who read what of a request, the last first; at most 200.
func (r ofRequests) Readings(ctx context.Context, request string) ([]Reading, error) {
	var rows []struct {
		Request, Task, Key, Person string
		Part                       Part
		As                         string `db:"as_what"`
		At                         int64
	}
	if err := r.all(ctx, &rows, "SELECT request, part, task, key, person, as_what, at FROM readings WHERE request = ? ORDER BY id DESC LIMIT 200", request); err != nil {
		return nil, err
	}
	all := make([]Reading, len(rows))
	for i, row := range rows {
		all[i] = Reading{row.Request, row.Part, row.Task, row.Key, row.Person, row.As, instant(row.At)}
	}
	return all, nil
}
