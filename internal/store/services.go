package store

import (
	"context"
	"strings"

	"heptad/internal/core/people"
)

type areaRow struct {
	Name, Text, Owner, Editors, Home string
	Place                            people.Place
	Second                           bool
	Picture, Words, Starts, Review   string
}

func (r ofCompany) areas(ctx context.Context) ([]people.Area, error) {
	var rows []areaRow
	err := r.all(ctx, &rows, "SELECT name, text, owner, editors, home, place, second, picture, words, starts, review FROM areas")
	areas := make([]people.Area, len(rows))
	for i, a := range rows {
		areas[i] = people.Area{Name: a.Name, Text: a.Text, Owner: a.Owner, Editors: strings.Fields(a.Editors), Home: a.Home, Place: a.Place, Second: a.Second, Picture: a.Picture, Words: a.Words, Starts: a.Starts, Review: a.Review}
	}
	return areas, err
}

func (t companyTx) saveArea(a people.Area) error {
	return t.exec(`INSERT INTO areas (name, text, owner, editors, home, place, second, picture, words, starts, review) VALUES (?,?,?,?,?,?,?,?,?,?,?)
		ON CONFLICT (name) DO UPDATE SET text = excluded.text, owner = excluded.owner, editors = excluded.editors, home = excluded.home, place = excluded.place, second = excluded.second,
		picture = excluded.picture, words = excluded.words, starts = excluded.starts, review = excluded.review`,
		a.Name, a.Text, a.Owner, strings.Join(a.Editors, " "), a.Home, a.Place, a.Second, a.Picture, a.Words, a.Starts, a.Review)
}

// RenameArea gives an area another name, with all services in it. Where there is one of
// that name already, the two become one.
func (t companyTx) RenameArea(name, to string) error {
	if err := t.exec("UPDATE OR IGNORE areas SET name = ? WHERE name = ?", to, name); err != nil {
		return err
	}
	if err := t.exec("DELETE FROM areas WHERE name = ?", name); err != nil {
		return err
	}
	return t.exec("UPDATE services SET area = ? WHERE area = ?", to, name)
}

// DropArea takes an area away that has no services.
func (t companyTx) DropArea(name string) error {
	return t.exec("DELETE FROM areas WHERE name = ?1 AND NOT EXISTS (SELECT 1 FROM services WHERE area = ?1)", name)
}

// Hung is an offering that hangs on a service.
type Hung struct {
	Offering, Name string
	Draft, Ended   bool
}

// HangingOn lists the drafts and current versions in a service, by name.
func (r ofOfferings) HangingOn(ctx context.Context, service string) ([]Hung, error) {
	hung := []Hung{}
	err := r.all(ctx, &hung, `SELECT offering, name, state = 'draft' AS draft, EXISTS (SELECT 1 FROM ended_offerings e WHERE e.offering = v.offering) AS ended
		FROM offering_versions v WHERE service = ? AND state IN ('draft', 'current') ORDER BY name, offering, state`, service)
	return hung, err
}

// UnderWayIn counts the requests of a service that are under way.
func (r ofOfferings) UnderWayIn(ctx context.Context, service string) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM requests WHERE "+isOpen+" AND service = ?", service)
	return n, err
}

// DropBundle takes a bundle away.
func (t companyTx) DropBundle(key string) error {
	return t.exec("DELETE FROM bundles WHERE key = ?", key)
}

// Using is an offering whose draft or current version names a bundle.
type Using struct {
	Offering string
	Name     string
	Service  string
	Draft    bool // its draft does, not what can be asked for
}

// BundleUses lists what names a bundle, by name.
func (r ofOfferings) BundleUses(ctx context.Context, key string) ([]Using, error) {
	uses := []Using{}
	err := r.all(ctx, &uses, `SELECT offering, name, service, state = 'draft' AS draft FROM offering_versions v
		WHERE state IN ('draft', 'current') AND EXISTS (SELECT 1 FROM json_each(v.document, '$.audience.bundles') b WHERE b.value ->> 'key' = ?)
		ORDER BY name, offering, state`, key)
	return uses, err
}

// SetPlace moves a service in the portfolio.
func (t companyTx) SetPlace(service string, place people.Place) error {
	return t.exec("UPDATE services SET place = ? WHERE key = ?", place, service)
}

// AddService keeps a new service; ErrExists when there is one of its key.
func (t companyTx) AddService(s people.Service) error {
	if err := t.exec("INSERT INTO areas (name) VALUES (?) ON CONFLICT DO NOTHING", s.Area); err != nil {
		return err
	}
	return t.exec(insertService, serviceValues(s)...)
}

// saveService keeps a service; its area is there, too.
func (t companyTx) saveService(s people.Service) error {
	if err := t.exec("INSERT INTO areas (name) VALUES (?) ON CONFLICT DO NOTHING", s.Area); err != nil {
		return err
	}
	return t.exec(insertService+` ON CONFLICT (key) DO UPDATE SET name = excluded.name, area = excluded.area, text = excluded.text, owner = excluded.owner, home = excluded.home, place = excluded.place,
		editors = excluded.editors, second = excluded.second, picture = excluded.picture, words = excluded.words, starts = excluded.starts, review = excluded.review`, serviceValues(s)...)
}

const insertService = "INSERT INTO services (key, name, area, text, owner, home, place, editors, second, picture, words, starts, review) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)"

func serviceValues(s people.Service) []any {
	return []any{s.Key, s.Name, s.Area, s.Text, s.Owner, s.Home, s.Place, strings.Join(s.Editors, " "), s.Second, s.Picture, s.Words, s.Starts, s.Review}
}

type serviceRow struct {
	Key, Name, Area, Text, Owner, Home string
	Place                              people.Place
	Editors                            string
	Second                             bool
	Picture, Words, Starts, Review     string
}

func (r serviceRow) service() people.Service {
	return people.Service{
		Key: r.Key, Name: r.Name, Area: r.Area, Text: r.Text, Owner: r.Owner, Home: r.Home, Place: r.Place,
		Editors: strings.Fields(r.Editors), Second: r.Second, Picture: r.Picture, Words: r.Words, Starts: r.Starts, Review: r.Review,
	}
}

// ReviewsTold gives, by area and service, the day of review that its owner was told of.
func (r ofCompany) ReviewsTold(ctx context.Context) (map[string]string, error) {
	var rows []struct{ Thing, Day string }
	err := r.all(ctx, &rows, "SELECT thing, day FROM reviews_told")
	told := map[string]string{}
	for _, row := range rows {
		told[row.Thing] = row.Day
	}
	return told, err
}

// ReviewTold notes that the owner of an area or a service was told of its day of review.
func (t companyTx) ReviewTold(thing, day string) error {
	return t.exec("INSERT INTO reviews_told (thing, day) VALUES (?,?) ON CONFLICT (thing) DO UPDATE SET day = excluded.day", thing, day)
}
