package fold_test

import (
	"testing"

	"grapnel/app/fold"
)

// TestName holds what counts as one name. Accents composed or not are one by Unicode Standard
// Annex 15 (form C); the rest has no source: it is how the program is to behave.
func TestName(t *testing.T) {
	for _, one := range []struct {
		a, b string
		same bool
	}{
		{"jo", " JO ", true}, {"jose\u0301", "JOSÉ", true}, {"\u212bngström", "ångström", true}, {"\u1112\u1161\u11ab", "한", true},
		{"jo", "jö", false}, {"strasse", "straße", false}, {"ﬁn", "fin", false}, {"æ", "ae", false}, {"😀", "😁", false},
		{"a b", "a  b", false}, {"ｊｏ", "jo", false}, {"", " ", true},
	} {
		if got := fold.Name(one.a) == fold.Name(one.b); got != one.same {
			t.Errorf("%q and %q are one: %v", one.a, one.b, got)
		}
		if fold.Name(fold.Name(one.a)) != fold.Name(one.a) {
			t.Errorf("%q folds on: %q", one.a, fold.Name(fold.Name(one.a)))
		}
	}
}
