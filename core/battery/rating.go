package battery

import "grapnel/core/quantity"

// Standard names how a cranking rating was measured.
type Standard string

// The standards found on labels.
const (
	SAE Standard = "SAE"
	EN  Standard = "EN"
	IEC Standard = "IEC"
	DIN Standard = "DIN"
	JIS Standard = "JIS"
	CA  Standard = "CA"
	MCA Standard = "MCA"
	HCA Standard = "HCA"
)

// Definition is how a standard loads a 12 V battery: at a temperature, for a
// time, down to a voltage.
type Definition struct {
	Standard Standard         `json:"standard"`
	At       quantity.Celsius `json:"at"`
	Seconds  quantity.Seconds `json:"seconds"`
	Volts    quantity.Volts   `json:"volts"`
}

// definitions of cold-cranking current. Sources: SAE J537, EN 50342-1,
// IEC 60095-1, DIN and JIS, values from memory; CA, MCA and HCA are SAE's test
// at another temperature.
var definitions = []Definition{
	{SAE, -18, 30, 7.2}, {EN, -18, 10, 7.5}, {IEC, -18, 60, 8.4}, {DIN, -18, 30, 9.0}, {JIS, -18, 30, 7.2},
	{CA, 0, 30, 7.2}, {MCA, 0, 30, 7.2}, {HCA, 26.7, 30, 7.2},
}

// Definitions lists how each standard loads.
func Definitions() []Definition { return append([]Definition(nil), definitions...) }

// Standards lists every standard a rating may be given in.
func Standards() []string {
	return []string{string(SAE), string(EN), string(IEC), string(DIN), string(JIS), string(CA), string(MCA), string(HCA)}
}

// Rating is a cranking rating exactly as the label has it.
type Rating struct {
	Value    quantity.Amperes `json:"value"`
	Standard Standard         `json:"standard"`
}

// Conversion is a rating carried over to cold-cranking amperes by SAE J537.
type Conversion struct {
	SAE       quantity.Amperes `json:"sae"`
	Low       quantity.Amperes `json:"low"`
	High      quantity.Amperes `json:"high"`
	Converted bool             `json:"converted"`
	From      Standard         `json:"from"`
}

// chartRow is one row of the usual comparison chart.
type chartRow struct{ sae, en, iec, din float64 }

// chart has no exact form: each standard loads for another time to another
// voltage. Source: the usual trade chart, value from memory.
var chart = []chartRow{
	{300, 280, 200, 170},
	{500, 480, 330, 280},
	{700, 640, 465, 395},
	{1000, 940, 660, 560},
}

// ratio is a standard converted by one factor, with its relative band.
type ratio struct{ factor, band float64 }

// ratios: CA and MCA from a label that carries both (675 CA / 540 CCA), common
// practice, no source. HCA and JIS: values from memory; JIS loads as SAE does (the
// −15 °C belongs to its older high-rate test), its band is for labels of that time.
var ratios = map[Standard]ratio{
	SAE: {1, 0},
	CA:  {0.80, 0.04},
	MCA: {0.80, 0.04},
	HCA: {0.69, 0.06},
	JIS: {1, 0.06},
}

// chartBand is the relative uncertainty of each chart column, value from memory.
var chartBand = map[Standard]float64{EN: 0.05, IEC: 0.08, DIN: 0.08}

func (row chartRow) column(s Standard) float64 {
	switch s {
	case EN:
		return row.en
	case IEC:
		return row.iec
	}
	return row.din
}

// SAE carries the rating over to SAE cold-cranking amperes, marked as converted
// and with its band unless it was SAE already.
func (r Rating) SAE() Conversion {
	if k, ok := ratios[r.Standard]; ok {
		return conversion(float64(r.Value)*k.factor, k.band, r.Standard)
	}
	return conversion(fromChart(float64(r.Value), r.Standard), chartBand[r.Standard], r.Standard)
}

func conversion(sae, band float64, from Standard) Conversion {
	return Conversion{
		SAE:       quantity.Amperes(sae),
		Low:       quantity.Amperes(sae * (1 - band)),
		High:      quantity.Amperes(sae * (1 + band)),
		Converted: from != SAE,
		From:      from,
	}
}

// fromChart reads the chart between its rows and keeps the end rows' ratio outside.
func fromChart(value float64, s Standard) float64 {
	column := func(row chartRow) float64 { return row.column(s) }
	return alongChart(value, column, chartRow.inSAE)
}

// alongChart goes from one column of the chart to another.
func alongChart(value float64, from, to func(chartRow) float64) float64 {
	first, last := chart[0], chart[len(chart)-1]
	switch {
	case value <= from(first):
		return value * to(first) / from(first)
	case value > from(last):
		return value * to(last) / from(last)
	}
	return quantity.Graph[chartRow]{Points: chart, X: from, Y: to}.At(value)
}

func (row chartRow) inSAE() float64 { return row.sae }

// FromSAE is the rating in another standard for SAE cold-cranking amperes, with
// the band of the conversion as a share of it.
func FromSAE(sae quantity.Amperes, to Standard) (value quantity.Amperes, band float64) {
	if k, ok := ratios[to]; ok {
		return quantity.Amperes(float64(sae) / k.factor), k.band
	}
	x := alongChart(float64(sae), chartRow.inSAE, func(row chartRow) float64 { return row.column(to) })
	return quantity.Amperes(x), chartBand[to]
}
