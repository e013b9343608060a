package web

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/httprate"

	"grapnel/app/instrument"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// InstrumentPath names the instrument in an address.
type InstrumentPath struct {
	InstrumentID record.ID `path:"instrument"`
}

type keepInstrumentInput struct {
	InstrumentPath
	Body struct {
		Name     string `json:"name" maxLength:"60"`
		Kind     string `json:"kind" maxLength:"16"`
		Protocol string `json:"protocol" maxLength:"16"`
		Address  string `json:"address" maxLength:"120"`
		DueOn    string `json:"due_on,omitempty" maxLength:"10"`
	}
}

type probeInput struct {
	Body struct {
		Address string `json:"address" maxLength:"120"`
	}
}

// InstrumentNow is what an instrument shows now, and what it would add to the line.
type InstrumentNow struct {
	ID      record.ID        `json:"id"`
	Name    string           `json:"name"`
	Kind    string           `json:"kind"`
	Overdue bool             `json:"overdue"`
	State   instrument.State `json:"state"`
	// Shown is the figure as a person reads it; Line as a reading line has it, empty
	// while it does not hold still.
	Shown string `json:"shown"`
	Line  string `json:"line"`
	// Why says why it is not taken yet, in words.
	Why string `json:"why"`
}

// Probed is what answers at an address.
type Probed struct {
	Protocol string `json:"protocol"`
	Says     string `json:"says"`
}

func (s *Server) instrumentAPI(api huma.API) {
	get(s, api, "/instruments", "instruments", "The shop's instruments",
		func(ctx context.Context, _ *none) ([]record.Instrument, error) {
			return s.shop.Instruments(ctx, who(ctx))
		})
	get(s, api, "/instruments/now", "instrumentsNow", "What each instrument shows now; asking keeps it being read",
		func(ctx context.Context, _ *none) ([]InstrumentNow, error) {
			return s.instrumentsNow(ctx)
		})
	add(s, api, operation{method: http.MethodPost, path: "/instruments/probe", id: "probeInstrument", about: "What answers at an address", limiter: s.probes},
		s.probe)
	put(s, api, "/instruments/{instrument}", "keepInstrument", "Add an instrument, or change one",
		func(ctx context.Context, in *keepInstrumentInput) ([]record.Instrument, error) {
			b := in.Body
			one := record.Instrument{ID: in.InstrumentID, Name: b.Name, Kind: b.Kind, Protocol: b.Protocol, Address: b.Address, DueOn: b.DueOn}
			return s.instrumentsAfter(ctx, s.shop.KeepInstrument(ctx, who(ctx), one))
		})
	remove(s, api, "/instruments/{instrument}", "dropInstrument", "Take an instrument off the list",
		func(ctx context.Context, in *InstrumentPath) ([]record.Instrument, error) {
			return s.instrumentsAfter(ctx, s.shop.DropInstrument(ctx, who(ctx), in.InstrumentID))
		})
}

// instrumentsAfter are the instruments as they stand after a change, or its error.
func (s *Server) instrumentsAfter(ctx context.Context, err error) ([]record.Instrument, error) {
	if err != nil {
		return nil, err
	}
	return s.shop.Instruments(ctx, who(ctx))
}

func (s *Server) instrumentsNow(ctx context.Context) ([]InstrumentNow, error) {
	list, err := s.shop.Instruments(ctx, who(ctx))
	if err != nil {
		return nil, err
	}
	out := []InstrumentNow{}
	for _, one := range list {
		// A logger is read by whoever follows a charge with it.
		if one.Kind == shop.Logger {
			continue
		}
		state := s.watcher.State(instrument.Protocol(one.Protocol), one.Address)
		now := InstrumentNow{ID: one.ID, Name: one.Name, Kind: one.Kind, Overdue: one.Overdue, State: state}
		switch {
		case state.Trouble != "":
			now.Why = wording.Word("trouble_" + state.Trouble)
		case state.Hold.Why != "":
			now.Why = wording.Word("hold_" + state.Hold.Why)
		}
		if state.Sample != nil {
			now.Shown = reading.Shown(state.Sample.Value, string(state.Sample.Unit))
		}
		if state.Hold.Still {
			now.Line = reading.FromInstrument(state.Hold.Value, string(state.Sample.Unit), one.Name)
		}
		out = append(out, now)
	}
	return out, nil
}

// probesAMinute is how often a person may ask what is at an address: often enough to find
// an instrument, too seldom to feel through a network.
const probesAMinute = 10

// probe asks what is at an address. Of what does not answer as an instrument nothing is told:
// neither what it said nor why it did not.
func (s *Server) probe(ctx context.Context, in *probeInput) (Probed, error) {
	protocol, says, err := s.config.Network.Probe(ctx, in.Body.Address)
	if err == nil {
		return Probed{Protocol: string(protocol), Says: says}, nil
	}
	allowed := "host:port of an instrument that is on"
	if errors.Is(err, instrument.ErrOutside) {
		allowed = "an address of the workshop's own network such as 192.168.1.40:5025, or " + instrument.Simulator + ":5025"
	}
	return Probed{}, problem.List{problem.New("problem.no_instrument", "address", in.Body.Address, allowed)}
}

// limited lets a person do something so often a minute.
func (s *Server) limited(limiter *httprate.RateLimiter) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		r, w := humachi.Unwrap(ctx)
		if limiter.OnLimit(w, r, who(ctx.Context()).ID.String()) {
			p := newProblem(http.StatusTooManyRequests, "That was often enough for a minute. Wait a little, then ask again.")
			p.RequestID = requestID(ctx.Context())
			p.write(w)
			return
		}
		next(ctx)
	}
}
