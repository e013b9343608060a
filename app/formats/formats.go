// Package formats describes what the commands answer as JSON Schema (2020-12), made from
// the Go types, and says of any description made from Go types what may be null.
package formats

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/charging"
	"grapnel/core/fitting"
	"grapnel/core/jump"
	"grapnel/core/procedure"
	"grapnel/core/shelf"
	"grapnel/core/standing"
)

// answers are what the commands write on standard output, by the command.
var answers = map[string]any{
	"charge":   charging.Plan{},
	"shelf":    shelf.Plan{},
	"jump":     jump.Answer{},
	"fit":      fitting.Chosen{},
	"standing": standing.Season{},

	"procedure-list":  []procedure.Listed{},
	"procedure-show":  procedure.Written{},
	"procedure-check": procedure.Verdict{},
}

// Names lists the commands whose answers are described.
func Names() []string { return slices.Sorted(maps.Keys(answers)) }

const definitions = "#/$defs/"

// Schema is the JSON Schema of what a command answers; the name is one of Names.
func Schema(name string) ([]byte, error) {
	arrays := huma.DefaultArrayNullable
	huma.DefaultArrayNullable = false
	defer func() { huma.DefaultArrayNullable = arrays }()
	registry := huma.NewMapRegistry(definitions, huma.DefaultSchemaNamer)
	root := registry.Schema(reflect.TypeOf(answers[name]), true, name)
	Nullable(registry, definitions)
	if root.Ref == "" {
		// A list has no name of its own in the registry.
		registry.Map()[name] = root
		root = &huma.Schema{Ref: definitions + name}
	}
	return json.MarshalIndent(struct {
		Schema string                  `json:"$schema"`
		ID     string                  `json:"$id"`
		Title  string                  `json:"title"`
		Ref    string                  `json:"$ref"`
		Defs   map[string]*huma.Schema `json:"$defs"`
	}{
		"https://json-schema.org/draft/2020-12/schema", "grapnel:" + name, "What grapnel " + strings.ReplaceAll(name, "-", " ") + " answers", root.Ref, registry.Map(),
	}, "", "  ")
}

// Nullable says of the fields that are pointers to things of their own that they may be
// null, which cannot be said beside a reference. The prefix is that of the references.
func Nullable(registry huma.Registry, prefix string) {
	for name, schema := range registry.Map() {
		for _, field := range reflect.VisibleFields(registry.TypeFromRef(prefix + name)) {
			key, options, _ := strings.Cut(field.Tag.Get("json"), ",")
			held := schema.Properties[key]
			left := strings.Contains(options, "omitempty")
			if field.Anonymous || held == nil || held.Ref == "" || field.Type.Kind() != reflect.Pointer || left {
				continue
			}
			schema.Properties[key] = &huma.Schema{OneOf: []*huma.Schema{held, {Type: "null"}}}
		}
	}
}
