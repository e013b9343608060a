package shop_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"grapnel/app/record"
	"grapnel/app/store"
)

// TestPastVerdicts keeps many readings, has what no longer holds made small, and finds every
// verdict as it was, to the letter, the one that holds whole, and room won; more readings and
// a second going over change nothing of that.
func TestPastVerdicts(t *testing.T) {
	b := newBench(t)
	battery := b.battery().ID
	size := func() (n int) {
		t.Helper()
		b.must(b.db.QueryRowContext(t.Context(), "SELECT SUM(LENGTH(body) + LENGTH(past)) FROM verdict WHERE job_id = ?", b.job[:]).Scan(&n))
		return n
	}
	s := store.New(b.db)
	history := func() map[int]string {
		t.Helper()
		list, err := s.VerdictHistory(t.Context(), b.owner.ShopID, b.job, battery)
		b.must(err)
		out := map[int]string{}
		for i, v := range list {
			text, err := json.Marshal(v)
			b.must(err)
			out[v.Revision] = string(text)
			if i > 0 && list[i-1].Revision <= v.Revision {
				t.Errorf("revision %d behind %d", v.Revision, list[i-1].Revision)
			}
		}
		return out
	}
	for n := range 12 {
		b.keep(fmt.Sprintf("12.%02d v 18c rested 2h", 40+n))
	}
	whole, before := size(), history()
	if len(before) != 13 {
		t.Fatalf("%d verdicts", len(before))
	}
	for range 2 {
		b.must(b.ThinVerdicts(t.Context()))
	}
	small := size()
	after := history()
	for revision, text := range before {
		if after[revision] != text {
			t.Errorf("revision %d was\n%s\nand is\n%s", revision, text, after[revision])
		}
	}
	if small > whole/4 {
		t.Errorf("%d bytes of %d", small, whole)
	}
	t.Logf("%d bytes whole, %d thinned", whole, small)
	b.keep("load 325a 15s 9.4v")
	root := b.keep("12.6 v 18c rested 3h")
	b.change(root, b.Mistaken, "")
	later := history()
	b.must(b.ThinVerdicts(t.Context()))
	for revision, text := range history() {
		if before[revision] != "" && before[revision] != text || later[revision] != text {
			t.Errorf("revision %d changed", revision)
		}
	}
	list, err := b.Verdicts(t.Context(), b.owner, b.job, battery)
	if err != nil || len(list) != len(later) || list[0].Verdict.Action != b.action() {
		t.Errorf("%d verdicts, %v", len(list), err)
	}
	if _, err := b.Verdicts(t.Context(), b.owner, b.job, record.NewID()); err == nil {
		t.Error("a battery of nowhere")
	}
}
