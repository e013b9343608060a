package record

import (
	"encoding/json"
	"maps"
	"strings"

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

// Fields describes what may be said.
func (Said[T]) Fields() []field.Description { return tableOf[T]().Describe() }

// Read understands what was said; path is where it stands in the body.
func (s Said[T]) Read(path string) (T, problem.List) {
	table := tableOf[T]()
	if s.object == nil {
		var of T
		return of, table.Check(&of, path)
	}
	return table.Decode(typed(s.object, table.Describe()), path)
}

// typed turns figures that were typed into figures.
func typed(object map[string]any, fields []field.Description) map[string]any {
	out := maps.Clone(object)
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
