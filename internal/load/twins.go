package load

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/demo"
)

// bare writes the same rows with SQLite alone, for requests of other IDs.
func (w *writer) bare(dir string, out *Writing) error {
	db, err := sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?_txlock=immediate&_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)&_pragma=synchronous(FULL)&_pragma=journal_mode(WAL)")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	var last int64
	if err := db.Get(&last, "SELECT max(id) FROM message_words"); err != nil {
		return err
	}
	number := int64(0)
	if err := db.Get(&number, "SELECT max(number) FROM requests"); err != nil {
		return err
	}
	took := map[string][]time.Duration{}
	for _, l := range w.lives {
		number++
		c := &twin{life: l, id: demo.ID("twin." + l.id), number: number, words: map[int64]int64{}, last: &last}
		for _, a := range l.acts {
			began := time.Now()
			rows, bytes, err := c.write(db, w.tables, a)
			if err != nil {
				return fmt.Errorf("%s of %s: %w", a.act, l.reference, err)
			}
			took[a.act] = append(took[a.act], time.Since(began))
			if a.act == "submit" {
				out.Rows, out.Bytes = rows, bytes
			}
		}
	}
	for _, act := range acts {
		out.Bare[act] = median(took[act])
	}
	return nil
}

// twin is a request with the same rows as another, but for what names it.
type twin struct {
	life
	id     string
	number int64
	words  map[int64]int64 // numbers of the words of its messages
	last   *int64          // number of words
}

// write writes what an act has written, in one transaction; it gives how many rows, and bytes of
// values.
func (t *twin) write(db *sqlx.DB, tables map[string]*table, a written) (n, bytes int, err error) {
	tx, err := db.Beginx()
	if err != nil {
		return 0, 0, err
	}
	defer func() { _ = tx.Rollback() }() // once it is kept, this does nothing
	order := names(tables)
	slices.SortStableFunc(order, func(x, y string) int { // what others point at goes first
		rank := map[string]int{"requests": -1}
		return rank[x] - rank[y]
	})
	for _, name := range order {
		of := tables[name]
		for _, from := range a.rows[name] {
			row := t.row(name, of, from)
			if _, err := tx.Exec(of.put, row...); err != nil {
				return 0, 0, fmt.Errorf("%s: %w", name, err)
			}
			n++
			for _, v := range row {
				bytes += len(fmt.Sprint(v))
			}
		}
	}
	return n, bytes, tx.Commit()
}

func (t *twin) row(name string, of *table, from []any) []any {
	row := slices.Clone(from)
	for i, v := range row {
		if s, ok := v.(string); ok && strings.Contains(s, t.life.id) {
			row[i] = strings.ReplaceAll(s, t.life.id, t.id)
		} else if ok && s == t.reference {
			row[i] = "T-" + s
		}
	}
	if at := of.at("number"); at >= 0 {
		row[at] = t.number
	}
	number := func(words int64) int64 {
		if t.words[words] == 0 {
			*t.last++
			t.words[words] = *t.last
		}
		return t.words[words]
	}
	switch name {
	case "message_words":
		row[0] = number(row[0].(int64))
	case "messages":
		row[of.at("words")] = number(row[of.at("words")].(int64))
	}
	return row
}
