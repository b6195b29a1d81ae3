package simulate

import (
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"
)

// Licence is one licence somebody has, or had.
type Licence struct {
	Licence  string `json:"licence"`
	Product  string `json:"product"`
	Holder   string `json:"holder"`
	Until    string `json:"until,omitempty"`
	Released bool   `json:"released,omitempty"`
}

// Licences is the licence server. Of each product there are only so many, and
// it assigns one for each key however often it is asked.
type Licences struct {
	System
	kept[licenceFile]
}

type licenceFile struct {
	Products map[string]int     `json:"products"` // how many there are
	Licences map[string]Licence `json:"licences"` // by idempotency key
	Void     map[string]bool    `json:"void"`     // keys that were released before they were assigned
	Bought   map[string]bool    `json:"bought"`   // keys under which more were added
}

// OpenLicences reads what the licence server did before from a file, or begins
// with so many of each product, some of them assigned.
func OpenLicences(path string, products map[string]int, assigned map[string]Licence) (*Licences, error) {
	l := &Licences{System: System{name: "The licence server"}}
	if assigned == nil {
		assigned = map[string]Licence{}
	}
	return l, l.open(path, licenceFile{products, assigned, map[string]bool{}, map[string]bool{}})
}

// Handler serves the licence server: POST /licences assigns one, PATCH
// /licences/{licence} extends and DELETE releases it, DELETE /licences?key=
// releases the one of a key, GET /products/{product} counts, POST
// /products/{product}/more adds to the pool.
func (l *Licences) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /licences", l.assign)
	mux.HandleFunc("PATCH /licences/{licence}", l.extend)
	mux.HandleFunc("DELETE /licences/{licence}", l.release)
	mux.HandleFunc("DELETE /licences", l.release)
	mux.HandleFunc("GET /licences", func(w http.ResponseWriter, _ *http.Request) { reply(w, http.StatusOK, l.List()) })
	mux.HandleFunc("GET /products/{product}", func(w http.ResponseWriter, r *http.Request) {
		count, err := l.read().count(r.PathValue("product"))
		answer(w, http.StatusOK, count, err)
	})
	mux.HandleFunc("POST /products/{product}/more", l.more)
	return l.handler(mux, func() [][]string {
		s := l.read()
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
func (l *Licences) List() map[string]Licence { return l.read().Licences }

func (s licenceFile) count(product string) (map[string]int, error) {
	total, ok := s.Products[product]
	if !ok {
		return nil, refusal{http.StatusNotFound, "There is no such product."}
	}
	used := 0
	for _, one := range s.Licences {
		if one.Product == product && !one.Released {
			used++
		}
	}
	return map[string]int{"total": total, "free": total - used}, nil
}

func (l *Licences) assign(w http.ResponseWriter, r *http.Request) {
	key := r.Header.Get("Idempotency-Key")
	one, err := decoded[Licence](r)
	if err == nil && (key == "" || one.Holder == "") {
		err = refusal{http.StatusBadRequest, "A key and a holder are needed."}
	}
	if err == nil {
		err = l.change(func(s *licenceFile) error {
			if done, ok := s.Licences[key]; ok {
				one = done
				return nil
			}
			count, err := s.count(one.Product)
			switch {
			case err != nil:
				return err
			case s.Void[key]:
				return refusal{http.StatusGone, "This was released before it was assigned."}
			case count["free"] <= 0:
				return refusal{http.StatusConflict, "None is free."}
			}
			one.Licence = "QL-" + strconv.Itoa(7001+len(s.Licences))
			s.Licences[key] = one
			return nil
		})
	}
	answer(w, http.StatusCreated, one, err)
}

func (l *Licences) extend(w http.ResponseWriter, r *http.Request) {
	wanted, err := decoded[Licence](r)
	var one Licence
	if err == nil {
		err = l.change(func(s *licenceFile) error {
			for key, found := range s.Licences {
				if found.Licence == r.PathValue("licence") && !found.Released {
					found.Until = wanted.Until
					s.Licences[key], one = found, found
					return nil
				}
			}
			return refusal{http.StatusNotFound, "There is no such licence."}
		})
	}
	answer(w, http.StatusOK, one, err)
}

func (l *Licences) release(w http.ResponseWriter, r *http.Request) {
	key, number := r.URL.Query().Get("key"), r.PathValue("licence")
	err := l.change(func(s *licenceFile) error {
		for k, one := range s.Licences {
			if k == key || number != "" && one.Licence == number {
				one.Released = true
				s.Licences[k] = one
				return nil
			}
		}
		if key == "" {
			return refusal{http.StatusNotFound, "There is no such licence."}
		}
		s.Void[key] = true
		return nil
	})
	answer(w, http.StatusNoContent, nil, err)
}

func (l *Licences) more(w http.ResponseWriter, r *http.Request) {
	key, product := r.Header.Get("Idempotency-Key"), r.PathValue("product")
	in, err := decoded[struct{ Count int }](r)
	var count map[string]int
	if err == nil {
		err = l.change(func(s *licenceFile) error {
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
	answer(w, http.StatusOK, count, err)
}
