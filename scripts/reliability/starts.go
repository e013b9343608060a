package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"time"

	"grapnel/app/store"
)

// starts kills a first start, or an upgrade from every schema, at moments of chance, and
// finds out whether the next start always comes through.
func starts(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("starts", flag.ExitOnError)
	times := set.Int("times", 20, "how often each")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	if err := firstStarts(ctx, dir, *times); err != nil {
		return err
	}
	own, err := newNode(ctx, dir, "own")
	if err != nil {
		return err
	}
	defer own.kill()
	for from := int64(0); from < store.Latest(); from++ {
		if err := upgrades(ctx, own, from, *times); err != nil {
			return err
		}
	}
	return nil
}

// firstStarts kills a shop's first start again and again, each time a little later.
func firstStarts(ctx context.Context, dir string, times int) error {
	for n := range times {
		data, port := filepath.Join(dir, fmt.Sprint("first-", n)), freePort()
		server := grapnel("serve", port, nil, "-data", data)
		for blow := range 3 {
			if err := server.start(); err != nil {
				return err
			}
			time.Sleep(time.Duration(rand.IntN(400+400*blow)) * time.Millisecond)
			server.kill()
		}
		if err := server.start(); err != nil {
			return err
		}
		if err := healthy(ctx, baseOf(port), time.Minute); err != nil {
			return fmt.Errorf("first start %d: %w\n%s", n+1, err, tail(server.said.String()))
		}
		server.stop()
		if err := os.RemoveAll(data); err != nil {
			return err
		}
	}
	fmt.Printf("first start: killed three times each of %d, always started then\n", times)
	return nil
}

// upgrades kills the upgrade of a shop from one schema, until so many blows fell in it.
func upgrades(ctx context.Context, own *node, from int64, times int) error {
	killed, tries, took := 0, 0, 500*time.Millisecond
	for ; killed < times && tries < 20*times; tries++ {
		if err := keptAt(ctx, own, from); err != nil {
			return fmt.Errorf("schema %d: %w", from, err)
		}
		migrate := &process{name: "migrate", path: binary, args: []string{"migrate", "-without-backup"}, env: []string{"GRAPNEL_DSN=" + own.dsn()}}
		if err := migrate.start(); err != nil {
			return err
		}
		began := time.Now()
		select {
		case <-migrate.ended:
			took = time.Since(began)
		case <-time.After(time.Duration(rand.Int64N(int64(took)))):
			killed++
			migrate.kill()
		}
		version, err := store.OpenAndUpgrade(ctx, own.dsn(), store.Upgrade{})
		if err != nil || version != store.Latest() {
			return fmt.Errorf("upgrade from schema %d: version %d, %w", from, version, err)
		}
	}
	fmt.Printf("upgrade from schema %d: killed %d times in %d tries, always came through then\n", from, killed, tries)
	return nil
}

// keptAt makes the database one that a release with a schema left behind, with what the
// tests have of it.
func keptAt(ctx context.Context, own *node, schema int64) error {
	db, err := store.Open(fmt.Sprintf("root@tcp(127.0.0.1:%d)/", own.port))
	if err != nil {
		return err
	}
	defer db.Close()
	for _, statement := range []string{"DROP DATABASE IF EXISTS grapnel", "CREATE DATABASE grapnel CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci"} {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			return err
		}
	}
	shop, err := store.Open(own.dsn())
	if err != nil {
		return err
	}
	defer shop.Close()
	// The dumps up to schema 3 are of a shop that had never seen an earlier one.
	const whole = 3
	for s := int64(1); s <= schema; s++ {
		if s == 1 || s > whole {
			if _, err := (store.Upgrade{To: max(s, min(whole, schema))}).Run(ctx, shop); err != nil {
				return err
			}
		}
		dump, err := os.ReadFile(fmt.Sprintf("app/store/testdata/schema-%d.sql", s))
		if err != nil {
			return err
		}
		for _, statement := range strings.Split(string(dump), ";\n") {
			if strings.TrimSpace(statement) == "" {
				continue
			}
			if _, err := shop.ExecContext(ctx, statement); err != nil {
				return fmt.Errorf("%.60s: %w", statement, err)
			}
		}
	}
	return nil
}
