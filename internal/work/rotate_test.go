package work_test

import (
	"bytes"
	"context"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// Sealed anew, everything opens with the new key and nothing with the old one; cut off
// before the key took its place, the next start ends it.
func TestRotatingTheKey(t *testing.T) {
	o := demotest.New(t)
	old, dir := o.Sealed, t.TempDir()
	require.NoError(t, o.Store.KnowKey(ctx, "connectors", old))
	f, err := o.Entering.NewFactor(demo.ID("quist"))
	require.NoError(t, err)
	require.NoError(t, o.Entering.SetPassword(ctx, demo.ID("quist"), passphrase))
	code, err := totp.GenerateCode(f.Secret, o.Clock.Now())
	require.NoError(t, err)
	_, err = o.Entering.SetFactor(ctx, demo.ID("quist"), f.Secret, code)
	require.NoError(t, err)

	next, err := store.NewKey(dir, "connectors")
	require.NoError(t, err)
	_, err = work.Rotate(ctx, o.Store, bytes.Repeat([]byte{7}, 32), next, time.Now)
	require.ErrorContains(t, err, "does not open", "with another key nothing is changed")
	require.NoError(t, o.Store.KnowKey(ctx, "connectors", old))
	require.NoError(t, o.Store.SettleKey(ctx, dir, "connectors"))
	assert.NoFileExists(t, dir+"/connectors.secret.next", "one that sealed nothing is thrown away")

	next, err = store.NewKey(dir, "connectors")
	require.NoError(t, err)
	n, err := work.Rotate(ctx, o.Store, old, next, time.Now)
	require.NoError(t, err)
	assert.Greater(t, n, 1)
	assert.Error(t, o.Store.KnowKey(ctx, "connectors", old))
	require.NoError(t, o.Store.SettleKey(ctx, dir, "connectors"))
	taken, err := store.Secret(dir, "connectors", false)
	require.NoError(t, err)
	assert.Equal(t, next, taken)
	require.NoError(t, o.Store.KnowKey(ctx, "connectors", taken))
	system, err := work.Reach(o.Store, taken, "badges")(context.Background())
	require.NoError(t, err)
	assert.NotEmpty(t, system.Secret)
	_, err = work.Reach(o.Store, old, "badges")(context.Background())
	assert.Error(t, err)
	acts, err := o.Store.Acts(ctx, store.WantedActs{Act: audit.KeyRotated, Limit: 2})
	require.NoError(t, err)
	assert.Len(t, acts, 1)
}
