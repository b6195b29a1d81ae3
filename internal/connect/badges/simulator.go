package badges

import (
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strings"

	"heptad/internal/simulate"
)

// Badge is one written badge.
type Badge struct {
	Number string `json:"number"`
	Holder string `json:"holder"`
	Opens  string `json:"opens"`
	Before string `json:"before,omitempty"`
	Ended  bool   `json:"ended,omitempty"`
}

// System is the badge system. It refuses the first try of every key, as a busy
// system does, and writes one badge for each key however often it is asked. A
// key that was ended first is never written.
type System struct {
	simulate.System
	simulate.Kept[badgeFile]
}

type badgeFile struct {
	Tries  map[string]int   `json:"tries"`  // by idempotency key
	Badges map[string]Badge `json:"badges"` // by idempotency key
	Void   map[string]bool  `json:"void"`   // keys that were ended before they were written
}

const firstBadge = 20417

// Open reads what the badge system did before from a file, or begins with
// some badges that are written already.
func Open(path string, written map[string]Badge) (*System, error) {
	b := &System{System: simulate.System{Name: "The badge system"}}
	begin := badgeFile{map[string]int{}, map[string]Badge{}, map[string]bool{}}
	maps.Copy(begin.Badges, written)
	return b, b.Open(path, begin)
}

// Handler serves the badge system: POST /badges writes one, PATCH
// /badges/{number} changes and DELETE ends it, DELETE /badges?key= ends the one
// of a key, GET /badges lists them by idempotency key.
func (b *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /badges", b.write)
	mux.HandleFunc("PATCH /badges/{number}", b.alter)
	mux.HandleFunc("DELETE /badges/{number}", b.end)
	mux.HandleFunc("DELETE /badges", b.end)
	mux.HandleFunc("GET /badges", func(w http.ResponseWriter, _ *http.Request) { simulate.Reply(w, http.StatusOK, b.List()) })
	return b.Serve(mux, func() [][]string {
		rows := [][]string{{"Number", "Holder", "Opens", "Now"}}
		for _, badge := range slices.SortedFunc(maps.Values(b.List()), func(x, y Badge) int { return strings.Compare(y.Number, x.Number) }) {
			now := "valid"
			if badge.Ended {
				now = "ended"
			}
			rows = append(rows, []string{badge.Number, badge.Holder, badge.Opens, now})
		}
		return rows
	})
}

// Down lets the badge system fail at everything, or work again.
func (b *System) Down(down bool) { b.SetFaults(simulate.Faults{Refuse: down}) }

// List gives all badges by idempotency key.
func (b *System) List() map[string]Badge { return b.Read().Badges }

func (b *System) write(w http.ResponseWriter, r *http.Request) {
	key := r.Header.Get("Idempotency-Key")
	badge, err := simulate.Decoded[Badge](r)
	if err != nil || key == "" || badge.Holder == "" {
		simulate.Fail(w, http.StatusBadRequest, "A key, a holder and what the badge opens are needed.")
		return
	}
	busy := false
	err = b.Change(func(s *badgeFile) error {
		if done, ok := s.Badges[key]; ok {
			badge = done
			return nil
		}
		if s.Void[key] {
			return simulate.Refusal{Status: http.StatusGone, Detail: "This was ended before it was written."}
		}
		if s.Tries[key]++; s.Tries[key] == 1 {
			busy = true
			return nil
		}
		badge.Number = fmt.Sprintf("QB-%d", firstBadge+len(s.Badges))
		s.Badges[key] = badge
		return nil
	})
	if busy {
		err = simulate.Refusal{Status: http.StatusTooManyRequests, Detail: "The badge writer is warming up. Try again."}
	}
	simulate.Answer(w, http.StatusCreated, badge, err)
}

func (b *System) alter(w http.ResponseWriter, r *http.Request) {
	wanted, err := simulate.Decoded[Badge](r)
	var badge Badge
	if err == nil {
		err = b.Change(func(s *badgeFile) error {
			for key, one := range s.Badges {
				if one.Number == r.PathValue("number") && !one.Ended {
					if one.Opens != wanted.Opens {
						one.Before, one.Opens = one.Opens, wanted.Opens
					}
					s.Badges[key], badge = one, one
					return nil
				}
			}
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such badge."}
		})
	}
	simulate.Answer(w, http.StatusOK, badge, err)
}

func (b *System) end(w http.ResponseWriter, r *http.Request) {
	key, number := r.URL.Query().Get("key"), r.PathValue("number")
	err := b.Change(func(s *badgeFile) error {
		for k, one := range s.Badges {
			if k == key || number != "" && one.Number == number {
				one.Ended = true
				s.Badges[k] = one
				return nil
			}
		}
		if key == "" {
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such badge."}
		}
		s.Void[key] = true
		return nil
	})
	simulate.Answer(w, http.StatusNoContent, nil, err)
}
