package webcall

import (
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/simulate"
)

// Booking is one booking of the berth planner.
type Booking struct {
	Number string `json:"number"`
	What   string `json:"what"`
	Place  string `json:"place"`
	Day    string `json:"day"`
	Ended  bool   `json:"ended,omitempty"`
}

// System is the berth planner: an HTTP JSON interface like many, for web calls.
// It books once for each key.
type System struct {
	simulate.System
	simulate.Kept[berthFile]
}

type berthFile struct {
	Bookings map[string]Booking `json:"bookings"` // by idempotency key
}

// Open reads what the berth planner did before from a file, or begins.
func Open(path string) (*System, error) {
	b := &System{System: simulate.System{Name: "The berth planner"}}
	return b, b.Open(path, berthFile{map[string]Booking{}})
}

// Bookings gives all bookings by idempotency key.
func (b *System) Bookings() map[string]Booking { return b.Read().Bookings }

// Handler serves the berth planner: POST /bookings books, DELETE
// /bookings/{number} ends a booking.
func (b *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /bookings", func(w http.ResponseWriter, r *http.Request) {
		key := r.Header.Get("Idempotency-Key")
		booking, err := simulate.Decoded[Booking](r)
		if err == nil && (key == "" || booking.What == "") {
			err = simulate.Refusal{Status: http.StatusBadRequest, Detail: "A key and what is booked are needed."}
		}
		if err == nil {
			err = b.Change(func(s *berthFile) error {
				if done, ok := s.Bookings[key]; ok {
					booking = done
					return nil
				}
				booking.Number = "BK-" + strconv.Itoa(501+len(s.Bookings))
				s.Bookings[key] = booking
				return nil
			})
		}
		simulate.Answer(w, http.StatusCreated, map[string]any{"booking": booking}, err)
	})
	mux.HandleFunc("DELETE /bookings/{number}", func(w http.ResponseWriter, r *http.Request) {
		err := b.Change(func(s *berthFile) error {
			for key, one := range s.Bookings {
				if one.Number == r.PathValue("number") {
					one.Ended = true
					s.Bookings[key] = one
					return nil
				}
			}
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such booking."}
		})
		simulate.Answer(w, http.StatusOK, map[string]string{"ended": r.PathValue("number")}, err)
	})
	mux.HandleFunc("GET /bookings", func(w http.ResponseWriter, _ *http.Request) { simulate.Reply(w, http.StatusOK, b.Bookings()) })
	return b.Serve(mux, func() [][]string {
		rows := [][]string{{"Booking", "What", "Place", "Day", "Now"}}
		for _, one := range slices.SortedFunc(maps.Values(b.Bookings()), func(x, y Booking) int { return strings.Compare(y.Number, x.Number) }) {
			now := "booked"
			if one.Ended {
				now = "ended"
			}
			rows = append(rows, []string{one.Number, one.What, one.Place, one.Day, now})
		}
		return rows
	})
}
