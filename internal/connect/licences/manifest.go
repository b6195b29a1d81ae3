// Package licences connects Heptad with the licence server.
package licences

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "licences",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("licences")) },
	Simulate: func(s simulate.Setup) (simulate.Simulator, error) {
		var seed struct {
			Products map[string]int     // how many there are in all
			Assigned map[string]Licence // by idempotency key
		}
		if err := s.Read(&seed); err != nil {
			return nil, err
		}
		return Open(s.Path, seed.Products, seed.Assigned)
	},
}
