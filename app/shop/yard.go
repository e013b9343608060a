package shop

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/standing"
)

// YardRow is one of what stands, as the list has it: drawn from its stored forecast.
type YardRow struct {
	ID    ID     `json:"id"`
	Name  string `json:"name"`
	About string `json:"about"`
	// Label is the battery's, Tag what is stuck on it.
	Label    string               `json:"label"`
	Tag      string               `json:"tag"`
	Customer string               `json:"customer"`
	Place    string               `json:"place"`
	Spot     string               `json:"spot"`
	Where    string               `json:"where" enum:"outdoors,unheated,heated"`
	Care     string               `json:"care" enum:",none,disconnect,bypass,take_in,maintain,maintain_by_socket,solar,visit,drive,wake"`
	Kind     string               `json:"kind"`
	Charge   *standing.ChargeBand `json:"charge"`
	Dates    standing.Dates       `json:"dates"`
	Bad      *BadDay              `json:"bad"`
	Margin   *float64             `json:"margin_k"`
	MarginOn string               `json:"margin_on"`
	Tonight  *float64             `json:"tonight_k"`
	FromAt   time.Time            `json:"from_at"`
	SeenAt   time.Time            `json:"seen_at"`
	Due      DueVisit             `json:"due"`
	Overdue  bool                 `json:"overdue"`
	Judged   bool                 `json:"judged"`
	Stale    bool                 `json:"stale"`
	Said     StandingSaid         `json:"said"`
}

// BadDay is the first day on which something goes wrong that a charge would help against.
type BadDay struct {
	Code string `json:"code" enum:"below_12_4,no_start,freezes"`
	On   string `json:"on"`
	Days int    `json:"days"`
}

// YardPage is all that stands, worst first.
type YardPage struct {
	Rows    []YardRow  `json:"rows"`
	Climate OwnClimate `json:"climate"`
	// Zones are the climates there are by name.
	Zones []standing.Zone `json:"zones"`
	Today string          `json:"today"`
}

// Yard lists what stands, worst first. Tonight is the forecast low outdoors, °C; with it who has
// to be looked at first stands first.
func (s standings) Yard(ctx context.Context, who Person, tonight *float64) (YardPage, error) {
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return YardPage{}, err
	}
	page := YardPage{Rows: []YardRow{}, Zones: standing.Zones(), Today: today(m).Format(time.DateOnly)}
	if page.Climate, err = s.store.Climate(ctx, who.ShopID); err != nil {
		return YardPage{}, err
	}
	rows, err := s.store.StandingNow(ctx, who.ShopID)
	for _, row := range rows {
		page.Rows = append(page.Rows, s.yardRow(row, page.Climate, m, tonight))
	}
	slices.SortStableFunc(page.Rows, worse)
	return page, err
}

func (s standings) yardRow(row StandingRow, c OwnClimate, m Moment, tonight *float64) YardRow {
	f, now := row.Forecast, today(m)
	y := YardRow{
		ID: row.ID, Name: cmp.Or(row.Plate, row.Battery.Tag, row.Description), About: row.Description, Label: row.Battery.Label.Text(), Tag: row.Battery.Tag,
		Customer: row.Customer, Place: row.Place, Spot: row.Said.Spot, Where: row.Said.Where, Care: row.Said.Care, Kind: row.Vehicle.Kind,
		Dates: f.Dates, MarginOn: f.MarginOn, FromAt: row.FromAt, SeenAt: row.SeenAt, Due: f.Due, Judged: f.Judged,
		Stale: row.Basis != s.basis(row, c, now), Said: row.Said,
	}
	if y.Due.Carry == nil {
		y.Due.Carry = []string{}
	}
	day := now.Format(time.DateOnly)
	y.Overdue = y.Due.To != "" && y.Due.To < day
	if !f.Judged {
		return y
	}
	y.Margin = &f.Margin
	charge := chargeOn(f.Track, now)
	y.Charge = &charge
	y.Bad = firstBad(f.Dates, now)
	if tonight != nil {
		margin := float64(battery.FreezeMargin(charge.Low, standing.Tonight(row.Said.Where, quantity.Celsius(*tonight))))
		y.Tonight = &margin
	}
	return y
}

// chargeOn is a track on a day, between the days it was kept for.
func chargeOn(track []Tracked, day time.Time) standing.ChargeBand {
	if len(track) == 0 {
		return standing.ChargeBand{}
	}
	on := day.Format(time.DateOnly)
	i := slices.IndexFunc(track, func(t Tracked) bool { return t.On >= on })
	switch {
	case i < 0:
		return track[len(track)-1].ChargeBand
	case i == 0 || track[i].On == on:
		return track[i].ChargeBand
	}
	a, b := track[i-1], track[i]
	from, _ := time.Parse(time.DateOnly, a.On)
	to, _ := time.Parse(time.DateOnly, b.On)
	share := float64(day.Sub(from)) / float64(to.Sub(from))
	between := func(x, y float64) float64 { return x + share*(y-x) }
	return standing.ChargeBand{Percent: between(a.Percent, b.Percent), Low: between(a.Low, b.Low), High: between(a.High, b.High)}
}

// firstBad is the first of the days that matter and that a charge would help against.
func firstBad(d standing.Dates, now time.Time) *BadDay {
	var first *BadDay
	for _, one := range []struct {
		code string
		when *standing.When
	}{{"freezes", d.Freezes}, {"no_start", d.ChargeLow}, {"below_12_4", d.Below}} {
		if one.when == nil {
			continue
		}
		on, err := time.Parse(time.DateOnly, one.when.Date)
		if err == nil && (first == nil || one.when.Date < first.On) {
			first = &BadDay{one.code, one.when.Date, int(on.Sub(now).Hours() / 24)}
		}
	}
	return first
}

// worse orders what stands: where a night is forecast by how near it comes to ice, then by the
// first bad day, then by the margin above ice, then by when somebody has to come.
func worse(a, b YardRow) int {
	return cmp.Or(
		cmp.Compare(kelvin(a.Tonight), kelvin(b.Tonight)),
		cmp.Compare(badDays(a), badDays(b)),
		cmp.Compare(kelvin(a.Margin), kelvin(b.Margin)),
		strings.Compare(a.Due.To, b.Due.To),
		strings.Compare(a.Name, b.Name),
	)
}

// never is later than any day.
const never = 1 << 30

func badDays(r YardRow) int {
	if r.Bad == nil {
		return never
	}
	return max(r.Bad.Days, 0)
}

// kelvin is a margin, that of what is not judged behind all.
func kelvin(margin *float64) float64 {
	if margin == nil {
		return never
	}
	return *margin
}

// RoundWalk is a walk: all that is to be come to on one day.
type RoundWalk struct {
	On    string    `json:"on"`
	Stops []YardRow `json:"stops"`
	Carry []string  `json:"carry"`
}

// Rounds are the walks of the days to come, the first one today's where something is due.
type Rounds struct {
	Today string      `json:"today"`
	Walks []RoundWalk `json:"walks"`
}

// Rounds groups the visits that are due into walks.
func (s standings) Rounds(ctx context.Context, who Person) (Rounds, error) {
	page, err := s.Yard(ctx, who, nil)
	if err != nil {
		return Rounds{}, err
	}
	now, _ := time.Parse(time.DateOnly, page.Today)
	byID := map[string]YardRow{}
	var stops []standing.Stop
	for _, r := range page.Rows {
		from, err := time.Parse(time.DateOnly, r.Due.From)
		to, bad := time.Parse(time.DateOnly, r.Due.To)
		if err != nil || bad != nil {
			continue
		}
		id := r.ID.String()
		byID[id] = r
		stops = append(stops, standing.Stop{
			ID: id, Place: r.Place + "\x00" + r.Spot, Due: standing.Due{From: from, To: to, Why: r.Due.Why}, Carry: r.Due.Carry,
		})
	}
	out := Rounds{Today: page.Today, Walks: []RoundWalk{}}
	for _, w := range standing.Walks(stops, now) {
		walk := RoundWalk{On: w.On.Format(time.DateOnly), Stops: []YardRow{}, Carry: w.Carry}
		for _, stop := range w.Stops {
			walk.Stops = append(walk.Stops, byID[stop.ID])
		}
		out.Walks = append(out.Walks, walk)
	}
	return out, nil
}

// SeasonPage is one standing battery with all that can be done for it.
type SeasonPage struct {
	Standing Standing        `json:"standing"`
	Row      YardRow         `json:"row"`
	Answer   standing.Season `json:"answer"`
	// Forecast is what the answer was begun from; Under the dates with the care that was chosen.
	Forecast Forecast        `json:"forecast"`
	Visits   []StandingVisit `json:"visits"`
	Climate  OwnClimate      `json:"climate"`
	Today    string          `json:"today"`
}

// Season is one standing battery over the days to come, with every care compared.
func (s standings) Season(ctx context.Context, who Person, id ID) (SeasonPage, error) {
	row, err := s.store.Standing(ctx, who.ShopID, id)
	if err != nil {
		return SeasonPage{}, err
	}
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return SeasonPage{}, err
	}
	c, err := s.store.Climate(ctx, who.ShopID)
	if err != nil {
		return SeasonPage{}, err
	}
	k, err := s.lookUp(ctx, s.store, who.ShopID, row, m)
	if err != nil {
		return SeasonPage{}, err
	}
	row.Forecast = s.forecast(row, k, c, m)
	page := SeasonPage{
		Standing: row.Standing, Row: s.yardRow(row, c, m, nil), Answer: s.plan.Plan(s.ask(row, k, c, m)), Forecast: row.Forecast, Climate: c,
		Today: today(m).Format(time.DateOnly),
	}
	page.Visits, err = s.store.StandingVisits(ctx, who.ShopID, id)
	return page, err
}
