package connect

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestPublicAddresses(t *testing.T) {
	for text, want := range map[string]bool{
		"93.184.216.34": true, "2606:2800:220:1::1": true, "198.17.255.255": true, "198.20.0.0": true, "239.255.255.255": false,
		"0.1.2.3": false, "10.0.0.1": false, "100.64.0.1": false, "127.0.0.1": false, "169.254.169.254": false, "172.31.0.1": false, "192.0.0.8": false, "192.168.1.1": false,
		"198.18.0.1": false, "198.19.255.255": false, "240.0.0.1": false, "255.255.255.255": false,
		"::1": false, "::": false, "fe80::1": false, "fe80::1%eth0": false, "fc00::1": false, "fec0::1": false, "ff02::1": false,
		"64:ff9b::7f00:1": false, "2002:7f00:1::": false, "::ffff:127.0.0.1": false, "::ffff:93.184.216.34": true,
	} {
		assert.Equal(t, want, public(netip.MustParseAddr(text)), text)
	}
	assert.Error(t, publicOnly("tcp", "localhost", nil), "no address at all")
	assert.Error(t, publicOnly("tcp", "[64:ff9b::a9fe:a9fe]:80", nil))
	assert.NoError(t, publicOnly("tcp", "93.184.216.34:443", nil))
}

func TestNoPathClimbs(t *testing.T) {
	for path, want := range map[string]bool{
		"/a/b": false, "/a.b/..c": false, "/a/...": false, "/": false, "/a/b?x=..": false,
		"/a/../b": true, "/..": true, "/a/./b": true, "/a/%2e%2e/b": true, "/a/%2E./b": true, "/a/..%2fb": true, "/a/b%5c..%5cc": true,
	} {
		u, err := url.Parse("http://planner.example" + path)
		require.NoError(t, err)
		assert.Equal(t, want, climbs(u), path)
	}
	planner := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { t.Error("it was called") }))
	defer planner.Close()
	_, err := NewWebCall(At(planner.URL, "")).Do(context.Background(), Call{Do: "call", Inputs: map[string]string{"method": "DELETE", "url": "/bookings/../all"}})
	assert.ErrorContains(t, err, "leads upward")
	_, err = NewBadges(At(planner.URL, "")).Do(context.Background(), Call{Do: "end", Inputs: map[string]string{"number": ".."}})
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
		reach := At(system.URL, "the secret")
		for _, call := range []func() error{
			func() error {
				_, err := NewDirectory(reach).Do(context.Background(), Call{Do: "disable", Inputs: map[string]string{"login": "x"}})
				return err
			},
			func() error {
				_, err := NewBadges(reach).Do(context.Background(), Call{Do: "write", Inputs: map[string]string{"holder": "x", "opens": "y"}})
				return err
			},
			func() error {
				_, err := NewLicences(reach).Do(context.Background(), Call{Do: "count", Inputs: map[string]string{"product": "x"}})
				return err
			},
			func() error {
				_, err := NewPurchasing(reach, "").Do(context.Background(), Call{Do: "order", Inputs: map[string]string{"item": "x", "quantity": "1"}})
				return err
			},
			func() error {
				_, err := NewWebCall(reach).Do(context.Background(), Call{Do: "call", Inputs: map[string]string{"method": "GET", "url": "/x"}})
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
	_, err := NewBadges(At(system.URL, "")).Do(context.Background(), Call{Do: "write", Inputs: map[string]string{"holder": "x", "opens": "y"}})
	require.Error(t, err)
	assert.Len(t, []rune(err.Error()), 500)
	assert.Contains(t, err.Error(), "line one line two")
}
