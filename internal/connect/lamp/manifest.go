// Package lamp connects Heptad with the lamp at the head of the pier.
package lamp

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "lamp",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("lamp")) },
	Simulate: func(simulate.Setup) (simulate.Simulator, error) {
		return &System{simulate.System{Name: "The lamp"}}, nil
	},
}
