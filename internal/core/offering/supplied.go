package offering

import (
	"slices"

	"heptad/internal/core/plan"
	"heptad/internal/core/script"
)

// Refit is one of the starter set as it is now, fitted as the one that was taken from it:
// in the same service, under the same key and name, in the same currency and hours, and
// each task with the team that was chosen for it.
func Refit(starter, taken Document, home string) Document {
	d := starter
	d.Key, d.Purpose.Name, d.Purpose.Service = taken.Key, taken.Purpose.Name, taken.Purpose.Service
	d.Items.Currency = taken.Items.Currency
	d.Promise.Zone, d.Promise.Calendar = taken.Promise.Zone, taken.Promise.Calendar
	d.Cases = FitCases(starter.Cases, taken.Purpose.Service, home)
	d.Plan = slices.Clone(starter.Plan)
	for i, t := range d.Plan {
		if at := slices.IndexFunc(taken.Plan, func(was plan.Task) bool { return was.Key == t.Key }); at >= 0 {
			d.Plan[i].Team = taken.Plan[at].Team
		} else if t.Team == "" {
			d.Plan[i].Team = home
		}
	}
	return d
}

// Home is what the home team is called in the cases of the starter set.
const Home = "home"

// FitCases lets the cases of one of the starter set take place in a service with its home
// team: the made-up people in them stay.
func FitCases(cases []script.Case, service, home string) []script.Case {
	fit := func(team string) string {
		if team == Home {
			return home
		}
		return team
	}
	out := make([]script.Case, len(cases))
	for i, c := range cases {
		out[i] = c
		if c.Script.Company == nil {
			continue
		}
		company := *c.Script.Company
		company.Services = slices.Clone(company.Services)
		for j := range company.Services {
			company.Services[j].Key, company.Services[j].Home = service, fit(company.Services[j].Home)
		}
		company.Teams = slices.Clone(company.Teams)
		for j := range company.Teams {
			company.Teams[j].Key = fit(company.Teams[j].Key)
		}
		company.People = slices.Clone(company.People)
		for j, p := range company.People {
			teams := slices.Clone(p.Teams)
			for k := range teams {
				teams[k] = fit(teams[k])
			}
			company.People[j].Teams = teams
		}
		out[i].Script.Company = &company
		out[i].Expect, _ = fitted(map[string]any(c.Expect), fit).(map[string]any)
	}
	return out
}

// fitted is what is expected, with other keys of teams.
func fitted(value any, fit func(string) string) any {
	switch value := value.(type) {
	case map[string]any:
		out := map[string]any{}
		for key, inner := range value {
			if team, is := inner.(string); is && key == "team" {
				inner = fit(team)
			}
			out[key] = fitted(inner, fit)
		}
		return out
	case []any:
		out := make([]any, len(value))
		for i, inner := range value {
			out[i] = fitted(inner, fit)
		}
		return out
	}
	return value
}
