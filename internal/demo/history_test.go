package demo_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
)

func TestHistory(t *testing.T) {
	office := demotest.New(t)
	h, err := demo.NewHistory(context.Background(), office.Office, demotest.Start)
	require.NoError(t, err)
	began := time.Now()
	require.NoError(t, h.Write())
	t.Log(h.Done.Load(), time.Since(began))
}
