// Package purchasing connects Heptad with the purchasing system, which reports later.
package purchasing

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "purchasing",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("purchasing"), h.ReportsAt("purchasing")) },
	Simulate: func(s simulate.Setup) (simulate.Simulator, error) {
		return Open(s.Path, s.Secret)
	},
}
