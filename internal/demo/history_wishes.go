package demo

import (
	"crypto/sha256"
	"fmt"
	"time"

	"heptad/internal/store"
)

// wish is something that people looked for on Ask and nothing was offered for, or a form that
// they begin.
type wish struct {
	Words    string
	Offering string // of a form, or what a search opened
	Found    int    // of a search
	Often    int    // in a year
	Upto     string // key of the question at which it is given up
	GivenUp  int    // of a hundred
}

// wishes keeps what people looked for in the last year, and the forms that they began.
func (h *History) wishes() error {
	var all []wish
	if err := read("company/wishes.json", &all); err != nil {
		return err
	}
	everybody := h.company.Persons()
	return h.office.Store.Write(h.ctx, func(tx *store.Tx) error {
		if n, err := tx.NextNumber("past wishes", 0); err != nil || n > 1 {
			return err // they are there already
		}
		for _, w := range all {
			for i := range w.Often {
				who := everybody[h.random.IntN(len(everybody))]
				at := h.until.Add(-time.Duration(h.random.Float64() * 364 * 24 * float64(time.Hour)))
				var err error
				if w.Words != "" {
					hash := sha256.Sum256([]byte(who.ID + w.Words))
					err = tx.KeepSearch(store.Search{Hash: hash[:], Words: w.Words, Found: w.Found, Opened: w.Offering, Sent: w.Offering != "" && h.chance(0.6), Department: who.Department, At: at})
				} else {
					err = h.form(tx, w, i, who.Department, at)
				}
				if err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// form keeps a form that was begun, and sent or given up.
func (h *History) form(tx *store.Tx, w wish, i int, department string, at time.Time) error {
	draft := fmt.Sprintf("past-%s-%d", w.Offering, i)
	gone := h.random.IntN(100) < w.GivenUp
	touched := store.FormTouched{Draft: draft, Offering: w.Offering, Department: department, At: at}
	if gone && h.random.IntN(100) < 80 {
		touched.Question = w.Upto
	}
	if err := tx.TouchForm(touched); err != nil {
		return err
	}
	return tx.EndForm(draft, at.Add(time.Duration(h.random.IntN(3_000))*time.Second), !gone)
}
