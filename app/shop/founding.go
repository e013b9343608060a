package shop

import (
	"context"
	"errors"
	"strings"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/problem"
	"grapnel/core/school"
)

// founding makes the shop.
type founding struct{ *house }

// SetUp is what the first start asks for.
type SetUp struct {
	ShopName string
	TimeZone string
	Name     string
	SignIn   string
	Password string
}

// milestoneSetUp happens once in a database's life.
const milestoneSetUp = "set_up"

// SetUp makes the shop, its places and its owner, once, however many ask at a time.
func (s founding) SetUp(ctx context.Context, in SetUp) (Person, error) {
	if err := in.check(); err != nil {
		return Person{}, err
	}
	hash, err := people.HashSecret(ctx, in.Password)
	if err != nil {
		return Person{}, err
	}
	var owner Person
	err = s.write(ctx, func(tx Tx) (err error) {
		if err := tx.Once(ctx, milestoneSetUp); err != nil {
			return err
		}
		owner, err = s.found(ctx, tx, in, hash)
		return err
	})
	return owner, err
}

// found makes a shop with its usual places and its owner.
func (s founding) found(ctx context.Context, tx Tx, in SetUp, hash string) (Person, error) {
	owner := Person{Name: in.Name, SignIn: in.SignIn, Role: people.Owner}
	at := s.stamp()
	sh := record.Shop{ID: record.NewID(), Name: strings.TrimSpace(in.ShopName), TimeZone: in.TimeZone, School: school.HalfCCA, CreatedAt: at}
	owner.Complete(sh.ID, hash)
	if err := tx.AddShop(ctx, sh); err != nil {
		return owner, err
	}
	for i, p := range record.UsualPlaces() {
		p.ID, p.Ordinal = record.NewID(), i+1
		if err := tx.KeepPlace(ctx, sh.ID, p, at); err != nil {
			return owner, err
		}
	}
	if err := tx.AddPerson(ctx, owner, at); err != nil {
		return owner, err
	}
	return owner, s.tell(ctx, tx, owner, nil, "set_up", sh)
}

// AddShop makes another shop in the database. Its owner sets a password with the code that
// comes back; until then nobody gets in.
func (s founding) AddShop(ctx context.Context, in SetUp) (Person, ResetCode, error) {
	in.Password = people.NewCode() + people.NewCode()
	if err := in.check(); err != nil {
		return Person{}, ResetCode{}, err
	}
	hash, err := people.HashSecret(ctx, in.Password)
	if err != nil {
		return Person{}, ResetCode{}, err
	}
	var owner Person
	code := ResetCode{Code: people.NewCode(), Until: s.stamp().Add(ResetLife)}
	err = s.write(ctx, func(tx Tx) (err error) {
		if owner, err = s.found(ctx, tx, in, hash); err != nil {
			return err
		}
		return tx.KeepResetCode(ctx, owner, people.HashCode(code.Code), code.Until)
	})
	if errors.Is(err, ErrTaken) {
		err = problem.List{problem.New("problem.taken", "sign_in", in.SignIn, "a name nobody else signs in with")}
	}
	return owner, code, err
}

// check reports what is wrong with what a shop is made of.
func (in SetUp) check() error {
	var found problem.List
	found.CheckText("shop_name", in.ShopName, 1, maxNameText)
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" {
		found = append(found, problem.New("problem.code", "time_zone", in.TimeZone, "Europe/Amsterdam, UTC"))
	}
	Person{Name: in.Name, SignIn: in.SignIn, Role: people.Owner}.Check(&found, in.Password)
	return found.Err()
}
