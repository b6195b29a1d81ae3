package connect

import (
	"heptad/internal/core/request"
	"heptad/internal/simulate"
)

// Manifest is all that the program needs to know of a connector; the list of them
// stands in package systems.
type Manifest struct {
	Key string // as in what it describes
	New func(h Host) Connector

	// Simulate starts a stand-in for its system; nil where there is none.
	Simulate func(s simulate.Setup) (simulate.Simulator, error)
}

// Host is what a connector is given by the program it runs in.
type Host struct {
	Reach  func(key string) Reach
	Base   string                  // URL of Heptad, without a slash at its end
	Poster Poster                  // nil: no mail goes out
	Link   func(key string) string // the URL under which somebody outside answers a call
}

// ReportsAt is the URL to which the system of a connector reports.
func (h Host) ReportsAt(key string) string { return h.Base + "/api/reports/" + key }

// Reporter is a connector whose system reports later what came of a call.
type Reporter interface {
	Connector
	// Reported is an empty report, for its shape.
	Reported() any
	// ReadReport reads the body of a report whose signature is right.
	ReadReport(body []byte) (Report, error)
}

// Report is what a system says came of a call.
type Report struct {
	request.Report
	Key  string // of the call
	Done int    // how many of what was ordered came so far
}
