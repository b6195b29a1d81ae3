package store

import (
	"context"
	"errors"
	"strings"
	"time"

	"heptad/internal/core/request"
)

// Search is a sentence that somebody looked for.
type Search struct {
	Hash       []byte // keyed, of person and words
	Words      string
	Found      int
	Opened     string // key of the offering; empty for none
	Sent       bool
	Department string
	At         time.Time
}

// KeepSearch keeps a search, in place of the same one of before by the same
// person: what was opened and sent stays so.
func (t *Tx) KeepSearch(s Search) error {
	return t.exec(`INSERT INTO searches (hash, words, found, opened, sent, department, at) VALUES (?,?,?,?,?,?,?)
		ON CONFLICT DO UPDATE SET found = iif(excluded.sent, found, excluded.found), opened = coalesce(nullif(excluded.opened, ''), opened), sent = max(sent, excluded.sent), department = excluded.department, at = excluded.at`,
		s.Hash, s.Words, s.Found, s.Opened, s.Sent, s.Department, millis(s.At))
}

// Learn keeps that a person came to an offering with a word. It reports whether
// the word counts from now on.
func (t *Tx) Learn(offering, stem string, person []byte, enough int) (bool, error) {
	if err := t.exec("INSERT INTO learned_words (offering, stem, hash) VALUES (?,?,?)", offering, stem, person); err != nil {
		if errors.Is(err, ErrExists) {
			return false, nil
		}
		return false, err
	}
	var count int
	err := t.get(t.ctx, &count, "SELECT count(*) FROM learned_words WHERE offering = ? AND stem = ?", offering, stem)
	return count == enough, err
}

// Learned gives, by offering, the words with which enough people came to it.
func (r ofOfferings) Learned(ctx context.Context, enough int) (map[string]string, error) {
	var rows []struct{ Offering, Stem string }
	if err := r.all(ctx, &rows, "SELECT offering, stem FROM learned_words GROUP BY offering, stem HAVING count(*) >= ?", enough); err != nil {
		return nil, err
	}
	by := map[string][]string{}
	for _, row := range rows {
		by[row.Offering] = append(by[row.Offering], row.Stem)
	}
	learned := map[string]string{}
	for offering, stems := range by {
		learned[offering] = strings.Join(stems, " ")
	}
	return learned, nil
}

// Titled is a request as the search shows it.
type Titled struct {
	ID, Reference, Title string
	Status               request.Status
}

// TitlesOf lists the requests that a person asked for, or gets what they are for
// and sees, the last changed first.
func (r ofRequests) TitlesOf(ctx context.Context, person string, limit int) ([]Titled, error) {
	var rows []Titled
	err := r.all(ctx, &rows, `SELECT id, reference, title, status FROM (
		SELECT * FROM (SELECT id, reference, title, status, changed_at FROM requests WHERE asker = ?1 AND reference IS NOT NULL ORDER BY changed_at DESC LIMIT ?2)
		UNION ALL SELECT * FROM (SELECT id, reference, title, status, changed_at FROM requests WHERE beneficiary = ?1 AND reference IS NOT NULL ORDER BY changed_at DESC LIMIT ?2))
		ORDER BY changed_at DESC LIMIT ?2`, person, limit)
	return rows, err
}
