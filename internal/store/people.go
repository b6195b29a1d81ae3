package store

import (
	"context"
	"database/sql"

	"heptad/internal/core/people"
)

type personRow struct {
	ID, Login, Name, Title, Email, Department string
	CostCentre                                string `db:"cost_centre"`
	Location, Employment, Grade               string
	Manager                                   sql.NullString
	Away                                      bool
}

// Directory reads everybody, all teams and all services.
func (r reads) Directory(ctx context.Context) (*people.Directory, error) {
	var rows []personRow
	if err := r.all(ctx, &rows, "SELECT id, login, name, title, email, department, cost_centre, location, employment, grade, manager, away FROM people"); err != nil {
		return nil, err
	}
	var members []struct{ Team, Person string }
	if err := r.all(ctx, &members, "SELECT team, person FROM team_members ORDER BY team"); err != nil {
		return nil, err
	}
	teamsOf := map[string][]string{}
	for _, m := range members {
		teamsOf[m.Person] = append(teamsOf[m.Person], m.Team)
	}
	persons := make([]people.Person, len(rows))
	for i, r := range rows {
		persons[i] = people.Person{
			ID: r.ID, Login: r.Login, Name: r.Name, Title: r.Title, Email: r.Email, Department: r.Department, CostCentre: r.CostCentre,
			Location: r.Location, Employment: r.Employment, Grade: r.Grade, Manager: r.Manager.String, Teams: teamsOf[r.ID], Away: r.Away,
		}
	}
	var teams []people.Team
	if err := r.all(ctx, &teams, "SELECT key, name, lead FROM teams ORDER BY name"); err != nil {
		return nil, err
	}
	var services []people.Service
	if err := r.all(ctx, &services, "SELECT key, name, area, owner, home FROM services ORDER BY area, name"); err != nil {
		return nil, err
	}
	return people.NewDirectory(persons, teams, services), nil
}

// AddPeople keeps persons, then teams with their members, then services.
func (t *Tx) AddPeople(persons []people.Person, teams []people.Team, services []people.Service) error {
	for _, p := range persons {
		manager := sql.NullString{String: p.Manager, Valid: p.Manager != ""}
		if err := t.exec("INSERT INTO people (id, login, name, title, email, department, cost_centre, location, employment, grade, manager, away) VALUES (?,?,?,?,?,?,?,?,?,?,?,?)",
			p.ID, p.Login, p.Name, p.Title, p.Email, p.Department, p.CostCentre, p.Location, p.Employment, p.Grade, manager, p.Away); err != nil {
			return err
		}
	}
	for _, team := range teams {
		if err := t.exec("INSERT INTO teams (key, name, lead) VALUES (?,?,?)", team.Key, team.Name, team.Lead); err != nil {
			return err
		}
	}
	for _, p := range persons {
		for _, team := range p.Teams {
			if err := t.exec("INSERT INTO team_members (team, person) VALUES (?,?)", team, p.ID); err != nil {
				return err
			}
		}
	}
	for _, s := range services {
		if err := t.exec("INSERT INTO services (key, name, area, owner, home) VALUES (?,?,?,?,?)", s.Key, s.Name, s.Area, s.Owner, s.Home); err != nil {
			return err
		}
	}
	return nil
}
