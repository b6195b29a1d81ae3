// Package connect holds the connectors: what automatic tasks can call. A
// connector speaks to one other system; it retries nothing and keeps nothing.
package connect

import (
	"context"
	"fmt"

	"heptad/internal/core/plan"
)

// Call is one call of an action. The key never changes over retries, so that
// the other system does the work once.
type Call struct {
	Key    string
	Do     string
	Inputs map[string]string
}

// Connector does the actions of one other system.
type Connector interface {
	// Describe tells what it can do.
	Describe() plan.Connector
	// Do makes one call. The error is a Trouble; a call that failed may have
	// been done all the same.
	Do(ctx context.Context, call Call) (map[string]string, error)
}

// Trouble is why a call failed, as a sentence that people can read.
type Trouble string

func (t Trouble) Error() string { return string(t) }

func troublef(format string, args ...any) error { return Trouble(fmt.Sprintf(format, args...)) }
