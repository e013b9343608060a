package procedure

import (
	"fmt"
	"slices"
	"strings"
)

// Sitting is what an order is written for. Vehicle is how the battery sits; the others stand
// where they make a difference.
type Sitting struct {
	Vehicle string `json:"vehicle"`
	// Earth is the side that lies on the body, where it may be either: negative or positive.
	Earth string `json:"earth,omitempty"`
	// With is what a vehicle is jumped with: vehicle, pack or charger.
	With string `json:"with,omitempty"`
	// Where is in_vehicle or bench.
	Where string `json:"where,omitempty"`
	// By is how a lead is joined: clips, socket, rings or clamps; or how a locked car is
	// opened: blade, front_post or outside_lead.
	By string `json:"by,omitempty"`
	// Bypass of a switch is fused or none.
	Bypass string `json:"bypass,omitempty"`
}

// settingKeys are the fields of a setting.
var settingKeys = []settingKey{
	{"vehicle", func(s *Sitting) *string { return &s.Vehicle }},
	{"earth", func(s *Sitting) *string { return &s.Earth }},
	{"with", func(s *Sitting) *string { return &s.With }},
	{"where", func(s *Sitting) *string { return &s.Where }},
	{"by", func(s *Sitting) *string { return &s.By }},
	{"bypass", func(s *Sitting) *string { return &s.Bypass }},
}

type settingKey struct {
	name string
	of   func(*Sitting) *string
}

// codes are what the field may be among some settings.
func (k settingKey) codes(settings []Sitting) []string {
	var out []string
	for _, s := range settings {
		if code := *k.of(&s); code != "" && !slices.Contains(out, code) {
			out = append(out, code)
		}
	}
	return out
}

// String is the setting in one line.
func (s Sitting) String() string {
	var parts []string
	for _, key := range settingKeys {
		if code := *key.of(&s); code != "" {
			parts = append(parts, key.name+" "+code)
		}
	}
	return strings.Join(parts, ", ")
}

func settingNames(settings []Sitting) []string {
	out := make([]string, len(settings))
	for i, s := range settings {
		out[i] = s.String()
	}
	return out
}

// Schools of the last clamp, and of the grease.
const (
	SchoolBody = "body"
	SchoolPost = "post"
	// Over the finished joint, or on the post before.
	GreaseOver   = "grease_over"
	GreaseBefore = "grease_before"
)

// Listed is one procedure with what it can be shown for. The first of each is the default.
type Listed struct {
	Name     string    `json:"name"`
	Settings []Sitting `json:"settings"`
	Schools  []string  `json:"schools"`
	People   []int     `json:"people"`
}

// procedure is one of them as it is written here.
type procedure struct {
	name    string
	schools []string
	people  []int
	// settings of a rig, none where the procedure makes no sense on it.
	settings func(rig) []Sitting
	write    func(o *order, s Sitting, way string, people int)
}

var (
	one    = []int{1}
	oneTwo = []int{1, 2}
	clamps = []string{SchoolBody, SchoolPost}
	grease = []string{GreaseOver, GreaseBefore}
)

// procedures are all there are, in the order of the contract.
func procedures() []procedure {
	return []procedure{
		{"jump", clamps, oneTwo, jumpSettings, writeJump},
		{"charge", clamps, one, chargeSettings, writeCharge},
		{"wake_charger", nil, one, wakeSettings, writeWake},
		{"clean_in_place", grease, one, inVehicle, writeCleanInPlace},
		{"clean_out", grease, one, cleanOutSettings, writeCleanOut},
		{"replace", nil, one, replaceSettings, writeReplace},
		{"keep_alive", nil, one, keepAliveSettings, writeKeepAlive},
		{"maintainer", clamps, one, maintainerSettings, writeMaintainer},
		{"maintainer_by_socket", nil, one, socketSettings, writeSocket},
		{"disconnect_switch", nil, one, switchSettings, writeSwitch},
		{"drain_in_series", nil, one, drainSettings, writeDrain},
		{"load_test", nil, one, loadSettings, writeLoad},
		{"open_locked", nil, one, lockedSettings, writeLocked},
	}
}

// Names lists them.
func Names() []string {
	var out []string
	for _, p := range procedures() {
		out = append(out, p.name)
	}
	return out
}

func (p procedure) listed() Listed {
	l := Listed{p.name, []Sitting{}, []string{}, p.people}
	l.Schools = append(l.Schools, p.schools...)
	for _, r := range rigs {
		for _, setting := range p.settings(r) {
			if !r.either {
				l.Settings = append(l.Settings, setting)
				continue
			}
			for _, earth := range []string{Negative, Positive} {
				setting.Earth = earth
				l.Settings = append(l.Settings, setting)
			}
		}
	}
	return l
}

// List is what there is to be shown.
func List() []Listed {
	var out []Listed
	for _, p := range procedures() {
		out = append(out, p.listed())
	}
	return out
}

func listed(name string) (Listed, bool) {
	p, ok := find(name)
	if !ok {
		return Listed{}, false
	}
	return p.listed(), true
}

func find(name string) (procedure, bool) {
	all := procedures()
	i := slices.IndexFunc(all, func(p procedure) bool { return p.name == name })
	if i < 0 {
		return procedure{}, false
	}
	return all[i], true
}

// Unsafe is an order of ours that the checker objects to: a fault of ours, never shown.
type Unsafe struct {
	Ask        Ask
	Objections []Objection
}

// Error names the order and what is said of it.
func (u Unsafe) Error() string {
	return fmt.Sprintf("procedure %s for %s is not safe: %v", u.Ask.Name, u.Ask.Setting, u.Objections)
}

// Show writes an order, once the checker has found it safe.
func Show(a Ask) (Written, error) {
	w, ok := write(a)
	if !ok {
		return Written{}, fmt.Errorf("procedure %q is not known", a.Name)
	}
	if v := Check(w.Scene, w.Steps); !v.Safe {
		return Written{}, Unsafe{a, v.Objections}
	}
	return w, nil
}

func write(a Ask) (Written, bool) {
	p, ok := find(a.Name)
	if !ok {
		return Written{}, false
	}
	o := newOrder(rigOf(a.Setting), a.School)
	if o.feed = feedMinutes; a.Feed != nil && *a.Feed >= 1 {
		o.feed = *a.Feed
	}
	o.torque = a.Torque
	p.write(o, a.Setting, a.School, max(1, a.People))
	return o.written(), true
}

const (
	inPlace = "in_vehicle"
	onBench = "bench"
)

// inVehicle is every rig with a vehicle around it, whose battery can be reached.
func inVehicle(r rig) []Sitting {
	if r.alone {
		return nil
	}
	return []Sitting{{Vehicle: r.code}}
}
