package store

import (
	"context"
	"database/sql"

	"heptad/internal/core/people"
)

type personRow struct {
	ID, Login, Name, Title, Email, Department string
	CostCentre                                string `db:"cost_centre"`
	Location, Employment, Grade, Language     string
	Manager                                   sql.NullString
	Away                                      bool
}

// Directory reads everybody, all teams and all services.
func (r reads) Directory(ctx context.Context) (*people.Directory, error) {
	var rows []personRow
	if err := r.all(ctx, &rows, "SELECT id, login, name, title, email, department, cost_centre, location, employment, grade, language, manager, away FROM people"); err != nil {
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
			Location: r.Location, Employment: r.Employment, Grade: r.Grade, Language: r.Language, Manager: r.Manager.String, Teams: teamsOf[r.ID], Away: r.Away,
		}
	}
	var teams []people.Team
	if err := r.all(ctx, &teams, "SELECT key, name, lead FROM teams ORDER BY name"); err != nil {
		return nil, err
	}
	var services []people.Service
	if err := r.all(ctx, &services, "SELECT key, name, area, text, owner, home, place FROM services ORDER BY area, name"); err != nil {
		return nil, err
	}
	return people.NewDirectory(persons, teams, services), nil
}

// AddPeople keeps persons, then teams with their members, then services.
func (t *Tx) AddPeople(persons []people.Person, teams []people.Team, services []people.Service) error {
	for _, p := range persons {
		manager := sql.NullString{String: p.Manager, Valid: p.Manager != ""}
		if err := t.exec("INSERT INTO people (id, login, name, title, email, department, cost_centre, location, employment, grade, language, manager, away) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)",
			p.ID, p.Login, p.Name, p.Title, p.Email, p.Department, p.CostCentre, p.Location, p.Employment, p.Grade, p.Language, manager, p.Away); err != nil {
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
		if err := t.AddService(s); err != nil {
			return err
		}
	}
	return nil
}

// SetPlace moves a service in the portfolio.
func (t *Tx) SetPlace(service string, place people.Place) error {
	return t.exec("UPDATE services SET place = ? WHERE key = ?", place, service)
}

// AddService keeps a new service; ErrExists when there is one of its key.
func (t *Tx) AddService(s people.Service) error {
	return t.exec("INSERT INTO services (key, name, area, text, owner, home, place) VALUES (?,?,?,?,?,?,?)", s.Key, s.Name, s.Area, s.Text, s.Owner, s.Home, s.Place)
}

// AddBelonging keeps something that a person has.
func (t *Tx) AddBelonging(person string, b people.Belonging) error {
	return t.exec("INSERT INTO belongings (id, person, kind, name, detail) VALUES (?,?,?,?,?)", b.ID, person, b.Kind, b.Name, b.Detail)
}

// BelongingsOf lists what a person has, by kind and name.
func (r reads) BelongingsOf(ctx context.Context, person string) ([]people.Belonging, error) {
	list := []people.Belonging{}
	err := r.all(ctx, &list, "SELECT id, kind, name, detail FROM belongings WHERE person = ? ORDER BY kind, name, id", person)
	return list, err
}
