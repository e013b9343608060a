package charging

import (
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// LogOf parts a case in what was known before the charge that runs and the checks of it,
// in order, each with its minutes since the charge began. The log is empty where the last
// reading is no check of a charge. A check that does not say its minutes has them from when
// it was taken; the first of all is taken half an hour in.
func LogOf(c evidence.Case) (before evidence.Case, log []reading.Reading) {
	at := len(c.Readings)
	for at > 0 && c.Readings[at-1].Kind == reading.ChargeLog {
		at--
	}
	before = c
	before.Readings = c.Readings[:at]
	last := quantity.Minutes(0)
	for i := at; i < len(c.Readings); i++ {
		r := c.Readings[i].Reading
		minutes, said := r.Number(reading.Minutes)
		if !said {
			minutes = float64(last + CheckMinutes)
			if then, now := c.Readings[max(i-1, at)].At, c.Readings[i].At; i > at && !then.IsZero() && !now.IsZero() {
				minutes = float64(last) + now.Sub(then).Minutes()
			}
		}
		// A charge that was begun anew begins its log anew.
		if i > at && quantity.Minutes(minutes) < last {
			log = nil
		}
		last = quantity.Minutes(minutes)
		log = append(log, r.With(reading.Minutes, minutes))
	}
	return before, log
}
