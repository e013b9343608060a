package web_test

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/procedure"
)

// rowsOf are all rows that a database has of a shop.
func rowsOf(t *testing.T, db *sql.DB, shopID record.ID) map[string][]string {
	t.Helper()
	out := dbtest.Rows(t, db, shopID[:], "signed_in")
	if len(out) < 20 {
		t.Fatalf("%d tables", len(out))
	}
	return out
}

// theirs are things of a shop, one of each kind, by the name they have in an address.
func theirs(t *testing.T, db *sql.DB, shopID record.ID) map[string]record.ID {
	t.Helper()
	out := map[string]record.ID{}
	for name, query := range map[string]string{
		"job":     "SELECT id FROM job WHERE shop_id = ? AND state = 'open' AND id IN (SELECT job_id FROM reading) ORDER BY opened_at LIMIT 1",
		"battery": "SELECT battery_id FROM job_battery WHERE shop_id = ? AND job_id = (SELECT id FROM job WHERE state = 'open' AND id IN (SELECT job_id FROM reading) ORDER BY opened_at LIMIT 1)",
		"vehicle": "SELECT id FROM vehicle WHERE shop_id = ? LIMIT 1", "customer": "SELECT id FROM customer WHERE shop_id = ? LIMIT 1",
		"reading": "SELECT id FROM reading WHERE shop_id = ? AND job_id = (SELECT id FROM job WHERE state = 'open' AND id IN (SELECT job_id FROM reading) ORDER BY opened_at LIMIT 1) LIMIT 1",
		"place":   "SELECT id FROM place WHERE shop_id = ? LIMIT 1", "charger": "SELECT id FROM charger WHERE shop_id = ? LIMIT 1",
		"charge": "SELECT id FROM charge WHERE shop_id = ? AND open = 1 LIMIT 1", "clock": "SELECT id FROM clock WHERE shop_id = ? LIMIT 1",
		"instrument": "SELECT id FROM instrument WHERE shop_id = ? LIMIT 1", "standing": "SELECT id FROM standing WHERE shop_id = ? AND open = 1 LIMIT 1",
		"visit": "SELECT id FROM standing_visit WHERE shop_id = ? LIMIT 1", "person": "SELECT id FROM person WHERE shop_id = ? AND role = 'technician' LIMIT 1",
		"stock": "SELECT battery_id FROM stock WHERE shop_id = ? AND here = 1 LIMIT 1", "session": "SELECT id FROM signed_in WHERE shop_id = ? LIMIT 1",
		"attempt": "SELECT id FROM attempt WHERE shop_id = ? LIMIT 1", "feed": "SELECT id FROM calendar_feed WHERE shop_id = ? LIMIT 1",
		"photo": "SELECT id FROM photo WHERE shop_id = ? LIMIT 1",
	} {
		var id record.ID
		err := db.QueryRowContext(t.Context(), query, shopID[:]).Scan(&id)
		if err == sql.ErrNoRows {
			continue
		}
		if err != nil {
			t.Fatal(query, err)
		}
		out[name] = id
	}
	return out
}

// bodiesAgainst are what is sent to the operations that write, all of it about things of
// another shop.
func bodiesAgainst(of map[string]record.ID) map[string]any {
	now := time.Now()
	l := label("flooded", 12, 540)
	fresh := func() record.ID { return record.NewID() }
	line := map[string]any{"line": "12.4 v 18c rested 2h", "battery_id": of["battery"], "taken_at": now}
	changed := map[string]any{"id": fresh(), "line": "12.5 v", "reason": "ours now"}
	return map[string]any{
		"keepReading": line, "preview": map[string]any{"line": "12.4 v", "battery_id": of["battery"]}, "keepLooseReading": map[string]any{"line": "12.4 v 18c rested 2h", "taken_at": now}, "keepCheck": map[string]any{"line": "charge 14.2v 6a 30min", "taken_at": now},
		"correctReading": changed, "mistakenReading": changed, "undoReading": changed,
		"clearStop":  map[string]any{"battery_id": of["battery"], "stop": "frozen-or-damaged", "reason": "ours now", "readings": []record.ID{of["reading"]}},
		"answerStep": map[string]any{"battery_id": of["battery"], "code": "glasses", "value": "done", "at": now},
		"relabel":    map[string]any{"id": of["battery"], "label": l}, "describe": map[string]any{"id": of["vehicle"], "plate": "OURS 1"},
		"mount": map[string]any{"where": "boot", "posts": "", "joined": ""}, "desk": map[string]any{"place": "", "assigned_to": of["person"], "waits_for": "", "waits_note": ""},
		"startClock": map[string]any{"battery_id": of["battery"], "kind": "rest", "started_at": now}, "keepWants": wants(300), "keepBody": outside("L3", ""),
		"bringIn": map[string]any{
			"id": fresh(), "vehicle": map[string]any{"id": of["vehicle"]}, "customer": map[string]any{"id": of["customer"]},
			"batteries": []any{map[string]any{"id": of["battery"], "label": l}},
		},
		"keepPlace":      map[string]any{"name": "Ours now", "kind": "bay", "indoors": true},
		"keepCharger":    map[string]any{"name": "Ours now", "kind": "taper", "amps": []float64{6}, "settings": []string{"flooded"}, "channels": 1},
		"keepInstrument": map[string]any{"name": "ours", "kind": "good_meter", "protocol": "scpi", "address": "192.168.1.9:5025"},
		"keepStock":      map[string]any{"tag": "OURS", "label": l, "body": outside("L3", "")}, "leaveStock": map[string]any{"how": "scrap"},
		"setMakerCharge": map[string]any{"volts": 14.4, "charger": "ours"},
		"askCharge":      map[string]any{"battery_id": of["battery"], "job_id": of["job"], "until": "full", "weight": 1},
		"connectCharge":  map[string]any{"charger_id": of["charger"], "channel": 1, "at": now}, "takeOffCharge": map[string]any{"at": now},
		"decideCharge": map[string]any{"charger_id": of["charger"], "channel": 1}, "followCharge": map[string]any{"instrument_id": of["instrument"]},
		"putAway":     map[string]any{"battery_id": of["battery"], "from_at": now, "said": shop.StandingSaid{Where: "outdoors", Connected: true}},
		"endStanding": map[string]any{"back": false}, "come": map[string]any{"line": "12.4 v", "did": "looked", "at": now},
		"stay":       map[string]any{"battery_id": of["battery"], "place_id": of["place"], "from_at": now, "purpose": "storage"},
		"leave":      map[string]any{"battery_id": of["battery"], "at": now},
		"fitBattery": map[string]any{"vehicle_id": of["vehicle"], "position": "", "at": now}, "takeOutBattery": map[string]any{"at": now},
		"replaceBattery": map[string]any{"battery_id": of["battery"], "new_battery_id": of["stock"], "goes": "scrap", "deposit": "none", "at": now},
		"beginAttempt":   map[string]any{"battery_id": of["battery"], "name": "open_locked", "setting": map[string]any{"vehicle": "car", "by": "blade"}, "school": "", "people": 1},
		"stepAttempt":    map[string]any{"step": 0, "did": "done", "at": now}, "keepSum": map[string]any{"sum": "load_test", "inputs": map[string]any{}},
		"changePerson": map[string]any{"name": "Ours now", "role": "owner", "active": false},
		"workOutJump":  map[string]any{"with": map[string]any{"kind": "pack", "amps": 400}},
		"makeFeed":     map[string]any{"name": "ours"},
	}
}

// TestAnotherShopSeesNothing has the owner of a second shop in the same database ask every
// operation for things of the first: nothing of it is answered, nothing of it is changed, and
// what changes in it is not told.
func TestAnotherShopSeesNothing(t *testing.T) {
	db := dbtest.Filled(t, demo.Fill)
	v := newVisitor(t, db)
	v.signIn(demo.SignIns()[0].SignIn, demo.SignIns()[0].Password)
	service := shop.NewService(store.New(db), time.Now)
	shops, err := service.Shops(t.Context())
	if err != nil || len(shops) != 1 {
		t.Fatal(shops, err)
	}
	first := shops[0].ID
	owner, code, err := service.AddShop(t.Context(), shop.SetUp{ShopName: "The other", TimeZone: "Asia/Tokyo", Name: "Oda Vane", SignIn: "oda"})
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := service.AddShop(t.Context(), shop.SetUp{ShopName: "A third", TimeZone: "UTC", Name: "Oda Vane", SignIn: "MARA"}); err == nil {
		t.Error("a sign-in name of the first shop was taken")
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	oda := &visitor{v.t, v.base, &http.Client{Jar: jar}, v.handler, ""}
	if r := oda.call("POST", "/api/reset", map[string]string{"sign_in": "oda", "code": code.Code, "password": "two herons on the lock"}, nil); r.StatusCode != http.StatusOK {
		t.Fatal(r.Status)
	}
	// What the demo has none of is made.
	job := v.jobOf("DUN 48")
	v.photo(job)
	v.call("PUT", "/api/calendar/feeds/"+record.NewID().String(), map[string]any{"name": "phone"}, nil)
	of := theirs(t, db, first)
	var offered []procedure.Offered
	v.call("GET", fmt.Sprintf("/api/jobs/%s/batteries/%s/procedures", of["job"], of["battery"]), nil, &offered)
	i := slices.IndexFunc(offered, func(o procedure.Offered) bool { return !o.Stopped })
	begin := map[string]any{"battery_id": of["battery"], "name": offered[i].Name, "setting": offered[i].Settings[0].Setting, "people": offered[i].People[0]}
	if len(offered[i].Schools) > 0 {
		begin["school"] = offered[i].Schools[0].Code
	}
	v.call("PUT", fmt.Sprintf("/api/jobs/%s/attempts/%s", of["job"], record.NewID()), begin, nil)
	of = theirs(t, db, first)
	for _, name := range []string{"job", "battery", "vehicle", "customer", "reading", "place", "charger", "charge", "clock", "instrument", "standing", "person", "stock", "attempt", "feed", "photo"} {
		if of[name].IsZero() {
			t.Errorf("the first shop has no %s", name)
		}
	}
	before := rowsOf(t, db, first)
	own := rowsOf(t, db, owner.ShopID)
	screen := oda.listen("")
	screen.next(t, "hello")
	bodies := bodiesAgainst(of)
	for _, op := range operations(t) {
		if slices.Contains([]string{"signOut", "events", "setUp", "endMyOtherSessions", "backUpNow"}, op.id) {
			continue
		}
		named := false
		path := inPath.ReplaceAllStringFunc(op.path, func(param string) string {
			param = strings.Trim(param, "{}")
			switch param {
			case "limit":
				return "drain_most"
			case "sum":
				return "load_test"
			case "battery":
				named = true
				if op.id == "keepStock" || op.id == "leaveStock" {
					return of["stock"].String()
				}
			}
			if id, ok := of[param]; ok {
				named = true
				return id.String()
			}
			return record.NewID().String()
		})
		body := bodies[op.id]
		if body == nil && op.method != http.MethodGet {
			body = "{}"
		}
		status, text := oda.text(op.method, "/api"+path, body)
		// What is not understood was not asked.
		if bodies[op.id] != nil && strings.Contains(text, "problem.schema") {
			t.Errorf("%s is not asked as it wants: %s", op.id, text)
		}
		if status >= 500 {
			t.Errorf("%s: %d %s", op.id, status, text)
		}
		for _, secret := range []string{"Lockside", "DUN 48", "PL 88 ORE", "Tolliver", "Mara", "Jonah Pell"} {
			if strings.Contains(text, secret) {
				t.Errorf("%s tells of %q: %d %.300s", op.id, secret, status, text)
			}
		}
		if named && status < 300 && op.method == http.MethodGet && len(text) > 300 && !slices.Contains([]string{"yard"}, op.id) {
			t.Errorf("%s answers for a thing of another shop: %.300s", op.id, text)
		}
	}
	after := rowsOf(t, db, first)
	for table, rows := range before {
		if !slices.Equal(rows, after[table]) {
			t.Errorf("%s of the first shop was changed", table)
		}
	}
	// Nor was anything put under the second shop that belongs to the first.
	for table, rows := range rowsOf(t, db, owner.ShopID) {
		for _, row := range rows {
			if slices.Contains(own[table], row) || slices.Contains([]string{"deed", "event", "shop_limit", "calendar_feed", "instrument", "place", "charger", "person"}, table) {
				continue
			}
			for name, id := range of {
				if strings.Contains(strings.ToLower(row), strings.ReplaceAll(id.String(), "-", "")) {
					t.Errorf("%s of the second shop names a %s of the first: %.200s", table, name, row)
				}
			}
		}
	}
	v.keep(of["job"], "look none")
	oda.call("PUT", "/api/places/"+record.NewID().String(), map[string]any{"name": "Dock", "kind": "bay", "indoors": true}, nil)
	for {
		told := screen.next(t, "change")
		if told.change.JobID != nil && *told.change.JobID == of["job"] {
			t.Error("a change of the first shop is told to the second")
		}
		if told.change.Kind == "place_kept" {
			break
		}
	}
}

// text calls an operation and gives what it says as it is.
func (v *visitor) text(method, path string, body any) (int, string) {
	v.t.Helper()
	sent, ok := body.(string)
	if !ok && body != nil {
		data, err := json.Marshal(body)
		if err != nil {
			v.t.Fatal(err)
		}
		sent = string(data)
	}
	r, err := v.client.Do(mustRequest(v.t.(*testing.T), method, v.base+path, sent, "application/json"))
	if err != nil {
		v.t.Fatal(err)
	}
	defer r.Body.Close()
	text, err := io.ReadAll(r.Body)
	if err != nil {
		v.t.Fatal(err)
	}
	return r.StatusCode, string(text)
}
