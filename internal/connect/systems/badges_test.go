package systems_test

import (
	"context"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/badges"
)

var call = connect.Call{Key: "r/write", Do: "write", Inputs: map[string]string{"holder": "Davi Sarmento", "opens": "Sankt Orm"}}

func TestACallCarriesItsKeyAndInputs(t *testing.T) {
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var inputs map[string]string
		assert.NoError(t, json.NewDecoder(r.Body).Decode(&inputs))
		assert.Equal(t, call.Inputs, inputs)
		assert.Equal(t, "r/write", r.Header.Get("Idempotency-Key"))
		_, _ = w.Write([]byte(`{"number":"QB-7"}`))
	}))
	defer server.Close()
	reply, err := badges.New(connect.At(server.URL, "")).Do(context.Background(), call)
	require.NoError(t, err)
	assert.Equal(t, connect.Reply{Outputs: map[string]string{"number": "QB-7"}}, reply)
}

// Whatever the other system does, people are told in a sentence.
func TestTrouble(t *testing.T) {
	for name, c := range map[string]struct {
		status int
		body   string
		want   string
		down   bool
		final  bool
	}{
		"refused":       {503, `{"detail":"Warming up."}`, "The badge system refused: Warming up.", true, false},
		"bad request":   {400, `{"detail":"No holder."}`, "The badge system refused: No holder.", false, true},
		"too many":      {429, `{"detail":"Busy."}`, "The badge system refused: Busy.", false, false},
		"no JSON":       {200, `<html>`, "The badge system gave an answer that cannot be read (status 200).", false, false},
		"no number":     {200, `{}`, "The badge system gave an answer without a number.", false, false},
		"broken error":  {500, `oops`, "The badge system refused: status 500.", false, false},
		"empty":         {204, ``, "The badge system gave an answer without a number.", false, false},
		"number in 500": {500, `{"number":"QB-7","detail":"Half done."}`, "The badge system refused: Half done.", false, false},
		"nothing there": {404, `{}`, "The badge system does not know how to write a badge.", false, true},
	} {
		t.Run(name, func(t *testing.T) {
			server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
				w.WriteHeader(c.status)
				_, _ = w.Write([]byte(c.body))
			}))
			defer server.Close()
			_, err := badges.New(connect.At(server.URL, "")).Do(context.Background(), call)
			var trouble connect.Trouble
			require.ErrorAs(t, err, &trouble)
			assert.Equal(t, c.want, trouble.Sentence)
			assert.Equal(t, c.down, trouble.Down)
			assert.Equal(t, c.final, trouble.Final)
		})
	}
	gone := httptest.NewServer(http.NotFoundHandler())
	gone.Close()
	_, err := badges.New(connect.At(gone.URL, "")).Do(context.Background(), call)
	assert.Equal(t, connect.Trouble{Sentence: "The badge system does not answer.", Down: true}, err)
	_, err = badges.New(connect.At(gone.URL, "")).Do(context.Background(), connect.Call{Do: "burn"})
	assert.ErrorContains(t, err, `cannot do "burn"`)
}

// The simulator refuses first, then writes once however often it is asked, and
// remembers it over a restart.
func TestTheSimulator(t *testing.T) {
	path := filepath.Join(t.TempDir(), "simulators", "badges.json")
	ask := func(key string) (connect.Reply, error) {
		system, err := badges.Open(path, nil)
		require.NoError(t, err)
		server := httptest.NewServer(system.Handler())
		defer server.Close()
		c := call
		c.Key = key
		return badges.New(connect.At(server.URL, "")).Do(context.Background(), c)
	}
	_, err := ask("a")
	assert.ErrorContains(t, err, "warming up")
	first, err := ask("a")
	require.NoError(t, err)
	again, err := ask("a")
	require.NoError(t, err)
	assert.Equal(t, first, again)
	_, err = ask("b")
	assert.ErrorContains(t, err, "warming up")
	other, err := ask("b")
	require.NoError(t, err)
	assert.NotEqual(t, first, other)
	_, err = ask("")
	assert.ErrorContains(t, err, "A key, a holder and what the badge opens are needed.")
}
