package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/fitting"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/terminals"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// StockStore keeps the batteries of the shop's own, what batteries look like from outside,
// what vehicles want of them, and which was fitted for which.
type StockStore interface {
	KeepBody(ctx context.Context, shopID, batteryID record.ID, b fitting.Body) error
	Body(ctx context.Context, shopID, batteryID record.ID) (fitting.Body, error)
	KeepWants(ctx context.Context, shopID, vehicleID record.ID, w Wants) error
	Wants(ctx context.Context, shopID, vehicleID record.ID) (Wants, error)

	KeepStock(ctx context.Context, shopID record.ID, i StockItem) error
	// LeaveStock marks one as gone; it reports false where it had gone already.
	LeaveStock(ctx context.Context, shopID, batteryID record.ID, at time.Time, how string) (bool, error)
	StockItem(ctx context.Context, shopID, batteryID record.ID) (StockItem, error)
	StockHere(ctx context.Context, shopID record.ID) ([]StockItem, error)

	AddReplacement(ctx context.Context, shopID, jobID record.ID, r record.Replacement) error
	TakeBackReplacement(ctx context.Context, shopID, id record.ID, at time.Time) error
	ReplacementsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Replacement, error)
	ReplacementsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Replacement, error)
}

// Wants is what a vehicle wants of its battery. Empty and nil are not known.
type Wants struct {
	TrayLengthMM *float64 `json:"tray_length_mm"`
	TrayWidthMM  *float64 `json:"tray_width_mm"`
	TrayHeightMM *float64 `json:"tray_height_mm"`
	Layout       string   `json:"layout"`
	Terminal     string   `json:"terminal"`
	HoldDown     string   `json:"hold_down"`
	VentSide     string   `json:"vent_side"`
	// TorqueNM is the vehicle maker's torque of the terminals, newton metres.
	TorqueNM *float64 `json:"torque_nm"`
}

// StockItem is a battery of the shop's own.
type StockItem struct {
	Battery record.Battery `json:"battery"`
	Body    fitting.Body   `json:"body"`
	PlaceID *ID            `json:"place_id,omitempty"`
	Place   string         `json:"place"`
	// PriceMinor is in hundredths of the shop's currency.
	PriceMinor *int64 `json:"price_minor"`
	// ChargedOn is YYYY-MM-DD, empty for not known.
	ChargedOn string `json:"charged_on"`
	// Used marks one that came out of a vehicle for a second use.
	Used    bool       `json:"used"`
	CameAt  time.Time  `json:"came_at"`
	GoneAt  *time.Time `json:"gone_at"`
	GoneHow string     `json:"gone_how" enum:",fitted,sold,scrap"`
}

// item is the battery as a choice takes it.
func (i StockItem) item() fitting.Item {
	out := fitting.Item{ID: i.Battery.ID.String(), Label: i.Battery.Label, Body: i.Body}
	if out.Body.Terminal == "" {
		out.Body.Terminal = i.Battery.Posts
	}
	if at, err := time.Parse(time.DateOnly, i.ChargedOn); err == nil {
		out.Charged = &at
	}
	return out
}

// StockRow is one battery of the list with what it wants because it has stood.
type StockRow struct {
	StockItem
	LabelText string              `json:"label_text"`
	Months    *int                `json:"months"`
	Stands    []wording.Statement `json:"stands"`
}

// StockPage is the list of what there is to be fitted.
type StockPage struct {
	Rows []StockRow `json:"rows"`
}

// How a battery of the stock goes.
const (
	goneFitted = "fitted"
	goneSold   = "sold"
	goneScrap  = "scrap"
)

// stocks are the shop's own batteries, what fits from them, and the joints they are fitted by.
type stocks struct {
	*house
	choose fitting.Planner
	joints terminals.Work
}

// today is the day in the shop's zone.
func today(m Moment) time.Time {
	y, mo, d := m.Now.In(m.Zone).Date()
	return time.Date(y, mo, d, 0, 0, 0, 0, time.UTC)
}

// Stock lists what is there, what has stood too long first.
func (s stocks) Stock(ctx context.Context, who Person) (StockPage, error) {
	items, err := s.store.StockHere(ctx, who.ShopID)
	if err != nil {
		return StockPage{}, err
	}
	m, err := s.moment(ctx, s.store, who.ShopID)
	page := StockPage{Rows: []StockRow{}}
	for _, i := range items {
		page.Rows = append(page.Rows, rowOf(i, today(m)))
	}
	slices.SortStableFunc(page.Rows, func(a, b StockRow) int { return len(b.Stands) - len(a.Stands) })
	return page, err
}

func rowOf(i StockItem, today time.Time) StockRow {
	row := StockRow{StockItem: i, LabelText: i.Battery.Label.Text(), Stands: fitting.Stands(i.item(), today)}
	if months, ok := fitting.AgeMonths(i.item(), today); ok {
		row.Months = &months
	}
	return row
}

// KeepStock takes a battery into the stock, or changes what is written down of one there.
// The battery's own ID is the idempotency key.
func (s stocks) KeepStock(ctx context.Context, who Person, in StockItem) error {
	in.Battery.Tag, in.Battery.Maker = strings.TrimSpace(in.Battery.Tag), strings.TrimSpace(in.Battery.Maker)
	found := checkBattery("battery", in.Battery)
	checkBody(&found, "body", in.Body)
	checkDay(&found, "charged_on", in.ChargedOn)
	if in.PriceMinor != nil && (*in.PriceMinor < 0 || *in.PriceMinor > mostPriceMinor) {
		found = append(found, problem.New("problem.range", "price_minor", fmt.Sprint(*in.PriceMinor), problem.Range(0, mostPriceMinor, "")))
	}
	if in.Battery.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if in.Battery.Tag == "" {
		found = append(found, problem.New("problem.missing", "battery.tag", "", "the tag that is stuck on it"))
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		if in.PlaceID != nil {
			if err := hasPlace(ctx, tx, who.ShopID, *in.PlaceID); err != nil {
				return err
			}
		}
		before, err := tx.StockItem(ctx, who.ShopID, in.Battery.ID)
		switch {
		case err == nil && before.GoneAt != nil:
			return problem.List{problem.New("problem.code", "id", in.Battery.Tag, "a battery that is in stock")}
		case err == nil:
			in.CameAt, in.GoneAt, in.GoneHow, in.Used = before.CameAt, before.GoneAt, before.GoneHow, before.Used
			in.Battery.Posts = before.Battery.Posts
			if sameJSON(before, withPlace(in, before.Place)) {
				return nil
			}
			err = tx.UpdateLabel(ctx, who.ShopID, in.Battery)
		case errors.Is(err, ErrNotFound):
			in.CameAt = s.stamp()
			in.GoneAt, in.GoneHow = nil, ""
			if _, err := tx.Battery(ctx, who.ShopID, in.Battery.ID); err == nil {
				return problem.List{problem.New("problem.code", "id", in.Battery.ID.String(), "a battery that is not in the shop's books yet")}
			}
			err = tx.AddBattery(ctx, who.ShopID, in.Battery, in.CameAt)
		}
		if err != nil {
			return err
		}
		if err := tx.KeepBody(ctx, who.ShopID, in.Battery.ID, in.Body); err != nil {
			return err
		}
		if err := tx.KeepStock(ctx, who.ShopID, in); err != nil {
			return err
		}
		if err := tx.TouchJobsOf(ctx, who.ShopID, record.Subject{BatteryID: &in.Battery.ID}); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "stocked", in)
	})
}

// mostPriceMinor is the highest price, in hundredths.
const mostPriceMinor = 100_000_000

func withPlace(i StockItem, place string) StockItem {
	i.Place = place
	return i
}

func hasPlace(ctx context.Context, tx PlaceStore, shopID, id ID) error {
	all, err := tx.Places(ctx, shopID)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(all, func(p record.Place) bool { return p.ID == id }) {
		return problem.List{problem.New("problem.code", "place_id", id.String(), "a place of the shop")}
	}
	return nil
}

func checkDay(found *problem.List, field, day string) {
	if day == "" {
		return
	}
	if at, err := time.Parse(time.DateOnly, day); err != nil || at.Year() < 1990 || at.Year() > 2200 {
		*found = append(*found, problem.New("problem.type", field, day, "a date as 2026-11-24"))
	}
}

// checkBody holds what is said of a case against what cases are.
func checkBody(found *problem.List, path string, b fitting.Body) {
	found.CheckCode(path+".group", b.Group, fitting.Groups(), true)
	found.CheckCode(path+".case", b.Case, fitting.Cases(), true)
	checkOutside(found, path, b.Layout, b.Terminal, b.HoldDown, b.VentSide)
	checkMM(found, path, b.LengthMM, b.WidthMM, b.HeightMM)
	if b.Group != "" && b.Case != "" {
		*found = append(*found, problem.New("problem.type", path+".group", b.Group, "group or case, not both"))
	}
}

func checkOutside(found *problem.List, path, layout, terminal, holdDown, vent string) {
	found.CheckCode(path+".layout", layout, fitting.Layouts(), true)
	found.CheckCode(path+".terminal", terminal, fitting.TerminalKinds(), true)
	found.CheckCode(path+".hold_down", holdDown, fitting.HoldDowns(), true)
	found.CheckCode(path+".vent_side", vent, fitting.VentSides(), true)
}

func checkMM(found *problem.List, path string, sides ...*float64) {
	for i, x := range sides {
		if x != nil && (*x < fitting.LeastMM || *x > fitting.MostMM) {
			name := []string{"length_mm", "width_mm", "height_mm"}[i]
			*found = append(*found, problem.New("problem.range", path+"."+name, fmt.Sprint(*x), problem.Range(fitting.LeastMM, fitting.MostMM, "mm")))
		}
	}
}

// LeaveStock says how a battery left the stock without being fitted, or, with nothing, that
// it is back.
func (s stocks) LeaveStock(ctx context.Context, who Person, batteryID ID, how string) error {
	var found problem.List
	found.CheckCode("how", how, []string{goneSold, goneScrap}, true)
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		i, err := tx.StockItem(ctx, who.ShopID, batteryID)
		if err != nil {
			return err
		}
		if i.GoneHow == how {
			return nil
		}
		if i.GoneHow == goneFitted {
			return problem.List{problem.New("problem.code", "how", how, "take back the fitting on its job first")}
		}
		switch {
		case how == "":
			i.GoneHow, i.GoneAt = "", nil
			err = tx.KeepStock(ctx, who.ShopID, i)
		case i.GoneAt != nil:
			i.GoneHow = how // it went another way than was said first
			err = tx.KeepStock(ctx, who.ShopID, i)
		default:
			_, err = tx.LeaveStock(ctx, who.ShopID, batteryID, s.stamp(), how)
		}
		if err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "left_stock", map[string]any{"battery_id": batteryID, "how": how})
	})
}

// KeepWants writes down what the vehicle of a job wants of its battery.
func (s stocks) KeepWants(ctx context.Context, who Person, jobID ID, w Wants) error {
	var found problem.List
	checkOutside(&found, "wants", w.Layout, w.Terminal, w.HoldDown, w.VentSide)
	checkMM(&found, "wants.tray", w.TrayLengthMM, w.TrayWidthMM, w.TrayHeightMM)
	if w.TorqueNM != nil && (*w.TorqueNM < leastTorque || *w.TorqueNM > mostTorque) {
		found = append(found, problem.New("problem.range", "wants.torque_nm", fmt.Sprint(*w.TorqueNM), problem.Range(leastTorque, mostTorque, "N·m")))
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "wants", said: w}, func(tx Tx, j *record.Job) (done, error) {
		if j.VehicleID == nil {
			return done{}, problem.List{problem.New("problem.code", "vehicle", "", "a job with a vehicle")}
		}
		before, err := tx.Wants(ctx, who.ShopID, *j.VehicleID)
		if err != nil {
			return done{}, err
		}
		if sameJSON(before, w) {
			return done{}, errNothing
		}
		return done{body: map[string]any{"before": before, "after": w}}, tx.KeepWants(ctx, who.ShopID, *j.VehicleID, w)
	})
}

// What a maker's torque may be, newton metres: plausibility only.
const (
	leastTorque = 0.5
	mostTorque  = 60
)

// KeepBody writes down what a battery of a job looks like from outside.
func (s stocks) KeepBody(ctx context.Context, who Person, jobID, batteryID ID, b fitting.Body) error {
	var found problem.List
	checkBody(&found, "body", b)
	if err := found.Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "body", said: b}, func(tx Tx, j *record.Job) (done, error) {
		one, err := batteryOf(ctx, tx, who, jobID, batteryID)
		if err != nil {
			return done{}, err
		}
		before, err := tx.Body(ctx, who.ShopID, one.ID)
		if err != nil {
			return done{}, err
		}
		if sameJSON(before, b) {
			return done{}, errNothing
		}
		return done{body: map[string]any{"battery_id": one.ID, "before": before, "after": b}}, tx.KeepBody(ctx, who.ShopID, one.ID, b)
	})
}

// TerminalsSum is what the joints of a battery come to, with what the vehicle's maker says.
type TerminalsSum struct {
	terminals.JointPicture
	Wants Wants `json:"wants"`
}

// Terminals is the picture of the joints around a battery of a job.
func (s stocks) Terminals(ctx context.Context, who Person, jobID, batteryID ID) (TerminalsSum, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return TerminalsSum{}, err
	}
	of, err := now.of(batteryID)
	if err != nil {
		return TerminalsSum{}, err
	}
	w, err := s.wants(ctx, s.store, who, now)
	if err != nil {
		return TerminalsSum{}, err
	}
	a, err := s.assess(ctx, of.Case)
	if err != nil {
		return TerminalsSum{}, err
	}
	return TerminalsSum{s.joints.Of(of.Situation(now.Job, now.Vehicle, a, nil), (*quantity.NewtonMetres)(w.TorqueNM)), w}, nil
}

func (s stocks) wants(ctx context.Context, tx StockStore, who Person, now scene) (Wants, error) {
	if now.Vehicle == nil {
		return Wants{}, nil
	}
	return tx.Wants(ctx, who.ShopID, now.Vehicle.ID)
}

// FitSum is what fits in place of a battery of a job.
type FitSum struct {
	Choice fitting.Chosen `json:"choice"`
	// Body is the original's, Wants the vehicle's, Rows the stock in the order of the choice.
	Body   fitting.Body  `json:"body"`
	Wants  Wants         `json:"wants"`
	Rows   []StockRow    `json:"rows"`
	OldBox fitting.Box   `json:"old_box"`
	Boxes  []fitting.Box `json:"boxes"`
}

// Fitting chooses what fits in place of a battery of a job, out of the stock that is here.
func (s stocks) Fitting(ctx context.Context, who Person, jobID, batteryID ID, coldest *float64, reach bool) (FitSum, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return FitSum{}, err
	}
	of, err := now.of(batteryID)
	if err != nil {
		return FitSum{}, err
	}
	a, err := s.ask(ctx, s.store, who, now, of)
	if err != nil {
		return FitSum{}, err
	}
	a.Need.Coldest, a.Need.Reach = coldest, reach
	sum := FitSum{Choice: s.choose.Plan(a.Ask), Body: a.body, Wants: a.wants, Rows: []StockRow{}, OldBox: a.body.Box(), Boxes: []fitting.Box{}}
	for _, f := range sum.Choice.Fits {
		i := a.items[slices.IndexFunc(a.items, func(i StockItem) bool { return i.Battery.ID.String() == f.ID })]
		sum.Rows = append(sum.Rows, rowOf(i, a.Today))
		sum.Boxes = append(sum.Boxes, i.Body.Box())
	}
	return sum, nil
}

// asked is what has to be fitted in place of a battery, and what it was made of.
type asked struct {
	fitting.Ask
	body  fitting.Body
	wants Wants
	items []StockItem
}

// ask reads what has to be fitted in place of a battery, and the stock that is here for it.
func (s stocks) ask(ctx context.Context, tx Tx, who Person, now scene, of record.BatteryCase) (a asked, err error) {
	if a.body, err = tx.Body(ctx, who.ShopID, of.Battery.ID); err != nil {
		return a, err
	}
	if a.wants, err = s.wants(ctx, tx, who, now); err != nil {
		return a, err
	}
	if a.Need, err = s.needOf(ctx, tx, who, now, of, a.body, a.wants); err != nil {
		return a, err
	}
	if a.items, err = tx.StockHere(ctx, who.ShopID); err != nil {
		return a, err
	}
	a.items = slices.DeleteFunc(a.items, func(i StockItem) bool { return i.Battery.ID == of.Battery.ID })
	a.Stock, a.Today = stockOf(a.items), today(now.Moment)
	return a, nil
}

func stockOf(items []StockItem) []fitting.Item {
	out := make([]fitting.Item, len(items))
	for i, one := range items {
		out[i] = one.item()
	}
	return out
}

// needOf is what has to be matched: what the vehicle is known to want goes before what came
// out of it. Of several that share a current, one that was fitted on this job already is the
// one that the next has to be like.
func (s stocks) needOf(ctx context.Context, tx NounStore, who Person, now scene, of record.BatteryCase, body fitting.Body, w Wants) (fitting.Need, error) {
	n := fitting.Need{Original: of.Case.Label, Body: body, Vehicle: of.Case.Vehicle}
	n.Tray = fitting.Box{Length: w.TrayLengthMM, Width: w.TrayWidthMM, Height: w.TrayHeightMM}
	for _, one := range []struct {
		to    *string
		wants string
	}{{&n.Body.Layout, w.Layout}, {&n.Body.Terminal, w.Terminal}, {&n.Body.HoldDown, w.HoldDown}, {&n.Body.VentSide, w.VentSide}} {
		if one.wants != "" {
			*one.to = one.wants
		}
	}
	if n.Body.Terminal == "" {
		n.Body.Terminal = of.Battery.Posts
	}
	m := mountingOf(now, of)
	n.Mounting = m
	if n.Original.Position == "" && slices.Contains([]string{trail.Parallel, trail.Series, trail.Bank}, m.Joined) {
		n.Original.Position = m.Joined
	}
	for _, r := range now.Replacements {
		if r.OldID == of.Battery.ID {
			continue
		}
		b, err := tx.Battery(ctx, who.ShopID, r.NewID)
		if err != nil {
			return n, err
		}
		n.Partner = &b.Label
	}
	return n, nil
}

// Replace is a battery of the stock that was fitted for one of a job.
type Replace struct {
	ID            ID        `json:"-"`
	BatteryID     ID        `json:"battery_id"`
	NewID         ID        `json:"new_battery_id"`
	Goes          string    `json:"goes"`
	Deposit       string    `json:"deposit"`
	WarrantyUntil string    `json:"warranty_until"`
	CablesReach   bool      `json:"cables_reach"`
	At            time.Time `json:"at"`
}

// Replace writes down that a battery of the stock was fitted for one of a job: the stock goes
// down by one, the installation is written down, and the old one's life ends or it goes to a
// second use. What does not fit is refused with its reason.
func (s stocks) Replace(ctx context.Context, who Person, jobID ID, in Replace) error {
	var found problem.List
	found.CheckCode("goes", in.Goes, record.Goings(), false)
	found.CheckCode("deposit", in.Deposit, record.Deposits(), false)
	checkDay(&found, "warranty_until", in.WarrantyUntil)
	checkTime(&found, "at", &in.At, s.stamp().Add(time.Hour))
	if err := found.Err(); err != nil {
		return err
	}
	at := in.At.UTC().Truncate(time.Microsecond)
	c := command{who: who, jobID: jobID, kind: "replaced", judges: true, key: &keyed{id: in.ID, kind: "replaced", subject: &jobID, body: in}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		now, of, err := s.seeBattery(ctx, tx, who.ShopID, *j, in.BatteryID)
		if err != nil {
			return done{}, err
		}
		if of.Replaced != nil {
			return done{}, problem.List{problem.New("problem.code", "battery_id", of.Battery.Tag, "a battery that nothing was fitted for yet; take the other fitting back first")}
		}
		item, err := tx.StockItem(ctx, who.ShopID, in.NewID)
		if errors.Is(err, ErrNotFound) || err == nil && item.GoneAt != nil || in.NewID == in.BatteryID {
			return done{}, notInStock(in.NewID.String())
		}
		if err != nil {
			return done{}, err
		}
		if err := s.mayGoIn(ctx, tx, who, now, of, item, in.CablesReach); err != nil {
			return done{}, err
		}
		r := record.Replacement{
			ID: in.ID, OldID: of.Battery.ID, NewID: in.NewID, Goes: in.Goes, Deposit: in.Deposit, WarrantyUntil: in.WarrantyUntil, PersonID: who.ID, At: at,
		}
		if err := s.changeOver(ctx, tx, who, *j, of.Battery, item, at); err != nil {
			return done{}, err
		}
		if in.Goes == record.SecondUse {
			second := StockItem{Battery: of.Battery.Battery, Used: true, CameAt: at}
			if err := tx.KeepStock(ctx, who.ShopID, second); err != nil {
				return done{}, err
			}
		}
		return done{body: r}, tx.AddReplacement(ctx, who.ShopID, j.ID, r)
	})
}

// mayGoIn refuses a battery that does not fit, with the reasons.
func (s stocks) mayGoIn(ctx context.Context, tx Tx, who Person, now scene, of record.BatteryCase, item StockItem, reach bool) error {
	a, err := s.ask(ctx, tx, who, now, of)
	if err != nil {
		return err
	}
	a.Need.Reach = reach
	choice := s.choose.Plan(a.Ask)
	i := slices.IndexFunc(choice.Fits, func(c fitting.Candidate) bool { return c.ID == item.Battery.ID.String() })
	if i < 0 || choice.Fits[i].Verdict != fitting.No {
		return nil
	}
	var why []string
	for _, reason := range choice.Fits[i].Reasons {
		why = append(why, reason.Text)
	}
	return problem.List{problem.New("problem.fit", "new_battery_id", item.Battery.Tag, strings.Join(why, " "))}
}

// notInStock refuses a battery that is not there to be fitted.
func notInStock(named string) error {
	return problem.List{problem.New("problem.code", "new_battery_id", named, "a battery that is in stock")}
}

// changeOver takes the old battery out of the vehicle, wherever in it it is, and puts the new
// one in its place. Of two hands that reach for the same battery the first has it.
func (s stocks) changeOver(ctx context.Context, tx Tx, who Person, j record.Job, old record.Fitted, item StockItem, at time.Time) error {
	there, err := tx.LeaveStock(ctx, who.ShopID, item.Battery.ID, at, goneFitted)
	if err != nil {
		return err
	}
	if !there {
		return notInStock(item.Battery.Tag)
	}
	if j.VehicleID == nil {
		return nil
	}
	installed, err := tx.InstalledNow(ctx, who.ShopID, ID{}, old.ID)
	if err != nil {
		return err
	}
	did := Moved{}
	for _, one := range installed {
		if err := endInstallation(ctx, tx, who.ShopID, one, at, &did); err != nil {
			return err
		}
	}
	if _, err := fit(ctx, tx, who.ShopID, *j.VehicleID, []record.Fitted{{Battery: item.Battery, Position: old.Position}}, at); err != nil {
		return err
	}
	if err := s.standsOn(ctx, tx, who.ShopID, old.ID, item.Battery.ID); err != nil {
		return err
	}
	for _, id := range []ID{old.ID, item.Battery.ID} {
		if err := tx.TouchJobsOf(ctx, who.ShopID, record.Subject{BatteryID: &id}); err != nil {
			return err
		}
	}
	return nil
}

// movedOn refuses to take a fitting back whose batteries have gone on since: the new one was
// replaced itself, or the old one is in use elsewhere.
func (s stocks) movedOn(ctx context.Context, tx Tx, who Person, r record.Replacement) error {
	for _, id := range []ID{r.NewID, r.OldID} {
		all, err := tx.ReplacementsOfBattery(ctx, who.ShopID, id)
		if err != nil {
			return err
		}
		for _, other := range all {
			// A fitting that a clock stamped that was ahead lies before one that it did not.
			ahead := other.At.After(s.stamp()) && !r.At.After(s.stamp())
			if other.ID != r.ID && !other.At.Before(r.At) && !ahead {
				return problem.List{problem.New("problem.code", "replacement", other.Tag, "a fitting whose batteries have not gone on since")}
			}
		}
	}
	return nil
}

// TakeBack undoes a fitting that was written down by mistake: the old battery is in its
// place again, the new one back in stock.
func (s stocks) TakeBack(ctx context.Context, who Person, jobID, replacementID ID) error {
	return s.run(ctx, command{who: who, jobID: jobID, kind: "took_back", judges: true, said: replacementID}, func(tx Tx, j *record.Job) (done, error) {
		all, err := tx.ReplacementsOfJob(ctx, who.ShopID, j.ID)
		if err != nil {
			return done{}, err
		}
		i := slices.IndexFunc(all, func(r record.Replacement) bool { return r.ID == replacementID })
		if i < 0 {
			return done{}, errNothing
		}
		r, at := all[i], s.stamp()
		if err := s.movedOn(ctx, tx, who, r); err != nil {
			return done{}, err
		}
		old, err := batteryOf(ctx, tx, who, jobID, r.OldID)
		if err != nil {
			return done{}, err
		}
		if j.VehicleID != nil {
			if _, err := fit(ctx, tx, who.ShopID, *j.VehicleID, []record.Fitted{old}, at); err != nil {
				return done{}, err
			}
		}
		if err := s.standsOn(ctx, tx, who.ShopID, r.NewID, r.OldID); err != nil {
			return done{}, err
		}
		item, err := tx.StockItem(ctx, who.ShopID, r.NewID)
		if err != nil {
			return done{}, err
		}
		item.GoneAt, item.GoneHow = nil, ""
		if err := tx.KeepStock(ctx, who.ShopID, item); err != nil {
			return done{}, err
		}
		if second, err := tx.StockItem(ctx, who.ShopID, r.OldID); err == nil && second.GoneAt == nil {
			if _, err := tx.LeaveStock(ctx, who.ShopID, r.OldID, at, goneFitted); err != nil {
				return done{}, err
			}
		}
		return done{body: r}, tx.TakeBackReplacement(ctx, who.ShopID, r.ID, at)
	})
}
