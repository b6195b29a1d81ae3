// Package intake works out what a sheet of people, teams, places or services would
// change: line by line what is new, changed, gone and wrong. It keeps nothing.
package intake

import (
	"slices"
	"strings"
)

// Kind says what the lines of a sheet are.
type Kind string

// The kinds of sheet, in the order a company is read in.
const (
	People      Kind = "people"
	Locations   Kind = "locations"
	CostCentres Kind = "costCentres"
	Teams       Kind = "teams"
	Areas       Kind = "areas"
	Services    Kind = "services"
	Belongings  Kind = "belongings"
	Offerings   Kind = "offerings" // their heads, which begin as drafts
)

// All lists the kinds in their order.
func (Kind) All() []Kind {
	return []Kind{People, Locations, CostCentres, Teams, Areas, Services, Belongings, Offerings}
}

// Kept reports whether what a kind of sheet is about can be listed and changed one by one
// here: what people have, and offerings, have desks of their own.
func (k Kind) Kept() bool { return k != Belongings && k != Offerings && fields[k] != nil }

// Field is what a column can be.
type Field struct {
	Key    string   `json:"key"`
	Name   string   `json:"name"`
	Needed bool     `json:"needed,omitempty" doc:"No line can do without"`
	Help   string   `json:"help,omitempty" doc:"What stands there"`
	Sample []string `json:"-"` // of a template
	ByHand bool     `json:"byHand,omitempty" doc:"In no sheet: it is set on one record"`
	also   []string // other headings it is known by
}

var fields = map[Kind][]Field{
	People: {
		{Key: "login", Name: "Login", Needed: true, Help: "What the person signs in with. A line with a login that is there changes that person.", Sample: []string{"m.ito", "s.halvorsen"}, also: []string{"user", "username", "user name", "account", "user id", "sign-in"}},
		{Key: "name", Name: "Name", Needed: true, Help: "In full, as it is to be read", Sample: []string{"Mio Ito", "Signe Halvorsen"}, also: []string{"full name", "display name", "employee", "employee name"}},
		{Key: "email", Name: "Mail", Help: "Address that mails go to", Sample: []string{"m.ito@halvorsenito.example", "s.halvorsen@halvorsenito.example"}, also: []string{"e-mail", "email address", "mail address", "e-mail address"}},
		{Key: "title", Name: "Title", Help: "What they do", Sample: []string{"Grower", "Head of Growing"}, also: []string{"job title", "position", "role", "function"}},
		{Key: "department", Name: "Department", Sample: []string{"Growing", "Growing"}, also: []string{"dept", "division", "unit"}},
		{Key: "cost_centre", Name: "Cost centre", Help: "Its key", Sample: []string{"G-100", "G-100"}, also: []string{"cost center", "cost centre key", "kostenstelle"}},
		{Key: "location", Name: "Location", Help: "Its name, as in the sheet of locations", Sample: []string{"Glasshouse Nord", "Glasshouse Nord"}, also: []string{"site", "office", "place", "work place"}},
		{Key: "employment", Name: "Employment", Help: "Such as permanent or contractor", Sample: []string{"permanent", "permanent"}, also: []string{"contract", "employment type", "employee type"}},
		{Key: "grade", Name: "Grade", Sample: []string{"2", "5"}, also: []string{"level", "pay grade"}},
		{Key: "manager", Name: "Manager", Help: "Login, mail or full name of the line manager; nothing at the top", Sample: []string{"s.halvorsen", ""}, also: []string{"line manager", "supervisor", "reports to", "boss", "manager login"}},
		{Key: "teams", Name: "Teams", Help: "Keys or names, with semicolons between them", Sample: []string{"", "growing-desk"}, also: []string{"team", "groups"}},
		{Key: "language", Name: "Language", Help: "Such as da, ja or en", Sample: []string{"ja", "da"}, also: []string{"lang", "locale"}},
		{Key: "active", Name: "Active", Help: "yes, or no for somebody who has left", Sample: []string{"yes", "yes"}, also: []string{"enabled", "status", "is active"}},
	},
	Locations: {
		{Key: "name", Name: "Name", Needed: true, Sample: []string{"Glasshouse Nord"}, also: []string{"location", "site", "office"}},
		{Key: "calendar", Name: "Calendar", Help: "Key of the working calendar there; the home calendar when it is empty", Sample: []string{"home"}, also: []string{"working calendar", "hours"}},
	},
	CostCentres: {
		{Key: "key", Name: "Key", Needed: true, Sample: []string{"G-100"}, also: []string{"cost centre", "cost center", "number", "id", "code"}},
		{Key: "name", Name: "Name", Sample: []string{"Growing, north"}, also: []string{"title", "description"}},
		{Key: "owner", Name: "Owner", Needed: true, Help: "Login, mail or full name of who answers for it", Sample: []string{"s.halvorsen"}, also: []string{"responsible", "manager"}},
	},
	Teams: {
		{Key: "key", Name: "Key", Help: "Made of the name when it is left out; it never changes", Sample: []string{"growing-desk"}, also: []string{"id", "code", "team key"}},
		{Key: "name", Name: "Name", Needed: true, Sample: []string{"Growing Desk"}, also: []string{"team", "team name", "group"}},
		{Key: "lead", Name: "Lead", Needed: true, Help: "Login, mail or full name; the lead is a member, too", Sample: []string{"s.halvorsen"}, also: []string{"leader", "team lead", "manager", "head"}},
		{Key: "members", Name: "Members", Help: "Logins, mails or full names, with semicolons between them; as they are when the column is left out", Sample: []string{"m.ito; s.halvorsen"}, also: []string{"people", "staff"}},
		{Key: "calendar", Name: "Calendar", Help: "Key of its working calendar; the home calendar when it is empty", Sample: []string{"home"}, also: []string{"working calendar", "hours"}},
		{Key: "upward", Name: "Next upward", Help: "Key or name of the team it hands up to", Sample: []string{""}, also: []string{"escalates to", "next team", "upward"}},
	},
	Areas: {
		{Key: "name", Name: "Name", Needed: true, Help: "IT, HR, Facilities, or another department that serves employees", Sample: []string{"Facilities"}, also: []string{"area", "department", "category"}},
		{Key: "text", Name: "Text", Help: "What it is for", Sample: []string{"Houses, grounds and what is in them."}, also: []string{"description", "purpose"}},
		{Key: "owner", Name: "Owner", Help: "Who makes services in it: login, mail or full name; administrators alone when it is empty", Sample: []string{"s.halvorsen"}, also: []string{"responsible", "head"}},
		{Key: "editors", Name: "Editors", Help: "Who design in all its services: logins, mails or full names, with semicolons between them", Sample: []string{""}, also: []string{"co-owners", "designers"}},
		{Key: "home", Name: "Home team", Help: "Key or name of the team its new services begin with", Sample: []string{"growing-desk"}, also: []string{"team", "support team"}},
		{Key: "place", Name: "Portfolio", Help: "intended, offered or ended; offered when it is left out. What is in it is found only while it is offered", Sample: []string{"offered"}, also: []string{"state", "status", "portfolio place"}},
		{Key: "second", Name: "Second yes", Help: "yes: publishing in any of its services needs the yes of another", Sample: []string{"no"}, also: []string{"two people", "four eyes"}},
		{Key: "words", Name: "Search words", Help: "Its services are found by, with commas between them", Sample: []string{"house, ground"}, also: []string{"keywords", "tags"}},
		{Key: "starts", Name: "From", Help: "First day, such as 2027-01-04", Sample: []string{""}, also: []string{"start", "start date"}},
		{Key: "review", Name: "Review", Help: "Day on which the owner looks whether it still fits, such as 2028-01-04", Sample: []string{""}, also: []string{"review date", "next review"}},
		{Key: "picture", Name: "Picture", ByHand: true},
	},
	Belongings: {
		{Key: "id", Name: "ID", Needed: true, Help: "What it goes by, such as its number; a line with one that is there changes that", Sample: []string{"B-20418"}, also: []string{"number", "serial number", "asset", "inventory number", "tag"}},
		{Key: "person", Name: "Person", Needed: true, Help: "Who has it: login, mail or full name", Sample: []string{"m.ito"}, also: []string{"owner", "holder", "user", "login"}},
		{Key: "kind", Name: "Kind", Needed: true, Help: "What sort of thing, in small letters, such as badge", Sample: []string{"badge"}, also: []string{"type", "category", "sort"}},
		{Key: "name", Name: "Name", Needed: true, Sample: []string{"Glasshouse badge"}, also: []string{"thing", "model", "title", "description"}},
		{Key: "detail", Name: "Detail", Help: "Number, size or place", Sample: []string{"gates 1 and 2"}, also: []string{"details", "note", "notes", "location"}},
		{Key: "until", Name: "Until", Help: "Last day, such as 2027-12-31; nothing when it has none", Sample: []string{""}, also: []string{"ends", "expires", "valid until", "return date"}},
	},
	Offerings: {
		{Key: "key", Name: "Key", Help: "Made of the name when it is left out; it never changes", Sample: []string{"seed-tray"}, also: []string{"id", "code", "offering key"}},
		{Key: "name", Name: "Name", Needed: true, Help: "As people ask for it", Sample: []string{"Seed tray"}, also: []string{"offering", "item", "title", "request"}},
		{Key: "text", Name: "Text", Help: "What it is, in a sentence or two", Sample: []string{"A tray of young plants for your house."}, also: []string{"description", "summary"}},
		{Key: "keywords", Name: "Search words", Help: "Other words people look for, with commas between them", Sample: []string{"seedlings, pots"}, also: []string{"tags", "search words", "also known as"}},
		{Key: "service", Name: "Service", Needed: true, Help: "Key or name", Sample: []string{"plant-care"}, also: []string{"category", "belongs to"}},
		{Key: "team", Name: "Team", Help: "Key or name of the team that does it; the home team of the service when it is empty", Sample: []string{"growing-desk"}, also: []string{"fulfilled by", "assigned to", "group"}},
	},
	Services: {
		{Key: "key", Name: "Key", Help: "Made of the name when it is left out; it never changes", Sample: []string{"plant-care"}, also: []string{"id", "code", "service key"}},
		{Key: "name", Name: "Name", Needed: true, Sample: []string{"Plant care"}, also: []string{"service", "service name", "title"}},
		{Key: "area", Name: "Area", Needed: true, Help: "IT, HR, Facilities, or another department that serves employees", Sample: []string{"Facilities"}, also: []string{"department", "category"}},
		{Key: "text", Name: "Text", Help: "What it is for", Sample: []string{"What keeps plants and glass in order."}, also: []string{"description", "purpose"}},
		{Key: "owner", Name: "Owner", Needed: true, Help: "Login, mail or full name", Sample: []string{"s.halvorsen"}, also: []string{"service owner", "responsible"}},
		{Key: "home", Name: "Home team", Needed: true, Help: "Key or name", Sample: []string{"growing-desk"}, also: []string{"team", "home", "support team"}},
		{Key: "place", Name: "Portfolio", Help: "intended, offered or ended; offered when it is left out", Sample: []string{"offered"}, also: []string{"state", "status", "portfolio place"}},
		{Key: "editors", Name: "Editors", Help: "Who design it beside the owner: logins, mails or full names, with semicolons between them", Sample: []string{"m.ito"}, also: []string{"co-owners", "designers"}},
		{Key: "second", Name: "Second yes", Help: "yes: publishing needs the yes of another of them", Sample: []string{"no"}, also: []string{"two people", "four eyes"}},
		{Key: "words", Name: "Search words", Help: "It is found by, with commas between them", Sample: []string{"watering, glass"}, also: []string{"keywords", "tags"}},
		{Key: "starts", Name: "From", Help: "First day, such as 2027-01-04", Sample: []string{""}, also: []string{"start", "start date"}},
		{Key: "review", Name: "Review", Help: "Day on which the owner looks whether it still fits, such as 2028-01-04", Sample: []string{""}, also: []string{"review date", "next review"}},
		{Key: "picture", Name: "Picture", ByHand: true},
	},
}

// Fields are what the columns of a kind of sheet can be, and what one record of it has
// beside them.
func Fields(kind Kind) []Field { return fields[kind] }

// Columns are the fields that can be columns of a sheet.
func Columns(kind Kind) []Field {
	return slices.DeleteFunc(slices.Clone(fields[kind]), func(f Field) bool { return f.ByHand })
}

// Template is a sheet of a kind with all columns and a line or two as examples.
func Template(kind Kind) (header []string, rows [][]string) {
	for _, f := range Columns(kind) {
		header = append(header, f.Name)
		for i, sample := range f.Sample {
			if len(rows) == i {
				rows = append(rows, nil)
			}
			rows[i] = append(rows[i], sample)
		}
	}
	return header, rows
}

// plain is a heading without case, and with nothing but letters and digits.
func plain(heading string) string {
	return strings.Map(func(r rune) rune {
		if strings.ContainsRune(" _-.:*/()", r) {
			return -1
		}
		return r
	}, strings.ToLower(heading))
}

// knownAs reports whether a field goes by a heading.
func (f Field) knownAs(heading string) bool {
	heading = plain(heading)
	return heading == plain(f.Key) || heading == plain(f.Name) || slices.ContainsFunc(f.also, func(a string) bool { return plain(a) == heading })
}

// columns finds the column of each field: as somebody has said, else by its heading,
// its own name before another's.
func columns(fields []Field, header []string, said map[string]string) map[string]int {
	at, taken := map[string]int{}, map[int]bool{}
	take := func(key string, column int) {
		if _, there := at[key]; !there && column >= 0 && !taken[column] {
			at[key], taken[column] = column, true
		}
	}
	for key, heading := range said {
		take(key, slices.Index(header, heading))
	}
	open := func(f Field) bool { _, chosen := said[f.Key]; return !chosen }
	for _, match := range []func(f Field, heading string) bool{
		func(f Field, h string) bool { return plain(h) == plain(f.Key) || plain(h) == plain(f.Name) }, Field.knownAs,
	} {
		for _, f := range fields {
			if open(f) {
				take(f.Key, slices.IndexFunc(header, func(h string) bool { return match(f, h) }))
			}
		}
	}
	return at
}
