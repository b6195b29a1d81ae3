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
	r.TrimLeadingSpace = true
	rows, err := r.ReadAll()
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 {
		return nil, fmt.Errorf("the file is empty: a header with %s is needed", strings.Join(columns, ","))
	}
	at := map[string]int{}
	for i, name := range rows[0] {
		at[strings.TrimPrefix(name, "\uFEFF")] = i
	}
	if _, ok := at["login"]; !ok {
		return nil, fmt.Errorf("the column login is missing")
	}
	var persons []Person
	seen := map[string]bool{}
	for n, row := range rows[1:] {
		field := func(name string) string {
			if i, ok := at[name]; ok && i < len(row) {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		login := field("login")
		if login == "" || seen[login] {
			return nil, fmt.Errorf("line %d: the login %q is empty or stands twice", n+2, login)
		}
		seen[login] = true
		persons = append(persons, Person{
			ID: login, Login: login, Name: field("name"), Email: field("email"), Title: field("title"), Department: field("department"),
			CostCentre: field("cost_centre"), Location: field("location"), Employment: field("employment"), Grade: field("grade"),
			Manager: field("manager"), Teams: split(field("teams")), Language: field("language"),
		})
	}
	return persons, nil
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
	d := NewDirectory(Records{Persons: persons, Teams: teams, CostCentres: ownersOf(persons)})
	d.partial = true
	return d
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
