// Package badges connects Heptad with the badge system: writing, changing and ending badges.
package badges

import (
	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "badges",
	New: func(h connect.Host) connect.Connector { return New(h.Reach("badges")) },
	Simulate: func(s simulate.Setup) (simulate.Simulator, error) {
		var written map[string]Badge // by idempotency key
		if err := s.Read(&written); err != nil {
			return nil, err
		}
		return Open(s.Path, written)
	},
}
