package fitting

import (
	"io"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/trail"
)

// Terminal kinds, hold-downs and vent sides.
const (
	Top   = "top"
	Side  = "side"
	Screw = "screw"
	Small = "small"

	FootLong  = "foot_long"
	FootShort = "foot_short"
	FootAll   = "foot_all"
	TopBar    = "top_bar"
	Hooks     = "hooks"
	None      = "none"

	Left  = "left"
	Right = "right"
)

// TerminalKinds, HoldDowns and VentSides list the codes of their fields.
func TerminalKinds() []string { return []string{Top, Side, Screw, Small} }

// HoldDowns are what a case is held by.
func HoldDowns() []string { return []string{FootLong, FootShort, FootAll, TopBar, Hooks, None} }

// VentSides are where the gas leaves, seen as Layouts are.
func VentSides() []string { return []string{Left, Right, None} }

// Body is what a case looks like from outside. Empty and nil are not known.
type Body struct {
	// Group is a North American size, Case a European one.
	Group string `json:"group"`
	Case  string `json:"case"`
	// Millimetres of the case as it was measured; they go before those of its size.
	LengthMM *float64 `json:"length_mm"`
	WidthMM  *float64 `json:"width_mm"`
	HeightMM *float64 `json:"height_mm"`
	Layout   string   `json:"layout"`
	Terminal string   `json:"terminal"`
	HoldDown string   `json:"hold_down"`
	VentSide string   `json:"vent_side"`
}

// size is the size a body is named by.
func (b Body) size() (Size, bool) {
	if b.Case != "" {
		return FindSize(b.Case)
	}
	return FindSize(b.Group)
}

// name is that of the size, empty for none.
func (b Body) name() string { return b.Case + b.Group }

// Box is length, width and height in millimetres; nil for what is not known.
type Box struct {
	Length *float64 `json:"length_mm"`
	Width  *float64 `json:"width_mm"`
	Height *float64 `json:"height_mm"`
}

// Box is the case as it was measured, or as its size has it.
func (b Body) Box() Box {
	box := Box{b.LengthMM, b.WidthMM, b.HeightMM}
	if s, ok := b.size(); ok {
		for _, side := range []struct {
			to   **float64
			from float64
		}{{&box.Length, s.Length}, {&box.Width, s.Width}, {&box.Height, s.Height}} {
			if *side.to == nil {
				from := side.from
				*side.to = &from
			}
		}
	}
	return box
}

// terminal is its kind, by its size where it does not say.
func (b Body) terminal() string {
	if s, ok := b.size(); ok && b.Terminal == "" {
		switch {
		case s.Side:
			return Side
		case s.Slim:
			return Small
		}
	}
	return b.Terminal
}

// Need is what a battery has to match. What is nil or empty is not judged.
type Need struct {
	Original battery.Label
	// Body is the original's size with the layout, terminal, hold-down and vent that the
	// vehicle wants.
	Body Body
	Tray Box
	// Reach says that the cables reach a swapped layout.
	Reach   bool
	Vehicle evidence.Vehicle
	// Partner is a new battery that it will share the current with; nil for none.
	Partner *battery.Label
	// Mounting is how the original sits, where that is known.
	Mounting trail.Mounting
	// Coldest is the coldest morning it has to start on, °C.
	Coldest *float64
}

// Item is one battery of the stock.
type Item struct {
	ID    string
	Label battery.Label
	Body  Body
	// Made is YYYY-MM, Charged when it was charged last; empty and nil are not known.
	Made    string
	Charged *time.Time
	// Price in the shop's currency.
	Price *float64
}

// made is when it was made by the shelf's own note, else by its label.
func (i Item) made() string {
	if i.Made != "" {
		return i.Made
	}
	return i.Label.Made
}

// Ask is what is to be fitted, and from what.
type Ask struct {
	Need  Need
	Stock []Item
	Today time.Time
}

// Ranges of what is asked, LeastMM and MostMM in millimetres, LeastColdest and
// MostColdest in degrees Celsius: plausibility
// only (common practice, no source).
const (
	LeastMM      = 20
	MostMM       = 1200
	LeastColdest = -50
	MostColdest  = 40
	mostPrice    = 1_000_000
	mostID       = 60
	mostStock    = 5000
)

const (
	dateForm  = "a date as 2026-11-24"
	monthForm = "a month as 2026-08"
)

// Decode reads what is to be fitted as JSON. Every problem is listed with the path of its
// field.
func Decode(in io.Reader) (Ask, error) {
	o, err := field.Read(in, "fit", "{\"need\": {\"original\": {\"battery\": {…}}}, \"stock\": […], \"today\": …}")
	if err != nil {
		return Ask{}, err
	}
	var a Ask
	a.Need = takeNeed(o)
	takeStock(o, &a)
	o.Missing("today", dateForm)
	if today := takeDate(o, "today"); today != nil {
		a.Today = *today
	}
	o.Close()
	return a, o.Err()
}

func takeNeed(o *field.Object) Need {
	o.Missing("need", "{\"original\": {\"battery\": {…}}}")
	var n Need
	need, missing := o.Under("need")
	if missing {
		return n
	}
	need.Missing("original", "{\"battery\": {…}}")
	if original, missing := need.Under("original"); !missing {
		n.Original = evidence.TakeLabel(original, "battery")
		n.Body.Group, n.Body.Case = takeSize(original)
		original.Close()
	}
	if tray, missing := need.Under("tray"); !missing {
		n.Tray = Box{takeMM(tray, "length_mm"), takeMM(tray, "width_mm"), takeMM(tray, "height_mm")}
		tray.Close()
	}
	takeOutside(need, &n.Body)
	n.Vehicle = evidence.TakeVehicle(need, "vehicle")
	n.Coldest = need.Number("coldest_c", LeastColdest, MostColdest, "°C")
	if reach := need.Flag("cables_reach"); reach != nil {
		n.Reach = *reach
	}
	need.Close()
	return n
}

func takeStock(o *field.Object, a *Ask) {
	seen := map[string]bool{}
	o.Each("stock", "[{\"id\": …, \"battery\": {…}}]", func(item *field.Object) {
		var i Item
		item.Missing("id", "a name of its own")
		i.ID = item.Text("id", "a name of its own, 1 to 60 characters", func(s string) bool {
			fresh := s != "" && len(s) <= mostID && !seen[s]
			seen[s] = true
			return fresh
		})
		i.Label = evidence.TakeLabel(item, "battery")
		i.Body.Group, i.Body.Case = takeSize(item)
		i.Body.LengthMM, i.Body.WidthMM, i.Body.HeightMM = takeMM(item, "length_mm"), takeMM(item, "width_mm"), takeMM(item, "height_mm")
		takeOutside(item, &i.Body)
		i.Made = item.Text("made", monthForm, func(s string) bool { return len(s) == len("2026-08") && battery.ValidMade(s) })
		i.Charged = takeDate(item, "charged_on")
		i.Price = item.Number("price", 0, mostPrice, "")
		item.Close()
		a.Stock = append(a.Stock, i)
	})
	if len(a.Stock) > mostStock {
		o.Fault("problem.range", "stock", len(a.Stock), "at most 5000")
	}
}

// takeSize takes a size by either of its names, not by both.
func takeSize(o *field.Object) (group, european string) {
	group, european = o.Code("group", Groups()), o.Code("case", Cases())
	if group != "" && european != "" {
		o.Fault("problem.type", "group", group, "group or case, not both")
	}
	return group, european
}

func takeOutside(o *field.Object, b *Body) {
	b.Layout = layoutNamed(o.Code("layout", append(Layouts(), boxLayouts...)))
	b.Terminal = o.Code("terminal", TerminalKinds())
	b.HoldDown = o.Code("hold_down", HoldDowns())
	b.VentSide = o.Code("vent_side", VentSides())
}

func takeMM(o *field.Object, key string) *float64 { return o.Number(key, LeastMM, MostMM, "mm") }

func takeDate(o *field.Object, key string) *time.Time {
	var out *time.Time
	o.Text(key, dateForm, func(s string) bool {
		at, err := time.Parse(time.DateOnly, strings.TrimSpace(s))
		if err != nil || at.Year() < 1990 || at.Year() > 2200 {
			return false
		}
		out = &at
		return true
	})
	return out
}
