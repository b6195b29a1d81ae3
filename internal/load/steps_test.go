package load

import (
	"context"
	"encoding/json"
	"errors"
	"net/http/httptest"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
	"heptad/internal/store"
)

// With ten times the requests, of which no more are under way, no statement takes twice the
// steps: none goes through what nobody asked for.
func TestNoStatementGrowsWithThePast(t *testing.T) {
	season := filepath.Join(t.TempDir(), "season")
	require.NoError(t, begin(t.Context(), season, time.Now()))
	var known, unknown []map[string]int64
	for _, n := range []int{1_000, 10_000} {
		dir, same := t.TempDir(), t.TempDir()
		require.NoError(t, os.CopyFS(dir, os.DirFS(season)))
		require.NoError(t, enlarge(dir, Size{Requests: n, Open: 20}, func(string) {}))
		require.NoError(t, os.CopyFS(same, os.DirFS(dir)))
		known = append(known, steps(t, dir))
		db, err := file(same)
		require.NoError(t, err)
		_, err = db.Exec("DROP TABLE sqlite_stat1") // as in a company that has begun today
		require.NoError(t, errors.Join(err, db.Close()))
		unknown = append(unknown, steps(t, same))
	}
	for name, all := range map[string][]map[string]int64{"SQLite knows its tables": known, "SQLite knows nothing of its tables": unknown} {
		require.Greater(t, len(all[1]), 80, "statements")
		for query, few := range all[0] {
			const little = 10_000 // steps: to look at 250 that have ended, which Find does at once; less than to go through all
			assert.Less(t, all[1][query], 2*few+little, "%s: %d steps became %d:\n%s", name, few, all[1][query], query)
		}
	}
}

// steps are the most that each statement takes while people look at everything, and send,
// take, say and end something.
func steps(t *testing.T, dir string) map[string]int64 {
	t.Helper()
	ctx := t.Context()
	o, err := open(ctx, dir, "http://127.0.0.1", 10, fstest.MapFS{"index.html": {}})
	require.NoError(t, err)
	defer o.close()
	for range 3 { // so that nothing is left over
		_, err = o.office.Running.RunDue(ctx)
		require.NoError(t, err)
	}
	server := httptest.NewServer(o.handler)
	defer server.Close()
	defer o.handler.EndStreams()
	var mu sync.Mutex
	most := map[string]int64{}
	defer store.Watch(func(query string, steps int64) {
		mu.Lock()
		defer mu.Unlock()
		most[query] = max(most[query], steps)
	})()
	client := clientFor(4)
	as := map[string]*person{}
	who := func(login string) *person {
		if as[login] == nil {
			p, err := signIn(ctx, client, server.URL, demo.ID(login))
			require.NoError(t, err)
			as[login] = p
		}
		return as[login]
	}
	for _, c := range calls {
		path, err := who(c.who).leads(ctx, c.path)
		require.NoError(t, err, c.name)
		_, err = who(c.who).ask(ctx, "GET", path, "")
		require.NoError(t, err, c.name)
	}
	works(t, ctx, who)
	_, err = o.office.Running.RunDue(ctx)
	require.NoError(t, err)
	mu.Lock()
	defer mu.Unlock()
	return most
}

// works lets somebody send something, another decide, and a third take a task, speak of it
// and get stuck.
func works(t *testing.T, ctx context.Context, who func(login string) *person) {
	t.Helper()
	require.NoError(t, who("sarmento").send(ctx, "new-second-sign-in-factor"))
	var list struct {
		Entries []struct{ Request, Rung, Key, State string }
	}
	read := func(login, path string) {
		list.Entries = nil
		data, err := who(login).ask(ctx, "GET", path, "")
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(data, &list))
		require.NotEmpty(t, list.Entries, path)
	}
	read("quist", "/api/decisions")
	d := list.Entries[0]
	_, err := who("quist").ask(ctx, "POST", "/api/decisions/"+d.Request+"/"+d.Rung, `{"decision":"approve"}`)
	require.NoError(t, err)
	read("marrec", "/api/tasks?state=ready&who=free")
	task := list.Entries[0]
	_, err = who("marrec").ask(ctx, "POST", "/api/requests/"+task.Request+"/words", `{"text":"It comes on Monday.","task":"`+task.Key+`"}`)
	require.NoError(t, err)
	for _, deed := range []string{"take", "stuck"} {
		_, err = who("marrec").ask(ctx, "POST", "/api/tasks/"+task.Request+"/"+task.Key+"/"+deed, `{"text":"The machine is broken."}`)
		require.NoError(t, err, deed)
	}
}
