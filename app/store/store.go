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
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"

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
	tx bool
}

var _ shop.Store = (*Store)(nil)

// New uses an open, migrated database.
func New(db *sql.DB) *Store { return &Store{db: db, q: gen.New(db)} }

// Open connects to a MariaDB by its DSN, with the settings the store relies on.
func Open(dsn string) (*sql.DB, error) {
	config, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("GRAPNEL_DSN: %w (like grapnel:secret@tcp(127.0.0.1:3306)/grapnel)", err)
	}
	config.ParseTime, config.Loc = true, time.UTC
	config.InterpolateParams = true
	if config.Params == nil {
		config.Params = map[string]string{}
	}
	config.Params["time_zone"] = "'+00:00'"
	config.Collation = "utf8mb4_general_ci"
	connector, err := mysql.NewConnector(config)
	if err != nil {
		return nil, err
	}
	db := sql.OpenDB(connector)
	db.SetMaxOpenConns(16)
	db.SetMaxIdleConns(16)
	db.SetConnMaxLifetime(30 * time.Minute)
	return db, nil
}

// MariaDB's numbers for a deadlock and a lock wait that took too long: the
// transaction may be tried again.
const (
	errDeadlock    = 1213
	errLockTimeout = 1205
	errDuplicate   = 1062
	writeTries     = 4
)

// Write runs do in one transaction and tries again when the database gave it up
// in favour of another.
func (s *Store) Write(ctx context.Context, do func(shop.Store) error) error {
	if s.tx {
		return do(s)
	}
	var err error
	for range writeTries {
		if err = s.once(ctx, do); !retryable(err) {
			return err
		}
	}
	return err
}

func (s *Store) once(ctx context.Context, do func(shop.Store) error) error {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	if err := do(&Store{db: s.db, q: s.q.WithTx(tx), tx: true}); err != nil {
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

// OnlyShop is the shop this database belongs to.
func (s *Store) OnlyShop(ctx context.Context) (shop.Shop, error) {
	row, err := s.q.OnlyShop(ctx)
	return shop.Shop{ID: row.ID, Name: row.Name, TimeZone: row.TimeZone, School: school.ID(row.School), CreatedAt: row.CreatedAt}, found(err)
}

// AddShop writes the shop down.
func (s *Store) AddShop(ctx context.Context, sh shop.Shop) error {
	return s.q.AddShop(ctx, gen.AddShopParams{ID: sh.ID, Name: sh.Name, TimeZone: sh.TimeZone, School: string(sh.School), CreatedAt: sh.CreatedAt})
}

// CountPeople counts everyone who may sign in, of any shop.
func (s *Store) CountPeople(ctx context.Context) (int, error) {
	n, err := s.q.CountPeople(ctx)
	return int(n), err
}

// AddPerson writes a person down; a sign-in name already taken is reported.
func (s *Store) AddPerson(ctx context.Context, p shop.Person, at time.Time) error {
	err := s.q.AddPerson(ctx, gen.AddPersonParams{
		ID: p.ID, ShopID: p.ShopID, Name: p.Name, Initials: p.Initials, SignIn: p.SignIn, Role: string(p.Role),
		PasswordHash: p.PasswordHash, Active: p.Active, CreatedAt: at,
	})
	if number(err) == errDuplicate {
		return shop.ErrTaken
	}
	return err
}

func personFrom(row gen.Person) shop.Person {
	return shop.Person{
		ID: row.ID, ShopID: row.ShopID, Name: row.Name, Initials: row.Initials, SignIn: row.SignIn, Role: shop.Role(row.Role),
		PasswordHash: row.PasswordHash, Active: row.Active,
	}
}

// PersonBySignIn finds an active person.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (shop.Person, error) {
	row, err := s.q.PersonBySignIn(ctx, signIn)
	return personFrom(row), found(err)
}

// PersonByID finds a person.
func (s *Store) PersonByID(ctx context.Context, id shop.ID) (shop.Person, error) {
	row, err := s.q.PersonByID(ctx, id)
	return personFrom(row), found(err)
}

// People lists the people of a shop by name.
func (s *Store) People(ctx context.Context, shopID shop.ID) ([]shop.Person, error) {
	rows, err := s.q.People(ctx, shopID)
	return each(rows, personFrom), err
}

func each[A, B any](list []A, f func(A) B) []B {
	out := make([]B, len(list))
	for i, a := range list {
		out[i] = f(a)
	}
	return out
}

// AddCustomer writes a customer down.
func (s *Store) AddCustomer(ctx context.Context, shopID shop.ID, c shop.Customer, at time.Time) error {
	return s.q.AddCustomer(ctx, gen.AddCustomerParams{ID: c.ID, ShopID: shopID, Name: c.Name, Phone: c.Phone, CreatedAt: at})
}

// Customer finds a customer.
func (s *Store) Customer(ctx context.Context, shopID, id shop.ID) (shop.Customer, error) {
	row, err := s.q.CustomerByID(ctx, gen.CustomerByIDParams{ShopID: shopID, ID: id})
	return shop.Customer{ID: row.ID, Name: row.Name, Phone: row.Phone}, found(err)
}

// AddVehicle writes a vehicle down.
func (s *Store) AddVehicle(ctx context.Context, shopID shop.ID, v shop.Vehicle, at time.Time) error {
	return s.q.AddVehicle(ctx, gen.AddVehicleParams{
		ID: v.ID, ShopID: shopID, CustomerID: v.CustomerID, Plate: v.Plate, Description: v.Description, Kind: v.Kind,
		Engine: v.Engine, Litres: v.Litres, RequiredCca: (*float64)(v.RequiredCCA), StartStop: v.StartStop,
		ManagedCharging: v.ManagedCharging, Earth: v.Earth, Seat: v.Seat, Joined: v.Joined, CreatedAt: at,
	})
}

func vehicleFrom(row gen.Vehicle) shop.Vehicle {
	return shop.Vehicle{
		ID: row.ID, CustomerID: row.CustomerID, Plate: row.Plate, Description: row.Description, Seat: row.Seat, Joined: row.Joined,
		Vehicle: evidence.Vehicle{
			Kind: row.Kind, Engine: row.Engine, Litres: row.Litres, RequiredCCA: (*quantity.Amperes)(row.RequiredCca),
			StartStop: row.StartStop, ManagedCharging: row.ManagedCharging, Earth: row.Earth,
		},
	}
}

// Vehicle finds a vehicle.
func (s *Store) Vehicle(ctx context.Context, shopID, id shop.ID) (shop.Vehicle, error) {
	row, err := s.q.VehicleByID(ctx, gen.VehicleByIDParams{ShopID: shopID, ID: id})
	return vehicleFrom(row), found(err)
}

// FindVehicles searches by the start of a plate, blanks ignored, or a part of
// the customer's name.
func (s *Store) FindVehicles(ctx context.Context, shopID shop.ID, query string) ([]shop.FoundVehicle, error) {
	plain := likeEscaper.Replace(strings.TrimSpace(query))
	rows, err := s.q.FindVehicles(ctx, gen.FindVehiclesParams{
		ShopID: shopID, Plate: strings.ReplaceAll(plain, " ", "") + "%", Name: "%" + plain + "%",
	})
	if err != nil {
		return nil, err
	}
	out := make([]shop.FoundVehicle, 0, len(rows))
	for _, row := range rows {
		batteries, err := s.BatteriesInVehicle(ctx, shopID, row.Vehicle.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, shop.FoundVehicle{Vehicle: vehicleFrom(row.Vehicle), CustomerName: row.CustomerName, Batteries: batteries})
	}
	return out, nil
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
func (s *Store) AddBattery(ctx context.Context, shopID shop.ID, b shop.Battery, at time.Time) error {
	l := b.Label
	value, standard := rating(l.Rating)
	return s.q.AddBattery(ctx, gen.AddBatteryParams{
		ID: b.ID, ShopID: shopID, Tag: b.Tag, Maker: b.Maker, Chemistry: string(l.Chemistry), NominalV: float64(l.NominalV),
		RatingValue: value, RatingStandard: standard, CapacityAh: (*float64)(l.CapacityAh), ReserveMin: (*float64)(l.ReserveMin),
		Made: l.Made, Sealed: l.Sealed, EyeFitted: l.EyeFitted, LabelLoadA: (*float64)(l.LabelLoadA), FullSg: l.FullSG, Posts: b.Posts, CreatedAt: at,
	})
}

// UpdateLabel replaces a battery's label; the old one stays in the event log.
func (s *Store) UpdateLabel(ctx context.Context, shopID shop.ID, b shop.Battery) error {
	l := b.Label
	value, standard := rating(l.Rating)
	return s.q.UpdateBatteryLabel(ctx, gen.UpdateBatteryLabelParams{
		Tag: b.Tag, Maker: b.Maker, Chemistry: string(l.Chemistry), NominalV: float64(l.NominalV),
		RatingValue: value, RatingStandard: standard, CapacityAh: (*float64)(l.CapacityAh), ReserveMin: (*float64)(l.ReserveMin),
		Made: l.Made, Sealed: l.Sealed, EyeFitted: l.EyeFitted, LabelLoadA: (*float64)(l.LabelLoadA), FullSg: l.FullSG,
		ShopID: shopID, ID: b.ID,
	})
}

func batteryFrom(row gen.Battery) shop.Battery {
	l := battery.Label{
		Chemistry: battery.Chemistry(row.Chemistry), NominalV: quantity.Volts(row.NominalV),
		CapacityAh: (*quantity.AmpereHours)(row.CapacityAh), ReserveMin: (*quantity.Minutes)(row.ReserveMin), Made: row.Made,
		Sealed: row.Sealed, EyeFitted: row.EyeFitted, LabelLoadA: (*quantity.Amperes)(row.LabelLoadA), FullSG: row.FullSg,
	}
	if row.RatingValue != nil {
		l.Rating = &battery.Rating{Value: quantity.Amperes(*row.RatingValue), Standard: battery.Standard(row.RatingStandard)}
	}
	return shop.Battery{ID: row.ID, Tag: row.Tag, Maker: row.Maker, Posts: row.Posts, Label: l}
}

// seated gives a joined row its place in the vehicle, in the label as well.
func seated(b shop.Battery, position string) shop.SeatedBattery {
	b.Label.Position = position
	return shop.SeatedBattery{Battery: b, Position: position}
}

// Battery finds a battery.
func (s *Store) Battery(ctx context.Context, shopID, id shop.ID) (shop.Battery, error) {
	row, err := s.q.BatteryByID(ctx, gen.BatteryByIDParams{ShopID: shopID, ID: id})
	return batteryFrom(row), found(err)
}

// Seat records that a battery sits in a vehicle from now on.
func (s *Store) Seat(ctx context.Context, shopID, batteryID, vehicleID shop.ID, position string, at time.Time) error {
	return s.q.AddSeat(ctx, gen.AddSeatParams{ID: shop.NewID(), ShopID: shopID, BatteryID: batteryID, VehicleID: vehicleID, Position: position, FromAt: at})
}

// BatteriesInVehicle lists what sits in a vehicle now.
func (s *Store) BatteriesInVehicle(ctx context.Context, shopID, vehicleID shop.ID) ([]shop.SeatedBattery, error) {
	rows, err := s.q.BatteriesInVehicle(ctx, gen.BatteriesInVehicleParams{ShopID: shopID, VehicleID: vehicleID})
	return each(rows, func(r gen.BatteriesInVehicleRow) shop.SeatedBattery {
		return seated(batteryFrom(r.Battery), r.Position)
	}), err
}

// Seats lists where a battery sat, latest first.
func (s *Store) Seats(ctx context.Context, shopID, batteryID shop.ID) ([]shop.Seat, error) {
	rows, err := s.q.SeatsOfBattery(ctx, gen.SeatsOfBatteryParams{ShopID: shopID, BatteryID: batteryID})
	return each(rows, func(r gen.SeatsOfBatteryRow) shop.Seat {
		return shop.Seat{
			VehicleID: r.BatterySeat.VehicleID, Plate: r.Plate, Description: r.Description, Position: r.BatterySeat.Position,
			FromAt: r.BatterySeat.FromAt, ToAt: r.BatterySeat.ToAt,
		}
	}), err
}

// encode writes a value as JSON; what the store writes always encodes.
func encode(value any) (json.RawMessage, error) {
	data, err := json.Marshal(value)
	if err != nil {
		return nil, fmt.Errorf("encode for the database: %w", err)
	}
	return data, nil
}
