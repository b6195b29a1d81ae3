package store

import (
	"context"
	"errors"
	"strings"
	"sync"
	"sync/atomic"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Tx is one write transaction: what it can write of the company, and of all else.
type Tx struct {
	*transaction
	companyTx
	ownTx
	factsTx
	tellingTx
}

type (
	companyTx struct{ *transaction }
	ownTx     struct{ *transaction } // what people put aside for themselves
	tellingTx struct{ *transaction } // what people are told
)

// transaction is what all writes are made of.
type transaction struct {
	reads
	tx     *sqlx.Tx
	ctx    context.Context
	newest *atomic.Int64 // number of the newest event that is kept
	texts  *sync.Map     // of the store
	told   map[telling]int64
	wrote  map[string]bool // IDs of the requests it wrote of, and of those who share it
	added  map[string]int  // by request: the number of the first event that it has added
	then   []func()        // to be done once all is kept
}

// Write runs f in one transaction: all of it is kept, or nothing. Once Write returns, it
// stands on the disk.
func (s *Store) Write(ctx context.Context, f func(*Tx) error) error {
	return s.keep(ctx, false, f)
}

// WriteAlone is Write for what takes long, for which those before do not wait; and for what
// others keep in memory, such as a version that is published, which nobody sees before it is kept.
func (s *Store) WriteAlone(ctx context.Context, f func(*Tx) error) error {
	return s.keep(ctx, true, f)
}

func (s *Store) keep(ctx context.Context, alone bool, f func(*Tx) error) error {
	if err := s.durable.broken(); err != nil {
		return err
	}
	if err := full(s.write(ctx, alone, f)); err != nil {
		return err
	}
	return s.durable.wait()
}

// change does one statement in a transaction of its own.
func (s *Store) change(ctx context.Context, query string, args ...any) error {
	return s.Write(ctx, func(tx *Tx) error { return tx.exec(query, args...) })
}

// Then has something done once all of the transaction is kept.
func (t *transaction) Then(do func()) { t.then = append(t.then, do) }

// Context is the one the transaction runs in.
func (t *transaction) Context() context.Context { return t.ctx }

func (t *transaction) exec(query string, args ...any) error {
	_, err := t.tx.ExecContext(t.ctx, query, args...)
	var failed *sqlite.Error
	if errors.As(err, &failed) && (failed.Code() == sqlite3.SQLITE_CONSTRAINT_UNIQUE || failed.Code() == sqlite3.SQLITE_CONSTRAINT_PRIMARYKEY) {
		return ErrExists
	}
	return err
}

// rowsAtOnce is how many rows one statement puts in.
const rowsAtOnce = 16

// execRows does a statement that ends with the values of rows of so many columns.
func (t *transaction) execRows(query string, columns int, args []any) error {
	row := "(" + strings.Repeat("?,", columns-1) + "?)"
	return t.exec(query+row+strings.Repeat(","+row, len(args)/columns-1), args...)
}

// insert puts a row into a table that numbers its rows, and gives its number.
func (t *transaction) insert(query string, args ...any) (int64, error) {
	added, err := t.tx.ExecContext(t.ctx, query, args...)
	if err != nil {
		return 0, err
	}
	return added.LastInsertId()
}
