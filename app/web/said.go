package web

import (
	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/field"
)

// Said is what a form says of a T, with its description made from the table of a T.
type Said[T any] struct{ record.Said[T] }

// LabelInput is what a form says of a battery's label.
type LabelInput = Said[battery.Label]

// FactsInput is what a form says of a vehicle.
type FactsInput = Said[evidence.Vehicle]

// Schema describes the object from the table.
func (s Said[T]) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeObject, Properties: properties(s.Fields()), AdditionalProperties: true}
}

func properties(fields []field.Description) map[string]*huma.Schema {
	out := map[string]*huma.Schema{}
	for _, f := range fields {
		s := &huma.Schema{Description: f.Label, Nullable: true}
		switch f.Kind {
		case field.Figure:
			// A number, or a figure as it was typed, or null: the core says what is wrong with it.
			s.Nullable = false
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
