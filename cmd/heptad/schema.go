package main

import (
	"encoding/json"
	"reflect"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
	"heptad/internal/web"
)

// schemaCommand prints the JSON Schema of an open format.
type schemaCommand struct {
	Format string `arg:"" optional:"" enum:"offering,calendar,rehearsal,rehearsed" default:"offering" help:"Format: offering, calendar, rehearsal or rehearsed."`
}

func (c *schemaCommand) Run() error {
	registry := huma.NewMapRegistry("#/$defs/", web.SchemaName)
	web.Enumerate(registry)
	of := map[string]struct {
		document reflect.Type
		name     string
	}{
		"offering": {reflect.TypeFor[offering.Document](), offering.Format}, "calendar": {reflect.TypeFor[calendar.Document](), calendar.Format},
		"rehearsal": {reflect.TypeFor[script.Script](), script.Format}, "rehearsed": {reflect.TypeFor[rehearse.Rehearsed](), rehearse.Format},
	}[c.Format]
	whole := registry.Schema(of.document, true, "Document")
	data, err := json.Marshal(registry.Map())
	if err != nil {
		return err
	}
	var definitions map[string]any
	if err := json.Unmarshal(data, &definitions); err != nil {
		return err
	}
	return printJSON(map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"title":   of.name,
		"$ref":    whole.Ref,
		"$defs":   definitions,
	})
}
