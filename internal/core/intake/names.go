package intake

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/people"
)

// names finds people by what others call them: login, mail or full name.
type names struct {
	ids    map[string]string   // by small login or mail
	called map[string][]string // IDs by small full name
	of     map[string]people.Person
}

func (n *names) add(p people.Person) {
	n.of[p.ID] = p
	if p.Former {
		return
	}
	n.ids[strings.ToLower(p.Login)] = p.ID
	if p.Email != "" {
		if address := strings.ToLower(p.Email); n.ids[address] == "" {
			n.ids[address] = p.ID
		}
	}
	name := strings.ToLower(strings.Join(strings.Fields(p.Name), " "))
	if !slices.Contains(n.called[name], p.ID) {
		n.called[name] = append(n.called[name], p.ID)
	}
}

// index makes everybody of the company findable, and what else cells name.
func (w *worker) index() {
	w.allTeams, w.places, w.centres = w.company.Teams(), w.company.LocationNames(), w.company.CostCentres()
	w.known = names{map[string]string{}, map[string][]string{}, map[string]people.Person{}}
	for _, p := range w.company.Persons() {
		w.known.add(p)
	}
}

// person finds who a field names, and says what is wrong when it finds nobody. An empty
// cell names nobody, which is wrong only for a field no line can do without.
func (e *entry) person(field string) string {
	return e.personNamed(field, e.cell(field))
}

func (e *entry) personNamed(field, value string) string {
	if value == "" {
		if i := slices.IndexFunc(fields[e.Kind], func(f Field) bool { return f.Key == field }); fields[e.Kind][i].Needed {
			e.wrong(field, fields[e.Kind][i].Name+" is missing.")
		}
		return ""
	}
	small := strings.ToLower(strings.Join(strings.Fields(value), " "))
	if id, ok := e.known.ids[small]; ok {
		return id
	}
	switch found := e.known.called[small]; len(found) {
	case 1:
		return found[0]
	case 0:
		e.wrong(field, fmt.Sprintf("There is nobody %q: write a login, a mail address or a full name.", value), e.nearest("person", value, func(yield func(string, string)) {
			for _, p := range e.known.of {
				if !p.Former {
					yield(p.Login, p.Login)
					yield(p.Name, p.Login)
				}
			}
		})...)
	default:
		logins := make([]string, len(found))
		for i, id := range found {
			logins[i] = e.known.of[id].Login
		}
		slices.Sort(logins)
		e.wrong(field, fmt.Sprintf("There are %d people called %q: write the login of the right one.", len(found), value), logins...)
	}
	return ""
}

// charge names who is to answer for something, instead of who did before. Nobody puts
// themself there.
func (e *entry) charge(field, before string) string {
	if was, ok := e.company.Person(before); ok && was.Former && strings.EqualFold(e.cell(field), was.Login) {
		return before // has left, and nobody has taken their place yet
	}
	id := e.person(field)
	if id != "" && id == e.self && id != before {
		e.wrong(field, "You cannot put yourself here: another administrator can.")
	}
	e.change(field, e.label(before), e.label(id))
	return id
}

// label is how a person is written where a change is shown.
func (w *worker) label(id string) string {
	if p, ok := w.known.of[id]; ok {
		return p.Name + " (" + p.Login + ")"
	}
	return ""
}

// team finds the key of the team a value names; empty when there is none.
func (e *entry) team(field, value string) string {
	if value == "" {
		return ""
	}
	for _, t := range e.allTeams {
		if strings.EqualFold(t.Key, value) || strings.EqualFold(t.Name, value) {
			return t.Key
		}
	}
	for _, t := range e.Records.Teams {
		if strings.EqualFold(t.Key, value) || strings.EqualFold(t.Name, value) {
			return t.Key
		}
	}
	e.wrong(field, fmt.Sprintf("There is no team %q.", value), e.nearest("team", value, func(yield func(string, string)) {
		for _, t := range e.allTeams {
			yield(t.Name, t.Name)
			yield(t.Key, t.Key)
		}
	})...)
	return ""
}

// calendar reports a calendar that is not there.
func (e *entry) calendar(value string) {
	if _, ok := e.company.Calendar(value); value != "" && !ok {
		e.wrong("calendar", fmt.Sprintf("There is no working calendar %q.", value), e.nearest("calendar", value, func(yield func(string, string)) {
			for _, key := range e.company.CalendarKeys() {
				yield(key, key)
			}
		})...)
	}
}

// How many values that may have been meant are named, and for how many different values
// of a sheet they are looked for.
const (
	nearest    = 3
	mostLooked = 300
)

// nearest are the words that are spelt most like a value, by how many letters differ.
// Each yields what it is compared with and what is to be written.
func (w *worker) nearest(of, value string, all func(yield func(word, means string))) []string {
	key := of + "\x00" + value
	if found, ok := w.near[key]; ok || len(w.near) >= mostLooked {
		return found
	}
	small := []rune(strings.ToLower(value))
	most := max(2, len(small)/3)
	apart := map[string]int{}
	all(func(word, means string) {
		if d := distance(small, []rune(strings.ToLower(word)), most); d <= most {
			if before, there := apart[means]; !there || d < before {
				apart[means] = d
			}
		}
	})
	found := make([]string, 0, len(apart))
	for means := range apart {
		found = append(found, means)
	}
	slices.SortFunc(found, func(a, b string) int {
		if apart[a] != apart[b] {
			return apart[a] - apart[b]
		}
		return strings.Compare(a, b)
	})
	w.near[key] = found[:min(nearest, len(found))]
	return w.near[key]
}

// distance is how many letters two words differ by (Levenshtein); more than most once
// it is clear that it is more.
func distance(a, b []rune, most int) int {
	if len(a)-len(b) > most || len(b)-len(a) > most {
		return most + 1
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i, x := range a {
		before, least := row[0], i+1
		row[0] = i + 1
		for j, y := range b {
			cost := before
			if x != y {
				cost = 1 + min(before, row[j], row[j+1])
			}
			before, row[j+1] = row[j+1], cost
			least = min(least, cost)
		}
		if least > most {
			return most + 1
		}
	}
	return row[len(b)]
}
