package store

import (
	"context"
	"encoding/json"

	"heptad/internal/core/offering"
)

// Supplied is an offering that began as one of the starter set.
type Supplied struct {
	Offering string
	Starter  string            // key
	Document offering.Document // as it was taken
	Newest   offering.Document // as the program had it when it last looked
}

type suppliedRow struct{ Offering, Starter, Document, Newest string }

func (r suppliedRow) supplied() (Supplied, error) {
	s := Supplied{Offering: r.Offering, Starter: r.Starter}
	var err error
	if s.Document, err = offering.Parse([]byte(r.Document)); err != nil {
		return s, err
	}
	s.Newest, err = offering.Parse([]byte(r.Newest))
	return s, err
}

// AllSupplied lists what began as one of the starter set, by key.
func (r ofOfferings) AllSupplied(ctx context.Context) ([]Supplied, error) {
	var rows []suppliedRow
	if err := r.all(ctx, &rows, "SELECT offering, starter, document, newest FROM supplied ORDER BY offering"); err != nil {
		return nil, err
	}
	all := make([]Supplied, len(rows))
	for i, row := range rows {
		var err error
		if all[i], err = row.supplied(); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// Supplied gives what an offering began as; ErrNotFound when it is one's own.
func (r ofOfferings) Supplied(ctx context.Context, key string) (Supplied, error) {
	var row suppliedRow
	if err := r.get(ctx, &row, "SELECT offering, starter, document, newest FROM supplied WHERE offering = ?", key); err != nil {
		return Supplied{}, err
	}
	return row.supplied()
}

// Origin says how what is written of an offering compares with what came with the program.
type Origin struct {
	Offering string
	Same     bool // as it was taken
	Newer    bool // the program has another since
}

// Origins lists how the newest versions of those of some offerings that came with the program
// compare with it.
func (r ofOfferings) Origins(ctx context.Context, offerings []string) ([]Origin, error) {
	all := []Origin{}
	err := r.all(ctx, &all, `SELECT u.offering, v.document = u.document AS same, u.newest <> u.document AS newer
		FROM json_each(?) x CROSS JOIN supplied u ON u.offering = x.value JOIN offering_versions v ON v.offering = u.offering AND v.number = (SELECT max(number) FROM offering_versions m WHERE m.offering = u.offering)`, inJSON(offerings))
	return all, err
}

// Supply notes that an offering began as one of the starter set, or has caught up with it.
func (t *Tx) Supply(s Supplied) error {
	document, err := json.Marshal(s.Document)
	if err != nil {
		return err
	}
	newest, err := json.Marshal(s.Newest)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO supplied (offering, starter, document, newest) VALUES (?,?,?,?) ON CONFLICT (offering) DO UPDATE SET document = excluded.document, newest = excluded.newest", s.Offering, s.Starter, string(document), string(newest))
}
