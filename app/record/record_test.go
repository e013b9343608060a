package record_test

import (
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/school"
)

// log is a job's append-only log being written.
type log struct {
	t       *testing.T
	battery record.ID
	rows    []record.Reading
}

var noon = time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)

func (l *log) row(act, line string, supersedes *record.Reading) record.Reading {
	l.t.Helper()
	parsed, err := record.ParseLine(line)
	if err != nil {
		l.t.Fatal(err)
	}
	n := len(l.rows) + 1
	at := noon.Add(time.Duration(n) * time.Minute)
	r := record.Reading{
		ID: record.ID{15: byte(n)}, BatteryID: &l.battery, Ordinal: n, Act: act, Typed: line, Reading: parsed[0].Reading, TakenAt: at, ReceivedAt: at, PersonName: "Ada",
	}
	r.RootID = r.ID
	if supersedes != nil {
		r.RootID, r.SupersedesID, r.TakenAt = supersedes.RootID, &supersedes.ID, supersedes.TakenAt
	}
	l.rows = append(l.rows, r)
	return r
}

func (l *log) records() record.CaseRecords {
	label := battery.Label{Chemistry: battery.Flooded, NominalV: 12}
	return record.CaseRecords{Job: record.Job{State: record.JobOpen}, Rows: l.rows, Batteries: []record.Fitted{{Battery: record.Battery{ID: l.battery, Label: label}}}}
}

// TestFold checks that a chain of changes counts once, as it stands last, in the place
// and at the time of its first row, with every earlier line behind it.
func TestFold(t *testing.T) {
	l := &log{t: t, battery: record.NewID()}
	first := l.row(record.ActKept, "12.4 v rested 2h", nil)
	l.row(record.ActKept, "look none", nil)
	second := l.row(record.ActCorrected, "12.5 v rested 2h", &first)
	third := l.row(record.ActMistaken, "12.5 v rested 2h", &second)
	views, taken := record.Fold(l.rows, l.battery)
	if len(views) != 2 || len(taken) != 1 || views[0].Counts || views[0].State != record.ActMistaken || len(views[0].Before) != 2 {
		t.Fatalf("withdrawn: %+v", views)
	}
	l.row(record.ActRestored, "12.5 v rested 2h", &third)
	views, taken = record.Fold(l.rows, l.battery)
	if len(taken) != 2 || views[0].Typed != "12.5 v rested 2h" || views[0].Root != first.ID || !taken[0].At.Equal(first.TakenAt) || taken[0].ID != views[0].ID.Ref() {
		t.Errorf("restored: %+v %+v", views, taken)
	}
	// Of another battery nothing counts, of the vehicle everything.
	if views, _ := record.Fold(l.rows, record.NewID()); len(views) != 0 {
		t.Errorf("another battery has %+v", views)
	}
}

// TestCaseDay checks that the day a case is judged is the shop's, and that of handing
// back once it has been.
func TestCaseDay(t *testing.T) {
	auckland, err := time.LoadLocation("Pacific/Auckland")
	if err != nil {
		t.Fatal(err)
	}
	l := &log{t: t, battery: record.NewID()}
	r := l.records()
	m := record.Moment{Now: noon, Zone: auckland} // an hour past midnight there
	c, err := r.Case(m, l.battery)
	if err != nil || c.Day() != "2026-11-25" {
		t.Errorf("judged on %s, %v", c.Day(), err)
	}
	closed := noon.AddDate(0, 0, -3)
	r.Job.State, r.Job.ClosedAt = record.JobClosed, &closed
	if c, err := r.Case(m, l.battery); err != nil || c.Day() != "2026-11-22" {
		t.Errorf("handed back, judged on %s, %v", c.Day(), err)
	}
}

// TestClearingHolds checks that a stop rule is lifted for the readings that are named:
// one found later, or a named one corrected, stops again.
func TestClearingHolds(t *testing.T) {
	l := &log{t: t, battery: record.NewID()}
	none := l.row(record.ActKept, "look none", nil)
	frozen := l.row(record.ActKept, "look frozen", nil)
	engine := diagnosis.New()
	stops := func(clearings ...record.Clearing) bool {
		r := l.records()
		r.Clearings = clearings
		c, err := r.Case(record.Moment{Now: noon.Add(time.Hour), Zone: time.UTC}, l.battery)
		if err != nil {
			t.Fatal(err)
		}
		return engine.Assess(c.Case).Verdict.Action == diagnosis.StopUnsafe
	}
	lifted := record.Clearing{BatteryID: l.battery, Stop: school.FrozenOrDamaged, Readings: []record.ID{frozen.ID}, At: noon.Add(10 * time.Minute)}
	// As an earlier release said it: for all that had been found by then.
	old := record.Clearing{BatteryID: l.battery, Stop: school.FrozenOrDamaged, Last: 2, At: noon.Add(10 * time.Minute)}
	other := record.Clearing{BatteryID: record.NewID(), Stop: school.FrozenOrDamaged, Readings: []record.ID{frozen.ID}}
	if !stops() || stops(lifted) || stops(old) || !stops(other) {
		t.Fatal("a clearing does not hold for what it names, or holds for another battery")
	}
	l.row(record.ActCorrected, "look bulge", &none)
	l.rows[2].ReceivedAt = noon.Add(20 * time.Minute)
	if !stops(lifted) || !stops(old) {
		t.Error("an earlier reading corrected to a bulge does not stop")
	}
	l.rows = l.rows[:2]
	l.row(record.ActCorrected, "look crack", &frozen)
	l.rows[2].ReceivedAt = noon.Add(20 * time.Minute)
	if !stops(lifted) || !stops(old) {
		t.Error("the reading it was lifted for, corrected, does not stop")
	}
	l.rows = l.rows[:2]
	l.row(record.ActKept, "look frozen", nil)
	if !stops(lifted) {
		t.Error("found again, it does not stop")
	}
}

// TestIDs checks the text form both ways, what is refused, and that parts are the same
// every time and no two alike.
func TestIDs(t *testing.T) {
	id := record.NewID()
	if back, err := record.ParseID(id.String()); err != nil || back != id || id.IsZero() {
		t.Errorf("%s came back as %s, %v", id, back, err)
	}
	for _, bad := range []string{"", "7", strings.Repeat("a", 32), strings.Replace(id.String(), "-", "x", 1), id.String() + "0", "{" + id.String()[1:35] + "}", strings.ReplaceAll(id.String(), "-", "g")} {
		if got, err := record.ParseID(bad); err == nil {
			t.Errorf("%q was taken for %s", bad, got)
		}
	}
	seen := map[record.ID]bool{id: true}
	for n := range 5000 {
		p := id.Part(n)
		if seen[p] || p != id.Part(n) {
			t.Fatalf("part %d: %s", n, p)
		}
		seen[p] = true
	}
	// RFC 9562, appendix A.4: the DNS space and www.example.com.
	dns, err := record.ParseID("6ba7b810-9dad-11d1-80b4-00c04fd430c8")
	if got := fmt.Sprint(dns.Named([]byte("www.example.com"))); err != nil || got != "2ed6657d-e927-568b-95e1-2665a8aea6a2" {
		t.Errorf("version 5: %s, %v", got, err)
	}
}

// TestDeviceIsSmall checks that what the device in the browser is built of drags in no
// server: no passwords, no network, no database.
func TestDeviceIsSmall(t *testing.T) {
	cmd := exec.Command("go", "list", "-deps", "grapnel/cmd/grapnel-device")
	cmd.Env = append(cmd.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := cmd.Output()
	if err != nil {
		t.Fatal(err)
	}
	list := strings.Fields(string(out))
	if !slices.Contains(list, "grapnel/app/record") {
		t.Fatalf("the device is not built of record: %v", list)
	}
	for _, pkg := range list {
		for _, heavy := range []string{"net", "net/", "database/sql", "golang.org/x/crypto", "grapnel/app/people", "grapnel/app/shop", "grapnel/app/store", "regexp", "crypto/sha256"} {
			if pkg == heavy || strings.HasPrefix(pkg, heavy+"/") {
				t.Errorf("the device drags in %s", pkg)
			}
		}
	}
}
