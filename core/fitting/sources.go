package fitting

import "grapnel/core/source"

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
	)
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
