package main

import (
	"encoding/json"
	"reflect"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/web"
)

// schemaCommand prints the JSON Schema of an open format.
type schemaCommand struct {
	Format string `arg:"" optional:"" enum:"offering,calendar" default:"offering" help:"Format: offering or calendar."`
}

func (c *schemaCommand) Run() error {
	registry := huma.NewMapRegistry("#/$defs/", web.SchemaName)
	web.Enumerate(registry)
	document, name := reflect.TypeFor[offering.Document](), offering.Format
	if c.Format == "calendar" {
		document, name = reflect.TypeFor[calendar.Document](), calendar.Format
	}
	whole := registry.Schema(document, true, "Document")
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
		"title":   name,
		"$ref":    whole.Ref,
		"$defs":   definitions,
	})
}
