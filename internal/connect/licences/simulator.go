package licences

import (
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"

	"heptad/internal/simulate"
)

// Licence is one licence somebody has, or had.
type Licence struct {
	Licence  string `json:"licence"`
	Product  string `json:"product"`
	Holder   string `json:"holder"`
	Until    string `json:"until,omitempty"`
	Released bool   `json:"released,omitempty"`
}

// System is the licence server. Of each product there are only so many, and
// it assigns one for each key however often it is asked.
type System struct {
	simulate.System
	simulate.Kept[licenceFile]
}

type licenceFile struct {
	Products map[string]int     `json:"products"` // how many there are
	Licences map[string]Licence `json:"licences"` // by idempotency key
	Void     map[string]bool    `json:"void"`     // keys that were released before they were assigned
	Bought   map[string]bool    `json:"bought"`   // keys under which more were added
}

// Open reads what the licence server did before from a file, or begins
// with so many of each product, some of them assigned.
func Open(path string, products map[string]int, assigned map[string]Licence) (*System, error) {
	l := &System{System: simulate.System{Name: "The licence server"}}
	if assigned == nil {
		assigned = map[string]Licence{}
	}
	return l, l.Open(path, licenceFile{products, assigned, map[string]bool{}, map[string]bool{}})
}

// Handler serves the licence server: POST /licences assigns one, PATCH
// /licences/{licence} extends and DELETE releases it, DELETE /licences?key=
// releases the one of a key, GET /products/{product} counts, POST
// /products/{product}/more adds to the pool.
func (l *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /licences", l.assign)
	mux.HandleFunc("PATCH /licences/{licence}", l.extend)
	mux.HandleFunc("DELETE /licences/{licence}", l.release)
	mux.HandleFunc("DELETE /licences", l.release)
	mux.HandleFunc("GET /licences", func(w http.ResponseWriter, _ *http.Request) { simulate.Reply(w, http.StatusOK, l.List()) })
	mux.HandleFunc("GET /products/{product}", func(w http.ResponseWriter, r *http.Request) {
		count, err := l.Read().count(r.PathValue("product"))
		simulate.Answer(w, http.StatusOK, count, err)
	})
	mux.HandleFunc("POST /products/{product}/more", l.more)
	return l.Serve(mux, func() [][]string {
		s := l.Read()
		rows := [][]string{{"Licence", "Product", "Holder", "Until", "Now"}}
		for _, product := range slices.Sorted(maps.Keys(s.Products)) {
			count, _ := s.count(product) // it is there
			rows = append(rows, []string{"", product, "", "", fmt.Sprintf("%d of %d free", count["free"], count["total"])})
		}
		for _, key := range slices.Sorted(maps.Keys(s.Licences)) {
			one, now := s.Licences[key], "in use"
			if one.Released {
				now = "released"
			}
			rows = append(rows, []string{one.Licence, one.Product, one.Holder, one.Until, now})
		}
		return rows
	})
}

// List gives all licences by idempotency key.
func (l *System) List() map[string]Licence { return l.Read().Licences }

func (s licenceFile) count(product string) (map[string]int, error) {
	total, ok := s.Products[product]
	if !ok {
		return nil, simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such product."}
	}
	used := 0
	for _, one := range s.Licences {
		if one.Product == product && !one.Released {
			used++
		}
	}
	return map[string]int{"total": total, "free": total - used}, nil
}

func (l *System) assign(w http.ResponseWriter, r *http.Request) {
	key := r.Header.Get("Idempotency-Key")
	one, err := simulate.Decoded[Licence](r)
	if err == nil && (key == "" || one.Holder == "") {
		err = simulate.Refusal{Status: http.StatusBadRequest, Detail: "A key and a holder are needed."}
	}
	if err == nil {
		err = l.Change(func(s *licenceFile) error {
			if done, ok := s.Licences[key]; ok {
				one = done
				return nil
			}
			count, err := s.count(one.Product)
			switch {
			case err != nil:
				return err
			case s.Void[key]:
				return simulate.Refusal{Status: http.StatusGone, Detail: "This was released before it was assigned."}
			case count["free"] <= 0:
				return simulate.Refusal{Status: http.StatusConflict, Detail: "None is free."}
			}
			one.Licence = "QL-" + strconv.Itoa(7001+len(s.Licences))
			s.Licences[key] = one
			return nil
		})
	}
	simulate.Answer(w, http.StatusCreated, one, err)
}

func (l *System) extend(w http.ResponseWriter, r *http.Request) {
	wanted, err := simulate.Decoded[Licence](r)
	var one Licence
	if err == nil {
		err = l.Change(func(s *licenceFile) error {
			for key, found := range s.Licences {
				if found.Licence == r.PathValue("licence") && !found.Released {
					found.Until = wanted.Until
					s.Licences[key], one = found, found
					return nil
				}
			}
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such licence."}
		})
	}
	simulate.Answer(w, http.StatusOK, one, err)
}

func (l *System) release(w http.ResponseWriter, r *http.Request) {
	key, number := r.URL.Query().Get("key"), r.PathValue("licence")
	err := l.Change(func(s *licenceFile) error {
		for k, one := range s.Licences {
			if k == key || number != "" && one.Licence == number {
				one.Released = true
				s.Licences[k] = one
				return nil
			}
		}
		if key == "" {
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such licence."}
		}
		s.Void[key] = true
		return nil
	})
	simulate.Answer(w, http.StatusNoContent, nil, err)
}

func (l *System) more(w http.ResponseWriter, r *http.Request) {
	key, product := r.Header.Get("Idempotency-Key"), r.PathValue("product")
	in, err := simulate.Decoded[struct{ Count int }](r)
	var count map[string]int
	if err == nil {
		err = l.Change(func(s *licenceFile) error {
			if _, err := s.count(product); err != nil {
				return err
			}
			if !s.Bought[key] {
				s.Products[product] += in.Count
				s.Bought[key] = true
			}
			count, _ = s.count(product) // it is there
			return nil
		})
	}
	simulate.Answer(w, http.StatusOK, count, err)
}
