// Package webcall connects Heptad with any HTTP JSON interface, on hosts that an administrator allows.
package webcall

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "web",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("web")) },
	Simulate: func(s simulate.Setup) (simulate.Simulator, error) {
		return Open(s.Path)
	},
}
