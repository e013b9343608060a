package shop

import (
	"context"
	"strings"
	"time"

	"grapnel/core/handbook"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/source"
)

// OwnLimit is a shop's own figure for a limit.
type OwnLimit struct {
	ID    school.LimitID `json:"id"`
	Value float64        `json:"value"`
	Note  string         `json:"note"`
	SetBy string         `json:"set_by"`
	SetAt time.Time      `json:"set_at"`
}

// own gathers a shop's own figures for the core.
func own(list []OwnLimit) school.Own {
	if len(list) == 0 {
		return nil
	}
	figures := school.Own{}
	for _, l := range list {
		figures[l.ID] = school.Override{Value: l.Value, Note: l.Note}
	}
	return figures
}

// Own is the shop's own figures for limits; nil for none.
func (s *Service) Own(ctx context.Context, who Person) (school.Own, error) {
	list, err := s.store.Limits(ctx, who.ShopID)
	return own(list), err
}

// KnownFigure is one figure of the trade, and the shop's own where it has one.
type KnownFigure struct {
	source.Entry
	// Limit is what the shop may set, nil for what is not its to set.
	Limit *school.LimitRow `json:"limit,omitempty"`
	Own   *OwnLimit        `json:"own,omitempty"`
}

// Figures is every figure Grapnel works with.
func (s *Service) Figures(ctx context.Context, who Person) ([]KnownFigure, error) {
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
// from; only the owner may. The same figure twice is set once.
func (s *Service) SetLimit(ctx context.Context, who Person, id school.LimitID, value float64, note string) error {
	row, known := school.FindLimit(id)
	note = strings.TrimSpace(note)
	var found problem.List
	switch {
	case who.Role != Owner:
		return ErrForbidden
	case !known:
		return ErrNotFound
	}
	checkNumber(&found, "value", &value, row.Low, row.High, row.Unit)
	checkText(&found, "note", note, 1, school.MostNote)
	if err := found.Err(); err != nil {
		return err
	}
	at := s.stamp()
	l := OwnLimit{ID: id, Value: value, Note: note, SetBy: who.Name, SetAt: at}
	return s.write(ctx, func(tx Store) error {
		if err := tx.SetLimit(ctx, who.ShopID, l, who.ID); err != nil {
			return err
		}
		return tx.AddEvent(ctx, who.ShopID, Event{Kind: "limit_set", PersonID: &who.ID, Body: l, At: at})
	})
}

// DropLimit goes back to the trade's figure.
func (s *Service) DropLimit(ctx context.Context, who Person, id school.LimitID) error {
	if who.Role != Owner {
		return ErrForbidden
	}
	return s.write(ctx, func(tx Store) error {
		if err := tx.DropLimit(ctx, who.ShopID, id); err != nil {
			return err
		}
		return tx.AddEvent(ctx, who.ShopID, Event{Kind: "limit_dropped", PersonID: &who.ID, Body: id, At: s.stamp()})
	})
}
