package store

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

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
	Keywords string
	Audience audience.Audience
}

type catalogRow struct {
	CatalogEntry
	Audience string
}

// Catalog lists what can be asked for of services that are offered, by area,
// service and name.
func (r reads) Catalog(ctx context.Context) ([]CatalogEntry, error) {
	var rows []catalogRow
	if err := r.all(ctx, &rows, `SELECT c.offering, c.number, c.service, c.name, c.text, c.door, c.pick, c.picture, c.keywords, c.audience
		FROM catalog c JOIN services s ON s.key = c.service WHERE s.place = 'offered' ORDER BY s.area, s.name, c.name, c.offering`); err != nil {
		return nil, err
	}
	entries := make([]CatalogEntry, len(rows))
	for i, row := range rows {
		entries[i] = row.CatalogEntry
		if err := json.Unmarshal([]byte(row.Audience), &entries[i].Audience); err != nil {
			return nil, err
		}
	}
	return entries, nil
}

// list puts a version into the catalog and the search.
func (t *Tx) list(d offering.Document, number int) error {
	if err := t.unlist(d.Key); err != nil {
		return err
	}
	rules, err := json.Marshal(d.Audience)
	if err != nil {
		return err
	}
	p := d.Purpose
	var service string
	if err := t.get(t.ctx, &service, "SELECT name FROM services WHERE key = ?", p.Service); err != nil {
		return err
	}
	text := p.Text + " · " + service
	door := p.Door
	if door == "" {
		door = offering.Wanted
	}
	keywords := strings.Join(p.Keywords, " · ")
	if err := t.exec("INSERT INTO catalog (offering, number, service, name, text, door, pick, picture, keywords, audience) VALUES (?,?,?,?,?,?,?,?,?,?)",
		d.Key, number, p.Service, p.Name, p.Text, door, p.Pick, p.Picture, keywords, string(rules)); err != nil {
		return err
	}
	if d.Audience.Inner {
		return nil
	}
	if err := t.exec("INSERT INTO offering_search (offering, name, keywords, text) VALUES (?,?,?,?)", d.Key, p.Name, keywords, text); err != nil {
		return err
	}
	all := words(p.Name + " " + keywords + " " + text)
	for _, word := range all {
		for _, part := range parts(word) {
			if err := t.exec("INSERT OR IGNORE INTO search_words (part, word) VALUES (?,?)", part, word); err != nil {
				return err
			}
		}
	}
	return nil
}

// unlist takes an offering out of the catalog and the search. Its words stay:
// a search for one of them finds nothing, and goes on.
func (t *Tx) unlist(key string) error {
	if err := t.exec("DELETE FROM catalog WHERE offering = ?", key); err != nil {
		return err
	}
	return t.exec("DELETE FROM offering_search WHERE offering = ?", key)
}

// words takes a text apart as the search does: letters and digits, small, and
// without accents.
func words(text string) []string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), text)
	if err != nil {
		plain = text
	}
	all := strings.FieldsFunc(strings.ToLower(plain), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	slices.Sort(all)
	return slices.Compact(all)
}

// forgivenFrom is the length from which a word is forgiven a typing mistake.
const forgivenFrom = 5

// parts gives a word and the word without each of its letters, when it is long
// enough to be mistyped.
func parts(word string) []string {
	all := []string{word}
	if utf8.RuneCountInString(word) < forgivenFrom-1 || len(word) > 40 {
		return all
	}
	letters := []rune(word)
	for i := range letters {
		all = append(all, string(letters[:i])+string(letters[i+1:]))
	}
	return all
}

// Found is an offering that a search found, and the words it was found by.
type Found struct {
	Offering string
	By       []string // as the offering writes them, small and without accents
}

// most offerings that a search gives.
const mostFound = 100

// FindOfferings searches for words, the best first: every word must be there or
// begin one; if nothing has them all, a word of more than four letters may be
// mistyped; if still nothing has them all, what has some of them counts.
func (r reads) FindOfferings(ctx context.Context, text string) ([]Found, error) {
	typed := words(text)
	if len(typed) == 0 {
		return []Found{}, nil
	}
	exact := make([]string, len(typed))
	for i, word := range typed {
		exact[i] = `"` + word + `"*`
	}
	found, err := r.match(ctx, strings.Join(exact, " AND "))
	if err != nil || len(found) > 0 {
		return named(found, typed), err
	}
	var known []string // what stands for each word that is there, or nearly
	meant := slices.Clone(typed)
	for i, word := range typed {
		there, err := r.begins(ctx, exact[i])
		if err != nil {
			return nil, err
		}
		if there {
			known = append(known, exact[i])
			continue
		}
		near, err := r.near(ctx, word)
		if err != nil {
			return nil, err
		}
		if len(near) > 0 {
			known = append(known, `("`+strings.Join(near, `" OR "`)+`")`)
			meant = append(meant, near...)
		}
	}
	if len(known) == 0 {
		return []Found{}, nil
	}
	if len(known) == len(typed) {
		found, err = r.match(ctx, strings.Join(known, " AND "))
	}
	if err == nil && len(found) == 0 && len(typed) > 1 {
		found, err = r.match(ctx, strings.Join(known, " OR "))
	}
	return named(found, meant), err
}

// begins tells whether any offering has a word, or one that it begins.
func (r reads) begins(ctx context.Context, query string) (bool, error) {
	var there bool
	err := r.get(ctx, &there, "SELECT EXISTS (SELECT 1 FROM offering_search WHERE offering_search MATCH ?)", query)
	return there, err
}

type matchRow struct{ Offering, Name, Keywords, Text string }

func (r reads) match(ctx context.Context, query string) ([]matchRow, error) {
	var rows []matchRow
	err := r.all(ctx, &rows, "SELECT offering, name, keywords, text FROM offering_search WHERE offering_search MATCH ? ORDER BY bm25(offering_search, 0, 10, 6, 1), offering LIMIT ?", query, mostFound)
	return rows, err
}

// named says by which words each was found.
func named(rows []matchRow, meant []string) []Found {
	found := make([]Found, len(rows))
	for i, row := range rows {
		found[i] = Found{Offering: row.Offering, By: []string{}}
		for _, have := range words(row.Name + " " + row.Keywords + " " + row.Text) {
			if slices.ContainsFunc(meant, func(m string) bool { return strings.HasPrefix(have, m) }) {
				found[i].By = append(found[i].By, have)
			}
		}
	}
	return found
}

// near lists the words of the search one typing mistake away: a letter more,
// less or other, or two neighbours the wrong way round.
func (r reads) near(ctx context.Context, word string) ([]string, error) {
	if utf8.RuneCountInString(word) < forgivenFrom {
		return nil, nil
	}
	all := parts(word)
	marks := strings.TrimSuffix(strings.Repeat("?,", len(all)), ",")
	args := make([]any, len(all))
	for i, part := range all {
		args[i] = part
	}
	var candidates []string
	if err := r.all(ctx, &candidates, "SELECT DISTINCT word FROM search_words WHERE part IN ("+marks+") ORDER BY word LIMIT 200", args...); err != nil {
		return nil, err
	}
	near := slices.DeleteFunc(candidates, func(c string) bool { return !mistyped([]rune(word), []rune(c)) })
	return near[:min(len(near), mostNear)], nil
}

// mostNear is how many words are tried in place of a mistyped one.
const mostNear = 12

// mistyped tells whether two words are at most one typing mistake apart.
func mistyped(a, b []rune) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b)-len(a) > 1 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	if len(a) < len(b) {
		return slices.Equal(a[i:], b[i+1:])
	}
	swapped := i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && slices.Equal(a[i+2:], b[i+2:])
	return i == len(a) || swapped || slices.Equal(a[i+1:], b[i+1:])
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
func (r reads) UsageOf(ctx context.Context, person, department string, since int64) ([]Usage, error) {
	list := []Usage{}
	err := r.all(ctx, &list, `SELECT r.offering, sum(r.asker = ?1) AS own, sum(r.asker <> ?1) AS team
		FROM requests r JOIN people p ON p.id = r.asker
		WHERE r.reference IS NOT NULL AND r.changed_at >= ?3 AND (r.asker = ?1 OR (p.department = ?2 AND ?2 <> ''))
		GROUP BY r.offering ORDER BY own DESC, team DESC, r.offering LIMIT 50`, person, department, since)
	return list, err
}
