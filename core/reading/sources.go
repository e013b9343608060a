package reading

import "grapnel/core/source"

// Sources lists what the reading line takes as plausible at all.
func Sources() []source.Entry {
	var rows []string
	for i := range kinds {
		for _, f := range kinds[i].numbers {
			rows = append(rows, source.Row(string(kinds[i].kind)+"."+f.json, f.low, f.high)+" "+unitName(f.unit))
		}
	}
	plausible := source.Common("beyond them nobody can have meant the figure")
	return source.In("reading",
		source.Table("kinds", "low high", plausible, rows...),
		source.Figure("leastSG", leastSG, "SG", plausible),
		source.Figure("mostSG", mostSG, "SG", plausible),
	)
}
