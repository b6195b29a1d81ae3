package connect

import (
	"context"
	"time"

	"heptad/internal/core/plan"
)

// ForTrial is a connector that describes itself as another and calls nothing: what it is
// asked for succeeds at once, with values that are made up. Secrets are never made.
func ForTrial(c Connector, clock func() time.Time) Connector { return trial{c.Describe(), clock} }

type trial struct {
	described plan.Connector
	clock     func() time.Time
}

func (t trial) Describe() plan.Connector { return t.described }

func (t trial) Do(_ context.Context, call Call) (Reply, error) {
	action, known := plan.FindAction([]plan.Connector{t.described}, plan.Action{Connector: t.described.Key, Do: call.Do})
	if !known {
		return Reply{}, Refused("%s cannot do that.", t.described.Name)
	}
	out := map[string]string{}
	made := func(key string, kind plan.Type, secret bool) {
		if !secret && kind != plan.File {
			out[key] = kind.MadeUp("trial-"+key, t.clock().UTC().Format(time.DateOnly), "0.00")
		}
	}
	for _, f := range action.Outputs {
		made(f.Key, f.Kind, f.Secret)
	}
	for _, o := range call.Wanted {
		made(o.Key, o.Kind, o.Secret)
	}
	return Reply{Outputs: out}, nil
}
