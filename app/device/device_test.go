package device_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/device"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/bench"
	"grapnel/core/handbook"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/trail"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// workshop is the demo workshop as its server sees it, and a device beside it.
type workshop struct {
	t      *testing.T
	server *shop.Service
	who    people.Person
	device *device.Device
	now    time.Time
}

func open(t *testing.T) *workshop {
	t.Helper()
	now := time.Now().UTC().Truncate(time.Microsecond)
	kept := store.New(dbtest.Open(t))
	if err := demo.Load(t.Context(), kept, now); err != nil {
		t.Fatal(err)
	}
	clock := func() time.Time { return now }
	w := &workshop{t: t, server: shop.NewService(kept, clock), device: device.New(handbook.RulesHash(), time.UTC, clock), now: now}
	shops, err := w.server.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	sh := shops[0]
	staff, err := w.server.People(t.Context(), people.Person{ShopID: sh.ID})
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range staff {
		if p.Role == people.Owner {
			w.who = p
		}
	}
	return w
}

// ask asks the device and reads its answer, or gives what is wrong with the question.
func (w *workshop) ask(question string, asked device.Asked, answer any) problem.List {
	w.t.Helper()
	body, err := json.Marshal(asked)
	if err != nil {
		w.t.Fatal(err)
	}
	var out struct {
		Answer  json.RawMessage
		Problem *struct {
			Status int
			Detail string
			Errors problem.List
		}
	}
	if err := json.Unmarshal(w.device.Answer(question, body), &out); err != nil {
		w.t.Fatal(err)
	}
	if out.Problem != nil {
		if len(out.Problem.Errors) == 0 {
			w.t.Fatalf("%s: %d %s", question, out.Problem.Status, out.Problem.Detail)
		}
		return out.Problem.Errors
	}
	if err := json.Unmarshal(out.Answer, answer); err != nil {
		w.t.Fatal(err)
	}
	return nil
}

// page is a job's page as the server has it.
func (w *workshop) page(job record.ID) record.JobPage {
	w.t.Helper()
	page, err := w.server.JobPage(w.t.Context(), w.who, job)
	if err != nil {
		w.t.Fatal(err)
	}
	return page
}

// same compares two values by what they are in JSON.
func same(t *testing.T, what string, server, device any) {
	t.Helper()
	var both [2]any
	for i, one := range []any{server, device} {
		text, err := json.Marshal(one)
		if err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(text, &both[i]); err != nil {
			t.Fatal(err)
		}
	}
	if !reflect.DeepEqual(both[0], both[1]) {
		t.Errorf("%s: the server says\n%v\nthe device says\n%v", what, both[0], both[1])
	}
}

// TestSaysWhatTheServerSays compares every page of the demo workshop, and the account
// of every verdict, with what the device makes of the same records.
func TestSaysWhatTheServerSays(t *testing.T) {
	w := open(t)
	today, err := w.server.Today(t.Context(), w.who, time.Time{}, record.ID{})
	if err != nil {
		t.Fatal(err)
	}
	rows := append(today.Open, today.Closed...)
	if len(rows) < 6 {
		t.Fatalf("%d jobs", len(rows))
	}
	for _, row := range rows {
		server := w.page(row.Job.ID)
		var page record.JobPage
		w.ask("page", device.Asked{Records: server.Records}, &page)
		same(t, row.Plate, server, page)
		for _, b := range server.Batteries {
			account, err := w.server.Account(t.Context(), w.who, row.Job.ID, b.ID)
			if err != nil {
				t.Fatal(err)
			}
			var answer any
			w.ask("account", device.Asked{Records: server.Records, BatteryID: b.ID}, &answer)
			same(t, row.Plate+" account", account, answer)
		}
	}
}

// TestWhatWaits counts readings and answers in that the server has not been told of:
// the page is the one that the server comes to once it has them.
func TestWhatWaits(t *testing.T) {
	w := open(t)
	job, err := w.server.LatestJob(t.Context(), w.who, "WS 204 K")
	if err != nil {
		t.Fatal(err)
	}
	before := w.page(job)
	battery := before.Batteries[0].ID
	waiting := []record.Waiting{
		{ID: record.NewID(), Kind: record.WaitingReading, BatteryID: battery, By: w.who.Name, At: w.now, Line: "12.66 v rested 3h after charge; load 325a 15s 7.4v 18c"},
		{ID: record.NewID(), Kind: record.WaitingAnswer, BatteryID: battery, By: w.who.Name, At: w.now, Code: "glasses", Value: trail.Done},
		{ID: record.NewID(), Kind: record.WaitingReading, BatteryID: battery, By: w.who.Name, At: w.now, Line: "no reading at all"},
	}
	var page record.JobPage
	w.ask("page", device.Asked{Records: before.Records, Waiting: waiting}, &page)
	readings := page.Batteries[0].Readings
	if n := len(readings) - len(before.Batteries[0].Readings); n != 2 || !readings[len(readings)-1].Waits || readings[0].Waits {
		t.Errorf("%d more readings, %+v", n, readings[len(readings)-1])
	}

	for _, one := range waiting[:2] {
		if one.Code != "" {
			err = w.server.Answer(t.Context(), w.who, job, record.StepAnswer{ID: one.ID, BatteryID: battery, Code: one.Code, Value: one.Value, At: one.At})
		} else {
			_, err = w.server.Keep(t.Context(), w.who, job, record.Keep{ID: one.ID, BatteryID: battery, Line: one.Line, TakenAt: one.At})
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	after := w.page(job)
	for i := range readings {
		readings[i].Waits, readings[i].TakenZone = false, after.Batteries[0].Readings[i].TakenZone
	}
	same(t, "batteries", after.Batteries, page.Batteries)
	same(t, "cautions", after.Cautions, page.Cautions)

	// Sent meanwhile, it is not counted twice.
	w.ask("page", device.Asked{Records: after.Records, Waiting: waiting[:1]}, &page)
	same(t, "after it was sent", after.Batteries[0].Readings, page.Batteries[0].Readings)
}

// TestEveryKindThatWaits does one of each kind on the device and at the server: the page
// is the same after each.
func TestEveryKindThatWaits(t *testing.T) {
	w := open(t)
	job, err := w.server.LatestJob(t.Context(), w.who, "WS 204 K")
	if err != nil {
		t.Fatal(err)
	}
	ctx := t.Context()
	before := w.page(job)
	one := before.Batteries[0]
	label := one.Label
	label.Rating.Value = 600
	facts := before.Vehicle.Vehicle
	facts.Litres = nil
	said := func(of any) json.RawMessage {
		text, err := json.Marshal(of)
		if err != nil {
			t.Fatal(err)
		}
		return text
	}
	mounting := trail.Mounting{Where: trail.Boot, Posts: trail.SidePosts, Joined: trail.Parallel}
	reading := one.Readings[0].ID
	id := record.NewID
	corrected, mistaken := id(), id()
	var waiting []json.RawMessage
	for _, step := range []struct {
		about map[string]any
		do    func(id record.ID) error
	}{
		{map[string]any{"kind": "label", "battery_id": one.ID, "tag": "T-9", "maker": "Ambercell", "label": said(label)}, func(record.ID) error {
			return w.server.Relabel(ctx, w.who, job, record.Battery{ID: one.ID, Tag: "T-9", Maker: "Ambercell", Label: label})
		}},
		{map[string]any{"kind": "vehicle", "plate": "ws 204 k", "description": "estate", "facts": said(facts)}, func(record.ID) error {
			return w.server.Describe(ctx, w.who, job, record.Vehicle{Plate: "ws 204 k", Description: "estate", Vehicle: facts})
		}},
		{map[string]any{"kind": "mounting", "battery_id": one.ID, "mounting": mounting}, func(record.ID) error {
			return w.server.Mount(ctx, w.who, job, one.ID, mounting)
		}},
		{map[string]any{"kind": "desk", "waits_for": shop.WaitsPart, "waits_note": "clamp"}, func(record.ID) error {
			return w.server.SetDesk(ctx, w.who, job, shop.Desk{WaitsFor: shop.WaitsPart, WaitsNote: "clamp"})
		}},
		{map[string]any{"id": corrected, "kind": "correct", "reading": reading, "line": "12.11 v rested 2h", "reason": "read wrongly"}, func(id record.ID) error {
			return w.server.Correct(ctx, w.who, job, reading, shop.Correction{ID: id, Line: "12.11 v rested 2h", Reason: "read wrongly"})
		}},
		{map[string]any{"id": mistaken, "kind": "mistaken", "reading": corrected, "reason": "wrong battery"}, func(id record.ID) error {
			return w.server.Mistaken(ctx, w.who, job, corrected, shop.Correction{ID: id, Reason: "wrong battery"})
		}},
		{map[string]any{"kind": "undo", "reading": mistaken, "reason": "taken back"}, func(id record.ID) error {
			return w.server.Undo(ctx, w.who, job, mistaken, shop.Correction{ID: id})
		}},
		{map[string]any{"kind": "reading", "battery_id": one.ID, "line": "look crack"}, func(id record.ID) error {
			_, err := w.server.Keep(ctx, w.who, job, record.Keep{ID: id, BatteryID: one.ID, Line: "look crack", TakenAt: w.now})
			return err
		}},
	} {
		key, ok := step.about["id"].(record.ID)
		if !ok {
			key = id()
		}
		step.about["id"], step.about["by"], step.about["at"] = key, w.who.Name, w.now
		waiting = append(waiting, said(step.about))
		list := []record.Waiting{}
		if err := json.Unmarshal(said(waiting), &list); err != nil {
			t.Fatal(err)
		}
		var page record.JobPage
		w.ask("page", device.Asked{Records: before.Records, Waiting: list}, &page)
		if err := step.do(key); err != nil {
			t.Fatalf("%v: %v", step.about["kind"], err)
		}
		after := w.page(job)
		for i, b := range page.Batteries {
			for k := range b.Readings {
				b.Readings[k].Waits, b.Readings[k].TakenZone, b.Readings[k].Reason = false, after.Batteries[i].Readings[k].TakenZone, after.Batteries[i].Readings[k].Reason
			}
			// What was labelled anew has the time of it in its readings' history.
			for k := range b.Readings {
				for m := range b.Readings[k].Before {
					b.Readings[k].Before[m].At = after.Batteries[i].Readings[k].Before[m].At
				}
			}
		}
		what := fmt.Sprint(step.about["kind"])
		same(t, what+": batteries", after.Batteries, page.Batteries)
		same(t, what+": vehicle", after.Vehicle, page.Vehicle)
		same(t, what+": waits for", []string{after.Job.WaitsFor, after.Job.WaitsNote, after.Job.State}, []string{page.Job.WaitsFor, page.Job.WaitsNote, page.Job.State})
	}
}

// TestEcho checks that a line is echoed, and refused, as by the server.
func TestEcho(t *testing.T) {
	w := open(t)
	job, err := w.server.LatestJob(t.Context(), w.who, "WS 204 K")
	if err != nil {
		t.Fatal(err)
	}
	page := w.page(job)
	battery := page.Batteries[0].ID
	for _, line := range []string{"12.66 v rested 3h after charge", "load 325a 15s 9.9v 18c", "eye dark; drain 85 ma asleep 40min", "594/650 cca"} {
		server, err := w.server.Preview(t.Context(), w.who, job, battery, record.Wanted{Line: line})
		if err != nil {
			t.Fatal(err)
		}
		var echo any
		w.ask("preview", device.Asked{Records: page.Records, BatteryID: battery, Line: line}, &echo)
		same(t, line, server, echo)
	}
	for _, line := range []string{"", "12.66 v resetd 3h", "load 325a", "38 v", "27 v"} {
		_, err := w.server.Preview(t.Context(), w.who, job, battery, record.Wanted{Line: line})
		list, _ := err.(problem.List)
		got := w.ask("preview", device.Asked{Records: page.Records, BatteryID: battery, Line: line}, new(any))
		if len(got) == 0 || !reflect.DeepEqual(got, list) {
			t.Errorf("%q: the device says %v, the server %v", line, got, list)
		}
	}
	aside := page.Batteries[0].Readings[0].ID
	server, err := w.server.Preview(t.Context(), w.who, job, battery, record.Wanted{Aside: []record.ID{aside}})
	if err != nil {
		t.Fatal(err)
	}
	var without any
	w.ask("preview", device.Asked{Records: page.Records, BatteryID: battery, Aside: []record.ID{aside}}, &without)
	same(t, "set aside", server, without)
}

// TestSumsAndCompletions checks the bench, with the shop's own figures, and what may be
// typed next.
func TestSumsAndCompletions(t *testing.T) {
	w := open(t)
	if err := w.server.SetLimit(t.Context(), w.who, school.LimitID("drain_most"), 0.08, "house rule"); err != nil {
		t.Fatal(err)
	}
	own, err := w.server.Own(t.Context(), w.who)
	if err != nil {
		t.Fatal(err)
	}
	for _, sum := range bench.Sums() {
		inputs := map[string]string{}
		for _, in := range sum.Inputs {
			if !in.Optional {
				inputs[in.Name] = in.Start
			}
		}
		server, err := w.server.WorkSum(t.Context(), w.who, sum.ID, inputs)
		if err != nil {
			t.Fatal(err)
		}
		var result any
		w.ask("sum", device.Asked{Sum: sum.ID, Inputs: inputs, Own: own}, &result)
		same(t, sum.ID, server, result)
	}
	var next reading.Completions
	w.ask("complete", device.Asked{Line: "12.41 v res"}, &next)
	same(t, "completions", reading.Complete("12.41 v res"), next)
}

// TestNeverFails asks what cannot be answered.
func TestNeverFails(t *testing.T) {
	d := device.New(handbook.RulesHash(), time.UTC, time.Now)
	for _, c := range [][2]string{{"weather", `{}`}, {"page", `not JSON`}, {"page", `{}`}, {"preview", `{"records": {}, "line": "12.4 v"}`}, {"sum", `{"sum": "none"}`}} {
		if got := string(d.Answer(c[0], []byte(c[1]))); !strings.Contains(got, `"problem"`) {
			t.Errorf("%v: %s", c, got)
		}
	}
}
