package rehearse

import (
	"slices"
	"strings"

	"heptad/internal/core/people"
	"heptad/internal/core/request"
)

// keep takes over what an event does outside of the request.
func (d *driver) keep(e request.Event) {
	has := func(id string) int {
		return slices.IndexFunc(d.belongings, func(b people.Belonging) bool { return b.ID == id })
	}
	switch b := e.Body.(type) {
	case request.HoldingMade:
		d.belongings = append(slices.Clip(d.belongings), b.Holding.Belonging)
	case request.HoldingChanged:
		if i := has(b.Now.ID); i >= 0 {
			d.belongings = slices.Clone(d.belongings)
			d.belongings[i] = b.Now
		}
	case request.HoldingEnded:
		if i := has(b.ID); i >= 0 {
			d.gone[b.ID] = d.belongings[i]
			d.belongings = slices.Delete(slices.Clone(d.belongings), i, i+1)
		}
	case request.HoldingRestored:
		if back, was := d.gone[b.ID]; was {
			d.belongings = append(slices.Clip(d.belongings), back)
		}
	case request.PlaceReserved:
		d.free[b.Pool]--
		d.set["place "+b.Task] = true
	case request.PlaceReturned:
		if d.set["place "+b.Task] {
			d.free[b.Pool]++
		}
		delete(d.set, "place "+b.Task)
	case request.PoolGrown:
		d.free[b.Pool] += b.By
	}
}

// waits says what it waits for.
func (d *driver) waits() string {
	var names []string
	for _, h := range d.State.Holders(d.Service.Home) {
		name := d.Company.TeamName(h.Team)
		switch {
		case h.Person != "":
			name = d.Company.Name(h.Person)
		case h.Team != "" && len(d.Company.Members(h.Team)) == 0:
			name += ", where nobody is"
		case h.System != "":
			name = "the system " + h.System
		case h.Pool != "":
			name = "a free place of " + h.Pool
		case h.Wait:
			name = "its time"
		}
		if t, there := d.State.Task(h.Task); there {
			name = t.Name + ", with " + name
		}
		if !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	if len(names) == 0 {
		return "Nothing more would ever happen."
	}
	return "It waits for " + strings.Join(names, "; ") + "."
}
