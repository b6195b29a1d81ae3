package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"
)

// turns has those who write go one after the other. Who comes while another writes goes on
// in the same transaction, so that they are committed together.
type turns struct {
	mu     sync.Mutex   // held by whose turn it is
	coming atomic.Int32 // how many wait for their turn and go on with what is open
	open   *shared      // guarded by mu; nil when nothing is under way

	longest time.Duration // how long others go on in what is open
}

// How many go on in a transaction, and how long after it began, so that the first of them
// hardly waits.
const (
	mostTurns    = 16
	longestTurns = 20 * time.Millisecond
)

// shared is a transaction in which several write.
type shared struct {
	tx    *sqlx.Tx
	began time.Time
	turns int             // that are kept with it
	wrote map[string]bool // IDs of the requests that were written of, or would have been
	done  chan struct{}   // closed once it has ended
	err   error           // why nothing of it is kept; read once it has ended
}

// write runs f in one transaction, without waiting for the disk; alone when nobody else's
// is to be kept with it.
func (s *Store) write(ctx context.Context, alone bool, f func(*Tx) error) error {
	t, in, err := s.turn(ctx, alone, f)
	if in == nil {
		return err
	}
	<-in.done
	if in.err != nil { // also for who was refused, on account of what was not kept
		return in.err
	}
	if err != nil {
		return err
	}
	for _, do := range t.then {
		do()
	}
	return nil
}

// turn runs f when it is its turn; in is what it has run in, nil when it has not.
func (s *Store) turn(ctx context.Context, alone bool, f func(*Tx) error) (t *transaction, in *shared, err error) {
	if !alone {
		s.turns.coming.Add(1)
	}
	s.turns.mu.Lock()
	defer s.turns.mu.Unlock()
	if alone {
		s.end()
	} else {
		s.turns.coming.Add(-1)
	}
	defer func() { // also when f panics
		if open := s.turns.open; open != nil && (alone || s.turns.coming.Load() == 0 || !open.goesOn(s.turns.longest)) {
			s.end()
		}
	}()
	if err := ctx.Err(); err != nil {
		return nil, nil, err
	}
	if in = s.turns.open; in == nil {
		tx, err := s.writer.BeginTxx(context.Background(), nil)
		if err != nil {
			return nil, nil, err
		}
		in = &shared{tx: tx, began: time.Now(), wrote: map[string]bool{}, done: make(chan struct{})}
		s.turns.open = in
	}
	// Who leaves does not break off a statement: SQLite would undo the turns of others with it.
	t = &transaction{reads: readsOf(in.tx), tx: in.tx, ctx: context.WithoutCancel(ctx), newest: &s.newest, texts: &s.texts, told: map[telling]int64{}, wrote: in.wrote, added: map[string]int{}}
	return t, in, in.turn(t, f)
}

// goesOn reports whether another turn may go on in it, which is done for so long.
func (in *shared) goesOn(longest time.Duration) bool {
	return in.err == nil && in.turns > 0 && in.turns < mostTurns && time.Since(in.began) < longest
}

// turn runs f. What it wrote is undone when it fails, or panics, and what others wrote before
// is not.
func (in *shared) turn(t *transaction, f func(*Tx) error) (err error) {
	others, kept := in.turns > 0, false
	if others {
		if err := t.exec("SAVEPOINT turn"); err != nil {
			return err
		}
	}
	defer func() {
		if kept {
			return
		}
		if !others { // there is nothing to be kept
			if undone := in.tx.Rollback(); undone != nil && !errors.Is(undone, sql.ErrTxDone) && !errors.Is(full(err), ErrFull) {
				err = errors.Join(err, undone)
			}
		} else if _, undone := in.tx.Exec("ROLLBACK TO turn; RELEASE turn"); undone != nil { // a full disk has ended it for all
			in.err = errors.Join(err, undone)
		}
	}()
	if err := f(&Tx{t, companyTx{t}, ownTx{t}, factsTx{t}, tellingTx{t}}); err != nil {
		return err
	}
	if others {
		if err := t.exec("RELEASE turn"); err != nil {
			return err
		}
	}
	kept = true
	in.turns++
	return nil
}

// end commits what is open.
func (s *Store) end() {
	in := s.turns.open
	if in == nil {
		return
	}
	s.turns.open = nil
	defer close(in.done)
	if in.err == nil && in.turns > 0 {
		in.err = s.commit(in)
	}
	_ = in.tx.Rollback() // once it is kept or undone, this does nothing
}
