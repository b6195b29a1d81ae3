package people

import (
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
)

// columns of a people file.
var columns = []string{"login", "name", "email", "title", "department", "cost_centre", "location", "employment", "grade", "manager", "teams", "language"}

// ParseCSV reads a people file: CSV with a header, teams separated by
// semicolons, managers by login. The login is the ID.
func ParseCSV(r *csv.Reader) ([]Person, error) {
	var persons []Person
	err := eachRow(r, "login", columns, func(field func(string) string) {
		login := field("login")
		persons = append(persons, Person{
			ID: login, Login: login, Name: field("name"), Email: field("email"), Title: field("title"), Department: field("department"),
			CostCentre: field("cost_centre"), Location: field("location"), Employment: field("employment"), Grade: field("grade"),
			Manager: field("manager"), Teams: split(field("teams")), Language: field("language"),
		})
	})
	return persons, err
}

// ParseBundles reads a file of bundles: CSV with a header of key, name, text and rule.
func ParseBundles(r *csv.Reader) ([]Bundle, error) {
	var bundles []Bundle
	err := eachRow(r, "key", []string{"key", "name", "text", "rule"}, func(field func(string) string) {
		bundles = append(bundles, Bundle{Key: field("key"), Name: field("name"), Text: field("text"), Rule: field("rule")})
	})
	return bundles, err
}

// eachRow goes through the rows of a file with a header; the column key tells them apart.
func eachRow(r *csv.Reader, key string, columns []string, take func(field func(string) string)) error {
	r.TrimLeadingSpace = true
	rows, err := r.ReadAll()
	if err != nil {
		return err
	}
	if len(rows) == 0 {
		return fmt.Errorf("the file is empty: a header with %s is needed", strings.Join(columns, ","))
	}
	at := map[string]int{}
	for i, name := range rows[0] {
		at[strings.TrimPrefix(name, "\uFEFF")] = i
	}
	if _, ok := at[key]; !ok {
		return fmt.Errorf("the column %s is missing", key)
	}
	seen := map[string]bool{}
	for n, row := range rows[1:] {
		field := func(name string) string {
			if i, ok := at[name]; ok && i < len(row) {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		if id := field(key); id == "" || seen[id] {
			return fmt.Errorf("line %d: the %s %q is empty or stands twice", n+2, key, id)
		}
		seen[field(key)] = true
		take(field)
	}
	return nil
}

func split(teams string) []string {
	return slices.DeleteFunc(strings.Split(teams, ";"), func(t string) bool { return t == "" })
}

// DirectoryOf builds a directory of people alone: the teams they name are
// there, led by the first member whose manager is none, and each cost centre
// belongs to the first person of it whose manager is not.
func DirectoryOf(persons []Person) *Directory {
	var teams []Team
	seen := map[string]bool{}
	for _, p := range persons {
		for _, key := range p.Teams {
			if !seen[key] {
				seen[key] = true
				teams = append(teams, Team{Key: key, Name: key, Lead: leadOf(persons, key)})
			}
		}
	}
	return NewDirectory(Records{Persons: persons, Teams: teams, CostCentres: ownersOf(persons), Partial: true})
}

func leadOf(persons []Person, team string) string {
	member := map[string]bool{}
	for _, p := range persons {
		member[p.ID] = slices.Contains(p.Teams, team)
	}
	for _, p := range persons {
		if member[p.ID] && !member[p.Manager] {
			return p.ID
		}
	}
	return ""
}

func ownersOf(persons []Person) []CostCentre {
	of := map[string]string{}
	for _, p := range persons {
		of[p.ID] = p.CostCentre
	}
	var centres []CostCentre
	seen := map[string]bool{"": true}
	for _, p := range persons {
		if !seen[p.CostCentre] && of[p.Manager] != p.CostCentre {
			seen[p.CostCentre] = true
			centres = append(centres, CostCentre{Key: p.CostCentre, Name: p.CostCentre, Owner: p.ID})
		}
	}
	return centres
}

// Partial reports whether only people are known, not the services.
func (d *Directory) Partial() bool { return d.partial }
