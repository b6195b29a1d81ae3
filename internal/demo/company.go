package demo

import (
	"bytes"
	"context"
	"crypto/sha256"
	"embed"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/organisation"
	"heptad/internal/core/people"
	"heptad/internal/core/picture"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/store"
	"heptad/internal/work"
)

//go:embed calendars company offerings past pictures
var files embed.FS

// Organisation is what the program is told of the company.
var Organisation = organisation.Organisation{Name: "Quillon Straits Ferries", Prefix: "QS", Currency: "EUR", Period: price.Once, Calendar: "maravel", SignOff: "sign-off-a-crew-member", LastDay: "last", DecideByMail: true, Zone: "Europe/Lisbon", Tax: price.Tax{Name: "VAT", Percent: "23"}}

// Company reads the people, teams, services, cost centres and places of the
// scenario.
func Company() (people.Records, error) {
	var c people.Records
	err := rows("company/people.csv", func(r map[string]string) {
		p := people.Person{
			ID: ID(r["login"]), Login: r["login"], Name: r["name"], Title: r["title"], Email: r["email"], Department: r["department"],
			CostCentre: r["cost_centre"], Location: r["location"], Employment: r["employment"], Grade: r["grade"], Language: r["language"],
		}
		if r["manager"] != "" {
			p.Manager = ID(r["manager"])
		}
		if r["teams"] != "" {
			p.Teams = strings.Split(r["teams"], ";")
		}
		c.Persons = append(c.Persons, p)
	})
	roles := map[string][]string{}
	err = errors.Join(err, rows("company/roles.csv", func(r map[string]string) { roles[r["login"]] = append(roles[r["login"]], r["role"]) }))
	for i := range c.Persons {
		c.Persons[i].Roles = roles[c.Persons[i].Login]
	}
	return c, errors.Join(err, rows("company/teams.csv", func(r map[string]string) {
		c.Teams = append(c.Teams, people.Team{Key: r["key"], Name: r["name"], Lead: ID(r["lead"]), Calendar: r["calendar"], Upward: r["upward"]})
	}), rows("company/cost_centres.csv", func(r map[string]string) {
		c.CostCentres = append(c.CostCentres, people.CostCentre{Key: r["key"], Name: r["name"], Owner: ID(r["owner"])})
	}), rows("company/pools.csv", func(r map[string]string) {
		size, err := strconv.Atoi(r["size"])
		if err != nil {
			panic(fmt.Sprintf("pools.csv: %v", err)) // it ships with the program
		}
		c.Pools = append(c.Pools, people.Pool{Key: r["key"], Name: r["name"], Size: size})
	}), rows("company/locations.csv", func(r map[string]string) {
		c.Locations = append(c.Locations, people.Location{Name: r["name"], Calendar: r["calendar"]})
	}), rows("company/bundles.csv", func(r map[string]string) {
		c.Bundles = append(c.Bundles, people.Bundle{Key: r["key"], Name: r["name"], Text: r["text"], Rule: r["rule"]})
	}), rows("company/services.csv", func(r map[string]string) {
		c.Services = append(c.Services, people.Service{Key: r["key"], Name: r["name"], Area: r["area"], Text: r["text"], Owner: ID(r["owner"]), Home: r["home"], Place: people.Place(r["place"])})
	}))
}

// Calendars reads the working calendars by key, with the holidays of the
// company in all but the one afloat, where work goes on.
func Calendars() (map[string]calendar.Document, error) {
	entries, err := fs.ReadDir(files, "calendars")
	if err != nil {
		return nil, err
	}
	holidays, err := files.ReadFile("company/holidays.ics")
	if err != nil {
		return nil, err
	}
	all := map[string]calendar.Document{}
	for _, entry := range entries {
		key := strings.TrimSuffix(entry.Name(), ".json")
		data, err := files.ReadFile(path.Join("calendars", entry.Name()))
		if err != nil {
			return nil, err
		}
		d, err := calendar.Parse(data)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", entry.Name(), err)
		}
		zone, err := time.LoadLocation(d.Zone)
		if err != nil {
			return nil, err
		}
		if key != "afloat" {
			if d.Exceptions, err = calendar.ReadICalendar(bytes.NewReader(holidays), zone); err != nil {
				return nil, err
			}
		}
		all[key] = d
	}
	return all, nil
}

// Entry is somebody who can be chosen to sign in as.
type Entry struct{ Person, Why string }

// Door lists the seven people to sign in as, one for each desk.
func Door() ([]Entry, error) {
	var door []Entry
	err := rows("company/door.csv", func(r map[string]string) { door = append(door, Entry{ID(r["login"]), r["why"]}) })
	return door, err
}

// addBelongings keeps what people have had since before Heptad.
func addBelongings(tx *store.Tx) error {
	var first error
	err := rows("company/belongings.csv", func(r map[string]string) {
		if err := tx.AddBelonging(ID(r["login"]), people.Belonging{ID: r["id"], Kind: r["kind"], Name: r["name"], Detail: r["detail"], Until: r["until"]}, r["pool"]); err != nil && first == nil {
			first = err
		}
	})
	return errors.Join(err, first)
}

// addAbsences sets who is absent now, each by themselves. Times count from now.
func addAbsences(ctx context.Context, office *work.Office, clock *Clock, now time.Time) error {
	var all []error
	err := rows("company/absences.csv", func(r map[string]string) {
		from, err := time.ParseDuration(r["from"])
		until, err2 := time.ParseDuration(r["until"])
		clock.at = now.Add(from)
		_, err3 := office.Deciding.SetAbsence(ctx, ID(r["login"]), people.Absence{From: now.Add(from), Until: now.Add(until), StandIn: ID(r["stand_in"])})
		all = append(all, err, err2, err3)
	})
	first := lastOctober(now)
	for login, days := range map[string]int{"inoue": 28, "novacek-n": 28, "ekvall": 17} { // two of Keys & Badges were absent, and who stood in for them came late
		clock.at = first
		_, err := office.Deciding.SetAbsence(ctx, ID(login), people.Absence{From: first, Until: first.AddDate(0, 0, days)})
		all = append(all, err)
	}
	clock.at = now
	return errors.Join(append(all, err)...)
}

// lastOctober is the first day of the last October that has ended.
func lastOctober(now time.Time) time.Time {
	first := time.Date(now.Year(), time.October, 1, 0, 0, 0, 0, time.UTC)
	if now.Before(first.AddDate(0, 1, 0)) {
		first = first.AddDate(-1, 0, 0)
	}
	return first
}

// addGrants lets services use what their offerings do by themselves, as the
// administrator has granted it.
func addGrants(ctx context.Context, office *work.Office, now time.Time) error {
	var grants []struct {
		Service string
		plan.Grant
	}
	if err := read("company/grants.json", &grants); err != nil {
		return err
	}
	err := office.Store.Write(ctx, func(tx *store.Tx) error {
		for _, g := range grants {
			if err := tx.SaveGrant(store.Grant{Service: g.Service, Grant: g.Grant, By: ID("lindskaug"), At: now.AddDate(0, -2, 0)}); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return office.ReadCompany(ctx)
}

// addReplies keeps the prepared texts of teams.
func addReplies(ctx context.Context, office *work.Office) error {
	var all []error
	err := rows("company/replies.csv", func(r map[string]string) {
		_, err := office.Delivering.SaveReply(ctx, store.Reply{Person: ID(r["lead"]), Team: r["team"], Offering: r["offering"], Name: r["name"], Text: r["text"]})
		all = append(all, err)
	})
	return errors.Join(append(all, err)...)
}

// ID is the ID of a person of the demo: the same for the same login.
func ID(login string) string {
	sum := sha256.Sum256([]byte("quillon straits " + login))
	return hex.EncodeToString(sum[:8])
}

// Offerings reads the published offerings of the demo.
func Offerings() ([]offering.Document, error) {
	return documents("offerings")
}

// pastOfferings reads the versions that offerings of the demo had before.
func pastOfferings() ([]offering.Document, error) { return documents("past") }

// documents reads the offerings of a folder.
func documents(folder string) ([]offering.Document, error) {
	entries, err := fs.ReadDir(files, folder)
	if err != nil {
		return nil, err
	}
	var all []offering.Document
	for _, entry := range entries {
		data, err := files.ReadFile(path.Join(folder, entry.Name()))
		if err != nil {
			return nil, err
		}
		d, err := offering.Parse(data)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", entry.Name(), err)
		}
		drawn, err := files.ReadFile(path.Join("pictures", d.Key+".svg"))
		if err != nil {
			return nil, err
		}
		d.Purpose.Picture = picture.URI(drawn)
		all = append(all, d)
	}
	return all, nil
}

// read reads a JSON file.
func read(name string, into any) error {
	data, err := files.ReadFile(name)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(data, into); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	return nil
}

// rows reads a CSV file with a header, a row at a time.
func rows(name string, each func(map[string]string)) error {
	data, err := files.ReadFile(name)
	if err != nil {
		return err
	}
	all, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	if err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	for _, row := range all[1:] {
		record := map[string]string{}
		for i, name := range all[0] {
			record[name] = row[i]
		}
		each(record)
	}
	return nil
}
