// Package study holds the proof that the verdict holds: virtual vehicles with
// known hidden faults, drawn from a fleet that is data, which the diagnosis tests
// through noisy instruments, beside the habits of the trade as baselines.
package study

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

//go:embed fleet_standard.json fleet_stress.json fleet_winter.json
var fleets embed.FS

// Fleet is the mix the cases are drawn from. Shares need not sum to one.
type Fleet struct {
	Name  string `json:"name"`
	About string `json:"about"`
	// Model is the battery's truth: twin, or plain for the deliberately different
	// one.
	Model string `json:"model"`
	// Noise multiplies every instrument's error, Tails is the share of readings
	// whose error is three times as large, MisreadC is added to or taken from every
	// battery temperature, WrongRating is the share of labels typed in wrong, and
	// Extra how many faults stand beside the main one at the least.
	Noise       float64          `json:"noise"`
	Tails       float64          `json:"tails"`
	MisreadC    quantity.Celsius `json:"misread_c"`
	WrongRating float64          `json:"wrong_rating"`
	Extra       int              `json:"extra"`

	Labels   []Label            `json:"labels"`
	Vehicles []Vehicle          `json:"vehicles"`
	Climates []Climate          `json:"climates"`
	Main     map[string]float64 `json:"main"`
	// Symptoms is what each main fault is reported as.
	Symptoms map[string]map[string]float64 `json:"symptoms"`
	Beside   map[string]float64            `json:"beside"`
	// Arrival is the charge in percent each main fault leaves: low and high.
	Arrival map[string][2]float64 `json:"arrival"`
	// AgeMean and AgeSpread are the battery's years; AgeKnown the share that can be
	// read.
	AgeMean   float64 `json:"age_mean"`
	AgeSpread float64 `json:"age_spread"`
	AgeKnown  float64 `json:"age_known"`
	// Ranges of what a sound and a worn battery hold, and of bad cells.
	Sound Held `json:"sound"`
	Worn  Held `json:"worn"`
	// LostCapacity is the share of worn batteries whose power holds.
	LostCapacity float64            `json:"lost_capacity"`
	BadCell      map[string]float64 `json:"bad_cell"`
	// Days bounds the day of the year the vehicles come in, 0 to 365 where it says nothing.
	Days [2]float64 `json:"days"`
	// Acid is one sigma of how makers' acid differs, in specific gravity.
	Acid float64 `json:"acid"`
	// Prices are the shop's money.
	Prices Prices `json:"prices"`
	// Seen is how likely a look shows what is there, and what is not.
	Seen map[string][2]float64 `json:"seen"`
}

// Held are the shares of the label a battery holds: mean, spread and bounds of
// power, and how closely capacity follows.
type Held struct {
	Mean     float64 `json:"mean"`
	Spread   float64 `json:"spread"`
	Low      float64 `json:"low"`
	High     float64 `json:"high"`
	Capacity float64 `json:"capacity"`
	Follows  float64 `json:"follows"`
	Least    float64 `json:"least"`
}

// Label is a battery of the fleet with its share.
type Label struct {
	Chemistry battery.Chemistry    `json:"chemistry"`
	Cranking  quantity.Amperes     `json:"cca"`
	Reserve   quantity.Minutes     `json:"reserve"`
	Capacity  quantity.AmpereHours `json:"ah"`
	Sealed    bool                 `json:"sealed"`
	For       []string             `json:"for"`
	Share     float64              `json:"share"`
}

// Vehicle is one of the fleet with its share.
type Vehicle struct {
	Kind    string           `json:"kind"`
	Engine  string           `json:"engine"`
	Litres  float64          `json:"litres"`
	Starter quantity.Amperes `json:"starter"`
	Share   float64          `json:"share"`
}

// Climate is a place with its share.
type Climate struct {
	Mean  quantity.Celsius `json:"mean"`
	Year  quantity.Celsius `json:"year"`
	Day   quantity.Celsius `json:"day"`
	Share float64          `json:"share"`
}

// FleetNames lists the fleets that ship.
func FleetNames() []string { return []string{"standard", "stress", "winter"} }

// Load reads one of the fleets that ship.
func Load(name string) (Fleet, error) {
	if !slices.Contains(FleetNames(), name) {
		return Fleet{}, fmt.Errorf("no fleet %q; there are %v", name, FleetNames())
	}
	f, err := read("standard", Fleet{})
	if err != nil || name == "standard" {
		return f, err
	}
	// Another fleet says only what differs.
	return read(name, f)
}

func read(name string, f Fleet) (Fleet, error) {
	data, err := fleets.ReadFile("fleet_" + name + ".json")
	if err != nil {
		return f, err
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&f); err != nil {
		return f, fmt.Errorf("fleet %s: %w", name, err)
	}
	return f, nil
}

// truth is one virtual vehicle.
type truth struct {
	main    string
	also    []string
	good    bool
	battery twin.Source
	car     *twin.Car
	vehicle Vehicle
	label   Label
	// typed is the label as it was typed in.
	typed    battery.Label
	symptom  string
	age      float64
	asOf     string
	air      quantity.Celsius
	week     twin.Week
	leftOn   float64
	standing float64
	arrived  float64 // percent of charge
	seen     []string
	power    float64
	capacity float64
	// acid is how far its acid is off the usual, in specific gravity.
	acid float64
	// day of the year and climate in which it drives on, design the model of its label;
	// topped says that its owner puts it on a charger every so often.
	day     float64
	climate twin.Climate
	design  *twin.Design
	topped  bool
}

// pick draws a key by its share, in the order of the keys.
func pick(r *rand.Rand, shares map[string]float64) string {
	keys := make([]string, 0, len(shares))
	sum := 0.0
	for k, x := range shares {
		keys = append(keys, k)
		sum += x
	}
	slices.Sort(keys)
	// Summed in order, so that the same seed draws the same.
	sum = 0
	for _, k := range keys {
		sum += shares[k]
	}
	x := r.Float64() * sum
	for _, k := range keys {
		if x -= shares[k]; x < 0 {
			return k
		}
	}
	return keys[len(keys)-1]
}

func pickOf[T any](r *rand.Rand, list []T, share func(T) float64) T {
	sum := 0.0
	for _, x := range list {
		sum += share(x)
	}
	at := r.Float64() * sum
	for _, x := range list {
		if at -= share(x); at < 0 {
			return x
		}
	}
	return list[len(list)-1]
}

// within draws a normal figure between bounds.
func within(r *rand.Rand, mean, spread, low, high float64) float64 {
	for range 50 {
		if x := mean + spread*r.NormFloat64(); x >= low && x <= high {
			return x
		}
	}
	return math.Min(math.Max(mean, low), high)
}

func between(r *rand.Rand, low, high float64) float64 { return low + (high-low)*r.Float64() }

// logNormal draws a figure about a middle by its logarithm.
func logNormal(r *rand.Rand, middle, sigma float64) float64 {
	return middle * math.Exp(sigma*r.NormFloat64())
}

// batteryFaults are the main faults of the battery itself.
var batteryFaults = []string{"worn", "dead_cell", "damaged"}

// BatteryFaults are the causes with which the battery itself goes.
func BatteryFaults() []string { return slices.Clone(batteryFaults) }

// draw makes one vehicle. The battery's own fault outranks any other: where a bad
// battery stands beside another fault, it is marked as the main one.
func (f *Fleet) draw(r *rand.Rand, designs *twin.Designs) truth {
	t := truth{main: pick(r, f.Main)}
	t.vehicle = pickOf(r, f.Vehicles, func(v Vehicle) float64 { return v.Share })
	for f.impossible(t.main, t.vehicle) {
		t.main = pick(r, f.Main)
	}
	t.label = pickOf(r, f.Labels, func(l Label) float64 {
		if slices.Contains(l.For, t.vehicle.Kind) && l.Cranking >= turnsWith*t.vehicle.Starter {
			return l.Share
		}
		return 0
	})
	t.symptom = pick(r, f.Symptoms[t.main])
	if t.electric() && slices.Contains(crankSymptoms, t.symptom) {
		// Nothing cranks by the small battery: it shows otherwise.
		t.symptom = []string{"odd_warnings", "locked_out", "silent"}[r.IntN(3)]
	}
	f.beside(r, &t)
	t.age = within(r, f.AgeMean, f.AgeSpread, 0.2, 14)
	if slices.Contains(batteryFaults, t.main) {
		t.age = within(r, f.AgeMean+1.5, f.AgeSpread, 0.5, 16)
	}
	day := between(r, 0, 365)
	if f.Days[1] > 0 {
		day = math.Mod(between(r, f.Days[0], f.Days[1]), 365)
	}
	t.acid = f.Acid * r.NormFloat64()
	climate := pickOf(r, f.Climates, func(c Climate) float64 { return c.Share })
	t.day, t.climate = day, twin.Climate{Mean: climate.Mean, Year: climate.Year, Day: climate.Day}
	t.air = t.climate.From(day)(9)
	t.asOf = dateOf(day)
	f.build(r, &t, designs)
	f.wire(r, &t)
	f.look(r, &t)
	return t
}

// turnsWith is the least rating a vehicle's maker fits, for each ampere that its starter takes
// to turn the warm engine. Value from memory.
const turnsWith = 1.9

// crankSymptoms are complaints of a vehicle that is cranked.
var crankSymptoms = []string{"slow_crank", "cold_only", "rapid_click", "single_click", "lights_no_crank", "cranks_no_start"}

func (t *truth) electric() bool { return t.vehicle.Kind == "hybrid" || t.vehicle.Kind == "electric" }

// dateOf is a date of the year of the study.
func dateOf(day float64) string {
	month := min(int(day/365*12), 11) + 1
	return fmt.Sprintf("2026-%02d-15", month)
}

// impossible reports a fault a vehicle cannot have.
func (f *Fleet) impossible(fault string, v Vehicle) bool {
	electric := v.Kind == "hybrid" || v.Kind == "electric"
	switch fault {
	case "dcdc_fault":
		return !electric
	case "undercharging", "starter_drag", "engine_fault", "over_cranking":
		return electric
	}
	return false
}

// beside adds what stands beside the main fault.
func (f *Fleet) beside(r *rand.Rand, t *truth) {
	keys := make([]string, 0, len(f.Beside))
	for k := range f.Beside {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	if t.main == "nothing_wrong" {
		return
	}
	for _, k := range keys {
		if k != t.main && r.Float64() < f.Beside[k] && !f.impossible(k, t.vehicle) {
			t.also = append(t.also, k)
		}
	}
	for tries := 0; len(t.also) < f.Extra && tries < 50; tries++ {
		k := keys[r.IntN(len(keys))]
		if k != t.main && !slices.Contains(t.also, k) && !f.impossible(k, t.vehicle) && !slices.Contains(batteryFaults, k) {
			t.also = append(t.also, k)
		}
	}
	for _, k := range t.also {
		if slices.Contains(batteryFaults, k) && !slices.Contains(batteryFaults, t.main) {
			t.also = append(slices.DeleteFunc(t.also, func(x string) bool { return x == k }), t.main)
			t.main = k
			return
		}
	}
}

func (t *truth) has(fault string) bool { return t.main == fault || slices.Contains(t.also, fault) }

// build makes the battery: sound, worn, with a bad cell or damaged.
func (f *Fleet) build(r *rand.Rand, t *truth, designs *twin.Designs) {
	c := f.condition(r, t)
	t.typed = t.label.label()
	arrival := f.Arrival[t.main]
	for _, k := range t.also {
		if a, ok := f.Arrival[k]; ok && a[1] < arrival[1] {
			arrival = a
		}
	}
	t.arrived = between(r, arrival[0], arrival[1])
	if f.Model == "plain" {
		p := newPlain(r, t.label, c, t.arrived, t.air)
		t.battery, t.power, t.capacity = p, p.power(), p.reserve()
	} else {
		design, _ := designs.Of(t.label.label())
		t.design = design
		b := design.New(c, t.arrived, t.air)
		if c.Odd != nil && c.Odd.Shunt > 0 {
			b.RestOdd(math.Max(0, t.arrived-between(r, 40, 100)))
		}
		t.battery, t.power, t.capacity = &b, b.CrankingPower(), b.ReserveShare()
	}
	t.good = t.power >= leastPower && t.capacity >= leastCapacity
	// A battery that turned out good or bad is marked as what it is.
	if t.good && t.main == "worn" {
		t.main = "discharged_sound"
	} else if !t.good && !slices.Contains(batteryFaults, t.main) {
		t.also, t.main = append(t.also, t.main), "worn"
	}
	if r.Float64() < f.WrongRating {
		wrong := quantity.Amperes(math.Round(float64(t.label.Cranking) * []float64{0.8, 1.25}[r.IntN(2)]))
		t.typed.Rating.Value = wrong
	}
	if r.Float64() < f.AgeKnown {
		t.typed.Made = fmt.Sprintf("%d", 2026-int(math.Round(t.age)))
	}
}

// What a battery's owner needs of it: shares of the label.
const (
	leastPower    = 0.70
	leastCapacity = 0.60
)

func (l Label) label() battery.Label {
	ah, reserve, sealed := l.Capacity, l.Reserve, l.Sealed
	return battery.Label{
		Chemistry: l.Chemistry, NominalV: 12, CapacityAh: &ah, ReserveMin: &reserve, Sealed: &sealed,
		Rating: &battery.Rating{Value: l.Cranking, Standard: battery.SAE},
	}
}

func (f *Fleet) condition(r *rand.Rand, t *truth) twin.Condition {
	switch t.main {
	case "worn":
		h := f.Worn
		c := twin.Condition{Health: within(r, h.Mean, h.Spread, h.Low, h.High)}
		if r.Float64() < f.LostCapacity {
			c.Health = between(r, 0.74, 1)
			c.Capacity = between(r, h.Least, leastCapacity)
		} else {
			c.Capacity = h.capacityOf(r, c.Health)
		}
		c.Sulphation = between(r, 0, 0.6)
		return c
	case "dead_cell":
		c := f.sound(r)
		c.Odd = &twin.Cell{Health: c.Health, Capacity: c.Capacity}
		switch pick(r, f.BadCell) {
		case "shorted":
			c.Odd.Shorted = true
		case "leaking":
			c.Odd.Shunt = quantity.Ohms(logNormal(r, 0.35, 0.5))
			c.Odd.Capacity = 0.8 * c.Capacity
		case "weak":
			c.Odd.Capacity = between(r, 0.12, 0.5)
		}
		return c
	case "damaged":
		x := between(r, 0.1, 0.9)
		return twin.Condition{Health: x, Capacity: between(r, 0.1, 0.58), Sulphation: between(r, 0, 0.5)}
	}
	return f.sound(r)
}

func (f *Fleet) sound(r *rand.Rand) twin.Condition {
	h := f.Sound
	c := twin.Condition{Health: within(r, h.Mean, h.Spread, h.Low, h.High), Sulphation: between(r, 0, 0.2)}
	c.Capacity = h.capacityOf(r, c.Health)
	return c
}

// capacityOf is a capacity that follows the power more or less closely.
func (h Held) capacityOf(r *rand.Rand, health float64) float64 {
	mean := h.Follows*health + (1-h.Follows)*h.Capacity
	return within(r, mean, h.Spread, h.Least, 1.1)
}

// wire makes the vehicle with its faults.
func (f *Fleet) wire(r *rand.Rand, t *truth) {
	car := &twin.Car{
		Circuit: twin.InOrder.For(t.vehicle.Starter),
		Starter: twin.Starter{Amps: quantity.Amperes(logNormal(r, float64(t.vehicle.Starter), 0.15)), Drag: logNormal(r, 1, 0.1), Fires: true},
		Alternator: twin.Alternator{
			Volts: quantity.Volts(within(r, 14.3, 0.2, 13.7, 14.75)), Amps: 90, Ripple: quantity.Volts(logNormal(r, 0.04, 0.4)),
		},
		Asleep: quantity.Amperes(logNormal(r, 0.018, 0.45)),
		Awake:  quantity.Amperes(logNormal(r, 2, 0.6)), SleepMinutes: quantity.Minutes(between(r, 2, 28)),
		Leak: quantity.Volts(logNormal(r, 0.04, 0.7)),
	}
	car.Asleep = min(car.Asleep, 0.048)
	if t.electric() {
		car.Starter.Amps = 0
	}
	car.Leak = min(car.Leak, 0.19)
	t.car, t.week = car, twin.Week{Trips: math.Round(between(r, 6, 16)), Minutes: math.Round(between(r, 18, 50))}
	for _, fault := range append([]string{t.main}, t.also...) {
		f.putFault(r, t, fault)
	}
}

// jointPlaces are where a joint goes bad, and how often.
var jointPlaces = map[string]float64{
	"positive_clamp": 0.25, "negative_clamp": 0.28, "ground_strap": 0.22, "positive_cable": 0.08, "negative_cable": 0.10, "starter_stud": 0.07,
}

// putFault puts one fault into the vehicle.
func (f *Fleet) putFault(r *rand.Rand, t *truth, fault string) {
	car := t.car
	switch fault {
	case "poor_connection":
		*car.Circuit.Part(pick(r, jointPlaces)) = quantity.Ohms(math.Max(0.0018, logNormal(r, 0.007, 0.9)))
	case "undercharging":
		car.Alternator.Volts = quantity.Volts(between(r, 12.4, 13.35))
		car.Alternator.Dead = r.Float64() < 0.4
		if r.Float64() < 0.3 {
			car.Alternator.Ripple = quantity.Volts(between(r, 0.3, 1.2))
		}
	case "dcdc_fault":
		car.Alternator.Volts = quantity.Volts(between(r, 12.2, 13.1))
		car.Alternator.Dead = r.Float64() < 0.6
	case "overcharging":
		car.Alternator.Volts = quantity.Volts(between(r, 15.2, 16.5))
	case "parasitic_drain":
		car.Asleep = quantity.Amperes(math.Max(0.065, logNormal(r, 0.25, 0.8)))
	case "accessory_left_on":
		t.leftOn = math.Round(between(r, 3, 40))
	case "short_trips":
		t.week = twin.Week{Trips: math.Round(between(r, 1, 5)), Minutes: math.Round(between(r, 2, 9))}
	case "storage":
		t.standing = math.Round(between(r, 35, 200))
	case "case_leakage":
		car.Leak = quantity.Volts(between(r, 0.4, 5))
	case "starter_drag":
		car.Starter.Drag = between(r, 1.6, 3)
	case "engine_fault":
		car.Starter.Fires = false
	case "key_or_interlock":
		car.Starter.Open = true
	}
}

// look draws what the eye finds.
func (f *Fleet) look(r *rand.Rand, t *truth) {
	keys := make([]string, 0, len(f.Seen))
	for k := range f.Seen {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	of := map[string]string{
		"corrosion": "poor_connection", "clamp_loose": "poor_connection", "dirty_top": "case_leakage", "belt": "undercharging",
		"wet_vents": "overcharging",
		"crack":     "damaged", "bulge": "damaged",
	}
	for _, k := range keys {
		share := f.Seen[k][1]
		if t.has(of[k]) {
			share = f.Seen[k][0]
		}
		if r.Float64() < share {
			t.seen = append(t.seen, k)
		}
	}
}

// vehicleOf is the vehicle as the case has it.
func (t *truth) vehicleOf() evidence.Vehicle {
	litres := t.vehicle.Litres
	v := evidence.Vehicle{Kind: t.vehicle.Kind, Engine: t.vehicle.Engine}
	if litres > 0 {
		v.Litres = &litres
	}
	return v
}
