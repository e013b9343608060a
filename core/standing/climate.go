package standing

import (
	"math"
	"time"

	"grapnel/core/quantity"
)

// Places where a battery stands.
const (
	Outdoors = "outdoors"
	Unheated = "unheated"
	Heated   = "heated"
)

// Places lists them, the harshest first.
func Places() []string { return []string{Outdoors, Unheated, Heated} }

// Months of a year.
const monthsOfYear = 12

// Climate is the air of a place over the year, January first.
type Climate struct {
	// Monthly is the mean of each month, Coldest its coldest night, °C.
	Monthly [monthsOfYear]float64 `json:"monthly_c"`
	Coldest [monthsOfYear]float64 `json:"coldest_c"`
}

// Zone is a climate with a name, so that no place has to be looked up.
type Zone struct {
	Code string `json:"code"`
	Climate
}

// Temperate is the zone taken where none is said.
const Temperate = "temperate"

// zones are climates of the northern half of the world. Values from memory: middling inland
// places of each kind.
var zones = []Zone{
	{"polar", Climate{
		[monthsOfYear]float64{-22, -21, -17, -9, -1, 8, 12, 10, 4, -4, -13, -19},
		[monthsOfYear]float64{-42, -42, -38, -28, -12, -2, 2, 0, -7, -20, -32, -39},
	}},
	{"cold", Climate{
		[monthsOfYear]float64{-7, -6, -1, 6, 12, 17, 19, 18, 13, 7, 0, -5},
		[monthsOfYear]float64{-25, -24, -17, -7, -1, 4, 8, 6, 0, -6, -15, -22},
	}},
	{Temperate, Climate{
		[monthsOfYear]float64{1, 2, 5, 9, 14, 17, 19, 18, 15, 10, 5, 2},
		[monthsOfYear]float64{-14, -13, -8, -3, 0, 4, 7, 6, 2, -2, -7, -12},
	}},
	{"mild", Climate{
		[monthsOfYear]float64{7, 8, 10, 12, 16, 19, 22, 22, 19, 15, 11, 8},
		[monthsOfYear]float64{-4, -4, -2, 0, 4, 8, 11, 11, 8, 3, -1, -3},
	}},
	{"hot", Climate{
		[monthsOfYear]float64{17, 19, 22, 26, 31, 34, 35, 34, 32, 27, 22, 18},
		[monthsOfYear]float64{2, 3, 6, 11, 16, 21, 24, 23, 19, 13, 7, 3},
	}},
}

// Zones are the climates that have a name, the coldest first.
func Zones() []Zone { return append([]Zone(nil), zones...) }

// FindZone is a climate by its name.
func FindZone(code string) (Climate, bool) {
	for _, z := range zones {
		if z.Code == code {
			return z.Climate, true
		}
	}
	return Climate{}, false
}

const (
	// shelter is how much milder the coldest night of an unheated shed is, shedWarmer how much
	// warmer it is on the mean, K. Values from memory.
	shelter    = 4.0
	shedWarmer = 1.0
	// heatedMean and heatedColdest are the least of a heated store, °C. Values from memory.
	heatedMean    = 15.0
	heatedColdest = 8.0
)

// At is the climate inside a place.
func (c Climate) At(place string) Climate {
	for m := range c.Monthly {
		mean, night := c.Monthly[m], c.Coldest[m]
		switch place {
		case Unheated:
			c.Monthly[m], c.Coldest[m] = mean+shedWarmer, math.Min(night+shelter, mean+shedWarmer)
		case Heated:
			c.Monthly[m], c.Coldest[m] = math.Max(mean, heatedMean), math.Max(night, heatedColdest)
		}
	}
	return c
}

// Night is the coldest air of a day's month, °C: any night of a month may be its coldest.
func (c Climate) Night(day time.Time) quantity.Celsius {
	return quantity.Celsius(c.Coldest[day.Month()-1])
}

// middle is the day of a month its mean is drawn at.
const middle = 15

// Mean is the air of a day, °C, drawn from the middle of one month to that of the next.
func (c Climate) Mean(day time.Time) quantity.Celsius {
	month := int(day.Month()) - 1
	from := time.Date(day.Year(), day.Month(), middle, 0, 0, 0, 0, time.UTC)
	if day.Before(from) {
		month = (month + monthsOfYear - 1) % monthsOfYear
		from = time.Date(day.Year(), day.Month()-1, middle, 0, 0, 0, 0, time.UTC)
	}
	to := time.Date(from.Year(), from.Month()+1, middle, 0, 0, 0, 0, time.UTC)
	share := float64(day.Sub(from)) / float64(to.Sub(from))
	a, b := c.Monthly[month], c.Monthly[(month+1)%monthsOfYear]
	return quantity.Celsius(a + share*(b-a))
}

// sunshine is what falls on a tilted panel in a northern temperate year, kWh/m² a day. Values
// from memory.
var sunshine = [monthsOfYear]float64{0.8, 1.5, 2.6, 3.9, 4.8, 5.1, 5.0, 4.3, 3.1, 1.9, 1.0, 0.6}
