package fitting

import (
	"grapnel/core/battery"
	"grapnel/core/source"
)

// Sources lists every figure of this package.
func Sources() []source.Entry {
	return source.In("fitting",
		source.Table("torques", "N·m", source.By(source.BCI).With("top and side; the wider ranges are common practice"), torqueRows()...),
		source.Figure("PositivePost", PositivePost, "mm", source.By(source.EN50342s2)),
		source.Figure("NegativePost", NegativePost, "mm", source.By(source.EN50342s2)),
		source.Figure("KeepAliveGerman", KeepAliveGerman, "year", source.Common("")),
		source.Figure("KeepAliveOther", KeepAliveOther, "year", source.Common("")),
		source.Table("sizes", "mm", european.With("European; North American groups from memory"), sizeRows()...),
		source.Figure("SpareUsual", SpareUsual, "mm", source.Recalled("")),
		source.Table("grade", "", source.Common("flooded, EFB, AGM"), gradeRows()...),
		source.Figure("farBelow", farBelow, "share", source.Common("")),
		source.Figure("oldMonths", oldMonths, "months", source.Common("")),
		source.Figure("chargeMonths", chargeMonths, "months", source.Common("")),
		source.Figure("middleOfMonth", middleOfMonth, "days", source.From("half of a month")),
		source.Figure("yearMonths", yearMonths, "months", source.From("exact by definition")),
		source.Figure("full", full, "%", source.From("exact by definition")),
		source.Figure("LeastMM", LeastMM, "mm", source.Common("")),
		source.Figure("MostMM", MostMM, "mm", source.Common("")),
		source.Figure("LeastColdest", LeastColdest, "°C", source.Common("")),
		source.Figure("MostColdest", MostColdest, "°C", source.Common("")),
		source.Figure("mostPrice", mostPrice, "", source.Common("")),
		source.Figure("mostID", mostID, "characters", source.Common("")),
		source.Figure("mostStock", mostStock, "", source.Common("")),
	)
}

func gradeRows() []string {
	var rows []string
	for _, c := range []battery.Chemistry{battery.Flooded, battery.EFB, battery.AGM} {
		rows = append(rows, source.Row(string(c)+":", float64(grade[c])))
	}
	return rows
}

func torqueRows() []string {
	rows := make([]string, len(torques))
	for i, t := range torques {
		rows[i] = t.Terminal + " " + source.Text(roundTenth(float64(t.Low))) + " to " + source.Text(roundTenth(float64(t.High)))
	}
	return rows
}

func sizeRows() []string {
	rows := make([]string, len(sizes))
	for i, s := range sizes {
		rows[i] = source.Row(s.Name+":", s.Length, s.Width, s.Height)
	}
	return rows
}
