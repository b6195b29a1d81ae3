package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"heptad/internal/core/form"
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
	Editors   []string   // IDs of those who have written it, or one before it
	PublishAt time.Time  // of a draft that publishes itself; else zero
	Accepted  []Accepted // findings
	Trouble   string     // why it did not publish itself
}

// Accepted is a finding that somebody accepted by name.
type Accepted struct {
	Name   string    `json:"name"`
	Person string    `json:"person"`
	At     time.Time `json:"at"`
}

type versionRow struct {
	Number    int
	State     string
	Document  string
	Revision  int
	ChangedAt int64  `db:"changed_at"`
	ChangedBy string `db:"changed_by"`
	PublishAt *int64 `db:"publish_at"`
	Accepted  string
	Trouble   string
	Editors   string
}

const versionColumns = `SELECT number, state, document, revision, changed_at, changed_by, publish_at, accepted, trouble,
	(SELECT json_group_array(DISTINCT person) FROM offering_editors e WHERE e.offering = v.offering AND e.number <= v.number) AS editors
	FROM offering_versions v `

func (r versionRow) version() (Version, error) {
	v := Version{Number: r.Number, State: r.State, Revision: r.Revision, ChangedAt: instant(r.ChangedAt), ChangedBy: r.ChangedBy, Trouble: r.Trouble}
	if r.PublishAt != nil {
		v.PublishAt = instant(*r.PublishAt)
	}
	if err := errors.Join(json.Unmarshal([]byte(r.Accepted), &v.Accepted), json.Unmarshal([]byte(r.Editors), &v.Editors)); err != nil {
		return v, err
	}
	var err error
	v.Document, err = offering.Parse([]byte(r.Document))
	return v, err
}

// VersionIn reads the version of an offering in a state: Draft or Current.
func (r ofOfferings) VersionIn(ctx context.Context, key, state string) (Version, error) {
	var row versionRow
	if err := r.get(ctx, &row, versionColumns+"WHERE offering = ? AND state = ?", key, state); err != nil {
		return Version{}, err
	}
	return row.version()
}

// CurrentNumber is the number of the version of an offering that can be asked
// for; ErrNotFound when there is none, or it has ended.
func (r ofOfferings) CurrentNumber(ctx context.Context, key string) (int, error) {
	var number int
	err := r.get(ctx, &number, "SELECT number FROM catalog WHERE offering = ?", key)
	return number, err
}

// VersionNumber reads one version of an offering.
func (r ofOfferings) VersionNumber(ctx context.Context, key string, number int) (Version, error) {
	var row versionRow
	if err := r.get(ctx, &row, versionColumns+"WHERE offering = ? AND number = ?", key, number); err != nil {
		return Version{}, err
	}
	return row.version()
}

// Versions lists all versions of an offering, the last first, without their
// documents.
func (r ofOfferings) Versions(ctx context.Context, key string) ([]Version, error) {
	var rows []versionRow
	if err := r.all(ctx, &rows, "SELECT number, state, revision, changed_at, changed_by, publish_at FROM offering_versions WHERE offering = ? ORDER BY number DESC", key); err != nil {
		return nil, err
	}
	list := make([]Version, len(rows))
	for i, r := range rows {
		list[i] = Version{Number: r.Number, State: r.State, Revision: r.Revision, ChangedAt: instant(r.ChangedAt), ChangedBy: r.ChangedBy}
		if r.PublishAt != nil {
			list[i].PublishAt = instant(*r.PublishAt)
		}
	}
	return list, nil
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

// SaveDraft keeps the changed draft of an offering; its revision rises, and it
// does not publish itself any more.
func (t *Tx) SaveDraft(d offering.Document, by string, at time.Time) error {
	text, err := json.Marshal(d)
	if err != nil {
		return err
	}
	return t.exec("UPDATE offering_versions SET service = ?, name = ?, document = ?, revision = revision + 1, changed_at = ?, changed_by = ?, publish_at = NULL, trouble = '' WHERE offering = ? AND state = 'draft'",
		d.Purpose.Service, d.Purpose.Name, string(text), millis(at), by, d.Key)
}

// DropDraft throws the draft of an offering away.
func (t *Tx) DropDraft(key string) error {
	return t.exec("DELETE FROM offering_versions WHERE offering = ? AND state = 'draft'", key)
}

// PublishAt makes a draft publish itself at a time; the zero time never.
func (t *Tx) PublishAt(key string, at time.Time, accepted []Accepted, by string) error {
	text, err := json.Marshal(accepted)
	if err != nil {
		return err
	}
	var due *int64
	if !at.IsZero() {
		ms := millis(at)
		due = &ms
	}
	return t.exec("UPDATE offering_versions SET publish_at = ?, accepted = ?, trouble = '', changed_by = ? WHERE offering = ? AND state = 'draft'", due, string(text), by, key)
}

// NotPublished notes why a draft did not publish itself.
func (t *Tx) NotPublished(key, why string) error {
	return t.exec("UPDATE offering_versions SET publish_at = NULL, trouble = ? WHERE offering = ? AND state = 'draft'", why, key)
}

// DuePublishing lists the offerings whose draft publishes itself by now.
func (r ofOfferings) DuePublishing(ctx context.Context, now time.Time) ([]string, error) {
	keys := []string{}
	err := r.all(ctx, &keys, "SELECT offering FROM offering_versions WHERE publish_at <= ? AND offering NOT IN (SELECT id FROM set_aside WHERE lane = 'publishing') ORDER BY publish_at, offering LIMIT 100", millis(now))
	return keys, err
}

// Publish makes the draft of an offering its current version, and puts it into
// the catalog and the search in place of the one before.
func (t *Tx) Publish(v Version, accepted []Accepted, by string, at time.Time) error {
	d := v.Document
	text, err := json.Marshal(accepted)
	if err != nil {
		return err
	}
	if err := t.exec("UPDATE offering_versions SET state = 'past' WHERE offering = ? AND state = 'current'", d.Key); err != nil {
		return err
	}
	if err := t.exec("UPDATE offering_versions SET state = 'current', changed_at = ?, changed_by = ?, publish_at = NULL, accepted = ? WHERE offering = ? AND state = 'draft'", millis(at), by, string(text), d.Key); err != nil {
		return err
	}
	if err := t.exec("DELETE FROM ended_offerings WHERE offering = ?", d.Key); err != nil {
		return err
	}
	return t.list(d, v.Number)
}

// End takes an offering out of the catalog; successor may be empty.
func (t *Tx) End(key, successor, by string, at time.Time) error {
	if err := t.unlist(key); err != nil {
		return err
	}
	return t.exec("INSERT INTO ended_offerings (offering, successor, ended_at, ended_by) VALUES (?,?,?,?) ON CONFLICT (offering) DO UPDATE SET successor = excluded.successor",
		key, successor, millis(at), by)
}

// Revive puts an ended offering back into the catalog, in its current version.
func (t *Tx) Revive(v Version) error {
	if err := t.exec("DELETE FROM ended_offerings WHERE offering = ?", v.Document.Key); err != nil {
		return err
	}
	return t.list(v.Document, v.Number)
}

// Ended is an offering that has ended.
type Ended struct {
	Successor string // key, or empty
	EndedAt   int64  `db:"ended_at"`
}

// Ended tells when an offering ended, and what takes its place.
func (r ofOfferings) Ended(ctx context.Context, key string) (Ended, error) {
	var e Ended
	err := r.get(ctx, &e, "SELECT successor, ended_at FROM ended_offerings WHERE offering = ?", key)
	return e, err
}

// Namesake finds another offering of a service with a name, whatever the case of
// its letters; empty when there is none. Ended ones and past versions do not count.
func (r ofOfferings) Namesake(ctx context.Context, service, name, besides string) (string, error) {
	var key string
	err := r.get(ctx, &key, `
		SELECT offering FROM offering_versions v
		WHERE service = ? AND lower(trim(name)) = lower(trim(?)) AND offering <> ? AND state IN ('draft', 'current')
		AND NOT EXISTS (SELECT 1 FROM ended_offerings e WHERE e.offering = v.offering) LIMIT 1`, service, name, besides)
	if errors.Is(err, ErrNotFound) {
		return "", nil
	}
	return key, err
}

// AllOfferings lists the keys of every offering that has a current version or
// a draft.
func (r ofOfferings) AllOfferings(ctx context.Context) ([]string, error) {
	keys := []string{}
	err := r.all(ctx, &keys, "SELECT DISTINCT offering FROM offering_versions WHERE state IN ('draft', 'current') ORDER BY offering")
	return keys, err
}

// SharedQuestion is a question that several offerings use.
type SharedQuestion struct {
	Question  form.Question
	Keeper    string // ID of who keeps it beside the administrators; empty for the company's
	ChangedAt time.Time
	ChangedBy string
}

// SharedQuestions lists all of them, by key.
func (r ofOfferings) SharedQuestions(ctx context.Context) ([]SharedQuestion, error) {
	var rows []struct {
		Question  string
		Keeper    string
		ChangedAt int64  `db:"changed_at"`
		ChangedBy string `db:"changed_by"`
	}
	if err := r.all(ctx, &rows, "SELECT question, keeper, changed_at, changed_by FROM shared_questions ORDER BY key"); err != nil {
		return nil, err
	}
	list := make([]SharedQuestion, len(rows))
	for i, r := range rows {
		list[i] = SharedQuestion{Keeper: r.Keeper, ChangedAt: instant(r.ChangedAt), ChangedBy: r.ChangedBy}
		if err := json.Unmarshal([]byte(r.Question), &list[i].Question); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// SaveSharedQuestion keeps a question for others to use, in place of one with
// its key; the keeper of that one stays.
func (t *Tx) SaveSharedQuestion(q form.Question, keeper, by string, at time.Time) error {
	text, err := json.Marshal(q)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO shared_questions (key, question, keeper, changed_at, changed_by) VALUES (?,?,?,?,?) ON CONFLICT (key) DO UPDATE SET question = excluded.question, changed_at = excluded.changed_at, changed_by = excluded.changed_by",
		q.Shared, string(text), keeper, millis(at), by)
}

// KeeperOf is who keeps a shared question beside the administrators.
func (r ofOfferings) KeeperOf(ctx context.Context, question string) (string, error) {
	var keeper string
	err := r.get(ctx, &keeper, "SELECT keeper FROM shared_questions WHERE key = ?", question)
	return keeper, err
}

// ServiceOf is the key of the service of an offering: of its draft, or else of
// what people can ask for.
func (r ofOfferings) ServiceOf(ctx context.Context, key string) (string, error) {
	var service string
	err := r.get(ctx, &service, "SELECT service FROM offering_versions WHERE offering = ? AND state IN ('draft', 'current') ORDER BY state = 'draft' DESC LIMIT 1", key)
	return service, err
}
