package connect

import "heptad/internal/core/plan"

// Nowhere are all connectors, for where nothing is to be called.
func Nowhere() []Connector {
	nowhere := At("", "")
	return []Connector{
		NewDirectory(nowhere), NewLicences(nowhere), NewBadges(nowhere), NewPurchasing(nowhere, ""), NewSupplier(nil, nil), NewWebCall(nowhere),
	}
}

// Described lists what all connectors can do.
func Described() []plan.Connector {
	var all []plan.Connector
	for _, c := range Nowhere() {
		all = append(all, c.Describe())
	}
	return all
}
