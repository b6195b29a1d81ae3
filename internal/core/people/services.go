package people

import (
	"maps"
	"slices"
	"strings"
)

// Service finds a service by key.
func (d *Directory) Service(key string) (Service, bool) {
	s, ok := d.services[key]
	return s, ok
}

// Services lists all services, by area and name.
func (d *Directory) Services() []Service {
	return sorted(d.services, func(s Service) string { return s.Area + "\x00" + s.Name })
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
func (d *Directory) Areas() []Area { return sorted(d.areas, func(a Area) string { return a.Name }) }

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
	return sorted(d.bundles, func(b Bundle) string { return b.Name })
}

// WithBundle is the same company with one bundle otherwise.
func (d *Directory) WithBundle(b Bundle) *Directory {
	other := *d
	other.bundles = maps.Clone(d.bundles)
	other.bundles[b.Key] = b
	return &other
}
