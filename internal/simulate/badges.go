// Package simulate holds small stand-ins for the systems that Heptad works
// with. They speak the real protocol on a port of their own and keep what they
// have done in a file, so that a restart changes nothing.
package simulate

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"net/http"
	"os"
	"sync"
)

// Badge is one written badge.
type Badge struct {
	Number string `json:"number"`
	Holder string `json:"holder"`
	Opens  string `json:"opens"`
}

// Badges is the badge system. It refuses the first try of every key, as a busy
// system does, and writes one badge for each key however often it is asked.
type Badges struct {
	path string
	mu   sync.Mutex
	kept badgeFile
	down bool
}

type badgeFile struct {
	Tries  map[string]int   `json:"tries"`  // by idempotency key
	Badges map[string]Badge `json:"badges"` // by idempotency key
}

const firstBadge = 20417

// OpenBadges reads what the badge system did before from a file, or begins.
func OpenBadges(path string) (*Badges, error) {
	b := &Badges{path: path, kept: badgeFile{map[string]int{}, map[string]Badge{}}}
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return b, nil
	}
	if err != nil {
		return nil, err
	}
	return b, json.Unmarshal(data, &b.kept)
}

// Handler serves the badge system: POST /badges writes one, GET /badges lists
// them by idempotency key.
func (b *Badges) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /badges", b.write)
	mux.HandleFunc("GET /badges", func(w http.ResponseWriter, _ *http.Request) { reply(w, http.StatusOK, b.List()) })
	return mux
}

// Down lets the badge system fail at everything, or work again.
func (b *Badges) Down(down bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.down = down
}

// List gives all badges by idempotency key.
func (b *Badges) List() map[string]Badge {
	b.mu.Lock()
	defer b.mu.Unlock()
	return maps.Clone(b.kept.Badges)
}

func (b *Badges) write(w http.ResponseWriter, r *http.Request) {
	key := r.Header.Get("Idempotency-Key")
	var badge Badge
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 64<<10)).Decode(&badge); err != nil || key == "" || badge.Holder == "" {
		reply(w, http.StatusBadRequest, map[string]string{"detail": "A key, a holder and what the badge opens are needed."})
		return
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.down {
		reply(w, http.StatusInternalServerError, map[string]string{"detail": "The badge system is down."})
		return
	}
	if done, ok := b.kept.Badges[key]; ok {
		reply(w, http.StatusOK, done)
		return
	}
	next := badgeFile{maps.Clone(b.kept.Tries), maps.Clone(b.kept.Badges)}
	next.Tries[key]++
	status, answer := http.StatusServiceUnavailable, any(map[string]string{"detail": "The badge writer is warming up. Try again."})
	if next.Tries[key] > 1 {
		badge.Number = fmt.Sprintf("QB-%d", firstBadge+len(next.Badges))
		next.Badges[key] = badge
		status, answer = http.StatusCreated, badge
	}
	if err := keep(b.path, next); err != nil {
		reply(w, http.StatusInternalServerError, map[string]string{"detail": "The badge system cannot write its file."})
		return
	}
	b.kept = next
	reply(w, status, answer)
}

func reply(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body) // a caller that is gone needs no answer
}
