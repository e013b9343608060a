package shop

import (
	"context"
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
	var found problem.List
	found.CheckText("shop_name", in.ShopName, 1, maxNameText)
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" {
		found = append(found, problem.New("problem.code", "time_zone", in.TimeZone, "Europe/Amsterdam, UTC"))
	}
	owner := Person{Name: in.Name, SignIn: in.SignIn, Role: people.Owner}
	owner.Check(&found, in.Password)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	hash, err := people.HashSecret(ctx, in.Password)
	if err != nil {
		return Person{}, err
	}
	at := s.stamp()
	sh := record.Shop{ID: record.NewID(), Name: strings.TrimSpace(in.ShopName), TimeZone: in.TimeZone, School: school.HalfCCA, CreatedAt: at}
	owner.Complete(sh.ID, hash)
	err = s.write(ctx, func(tx Tx) error {
		if err := tx.Once(ctx, milestoneSetUp); err != nil {
			return err
		}
		if err := tx.AddShop(ctx, sh); err != nil {
			return err
		}
		for i, p := range record.UsualPlaces() {
			p.ID, p.Ordinal = record.NewID(), i+1
			if err := tx.KeepPlace(ctx, sh.ID, p, at); err != nil {
				return err
			}
		}
		if err := tx.AddPerson(ctx, owner, at); err != nil {
			return err
		}
		return s.tell(ctx, tx, owner, nil, "set_up", sh)
	})
	return owner, err
}
