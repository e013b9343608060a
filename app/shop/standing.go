package shop

import (
	"time"

	"grapnel/core/standing"
)

// Standing is a battery that stands for a while, in its vehicle or loose.
type Standing struct {
	ID        ID           `json:"id"`
	BatteryID ID           `json:"battery_id"`
	VehicleID *ID          `json:"vehicle_id,omitempty"`
	PlaceID   *ID          `json:"place_id,omitempty"`
	Place     string       `json:"place"`
	FromAt    time.Time    `json:"from_at"`
	ToAt      *time.Time   `json:"to_at,omitempty"`
	SeenAt    time.Time    `json:"seen_at"`
	Said      StandingSaid `json:"said"`
	Revision  int          `json:"revision"`
	ChangedAt time.Time    `json:"changed_at"`
}

// StandingSaid is what was said of how a battery stands. Nil and empty are not known.
type StandingSaid struct {
	// Spot is where in the place: row C.
	Spot string `json:"spot"`
	// Where is outdoors, unheated or heated.
	Where     string `json:"where" enum:"outdoors,unheated,heated"`
	Connected bool   `json:"connected"`
	// DrainMA is what was measured asleep, nil for what is usual or was read.
	DrainMA *float64         `json:"drain_ma"`
	Mains   *bool            `json:"mains"`
	Socket  *standing.Socket `json:"socket,omitempty"`
	// ColdestStart is the morning it has to start on, °C.
	ColdestStart *float64 `json:"coldest_start_c"`
	// Care is what is done for it, a kind of core/standing; empty for nothing chosen.
	Care string `json:"care" enum:",none,disconnect,bypass,take_in,maintain,maintain_by_socket,solar,visit,drive,wake"`
	// WantedOn is the day it is to start again, YYYY-MM-DD.
	WantedOn string `json:"wanted_on"`
	Note     string `json:"note"`
	// Charge is what is known of it besides readings.
	Charge *SaidCharge `json:"charge,omitempty"`
}

// SaidCharge is a charge that somebody said, or left a battery with.
type SaidCharge struct {
	standing.ChargeBand
	At time.Time `json:"at"`
	// From is said or charged.
	From string `json:"from" enum:"said,charged"`
}

// Forecast is what a standing battery comes to, as it was worked out last.
type Forecast struct {
	// Judged is false for a battery that is not forecast: the rest is empty then.
	Judged bool   `json:"judged"`
	MadeOn string `json:"made_on"`
	// Charge is where it begins, on the day From.
	Charge *standing.ChargeBand `json:"charge"`
	From   string               `json:"from"`
	// Basis is reading, said, charged or guess.
	Basis string `json:"basis" enum:"reading,said,charged,guess"`
	// DrainMA is what was taken, DrainBasis measured, usual or none.
	DrainMA    float64        `json:"drain_ma"`
	DrainBasis string         `json:"drain_basis" enum:"measured,usual,none"`
	Dates      standing.Dates `json:"dates"`
	// Track is its charge every few days.
	Track []Tracked `json:"track"`
	// Margin is the least distance of the low end from ice over the season, K, on MarginOn.
	Margin   float64 `json:"margin_k"`
	MarginOn string  `json:"margin_on"`
	// Due is when somebody comes next.
	Due DueVisit `json:"due"`
}

// Tracked is a day of a forecast.
type Tracked struct {
	On string `json:"on"`
	standing.ChargeBand
}

// DueVisit bounds a visit, with what it is for.
type DueVisit struct {
	From  string   `json:"from"`
	To    string   `json:"to"`
	Why   string   `json:"why" enum:"interval,below,no_start,freezes,wanted"`
	Carry []string `json:"carry"`
}

// StandingVisit is somebody who came to it.
type StandingVisit struct {
	ID    ID        `json:"id"`
	At    time.Time `json:"at"`
	By    string    `json:"by"`
	Typed string    `json:"typed"`
	// Did is looked, charged or moved.
	Did  string `json:"did" enum:"looked,charged,moved"`
	Note string `json:"note"`
	// Off is how far the forecast was off; nil where nothing was read that tells it.
	Off *standing.Off `json:"off"`
	// Mistaken marks one that was written down by mistake: it stays, and counts no more.
	Mistaken bool `json:"mistaken"`
	// Readings are those that were kept with it.
	Readings []ID `json:"-"`
}

// What was done at a visit.
const (
	DidLook   = "looked"
	DidCharge = "charged"
	DidMove   = "moved"
)

// VisitDeeds lists what may be done at a visit.
func VisitDeeds() []string { return []string{DidLook, DidCharge, DidMove} }

// CalendarFeed is a calendar that somebody subscribed to.
type CalendarFeed struct {
	ID   ID     `json:"id"`
	Name string `json:"name"`
	By   string `json:"by"`
	// Rests tells that it does not answer, because whoever made it is switched off.
	Rests     bool      `json:"rests"`
	CreatedAt time.Time `json:"created_at"`
}
