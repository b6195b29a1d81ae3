package store

import (
	"context"
	"database/sql"
	"strings"

	"heptad/internal/core/people"
)

type personRow struct {
	ID, Login, Name, Title, Email, Department string
	CostCentre                                string `db:"cost_centre"`
	Location, Employment, Grade, Language     string
	Manager                                   sql.NullString
	Former                                    bool `db:"away"`
	Roles                                     string
}

// Directory reads everything that is known of the company.
func (r ofCompany) Directory(ctx context.Context) (*people.Directory, error) {
	var rows []personRow
	if err := r.all(ctx, &rows, "SELECT id, login, name, title, email, department, cost_centre, location, employment, grade, language, manager, away, roles FROM people"); err != nil {
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
			Location: r.Location, Employment: r.Employment, Grade: r.Grade, Language: r.Language, Manager: r.Manager.String, Teams: teamsOf[r.ID], Former: r.Former, Roles: strings.Fields(r.Roles),
		}
	}
	var teams []people.Team
	if err := r.all(ctx, &teams, "SELECT key, name, lead, calendar, upward FROM teams ORDER BY name"); err != nil {
		return nil, err
	}
	var services []people.Service
	if err := r.all(ctx, &services, "SELECT key, name, area, text, owner, home, place FROM services ORDER BY area, name"); err != nil {
		return nil, err
	}
	records := people.Records{Persons: persons, Teams: teams, Services: services}
	if err := r.all(ctx, &records.CostCentres, "SELECT key, name, owner FROM cost_centres"); err != nil {
		return nil, err
	}
	if err := r.all(ctx, &records.Locations, "SELECT name, calendar FROM locations"); err != nil {
		return nil, err
	}
	if err := r.all(ctx, &records.Pools, "SELECT key, name, size FROM pools"); err != nil {
		return nil, err
	}
	var err error
	if records.Calendars, err = r.compiledCalendars(ctx); err != nil {
		return nil, err
	}
	if records.Absences, err = r.Absences(ctx); err != nil {
		return nil, err
	}
	return people.NewDirectory(records), nil
}

// AddCompany keeps persons, teams with their members, services, cost centres
// and locations. Calendars and absences are kept by themselves.
func (t *Tx) AddCompany(r people.Records) error {
	for _, p := range r.Persons {
		manager := sql.NullString{String: p.Manager, Valid: p.Manager != ""}
		if err := t.exec("INSERT INTO people (id, login, name, title, email, department, cost_centre, location, employment, grade, language, manager, away, roles) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
			p.ID, p.Login, p.Name, p.Title, p.Email, p.Department, p.CostCentre, p.Location, p.Employment, p.Grade, p.Language, manager, p.Former, strings.Join(p.Roles, " ")); err != nil {
			return err
		}
		if err := t.claim(p); err != nil {
			return err
		}
	}
	for _, team := range r.Teams {
		if err := t.exec("INSERT INTO teams (key, name, lead, calendar, upward) VALUES (?,?,?,?,?)", team.Key, team.Name, team.Lead, team.Calendar, team.Upward); err != nil {
			return err
		}
	}
	for _, p := range r.Persons {
		for _, team := range p.Teams {
			if err := t.exec("INSERT INTO team_members (team, person) VALUES (?,?)", team, p.ID); err != nil {
				return err
			}
		}
	}
	for _, s := range r.Services {
		if err := t.AddService(s); err != nil {
			return err
		}
	}
	for _, c := range r.CostCentres {
		if err := t.exec("INSERT INTO cost_centres (key, name, owner) VALUES (?,?,?)", c.Key, c.Name, c.Owner); err != nil {
			return err
		}
	}
	for _, p := range r.Pools {
		if err := t.exec("INSERT INTO pools (key, name, size) VALUES (?,?,?)", p.Key, p.Name, p.Size); err != nil {
			return err
		}
	}
	for _, l := range r.Locations {
		if err := t.exec("INSERT INTO locations (name, calendar) VALUES (?,?)", l.Name, l.Calendar); err != nil {
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
