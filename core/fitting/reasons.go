package fitting

import (
	"slices"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/wording"
)

// Codes of reasons that the order of the list hangs on.
const (
	ratingLow   = "rating_low"
	oldStock    = "old_stock"
	chargeFirst = "charge_first"
)

// weight is what a reason does to the verdict.
type weight int

const (
	absent weight = iota
	// noted is told and forbids nothing.
	noted
	// needs something besides: another hold-down, a moved elbow, a look.
	needs
	forbids
)

// facts are a battery of the stock beside what is needed.
type facts struct {
	ask    *Ask
	need   *Need
	item   *Item
	margin *charging.Estimate
	cold   *charging.Estimate
	// never tells that it does not start this engine in any weather.
	never bool
}

// rule is one reason, with what it does to the verdict.
type rule struct {
	code   string
	weighs func(*facts) (weight, wording.Values)
}

// rules are in the order in which reasons are told.
var rules = []rule{
	{"voltage_differs", voltage},
	{"chemistry_lower", chemistryLower},
	{"chemistry_differs", chemistryDiffers},
	{"deep_cycle_differs", deepCycle},
	{"too_long", tooLarge(func(b Box) *float64 { return b.Length })},
	{"too_wide", tooLarge(func(b Box) *float64 { return b.Width })},
	{"too_high", tooLarge(func(b Box) *float64 { return b.Height })},
	{"size_larger_case_ok", larger},
	{"layout_swapped", layout},
	{"terminal", terminal},
	{"hold_down", holdDown},
	{"vent", vent},
	{"not_known", notKnown},
	{ratingLow, rating},
	{"rating_by_conversion", converted},
	{"reserve_low", reserve},
	{"pair_differs", pair},
	{oldStock, old},
	{chargeFirst, charge},
}

// judge lists every reason that holds, what decides first, and what they come to.
func (f *facts) judge() judged {
	out := judged{Candidate: Candidate{ID: f.item.ID, Verdict: Fits, Reasons: []wording.Statement{}}, item: f.item, held: map[string]bool{}}
	out.RatingMargin, out.ColdStart = f.margin, f.cold
	byWeight := map[weight][]wording.Statement{}
	for _, r := range rules {
		if w, values := r.weighs(f); w != absent {
			out.held[r.code] = true
			byWeight[w] = append(byWeight[w], wording.Say("fit."+r.code, values))
		}
	}
	for _, w := range []weight{forbids, needs, noted} {
		out.Reasons = append(out.Reasons, byWeight[w]...)
	}
	switch {
	case len(byWeight[forbids]) > 0:
		out.Verdict = No
	case len(byWeight[needs]) > 0:
		out.Verdict = FitsWith
	}
	// A new battery is tested before it goes in, always: common practice, no source.
	out.TestFirst = true
	return out
}

func when(holds bool, w weight, values wording.Values) (weight, wording.Values) {
	if !holds {
		return absent, nil
	}
	return w, values
}

func voltage(f *facts) (weight, wording.Values) {
	is, was := f.item.Label.NominalV, f.need.Original.NominalV
	return when(is != was, forbids, wording.Values{"is": is, "was": was})
}

// grade orders the chemistries that stand in for each other: what takes more starts and
// deeper cycles stands higher. Common practice, no source.
var grade = map[battery.Chemistry]int{battery.Flooded: 1, battery.EFB: 2, battery.AGM: 3}

// startStop reports a vehicle that stops its engine by itself: as it is said, or by the
// chemistry it came with.
func startStop(n *Need) bool { return n.Vehicle.StartsAndStops() }

// leastChemistry is the least that may go in.
func leastChemistry(n Need) battery.Chemistry {
	was := n.Original.Chemistry
	if startStop(&n) && grade[was] < grade[battery.EFB] && was != battery.Gel {
		return battery.EFB
	}
	return was
}

// chemistryLower: start-stop takes the same or better, and what came sealed against spilling
// is not followed by what spills. Without start-stop a plain one in place of an enhanced
// flooded one only wears sooner.
func chemistryLower(f *facts) (weight, wording.Values) {
	is, least := f.item.Label.Chemistry, leastChemistry(*f.need)
	values := wording.Values{"is": string(is), "least": string(least), "why": "lower_spills"}
	switch {
	case least == battery.Gel:
		return when(is == battery.Flooded || is == battery.EFB, forbids, values)
	case grade[is] == 0 || grade[is] >= grade[least]:
		return absent, nil
	case least == battery.AGM && !startStop(f.need):
		return forbids, values
	}
	values["why"] = "lower_wears"
	if f.need.Vehicle.StartStop != nil && !startStop(f.need) {
		return needs, values
	}
	return forbids, values
}

// chemistryDiffers: never lithium for lead nor lead for lithium; gel takes neither the charge
// of an alternator nor a start-stop's; what is not known is no replacement. A better lead
// battery than the original is told.
func chemistryDiffers(f *facts) (weight, wording.Values) {
	is, was := f.item.Label.Chemistry, f.need.Original.Chemistry
	say := func(w weight, why string) (weight, wording.Values) {
		return w, wording.Values{"is": string(is), "was": string(was), "why": why}
	}
	switch {
	case is == battery.Unknown:
		return say(forbids, "differs_unknown")
	case is == was || grade[is] > 0 && grade[is] < grade[leastChemistry(*f.need)]:
		return absent, nil
	case is == battery.LiFePO4 || was == battery.LiFePO4:
		return say(forbids, "differs_lithium")
	case is == battery.Gel && cranks(*f.need):
		return say(forbids, "differs_gel")
	case is == battery.Gel:
		return say(needs, "differs_gel")
	case was == battery.Gel && is != battery.AGM:
		return absent, nil
	case was == battery.Gel:
		return say(needs, "differs_volts")
	case was == battery.Unknown:
		return say(needs, "differs_original")
	}
	return say(noted, "differs_better")
}

// deepCycle: one made to be drawn down starts no engine for long, and a starter battery does
// not live where it is drawn down. One that carries a cranking rating does both.
func deepCycle(f *facts) (weight, wording.Values) {
	deep := func(l battery.Label) bool { return l.DeepCycle != nil && *l.DeepCycle }
	is, was := deep(f.item.Label), deep(f.need.Original)
	switch {
	case is && !was && f.item.Label.Rating == nil:
		return forbids, wording.Values{"is": "deep_cycle"}
	case is && !was:
		return needs, wording.Values{"is": "deep_cycle"}
	case was && !is && f.item.Label.DeepCycle != nil:
		return forbids, wording.Values{"is": "starter"}
	case was && !is:
		return needs, wording.Values{"is": "starter"}
	}
	return absent, nil
}

func tooLarge(of func(Box) *float64) func(*facts) (weight, wording.Values) {
	return func(f *facts) (weight, wording.Values) {
		is, room := of(f.item.Body.Box()), of(f.need.Tray)
		if is == nil || room == nil || *is <= *room {
			return absent, nil
		}
		return forbids, wording.Values{"is": *is, "room": *room, "over": *is - *room}
	}
}

// larger: a larger case than the original that goes into the tray is no fault.
func larger(f *facts) (weight, wording.Values) {
	is, was, room := f.item.Body.Box(), f.need.Body.Box(), f.need.Tray
	over := false
	for _, side := range []struct{ is, was, room *float64 }{
		{is.Length, was.Length, room.Length}, {is.Width, was.Width, room.Width}, {is.Height, was.Height, room.Height},
	} {
		if side.is == nil || side.was == nil {
			continue
		}
		if *side.is > *side.was {
			if side.room == nil || *side.is > *side.room {
				return absent, nil
			}
			over = true
		}
	}
	return when(over, noted, wording.Values{"is": sized(f.item.Body), "was": sized(f.need.Body)})
}

// sized names a case by its size, or by its millimetres.
func sized(b Body) string {
	if b.name() != "" {
		return b.name()
	}
	return wording.Word("own_size")
}

func layout(f *facts) (weight, wording.Values) {
	is, want := f.item.Body.Layout, f.need.Body.Layout
	if is == "" || want == "" || is == want {
		return absent, nil
	}
	values := wording.Values{"is": is, "want": want, "reach": "reach_not"}
	if f.need.Reach {
		values["reach"] = "reach_said"
		return needs, values
	}
	return forbids, values
}

// terminal: an adapter is one more joint that fails, and a thin post holds no thick clamp.
func terminal(f *facts) (weight, wording.Values) {
	is, want := f.item.Body.terminal(), f.need.Body.terminal()
	return when(is != "" && want != "" && is != want, forbids, wording.Values{"is": is, "want": want})
}

// holdDown: a case without a foot cannot be held by one; one whose foot is on the other sides
// wants another clamp or a spacer. A bar or hooks over the top hold any case.
func holdDown(f *facts) (weight, wording.Values) {
	is, want := f.item.Body.HoldDown, f.need.Body.HoldDown
	values := wording.Values{"is": is, "want": want}
	foot := func(s string) bool { return strings.HasPrefix(s, "foot_") }
	switch {
	case is == "" || is == want || !foot(want), is == FootAll:
		return absent, nil
	case !foot(is):
		return forbids, values
	}
	return needs, values
}

// vent: an outlet on the other side wants its elbow and plug moved over; none at all leaves
// the gas where it must not be.
func vent(f *facts) (weight, wording.Values) {
	is, want := f.item.Body.VentSide, f.need.Body.VentSide
	values := wording.Values{"is": is, "want": want}
	switch {
	case is == "" || want == "" || want == None || is == want:
		return absent, nil
	case is == None:
		return forbids, values
	}
	return needs, values
}

// notKnown: what the vehicle wants and the shelf does not say is looked at before it goes in.
func notKnown(f *facts) (weight, wording.Values) {
	var missing []string
	is, tray := f.item.Body, f.need.Tray
	box := is.Box()
	if tray.Length != nil && box.Length == nil || tray.Width != nil && box.Width == nil || tray.Height != nil && box.Height == nil {
		missing = append(missing, wording.Word("fit_size"))
	}
	want := f.need.Body
	for _, one := range []struct{ word, is, want string }{
		{"fit_layout", is.Layout, want.Layout}, {"fit_terminal", is.terminal(), want.terminal()},
		{"fit_hold_down", is.HoldDown, strings.TrimPrefix(want.HoldDown, None)}, {"fit_vent", is.VentSide, strings.TrimPrefix(want.VentSide, None)},
	} {
		overTop := one.word == "fit_hold_down" && (one.want == TopBar || one.want == Hooks)
		if one.want != "" && one.is == "" && !overTop {
			missing = append(missing, wording.Word(one.word))
		}
	}
	unrated := f.need.Original.Rating != nil || f.need.Vehicle.RequiredCCA != nil
	if unrated && f.item.Label.Rating == nil && cranks(*f.need) {
		missing = append(missing, wording.Word("fit_rating"))
	}
	return when(len(missing) > 0, needs, wording.Values{"what": strings.Join(missing, ", ")})
}

// farBelow is the share of the original's rating under which a new battery is no
// replacement: there a worn one is already watched. Common practice, no source.
const farBelow = 0.80

// rating: what is less than the original's, than the vehicle requires, or than the coldest
// morning asks. Little less is told; far less, or surely under what is required, forbids.
func rating(f *facts) (weight, wording.Values) {
	values := wording.Values{"what": "", "why": "rating_original"}
	if f.margin != nil {
		values["share"] = f.margin.Value * full
		values["what"] = wording.Text("fit_share", values) + " "
	}
	worst := absent
	at := func(holds bool, w weight, why string) {
		if holds && w > worst {
			worst = w
			values["why"] = why
		}
	}
	if m := f.margin; m != nil {
		at(m.Value < 1, needs, "rating_original")
		at(m.High < farBelow, forbids, "rating_far")
	}
	if need, has := f.need.Vehicle.RequiredCCA, f.item.Label.Rating; need != nil && has != nil {
		sae := has.SAE()
		at(sae.SAE < *need, needs, "rating_required")
		at(sae.High < *need, forbids, "rating_required")
	}
	at(f.never, forbids, "rating_never")
	if c := f.need.Coldest; c != nil && f.cold != nil {
		at(f.cold.Value > *c, needs, "rating_cold")
		at(f.cold.Low > *c, forbids, "rating_cold")
	}
	return worst, values
}

func converted(f *facts) (weight, wording.Values) {
	is, was := f.item.Label.Rating, f.need.Original.Rating
	if is == nil || was == nil || is.Standard == was.Standard {
		return absent, nil
	}
	value := f.margin.Value * float64(was.Value)
	return noted, wording.Values{
		"amps": is.Value, "from": string(is.Standard), "to": string(was.Standard), "value": value,
		"low": f.margin.Low * float64(was.Value), "high": f.margin.High * float64(was.Value),
	}
}

// reserve: less of what is drawn slowly. Where no engine is started by it, that is all there
// is to it.
func reserve(f *facts) (weight, wording.Values) {
	is, was, ok := slow(f.item.Label, f.need.Original)
	if !ok || is >= was {
		return absent, nil
	}
	w := noted
	if !cranks(*f.need) {
		w = needs
	}
	if is/was < farBelow && !cranks(*f.need) {
		w = forbids
	}
	return w, wording.Values{"share": is / was * full}
}

// slow is what two batteries give slowly, in the same unit: ampere-hours where both labels
// carry them, else minutes, else what they are converted to.
func slow(now, old battery.Label) (is, was float64, ok bool) {
	switch {
	case now.CapacityAh != nil && old.CapacityAh != nil:
		return float64(*now.CapacityAh), float64(*old.CapacityAh), true
	case now.ReserveMin != nil && old.ReserveMin != nil:
		return float64(*now.ReserveMin), float64(*old.ReserveMin), true
	}
	a, okA := now.Capacity()
	b, okB := old.Capacity()
	// A conversion counts only where it does not hang on its own band.
	return a.High, b.Value, okA && okB && a.High < b.Value
}

// several reports that this is one of several that share the current.
func several(n Need) bool {
	system := n.Vehicle.SystemV
	return n.Original.Position != "" || system != nil && float64(*system) > float64(n.Original.NominalV)
}

// pair: batteries that share a current are of the same kind and age, so all are changed for
// alike ones. With a second alike on the shelf that can be done.
func pair(f *facts) (weight, wording.Values) {
	switch partner := f.need.Partner; {
	case !several(*f.need), partner == nil && alike(f.item.Label, f.need.Original) && fresh(f), partner != nil && alike(f.item.Label, *partner):
		return absent, nil
	case partner != nil:
		return forbids, wording.Values{"with": "pair_other"}
	}
	others := slices.ContainsFunc(f.ask.Stock, func(o Item) bool {
		return o.ID != f.item.ID && alike(o.Label, f.item.Label) && o.Body.name() == f.item.Body.name()
	})
	if others {
		return needs, wording.Values{"with": "pair_both"}
	}
	return forbids, wording.Values{"with": "pair_one"}
}

func alike(a, b battery.Label) bool {
	same := a.Chemistry == b.Chemistry && a.NominalV == b.NominalV
	if a.Rating != nil && b.Rating != nil {
		same = same && *a.Rating == *b.Rating
	}
	if a.CapacityAh != nil && b.CapacityAh != nil {
		same = same && *a.CapacityAh == *b.CapacityAh
	}
	return same
}

// fresh reports an original that is about as new as the one that would stand beside it.
func fresh(f *facts) bool {
	_, known := madeAt(f.need.Original.Made)
	return known && !beyond(f.need.Original.Made, oldMonths, f.ask.Today)
}

// Stock is old beyond oldMonths, and charged again after chargeMonths. Common practice, no
// source.
const (
	oldMonths    = 6
	chargeMonths = 3
)

const yearMonths = 12

// madeAt is the likely day of a month it was made in, its middle; false where it is not known.
// A year alone counts from its end, so that nothing is called old that may not be.
func madeAt(made string) (time.Time, bool) {
	if len(made) == len("2026") {
		made += "-12"
	}
	at, err := time.Parse("2006-01", made)
	return at.AddDate(0, 0, middleOfMonth), err == nil
}

// middleOfMonth is how many days a month has run at its middle.
const middleOfMonth = 14

// beyond reports that more than so many months have gone since a month it was made in.
func beyond(made string, months int, today time.Time) bool {
	at, ok := madeAt(made)
	return ok && !today.IsZero() && at.AddDate(0, months, 0).Before(today)
}

// months since it was made, by the calendar; false where that is not known.
func months(made string, today time.Time) (int, bool) {
	at, ok := madeAt(made)
	if !ok || today.IsZero() {
		return 0, false
	}
	return (today.Year()-at.Year())*yearMonths + int(today.Month()-at.Month()), true
}

func old(f *facts) (weight, wording.Values) {
	age, _ := months(f.item.made(), f.ask.Today)
	return when(beyond(f.item.made(), oldMonths, f.ask.Today), noted, wording.Values{"months": float64(age)})
}

// charge: what has stood for a quarter of a year since its last charge, or since it was made.
func charge(f *facts) (weight, wording.Values) {
	since := f.item.Charged
	if since == nil {
		return when(beyond(f.item.made(), chargeMonths, f.ask.Today), noted, wording.Values{"since": f.item.made()})
	}
	return when(since.AddDate(0, chargeMonths, 0).Before(f.ask.Today), noted, wording.Values{"since": since.Format(time.DateOnly)})
}
