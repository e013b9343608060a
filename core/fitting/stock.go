package fitting

import (
	"time"

	"grapnel/core/wording"
)

// Stands says what a battery of the stock wants because it has stood: sold first, charged.
// Empty for a fresh one.
func Stands(i Item, today time.Time) []wording.Statement {
	out := []wording.Statement{}
	f := facts{ask: &Ask{Today: today}, need: &Need{}, item: &i}
	for _, r := range []rule{{oldStock, old}, {chargeFirst, charge}} {
		if w, values := r.weighs(&f); w != absent {
			out = append(out, wording.Say("fit."+r.code, values))
		}
	}
	return out
}

// AgeMonths is how many months a battery is old; false where it is not known.
func AgeMonths(i Item, today time.Time) (int, bool) { return months(i.made(), today) }
