package problem

import (
	"errors"
	"strings"
	"testing"
)

// TestUnder checks that a problem keeps what it says when it is put below a
// path, and that a line's problem tells which line.
func TestUnder(t *testing.T) {
	p := New("problem.range", "volts", "120 V", Range(0, 36, "V")).Suggesting("12 v").Under("readings[2]")
	if p.Field != "readings[2].volts" || !strings.HasPrefix(p.Text, "readings[2].volts: 120 V") || !strings.Contains(p.Text, "Did you mean 12 v?") || p.Suggest[0] != "12 v" {
		t.Errorf("%+v", p)
	}
	l := New("line.unknown", "", "purple", "v, a").At(3, 9).Under("readings[0]")
	if l.Field != "readings[0]" || !strings.HasPrefix(l.Text, "readings[0]: ") || l.Start != 3 || l.End != 9 {
		t.Errorf("%+v", l)
	}
}

// TestList checks that an empty list is no error and a full one is.
func TestList(t *testing.T) {
	var list List
	if list.Err() != nil {
		t.Error("nothing wrong is an error")
	}
	list = append(list, New("problem.missing", "a", "", "b"), New("problem.missing", "c", "", "d"))
	var back List
	if err := list.Err(); !errors.As(err, &back) || len(back) != 2 || strings.Count(err.Error(), "\n") != 1 {
		t.Errorf("%v", list.Err())
	}
	if got := OneOf([]string{"x", "y"}); got != "one of x, y" {
		t.Errorf("%s", got)
	}
	if p := New("problem.missing", "a", "", "b").Suggesting(); len(p.Suggest) != 0 || strings.Contains(p.Text, "mean") {
		t.Errorf("%+v", p)
	}
}

// What is quoted is cut between two characters. The bytes of the characters are UTF-8's, RFC
// 3629.
func TestCut(t *testing.T) {
	for _, c := range []struct {
		text string
		most int
		want string
	}{
		{"12.4 v", 6, "12.4 v"}, {"12.4 v", 5, "12.4 …"}, {"ÅÅÅ", 6, "ÅÅÅ"}, {"ÅÅÅ", 5, "ÅÅ…"}, {"ÅÅÅ", 4, "ÅÅ…"}, {"€uro", 2, "…"}, {"", 3, ""}, {"abc", 0, "…"},
	} {
		if got := Cut(c.text, c.most); got != c.want {
			t.Errorf("%q to %d: %q, want %q", c.text, c.most, got, c.want)
		}
	}
}
