package evidence

import (
	"math"
	"strconv"

	"grapnel/core/reading"
)

// midYear stands for the month of make of a battery of which only the year is known.
const midYear = 6

// YearsOld is the age of the battery of a case in years: what was said of it, else by
// its date of make; false where neither is known.
func (c Case) YearsOld() (float64, bool) {
	for i := len(c.Readings) - 1; i >= 0; i-- {
		if years, ok := c.Readings[i].Number(reading.AgeYears); ok {
			return years, true
		}
	}
	made, madeMonth := part(c.Label.Made, 0, 4), part(c.Label.Made, 5, 7)
	now := part(c.Day(), 0, 4)
	if made == 0 || now == 0 {
		return 0, false
	}
	if madeMonth == 0 {
		madeMonth = midYear
	}
	return math.Max(0, float64(now-made)+float64(c.Month()-madeMonth)/12), true
}

// Month is the month a case is judged in, 1 to 12; 0 where no day is known.
func (c Case) Month() int { return part(c.Day(), 5, 7) }

// part is a number within a date, 0 where it is not there.
func part(date string, from, to int) int {
	if len(date) < to {
		return 0
	}
	n, err := strconv.Atoi(date[from:to])
	if err != nil {
		return 0
	}
	return n
}
