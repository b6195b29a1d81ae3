package rule

import (
	"cmp"

	"heptad/internal/core/people"
)

// PersonFields are the names under which rules read a person.
var PersonFields = Fields{
	"login": Text, "name": Text, "title": Text, "email": Text, "department": Text, "costCentre": Text,
	"location": Text, "employment": Text, "grade": Text, "language": Text, "teams": Texts, "managers": Texts,
}

// OfPerson makes the record of a person; what is unknown is absent. managers
// are the logins of their managers, the nearest first.
func OfPerson(p people.Person, managers []string) Record {
	record := Record{"teams": OfTexts(p.Teams), "managers": OfTexts(managers)}
	for name, text := range map[string]string{
		"login": p.Login, "name": p.Name, "title": p.Title, "email": p.Email, "department": p.Department, "costCentre": p.CostCentre,
		"location": p.Location, "employment": p.Employment, "grade": p.Grade, "language": cmp.Or(p.Speaks, p.Language),
	} {
		if text != "" {
			record[name] = OfText(text)
		}
	}
	return record
}
