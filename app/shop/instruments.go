package shop

import (
	"context"
	"net"
	"regexp"
	"slices"
	"time"

	"grapnel/core/accuracy"
	"grapnel/core/problem"
	"grapnel/core/reading"
)

// Instrument is a meter, clamp or tester of the shop that can be read over the
// network. Its name is the word that stands in a reading line behind "by"; its kind
// says what its figures are worth.
type Instrument struct {
	ID       ID     `json:"id"`
	Name     string `json:"name"`
	Kind     string `json:"kind"`
	Protocol string `json:"protocol"`
	Address  string `json:"address"`
	// DueOn is the day its calibration is due, YYYY-MM-DD; empty for not said.
	DueOn string `json:"due_on"`
	// Overdue tells that the day has passed.
	Overdue bool `json:"overdue"`
}

// Kinds of instrument. Those of the accuracy tables stand for themselves; a clamp
// and a hydrometer have their error by what they measure.
var instrumentKinds = []string{string(accuracy.GoodMeter), string(accuracy.CheapMeter), string(accuracy.Pile), string(accuracy.Conductance), "clamp", "hydrometer"}

// InstrumentKinds lists the kinds of instrument.
func InstrumentKinds() []string { return slices.Clone(instrumentKinds) }

// instrumentProtocols are what an instrument may be spoken to in.
var instrumentProtocols = []string{"scpi", "lines"}

var instrumentName = regexp.MustCompile(`^[\p{L}\d][\p{L}\d_-]{0,39}$`)

// Instruments lists the shop's instruments.
func (s *Service) Instruments(ctx context.Context, who Person) ([]Instrument, error) {
	list, err := s.store.Instruments(ctx, who.ShopID)
	today := s.now().Format(time.DateOnly)
	for i := range list {
		list[i].Overdue = list[i].DueOn != "" && list[i].DueOn < today
	}
	return list, err
}

// KeepInstrument adds an instrument, or changes one that is known by its ID.
func (s *Service) KeepInstrument(ctx context.Context, who Person, in Instrument) error {
	var found problem.List
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if !instrumentName.MatchString(in.Name) {
		found = append(found, problem.New("problem.code", "name", in.Name, "one word of letters and figures, such as meter-2"))
	}
	checkCode(&found, "kind", in.Kind, instrumentKinds, false)
	checkCode(&found, "protocol", in.Protocol, instrumentProtocols, false)
	if host, port, err := net.SplitHostPort(in.Address); err != nil || host == "" || port == "" {
		found = append(found, problem.New("problem.code", "address", in.Address, "host:port, such as 192.168.1.40:5025"))
	}
	if _, err := time.Parse(time.DateOnly, in.DueOn); err != nil && in.DueOn != "" {
		found = append(found, problem.New("problem.code", "due_on", in.DueOn, "YYYY-MM-DD"))
	}
	known, err := s.store.Instruments(ctx, who.ShopID)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(known, func(one Instrument) bool { return one.Name == in.Name && one.ID != in.ID }) {
		found = append(found, problem.New("problem.taken", "name", in.Name, "a name no other instrument has"))
	}
	if err := found.Err(); err != nil {
		return err
	}
	at := s.stamp()
	return s.write(ctx, func(tx Store) error {
		if err := tx.KeepInstrument(ctx, who.ShopID, in, at); err != nil {
			return err
		}
		return tx.AddEvent(ctx, who.ShopID, Event{Kind: "instrument_kept", PersonID: &who.ID, Body: in, At: at})
	})
}

// DropInstrument takes an instrument off the list; its readings keep its name.
func (s *Service) DropInstrument(ctx context.Context, who Person, id ID) error {
	at := s.stamp()
	return s.write(ctx, func(tx Store) error {
		if err := tx.DropInstrument(ctx, who.ShopID, id); err != nil {
			return err
		}
		return tx.AddEvent(ctx, who.ShopID, Event{Kind: "instrument_dropped", PersonID: &who.ID, Body: id, At: at})
	})
}

// byKind gives each reading the kind of the instrument it names, so that the
// diagnosis weighs it by that instrument's error. The kept reading keeps the name.
func byKind(readings []reading.Reading, instruments []Instrument) {
	for i := range readings {
		for _, one := range instruments {
			if readings[i].By == one.Name {
				readings[i].By = one.Kind
			}
		}
	}
}
