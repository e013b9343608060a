package shop

import (
	"context"
	"net"
	"regexp"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/accuracy"
	"grapnel/core/problem"
)

// instruments are the meters that can be read over the network.
type instruments struct{ *house }

// Kinds of instrument. Those of the accuracy tables stand for themselves; a clamp
// and a hydrometer have their error by what they measure.
var instrumentKinds = []string{
	string(accuracy.GoodMeter),
	string(accuracy.CheapMeter),
	string(accuracy.Pile),
	string(accuracy.Conductance),
	"clamp",
	"hydrometer",
	Logger,
}

// InstrumentKinds lists the kinds of instrument.
func InstrumentKinds() []string { return slices.Clone(instrumentKinds) }

// instrumentProtocols are what an instrument may be spoken to in.
var instrumentProtocols = []string{"scpi", "lines", LoggerProtocol}

var instrumentName = regexp.MustCompile(`^[\p{L}\d][\p{L}\d_-]{0,39}$`)

// Instruments lists the shop's instruments. A calibration is due by the shop's own day.
func (s instruments) Instruments(ctx context.Context, who Person) ([]record.Instrument, error) {
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return nil, err
	}
	list, err := s.store.Instruments(ctx, who.ShopID)
	today := m.Now.In(m.Zone).Format(time.DateOnly)
	for i := range list {
		list[i].Overdue = list[i].DueOn != "" && list[i].DueOn < today
	}
	return list, err
}

// KeepInstrument adds an instrument, or changes one that is known by its ID.
func (s instruments) KeepInstrument(ctx context.Context, who Person, in record.Instrument) error {
	var found problem.List
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if !instrumentName.MatchString(in.Name) {
		found = append(found, problem.New("problem.code", "name", in.Name, "one word of letters and figures, such as meter-2"))
	}
	found.CheckCode("kind", in.Kind, instrumentKinds, false)
	found.CheckCode("protocol", in.Protocol, instrumentProtocols, false)
	if (in.Kind == Logger) != (in.Protocol == LoggerProtocol) {
		found = append(found, problem.New("problem.code", "protocol", in.Protocol, "log for a logger, scpi or lines for any other"))
	}
	if host, port, err := net.SplitHostPort(in.Address); err != nil || host == "" || port == "" {
		found = append(found, problem.New("problem.code", "address", in.Address, "host:port, such as 192.168.1.40:5025"))
	}
	if _, err := time.Parse(time.DateOnly, in.DueOn); err != nil && in.DueOn != "" {
		found = append(found, problem.New("problem.code", "due_on", in.DueOn, "YYYY-MM-DD"))
	}
	if err := found.Err(); err != nil {
		return err
	}
	in.Overdue = false
	return s.set(ctx, who, "instrument_kept", in, func(tx Tx) (any, bool, error) {
		list, err := tx.Instruments(ctx, who.ShopID)
		if err != nil {
			return nil, false, err
		}
		if slices.ContainsFunc(list, func(one record.Instrument) bool { return one.Name == in.Name && one.ID != in.ID }) {
			return nil, false, problem.List{problem.New("problem.taken", "name", in.Name, "a name no other instrument has")}
		}
		before, known := one(list, func(kept record.Instrument) bool { return kept.ID == in.ID })
		return before, known, nil
	}, func(tx Tx) error { return tx.KeepInstrument(ctx, who.ShopID, in, s.stamp()) })
}

// DropInstrument takes an instrument off the list; its readings keep its name.
func (s instruments) DropInstrument(ctx context.Context, who Person, id ID) error {
	return s.drop(ctx, who, "instrument_dropped", id, func(tx Tx) (bool, error) {
		list, err := tx.Instruments(ctx, who.ShopID)
		return slices.ContainsFunc(list, func(one record.Instrument) bool { return one.ID == id }), err
	}, func(tx Tx) error { return tx.DropInstrument(ctx, who.ShopID, id) })
}
