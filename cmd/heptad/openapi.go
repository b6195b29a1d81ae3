package main

import (
	"encoding/json"
	"log/slog"
	"os"
	"testing/fstest"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/alexedwards/scs/v2/memstore"

	"heptad/internal/connect/systems"
	"heptad/internal/web"
	"heptad/internal/work"
)

type openAPICommand struct{}

// Run prints the description; it needs no data and no built page.
func (openAPICommand) Run() error {
	server, err := web.New(web.Settings{
		Office: work.Closed(work.Settings{Connectors: systems.Nowhere()}), Sessions: memstore.New(), Page: fstest.MapFS{"index.html": {}},
		Door: []web.DoorEntry{{}}, Log: slog.Default(),
	})
	if err != nil {
		return err
	}
	out := json.NewEncoder(os.Stdout)
	out.SetIndent("", " ")
	return out.Encode(server.API.OpenAPI())
}
