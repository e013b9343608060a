package procedure

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/trail"
)

// Sits is how a battery sits, as settings name it, by what is known of it and of its
// vehicle; the ordinary car for what nothing is known of. Common practice, no source.
func Sits(v evidence.Vehicle, l battery.Label, m trail.Mounting) Sitting {
	s := Sitting{Vehicle: sitsCode(v, l, m)}
	if rigOf(s).either {
		if s.Earth = Negative; v.Earth == Positive {
			s.Earth = Positive
		}
	}
	return s
}

// kindSits are the kinds of vehicle whose kind says it all.
var kindSits = map[string]string{
	"hybrid": "hybrid", "electric": "electric", "motorcycle": "motorcycle", "offroad": "offroad", "mower": "mower", "none": "bench",
}

// whereSits are the places out of reach.
var whereSits = map[string]string{trail.Boot: "car_boot", trail.UnderSeat: "car_seat", trail.WheelArch: "car_arch"}

func sitsCode(v evidence.Vehicle, l battery.Label, m trail.Mounting) string {
	switch {
	case m.Joined == trail.Bank:
		return "bank"
	case m.Joined == trail.Series && l.NominalV == 6:
		return "two_sixes"
	case m.Joined == trail.Series, l.NominalV == 24, v.SystemV != nil && *v.SystemV == 24 && v.Kind != "none":
		return "two_24v"
	case m.Joined == trail.Parallel:
		return "two_parallel"
	case v.Kind == "hybrid" && v.Cranks12V != nil && *v.Cranks12V && m.Where == "":
		return "start_stop"
	}
	if code, ok := kindSits[v.Kind]; ok {
		return code
	}
	switch {
	case l.NominalV == 6:
		return "classic_6v"
	case l.NominalV == 8:
		return "tractor_8v"
	case v.Kind == "classic", v.Kind == "tractor", v.Earth == Positive:
		return "classic_12v"
	}
	if code, ok := whereSits[m.Where]; ok {
		return code
	}
	switch {
	case m.Posts == trail.SidePosts:
		return "car_side"
	case v.StartsAndStops():
		return "start_stop"
	}
	return "car"
}

// For are the settings of a procedure for how a battery sits, the ordinary one first; none
// where the procedure makes no sense on it.
func For(name string, sits Sitting) []Sitting {
	l, ok := listed(name)
	if !ok {
		return nil
	}
	return slices.DeleteFunc(l.Settings, func(s Sitting) bool { return s.Vehicle != sits.Vehicle || s.Earth != sits.Earth })
}
