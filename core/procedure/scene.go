// Package procedure holds the orders of work on a circuit: a scene of sources, places and
// leads, the steps a person takes on it, and the checker that proves an order safe before
// anybody sees it. An order is written as a small table over settings, schools and people,
// never as prose; what is shown has always passed the checker.
package procedure

import "grapnel/core/school"

// Scene is what there is before the first step.
type Scene struct {
	Sources []Source `json:"sources"`
	Places  []Place  `json:"places"`
	Leads   []Lead   `json:"leads"`
	// Joined conduct at the start.
	Joined []Pair `json:"joined"`
	// Earth is the side that lies on the body: negative or positive.
	Earth string `json:"earth"`
	// School says which way of the trade is followed.
	School string `json:"school"`
	// Barred are the cautions in force.
	Barred []school.Caution `json:"barred"`
	// Stays are what is meant to stay joined at the end.
	Stays []Pair `json:"stays"`
}

// Pair is two things that are joined: an end and the place it is at.
type Pair [2]string

// Source is something that gives current, between two places. The first of a scene is the
// battery worked on.
type Source struct {
	ID    string `json:"id"`
	Plus  string `json:"plus"`
	Minus string `json:"minus"`
	// NominalV is its nominal volts.
	NominalV float64 `json:"nominal_v"`
	// Gassing tells that its posts may have gas above them.
	Gassing bool   `json:"gassing"`
	Kind    string `json:"kind" enum:"battery,charger,pack,keep_alive,donor"`
}

// Kinds of source.
const (
	Battery   = "battery"
	Charger   = "charger"
	Pack      = "pack"
	KeepAlive = "keep_alive"
	Donor     = "donor"
)

// SourceKinds lists them.
func SourceKinds() []string { return []string{Battery, Charger, Pack, KeepAlive, Donor} }

// Place is somewhere an end can be.
type Place struct {
	ID string `json:"id"`
	// On is what it belongs to.
	On      string   `json:"on"`
	Kind    string   `json:"kind" enum:"post,clamp_end,stud,body,remote_plus,remote_minus,socket,bench,away"`
	Hazards []string `json:"hazards"`
}

// Kinds of place.
const (
	Post        = "post"
	ClampEnd    = "clamp_end"
	Stud        = "stud"
	Body        = "body"
	RemotePlus  = "remote_plus"
	RemoteMinus = "remote_minus"
	Socket      = "socket"
	Bench       = "bench"
	Away        = "away"
)

// PlaceKinds lists them.
func PlaceKinds() []string {
	return []string{Post, ClampEnd, Stud, Body, RemotePlus, RemoteMinus, Socket, Bench, Away}
}

// Hazards of a place.
const (
	Belt        = "belt"
	Fuel        = "fuel"
	Hot         = "hot"
	Paint       = "paint"
	NearBattery = "near_battery"
)

// HazardCodes lists them.
func HazardCodes() []string { return []string{Belt, Fuel, Hot, Paint, NearBattery} }

// Lead is a cable with its two ends, which may be places.
type Lead struct {
	ID   string `json:"id"`
	Ends Pair   `json:"ends"`
	// Role is the colour it has: plus or minus.
	Role string `json:"colour_role" enum:"plus,minus"`
	// FuseA is the fuse in it, amperes; nil for none. A fused lead carries no starter current.
	FuseA *float64 `json:"fuse_a"`
}

// Sides.
const (
	Plus     = "plus"
	Minus    = "minus"
	Negative = "negative"
	Positive = "positive"
)

// Step is one thing done.
type Step struct {
	Op     Op     `json:"op"`
	Lead   string `json:"lead,omitempty"`
	End    string `json:"end,omitempty"`
	Place  string `json:"place,omitempty"`
	Source string `json:"source,omitempty"`
	// Minutes are those of a wait.
	Minutes float64 `json:"minutes,omitempty"`
	// Line begins the reading that is taken.
	Line string `json:"line,omitempty"`
	// By is which person does it, where there are two.
	By int `json:"by,omitempty"`
	// Asks is what the step wants back: a reading, a wait, a photo, an answer.
	Asks string `json:"asks,omitempty" enum:"reading,wait,photo,answer"`
	// Code names the sentence in the catalogue.
	Code string `json:"code,omitempty"`
	Text string `json:"text"`
	// Why says more: how, and why here.
	Why string `json:"why,omitempty"`
	// Right is what it looks like when it is right.
	Right    string           `json:"right,omitempty"`
	Cautions []school.Caution `json:"cautions"`
	// ReverseOf is the step, from 0, that this one takes back.
	ReverseOf *int `json:"reverse_of,omitempty"`
}

// Op is what is done in a step.
type Op string

// The operations. Do is anything that changes no connection.
const (
	Clamp     Op = "clamp"
	Unclamp   Op = "unclamp"
	Lay       Op = "lay"
	LiftOff   Op = "lift_off"
	PutOn     Op = "put_on"
	TieAway   Op = "tie_away"
	Cover     Op = "cover"
	Uncover   Op = "uncover"
	Plug      Op = "plug"
	Unplug    Op = "unplug"
	SwitchOn  Op = "switch_on"
	SwitchOff Op = "switch_off"
	Start     Op = "start"
	Stop      Op = "stop"
	Crank     Op = "crank"
	Wait      Op = "wait"
	Measure   Op = "measure"
	Do        Op = "do"
)

// Ops lists them.
func Ops() []string {
	return []string{
		string(Clamp), string(Unclamp), string(Lay), string(LiftOff), string(PutOn), string(TieAway), string(Cover), string(Uncover),
		string(Plug), string(Unplug), string(SwitchOn), string(SwitchOff), string(Start), string(Stop), string(Crank), string(Wait),
		string(Measure), string(Do),
	}
}

// What a step may ask for.
const (
	AsksReading = "reading"
	AsksWait    = "wait"
	AsksPhoto   = "photo"
	AsksAnswer  = "answer"
)

// Ends is the scene's state after the last step.
type Ends struct {
	Joined  []Pair   `json:"joined"`
	Covered []string `json:"covered"`
	Tied    []string `json:"tied"`
	// Running are engines that run and chargers, packs and supplies that are on.
	Running []string `json:"running"`
}
