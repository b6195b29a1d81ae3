// Package directory connects Heptad with the directory of accounts and groups.
package directory

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "directory",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("directory")) },
	Simulate: func(s simulate.Setup) (simulate.Simulator, error) {
		var seed struct {
			Accounts []Account
			Groups   []string
		}
		if err := s.Read(&seed); err != nil {
			return nil, err
		}
		return Open(s.Path, seed.Accounts, seed.Groups)
	},
}
