package people

import (
	"maps"
	"slices"
	"strings"
	"sync"
)

// Service finds a service by key.
func (d *Directory) Service(key string) (Service, bool) {
	s, ok := d.services[key]
	return s, ok
}

// Services lists all services, by area and name.
func (d *Directory) Services() []Service {
	return sorted(d, d.services, func(s Service) string { return s.Area + "\x00" + s.Name })
}

// Area finds an area by its name, however its letters are written.
func (d *Directory) Area(name string) (Area, bool) {
	if a, ok := d.areas[name]; ok {
		return a, true
	}
	for _, a := range d.areas {
		if strings.EqualFold(a.Name, name) {
			return a, true
		}
	}
	return Area{}, false
}

// Areas lists all areas, by name.
func (d *Directory) Areas() []Area {
	return sorted(d, d.areas, func(a Area) string { return a.Name })
}

// Designers are those who design the offerings of a service: its owner and its editors,
// and those of its area.
func (d *Directory) Designers(s Service) []string {
	a := d.areas[s.Area]
	var ids []string
	for _, id := range slices.Concat([]string{s.Owner}, s.Editors, []string{a.Owner}, a.Editors) {
		if id != "" && !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	return ids
}

// Designs reports whether somebody designs the offerings of a service.
func (d *Directory) Designs(person string, s Service) bool {
	a := d.areas[s.Area]
	return person != "" && (s.Owner == person || a.Owner == person || slices.Contains(s.Editors, person) || slices.Contains(a.Editors, person))
}

// dutiesOfAll is the key of what people answer for.
type dutiesOfAll struct{}

// duties are what people answer for, by their IDs.
type duties struct {
	owned, designed map[string][]Service
	overseen        map[string][]string // keys of services
	areas, leads    map[string]bool
}

func (d *Directory) duties() *duties {
	return d.Once(dutiesOfAll{}, func() any {
		all := &duties{map[string][]Service{}, map[string][]Service{}, map[string][]string{}, map[string]bool{}, map[string]bool{}}
		for _, s := range d.Services() {
			all.owned[s.Owner] = append(all.owned[s.Owner], s)
			designers := d.Designers(s)
			for _, id := range designers {
				all.designed[id] = append(all.designed[id], s)
				all.overseen[id] = append(all.overseen[id], s.Key)
			}
			if lead := d.teams[s.Home].Lead; !slices.Contains(designers, lead) {
				all.overseen[lead] = append(all.overseen[lead], s.Key)
			}
		}
		for _, a := range d.areas {
			all.areas[a.Owner] = true
		}
		for _, t := range d.teams {
			all.leads[t.Lead] = true
		}
		return all
	}).(*duties)
}

// Owned lists the services that somebody owns, by area and name.
func (d *Directory) Owned(person string) []Service { return d.duties().owned[person] }

// Designed lists the services whose offerings somebody designs, by area and name.
func (d *Directory) Designed(person string) []Service { return d.duties().designed[person] }

// Overseen lists the keys of the services that somebody sees all requests of: they design
// their offerings, or lead their home team.
func (d *Directory) Overseen(person string) []string { return d.duties().overseen[person] }

// OwnsArea reports whether somebody owns an area.
func (d *Directory) OwnsArea(person string) bool { return person != "" && d.duties().areas[person] }

// LeadsAny reports whether somebody is the lead of a team.
func (d *Directory) LeadsAny(person string) bool { return d.duties().leads[person] }

// NeedsSecond reports whether publishing in a service needs another's yes: when it says
// so, or its area does.
func (d *Directory) NeedsSecond(s Service) bool { return s.Second || d.areas[s.Area].Second }

// IsOffered reports whether what is in a service can be found on a day (RFC 3339): it and
// its area are offered, and their first day has come.
func (d *Directory) IsOffered(s Service, day string) bool {
	a := d.areas[s.Area]
	return s.Place == Offered && a.Place == Offered && s.Starts <= day && a.Starts <= day
}

// Bundle finds a bundle by key.
func (d *Directory) Bundle(key string) (Bundle, bool) {
	b, ok := d.bundles[key]
	return b, ok
}

// BundleName is the name of a bundle, or its key when it is unknown.
func (d *Directory) BundleName(key string) string {
	if b, ok := d.bundles[key]; ok {
		return b.Name
	}
	return key
}

// Bundles lists all bundles, by name.
func (d *Directory) Bundles() []Bundle {
	return sorted(d, d.bundles, func(b Bundle) string { return b.Name })
}

// WithBundle is the same company with one bundle otherwise.
func (d *Directory) WithBundle(b Bundle) *Directory {
	other := *d
	other.bundles = maps.Clone(d.bundles)
	other.bundles[b.Key] = b
	other.once = &sync.Map{}
	return &other
}
