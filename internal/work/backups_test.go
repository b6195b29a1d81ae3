package work_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

// Set times, in a zone whose clocks go forward in the night of 28 March 2027 and back in
// that of 31 October.
func TestWhenBackupsAreMade(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon") // 01:00 becomes 02:00
	require.NoError(t, err)
	b := work.Backups{At: []time.Duration{90 * time.Minute, 14 * time.Hour}}
	for _, c := range []struct{ now, due, next string }{
		{"2027-03-10T01:29:59", "2027-03-09T14:00:00Z", "2027-03-10T01:30:00Z"},
		{"2027-03-10T01:30:00", "2027-03-10T01:30:00Z", "2027-03-10T14:00:00Z"},
		{"2027-03-10T23:00:00", "2027-03-10T14:00:00Z", "2027-03-11T01:30:00Z"},
		{"2027-03-28T00:30:00", "2027-03-27T14:00:00Z", "2027-03-28T01:30:00Z"}, // 02:30 by the clock: there is no 01:30
		{"2027-10-31T12:00:00", "2027-10-31T01:30:00Z", "2027-10-31T14:00:00Z"}, // the second 01:30 of two
	} {
		now, err := time.ParseInLocation("2006-01-02T15:04:05", c.now, zone)
		require.NoError(t, err)
		assert.Equal(t, c.due, b.Due(now).UTC().Format(time.RFC3339), "due at %s", c.now)
		assert.Equal(t, c.next, b.Next(now).UTC().Format(time.RFC3339), "next at %s", c.now)
	}
}

// A backup that is due is made once; what could not be made is told once and tried again;
// those that are too many go.
func TestBackups(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	dir := filepath.Join(t.TempDir(), "backups")
	o.Running.Backups = &work.Backups{Dir: dir, At: []time.Duration{90 * time.Minute}, Keep: 2}
	look := func() work.BackupsMade {
		_, err := o.Running.BackUp(ctx)
		require.NoError(t, err)
		made, err := o.Keeping.BackupsMade(ctx, admin)
		require.NoError(t, err)
		return made
	}
	files := func() int {
		all, err := filepath.Glob(filepath.Join(dir, "*"))
		require.NoError(t, err)
		return len(all)
	}
	for range 3 { // the first makes up for the set time that has passed
		assert.False(t, look().Late)
		assert.Equal(t, 1, files())
	}
	for range 3 {
		o.Clock.Pass(24 * time.Hour)
		look()
	}
	assert.Equal(t, 2, files(), "as many as are kept")

	require.NoError(t, os.RemoveAll(dir))
	require.NoError(t, os.WriteFile(dir, nil, 0o600)) // where the folder should be
	o.Clock.Pass(24 * time.Hour)
	post(t, o)
	before := len(lettersTo(o, "lindskaug"))
	for range 3 {
		made := look()
		assert.True(t, made.Late)
		assert.NotEmpty(t, made.Runs[0].Trouble)
		o.Clock.Pass(11 * time.Minute)
	}
	post(t, o)
	letters := lettersTo(o, "lindskaug")
	require.Len(t, letters, before+1, "once")
	assert.Contains(t, letters[0].Text, "No backup could be made")
	require.NoError(t, os.Remove(dir))
	made := look()
	assert.False(t, made.Late)
	assert.Equal(t, 1, files())
	assert.Len(t, made.Runs, 8)

	rows, err := o.Auditing.Acts(ctx, demo.ID("godinho"), work.WantedActs{Act: audit.BackedUp, Limit: 10})
	require.NoError(t, err)
	assert.Len(t, rows, 5)
	assert.True(t, strings.HasPrefix(rows[0].Body.Name, "heptad-"))
	_, err = o.Keeping.BackupsMade(ctx, demo.ID("falkenau"))
	assert.ErrorIs(t, err, work.ErrNotFound)
}
