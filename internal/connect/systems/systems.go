// Package systems is the list of the connectors.
package systems

import (
	"time"

	"heptad/internal/connect"
	"heptad/internal/connect/badges"
	"heptad/internal/connect/directory"
	"heptad/internal/connect/licences"
	"heptad/internal/connect/purchasing"
	"heptad/internal/connect/supplier"
	"heptad/internal/connect/webcall"
	"heptad/internal/core/plan"
)

// All lists them in the order in which people see them.
var All = []connect.Manifest{directory.Manifest, licences.Manifest, badges.Manifest, purchasing.Manifest, supplier.Manifest, webcall.Manifest}

// Connectors makes all of them.
func Connectors(h connect.Host) []connect.Connector {
	all := make([]connect.Connector, len(All))
	for i, m := range All {
		all[i] = m.New(h)
	}
	return all
}

// Nowhere makes all of them where nothing is to be called.
func Nowhere() []connect.Connector {
	return Connectors(connect.Host{Reach: func(string) connect.Reach { return connect.At("", "") }})
}

// ForTrial makes all of them where nothing is called, and all succeeds.
func ForTrial(clock func() time.Time) []connect.Connector {
	all := Nowhere()
	for i := range all {
		all[i] = connect.ForTrial(all[i], clock)
	}
	return all
}

// Described lists what all can do.
func Described() []plan.Connector {
	var all []plan.Connector
	for _, c := range Nowhere() {
		all = append(all, c.Describe())
	}
	return all
}
