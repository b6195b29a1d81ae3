package intake

import (
	"iter"
	"strings"

	"heptad/internal/core/people"
)

// Record is one person, team, place or service as a sheet has it.
type Record struct {
	ID    string            // of a person; key or name of anything else
	Name  string            // as it is shown
	Cells map[string]string // by field
}

// Records goes through all that is kept of a kind, by name.
func Records(kind Kind, company *people.Directory) iter.Seq[Record] {
	login := func(id string) string { p, _ := company.Person(id); return p.Login }
	logins := func(ids []string) string {
		all := make([]string, len(ids))
		for i, id := range ids {
			all[i] = login(id)
		}
		return strings.Join(all, "; ")
	}
	return func(yield func(Record) bool) {
		switch kind {
		case People:
			for _, p := range company.Persons() {
				if !yield(Record{p.ID, p.Name, map[string]string{
					"login": p.Login, "name": p.Name, "email": p.Email, "title": p.Title, "department": p.Department, "cost_centre": p.CostCentre, "location": p.Location,
					"employment": p.Employment, "grade": p.Grade, "manager": login(p.Manager), "teams": strings.Join(p.Teams, "; "), "language": p.Language, "active": said(!p.Former),
				}}) {
					return
				}
			}
		case Locations:
			for _, name := range company.LocationNames() {
				l, _ := company.Location(name)
				if !yield(Record{name, name, map[string]string{"name": name, "calendar": l.Calendar}}) {
					return
				}
			}
		case CostCentres:
			for _, c := range company.CostCentres() {
				if !yield(Record{c.Key, strings.TrimSpace(c.Key + " " + c.Name), map[string]string{"key": c.Key, "name": c.Name, "owner": login(c.Owner)}}) {
					return
				}
			}
		case Teams:
			for _, t := range company.Teams() {
				if !yield(Record{t.Key, t.Name, map[string]string{"key": t.Key, "name": t.Name, "lead": login(t.Lead), "members": logins(company.Members(t.Key)), "calendar": t.Calendar, "upward": t.Upward}}) {
					return
				}
			}
		case Areas:
			for _, a := range company.Areas() {
				if !yield(Record{a.Name, a.Name, map[string]string{"name": a.Name, "text": a.Text, "owner": login(a.Owner), "editors": logins(a.Editors), "home": a.Home, "place": string(a.Place), "second": said(a.Second), "words": a.Words, "starts": a.Starts, "review": a.Review, "picture": a.Picture}}) {
					return
				}
			}
		case Services:
			for _, s := range company.Services() {
				if !yield(Record{s.Key, s.Name, map[string]string{"key": s.Key, "name": s.Name, "area": s.Area, "text": s.Text, "owner": login(s.Owner), "home": s.Home, "place": string(s.Place), "editors": logins(s.Editors), "second": said(s.Second), "words": s.Words, "starts": s.Starts, "review": s.Review, "picture": s.Picture}}) {
					return
				}
			}
		}
	}
}

// Has reports whether any cell of a record has all of some words in it, small.
func (r Record) Has(words []string) bool {
	for _, word := range words {
		found := false
		for field, cell := range r.Cells {
			if found = field != "picture" && strings.Contains(strings.ToLower(cell), word); found {
				break
			}
		}
		if !found {
			return false
		}
	}
	return true
}
