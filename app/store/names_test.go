package store_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"testing"
	"time"

	"grapnel/app/fold"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
)

// spellings are names that a collation may take for one another: by accents, by case, by width,
// by blanks, by signs beyond the basic plane.
var spellings = []string{
	"jo", "JO", "jö", "jo ", "ｊｏ", "jø", "josé", "jose\u0301", "jose", "straße", "strasse", "STRASSE", "ångström", "\u212bngström",
	"ſam", "sam", "σας", "σασ", "ı", "i", "İ", "😀", "😁", "a b", "a  b", "æ", "ae", "ﬁn", "fin",
}

// TestNamesAreComparedAlike writes every two spellings down, wherever a name may be there once:
// the database takes them for one exactly where the program does.
func TestNamesAreComparedAlike(t *testing.T) {
	s := store.New(dbtest.Open(t))
	at := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	person := func(name string) people.Person {
		p := people.Person{SignIn: name, Name: "Jo", Role: people.Owner}
		p.Complete(record.NewID(), "x")
		return p
	}
	for kind, add := range map[string]func(sh record.ID, name string) error{
		"person": func(sh record.ID, name string) error {
			p := person(name)
			p.ShopID = sh
			return s.AddPerson(t.Context(), p, at)
		},
		"place": func(sh record.ID, name string) error {
			return s.KeepPlace(t.Context(), sh, record.Place{ID: record.NewID(), Name: name, Kind: "bay"}, at)
		},
		"charger": func(sh record.ID, name string) error {
			return s.KeepCharger(t.Context(), sh, record.Charger{ID: record.NewID(), Name: name, Kind: "plain"}, at)
		},
	} {
		sh := record.Shop{ID: record.NewID(), TimeZone: "UTC", CreatedAt: at}
		must(t, s.AddShop(t.Context(), sh))
		known := []string{}
		for _, name := range spellings {
			err := add(sh.ID, name)
			there := slices.Contains(known, fold.Name(name))
			if there != errors.Is(err, shop.ErrTaken) || !there && err != nil {
				t.Errorf("%s %q: the program knows it: %v, the database says %v", kind, name, there, err)
			}
			known = append(known, fold.Name(name))
			if p, err := s.PersonBySignIn(t.Context(), fold.Name(name)); kind == "person" && (err != nil || p.SignIn != fold.Name(name)) {
				t.Errorf("%q finds %q, %v", name, p.SignIn, err)
			}
		}
	}
}

// TestUniqueTexts lists every text that the database holds to be there once: each is either a
// name, which the program folds, or of the program's own making, in figures and plain letters.
func TestUniqueTexts(t *testing.T) {
	db := dbtest.Open(t)
	rows, err := db.QueryContext(t.Context(), `SELECT DISTINCT c.table_name, c.column_name, c.collation_name FROM information_schema.statistics s
		JOIN information_schema.columns c ON c.table_schema = s.table_schema AND c.table_name = s.table_name AND c.column_name = s.column_name
		WHERE s.table_schema = DATABASE() AND s.non_unique = 0 AND c.collation_name IS NOT NULL`)
	must(t, err)
	defer rows.Close()
	names := []string{"person.sign_in", "place.name_folded", "charger.name_folded"}
	made := []string{
		"about_database.name", "calendar_feed.secret", "claim.name", "milestone.name", "known_device.hash", "recovery_code.hash", "sessions.token",
		"shop_limit.limit_id", "sign_in_guard.subject",
	}
	seen := []string{}
	for rows.Next() {
		var table, column, collation string
		must(t, rows.Scan(&table, &column, &collation))
		of := table + "." + column
		seen = append(seen, of)
		if slices.Contains(names, of) {
			if collation != "utf8mb4_bin" {
				t.Errorf("%s is compared by %s", of, collation)
			}
		} else if !slices.Contains(made, of) {
			t.Errorf("%s is there once by %s, and nobody has said how the program compares it", of, collation)
		}
	}
	must(t, rows.Err())
	for _, of := range slices.Concat(names, made) {
		if !slices.Contains(seen, of) {
			t.Errorf("%s may be there twice", of)
		}
	}
}

// TestTwoHandsOneName has hands add a place of one name under IDs of their own, and one place
// under one ID: nobody's place becomes another's.
func TestTwoHandsOneName(t *testing.T) {
	s := store.New(dbtest.Open(t))
	at := time.Now()
	sh := record.Shop{ID: record.NewID(), TimeZone: "UTC", CreatedAt: at}
	must(t, s.AddShop(t.Context(), sh))
	keep := func(id record.ID, name string) error {
		return s.Write(t.Context(), func(tx shop.Tx) error {
			return tx.KeepPlace(context.WithoutCancel(t.Context()), sh.ID, record.Place{ID: id, Name: name, Kind: "bay"}, at)
		})
	}
	for round := range 5 {
		name := fmt.Sprint("Lane ", round)
		errs := make(chan error, 8)
		for range 4 {
			go func() { errs <- keep(record.NewID(), name) }()
		}
		added := 0
		for range 4 {
			switch err := <-errs; {
			case err == nil:
				added++
			case !errors.Is(err, shop.ErrTaken):
				t.Error(err)
			}
		}
		id := record.NewID()
		for range 4 {
			go func() { errs <- keep(id, name+" too") }()
		}
		for range 4 {
			must(t, <-errs)
		}
		if added != 1 {
			t.Errorf("%d added %s", added, name)
		}
	}
	if list, err := s.Places(t.Context(), sh.ID); err != nil || len(list) != 10 {
		t.Errorf("%d places, %v", len(list), err)
	}
}
