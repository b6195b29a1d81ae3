package store

import (
	"context"
	"database/sql"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/people"
)

type personRow struct {
	ID, Login, Name, Title, Email, Department string
	CostCentre                                string `db:"cost_centre"`
	Location, Employment, Grade, Language     string
	Manager                                   sql.NullString
	Former                                    bool `db:"away"`
	Roles                                     string
	Speaks, Zone                              string
}

// persons reads people by a condition on p.
func (r ofCompany) persons(ctx context.Context, where string, args ...any) ([]people.Person, error) {
	var rows []personRow
	if err := r.all(ctx, &rows, "SELECT id, login, name, title, email, department, cost_centre, location, employment, grade, p.language, manager, away, roles, coalesce(f.language, '') AS speaks, coalesce(f.zone, '') AS zone FROM people p LEFT JOIN profiles f ON f.person = p.id WHERE "+where, args...); err != nil {
		return nil, err
	}
	var members []struct{ Team, Person string }
	if err := r.all(ctx, &members, "SELECT m.team, m.person FROM people p JOIN team_members m ON m.person = p.id WHERE "+where+" ORDER BY m.person, m.team", args...); err != nil {
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
			Location: r.Location, Employment: r.Employment, Grade: r.Grade, Language: r.Language, Manager: r.Manager.String, Teams: teamsOf[r.ID], Former: r.Former, Roles: strings.Fields(r.Roles), Speaks: r.Speaks, Zone: r.Zone,
		}
	}
	return persons, nil
}

// CompanyChanges are what was written of the company after a number.
type CompanyChanges struct {
	Last   int64           // number of the last of them
	People map[string]bool // IDs
	Else   bool            // of teams, services and so on, or more than is remembered
}

// mostChanges is how many changes are told one by one.
const mostChanges = 1000

// CompanyChanges tells what was written of the company after a number; of 0 only the last.
func (r ofCompany) CompanyChanges(ctx context.Context, after int64) (CompanyChanges, error) {
	c := CompanyChanges{Last: after, People: map[string]bool{}}
	if after == 0 {
		c.Else = true
		return c, r.get(ctx, &c.Last, "SELECT coalesce(max(id), 0) FROM company_changes")
	}
	var rows []struct {
		ID     int64
		Person string
	}
	if err := r.all(ctx, &rows, "SELECT id, person FROM company_changes WHERE id > ? ORDER BY id LIMIT ?", after, mostChanges+1); err != nil {
		return c, err
	}
	if len(rows) > 0 && (len(rows) > mostChanges || rows[0].ID != after+1) {
		return r.CompanyChanges(ctx, 0)
	}
	for _, row := range rows {
		c.Last = row.ID
		if row.Person == "" {
			c.Else = true
		} else {
			c.People[row.Person] = true
		}
	}
	return c, nil
}

// Refreshed is a company in which some people are as they are now, by ID.
func (r ofCompany) Refreshed(ctx context.Context, d *people.Directory, ids map[string]bool) (*people.Directory, error) {
	changed, err := r.persons(ctx, "p.id IN (SELECT value FROM json_each(?))", inJSON(slices.Sorted(maps.Keys(ids))))
	if err != nil {
		return nil, err
	}
	gone := maps.Clone(ids)
	for _, p := range changed {
		delete(gone, p.ID)
	}
	return d.WithPersons(changed, slices.Sorted(maps.Keys(gone))), nil
}

// Directory reads everything that is known of the company.
func (r ofCompany) Directory(ctx context.Context) (*people.Directory, error) {
	persons, err := r.persons(ctx, "TRUE")
	if err != nil {
		return nil, err
	}
	var teams []people.Team
	if err := r.all(ctx, &teams, "SELECT key, name, lead, calendar, upward FROM teams ORDER BY name"); err != nil {
		return nil, err
	}
	var kept []serviceRow
	if err := r.all(ctx, &kept, "SELECT key, name, area, text, owner, home, place, editors, second, picture, words, starts, review FROM services ORDER BY area, name"); err != nil {
		return nil, err
	}
	services := make([]people.Service, len(kept))
	for i, row := range kept {
		services[i] = row.service()
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
	if err := r.all(ctx, &records.Bundles, "SELECT key, name, text, rule FROM bundles"); err != nil {
		return nil, err
	}
	if records.Areas, err = r.areas(ctx); err != nil {
		return nil, err
	}
	if records.Calendars, err = r.compiledCalendars(ctx); err != nil {
		return nil, err
	}
	if records.Absences, err = r.Absences(ctx); err != nil {
		return nil, err
	}
	return people.NewDirectory(records), nil
}

// AddCompany keeps persons, teams with their members, areas, services, cost centres, pools,
// locations and bundles, each in place of the one of its ID or key. Calendars and absences are
// kept by themselves.
func (t companyTx) AddCompany(r people.Records) error {
	for _, p := range r.Persons {
		if err := t.savePerson(p); err != nil {
			return err
		}
	}
	for _, team := range r.Teams {
		if err := t.exec(`INSERT INTO teams (key, name, lead, calendar, upward) VALUES (?,?,?,?,?)
			ON CONFLICT (key) DO UPDATE SET name = excluded.name, lead = excluded.lead, calendar = excluded.calendar, upward = excluded.upward`, team.Key, team.Name, team.Lead, team.Calendar, team.Upward); err != nil {
			return err
		}
	}
	for _, p := range r.Persons {
		if err := t.saveTeamsOf(p); err != nil {
			return err
		}
	}
	for _, a := range r.Areas {
		if err := t.saveArea(a); err != nil {
			return err
		}
	}
	for _, s := range r.Services {
		if err := t.saveService(s); err != nil {
			return err
		}
	}
	for _, b := range r.Bundles {
		if err := t.exec("INSERT INTO bundles (key, name, text, rule) VALUES (?,?,?,?) ON CONFLICT (key) DO UPDATE SET name = excluded.name, text = excluded.text, rule = excluded.rule", b.Key, b.Name, b.Text, b.Rule); err != nil {
			return err
		}
	}
	for _, c := range r.CostCentres {
		if err := t.exec("INSERT INTO cost_centres (key, name, owner) VALUES (?,?,?) ON CONFLICT (key) DO UPDATE SET name = excluded.name, owner = excluded.owner", c.Key, c.Name, c.Owner); err != nil {
			return err
		}
	}
	for _, p := range r.Pools {
		if err := t.exec("INSERT INTO pools (key, name, size) VALUES (?,?,?) ON CONFLICT (key) DO UPDATE SET name = excluded.name, size = excluded.size", p.Key, p.Name, p.Size); err != nil {
			return err
		}
	}
	for _, l := range r.Locations {
		if err := t.exec("INSERT INTO locations (name, calendar) VALUES (?,?) ON CONFLICT (name) DO UPDATE SET calendar = excluded.calendar", l.Name, l.Calendar); err != nil {
			return err
		}
	}
	return nil
}

// savePerson keeps somebody; of somebody new it finds what already belongs to them.
func (t companyTx) savePerson(p people.Person) error {
	var found []string // by the name of before
	if err := t.all(t.ctx, &found, `SELECT id FROM requests WHERE EXISTS (SELECT 1 FROM people WHERE id = ?1 AND name <> ?2) AND asker = ?1 AND `+isOpen+`
		UNION SELECT id FROM requests WHERE EXISTS (SELECT 1 FROM people WHERE id = ?1 AND name <> ?2) AND whom = ?1 AND `+isOpen, p.ID, p.Name); err != nil {
		return err
	}
	for _, request := range found {
		t.wrote[request] = true
	}
	manager := sql.NullString{String: p.Manager, Valid: p.Manager != ""}
	if err := t.exec(`INSERT INTO people (id, login, name, title, email, department, cost_centre, location, employment, grade, language, manager, away, roles) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)
		ON CONFLICT (id) DO UPDATE SET login = excluded.login, name = excluded.name, title = excluded.title, email = excluded.email, department = excluded.department, cost_centre = excluded.cost_centre,
		location = excluded.location, employment = excluded.employment, grade = excluded.grade, language = excluded.language, manager = excluded.manager, away = excluded.away, roles = excluded.roles`,
		p.ID, p.Login, p.Name, p.Title, p.Email, p.Department, p.CostCentre, p.Location, p.Employment, p.Grade, p.Language, manager, p.Former, strings.Join(p.Roles, " ")); err != nil {
		return err
	}
	return t.claim(p)
}

// saveTeamsOf keeps which teams somebody is in.
func (t companyTx) saveTeamsOf(p people.Person) error {
	if err := t.exec("DELETE FROM team_members WHERE person = ?", p.ID); err != nil {
		return err
	}
	for _, team := range p.Teams {
		if err := t.exec("INSERT INTO team_members (team, person) VALUES (?,?)", team, p.ID); err != nil {
			return err
		}
	}
	return nil
}

// SetMembers keeps who is in a team.
func (t companyTx) SetMembers(team string, persons []string) error {
	if err := t.exec("DELETE FROM team_members WHERE team = ?", team); err != nil {
		return err
	}
	for _, person := range persons {
		if err := t.exec("INSERT INTO team_members (team, person) VALUES (?,?)", team, person); err != nil {
			return err
		}
	}
	return nil
}

// SetLeft notes when somebody has left; zero for who is there again.
func (t companyTx) SetLeft(person string, at time.Time) error {
	ms := int64(0)
	if !at.IsZero() {
		ms = millis(at)
	}
	return t.exec("UPDATE people SET left_at = ? WHERE id = ?", ms, person)
}

// LeftAt is when somebody has left; zero when nobody knows.
func (r ofCompany) LeftAt(ctx context.Context, person string) (time.Time, error) {
	var ms int64
	if err := r.get(ctx, &ms, "SELECT left_at FROM people WHERE id = ?", person); err != nil || ms == 0 {
		return time.Time{}, err
	}
	return instant(ms), nil
}

// LeftSince counts who has left since an instant.
func (r ofCompany) LeftSince(ctx context.Context, at time.Time) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM people WHERE left_at > ? AND away = 1", millis(at))
	return n, err
}

// Leaving is somebody who is to become inactive, and waits for a yes.
type Leaving struct {
	Person  string
	AskedBy string `db:"asked_by"`
	AskedAt int64  `db:"asked_at"`
}

// Since is when they were to become inactive.
func (l Leaving) Since() time.Time { return instant(l.AskedAt) }

// Leaving lists who waits to become inactive.
func (r ofCompany) Leaving(ctx context.Context) ([]Leaving, error) {
	var all []Leaving
	err := r.all(ctx, &all, "SELECT person, asked_by, asked_at FROM leaving ORDER BY asked_at, person")
	return all, err
}

// AddLeaving has somebody wait to become inactive; who waits already goes on waiting.
func (t companyTx) AddLeaving(person, by string, at time.Time) error {
	return t.exec("INSERT INTO leaving (person, asked_by, asked_at) VALUES (?,?,?) ON CONFLICT DO NOTHING", person, by, millis(at))
}

// DropLeaving has nobody wait any more.
func (t companyTx) DropLeaving() error { return t.exec("DELETE FROM leaving") }
