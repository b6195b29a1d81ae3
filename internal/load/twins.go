package load

import (
	"fmt"
	"path/filepath"
	"slices"
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
	put := map[string]*sqlx.Stmt{}
	for name, t := range w.tables {
		if put[name], err = db.Preparex(t.put); err != nil {
			return err
		}
	}
	took, sent := map[string][]time.Duration{}, [][]placed{}
	for _, l := range w.lives {
		number++
		n := naming{l.id, demo.ID("twin." + l.id), number, &last, map[int64]int64{}}
		for _, a := range l.acts {
			rows := w.twins(n, l, a, "T-")
			time.Sleep(pause)
			began := time.Now()
			if err := write(db, put, rows); err != nil {
				return fmt.Errorf("%s of %s: %w", a.act, l.reference, err)
			}
			took[a.act] = append(took[a.act], time.Since(began))
			if a.act == "submit" {
				out.Rows, out.Bytes = len(rows), bytesOf(rows)
			}
		}
	}
	for _, act := range acts {
		out.Bare[act] = median(took[act])
	}
	for i := 0; len(sent) < sentBare; i++ { // and submissions alone, one right after the other
		for _, l := range w.lives {
			for _, a := range l.acts {
				if a.act == "submit" {
					number++
					n := naming{l.id, demo.ID(fmt.Sprintf("%d.%s", i, l.id)), number, &last, map[int64]int64{}}
					sent = append(sent, w.twins(n, l, a, fmt.Sprintf("U%d-", i)))
				}
			}
		}
	}
	began := time.Now()
	for _, rows := range sent {
		if err := write(db, put, rows); err != nil {
			return err
		}
	}
	out.BareRate = float64(len(sent)) / time.Since(began).Seconds()
	return nil
}

// placed is a row with the table it is of.
type placed struct {
	table string
	row   []any
}

// twins are the rows that an act has written, named for another request; what others point
// at goes first. Their references begin with a mark.
func (w *writer) twins(n naming, l life, a written, mark string) (all []placed) {
	for _, name := range slices.Concat([]string{"requests"}, slices.DeleteFunc(names(w.tables), func(name string) bool { return name == "requests" })) {
		of := w.tables[name]
		for _, from := range a.rows[name] {
			row := slices.Clone(from)
			n.give(of, row)
			if at := of.at("reference"); at >= 0 {
				row[at] = mark + l.reference
			}
			all = append(all, placed{name, row})
		}
	}
	return all
}

func bytesOf(rows []placed) (n int) {
	for _, r := range rows {
		for _, v := range r.row {
			n += len(fmt.Sprint(v))
		}
	}
	return n
}

// write puts rows into a file in one transaction.
func write(db *sqlx.DB, put map[string]*sqlx.Stmt, rows []placed) error {
	tx, err := db.Beginx()
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // once it is kept, this does nothing
	for _, r := range rows {
		if _, err := tx.Stmtx(put[r.table]).Exec(r.row...); err != nil {
			return fmt.Errorf("%s: %w", r.table, err)
		}
	}
	return tx.Commit()
}
