package accuracy

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory := source.Recalled("one sigma")
	return source.In(
		"accuracy",
		source.Codes("voltmeters", "share V", memory, voltmeters),
		source.Codes(
			"temperatureSigma",
			"K",
			memory.With("felt by hand ±5 °C is the limit; infrared sees the case, which lags the acid by hours"),
			temperatureSigma,
		),
		source.Figure("HydrometerReading", HydrometerReading, "SG", memory),
		source.Figure("HydrometerInstrument", HydrometerInstrument, "SG", memory),
		source.Figure("clampShare", clampShare, "share", memory),
		source.Figure("clampOffset", clampOffset, "A", memory.With("1 to 3 A")),
		source.Figure("drainOffset", drainOffset, "A", memory.With("milliampere clamp, 5 to 10 mA")),
		source.Figure("seriesShare", seriesShare, "share", memory),
		source.Figure("seriesOffset", seriesOffset, "A", memory),
		source.Figure("MillivoltsSigma", MillivoltsSigma, "mV", memory),
		source.Figure("ConductanceRepeat", ConductanceRepeat, "share", memory.With("1 to 2 %")),
		source.Figure("ConductanceTruth", ConductanceTruth, "share", memory.With("6 to 8 % against the true cranking power")),
		source.Figure("badClampLow", badClampLow, "share", source.Recalled("a clamp that does not bite")),
		source.Figure("badClampHigh", badClampHigh, "share", source.Recalled("a clamp that does not bite")),
		source.Figure("pileShare", pileShare, "share", memory),
		source.Figure("pileLeast", pileLeast, "A", memory),
		source.Figure("pileDrift", pileDrift, "share", source.Recalled("2 to 4 % in 15 s")),
		source.Figure("loadTiming", loadTiming, "V", memory.With("0.7 s early or late")),
		source.Figure("rippleShare", rippleShare, "share", memory),
		source.Figure("rippleFixed", rippleFixed, "V", memory),
		source.Figure("dropDigit", dropDigit, "V", memory),
	)
}
