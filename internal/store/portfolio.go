package store

import (
	"context"
	"slices"
	"strings"

	"heptad/internal/core/search"
)

// Listed is an offering in the portfolio.
type Listed struct {
	Key       string
	Name      string // of the draft, if there is one
	Service   string // key; of the draft, if there is one
	Draft     int    // number of the draft, or 0
	Current   int    // number of the current version, or 0
	Ended     bool   // nobody can ask for it any more
	Due       *int64 `db:"due"` // when the draft publishes itself
	ChangedAt int64  `db:"changed_at"`
	Next      string `db:"-"` // cursor of the entry
}

// Shelf says which offerings are listed.
type Shelf struct {
	Page
	Services []string // keys, in the order in which they are listed; others are not there
	Words    string   // parts of the name or the key; each must be there
	Asked    bool     // only what can be asked for
	Keys     []string // only these; nil for all
}

// cursor names the entry.
func (o Listed) cursor() string { return o.Service + "/" + o.Key + "/" + o.Name }

// last is the entry behind which a page begins, as far as its cursor says it.
func (q Shelf) last() Listed {
	service, rest, _ := strings.Cut(q.Cursor, "/")
	key, name, _ := strings.Cut(rest, "/")
	return Listed{Service: service, Key: key, Name: name}
}

// servicesAtOnce is how many services are read at once; twice as many with each time that
// they did not fill the page.
const servicesAtOnce = 8

// Portfolio lists offerings by service, then by name, without reading more services than a
// page has.
func (r ofOfferings) Portfolio(ctx context.Context, q Shelf) ([]Listed, error) {
	list, wanted, last, service := []Listed{}, search.Parts(q.Words), q.last(), 0
	if q.Cursor != "" {
		if service = slices.Index(q.Services, last.Service); service < 0 {
			return list, nil // it is theirs no more
		}
	}
	for n := servicesAtOnce; service < len(q.Services) && len(list) < q.Limit; n *= 2 {
		some := q.Services[service:min(service+n, len(q.Services))]
		var rows []Listed
		if err := r.all(ctx, &rows, `
			SELECT v.offering AS key, v.name, v.service, iif(v.state = 'draft', v.number, 0) AS draft, v.publish_at AS due, v.changed_at,
			       coalesce((SELECT number FROM offering_versions c WHERE c.offering = v.offering AND c.state = 'current'), 0) AS current,
			       EXISTS (SELECT 1 FROM ended_offerings e WHERE e.offering = v.offering) AS ended
			FROM json_each(?1) x CROSS JOIN offering_versions v ON v.service = x.value
			WHERE v.state IN ('draft', 'current') AND v.number = (SELECT max(number) FROM offering_versions m
				WHERE m.offering = v.offering AND m.state IN ('draft', 'current') AND m.service IN (SELECT value FROM json_each(?2)))
			ORDER BY x.key, v.name, v.offering`, inJSON(some), inJSON(q.Services)); err != nil {
			return nil, err
		}
		for _, o := range rows {
			before := o.Service == last.Service && (o.Name < last.Name || o.Name == last.Name && o.Key <= last.Key)
			if before || !wanted(o.Name+" "+o.Key) || q.Keys != nil && !slices.Contains(q.Keys, o.Key) || q.Asked && (o.Current == 0 || o.Ended) || len(list) == q.Limit {
				continue
			}
			o.Next = o.cursor()
			list = append(list, o)
		}
		service += n
	}
	return list, nil
}
