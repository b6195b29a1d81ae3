package systems_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/badges"
	"heptad/internal/connect/directory"
	"heptad/internal/connect/licences"
	"heptad/internal/connect/purchasing"
	"heptad/internal/connect/webcall"
)

func TestNoPathClimbs(t *testing.T) {
	for path, want := range map[string]bool{
		"/a/b": false, "/a.b/..c": false, "/a/...": false, "/": false, "/a/b?x=..": false,
		"/a/../b": true, "/..": true, "/a/./b": true, "/a/%2e%2e/b": true, "/a/%2E./b": true, "/a/..%2fb": true, "/a/b%5c..%5cc": true,
	} {
		u, err := url.Parse("http://planner.example" + path)
		require.NoError(t, err)
		assert.Equal(t, want, connect.Climbs(u), path)
	}
	planner := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { t.Error("it was called") }))
	defer planner.Close()
	_, err := webcall.New(connect.At(planner.URL, "")).Do(context.Background(), connect.Call{Do: "call", Inputs: map[string]string{"method": "DELETE", "url": "/bookings/../all"}})
	assert.ErrorContains(t, err, "leads upward")
	_, err = badges.New(connect.At(planner.URL, "")).Do(context.Background(), connect.Call{Do: "end", Inputs: map[string]string{"number": ".."}})
	assert.Error(t, err)
}

// No connector follows a redirect, and none takes its secret along.
func TestRedirectsAreNotFollowed(t *testing.T) {
	elsewhere := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		t.Errorf("it was followed, with %q", r.Header.Get("Authorization"))
	}))
	defer elsewhere.Close()
	for _, status := range []int{301, 302, 303, 307, 308} {
		asked := 0
		system := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			asked++
			http.Redirect(w, r, elsewhere.URL+r.URL.Path, status)
		}))
		reach := connect.At(system.URL, "the secret")
		for _, call := range []func() error{
			func() error {
				_, err := directory.New(reach).Do(context.Background(), connect.Call{Do: "disable", Inputs: map[string]string{"login": "x"}})
				return err
			},
			func() error {
				_, err := badges.New(reach).Do(context.Background(), connect.Call{Do: "write", Inputs: map[string]string{"holder": "x", "opens": "y"}})
				return err
			},
			func() error {
				_, err := licences.New(reach).Do(context.Background(), connect.Call{Do: "count", Inputs: map[string]string{"product": "x"}})
				return err
			},
			func() error {
				_, err := purchasing.New(reach, "").Do(context.Background(), connect.Call{Do: "order", Inputs: map[string]string{"item": "x", "quantity": "1"}})
				return err
			},
			func() error {
				_, err := webcall.New(reach).Do(context.Background(), connect.Call{Do: "call", Inputs: map[string]string{"method": "GET", "url": "/x"}})
				return err
			},
		} {
			assert.ErrorContains(t, call(), "is not followed")
		}
		assert.Equal(t, 5, asked)
		system.Close()
	}
}

// What others say went wrong is cut, and stands on one line.
func TestTroubleFromOutsideIsCut(t *testing.T) {
	system := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.WriteHeader(http.StatusConflict)
		_, _ = w.Write([]byte(`{"detail": "line one\nline two ` + strings.Repeat("x", 5000) + `"}`))
	}))
	defer system.Close()
	_, err := badges.New(connect.At(system.URL, "")).Do(context.Background(), connect.Call{Do: "write", Inputs: map[string]string{"holder": "x", "opens": "y"}})
	require.Error(t, err)
	assert.Len(t, []rune(err.Error()), 500)
	assert.Contains(t, err.Error(), "line one line two")
}
