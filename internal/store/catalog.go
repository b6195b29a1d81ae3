package store

import (
	"context"
	"encoding/json"
	"errors"
	"strings"

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
}

type catalogRow struct {
	CatalogEntry
	Articles string
	Audience string
}

// Catalog lists what is published, by area, service and name. Whether its service is
// offered now is for the company to say.
func (r ofOfferings) Catalog(ctx context.Context) ([]CatalogEntry, error) {
	var rows []catalogRow
	if err := r.all(ctx, &rows, `SELECT c.offering, c.number, c.service, c.name, c.text, c.door, c.pick, c.catch_all AS catchall, c.picture, c.keywords, c.details, c.articles, c.audience
		FROM catalog c JOIN services s ON s.key = c.service ORDER BY s.area, s.name, c.name, c.offering`); err != nil {
		return nil, err
	}
	entries := make([]CatalogEntry, len(rows))
	for i, row := range rows {
		entries[i] = row.CatalogEntry
		if err := errors.Join(json.Unmarshal([]byte(row.Audience), &entries[i].Audience), json.Unmarshal([]byte(row.Articles), &entries[i].Articles)); err != nil {
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
	rules, err := json.Marshal(d.Audience)
	if err != nil {
		return err
	}
	p := d.Purpose
	door := p.Door
	if door == "" {
		door = offering.Wanted
	}
	articles, err := json.Marshal(p.Articles)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO catalog (offering, number, service, name, text, door, pick, catch_all, picture, keywords, details, articles, audience) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)",
		d.Key, number, p.Service, p.Name, p.Text, door, p.Pick, p.CatchAll, p.Picture, strings.Join(p.Keywords, Apart), details(d), string(articles), string(rules))
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

// Usage counts how often a person, and those of their department, have asked
// for each offering since an instant.
type Usage struct {
	Offering string
	Own      int
	Team     int
}

// UsageOf counts what a person and their department have sent since an instant,
// the most used first.
func (r ofOfferings) UsageOf(ctx context.Context, person, department string, since int64) ([]Usage, error) {
	list := []Usage{}
	err := r.all(ctx, &list, `SELECT r.offering, sum(r.asker = ?1) AS own, sum(r.asker <> ?1) AS team
		FROM requests r JOIN people p ON p.id = r.asker
		WHERE r.reference IS NOT NULL AND r.changed_at >= ?3 AND (r.asker = ?1 OR (p.department = ?2 AND ?2 <> ''))
		GROUP BY r.offering ORDER BY own DESC, team DESC, r.offering LIMIT 50`, person, department, since)
	return list, err
}
