package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/shop"
	"grapnel/app/store"
)

// resetPassword makes a code with which somebody sets another password, for when no owner
// can sign in. It works beside a Grapnel that serves.
func resetPassword(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) (err error) {
	s := serving{out: errs, errs: errs, kind: localdb.Shop, attach: true}
	set := flag.NewFlagSet("reset-password", flag.ContinueOnError)
	set.SetOutput(errs)
	set.StringVar(&s.data, "data", os.Getenv("GRAPNEL_DATA"), "folder of the private database (default: the system's place for it)")
	set.StringVar(&s.kind, "shop", localdb.Shop, "which private database: shop or demo")
	if err := set.Parse(args); err != nil {
		return parseError(err)
	}
	if set.NArg() != 1 {
		fmt.Fprintln(errs, "grapnel reset-password NAME: the name that the person signs in as")
		return errBadInput
	}
	db, closeDB, err := s.database(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB()) }()
	made, err := shop.NewService(store.New(db), time.Now).ResetBySignIn(ctx, set.Arg(0))
	if errors.Is(err, shop.ErrNotFound) {
		fmt.Fprintf(errs, "grapnel reset-password: nobody who may come in signs in as %q\n", set.Arg(0))
		return errBadInput
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%s\nGood once, until %s: on the sign-in page under \"I have a code\", with the name %s.\nIt signs them out everywhere and switches their second step off.\n",
		made.Code, made.Until.Format(time.RFC3339), set.Arg(0))
	return nil
}

// addShop makes another shop in the database, with an owner who sets a password by the code
// that is printed. The shops see nothing of each other.
func addShop(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) (err error) {
	s := serving{out: errs, errs: errs, kind: localdb.Shop, attach: true}
	var in shop.SetUp
	if err := flags("add-shop", args, errs, func(set *flag.FlagSet) {
		s.defineData(set)
		set.StringVar(&in.ShopName, "name", "", "name of the shop")
		set.StringVar(&in.TimeZone, "time-zone", "UTC", "its time zone, such as Europe/Amsterdam")
		set.StringVar(&in.Name, "owner", "", "name of its owner")
		set.StringVar(&in.SignIn, "sign-in", "", "what the owner signs in as: nobody else's in this database")
	}); err != nil {
		return err
	}
	db, closeDB, err := s.database(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB()) }()
	service := shop.NewService(store.New(db), time.Now)
	if needs, err := service.NeedsSetUp(ctx); err != nil || needs {
		if err == nil {
			fmt.Fprintln(errs, "grapnel add-shop: the first shop is set up in a browser: grapnel serve")
			err = errBadInput
		}
		return err
	}
	owner, code, err := service.AddShop(ctx, in)
	if problems(err, errs) {
		return errBadInput
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%s\nThe code for %s, good once, until %s: on the sign-in page under \"I have a code\", with the name %s.\n",
		code.Code, owner.Name, code.Until.Format(time.RFC3339), owner.SignIn)
	return nil
}
