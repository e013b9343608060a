package web

import (
	"encoding/json"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/problem"
	"grapnel/core/reading"
)

// Said is what a form says of a T: an object whose fields are those of T's own table in
// the core, which reads them and says what is wrong with each. A figure may come as it
// was typed, with either decimal mark; what is no figure is refused by name, never taken
// for nothing.
type Said[T any] struct{ object map[string]any }

// LabelInput is what a form says of a battery's label.
type LabelInput = Said[battery.Label]

// FactsInput is what a form says of a vehicle.
type FactsInput = Said[evidence.Vehicle]

// UnmarshalJSON takes the object as it comes.
func (s *Said[T]) UnmarshalJSON(data []byte) error { return json.Unmarshal(data, &s.object) }

// MarshalJSON gives it back.
func (s Said[T]) MarshalJSON() ([]byte, error) { return json.Marshal(s.object) }

// tableOf is the table of a T.
func tableOf[T any]() field.Table[T] {
	var of T
	switch any(of).(type) {
	case battery.Label:
		return any(battery.Fields()).(field.Table[T])
	case evidence.Vehicle:
		return any(evidence.VehicleFields()).(field.Table[T])
	}
	return nil
}

// Schema describes the object from the table.
func (Said[T]) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeObject, Properties: properties(tableOf[T]().Describe()), AdditionalProperties: true}
}

func properties(fields []field.Description) map[string]*huma.Schema {
	out := map[string]*huma.Schema{}
	for _, f := range fields {
		s := &huma.Schema{Description: f.Label, Nullable: true}
		switch f.Kind {
		case field.Figure:
			s.OneOf = []*huma.Schema{{Type: huma.TypeNumber}, {Type: huma.TypeString}}
		case field.Flag:
			s.Type = huma.TypeBoolean
		case field.Group:
			s.Type, s.Properties, s.AdditionalProperties = huma.TypeObject, properties(f.Parts), true
		default:
			s.Type = huma.TypeString
		}
		out[f.Name] = s
	}
	return out
}

// read understands what was said; path is where it stands in the body.
func (s *Said[T]) read(path string) (T, problem.List) {
	var of T
	if s == nil || s.object == nil {
		return of, tableOf[T]().Check(&of, path)
	}
	table := tableOf[T]()
	return table.Decode(typed(s.object, table.Describe()), path)
}

// typed turns figures that were typed into figures.
func typed(object map[string]any, fields []field.Description) map[string]any {
	out := map[string]any{}
	for name, value := range object {
		out[name] = value
	}
	for _, f := range fields {
		switch value := object[f.Name].(type) {
		case string:
			if x, behind, ok := reading.Figure(value); ok && behind == "" && f.Kind == field.Figure {
				out[f.Name] = x
			} else if strings.TrimSpace(value) == "" {
				out[f.Name] = nil
			}
		case map[string]any:
			out[f.Name] = typed(value, f.Parts)
		}
	}
	return out
}
