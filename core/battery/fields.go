package battery

import (
	"slices"
	"strconv"
	"strings"

	"grapnel/core/field"
	"grapnel/core/quantity"
)

// Alloys lists how the plates of a flooded battery may be alloyed.
func Alloys() []string { return []string{"calcium", "antimony"} }

// ValidMade reports whether a date of make is YYYY or YYYY-MM, of this century or the last.
func ValidMade(s string) bool {
	year, month, said := strings.Cut(s, "-")
	return within(year, 4, 1900, 2099) && (!said || within(month, 2, 1, 12))
}

// within reports a number of some digits, all of them digits, within a range.
func within(s string, digits, low, high int) bool {
	n := 0
	for _, c := range s {
		if c < '0' || c > '9' {
			return false
		}
		n = n*10 + int(c-'0')
	}
	return len(s) == digits && n >= low && n <= high
}

// mostPosition is the longest name of a position, in bytes.
const mostPosition = 32

var ratingFields = field.Table[Rating]{
	field.Plain("value", "A", 10, 3000, func(r *Rating) *quantity.Amperes { return &r.Value }),
	field.Choice("standard", Standards(), func(r *Rating) *Standard { return &r.Standard }).Must(),
}

// fields of a label. Ranges are plausibility only (common practice, no source): beyond
// them no label is printed.
var fields = field.Table[Label]{
	field.Choice("chemistry", Chemistries(), func(l *Label) *Chemistry { return &l.Chemistry }).Must(),
	field.OneOf("nominal_v", "V", NominalVolts(), func(l *Label) *quantity.Volts { return &l.NominalV }),
	field.Of("rating", ratingFields, func(l *Label) **Rating { return &l.Rating }, sayRating, takeRating),
	field.Number("capacity_ah", "Ah", 0.5, 1000, func(l *Label) **quantity.AmpereHours { return &l.CapacityAh }),
	field.Number("reserve_min", "min", 1, 2000, func(l *Label) **quantity.Minutes { return &l.ReserveMin }),
	field.Words("made", "YYYY, YYYY-MM", ValidMade, func(l *Label) *string { return &l.Made }).Behind("made"),
	field.YesNo("sealed", "sealed", "caps open", func(l *Label) **bool { return &l.Sealed }),
	field.YesNo("eye_fitted", "eye", "no eye", func(l *Label) **bool { return &l.EyeFitted }),
	field.Number("label_load_a", "A", 5, 2000, func(l *Label) **quantity.Amperes { return &l.LabelLoadA }).Behind("label load"),
	field.Number("full_sg", "", 1.2, 1.32, func(l *Label) **float64 { return &l.FullSG }).Behind("full gravity"),
	field.YesNo("deep_cycle", "deep cycle", "no deep cycle", func(l *Label) **bool { return &l.DeepCycle }),
	field.Choice("plates", Alloys(), func(l *Label) *string { return &l.Alloy }).Behind("plates"),
	field.Words("position", "1, 2, \"left\"", shortPosition, func(l *Label) *string { return &l.Position }).
		Written(func(*Label) string { return "" }, func(*Label, string) bool { return false }),
}

func shortPosition(s string) bool { return len(s) <= mostPosition }

// Fields is the one table of what a label says.
func Fields() field.Table[Label] { return slices.Clone(fields) }

func sayRating(r Rating) string {
	return strconv.FormatFloat(float64(r.Value), 'f', -1, 64) + " A " + string(r.Standard)
}

func takeRating(text string) (Rating, bool) {
	at := strings.LastIndexByte(text, ' ')
	if at < 0 || !slices.Contains(Standards(), text[at+1:]) {
		return Rating{}, false
	}
	figure, unit, _ := strings.Cut(strings.TrimSpace(text[:at]), " ")
	if unit == "" {
		figure, unit = strings.TrimRight(figure, "aA"), "A"
	}
	x, err := strconv.ParseFloat(strings.Replace(figure, ",", ".", 1), 64)
	low, _ := ratingFields.Find("value")
	return Rating{quantity.Amperes(x), Standard(text[at+1:])}, err == nil && strings.EqualFold(unit, "A") && x >= low.Low && x <= low.High
}
