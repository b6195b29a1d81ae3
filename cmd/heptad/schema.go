package main

import (
	"encoding/json"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/offering"
	"heptad/internal/web"
)

// schemaCommand prints the JSON Schema of the open format of offerings.
type schemaCommand struct{}

func (c *schemaCommand) Run() error {
	registry := huma.NewMapRegistry("#/$defs/", web.SchemaName)
	whole := registry.Schema(reflect.TypeFor[offering.Document](), true, "Document")
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
		"title":   "heptad/offering/1",
		"$ref":    whole.Ref,
		"$defs":   definitions,
	})
}
