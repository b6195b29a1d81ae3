package store_test

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/store"
)

func aside(id string) store.Aside { return store.Aside{Lane: "test", ID: id, Reason: "none"} }

func TestAWriteReturnsOnceTheDiskHasIt(t *testing.T) {
	s := open(t, t.TempDir())
	begun, goOn := make(chan struct{}, 100), make(chan struct{})
	var taken atomic.Int32
	s.Disk(func() error {
		begun <- struct{}{}
		<-goOn
		taken.Add(1)
		return nil
	})
	var returned atomic.Int32
	var writing sync.WaitGroup
	write := func(id string) {
		writing.Go(func() {
			assert.NoError(t, s.SetAside(context.Background(), aside(id)))
			returned.Add(1)
		})
	}
	write("first")
	<-begun
	const more = 20
	for i := range more { // are made while the disk is busy with the first
		write(string(rune('a' + i)))
	}
	require.Eventually(t, func() bool {
		all, err := s.SetAsides(context.Background(), 100)
		return err == nil && len(all) == more+1
	}, 5*time.Second, time.Millisecond)
	assert.Zero(t, returned.Load(), "nobody hears that it is kept")
	close(goOn)
	writing.Wait()
	assert.EqualValues(t, more+1, returned.Load())
	assert.LessOrEqual(t, taken.Load(), int32(3), "the disk is waited for once for all who wrote meanwhile; once more for who had not been counted")
}

func TestNothingIsKeptOnceTheDiskHasFailed(t *testing.T) {
	s := open(t, t.TempDir())
	s.Disk(func() error { return errors.New("input/output error") })
	require.ErrorContains(t, s.SetAside(context.Background(), aside("a")), "input/output error")
	s.Disk(func() error { return nil })
	require.ErrorContains(t, s.SetAside(context.Background(), aside("b")), "before Heptad starts again")
	require.Error(t, s.Ping(context.Background()), "who watches over the program sees it")
	all, err := s.SetAsides(context.Background(), 100)
	require.NoError(t, err)
	for _, a := range all {
		assert.NotEqual(t, "b", a.ID)
	}
}

func TestAPanicInAWriteUndoesIt(t *testing.T) {
	s := open(t, t.TempDir())
	assert.Panics(t, func() {
		_ = s.Write(context.Background(), func(tx *store.Tx) error { // it panics
			assert.NoError(t, tx.AddReport(store.Report{Connector: "mail", Key: "k", Step: "1", Verdict: "taken"}))
			panic("broken")
		})
	})
	within, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	require.NoError(t, s.SetAside(within, aside("a")), "the next one can write")
}
