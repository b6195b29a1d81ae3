package store

import "context"

// Pooled is what people thought of an offering, taken together.
type Pooled struct {
	Offering string
	Count    int
	Mean     float64
}

// Ratings pools the ratings of all requests by offering.
func (r ofOfferings) Ratings(ctx context.Context) (map[string]Pooled, error) {
	var rows []Pooled
	err := r.all(ctx, &rows, "SELECT offering, count(*) AS count, avg(stars) AS mean FROM ratings GROUP BY offering")
	pooled := map[string]Pooled{}
	for _, row := range rows {
		pooled[row.Offering] = row
	}
	return pooled, err
}
