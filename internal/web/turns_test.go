package web

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Who asks for much at the same time waits for themselves, and nobody else
// does; who leaves gives up their place.
func TestTurnsAreByPerson(t *testing.T) {
	all := turns{most: 2, of: map[string]*turnsOf{}}
	ctx, leave := context.WithCancel(context.Background())
	first, err := all.begin(ctx, "a")
	require.NoError(t, err)
	second, err := all.begin(ctx, "a")
	require.NoError(t, err)
	other, err := all.begin(ctx, "b")
	require.NoError(t, err, "others are not held up")
	got := make(chan func())
	go func() {
		done, err := all.begin(context.Background(), "a")
		assert.NoError(t, err)
		got <- done
	}()
	select {
	case <-got:
		t.Fatal("a third has a turn, where two are taken")
	case <-time.After(20 * time.Millisecond):
	}
	first()
	third := <-got
	leave()
	_, err = all.begin(ctx, "a")
	require.ErrorIs(t, err, context.Canceled)
	for _, done := range []func(){second, third, other} {
		done()
	}
	assert.Empty(t, all.of, "nobody is remembered")
}
