package store

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"heptad/internal/core/offering"
)

// The states of a version.
const (
	Draft   = "draft"
	Current = "current"
	Past    = "past"
)

// Version is one version of an offering.
type Version struct {
	Number    int
	State     string
	Document  offering.Document
	Revision  int // rises with every save of a draft
	ChangedAt time.Time
	ChangedBy string
}

type versionRow struct {
	Number    int
	State     string
	Document  string
	Revision  int
	ChangedAt int64  `db:"changed_at"`
	ChangedBy string `db:"changed_by"`
}

const versionColumns = "SELECT number, state, document, revision, changed_at, changed_by FROM offering_versions "

func (r versionRow) version() (Version, error) {
	v := Version{Number: r.Number, State: r.State, Revision: r.Revision, ChangedAt: instant(r.ChangedAt), ChangedBy: r.ChangedBy}
	var err error
	v.Document, err = offering.Parse([]byte(r.Document))
	return v, err
}

// VersionIn reads the version of an offering in a state: Draft or Current.
func (r reads) VersionIn(ctx context.Context, key, state string) (Version, error) {
	var row versionRow
	if err := r.get(ctx, &row, versionColumns+"WHERE offering = ? AND state = ?", key, state); err != nil {
		return Version{}, err
	}
	return row.version()
}

// CurrentNumber is the number of the current version of an offering.
func (r reads) CurrentNumber(ctx context.Context, key string) (int, error) {
	var number int
	err := r.get(ctx, &number, "SELECT number FROM offering_versions WHERE offering = ? AND state = 'current'", key)
	return number, err
}

// VersionNumber reads one version of an offering.
func (r reads) VersionNumber(ctx context.Context, key string, number int) (Version, error) {
	var row versionRow
	if err := r.get(ctx, &row, versionColumns+"WHERE offering = ? AND number = ?", key, number); err != nil {
		return Version{}, err
	}
	return row.version()
}

// AddDraft keeps a new draft with the next number of its offering. It fails
// with ErrExists when there is a draft.
func (t *Tx) AddDraft(d offering.Document, by string, at time.Time) error {
	text, err := json.Marshal(d)
	if err != nil {
		return err
	}
	return t.exec(`INSERT INTO offering_versions (offering, number, state, service, name, document, revision, changed_at, changed_by)
		SELECT ?, coalesce(max(number), 0) + 1, 'draft', ?, ?, ?, 1, ?, ? FROM offering_versions WHERE offering = ?`,
		d.Key, d.Purpose.Service, d.Purpose.Name, string(text), millis(at), by, d.Key)
}

// SaveDraft keeps the changed draft of an offering; its revision rises.
func (t *Tx) SaveDraft(d offering.Document, by string, at time.Time) error {
	text, err := json.Marshal(d)
	if err != nil {
		return err
	}
	return t.exec("UPDATE offering_versions SET service = ?, name = ?, document = ?, revision = revision + 1, changed_at = ?, changed_by = ? WHERE offering = ? AND state = 'draft'",
		d.Purpose.Service, d.Purpose.Name, string(text), millis(at), by, d.Key)
}

// Publish makes the draft of an offering its current version, and puts it into
// the search in place of the one before.
func (t *Tx) Publish(d offering.Document, by string, at time.Time) error {
	for _, step := range []struct {
		query string
		args  []any
	}{
		{"UPDATE offering_versions SET state = 'past' WHERE offering = ? AND state = 'current'", []any{d.Key}},
		{"UPDATE offering_versions SET state = 'current', changed_at = ?, changed_by = ? WHERE offering = ? AND state = 'draft'", []any{millis(at), by, d.Key}},
		{"DELETE FROM offering_search WHERE offering = ?", []any{d.Key}},
		{"INSERT INTO offering_search (offering, name, keywords, text) VALUES (?,?,?,?)", []any{d.Key, d.Purpose.Name, strings.Join(d.Purpose.Keywords, " "), d.Purpose.Text}},
	} {
		if err := t.exec(step.query, step.args...); err != nil {
			return err
		}
	}
	return nil
}

// Listed is an offering in a list.
type Listed struct {
	Key       string
	Name      string
	Service   string
	Draft     int   // number of the draft, or 0
	Current   int   // number of the current version, or 0
	ChangedAt int64 `db:"changed_at"`
}

// OfferingsOf lists the offerings of the services a person owns, by name.
func (r reads) OfferingsOf(ctx context.Context, owner string) ([]Listed, error) {
	list := []Listed{}
	err := r.all(ctx, &list, `
		SELECT v.offering AS key, v.name, v.service,
		       max(CASE v.state WHEN 'draft' THEN v.number ELSE 0 END) AS draft,
		       max(CASE v.state WHEN 'current' THEN v.number ELSE 0 END) AS current,
		       max(v.changed_at) AS changed_at
		FROM offering_versions v JOIN services s ON s.key = v.service
		WHERE s.owner = ? AND v.state IN ('draft', 'current')
		GROUP BY v.offering ORDER BY v.name, v.offering`, owner)
	return list, err
}

// CurrentOfferings lists the keys of all offerings that can be asked for, by
// area, service and name.
func (r reads) CurrentOfferings(ctx context.Context) ([]string, error) {
	keys := []string{}
	err := r.all(ctx, &keys, `SELECT v.offering FROM offering_versions v JOIN services s ON s.key = v.service
		WHERE v.state = 'current' ORDER BY s.area, s.name, v.name`)
	return keys, err
}

// FindOfferings lists the keys of the offerings that hold every word, or part
// of a word, the best first.
func (r reads) FindOfferings(ctx context.Context, words string) ([]string, error) {
	var long, short []string
	for _, word := range strings.Fields(words) {
		if len([]rune(word)) >= 3 {
			long = append(long, `"`+strings.ReplaceAll(word, `"`, `""`)+`"`)
		} else {
			short = append(short, word)
		}
	}
	query, args := "SELECT offering FROM offering_search WHERE 1", []any{}
	if len(long) > 0 {
		query += " AND offering_search MATCH ?"
		args = append(args, strings.Join(long, " "))
	}
	for _, word := range short { // the index holds three letters and more
		query += " AND name || ' ' || keywords LIKE ? ESCAPE '!'"
		args = append(args, "%"+strings.NewReplacer("!", "!!", "%", "!%", "_", "!_").Replace(word)+"%")
	}
	if len(long) > 0 {
		query += " ORDER BY bm25(offering_search, 0, 10, 6, 1)"
	}
	keys := []string{}
	err := r.all(ctx, &keys, query+" LIMIT 50", args...)
	return keys, err
}
