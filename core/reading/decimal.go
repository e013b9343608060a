package reading

import (
	"strconv"
	"strings"
)

// decimal is a number as it was written: exact, so that 85 ma and 0.085 a, or
// 1265 and 1.265, are the same figure to the last bit.
type decimal struct {
	digits   uint64
	decimals int  // digits behind the mark
	marked   bool // a decimal mark was written
	negative bool
	text     string // the digits with a point, for what does not fit in digits
}

// powers of ten that a float64 holds exactly.
var powers = [...]float64{
	1, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22,
}

// float is the nearest float64 to the decimal divided by ten to the shift.
func (d decimal) float(shift int) float64 {
	value := d.magnitude(shift)
	if d.negative {
		return -value
	}
	return value
}

func (d decimal) magnitude(shift int) float64 {
	exponent := d.decimals + shift
	// One correctly rounded division or product of two exact numbers.
	if d.text == "" && exponent >= 0 && exponent < len(powers) {
		return float64(d.digits) / powers[exponent]
	}
	if d.text == "" && exponent < 0 && d.digits < 1<<40 && -exponent < 4 {
		return float64(d.digits) * powers[-exponent]
	}
	text := d.text
	if text == "" {
		text = strconv.FormatUint(d.digits, 10) + "e-" + strconv.Itoa(d.decimals)
		if d.decimals == 0 {
			text = strconv.FormatUint(d.digits, 10)
		}
	}
	mantissa, written, _ := strings.Cut(text, "e")
	own, _ := strconv.Atoi(written)
	value, err := strconv.ParseFloat(mantissa+"e"+strconv.Itoa(own-shift), 64)
	if err != nil {
		return value // too large: infinite, and out of every range
	}
	return value
}

// startsNumber reports whether leadingDecimal would find a number.
func startsNumber(s string) bool {
	i := 0
	switch {
	case s == "" || s[0] >= 'a' && s[0] <= 'z':
		return false
	case s[0] == '-' || s[0] == '+':
		i = 1
	case strings.HasPrefix(s, "−"):
		i = len("−")
	}
	if i < len(s) && (s[i] == '.' || s[i] == ',') {
		i++
	}
	return i < len(s) && s[i] >= '0' && s[i] <= '9'
}

// leadingDecimal splits a word into the number it starts with and the rest. A
// comma is a decimal mark. It reports false where no number stands.
func leadingDecimal(s string) (d decimal, rest string, ok bool) {
	if s == "" || s[0] >= 'a' && s[0] <= 'z' {
		return decimal{}, s, false
	}
	text := s
	if after, found := strings.CutPrefix(text, "−"); found {
		text, d.negative = after, true
	} else if text != "" && (text[0] == '-' || text[0] == '+') {
		d.negative = text[0] == '-'
		text = text[1:]
	}
	end, digits := 0, 0
	long := false
	for ; end < len(text); end++ {
		ch := text[end]
		if (ch == '.' || ch == ',') && !d.marked {
			d.marked = true
			continue
		}
		if ch < '0' || ch > '9' {
			break
		}
		digits++
		if d.digits > 1<<49 {
			long = true
			continue
		}
		d.digits = d.digits*10 + uint64(ch-'0')
		if d.marked {
			d.decimals++
		}
	}
	if digits == 0 {
		return decimal{}, s, false
	}
	if long {
		d.text = strings.Replace(text[:end], ",", ".", 1)
	}
	return d, text[end:], true
}

// plain writes a figure in full, losing nothing.
func plain(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

// thousandfold writes a thousand times a figure by moving its decimal point,
// losing nothing.
func thousandfold(x float64) string {
	text, sign := plain(x), ""
	if after, found := strings.CutPrefix(text, "-"); found {
		text, sign = after, "-"
	}
	whole, part, _ := strings.Cut(text, ".")
	for len(part) < 3 {
		part += "0"
	}
	whole = strings.TrimLeft(whole+part[:3], "0")
	if whole == "" {
		whole = "0"
	}
	if part = part[3:]; part != "" {
		whole += "." + part
	}
	return sign + whole
}

// Figure splits a typed figure into its number and what stands behind it, its
// unit; a comma is a decimal mark. It reports false where no number stands.
func Figure(text string) (value float64, unit string, ok bool) {
	d, rest, ok := leadingDecimal(strings.TrimSpace(text))
	return d.float(0), strings.TrimSpace(rest), ok
}
