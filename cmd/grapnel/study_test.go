package main

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"grapnel/core/study"
)

// TestStudy: the command prints what the contract asks for, refuses what makes no
// study by name, and writes its page with every figure it shows.
func TestStudy(t *testing.T) {
	var out, errs bytes.Buffer
	if code := run(context.Background(), []string{"study", "-cases", "12", "-seed", "7"}, nil, &out, &errs); code != 0 {
		t.Fatalf("exit %d: %s", code, errs.String())
	}
	var got map[string]json.RawMessage
	if err := json.Unmarshal(out.Bytes(), &got); err != nil {
		t.Fatal(err)
	}
	for _, key := range []string{"cases", "seed", "fleet", "seconds", "grapnel", "baselines", "oracle"} {
		if _, ok := got[key]; !ok {
			t.Errorf("the answer lacks %s", key)
		}
	}
	var grapnel map[string]json.RawMessage
	if err := json.Unmarshal(got["grapnel"], &grapnel); err != nil {
		t.Fatal(err)
	}
	for _, key := range []string{"right_cause", "wrongly_replaced", "bad_kept", "minutes_median", "minutes_p90", "tests_median", "calibration_error", "confusion", "waiting_minutes_median", "expected_cost"} {
		if _, ok := grapnel[key]; !ok {
			t.Errorf("grapnel lacks %s", key)
		}
	}
	for _, args := range [][]string{{"study", "-cases", "0"}, {"study", "-fleet", "nowhere"}} {
		out.Reset()
		errs.Reset()
		if code := run(context.Background(), args, nil, &out, &errs); code != exitBadInput || out.Len() > 0 || !strings.Contains(errs.String(), "allowed") {
			t.Errorf("%v: exit %d, %q, %q", args, code, out.String(), errs.String())
		}
	}
	folder := t.TempDir()
	if code := run(context.Background(), []string{"study", "-cases", "12", "-page", folder}, nil, &out, &errs); code != 0 {
		t.Fatalf("exit %d: %s", code, errs.String())
	}
	page, err := os.ReadFile(filepath.Join(folder, "study.md"))
	if err != nil {
		t.Fatal(err)
	}
	for _, fleet := range study.FleetNames() {
		for _, figure := range []string{"confusion", "calibration", "minutes", "replaced"} {
			name := "study/" + fleet + "-" + figure + ".svg"
			svg, err := os.ReadFile(filepath.Join(folder, name))
			if err != nil || !strings.Contains(string(page), name) || !strings.HasSuffix(strings.TrimSpace(string(svg)), "</svg>") {
				t.Errorf("%s is not on the page: %v", name, err)
			}
		}
	}
}
