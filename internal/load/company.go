package load

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"path/filepath"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	_ "modernc.org/sqlite" // the driver "sqlite"

	"heptad/internal/demo"
	"heptad/internal/store"
	"heptad/internal/work"
)

// Size is how large an installation is.
type Size struct {
	Requests  int
	People    int
	Offerings int
	Teams     int
	Open      int // of the requests, how many are under way; 0 for two in a hundred
}

// Whole is the company that the aims are set for, but for its requests.
var Whole = Size{People: 20_000, Offerings: 2_000, Teams: 500}

// begin loads the demo, with a season, into an empty folder.
func begin(ctx context.Context, dir string, now time.Time) error {
	kept, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer kept.Close()
	_, sealed, err := secrets(dir, true)
	if err != nil {
		return err
	}
	systems, err := demo.StartSystems(dir, sealed, func(string, error) {})
	if err != nil {
		return err
	}
	defer systems.Stop()
	clock := &demo.Clock{}
	office, err := work.New(ctx, work.Settings{Store: kept, Clock: clock.Now, Sealed: sealed, Connectors: demo.Connectors(kept, sealed, "http://127.0.0.1", nil), Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		return err
	}
	if err := systems.Wire(ctx, office); err != nil {
		return err
	}
	return demo.Load(ctx, office, clock, now, true)
}

func secrets(dir string, fresh bool) (links, sealed []byte, err error) {
	links, err = store.Secret(dir, "links", fresh)
	if err != nil {
		return nil, nil, err
	}
	sealed, err = store.Secret(dir, "connectors", fresh)
	return links, sealed, err
}

// multiplied is how often each part of the demo's company is there.
type multiplied struct {
	people, teams, offerings int

	keys map[string][]string // of the demo's own
}

// grow multiplies the company of a folder until it is as large as a size says: each part
// has people, teams, services and offerings of its own, as many as there are.
func grow(db *sqlx.DB, size Size) (multiplied, error) {
	var m multiplied
	for _, part := range []struct {
		table string
		of    int
		into  *int
	}{{"people", size.People, &m.people}, {"teams", size.Teams, &m.teams}, {"catalog", size.Offerings, &m.offerings}} {
		var n int
		if err := db.Get(&n, "SELECT count(*) FROM "+part.table); err != nil {
			return m, err
		}
		*part.into = max(1, (part.of+n/2)/n)
	}
	var err error
	if m.keys, err = keysOf(db); err != nil {
		return m, err
	}
	tables := map[string]int{
		"people": m.people, "cost_centres": m.people, "teams": m.teams, "team_members": m.teams, "services": m.teams, "grants": m.teams,
		"offering_versions": m.offerings, "catalog": m.offerings,
	}
	tx, err := db.Beginx()
	if err != nil {
		return m, err
	}
	defer func() { _ = tx.Rollback() }() // once it is kept, this does nothing
	for _, table := range []string{"people", "cost_centres", "teams", "team_members", "services", "grants", "offering_versions", "catalog"} {
		t, err := tableOf(tx, table)
		if err != nil {
			return m, err
		}
		rows, err := t.rows(tx, "")
		if err != nil {
			return m, err
		}
		for part := 1; part < tables[table]; part++ {
			c := copying{names: m.names(part)}
			for _, row := range rows {
				made := c.row(row)
				switch table {
				case "people":
					made[t.at("login")] = fmt.Sprintf("%s.%d", made[t.at("login")], part)
					made[t.at("name")] = another(made[t.at("name")].(string), part)
				case "offering_versions", "catalog", "services":
					made[t.at("name")] = fmt.Sprintf("%s %d", made[t.at("name")], part)
				}
				if err := t.insert(tx, made); err != nil {
					return m, err
				}
			}
		}
	}
	return m, tx.Commit()
}

// another is a name like one, of a part.
func another(name string, part int) string {
	first, last, _ := strings.Cut(name, " ")
	return fmt.Sprintf("%s %s%c%c", first, last, 'a'+part%26, 'a'+part/26%26)
}

// keysOf are the keys of people, teams, services, cost centres and offerings, by what they
// are of.
func keysOf(db *sqlx.DB) (map[string][]string, error) {
	names := map[string][]string{}
	var all []error
	for of, query := range map[string]string{
		"people": "SELECT id FROM people", "cost centres": "SELECT key FROM cost_centres", "teams": "SELECT key FROM teams",
		"services": "SELECT key FROM services", "offerings": "SELECT offering FROM catalog",
	} {
		var keys []string
		all = append(all, db.Select(&keys, query))
		names[of] = keys
	}
	return names, errors.Join(all...)
}

// names gives what each key is called in a part; the first part keeps its own.
func (m multiplied) names(part int) map[string]string {
	names := map[string]string{}
	for of, times := range map[string]int{"people": m.people, "cost centres": m.people, "teams": m.teams, "services": m.teams, "offerings": m.offerings} {
		in := part % times
		if in == 0 {
			continue
		}
		for _, key := range m.keys[of] {
			if of == "people" {
				names[key] = demo.ID(fmt.Sprintf("%s.%d", key, in))
			} else {
				names[key] = fmt.Sprintf("%s-%d", key, in)
			}
		}
	}
	return names
}

// file opens the data file of a folder that nobody uses, to be filled: it is not safe
// against a loss of power.
func file(dir string) (*sqlx.DB, error) {
	db, err := sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?_pragma=journal_mode(MEMORY)&_pragma=synchronous(OFF)&_pragma=cache_size(-1000000)&_pragma=temp_store(MEMORY)")
	if err == nil {
		db.SetMaxOpenConns(1)
	}
	return db, err
}
