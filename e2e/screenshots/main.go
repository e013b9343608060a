// Command screenshots takes one current picture of each main view from the demo
// workshop: go run ./e2e/screenshots [folder [view ...]].
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"

	"grapnel/app/demo"
	"grapnel/app/localdb"
	"grapnel/app/store"
	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// view is one picture: where to go, what to do there, and what to wait for.
type view struct {
	name          string
	width, height int64
	theme         string
	open          func(p *browser.Page) error
}

func main() {
	folder, only := "docs/screenshots", []string(nil)
	if len(os.Args) > 1 {
		folder, only = os.Args[1], os.Args[2:]
	}
	if err := run(folder, only); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(folder string, only []string) (err error) {
	dir, err := os.MkdirTemp("", "grapnel-shots-")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	if err := errors.Join(os.Chmod(dir, 0o755), os.MkdirAll(folder, 0o755)); err != nil {
		return err
	}
	ctx := context.Background()
	server, err := localdb.Start(ctx, localdb.Options{Dir: dir, Throwaway: true})
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, server.Stop()) }()
	db, err := store.Open(server.DSN())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if _, err := store.Migrate(ctx, db); err != nil {
		return err
	}
	if err := demo.Fill(ctx, db); err != nil {
		return err
	}
	shop, err := e2e.Open(db)
	if err != nil {
		return err
	}
	defer shop.Close()
	b, err := browser.Start()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, b.Close()) }()
	for i, v := range views() {
		// The first signs in.
		if i > 0 && len(only) > 0 && !slices.Contains(only, v.name) {
			continue
		}
		if err := v.take(b, shop.URL, folder); err != nil {
			return fmt.Errorf("%s: %w", v.name, err)
		}
		fmt.Println(filepath.Join(folder, v.name+".png"))
	}
	return nil
}

func (v view) take(b *browser.Browser, url, folder string) error {
	p, err := b.Page(url, v.width, v.height)
	if err != nil {
		return err
	}
	if err := p.Open("/"); err != nil {
		return err
	}
	if err := p.Theme(v.theme); err != nil {
		return err
	}
	if err := v.open(p); err != nil {
		return err
	}
	if err := p.Until("document.fonts.status === 'loaded'"); err != nil {
		return err
	}
	return p.Shot(filepath.Join(folder, v.name+".png"))
}
