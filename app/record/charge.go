package record

import (
	"time"

	"grapnel/core/charging"
)

// Charge is a battery that waits for a charger, is on one, or was.
type Charge struct {
	ID        ID  `json:"id"`
	BatteryID ID  `json:"battery_id"`
	JobID     *ID `json:"job_id,omitempty"`
	// Chalk is the number that is written on the battery while it is on the shelf.
	Chalk int    `json:"chalk"`
	Until string `json:"until" enum:"testable,full,equalise"`
	// ReadyBy is when it is promised for; Weight how much a minute late counts.
	ReadyBy *time.Time `json:"ready_by,omitempty"`
	Weight  float64    `json:"weight"`
	AskedAt time.Time  `json:"asked_at"`
	// On is the charger it is on, or was; nil while it waits.
	On    *OnCharger `json:"on,omitempty"`
	OffAt *time.Time `json:"off_at,omitempty"`
	// Pin is what a person has decided for it, nil for nothing.
	Pin *ChargePin `json:"pin,omitempty"`
}

// MakerCharge is how its maker wants a battery charged: one that no charge of ours is planned
// for. Nil is not said.
type MakerCharge struct {
	Volts   *float64 `json:"volts"`
	Amps    *float64 `json:"amps"`
	Charger string   `json:"charger"`
}

// Open reports a charge that is not over.
func (c Charge) Open() bool { return c.OffAt == nil }

// Output is one output of a charger, counted from 1.
type Output struct {
	ChargerID ID  `json:"charger_id" format:"uuid"`
	Channel   int `json:"channel"`
}

// OnCharger is where a battery is on, and since when.
type OnCharger struct {
	Output
	At time.Time `json:"at"`
}

// ChargePin is where a person wants a battery to be charged, and not before when.
type ChargePin struct {
	Output
	From *time.Time `json:"from,omitempty"`
}

// Hours are when somebody is there on a day of the week, 1 for Monday, "08:00" to "18:00".
type Hours struct {
	Day  int    `json:"day"`
	From string `json:"from"`
	To   string `json:"to"`
}

// UsualHours are those of a shop that has said nothing: weekdays, and Saturday morning.
func UsualHours() []Hours {
	out := []Hours{}
	for day := 1; day <= 5; day++ {
		out = append(out, Hours{day, "08:00", "18:00"})
	}
	return append(out, Hours{6, "09:00", "13:00"})
}

// Trace is what a logger sees of a charge.
type Trace struct {
	ChargeID     ID
	ShopID       ID
	InstrumentID ID
	// PersonID is who had it followed.
	PersonID ID
	// Followed tells that it is read now.
	Followed bool
	// Trouble is what is wrong with the instrument, as a code; empty for nothing.
	Trouble string
	charging.Trace
	// CheckedAt is when the latest check was kept from it.
	CheckedAt *time.Time
}
