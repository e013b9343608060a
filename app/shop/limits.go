package shop

import (
	"context"
	"slices"
	"strings"

	"grapnel/app/record"
	"grapnel/core/handbook"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/source"
)

// limits are the shop's own figures, where a maker's differ from the trade's.
type limits struct{ *house }

// Own is the shop's own figures for limits; nil for none.
func (s limits) Own(ctx context.Context, who Person) (school.Own, error) {
	list, err := s.store.Limits(ctx, who.ShopID)
	return record.Own(list), err
}

// KnownFigure is one figure of the trade, and the shop's own where it has one.
type KnownFigure struct {
	source.Entry
	// Limit is what the shop may set, nil for what is not its to set.
	Limit *school.LimitRow `json:"limit,omitempty"`
	Own   *record.OwnLimit `json:"own,omitempty"`
}

// Figures is every figure Grapnel works with.
func (s limits) Figures(ctx context.Context, who Person) ([]KnownFigure, error) {
	list, err := s.store.Limits(ctx, who.ShopID)
	if err != nil {
		return nil, err
	}
	entries := handbook.Sources()
	out := make([]KnownFigure, len(entries))
	for i, e := range entries {
		out[i].Entry = e
		id, isLimit := strings.CutPrefix(e.ID, "limits.")
		if !isLimit {
			continue
		}
		if row, ok := school.FindLimit(school.LimitID(id)); ok {
			out[i].Limit = &row
		}
		for k := range list {
			if string(list[k].ID) == id {
				out[i].Own = &list[k]
			}
		}
	}
	return out, nil
}

// SetLimit sets the shop's own figure for a limit, with a note of where it is
// from. The same figure twice is set once.
func (s limits) SetLimit(ctx context.Context, who Person, id school.LimitID, value float64, note string) error {
	row, known := school.FindLimit(id)
	note = strings.TrimSpace(note)
	if !known {
		return ErrNotFound
	}
	var found problem.List
	found.CheckNumber("value", &value, row.Low, row.High, row.Unit)
	found.CheckText("note", note, 1, school.MostNote)
	if err := found.Err(); err != nil {
		return err
	}
	figure := func(l record.OwnLimit) map[string]any {
		return map[string]any{"id": l.ID, "value": l.Value, "note": l.Note}
	}
	l := record.OwnLimit{ID: id, Value: value, Note: note, SetBy: who.Name, SetAt: s.stamp()}
	return s.set(ctx, who, "limit_set", figure(l), func(tx Tx) (any, bool, error) {
		list, err := tx.Limits(ctx, who.ShopID)
		if i := slices.IndexFunc(list, func(o record.OwnLimit) bool { return o.ID == id }); i >= 0 {
			return figure(list[i]), true, err
		}
		return nil, false, err
	}, func(tx Tx) error { return tx.SetLimit(ctx, who.ShopID, l, who.ID) })
}

// DropLimit goes back to the trade's figure.
func (s limits) DropLimit(ctx context.Context, who Person, id school.LimitID) error {
	return s.drop(ctx, who, "limit_dropped", id, func(tx Tx) (bool, error) {
		list, err := tx.Limits(ctx, who.ShopID)
		return slices.ContainsFunc(list, func(o record.OwnLimit) bool { return o.ID == id }), err
	}, func(tx Tx) error { return tx.DropLimit(ctx, who.ShopID, id) })
}
