package main

import (
	"bytes"
	"context"
	"encoding/json"
	"strings"
	"testing"
)

func command0(args []string, in string) (code int, out, errs string) {
	var o, e bytes.Buffer
	code = run(context.Background(), args, strings.NewReader(in), &o, &e)
	return code, o.String(), e.String()
}

// TestAssess checks the contract of the command: exit 0 with the answer, or 2
// with every problem on standard error and nothing on standard output.
func TestAssess(t *testing.T) {
	code, out, errs := command0([]string{"assess"}, `{"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}},"readings":["12.24 v 18c rested 2h","load 325a 15s 9.3v"]}`)
	var answer struct {
		Verdict struct{ Action string }
	}
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || answer.Verdict.Action != "charge_and_retest" {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	code, out, errs = command0([]string{"assess"}, `{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["12.24 v", {"kind":"load","amps":-3,"seconds":900,"volts":9}],"what":1}`)
	if code != exitBadInput || out != "" {
		t.Errorf("exit %d, output %q", code, out)
	}
	for _, field := range []string{"readings[1].amps", "readings[1].seconds", "what"} {
		if !strings.Contains(errs, field) {
			t.Errorf("%s is not named in %q", field, errs)
		}
	}
}

func TestCommands(t *testing.T) {
	for _, c := range []struct {
		args []string
		code int
		says string
	}{
		{nil, 0, "assess"},
		{[]string{"help"}, 0, "GRAPNEL_DSN"},
		{[]string{"version"}, 0, release},
		{[]string{"juggle"}, exitBadInput, `no command "juggle"`},
		{[]string{"version", "now"}, exitBadInput, `unexpected "now"`},
		{[]string{"assess", "-fast"}, exitBadInput, "fast"},
		{[]string{"serve", "-h"}, 0, "address"},
	} {
		code, out, errs := command0(c.args, "")
		if code != c.code || !strings.Contains(out+errs, c.says) {
			t.Errorf("%v: exit %d, %q %q", c.args, code, out, errs)
		}
	}
}
