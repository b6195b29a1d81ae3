package people

import (
	"maps"
	"slices"
	"time"
)

// Absence reports whether a person is absent at an instant. Of several absences
// the one that ends last counts.
func (d *Directory) Absence(person string, at time.Time) (Absence, bool) {
	var found Absence
	for _, a := range d.absences[person] {
		if !at.Before(a.From) && at.Before(a.Until) && a.Until.After(found.Until) {
			found = a
		}
	}
	return found, found.Person != ""
}

// Absences lists all absences, by person.
func (d *Directory) Absences() []Absence {
	var all []Absence
	for _, person := range slices.Sorted(maps.Keys(d.absences)) {
		all = append(all, d.absences[person]...)
	}
	return all
}

// NextAbsenceChange is when the next absence after an instant begins or ends, of
// anybody.
func (d *Directory) NextAbsenceChange(after time.Time) (time.Time, bool) {
	var next time.Time
	for _, all := range d.absences {
		for _, a := range all {
			for _, at := range []time.Time{a.From, a.Until} {
				if at.After(after) && (next.IsZero() || at.Before(next)) {
					next = at
				}
			}
		}
	}
	return next, !next.IsZero()
}

// WithAbsencesOf is the same company with all absences of one person otherwise.
func (d *Directory) WithAbsencesOf(person string, absences []Absence) *Directory {
	other := *d
	other.absences = maps.Clone(d.absences)
	other.absences[person] = absences
	return &other
}
