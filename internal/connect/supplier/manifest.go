// Package supplier connects Heptad with somebody outside, by mail.
package supplier

import (
	"heptad/internal/connect"
)

// Manifest is the connector, and the stand-in for its system.
var Manifest = connect.Manifest{
	Key: "mail",
	New: func(h connect.Host) connect.Connector { return New(h.Poster, h.Link) },
}
