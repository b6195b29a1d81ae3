package doctor_test

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/request"
	"heptad/internal/demo/demotest"
	"heptad/internal/doctor"
)

var checks = []string{"version", "file", "links", "requests", "facts", "chains", "effects", "attachments", "disk", "clock"}

// unguarded lets history be altered, as somebody can who has the file.
const unguarded = "DROP TRIGGER events_stay; DROP TRIGGER events_remain; "

// look gives the results of all checks by their names, in their order.
func look(t *testing.T, dir string, now time.Time) map[string]doctor.Result {
	t.Helper()
	var order []string
	all := map[string]doctor.Result{}
	require.NoError(t, doctor.Look(context.Background(), dir, now, func(r doctor.Result) {
		order = append(order, r.Check)
		all[r.Check] = r
	}))
	assert.Equal(t, checks, order, "every check is made, whatever those before came to")
	return all
}

// A folder is whole until something is done to it; then the check it concerns names
// what is wrong, and no other check complains.
func TestWhatIsWrongIsNamed(t *testing.T) {
	o := demotest.New(t)
	now := o.Clock.Now()
	for name, r := range look(t, o.Dir, now) {
		assert.True(t, r.Good, "%s of a folder that is in use: %s %v", name, r.Says, r.Wrong)
	}
	require.NoError(t, o.Measuring.RemakeFacts(context.Background()))
	sent := o.Ask("sarmento", "open")
	require.Greater(t, sent.Seq, 2, "there is a history to alter")

	for name, c := range map[string]struct {
		faults string // SQL
		check  string
		says   string // in the sentence, or in what is named
	}{
		"a status of a list that is not that of the history": {"UPDATE requests SET status = 'closed' WHERE id = '" + sent.ID + "'", "requests", sent.Reference + ": it stands as closed, and its history says " + string(sent.Status)},
		"a state that was altered":                           {"UPDATE requests SET state = packed('states', json_set(unpacked(state), '$.title', 'Two places')) WHERE id = '" + sent.ID + "'", "requests", sent.Reference + ": what is kept of it is not what its history says"},
		"a state that is no JSON":                            {"UPDATE requests SET state = packed('states', '{') WHERE id = '" + sent.ID + "'", "requests", sent.Reference + ": it cannot be read"},
		"an event that is gone":                              {unguarded + "DELETE FROM events WHERE seq = 2 AND request = '" + sent.ID + "'", "requests", sent.Reference + ": event 2 of its history is missing"},
		"an event of a kind that there is not":               {unguarded + "UPDATE events SET event = packed('events', 'sung' || substr(unpacked(event), instr(unpacked(event), char(10)))) WHERE seq = 2 AND request = '" + sent.ID + "'", "requests", sent.Reference + ": it cannot be read"},
		"no history at all":                                  {unguarded + "DELETE FROM events WHERE request = '" + sent.ID + "'", "requests", sent.Reference + ": it has no history"},
		"a fact that was altered":                            {"UPDATE facts_requests SET sent = sent - 1 WHERE number = " + fmt.Sprint(request.Number(sent.Reference)), "facts", sent.Reference + ": what is kept of it for measuring"},
		"a fact that is gone":                                {"DELETE FROM facts_spells WHERE number = " + fmt.Sprint(request.Number(sent.Reference)), "facts", sent.Reference + ": what is kept of it for measuring"},
		"an act that was altered":                            {"DROP TRIGGER audit_stays; UPDATE audit SET actor = 'other' WHERE id = 1", "chains", "audit: row 1 was altered"},
		"an attachment without content":                      {attachment(sent.ID, "GONE", 3), "attachments", "GONE of " + sent.ID + ": its content is gone"},
		"an attachment that is cut off":                      {attachment(sent.ID, "CUT", 9), "attachments", "CUT of " + sent.ID + ": its content has 3 bytes and not 9"},
		"a call for a task that there is not":                {"INSERT INTO effects (key, request, kind, task, connector, action, inputs, state, due_at) VALUES ('stray', '" + sent.ID + "', 'call', 'ghost', 'badges', 'write', '{}', 'waiting', 0)", "effects", "stray"},
		"a member who is nobody":                             {"INSERT INTO team_members (team, person) VALUES ('keys-badges', 'p-nobody')", "links", "points at nothing in people"},
		"data of a newer program":                            {"INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, 1)", "version", "written by a newer Heptad"},
		"data of an older program":                           {"DELETE FROM goose_db_version WHERE version_id = (SELECT max(version_id) FROM goose_db_version)", "version", "brings it to"},
	} {
		t.Run(name, func(t *testing.T) {
			dir := t.TempDir()
			path := filepath.Join(dir, "heptad.db")
			_, err := o.Store.Writer().Exec("VACUUM INTO ?", path)
			require.NoError(t, err)
			require.NoError(t, os.Mkdir(filepath.Join(dir, "uploads"), 0o700))
			require.NoError(t, os.WriteFile(filepath.Join(dir, "uploads", "CUT"), []byte("abc"), 0o600))
			db, err := sql.Open("sqlite", "file:"+path)
			require.NoError(t, err)
			result, err := db.Exec(c.faults)
			require.NoError(t, err)
			touched, err := result.RowsAffected()
			require.NoError(t, err)
			require.NotZero(t, touched, "the fault is there")
			require.NoError(t, db.Close())
			before, err := os.ReadFile(path)
			require.NoError(t, err)

			for check, r := range look(t, dir, now) {
				bad := check == c.check || check == "chains" && strings.HasPrefix(c.faults, unguarded) // who alters history breaks its chain
				assert.Equal(t, !bad, r.Good, "%s: %s %v", check, r.Says, r.Wrong)
				if check == c.check {
					assert.Contains(t, strings.Join(append(r.Wrong, r.Says), "\n"), c.says)
				}
			}
			after, err := os.ReadFile(path)
			require.NoError(t, err)
			assert.Equal(t, before, after, "looking changes nothing")
		})
	}
	clock := look(t, o.Dir, now.Add(-time.Hour))["clock"]
	assert.False(t, clock.Good)
	assert.Contains(t, clock.Says, "one of the two is wrong")
}

func attachment(request, id string, size int) string {
	return fmt.Sprintf("INSERT INTO uploads (id, request, question, name, type, size, added_by, added_at) SELECT '%s', id, '', 'plan.pdf', 'application/pdf', %d, asker, 0 FROM requests WHERE id = '%s'", id, size, request)
}

// A file that is damaged is told so, and what can still be read is looked at.
func TestADamagedFile(t *testing.T) {
	o := demotest.New(t)
	dir := t.TempDir()
	path := filepath.Join(dir, "heptad.db")
	_, err := o.Store.Writer().Exec("VACUUM INTO ?", path)
	require.NoError(t, err)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for i := len(data) * 3 / 4; i < len(data)*3/4+8192; i++ {
		data[i] = 0xa5
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	all := look(t, dir, o.Clock.Now())
	assert.False(t, all["file"].Good)
	assert.True(t, all["disk"].Good)
}

func TestNothingToLookAt(t *testing.T) {
	empty := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(empty, "heptad.db"), nil, 0o600))
	for dir, says := range map[string]string{t.TempDir(): "there is no data file in", empty: "is empty"} {
		err := doctor.Look(context.Background(), dir, time.Now(), func(doctor.Result) { t.Error("nothing can be said") })
		assert.ErrorContains(t, err, says)
	}
}
