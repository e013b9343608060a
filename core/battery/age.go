package battery

import (
	"strconv"
	"strings"
)

// Life a starting battery usually has, and from when to watch it. Common
// practice, no source; others claim 6 to 12 years for good ones. Age alone
// never decides.
const (
	lifeShort = 3.0
	lifeLong  = 5.0
	lifeBest  = 12.0
)

// AgeBand places an age in years: young, watch (from 3 years) or old (over 5).
func AgeBand(years float64) string {
	switch {
	case years < lifeShort:
		return "young"
	case years <= lifeLong:
		return "watch"
	}
	return "old"
}

// ShelfMonths is the age from which a new battery is charged and tested before
// it is fitted. Common practice, no source.
const ShelfMonths = 6

// DateGuess is a way to read a date code.
type DateGuess struct {
	Month int `json:"month"`
	Year  int `json:"year"`
	// Made is the guess as a label has it, YYYY-MM.
	Made string `json:"made"`
	// AgeMonths is its age in months at the day asked.
	AgeMonths int `json:"age_months"`
}

// dateLetters: A is January, M December, I left out. Common practice, no
// source; makers differ.
const dateLetters = "ABCDEFGHJKLM"

// oldestGuess is the oldest date of make that is offered, in years.
const oldestGuess = 20

// DateCode reads a code of a letter for the month and a digit for the last
// figure of the year, such as C4, as guesses a person confirms: the newest
// first, none in the future, none over 20 years old. AsOf is the year and the
// month (1 to 12) asked from. Other codes give nothing.
func DateCode(code string, asOfYear, asOfMonth int) []DateGuess {
	code = strings.ToUpper(strings.TrimSpace(code))
	if len(code) < 2 || code[1] < '0' || code[1] > '9' {
		return nil
	}
	month := strings.IndexByte(dateLetters, code[0]) + 1
	if month == 0 {
		return nil
	}
	digit := int(code[1] - '0')
	var guesses []DateGuess
	for year := asOfYear; year > asOfYear-oldestGuess; year-- {
		age := (asOfYear-year)*12 + asOfMonth - month
		if year%10 == digit && age >= 0 {
			made := strconv.Itoa(year) + "-" + strconv.Itoa(month/10) + strconv.Itoa(month%10)
			guesses = append(guesses, DateGuess{month, year, made, age})
		}
	}
	return guesses
}
