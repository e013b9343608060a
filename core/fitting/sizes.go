package fitting

import (
	"math"
	"sort"

	"grapnel/core/source"
)

// Size is a case size: length, width and height in millimetres.
type Size struct {
	Name   string        `json:"name"`
	Length float64       `json:"length"`
	Width  float64       `json:"width"`
	Height float64       `json:"height"`
	Side   bool          `json:"side"` // terminals on the side
	Source source.Source `json:"source"`
}

var (
	european = source.By("EN 50342-2")
	american = source.Recalled("Battery Council International groups")
)

// sizes: European cases are all 175 mm wide, L 190 mm high and LB 175 mm; North American
// groups as named.
var sizes = []Size{
	{"L0", 175, 175, 190, false, european},
	{"L1", 207, 175, 190, false, european},
	{"L2", 242, 175, 190, false, european},
	{"L3", 278, 175, 190, false, european},
	{"L4", 315, 175, 190, false, european},
	{"L5", 353, 175, 190, false, european},
	{"L6", 394, 175, 190, false, european},
	{"LB1", 207, 175, 175, false, european},
	{"LB2", 242, 175, 175, false, european},
	{"LB3", 278, 175, 175, false, european},
	{"LB4", 315, 175, 175, false, european},
	{"LB5", 353, 175, 175, false, european},
	{"24", 260, 173, 225, false, american},
	{"34", 260, 173, 200, false, american},
	{"35", 230, 175, 225, false, american},
	{"51R", 238, 129, 223, false, american},
	{"65", 306, 190, 192, false, american},
	{"75", 230, 180, 196, true, american},
	{"U1", 197, 132, 186, false, american},
	{"26", 208, 173, 197, false, american},
}

// Sizes lists the case sizes.
func Sizes() []Size { return append([]Size(nil), sizes...) }

// Cases and Groups name the European cases and the North American groups.
func Cases() []string { return named(european) }

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
// practice, no source; makers number them each in their own way.
func Layouts() []string {
	return []string{"positive_right", "positive_left", "diagonal_right", "diagonal_left"}
}

// Volume of a case in litres, for comparing sizes.
func (s Size) Volume() float64 {
	const cubicMillimetres = 1e6
	return math.Round(s.Length*s.Width*s.Height/cubicMillimetres*10) / 10
}
