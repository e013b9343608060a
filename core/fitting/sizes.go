package fitting

import (
	"math"
	"sort"

	"grapnel/core/source"
)

// Size is a case size: length, width and height in millimetres.
type Size struct {
	Name   string  `json:"name"`
	Length float64 `json:"length"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
	Side   bool    `json:"side"` // terminals on the side
	// Slim says that its posts are usually the slim ones, small.
	Slim   bool          `json:"slim"`
	Source source.Source `json:"source"`
}

var (
	european = source.By("EN 50342-2")
	american = source.Recalled("Battery Council International groups")
	asian    = source.Recalled("JIS D 5301 cases; slim posts on the narrow ones unless the label says S")
	truck    = source.By("EN 50342-4").With("truck cases")
)

// sizes: European cases are all 175 mm wide, L 190 mm high and LB 175 mm; truck cases, Asian
// cases and North American groups as named.
var sizes = []Size{
	{"L0", 175, 175, 190, false, false, european},
	{"L1", 207, 175, 190, false, false, european},
	{"L2", 242, 175, 190, false, false, european},
	{"L3", 278, 175, 190, false, false, european},
	{"L4", 315, 175, 190, false, false, european},
	{"L5", 353, 175, 190, false, false, european},
	{"L6", 394, 175, 190, false, false, european},
	{"LB1", 207, 175, 175, false, false, european},
	{"LB2", 242, 175, 175, false, false, european},
	{"LB3", 278, 175, 175, false, false, european},
	{"LB4", 315, 175, 175, false, false, european},
	{"LB5", 353, 175, 175, false, false, european},
	{"LB6", 394, 175, 175, false, false, european},
	{"A", 513, 189, 223, false, false, truck},
	{"B", 513, 223, 223, false, false, truck},
	{"C", 518, 276, 242, false, false, truck},
	{"B19", 187, 127, 220, false, true, asian},
	{"B20", 197, 129, 220, false, true, asian},
	{"B24", 238, 129, 220, false, true, asian},
	{"D20", 202, 173, 220, false, false, asian},
	{"D23", 232, 173, 220, false, false, asian},
	{"D26", 260, 173, 220, false, false, asian},
	{"D31", 306, 173, 220, false, false, asian},
	{"E41", 410, 176, 234, false, false, asian},
	{"F51", 505, 182, 234, false, false, asian},
	{"G51", 508, 222, 234, false, false, asian},
	{"H52", 521, 278, 250, false, false, asian},
	{"24", 260, 173, 225, false, false, american},
	{"34", 260, 173, 200, false, false, american},
	{"35", 230, 175, 225, false, false, american},
	{"51R", 238, 129, 223, false, false, american},
	{"65", 306, 190, 192, false, false, american},
	{"75", 230, 180, 196, true, false, american},
	{"U1", 197, 132, 186, false, false, american},
	{"27", 306, 173, 225, false, false, american},
	{"31", 330, 173, 240, false, false, american},
	{"47", 242, 175, 190, false, false, american},
	{"48", 278, 175, 190, false, false, american},
	{"49", 354, 175, 190, false, false, american},
	{"78", 260, 180, 196, true, false, american},
	{"94R", 315, 175, 190, false, false, american},
	{"26", 208, 173, 197, false, false, american},
}

// Sizes lists the case sizes.
func Sizes() []Size { return append([]Size(nil), sizes...) }

// Cases names the European, the truck and the Asian cases.
func Cases() []string { return append(append(named(european), named(truck)...), named(asian)...) }

// Groups names the North American groups.
func Groups() []string { return named(american) }

func named(by source.Source) []string {
	var out []string
	for _, s := range sizes {
		if s.Source == by {
			out = append(out, s.Name)
		}
	}
	return out
}

// FindSize returns a size by its name.
func FindSize(name string) (Size, bool) {
	for _, s := range sizes {
		if s.Name == name {
			return s, true
		}
	}
	return Size{}, false
}

// Fit is a size and the room it leaves in a tray, in millimetres.
type Fit struct {
	Size
	SpareLength float64 `json:"spare_length"`
	SpareWidth  float64 `json:"spare_width"`
	SpareHeight float64 `json:"spare_height"`
}

// SpareUsual is the room a hold-down still takes up, in millimetres. Value from
// memory.
const SpareUsual = 15

// FitTray lists the sizes that go into a tray of a length, width and height in
// millimetres, the best filled first.
func FitTray(length, width, height float64) []Fit {
	var list []Fit
	for _, s := range sizes {
		f := Fit{s, length - s.Length, width - s.Width, height - s.Height}
		if f.SpareLength >= 0 && f.SpareWidth >= 0 && f.SpareHeight >= 0 {
			list = append(list, f)
		}
	}
	sort.SliceStable(list, func(i, j int) bool {
		return list[i].SpareLength+list[i].SpareWidth < list[j].SpareLength+list[j].SpareWidth
	})
	return list
}

// Layouts are where the positive post sits, seen with the posts along the near
// long side: on the right, on the left, or on the corners of a diagonal. Common
// practice, no source; makers number them each in their own way. EN 50342-2 calls the first
// two box layouts 0 and 1 (value from memory).
func Layouts() []string {
	return []string{"positive_right", "positive_left", "diagonal_right", "diagonal_left"}
}

// boxLayouts are EN 50342-2's own names of the first two layouts, in their order.
var boxLayouts = []string{"0", "1"}

// layoutNamed is a layout by its own name, whichever name was said.
func layoutNamed(said string) string {
	for i, name := range boxLayouts {
		if said == name {
			return Layouts()[i]
		}
	}
	return said
}

// Volume of a case in litres, for comparing sizes.
func (s Size) Volume() float64 {
	const cubicMillimetres = 1e6
	return math.Round(s.Length*s.Width*s.Height/cubicMillimetres*10) / 10
}
