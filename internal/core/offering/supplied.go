package offering

import (
	"slices"

	"heptad/internal/core/plan"
)

// Refit is one of the starter set as it is now, fitted as the one that was taken from it:
// in the same service, under the same key and name, in the same currency and hours, and
// each task with the team that was chosen for it.
func Refit(starter, taken Document, home string) Document {
	d := starter
	d.Key, d.Purpose.Name, d.Purpose.Service = taken.Key, taken.Purpose.Name, taken.Purpose.Service
	d.Items.Currency = taken.Items.Currency
	d.Promise.Zone, d.Promise.Calendar = taken.Promise.Zone, taken.Promise.Calendar
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
