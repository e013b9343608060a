package web_test

import (
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/picture/picturetest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
)

// TestBadInputIsNamed sends what no field can hold: every answer is of the caller's fault
// and names the field, none is a fault of ours, and nothing is written.
func TestBadInputIsNamed(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 540))
	var page record.JobPage
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	battery := page.Batteries[0].ID
	reading := func() string { return fmt.Sprintf("/api/jobs/%s/readings/%s", job, record.NewID()) }
	bring := func(parts map[string]any) map[string]any {
		body := map[string]any{"id": record.NewID(), "batteries": []any{map[string]any{"id": record.ID{}, "label": label("flooded", 12, 540)}}}
		for name, value := range parts {
			body[name] = value
		}
		return body
	}
	of := func(field string, value any) map[string]any {
		l := label("flooded", 12, 540)
		l[field] = value
		return bring(map[string]any{"batteries": []any{map[string]any{"id": record.ID{}, "label": l}}})
	}
	vehicle := func(field string, value any) map[string]any {
		return bring(map[string]any{"vehicle": map[string]any{"id": record.ID{}, "facts": map[string]any{field: value}}})
	}
	leaves := func() string { return "/api/leaves/" + record.NewID().String() }
	left := func(battery record.ID, at any) map[string]any { return map[string]any{"battery_id": battery, "at": at} }
	var hello web.Hello
	v.call("GET", "/api/hello", nil, &hello)
	me := hello.Person.ID
	var there []record.Place
	v.call("GET", "/api/places", nil, &there)
	if r := v.call("PUT", "/api/stays/"+record.NewID().String(), map[string]any{"battery_id": battery, "place_id": there[0].ID, "from_at": time.Now(), "purpose": "charge"}, nil); r.StatusCode != http.StatusOK {
		t.Fatal(r.Status)
	}
	twin := map[string]any{"id": record.NewID(), "label": label("flooded", 12, 540)}
	answer := func(at any) map[string]any {
		return map[string]any{"battery_id": battery, "code": "glasses", "value": "done", "at": at}
	}
	people := func(signIn, name string) map[string]any {
		return map[string]any{"id": record.NewID(), "name": name, "sign_in": signIn, "role": "technician", "password": "ten letters at least"}
	}
	stock := func(parts map[string]any) map[string]any {
		body := map[string]any{"tag": "NB-1", "label": label("flooded", 12, 540), "body": outside("L3", "positive_right")}
		for name, value := range parts {
			body[name] = value
		}
		return body
	}
	newStock := func() string { return "/api/stock/" + record.NewID().String() }
	replace := func(field string, value any) map[string]any {
		body := map[string]any{"battery_id": battery, "new_battery_id": record.NewID(), "goes": "scrap", "deposit": "none", "at": time.Now()}
		body[field] = value
		return body
	}
	away := func(field string, value any) map[string]any {
		said := map[string]any{"spot": "", "where": "outdoors", "connected": true, "drain_ma": nil, "mains": nil, "coldest_start_c": nil, "care": "", "wanted_on": "", "note": ""}
		body := map[string]any{"battery_id": battery, "from_at": time.Now(), "said": said}
		if _, ok := said[field]; ok || field == "socket" {
			said[field] = value
		} else {
			body[field] = value
		}
		return body
	}
	stands := func() string { return "/api/standing/" + record.NewID().String() }
	twelve := func(mean, night float64) map[string]any {
		return map[string]any{"zone": "", "own": map[string]any{"monthly_c": slices.Repeat([]float64{mean}, 12), "coldest_c": slices.Repeat([]float64{night}, 12)}}
	}
	fitted := fmt.Sprintf("/api/jobs/%s/replacements/%s", job, record.NewID())
	for _, c := range []struct {
		what, method, path string
		body               any
		status             int
		field              string
	}{
		{"a battery without a tag", "PUT", newStock(), stock(map[string]any{"tag": " "}), 422, "battery.tag"},
		{"a tag of marks", "PUT", newStock(), stock(map[string]any{"tag": "a\x00b"}), 422, "battery.tag"},
		{"a case nobody makes", "PUT", newStock(), stock(map[string]any{"body": outside("L9", "")}), 422, "body.case"},
		{"posts upside down", "PUT", newStock(), stock(map[string]any{"body": outside("L3", "upside_down")}), 422, "body.layout"},
		{"a price of more than there is", "PUT", newStock(), stock(map[string]any{"price_minor": 1 << 60}), 422, "price_minor"},
		{"charged on the 31st of February", "PUT", newStock(), stock(map[string]any{"charged_on": "2026-02-31"}), 422, "charged_on"},
		{"a place of nobody", "PUT", newStock(), stock(map[string]any{"place_id": record.NewID()}), 422, "place_id"},
		{"the battery of a customer", "PUT", "/api/stock/" + battery.String(), stock(nil), 422, "id"},
		{"gone up in smoke", "PUT", newStock() + "/gone", map[string]any{"how": "smoke"}, 422, "how"},
		{"a tray of 1e308 mm", "PUT", "/api/jobs/" + job.String() + "/wants", wants(1e308), 422, "wants.tray.length_mm"},
		{"a morning of abc", "GET", fmt.Sprintf("/api/jobs/%s/batteries/%s/fit?coldest_c=abc", job, battery), nil, 422, "coldest_c"},
		{"a morning of NaN", "GET", fmt.Sprintf("/api/jobs/%s/batteries/%s/fit?coldest_c=NaN", job, battery), nil, 422, "coldest_c"},
		{"a night of NaN", "GET", "/api/standing?tonight_c=NaN", nil, 422, "tonight_c"},
		{"a night of 400 below", "GET", "/api/standing?tonight_c=-400", nil, 422, "tonight_c"},
		{"a battery nobody has", "PUT", stands(), away("battery_id", record.NewID()), 422, "battery_id"},
		{"in the attic", "PUT", stands(), away("where", "attic"), 422, "said.where"},
		{"cared for by prayer", "PUT", stands(), away("care", "pray"), 422, "said.care"},
		{"a drain below nothing", "PUT", stands(), away("drain_ma", -3), 422, "said.drain_ma"},
		{"wanted on the 31st of February", "PUT", stands(), away("wanted_on", "2027-02-31"), 422, "said.wanted_on"},
		{"put away in 9999", "PUT", stands(), away("from_at", "9999-12-31T23:59:59Z"), 422, "from_at"},
		{"a place of nobody in the yard", "PUT", stands(), away("place_id", record.NewID()), 422, "place_id"},
		{"a note of marks", "PUT", stands(), away("note", "a\x00b"), 422, "said.note"},
		{"a fuse of 900 A", "PUT", stands(), away("socket", map[string]any{"live": true, "fuse_a": 900}), 422, "said.socket.fuse_a"},
		{"a night warmer than its mean", "PUT", "/api/climate", twelve(0, 9), 422, "own.coldest_c[0]"},
		{"a calendar for nobody", "PUT", "/api/calendar/feeds/" + record.NewID().String(), map[string]any{"name": " "}, 422, "name"},
		{"one that is not in stock", "PUT", fitted, replace("goes", "scrap"), 422, "new_battery_id"},
		{"an old one to the moon", "PUT", fitted, replace("goes", "moon"), 422, "goes"},
		{"a warranty without end", "PUT", fitted, replace("warranty_until", "9999-99-9"), 422, "warranty_until"},
		{"fitted in 9999", "PUT", fitted, replace("at", "9999-12-31T23:59:59Z"), 422, "at"},
		{"the year 0000", "PUT", reading(), map[string]any{"battery_id": battery, "line": "12.4 v rested 2h", "taken_at": "0000-06-01T00:00:00Z"}, 422, "taken_at"},
		{"the year 9999", "PUT", reading(), map[string]any{"battery_id": battery, "line": "12.4 v rested 2h", "taken_at": "9999-12-31T23:59:59Z"}, 422, "taken_at"},
		{"a time of the year 9999 in the line", "PUT", reading(), map[string]any{"battery_id": battery, "line": "12.4 v rested 2h at 9999-01-01T00:00:00Z", "taken_at": time.Now()}, 422, "line.at"},
		{"a promise for 9999", "POST", "/api/jobs", bring(map[string]any{"promised_at": "9999-12-31T23:59:59Z"}), 422, "promised_at"},
		{"a promise for 0000", "POST", "/api/jobs", bring(map[string]any{"promised_at": "0000-01-01T00:00:00Z"}), 422, "promised_at"},
		{"an answer of 9999", "PUT", fmt.Sprintf("/api/jobs/%s/answers/%s", job, record.NewID()), answer("9999-12-31T23:59:59Z"), 422, "at"},
		{"a clock of 0000", "PUT", fmt.Sprintf("/api/jobs/%s/clocks/%s", job, record.NewID()), map[string]any{"battery_id": battery, "kind": "rest", "started_at": "0000-06-01T00:00:00Z"}, 422, "started_at"},
		{"the same battery twice", "POST", "/api/jobs", bring(map[string]any{"batteries": []any{twin, twin}}), 422, "batteries[1].id"},
		{"Ah typed as 7O", "POST", "/api/jobs", of("capacity_ah", "7O"), 422, "batteries[0].label.capacity_ah"},
		{"a rating typed as 54O", "POST", "/api/jobs", of("rating", map[string]any{"value": "54O", "standard": "EN"}), 422, "batteries[0].label.rating.value"},
		{"Ah of NaN", "POST", "/api/jobs", of("capacity_ah", "NaN"), 422, "batteries[0].label.capacity_ah"},
		{"Ah in hexadecimal", "POST", "/api/jobs", of("capacity_ah", "0x40"), 422, "batteries[0].label.capacity_ah"},
		{"1e308 Ah", "POST", "/api/jobs", of("capacity_ah", 1e308), 422, "batteries[0].label.capacity_ah"},
		{"minutes without end", "POST", "/api/jobs", of("reserve_min", "1e999"), 422, "batteries[0].label.reserve_min"},
		{"a field nobody knows", "POST", "/api/jobs", of("colour", "blue"), 422, "batteries[0].label.colour"},
		{"negative litres", "POST", "/api/jobs", vehicle("litres", -2.0), 422, "vehicle.facts.litres"},
		{"1e308 A asked for", "POST", "/api/jobs", vehicle("required_cca", 1e308), 422, "vehicle.facts.required_cca"},
		{"litres typed as 2,O", "PUT", "/api/jobs/" + job.String() + "/vehicle", map[string]any{"id": record.ID{}, "facts": map[string]any{"litres": "2,O"}}, 422, "facts.litres"},
		{"NUL in a plate", "POST", "/api/jobs", bring(map[string]any{"vehicle": map[string]any{"id": record.ID{}, "plate": "A\x00B"}}), 422, "vehicle.plate"},
		{"ESC in a complaint", "POST", "/api/jobs", bring(map[string]any{"complaint": "turns \x1b[31m slowly"}), 422, "complaint"},
		{"a direction mark in a name", "POST", "/api/jobs", bring(map[string]any{"customer": map[string]any{"id": record.ID{}, "name": "Ines \u202eyawollaC"}}), 422, "customer.name"},
		{"left in 0000", "PUT", leaves(), left(battery, "0000-06-01T00:00:00Z"), 422, "at"},
		{"left in 9999", "PUT", leaves(), left(battery, "9999-12-31T23:59:59Z"), 422, "at"},
		{"left in 0001", "PUT", leaves(), left(battery, "0001-06-01T00:00:00Z"), 422, "at"},
		{"left before it came", "PUT", leaves(), left(battery, "1999-06-01T00:00:00Z"), 422, "at"},
		{"left by nobody's battery", "PUT", leaves(), left(record.NewID(), time.Now()), 404, ""},
		{"left by nothing", "PUT", leaves(), map[string]any{"at": time.Now()}, 422, "battery_id"},
		{"a tray in the attic", "PUT", fmt.Sprintf("/api/jobs/%s/vehicle", job), map[string]any{"id": record.ID{}, "tray": "attic"}, 422, "vehicle.tray"},
		{"joined by glue", "PUT", fmt.Sprintf("/api/jobs/%s/vehicle", job), map[string]any{"id": record.ID{}, "joined": "glue"}, 422, "vehicle.joined"},
		{"brought in joined by glue", "POST", "/api/jobs", bring(map[string]any{"vehicle": map[string]any{"id": record.ID{}, "joined": "glue"}}), 422, "vehicle.joined"},
		{"mounted in the attic", "PUT", fmt.Sprintf("/api/jobs/%s/batteries/%s/mounting", job, battery), map[string]any{"where": "attic", "posts": "", "joined": ""}, 422, "where"},
		{"a person under another's id", "POST", "/api/people", map[string]any{"id": me, "name": "Jo", "sign_in": "jo", "role": "technician", "password": "ten letters at least"}, 409, "id"},
		{"a zero-width twin", "POST", "/api/people", people("ma\u200bra", "Mara"), 422, "sign_in"},
		{"a twin in a name", "POST", "/api/people", people("someone", "Ma\u2060ra"), 422, "name"},
		{"NUL in a reason", "PUT", fmt.Sprintf("/api/jobs/%s/answers/%s", job, record.NewID()), map[string]any{"battery_id": battery, "code": "glasses", "value": "not_done", "note": "a\x00b", "at": time.Now()}, 422, "note"},
		{"JSON of a hundred thousand steps down, to be assessed", "POST", "/api/assess", strings.Repeat(`{"battery":`, 100_000) + "1" + strings.Repeat("}", 100_000), 422, "case"},
		{"lists of a hundred thousand steps down, to be brought in", "POST", "/api/jobs", strings.Repeat("[", 100_000) + strings.Repeat("]", 100_000), 400, ""},
		{"10 MB to be assessed", "POST", "/api/assess", `{"readings": ["` + strings.Repeat("x", 10<<20) + `"]}`, 413, ""},
	} {
		var p web.Problem
		r := v.call(c.method, c.path, c.body, &p)
		if r.StatusCode != c.status {
			t.Errorf("%s: %s %+v", c.what, r.Status, p)
			continue
		}
		if c.field != "" && (len(p.Errors) == 0 || p.Errors[0].Field != c.field && "line."+p.Errors[0].Field != c.field) {
			t.Errorf("%s: named %+v, want %s", c.what, p.Errors, c.field)
		}
	}
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	if len(page.Batteries[0].Readings) != 0 || page.Batteries[0].Label.CapacityAh != nil {
		t.Errorf("something was written: %+v", page.Batteries[0])
	}
	// A picture's note comes in the address, as bytes.
	for note, status := range map[string]int{"%ff": 422, "%00": 422, "a%1b": 422, "green%20strands": 204} {
		r, err := v.client.Do(mustRequest(t, "PUT", v.base+fmt.Sprintf("/api/jobs/%s/photos/%s?note=%s&taken_at=%s", job, record.NewID(), note, url.QueryEscape(time.Now().Format(time.RFC3339))), string(picturetest.PNG(90)), "image/png"))
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		if r.StatusCode != status {
			t.Errorf("a note of %s: %s", note, r.Status)
		}
	}
}

// outside is what a case looks like, as the front end sends it.
func outside(size, layout string) map[string]any {
	return map[string]any{
		"case": size, "group": "", "length_mm": nil, "width_mm": nil, "height_mm": nil, "layout": layout, "terminal": "", "hold_down": "", "vent_side": "",
	}
}

// wants is what a vehicle wants whose tray is so long.
func wants(length float64) map[string]any {
	return map[string]any{
		"tray_length_mm": length, "tray_width_mm": nil, "tray_height_mm": nil, "layout": "", "terminal": "", "hold_down": "", "vent_side": "", "torque_nm": nil,
	}
}

func mustRequest(t *testing.T, method, address, body, mediaType string) *http.Request {
	t.Helper()
	r, err := http.NewRequestWithContext(t.Context(), method, address, strings.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Content-Type", mediaType)
	return r
}

// TestFiguresAsTyped checks that a figure is read as a person types it, with either
// decimal mark.
func TestFiguresAsTyped(t *testing.T) {
	v := demoVisitor(t)
	l := label("flooded", 12, 0)
	l["capacity_ah"], l["rating"], l["full_sg"], l["reserve_min"] = "70,5", map[string]any{"value": " 540 ", "standard": "EN"}, "1.28", nil
	var page record.JobPage
	v.call("GET", "/api/jobs/"+v.bring(l).String(), nil, &page)
	got := page.Batteries[0].Label
	if *got.CapacityAh != 70.5 || got.Rating.Value != 540 || *got.FullSG != 1.28 || got.ReserveMin != nil {
		t.Errorf("%+v", got)
	}
}

// TestKeyUsedOverHTTP checks that a key used for something else is answered 409, and
// what differs is named.
func TestKeyUsedOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job, other := v.bring(label("flooded", 12, 540)), v.bring(label("flooded", 12, 540))
	body := map[string]any{"battery_id": record.ID{}, "line": "12.4 v rested 2h", "taken_at": time.Now()}
	key := record.NewID()
	path := fmt.Sprintf("/api/jobs/%s/readings/%s", job, key)
	for range 2 {
		if r := v.call("PUT", path, body, nil); r.StatusCode != http.StatusOK {
			t.Fatal(r.Status)
		}
	}
	var p web.Problem
	body["line"] = "12.5 v rested 2h"
	if r := v.call("PUT", path, body, &p); r.StatusCode != http.StatusConflict || p.Errors[0].Field != "line" || !strings.Contains(p.Detail, "12.4") {
		t.Errorf("%s %+v", r.Status, p)
	}
	body["line"] = "12.4 v rested 2h"
	if r := v.call("PUT", fmt.Sprintf("/api/jobs/%s/readings/%s", other, key), body, &p); r.StatusCode != http.StatusConflict {
		t.Errorf("on another job: %s", r.Status)
	}
	if r := v.call("PUT", fmt.Sprintf("/api/jobs/%s/answers/%s", job, key), map[string]any{"battery_id": record.ID{}, "code": "glasses", "value": "done", "at": time.Now()}, &p); r.StatusCode != http.StatusConflict {
		t.Errorf("for an answer: %s", r.Status)
	}
}

// TestPlacesOverHTTP goes once through what belongs to no job.
func TestPlacesOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job := v.jobOf("WS 204 K")
	var page record.JobPage
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	battery, vehicle := page.Batteries[0].ID.String(), page.Vehicle.ID.String()
	now := time.Now().UTC()
	do := func(method, path string, body, out any, want int) {
		t.Helper()
		if r := v.call(method, "/api"+path, body, out); r.StatusCode != want {
			t.Fatalf("%s %s: %s", method, path, r.Status)
		}
	}
	id := func() string { return record.NewID().String() }
	rack, charger := id(), id()
	var places []record.Place
	do("PUT", "/places/"+rack, map[string]any{"name": "Rack", "kind": "shelf", "indoors": true, "watts": 900, "ordinal": 9}, &places, 200)
	var shelf, chargers []record.Charger
	do("GET", "/chargers", nil, &shelf, 200)
	do("PUT", "/chargers/"+charger, map[string]any{"name": "Blue", "kind": "taper", "amps": []float64{6, 2}, "place_id": rack}, &chargers, 200)
	at := slices.IndexFunc(chargers, func(c record.Charger) bool { return c.Name == "Blue" })
	if places[len(places)-1].Name != "Rack" || len(chargers) != len(shelf)+1 || at < 0 || chargers[at].Amps[0] != 2 {
		t.Errorf("%+v %+v", places, chargers)
	}
	do("PUT", "/chargers/"+id(), map[string]any{"name": "Red", "kind": "taper", "amps": []float64{-6}}, nil, 422)
	var stays []record.Stay
	do("PUT", "/stays/"+id(), map[string]any{"battery_id": battery, "place_id": rack, "from_at": now, "purpose": "charge"}, &stays, 200)
	do("GET", "/places/"+rack+"/stays", nil, &stays, 200)
	if len(stays) != 1 || stays[0].Purpose != "charge" {
		t.Errorf("%+v", stays)
	}
	do("PUT", "/leaves/"+id(), map[string]any{"battery_id": battery, "at": now.Add(time.Second)}, &stays, 200)
	do("GET", "/batteries/"+battery+"/stays", nil, &stays, 200)
	if stays[0].ToAt == nil {
		t.Errorf("it still stays there: %+v", stays)
	}
	var moved shop.Moved
	do("PUT", "/batteries/"+battery+"/removals/"+id(), map[string]any{"at": now}, &moved, 200)
	do("PUT", "/batteries/"+battery+"/installations/"+id(), map[string]any{"vehicle_id": vehicle, "position": "left", "at": now}, &moved, 200)
	if len(moved.Now) != 1 || moved.Now[0].Position != "left" {
		t.Errorf("%+v", moved)
	}
	var life shop.BatteryPage
	do("PUT", "/batteries/"+battery+"/readings/"+id(), map[string]any{"line": "12.6 v rested 20h", "taken_at": now}, &life, 200)
	if len(life.Loose) != 1 || len(life.Installations) < 2 {
		t.Errorf("%+v", life)
	}
	do("DELETE", "/chargers/"+charger, nil, &chargers, 200)
	do("DELETE", "/places/"+rack, nil, &places, 200)
	var list []record.Place
	do("GET", "/places", nil, &list, 200)
	do("GET", "/chargers", nil, &chargers, 200)
	if len(list) != len(places) || len(chargers) != len(shelf) {
		t.Errorf("%+v %+v", list, chargers)
	}
}

// line is a way to the database that can be cut and let through again, and that can
// stand still.
type line struct {
	mu       sync.Mutex
	listener net.Listener
	to       string
	cut      bool
	still    bool
	open     []net.Conn
}

func newLine(t *testing.T, to string) *line {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	one := &line{listener: l, to: to}
	t.Cleanup(func() { l.Close(); one.set(true, false) })
	go one.serve()
	return one
}

func (l *line) serve() {
	for {
		here, err := l.listener.Accept()
		if err != nil {
			return
		}
		l.mu.Lock()
		cut, still := l.cut, l.still
		l.mu.Unlock()
		if cut {
			here.Close()
			continue
		}
		there, err := net.Dial("tcp", l.to)
		if err != nil {
			here.Close()
			continue
		}
		l.mu.Lock()
		l.open = append(l.open, here, there)
		l.mu.Unlock()
		if still {
			continue // it is taken and never answered
		}
		go func() { _, _ = io.Copy(there, here); there.Close() }()
		go func() { _, _ = io.Copy(here, there); here.Close() }()
	}
}

// set cuts the line or lets it through, or makes it stand still; what is open ends.
func (l *line) set(cut, still bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.cut, l.still = cut, still
	for _, one := range l.open {
		one.Close()
	}
	l.open = nil
}

// TestDatabaseAway checks that while the database does not answer, nobody is told that
// they are signed out or that we have a fault: they are told to come again, and so is
// whoever asks whether we are well; and that everything goes on by itself.
func TestDatabaseAway(t *testing.T) {
	dsn := dbtest.DSN(t)
	direct, err := store.Open(dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer direct.Close()
	if _, err := store.Migrate(t.Context(), direct); err != nil {
		t.Fatal(err)
	}
	if err := demo.Load(t.Context(), store.New(direct), time.Now()); err != nil {
		t.Fatal(err)
	}
	config, err := mysql.ParseDSN(dsn)
	if err != nil {
		t.Fatal(err)
	}
	way := newLine(t, config.Addr)
	config.Addr = way.listener.Addr().String()
	config.Timeout, config.ReadTimeout, config.WriteTimeout = time.Second, time.Second, time.Second
	db, err := store.Open(config.FormatDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	v := newVisitor(t, db)
	p := demo.SignIns()[0]
	v.call("POST", "/api/sign-in", map[string]string{"sign_in": p.SignIn, "password": p.Password}, nil)
	job := v.jobOf("DUN 48")
	ask := func(when string, want int) {
		t.Helper()
		for path, body := range map[string]any{
			"GET /api/today": nil, "GET /api/jobs/" + job.String(): nil, "GET /healthz": nil,
			fmt.Sprintf("PUT /api/jobs/%s/readings/%s", job, record.NewID()): map[string]any{"battery_id": record.ID{}, "line": "look none", "taken_at": time.Now()},
		} {
			method, address, _ := strings.Cut(path, " ")
			began := time.Now()
			r := v.call(method, address, body, nil)
			if r.StatusCode != want || (want == http.StatusServiceUnavailable) != (r.Header.Get("Retry-After") != "") {
				t.Errorf("%s, %s: %s, Retry-After %q", when, path, r.Status, r.Header.Get("Retry-After"))
			}
			if took := time.Since(began); took > 20*time.Second {
				t.Errorf("%s, %s took %s", when, path, took)
			}
		}
	}
	ask("at first", http.StatusOK)
	way.set(true, false)
	ask("cut off", http.StatusServiceUnavailable)
	way.set(false, false)
	ask("back", http.StatusOK)
	way.set(false, true)
	ask("standing still", http.StatusServiceUnavailable)
	way.set(false, false)
	ask("back again", http.StatusOK)
	if r := v.call("GET", "/api/hello", nil, nil); r.StatusCode != http.StatusOK {
		t.Errorf("hello: %s", r.Status)
	}
}
