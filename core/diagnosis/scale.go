package diagnosis

import "math"

// Likelihoods are multiplied reading by reading, and a long job has hundreds of
// them: the product is soon smaller than a float64 can say. Only their ratios
// matter, so each product is kept as a mantissa and a power of two that is taken
// out of it. Scaling by a power of two is exact: where nothing is too small, the
// result is the same to the last bit.

// scaled is m × 2^e.
type scaled struct {
	m float64
	e int
}

// times multiplies by a factor × 2^e.
func (s scaled) times(factor float64, e int) scaled {
	m, own := math.Frexp(s.m * factor)
	return scaled{m, s.e + e + own}
}

// rescaleEvery is after how many readings a product is scaled anew. The least any
// one reading says of every battery is some 1e-60, six cells that nothing explains.
const rescaleEvery = 4

// rescale takes the largest power of two out of a row, so that its largest value
// lies from a half to one, and returns its exponent; zero for a row of zeros.
func rescale(row []float64) int {
	most := 0.0
	for _, x := range row {
		most = math.Max(most, x)
	}
	_, e := math.Frexp(most)
	if e == 0 {
		return 0
	}
	for i := range row {
		row[i] = math.Ldexp(row[i], -e)
	}
	return e
}
