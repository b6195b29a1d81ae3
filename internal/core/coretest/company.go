// Package coretest holds the small company and the offering that the tests of
// the core are worked out on. Only tests import it.
package coretest

import (
	"slices"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

// Company is a handful of people: Ilse asks, Tomas is her manager, Noor his;
// Keys and Crew are teams; of seats there is one. Those with the given IDs have
// left.
func Company(left ...string) offering.Company {
	persons := []people.Person{
		{ID: "p-noor", Login: "noor", Name: "Noor Adeyemi"},
		{ID: "p-tomas", Login: "tomas", Name: "Tomas Lindqvist", Manager: "p-noor"},
		{ID: "p-ilse", Login: "ilse", Name: "Ilse Brandvik", Manager: "p-tomas", Department: "Fleet", Location: "MV Grey Heron"},
		{ID: "p-keks", Login: "keks", Name: "Keks Oyelaran", Manager: "p-noor", Teams: []string{"keys"}},
		{ID: "p-kira", Login: "kira", Name: "Kira Matsuda", Manager: "p-keks", Teams: []string{"keys"}},
		{ID: "p-caro", Login: "caro", Name: "Caro Vintila", Manager: "p-noor", Teams: []string{"crew"}},
		{ID: "p-olga", Login: "olga", Name: "Olga Ferreira", Manager: "p-noor"},
		{ID: "p-gone", Login: "gone", Name: "Gone Away", Former: true},
		{ID: "p-last", Login: "last", Name: "Lasse Orphan", Manager: "p-gone"},
	}
	for i := range persons {
		persons[i].Former = persons[i].Former || slices.Contains(left, persons[i].ID)
	}
	teams := []people.Team{{Key: "keys", Name: "Keys & Badges", Lead: "p-keks"}, {Key: "crew", Name: "Crewing", Lead: "p-caro"}}
	services := []people.Service{{Key: "access", Name: "Access to the quays", Area: "Facilities", Owner: "p-olga", Home: "keys"}}
	return offering.Company{
		Directory: people.NewDirectory(people.Records{Persons: persons, Teams: teams, Services: services, Pools: []people.Pool{{Key: "seats", Name: "Seats", Size: 1}}}),
		Connectors: []plan.Connector{{Key: "badges", Name: "Badge system", Actions: []plan.ActionType{{
			Key: "write", Name: "Write a badge",
			Inputs:  []plan.Field{{Key: "holder", Name: "Name on the badge"}, {Key: "zones", Name: "Zones"}},
			Outputs: []plan.Field{{Key: "number", Name: "Badge number"}},
		}}}},
	}
}

// Badge is a quay access badge: five questions, one rung, three tasks of which
// the last is automatic and waits for the two others.
func Badge() offering.Document {
	d := offering.New("quay-access-badge", "Quay access badge", "access", "EUR", "Europe/Lisbon")
	d.Purpose.Text, d.Purpose.Keywords = "A badge that opens the quays.", []string{"door"}
	restricted := `answers.zones.exists(x, x in ["fuel"])`
	d.Items.List = []price.Item{
		{Key: "card", Name: "Card", Price: price.Charge{Amount: "12.50", Per: price.Once}},
		{Key: "fob", Name: "Fob", Price: price.Charge{Amount: "2.00", Per: price.Month}},
	}
	d.Questions = []form.Question{
		{Key: "port", Kind: form.Choice, Label: "Port", Require: "true", Choices: []form.Option{{Key: "maravel", Label: "Maravel"}, {Key: "orm", Label: "Sankt Orm"}}},
		{Key: "zones", Kind: form.Choices, Label: "Zones", Require: "true", Choices: []form.Option{{Key: "office", Label: "Offices"}, {Key: "fuel", Label: "Fuel dock"}}},
		{Key: "reason", Kind: form.LongText, Label: "Reason", Show: restricted, Require: restricted},
		{Key: "start", Kind: form.Date, Label: "Start", Require: "true", Check: []form.Check{{Rule: "answers.start >= today", Message: "Start: this day is over."}}},
		{Key: "badge", Kind: form.Items, Label: "Badge", Require: "true", Items: []string{"card", "fob"}},
	}
	d.Ladder = []ladder.Rung{{Key: "manager", Name: "Line manager", Approvers: []ladder.Source{{Source: ladder.LineManager}}, Quorum: "any"}}
	d.Plan = []plan.Task{
		{Key: "safety", Name: "Check safety record", Kind: plan.Manual, Team: "crew", Slice: []string{"zones", "reason"}, Instructions: "Check {{ asker.name }} for {{ answers.zones }}."},
		{Key: "photo", Name: "Take photo", Kind: plan.Manual, Team: "keys"},
		{Key: "write", Name: "Write badge", Kind: plan.Automatic, Team: "keys", After: []string{"safety", "photo"}, Action: &plan.Action{
			Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "zones": "{{ answers.zones }}"},
		}},
	}
	return d
}
