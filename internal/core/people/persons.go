package people

import (
	"iter"
	"maps"
	"slices"
	"strings"
	"sync"
)

// WithPersons is the same company with some people new or otherwise, and without some.
func (d *Directory) WithPersons(changed []Person, gone []string) *Directory {
	other := *d
	other.once = &sync.Map{}
	other.persons, other.logins, other.members = maps.Clone(d.persons), maps.Clone(d.logins), maps.Clone(d.members)
	touched := map[string]bool{} // teams
	touch := func(team string) { // the list of its members is the other directory's, too
		if !touched[team] {
			touched[team], other.members[team] = true, slices.Clone(other.members[team])
		}
	}
	leave := func(id string) {
		before, ok := other.persons[id]
		if !ok {
			return
		}
		delete(other.persons, id)
		if other.logins[before.Login] == id {
			delete(other.logins, before.Login)
		}
		for _, team := range before.Teams {
			touch(team)
			other.members[team] = slices.DeleteFunc(other.members[team], func(member string) bool { return member == id })
		}
	}
	for _, id := range gone {
		leave(id)
	}
	for _, p := range changed {
		leave(p.ID)
	}
	for _, p := range changed {
		other.persons[p.ID], other.logins[p.Login] = p, p.ID
		for _, team := range p.Teams {
			touch(team)
			if !p.Former {
				other.members[team] = append(other.members[team], p.ID)
			}
		}
	}
	for team := range touched {
		if other.sortMembers(team); len(other.members[team]) == 0 {
			delete(other.members, team)
		}
	}
	return &other
}

// Person finds somebody by ID.
func (d *Directory) Person(id string) (Person, bool) {
	p, ok := d.persons[id]
	return p, ok
}

// ByLogin finds somebody by login.
func (d *Directory) ByLogin(login string) (Person, bool) {
	id, ok := d.logins[login]
	if !ok {
		return Person{}, false
	}
	return d.Person(id)
}

// addresses is the key of whom mail addresses are of.
type addresses struct{}

// ByEmail finds the one who is there with a mail address; nobody when several have it.
func (d *Directory) ByEmail(address string) (Person, bool) {
	of := d.Once(addresses{}, func() any {
		of := map[string]string{} // small, to IDs; empty for those that several have
		for _, p := range d.persons {
			if p.Email == "" || p.Former {
				continue
			}
			address := strings.ToLower(p.Email)
			if _, several := of[address]; several {
				of[address] = ""
			} else {
				of[address] = p.ID
			}
		}
		return of
	}).(map[string]string)
	id := of[strings.ToLower(strings.TrimSpace(address))]
	if id == "" {
		return Person{}, false
	}
	return d.Person(id)
}

// Name of a person, or the words "someone unknown".
func (d *Directory) Name(id string) string {
	if p, ok := d.persons[id]; ok {
		return p.Name
	}
	return "someone unknown"
}

// Persons lists everybody, by name; who has the same by ID.
func (d *Directory) Persons() []Person {
	return sorted(d, d.persons, func(p Person) string { return p.Name + "\x00" + p.ID })
}

// called is the key of the words that people are found by, as Persons lists them.
type called struct{}

// Called gives those in whose name, login, department or title each of some words is, by
// name.
func (d *Directory) Called(words ...string) iter.Seq[Person] {
	texts := d.Once(called{}, func() any {
		var texts []string
		for _, p := range d.Persons() {
			texts = append(texts, strings.ToLower(p.Name+" "+p.Login+" "+p.Department+" "+p.Title))
		}
		return texts
	}).([]string)
	for i, word := range words {
		words[i] = strings.ToLower(word)
	}
	return func(yield func(Person) bool) {
		persons := d.Persons()
		for i, text := range texts {
			if !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(text, word) }) && !yield(persons[i]) {
				return
			}
		}
	}
}

// maxChain is how many managers up a chain is followed.
const maxChain = 20

// Manager is the n-th manager above a person, the line manager for 1; false
// when the chain is shorter or goes in a circle.
func (d *Directory) Manager(id string, n int) (Person, bool) {
	logins := d.Managers(id)
	if n < 1 || n > len(logins) {
		return Person{}, false
	}
	return d.ByLogin(logins[n-1])
}

// managing is the key of whose line manager each is.
type managing struct{}

// Reports lists those whose line manager a person is, by name.
func (d *Directory) Reports(id string) []Person {
	if id == "" {
		return nil // those who have none
	}
	return d.Once(managing{}, func() any {
		of := map[string][]Person{}
		for _, p := range d.Persons() {
			of[p.Manager] = append(of[p.Manager], p)
		}
		return of
	}).(map[string][]Person)[id]
}

// Manages reports whether a person is somebody's line manager.
func (d *Directory) Manages(id string) bool { return len(d.Reports(id)) > 0 }

// Managers lists the logins of a person's managers, the nearest first. A
// circle in the directory ends it.
func (d *Directory) Managers(id string) []string {
	var logins []string
	seen := map[string]bool{id: true}
	for p, ok := d.persons[d.persons[id].Manager]; ok && !seen[p.ID] && len(logins) < maxChain; p, ok = d.persons[p.Manager] {
		seen[p.ID] = true
		logins = append(logins, p.Login)
	}
	return logins
}
