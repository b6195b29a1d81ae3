package store

import (
	"context"
	"encoding/json"

	"heptad/internal/core/promise"
)

// Pooled is what people thought of an offering, taken together.
type Pooled struct {
	Offering string
	Count    int
	Mean     float64
}

// Ratings gives the ratings of all requests of some offerings, by offering.
func (r ofOfferings) Ratings(ctx context.Context, offerings []string) (map[string]Pooled, error) {
	var rows []Pooled
	err := r.all(ctx, &rows, "SELECT offering, count, CAST(stars AS REAL) / count AS mean FROM rated WHERE offering IN (SELECT value FROM json_each(?)) AND count > 0", inJSON(offerings))
	pooled := map[string]Pooled{}
	for _, row := range rows {
		pooled[row.Offering] = row
	}
	return pooled, err
}

// Dated is an offering that can be asked for now, whose promises end or are to be looked at.
type Dated struct {
	Offering, Service, Name string
	Promise                 promise.Promise
}

// DatedPromises lists the current offerings with promises that end, or that are to be
// looked at again.
func (r ofOfferings) DatedPromises(ctx context.Context) ([]Dated, error) {
	var rows []struct{ Offering, Service, Name, Promise string }
	err := r.all(ctx, &rows, "SELECT offering, service, name, dated AS promise FROM catalog WHERE dated <> ''")
	if err != nil {
		return nil, err
	}
	all := make([]Dated, len(rows))
	for i, row := range rows {
		all[i] = Dated{Offering: row.Offering, Service: row.Service, Name: row.Name}
		if err := json.Unmarshal([]byte(row.Promise), &all[i].Promise); err != nil {
			return nil, err
		}
	}
	return all, nil
}
