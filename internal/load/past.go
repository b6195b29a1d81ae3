package load

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/core/request"
	"heptad/internal/demo"
)

// How many in a hundred requests are under way, how many are of the demo's own people, and
// for how many weeks the others have been sent.
const (
	underWay = 2
	ownPart  = 50
	weeks    = 156
)

// keptBy are the tables of which each request has rows, with what finds those of its ID ?1
// or its number ?2.
var keptBy = map[string]string{
	"requests": "id = ?1", "events": "request = ?1", "seats": "request = ?1", "tasks": "request = ?1", "task_people": "request = ?1", "effects": "request = ?1",
	"message_words": "request = ?1", "messages": "words IN (SELECT id FROM message_words WHERE request = ?1)", "forecasts": "request = ?1", "ratings": "request = ?1",
	"facts_requests": "number = ?2", "facts_tasks": "number = ?2", "facts_votes": "number = ?2", "facts_rungs": "number = ?2", "facts_spells": "number = ?2", "facts_ratings": "number = ?2",
}

// pattern is a request of the demo that others are copied from.
type pattern struct {
	id, reference string
	number        int64
	open          bool
	rows          map[string][][]any // by table
	took          [][]any            // what its work took, as it is measured
}

// filling is a file that is filled with requests.
type filling struct {
	db     *sqlx.DB
	parts  multiplied
	called []map[string]string // of each part
	tables map[string]*table
	order  []string // of the tables
	random *rand.Rand
	words  int64 // number of the last words of messages
	prefix string
	ended  []pattern
	open   []pattern
}

// fill copies the requests of a folder's file until there are so many.
func fill(db *sqlx.DB, parts multiplied, size Size, told func(done int)) error {
	n, open := size.Requests, cmp.Or(size.Open, size.Requests*underWay/100)
	f := &filling{db: db, parts: parts, random: rand.New(rand.NewPCG(1, 2)), prefix: demo.Organisation.Prefix}
	for part := range max(parts.people, parts.offerings) {
		f.called = append(f.called, parts.names(part))
	}
	if err := f.patterns(); err != nil {
		return err
	}
	told(0)
	first := int64(0)
	if err := db.Get(&first, "SELECT max(number) FROM requests"); err != nil {
		return err
	}
	if err := db.Get(&f.words, "SELECT max(id) FROM message_words"); err != nil {
		return err
	}
	again, err := f.withoutIndexes()
	if err != nil {
		return err
	}
	const atOnce = 5000
	for from := 0; from < n; from += atOnce {
		if err := f.copies(first, from, min(n, from+atOnce), n, open); err != nil {
			return err
		}
		told(min(n, from+atOnce))
	}
	if err := again(); err != nil {
		return err
	}
	_, err = db.Exec("INSERT INTO counters (name, value) VALUES ('reference', ?1) ON CONFLICT (name) DO UPDATE SET value = ?1; PRAGMA analysis_limit = 400; ANALYZE", first+int64(n))
	return err
}

// patterns reads the requests that have been sent.
func (f *filling) patterns() error {
	var all []struct {
		ID, Reference, Status string
		Number                int64
	}
	if err := f.db.Select(&all, "SELECT id, reference, number, status FROM requests WHERE number IS NOT NULL ORDER BY number"); err != nil {
		return err
	}
	var err error
	if f.tables, err = tablesOf(f.db); err != nil {
		return err
	}
	f.order = names(f.tables)
	for _, r := range all {
		p := pattern{id: r.ID, reference: r.Reference, number: r.Number, open: r.Status != string(request.Closed), rows: map[string][][]any{}}
		for name, t := range f.tables {
			if p.rows[name], err = t.ofRequest(f.db, r.ID, r.Number); err != nil {
				return err
			}
		}
		for _, row := range p.rows["facts_tasks"] {
			t := f.tables["facts_tasks"]
			if worked := row[t.at("worked")].(int64); worked > 0 {
				p.took = append(p.took, []any{row[t.at("of")], worked})
			}
		}
		if p.open {
			f.open = append(f.open, p)
		} else {
			f.ended = append(f.ended, p)
		}
	}
	return nil
}

// withoutIndexes takes the indexes of the tables away, and what else follows each row;
// again makes them.
func (f *filling) withoutIndexes() (again func() error, err error) {
	var made []struct{ Type, Name, SQL string }
	if err := f.db.Select(&made, "SELECT type, name, sql FROM sqlite_master WHERE sql IS NOT NULL AND (type = 'index' OR type = 'trigger' AND name = 'request_sent')"); err != nil {
		return nil, err
	}
	of := append([]string{"measures"}, names(f.tables)...)
	var taken []string
	for _, m := range made {
		on := strings.Fields(m.SQL[strings.Index(m.SQL, " ON ")+4:])[0]
		table, _, _ := strings.Cut(on, "(")
		if m.Type == "index" && !slices.Contains(of, table) {
			continue
		}
		if _, err := f.db.Exec("DROP " + m.Type + " " + m.Name); err != nil {
			return nil, err
		}
		taken = append(taken, m.SQL)
	}
	if _, err := f.db.Exec("DELETE FROM found"); err != nil {
		return nil, err
	}
	return func() error {
		for _, sql := range taken {
			if _, err := f.db.Exec(sql); err != nil {
				return fmt.Errorf("%s: %w", sql, err)
			}
		}
		_, err := f.db.Exec(`INSERT INTO found (rowid, words) SELECT number, words FROM request_words;
			INSERT INTO found (found) VALUES ('optimize')`)
		return err
	}, nil
}

func names[T any](of map[string]T) []string {
	var all []string
	for name := range of {
		all = append(all, name)
	}
	slices.Sort(all)
	return all
}

// copies keeps those from a number to another, of so many in all, the last of which are
// under way.
func (f *filling) copies(first int64, from, until, n, open int) error {
	tx, err := f.db.Beginx()
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // once it is kept, this does nothing
	into := map[string]*sqlx.Stmt{}
	for name, t := range f.tables {
		if into[name], err = tx.Preparex(t.fill); err != nil {
			return err
		}
	}
	took, err := tx.Preparex("INSERT INTO measures (offering, part, key, took) VALUES (?, 'task', ?, ?)")
	if err != nil {
		return err
	}
	for i := from; i < until; i++ {
		p, earlier := f.ended[f.random.IntN(len(f.ended))], weeks*(n-i)/n
		if i >= n-open && len(f.open) > 0 {
			p, earlier = f.open[f.random.IntN(len(f.open))], 0
		}
		part := 0
		if f.random.IntN(100) >= ownPart {
			part = f.random.IntN(len(f.called))
		}
		c := copying{names: f.called[part], earlier: time.Duration(earlier) * 7 * 24 * time.Hour}
		number := first + int64(i) + 1
		id := demo.ID(fmt.Sprintf("%s.%d", p.id, i))
		c.own = map[string]string{p.id: id, p.reference: request.Reference(f.prefix, number)}
		if err := f.copy(into, took, p, c, id, number); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// copy keeps one request more.
func (f *filling) copy(into map[string]*sqlx.Stmt, took *sqlx.Stmt, p pattern, c copying, id string, number int64) error {
	n := naming{p.id, id, number, &f.words, map[int64]int64{}}
	for _, name := range f.order {
		t := f.tables[name]
		for _, from := range p.rows[name] {
			row := c.row(from)
			n.give(t, row)
			if _, err := into[name].Exec(row...); err != nil {
				return fmt.Errorf("%s of %s: %w", name, p.reference, err)
			}
		}
	}
	offering := p.rows["requests"][0][f.tables["requests"].at("offering")].(string)
	for _, row := range p.took {
		if _, err := took.Exec(c.text(offering), row[0], row[1]); err != nil {
			return err
		}
	}
	return nil
}
