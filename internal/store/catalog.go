package store

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/offering"
)

// CatalogEntry is an offering that can be asked for, as the catalog shows it.
type CatalogEntry struct {
	Offering string
	Number   int
	Service  string
	Name     string
	Text     string
	Door     offering.Door
	Pick     bool
	Picture  string
	CatchAll bool // it takes what nothing else is for
	Keywords string
	Details  string // what can be picked and is asked
	Articles []offering.Article
	Audience audience.Audience
	Teams    []string       // keys of those that its plan gives tasks to
	Fits     []offering.Fit // what people have that it changes, extends or takes back
}

type catalogRow struct {
	CatalogEntry
	Articles, Audience, Teams, Fits string
}

// Catalog lists what is published, by area, service and name. Whether its service is
// offered now is for the company to say.
func (r ofOfferings) Catalog(ctx context.Context) ([]CatalogEntry, error) {
	var rows []catalogRow
	if err := r.all(ctx, &rows, `SELECT c.offering, c.number, c.service, c.name, c.text, c.door, c.pick, c.catch_all AS catchall, c.picture, c.keywords, c.details, c.articles, c.audience, c.teams, c.fits
		FROM catalog c JOIN services s ON s.key = c.service ORDER BY s.area, s.name, c.name, c.offering`); err != nil {
		return nil, err
	}
	entries := make([]CatalogEntry, len(rows))
	for i, row := range rows {
		entries[i] = row.CatalogEntry
		e := &entries[i]
		if err := errors.Join(json.Unmarshal([]byte(row.Audience), &e.Audience), json.Unmarshal([]byte(row.Articles), &e.Articles), json.Unmarshal([]byte(row.Teams), &e.Teams), json.Unmarshal([]byte(row.Fits), &e.Fits)); err != nil {
			return nil, err
		}
	}
	return entries, nil
}

// list puts a version into the catalog.
func (t *Tx) list(d offering.Document, number int) error {
	if err := t.unlist(d.Key); err != nil {
		return err
	}
	p := d.Purpose
	var texts [4]string
	for i, part := range []any{p.Articles, d.Audience, d.Teams(), slices.Concat([]offering.Fit{}, p.Fits)} {
		data, err := json.Marshal(part)
		if err != nil {
			return err
		}
		texts[i] = string(data)
	}
	dated := ""
	if d.Promise.Dated() {
		data, err := json.Marshal(d.Promise)
		if err != nil {
			return err
		}
		dated = string(data)
	}
	door := p.Door
	if door == "" {
		door = offering.Wanted
	}
	return t.exec("INSERT INTO catalog (offering, number, service, name, text, door, pick, catch_all, picture, keywords, details, articles, audience, teams, fits, dated) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		d.Key, number, p.Service, p.Name, p.Text, door, p.Pick, p.CatchAll, p.Picture, strings.Join(p.Keywords, Apart), details(d), texts[0], texts[1], texts[2], texts[3], dated)
}

// Apart stands between the words of a row that belong apart.
const Apart = " · "

// details are the words of a form that a search finds it by: what can be picked,
// what is asked and can be chosen.
func details(d offering.Document) string {
	var all []string
	for _, i := range d.Items.List {
		all = append(all, i.Name)
	}
	for _, q := range d.Questions {
		all = append(all, q.Label)
		for _, c := range q.Choices {
			all = append(all, c.Label)
		}
	}
	return strings.Join(all, Apart)
}

// unlist takes an offering out of the catalog.
func (t *Tx) unlist(key string) error {
	return t.exec("DELETE FROM catalog WHERE offering = ?", key)
}

// Usage counts how often an offering was asked for since an instant.
type Usage struct {
	Offering string
	Count    int
}

// week is as long as usage is counted together.
const week = 7 * 24 * time.Hour

// UsageOf counts what a person has sent since an instant, to the week, the most used first;
// at most 200.
func (r ofOfferings) UsageOf(ctx context.Context, person string, since time.Time) ([]Usage, error) {
	return r.usage(ctx, "p"+person, since)
}

// UsageIn is UsageOf for all of a department.
func (r ofOfferings) UsageIn(ctx context.Context, department string, since time.Time) ([]Usage, error) {
	return r.usage(ctx, "d"+department, since)
}

func (r ofOfferings) usage(ctx context.Context, whose string, since time.Time) ([]Usage, error) {
	list := []Usage{}
	err := r.all(ctx, &list, "SELECT offering, sum(count) AS count FROM asked_weeks WHERE whose = ? AND week >= ? GROUP BY offering ORDER BY count DESC, offering LIMIT 200", whose, since.UnixMilli()/week.Milliseconds())
	return list, err
}
