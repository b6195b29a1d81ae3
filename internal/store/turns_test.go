package store_test

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/store"
)

// standing are the IDs that are kept.
func standing(t *testing.T, s *store.Store) (ids []string) {
	t.Helper()
	all, err := s.SetAsides(context.Background(), 1000)
	require.NoError(t, err)
	for _, a := range all {
		ids = append(ids, a.ID)
	}
	return ids
}

// together has writes wait until the first is at work, so that all are committed at once.
func together(s *store.Store, writes ...func(*store.Tx) error) []error {
	s.GoOnLong()
	errs := make([]error, len(writes))
	begun, goOn := make(chan struct{}), make(chan struct{})
	var writing sync.WaitGroup
	for i, write := range writes {
		writing.Go(func() {
			defer func() {
				if p := recover(); p != nil {
					errs[i] = fmt.Errorf("panic: %v", p)
				}
			}()
			errs[i] = s.Write(context.Background(), func(tx *store.Tx) error {
				if i == 0 {
					close(begun)
					<-goOn
				}
				return write(tx)
			})
		})
		if i == 0 {
			<-begun
		}
	}
	s.Coming(len(writes) - 1)
	close(goOn)
	writing.Wait()
	return errs
}

func put(id string) func(*store.Tx) error {
	return func(tx *store.Tx) error { return tx.PutAside(aside(id)) }
}

func TestWhoWritesTogetherIsKeptTogether(t *testing.T) {
	s := open(t, t.TempDir())
	var writes []func(*store.Tx) error
	var want []string
	for i := range 10 {
		writes, want = append(writes, func(tx *store.Tx) error {
			assert.Empty(t, standing(t, s), "nothing is kept before all is")
			return put(fmt.Sprint(i))(tx)
		}), append(want, fmt.Sprint(i))
	}
	for _, err := range together(s, writes...) {
		assert.NoError(t, err)
	}
	assert.ElementsMatch(t, want, standing(t, s))
}

func TestWhoFailsUndoesOnlyTheirOwn(t *testing.T) {
	refused := errors.New("refused")
	fails := func(id string) func(*store.Tx) error {
		return func(tx *store.Tx) error { return errors.Join(put(id)(tx), refused) }
	}
	breaks := func(tx *store.Tx) error {
		_ = put("broken")(tx) // it panics
		panic("broken")
	}
	for name, writes := range map[string][]func(*store.Tx) error{
		"the first fails":      {fails("x"), put("a"), put("b")},
		"one between fails":    {put("a"), fails("x"), put("b")},
		"the last fails":       {put("a"), put("b"), fails("x")},
		"one between panics":   {put("a"), breaks, put("b")},
		"the first panics":     {breaks, put("a"), put("b")},
		"one fails on another": {put("a"), func(tx *store.Tx) error { return errors.Join(put("b")(tx), put("a")(tx), refused) }, put("b")},
	} {
		t.Run(name, func(t *testing.T) {
			s := open(t, t.TempDir())
			failed := 0
			for _, err := range together(s, writes...) {
				if err != nil {
					failed++
				}
			}
			assert.Equal(t, 1, failed)
			assert.ElementsMatch(t, []string{"a", "b"}, standing(t, s))
			require.NoError(t, s.SetAside(context.Background(), aside("c")), "others can write then")
		})
	}
}

func TestWhatAFullDiskEndsIsKeptForNobody(t *testing.T) {
	s := open(t, t.TempDir())
	require.NoError(t, s.LimitPages(context.Background(), 0))
	large := func(tx *store.Tx) error {
		a := aside("large")
		a.Reason = string(make([]byte, 1<<20))
		return tx.PutAside(a)
	}
	for i, err := range together(s, put("a"), large, put("b")) {
		if i < 2 {
			assert.ErrorIs(t, err, store.ErrFull, "who wrote before hears it, too")
		}
	}
	assert.NotContains(t, standing(t, s), "a")
	assert.NotContains(t, standing(t, s), "large")
}

// Whoever wrote before does not wait for what takes long, and who leaves while they wait
// holds up nobody.
func TestALongWriteKeepsNobodyWaiting(t *testing.T) {
	s := open(t, t.TempDir())
	begun, goOn, long, end := make(chan struct{}), make(chan struct{}), make(chan struct{}), make(chan struct{})
	first := make(chan error, 1)
	go func() {
		first <- s.Write(context.Background(), func(tx *store.Tx) error {
			close(begun)
			<-goOn
			return put("a")(tx)
		})
	}()
	<-begun
	var writing sync.WaitGroup
	writing.Go(func() {
		assert.NoError(t, s.WriteAlone(context.Background(), func(tx *store.Tx) error {
			close(long)
			<-end
			return put("long")(tx)
		}))
	})
	time.Sleep(20 * time.Millisecond) // it waits for its turn
	close(goOn)
	<-long
	require.NoError(t, <-first, "it is kept while the long one goes on")
	assert.Equal(t, []string{"a"}, standing(t, s))

	left, leave := context.WithCancel(context.Background())
	gone := make(chan error, 1)
	go func() { gone <- s.Write(left, put("gone")) }()
	writing.Go(func() { assert.NoError(t, s.Write(context.Background(), put("b"))) })
	s.Coming(2)
	leave()
	close(end)
	writing.Wait()
	require.ErrorIs(t, <-gone, context.Canceled)
	assert.ElementsMatch(t, []string{"a", "long", "b"}, standing(t, s))
}
