// Package store keeps the shop in MariaDB through database/sql: migrations,
// queries (gen is made by sqlc from queries/) and their translation into the
// shop's nouns.
package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/dsn"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/school"
)

// Store is the shop in a database.
type Store struct {
	db *sql.DB
	q  *gen.Queries
	// run is where statements run: the database, or the transaction.
	run gen.DBTX
	tx  bool
}

var _ shop.Store = (*Store)(nil)

// New uses an open, migrated database.
func New(db *sql.DB) *Store {
	run := timed{db}
	return &Store{db: db, q: gen.New(run), run: run}
}

// Open connects to a MariaDB by its DSN, with the settings the store relies on.
func Open(text string) (*sql.DB, error) {
	config, err := dsn.Parse(text)
	if err != nil {
		return nil, err
	}
	// A server that does not answer is found out; a DSN may say otherwise.
	if config.Timeout == 0 {
		config.Timeout = dialTimeout
	}
	if config.ReadTimeout == 0 {
		config.ReadTimeout = answerTimeout
	}
	if config.WriteTimeout == 0 {
		config.WriteTimeout = answerTimeout
	}
	return open(config)
}

func open(config *mysql.Config) (*sql.DB, error) {
	config.ParseTime, config.Loc = true, time.UTC
	// What goes wrong comes back as an error; it is not printed besides.
	config.Logger = &mysql.NopLogger{}
	config.InterpolateParams = true
	if config.Params == nil {
		config.Params = map[string]string{}
	}
	config.Params["time_zone"] = "'+00:00'"
	// What is asked without a deadline, and a lock that is waited for, end all the same.
	config.Params["max_statement_time"] = fmt.Sprintf("%d", int(config.ReadTimeout.Seconds()))
	config.Params["innodb_lock_wait_timeout"] = "10"
	config.Collation = "utf8mb4_general_ci"
	db, err := dsn.Open(config)
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(16)
	db.SetMaxIdleConns(16)
	db.SetConnMaxLifetime(30 * time.Minute)
	return db, nil
}

// How long the database may take to be reached and to answer. An upgrade takes longer and
// has its own (migrate.go).
const (
	dialTimeout   = 5 * time.Second
	answerTimeout = 30 * time.Second
)

// MariaDB's numbers for a deadlock and a lock wait that took too long: the
// transaction may be tried again.
const (
	errDeadlock    = 1213
	errLockTimeout = 1205
	errDuplicate   = 1062
	writeTries     = 8
	// retryPause is how long the first retry waits; each next waits longer.
	retryPause = 4 * time.Millisecond
)

// Write runs do in one transaction and tries again when the database gave it up
// in favour of another.
func (s *Store) Write(ctx context.Context, do func(shop.Tx) error) error {
	if s.tx {
		return do(s)
	}
	var err error
	for try := range writeTries {
		if err = s.once(ctx, do); !retryable(err) {
			return err
		}
		select {
		case <-ctx.Done():
			return errors.Join(err, ctx.Err())
		case <-time.After(retryPause << try):
		}
	}
	return err
}

func (s *Store) once(ctx context.Context, do func(shop.Tx) error) error {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() {
		// What panics is said further up; nothing of it is written.
		if v := recover(); v != nil {
			_ = tx.Rollback()
			panic(v)
		}
	}()
	run := timed{tx}
	if err := do(&Store{db: s.db, q: gen.New(run), run: run, tx: true}); err != nil {
		return errors.Join(err, ignoreDone(tx.Rollback()))
	}
	return tx.Commit()
}

func ignoreDone(err error) error {
	if errors.Is(err, sql.ErrTxDone) {
		return nil
	}
	return err
}

func number(err error) uint16 {
	var my *mysql.MySQLError
	if errors.As(err, &my) {
		return my.Number
	}
	return 0
}

func retryable(err error) bool {
	n := number(err)
	return n == errDeadlock || n == errLockTimeout
}

// found turns a missing row into the shop's own error.
func found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return shop.ErrNotFound
	}
	return err
}

// Shop finds a shop.
func (s *Store) Shop(ctx context.Context, id record.ID) (record.Shop, error) {
	row, err := s.q.ShopByID(ctx, id)
	if err != nil {
		return record.Shop{}, found(err)
	}
	return shopFrom(row)
}

// Shops lists the shops of the database, the oldest first.
func (s *Store) Shops(ctx context.Context) ([]record.Shop, error) {
	rows, err := s.q.Shops(ctx)
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, shopFrom)
}

func shopFrom(row gen.Shop) (record.Shop, error) {
	hands, err := handsFrom(row.Hands)
	return record.Shop{
		ID:        row.ID,
		Name:      row.Name,
		TimeZone:  row.TimeZone,
		School:    school.ID(row.School),
		CreatedAt: row.CreatedAt,
		Hands:     hands,
		Touched:   row.Touched,
	}, err
}

// Once marks something that happens once; another that has it under way is waited for.
func (s *Store) Once(ctx context.Context, milestone string) error {
	return taken(s.q.AddMilestone(ctx, milestone))
}

// ours makes sure that a row that is about to be written over under an ID of the client's making
// is not another shop's: for that shop alone it is there. It reports whether there is one.
func (s *Store) ours(ctx context.Context, table, key string, id, shopID record.ID) (bool, error) {
	return s.whose(ctx, "SELECT shop_id FROM `"+table+"` WHERE `"+key+"` = ?", id, shopID)
}

// oursNow is ours behind whoever is writing that row, beyond what this transaction has seen.
func (s *Store) oursNow(ctx context.Context, table, key string, id, shopID record.ID) (bool, error) {
	return s.whose(ctx, "SELECT shop_id FROM `"+table+"` WHERE `"+key+"` = ? FOR UPDATE", id, shopID)
}

func (s *Store) whose(ctx context.Context, query string, id, shopID record.ID) (bool, error) {
	var whose record.ID
	err := s.run.QueryRowContext(ctx, query, id).Scan(&whose)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err == nil && whose != shopID:
		return true, shop.ErrNotFound
	}
	return err == nil, err
}

// IsThere reports an error that says that a row under that ID is there already, and is not
// the one that was meant.
func IsThere(err error) bool { return number(err) == errDuplicate }

// ofPrimaryKey reports that it is the row's own ID that is there already; the server's message
// alone says of which key.
func ofPrimaryKey(err error) bool { return strings.HasSuffix(err.Error(), "for key 'PRIMARY'") }

// taken turns a row that is there already into the shop's own error.
func taken(err error) error {
	if number(err) == errDuplicate {
		return shop.ErrTaken
	}
	return err
}

// TouchShop counts a change that all jobs rest on.
func (s *Store) TouchShop(ctx context.Context, shopID record.ID) error {
	return s.q.TouchShop(ctx, shopID)
}

// AddDeed writes a deed down; false where its key is known. One that another writes at
// the same time is waited for.
func (s *Store) AddDeed(ctx context.Context, d shop.Deed) (bool, error) {
	done, err := s.q.AddDeed(
		ctx,
		gen.AddDeedParams{ID: d.ID, ShopID: d.ShopID, Kind: d.Kind, Subject: d.Subject, PersonID: d.Person, Body: d.Body, At: d.At},
	)
	if err != nil {
		return false, err
	}
	n, err := done.RowsAffected()
	return n > 0, err
}

// Deed finds a deed by its key.
func (s *Store) Deed(ctx context.Context, id record.ID) (shop.Deed, error) {
	row, err := s.q.DeedByID(ctx, id)
	return shop.Deed{
		ID:      row.ID,
		ShopID:  row.ShopID,
		Kind:    row.Kind,
		Subject: row.Subject,
		Person:  row.PersonID,
		Body:    row.Body,
		Answer:  row.Answer,
		At:      row.At,
	}, found(err)
}

// AnswerDeed keeps what a deed was answered with.
func (s *Store) AnswerDeed(ctx context.Context, id record.ID, answer string) error {
	return s.q.AnswerDeed(ctx, gen.AnswerDeedParams{Answer: answer, ID: id})
}

// AddShop writes the shop down.
func (s *Store) AddShop(ctx context.Context, sh record.Shop) error {
	return s.q.AddShop(
		ctx,
		gen.AddShopParams{ID: sh.ID, Name: sh.Name, TimeZone: sh.TimeZone, School: string(sh.School), CreatedAt: sh.CreatedAt},
	)
}

func each[A, B any](list []A, f func(A) B) []B {
	out := make([]B, len(list))
	for i, a := range list {
		out[i] = f(a)
	}
	return out
}

// AddCustomer writes a customer down.
func (s *Store) AddCustomer(ctx context.Context, shopID record.ID, c record.Customer, at time.Time) error {
	return s.q.AddCustomer(ctx, gen.AddCustomerParams{ID: c.ID, ShopID: shopID, Name: c.Name, Phone: c.Phone, CreatedAt: at})
}

// Customer finds a customer.
func (s *Store) Customer(ctx context.Context, shopID, id record.ID) (record.Customer, error) {
	row, err := s.q.CustomerByID(ctx, gen.CustomerByIDParams{ShopID: shopID, ID: id})
	return record.Customer{ID: row.ID, Name: row.Name, Phone: row.Phone}, found(err)
}

// AddVehicle writes a vehicle down.
func (s *Store) AddVehicle(ctx context.Context, shopID record.ID, v record.Vehicle, at time.Time) error {
	return s.q.AddVehicle(ctx, gen.AddVehicleParams{
		ID: v.ID, ShopID: shopID, CustomerID: v.CustomerID, Plate: v.Plate, Description: v.Description, Kind: v.Kind,
		Engine: v.Engine, Litres: v.Litres, RequiredCca: (*float64)(v.RequiredCCA), StartStop: v.StartStop,
		ManagedCharging: v.ManagedCharging, Cranks12v: v.Cranks12V, SystemV: (*float64)(v.SystemV), Earth: v.Earth, Tray: v.Tray,
		Joined: v.Joined, CreatedAt: at,
	})
}

// UpdateVehicle writes what is known of a vehicle now; whose it is stays.
func (s *Store) UpdateVehicle(ctx context.Context, shopID record.ID, v record.Vehicle) error {
	return s.q.UpdateVehicle(ctx, gen.UpdateVehicleParams{
		Plate: v.Plate, Description: v.Description, Kind: v.Kind, Engine: v.Engine, Litres: v.Litres, RequiredCca: (*float64)(v.RequiredCCA),
		StartStop: v.StartStop, ManagedCharging: v.ManagedCharging, Cranks12v: v.Cranks12V, SystemV: (*float64)(v.SystemV), Earth: v.Earth,
		Tray: v.Tray, Joined: v.Joined, ShopID: shopID, ID: v.ID,
	})
}

func vehicleFrom(row gen.Vehicle) record.Vehicle {
	return record.Vehicle{
		ID: row.ID, CustomerID: row.CustomerID, Plate: row.Plate, Description: row.Description, Tray: row.Tray, Joined: row.Joined,
		Vehicle: evidence.Vehicle{
			Kind: row.Kind, Engine: row.Engine, Litres: row.Litres, RequiredCCA: (*quantity.Amperes)(row.RequiredCca),
			StartStop: row.StartStop, ManagedCharging: row.ManagedCharging, Cranks12V: row.Cranks12v, SystemV: (*quantity.Volts)(row.SystemV),
			Earth: row.Earth,
		},
	}
}

// Vehicle finds a vehicle.
func (s *Store) Vehicle(ctx context.Context, shopID, id record.ID) (record.Vehicle, error) {
	row, err := s.q.VehicleByID(ctx, gen.VehicleByIDParams{ShopID: shopID, ID: id})
	return vehicleFrom(row), found(err)
}

// mostFound is how many vehicles a search finds at the most.
const mostFound = 12

// FindVehicles searches by the start of a plate, blanks ignored, or a part of
// the customer's name: each by its own index, the batteries of all hits at once.
func (s *Store) FindVehicles(ctx context.Context, shopID record.ID, query string) ([]record.FoundVehicle, error) {
	plain := likeEscaper.Replace(strings.TrimSpace(query))
	byPlate, err := s.q.VehiclesByPlate(
		ctx,
		gen.VehiclesByPlateParams{
			ShopID:     shopID,
			PlatePlain: sql.NullString{String: strings.ToUpper(strings.ReplaceAll(plain, " ", "")) + "%", Valid: true},
		},
	)
	if err != nil {
		return nil, err
	}
	byName, err := s.q.VehiclesByCustomer(ctx, gen.VehiclesByCustomerParams{ShopID: shopID, Name: "%" + plain + "%"})
	if err != nil {
		return nil, err
	}
	out := make([]record.FoundVehicle, 0, len(byPlate)+len(byName))
	add := func(row gen.Vehicle, customer string) {
		if len(out) < mostFound && !slices.ContainsFunc(out, func(v record.FoundVehicle) bool { return v.ID == row.ID }) {
			out = append(out, record.FoundVehicle{Vehicle: vehicleFrom(row), CustomerName: customer, Batteries: []record.Fitted{}})
		}
	}
	for _, row := range byPlate {
		add(row.Vehicle, row.CustomerName)
	}
	for _, row := range byName {
		add(row.Vehicle, row.CustomerName)
	}
	return out, s.fill(ctx, shopID, out)
}

// fill gives vehicles the batteries that are in them now.
func (s *Store) fill(ctx context.Context, shopID record.ID, list []record.FoundVehicle) error {
	if len(list) == 0 {
		return nil
	}
	ids := make([]record.ID, len(list))
	for i, v := range list {
		ids[i] = v.ID
	}
	rows, err := s.q.BatteriesInVehicles(ctx, gen.BatteriesInVehiclesParams{ShopID: shopID, Vehicles: ids})
	for _, row := range rows {
		i := slices.Index(ids, row.VehicleID)
		list[i].Batteries = append(list[i].Batteries, fitted(batteryFrom(row.Battery), row.Position))
	}
	return err
}

var likeEscaper = strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`)

// rating splits a rating into its columns.
func rating(r *battery.Rating) (value *float64, standard string) {
	if r == nil {
		return nil, ""
	}
	return (*float64)(&r.Value), string(r.Standard)
}

// AddBattery writes a battery down.
func (s *Store) AddBattery(ctx context.Context, shopID record.ID, b record.Battery, at time.Time) error {
	l := b.Label
	value, standard := rating(l.Rating)
	return s.q.AddBattery(ctx, gen.AddBatteryParams{
		ID: b.ID, ShopID: shopID, Tag: b.Tag, Maker: b.Maker, Chemistry: string(l.Chemistry), NominalV: float64(l.NominalV),
		RatingValue: value, RatingStandard: standard, CapacityAh: (*float64)(l.CapacityAh), ReserveMin: (*float64)(l.ReserveMin),
		Made: l.Made, Sealed: l.Sealed, EyeFitted: l.EyeFitted, LabelLoadA: (*float64)(l.LabelLoadA), FullSg: l.FullSG,
		DeepCycle: l.DeepCycle, Plates: l.Alloy, Posts: b.Posts, CreatedAt: at,
	})
}

// UpdateLabel replaces a battery's label; the old one stays in the event log.
func (s *Store) UpdateLabel(ctx context.Context, shopID record.ID, b record.Battery) error {
	l := b.Label
	value, standard := rating(l.Rating)
	return s.q.UpdateBatteryLabel(ctx, gen.UpdateBatteryLabelParams{
		Tag: b.Tag, Maker: b.Maker, Chemistry: string(l.Chemistry), NominalV: float64(l.NominalV),
		RatingValue: value, RatingStandard: standard, CapacityAh: (*float64)(l.CapacityAh), ReserveMin: (*float64)(l.ReserveMin),
		Made: l.Made, Sealed: l.Sealed, EyeFitted: l.EyeFitted, LabelLoadA: (*float64)(l.LabelLoadA), FullSg: l.FullSG,
		DeepCycle: l.DeepCycle, Plates: l.Alloy,
		ShopID: shopID, ID: b.ID,
	})
}

func batteryFrom(row gen.Battery) record.Battery {
	l := battery.Label{
		Chemistry: battery.Chemistry(row.Chemistry), NominalV: quantity.Volts(row.NominalV),
		CapacityAh: (*quantity.AmpereHours)(row.CapacityAh), ReserveMin: (*quantity.Minutes)(row.ReserveMin), Made: row.Made,
		Sealed: row.Sealed, EyeFitted: row.EyeFitted, LabelLoadA: (*quantity.Amperes)(row.LabelLoadA), FullSG: row.FullSg,
		DeepCycle: row.DeepCycle, Alloy: row.Plates,
	}
	if row.RatingValue != nil {
		l.Rating = &battery.Rating{Value: quantity.Amperes(*row.RatingValue), Standard: battery.Standard(row.RatingStandard)}
	}
	return record.Battery{ID: row.ID, Tag: row.Tag, Maker: row.Maker, Posts: row.Posts, Label: l}
}

// fitted gives a battery its position.
func fitted(b record.Battery, position string) record.Fitted {
	b.Label.Position = position
	return record.Fitted{Battery: b, Position: position}
}

// Battery finds a battery.
func (s *Store) Battery(ctx context.Context, shopID, id record.ID) (record.Battery, error) {
	row, err := s.q.BatteryByID(ctx, gen.BatteryByIDParams{ShopID: shopID, ID: id})
	return batteryFrom(row), found(err)
}

// encode writes a value as JSON; what the store writes always encodes.
func encode(value any) (json.RawMessage, error) {
	data, err := json.Marshal(value)
	if err != nil {
		return nil, fmt.Errorf("encode for the database: %w", err)
	}
	return data, nil
}
