package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"heptad/internal/core/measure"
)

// FactsMade says which form the facts have, and how far they are made anew.
type FactsMade struct {
	Form int   // 0 for none
	Upto int64 // number of the last request that is done; -1 once all are
}

// Done reports whether all facts have a form.
func (m FactsMade) Done(form int) bool { return m.Form == form && m.Upto < 0 }

// FactsMade reads it.
func (r ofRequests) FactsMade(ctx context.Context) (FactsMade, error) {
	var m FactsMade
	return m, r.get(ctx, &m, "SELECT form, upto FROM facts_made")
}

// SetFactsMade keeps it.
func (t factsTx) SetFactsMade(m FactsMade) error {
	return t.exec("UPDATE facts_made SET form = ?, upto = ?", m.Form, m.Upto)
}

// Sent is a request that was sent.
type Sent struct {
	ID     string
	Number int64
}

// SentAfter lists requests that were sent, by number: those above one, at most so many.
func (r ofRequests) SentAfter(ctx context.Context, number int64, limit int) ([]Sent, error) {
	var all []Sent
	err := r.all(ctx, &all, "SELECT id, number FROM requests WHERE number > ? ORDER BY number LIMIT ?", number, limit)
	return all, err
}

// CountSent counts the requests that were sent with a number above one.
func (r ofRequests) CountSent(ctx context.Context, number int64) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM requests WHERE number > ?", number)
	return n, err
}

// CountMeasured counts the requests of which there are facts, of whatever form.
func (r ofRequests) CountMeasured(ctx context.Context) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM facts_requests")
	return n, err
}

// ReplaceFacts keeps the facts of a request in place of those there are.
func (t factsTx) ReplaceFacts(f measure.Facts) error {
	if err := t.dropFacts(f.Request.Number); err != nil {
		return err
	}
	all := []error{t.addRequest(f.Request), t.saveParts(f)}
	for _, spell := range f.Spells {
		all = append(all, t.addSpell(spell))
	}
	return errors.Join(all...)
}

func (t factsTx) dropFacts(number int64) error {
	var all []error
	for _, table := range []string{"facts_requests", "facts_tasks", "facts_votes", "facts_rungs", "facts_spells", "facts_ratings"} {
		all = append(all, t.exec("DELETE FROM "+table+" WHERE number = ?", number))
	}
	return errors.Join(all...)
}

// Record is a request or a task as a list of records shows it.
type Record struct {
	measure.Request
	ID    string
	Title string
	Name  string // of the offering's version
	Opens bool   // the reader may open it
}

// Records reads requests by number, as somebody sees them.
func (r ofRequests) Records(ctx context.Context, s Sight, numbers []int64) (map[int64]Record, error) {
	all := make(map[int64]Record, len(numbers))
	list, err := json.Marshal(append([]int64{}, numbers...))
	if err != nil {
		return nil, err
	}
	var rows []Record
	err = r.all(ctx, &rows, `SELECT f.*, r.id, r.title, coalesce((SELECT v.name FROM offering_versions v WHERE v.offering = f.offering AND v.number = f.version), f.offering) AS name,
		coalesce(?4 > 0 AND (`+seen+` OR EXISTS (SELECT 1 FROM seats x WHERE x.request = r.id AND x.person = ?1)), 0) AS opens
		FROM json_each(?5) n JOIN facts_requests f ON f.number = n.value JOIN requests r ON r.number = f.number`, append(s.args(), string(list))...)
	for _, row := range rows {
		all[row.Number] = row
	}
	return all, err
}

// TasksMeasured reads the facts of the tasks of a request, in the order of their keys.
func (r ofRequests) TasksMeasured(ctx context.Context, number int64) ([]measure.Task, error) {
	var all []measure.Task
	err := r.all(ctx, &all, "SELECT * FROM facts_tasks WHERE number = ? ORDER BY key", number)
	return all, err
}

// QuietOfferings are those of which no record is listed, in any version that was published.
func (r ofRequests) QuietOfferings(ctx context.Context) (map[string]bool, error) {
	var keys []string
	err := r.all(ctx, &keys, "SELECT DISTINCT offering FROM offering_versions INDEXED BY offering_versions_quiet WHERE json_extract(document, '$.audience.quiet') AND state <> 'draft'")
	quiet := map[string]bool{}
	for _, key := range keys {
		quiet[key] = true
	}
	return quiet, err
}

// Named is an offering as it is called.
type Named struct{ Offering, Name, Service string }

// NamedOfferings are all that were ever published, by the newest of their versions.
func (r ofRequests) NamedOfferings(ctx context.Context) (map[string]Named, error) {
	var rows []Named
	err := r.all(ctx, &rows, "SELECT offering, name, service FROM offering_versions v WHERE state <> 'draft' AND number = (SELECT max(number) FROM offering_versions WHERE offering = v.offering AND state <> 'draft')")
	all := make(map[string]Named, len(rows))
	for _, row := range rows {
		all[row.Offering] = row
	}
	return all, err
}

// NumbersBelow are the numbers of the requests below one.
func (r ofRequests) NumbersBelow(ctx context.Context, number int64) (map[int64]bool, error) {
	var numbers []int64
	err := r.all(ctx, &numbers, "SELECT number FROM requests WHERE number < ?", number)
	there := make(map[int64]bool, len(numbers))
	for _, n := range numbers {
		there[n] = true
	}
	return there, err
}

// NewestNumber is the number of the newest version of an offering that was published, also
// of one that has ended.
func (r ofRequests) NewestNumber(ctx context.Context, key string) (int, error) {
	var number int
	err := r.get(ctx, &number, "SELECT max(number) FROM offering_versions WHERE offering = ? AND state <> 'draft' HAVING max(number) > 0", key)
	return number, err
}

// Handed is how often tasks went from one team to another.
type Handed struct {
	From, To string // keys of teams
	Offering string
	Of       string // key of the task of the plan
	Service  string
	Times    int
}

// HandedBetween counts what teams handed over to each other of tasks that ended between two
// instants, in seconds; what was handed over most stands first.
func (r ofRequests) HandedBetween(ctx context.Context, from, until int64) ([]Handed, error) {
	var all []Handed
	err := r.all(ctx, &all, `SELECT t.first AS "from", t.team AS "to", f.offering, t.of, f.service, count(*) AS times FROM facts_tasks t INDEXED BY facts_tasks_handed JOIN facts_requests f ON f.number = t.number
		WHERE t.first <> '' AND t.ended >= ? AND t.ended < ? GROUP BY 1, 2, 3, 4 ORDER BY 6 DESC LIMIT 500`, from, until)
	return all, err
}

// TitleSent is the title of a request with who asked.
type TitleSent struct{ Title, Asker string }

// mostTitles is how many titles are read at once.
const mostTitles = 5000

// TitlesSent lists the titles of what was sent of an offering between two instants, the last
// first.
func (r ofRequests) TitlesSent(ctx context.Context, offering string, from, until time.Time) ([]TitleSent, error) {
	var all []TitleSent
	err := r.all(ctx, &all, "SELECT r.title, r.asker FROM facts_requests f JOIN requests r ON r.number = f.number WHERE f.offering = ? AND f.sent >= ? AND f.sent < ? ORDER BY f.number DESC LIMIT ?", offering, from.Unix(), until.Unix(), mostTitles)
	return all, err
}

// PublishedNumbers are the numbers of the versions of an offering that were published, the
// newest first.
func (r ofRequests) PublishedNumbers(ctx context.Context, key string) ([]int, error) {
	var numbers []int
	err := r.all(ctx, &numbers, "SELECT number FROM offering_versions WHERE offering = ? AND state <> 'draft' ORDER BY number DESC LIMIT 100", key)
	return numbers, err
}
