package simulate

import (
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
)

// Booking is one booking of the berth planner.
type Booking struct {
	Number string `json:"number"`
	What   string `json:"what"`
	Place  string `json:"place"`
	Day    string `json:"day"`
	Ended  bool   `json:"ended,omitempty"`
}

// Berths is the berth planner: an HTTP JSON interface like many, for web calls.
// It books once for each key.
type Berths struct {
	System
	kept[berthFile]
}

type berthFile struct {
	Bookings map[string]Booking `json:"bookings"` // by idempotency key
}

// OpenBerths reads what the berth planner did before from a file, or begins.
func OpenBerths(path string) (*Berths, error) {
	b := &Berths{System: System{name: "The berth planner"}}
	return b, b.open(path, berthFile{map[string]Booking{}})
}

// Bookings gives all bookings by idempotency key.
func (b *Berths) Bookings() map[string]Booking { return b.read().Bookings }

// Handler serves the berth planner: POST /bookings books, DELETE
// /bookings/{number} ends a booking.
func (b *Berths) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /bookings", func(w http.ResponseWriter, r *http.Request) {
		key := r.Header.Get("Idempotency-Key")
		booking, err := decoded[Booking](r)
		if err == nil && (key == "" || booking.What == "") {
			err = refusal{http.StatusBadRequest, "A key and what is booked are needed."}
		}
		if err == nil {
			err = b.change(func(s *berthFile) error {
				if done, ok := s.Bookings[key]; ok {
					booking = done
					return nil
				}
				booking.Number = "BK-" + strconv.Itoa(501+len(s.Bookings))
				s.Bookings[key] = booking
				return nil
			})
		}
		answer(w, http.StatusCreated, map[string]any{"booking": booking}, err)
	})
	mux.HandleFunc("DELETE /bookings/{number}", func(w http.ResponseWriter, r *http.Request) {
		err := b.change(func(s *berthFile) error {
			for key, one := range s.Bookings {
				if one.Number == r.PathValue("number") {
					one.Ended = true
					s.Bookings[key] = one
					return nil
				}
			}
			return refusal{http.StatusNotFound, "There is no such booking."}
		})
		answer(w, http.StatusOK, map[string]string{"ended": r.PathValue("number")}, err)
	})
	mux.HandleFunc("GET /bookings", func(w http.ResponseWriter, _ *http.Request) { reply(w, http.StatusOK, b.Bookings()) })
	return b.handler(mux, func() [][]string {
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
