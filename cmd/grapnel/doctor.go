package main

import (
	"context"
	"crypto/tls"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"grapnel/app/authority"
	"grapnel/app/backup"
	"grapnel/app/localdb"
	"grapnel/app/room"
	"grapnel/app/store"
)

// finding is one thing that was looked at: what was found, and what to do where it is wrong.
type finding struct {
	what, found, do string
	wrong           bool
}

func good(what, found string) finding { return finding{what: what, found: found} }
func bad(what, found, do string) finding {
	return finding{what: what, found: found, do: do, wrong: true}
}

// doctor looks a shop's server over and says what is wrong and what to do: exit 0 where
// nothing is, 1 where something is. It changes nothing. With -served it only asks the server
// whether it serves, as what starts it again must: a late backup is no reason to.
func doctor(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	s := serving{out: errs, errs: errs, kind: localdb.Shop, attach: true, asItIs: true}
	var served string
	if err := flags("doctor", args, errs, func(set *flag.FlagSet) {
		s.defineData(set)
		set.StringVar(&s.kind, "shop", localdb.Shop, "which private database: shop or demo")
		set.StringVar(&served, "served", "", "only ask the server at this address, as https://127.0.0.1:8040, whether the shop can be worked in")
	}); err != nil {
		return err
	}
	if served != "" {
		return report(out, []finding{s.served(ctx, served)})
	}
	dir, err := s.dataDir()
	if err != nil {
		return err
	}
	if s.backups, err = s.backupDir(); err != nil {
		return err
	}
	list := append(s.disks(dir), s.certificate(), program())
	return report(out, append(list, s.looked(ctx, dir)...))
}

// report writes down what was found, and fails where something is wrong.
func report(out io.Writer, list []finding) error {
	wrong := 0
	for _, f := range list {
		mark := "ok   "
		if f.wrong {
			mark, wrong = "WRONG", wrong+1
		}
		fmt.Fprintf(out, "%s  %-12s %s\n", mark, f.what, f.found)
		if f.do != "" {
			fmt.Fprintf(out, "       %-12s do: %s\n", "", f.do)
		}
	}
	if wrong > 0 {
		return fmt.Errorf("%d of %d are wrong", wrong, len(list))
	}
	return nil
}

// served asks a server whether the shop can be worked in.
func (s *serving) served(ctx context.Context, address string) finding {
	const what = "server"
	at, err := url.Parse(address)
	if err != nil || at.Host == "" || (at.Scheme != "http" && at.Scheme != "https") {
		return bad(what, fmt.Sprintf("%q is no address of a server", address), "name it as -served https://127.0.0.1:8040, or http:// where it serves without -tls")
	}
	dir, err := s.authorityDir()
	if err != nil {
		return bad(what, err.Error(), "name the shop's folder with -data")
	}
	trusted, err := authority.Trusted(dir)
	if err != nil {
		return bad(what, err.Error(), "restore "+dir+" from a backup")
	}
	transport := &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusted}}
	defer transport.CloseIdleConnections()
	ask, err := http.NewRequestWithContext(ctx, http.MethodGet, at.Scheme+"://"+at.Host+"/healthz", http.NoBody)
	if err != nil {
		return bad(what, err.Error(), "")
	}
	answer, err := (&http.Client{Transport: transport, Timeout: servedTime}).Do(ask)
	if err != nil {
		return bad(what, err.Error(), "see whether it runs, and on this address; its log says more")
	}
	defer answer.Body.Close()
	said, err := io.ReadAll(io.LimitReader(answer.Body, 1000))
	if err != nil || answer.StatusCode != http.StatusOK {
		return bad(what, answer.Status+": "+strings.TrimSpace(string(said)), "run grapnel doctor without -served for what is wrong")
	}
	return good(what, "the shop can be worked in")
}

// servedTime is how long a server may take to say whether it serves: longer than it lets its
// database take.
const servedTime = 5 * time.Second

// disks looks how much room there is for the data and its backups.
func (s *serving) disks(dir string) []finding {
	var out []finding
	for _, one := range []struct{ what, dir string }{{"disk", dir}, {"backup disk", s.backups}} {
		left, err := room.Left(one.dir)
		if err != nil {
			out = append(out, bad(one.what, err.Error(), "make "+one.dir+" reachable"))
			continue
		}
		found := fmt.Sprintf("%s free for %s", room.Text(left), one.dir)
		if left < room.Little {
			out = append(out, bad(one.what, found, fmt.Sprintf("make room: at least %s", room.Text(room.Little))))
			continue
		}
		out = append(out, good(one.what, found))
	}
	return out
}

// certificate looks when the server's own certificate ends.
func (s *serving) certificate() finding {
	const what = "certificate"
	dir, err := s.authorityDir()
	if err != nil {
		return bad(what, err.Error(), "name the shop's folder with -data")
	}
	pair, err := tls.LoadX509KeyPair(filepath.Join(dir, "server.pem"), filepath.Join(dir, "server.key"))
	if errors.Is(err, fs.ErrNotExist) {
		return good(what, "none of the workshop's own: -tls was not used here")
	}
	if err != nil {
		return bad(what, err.Error(), "restore "+dir+" from a backup")
	}
	left := time.Until(pair.Leaf.NotAfter)
	found := fmt.Sprintf("holds until %s", pair.Leaf.NotAfter.Format(time.DateOnly))
	if left < 30*24*time.Hour {
		return bad(what, found, "start grapnel serve -tls again: it makes a new one")
	}
	return good(what, found)
}

// program looks whether what makes the backups is there.
func program() finding {
	if path, err := exec.LookPath("mariadb-dump"); err == nil {
		return good("programs", path)
	}
	return bad("programs", "mariadb-dump is not installed: no backup can be made", "apt install mariadb-client")
}

// looked looks into the database: does it answer, what schema has it, does its clock agree,
// is there a good backup.
func (s *serving) looked(ctx context.Context, dir string) []finding {
	if _, err := os.Stat(dir); os.Getenv("GRAPNEL_DSN") == "" && errors.Is(err, fs.ErrNotExist) {
		return []finding{bad("database", "there is none in "+dir, "name the shop's folder with -data, or start it with grapnel serve")}
	}
	db, closeDB, err := s.database(ctx)
	if err == nil {
		err = db.PingContext(ctx)
	}
	if err != nil {
		return []finding{bad("database", err.Error(), "see "+filepath.Join(dir, "mariadbd.log")+", and whether the disk is full")}
	}
	defer func() { _ = closeDB() }() // it was only looked at
	out := []finding{answers(ctx, db), schemaOf(ctx, db), clockOf(ctx, db)}
	if s.kind == localdb.Shop {
		out = append(out, backupOf(ctx, db, s.backups))
	}
	return out
}

func answers(ctx context.Context, db *sql.DB) finding {
	var version string
	var most, now int
	err := db.QueryRowContext(ctx, "SELECT VERSION(), @@max_connections, (SELECT variable_value FROM information_schema.global_status WHERE variable_name = 'Threads_connected')").Scan(&version, &most, &now)
	if err != nil {
		return bad("database", err.Error(), "see whether it is up, and GRAPNEL_DSN right")
	}
	found := fmt.Sprintf("MariaDB %s answers, %d of %d connections", version, now, most)
	if now*10 > most*9 {
		return bad("database", found, "raise max_connections: each copy of Grapnel takes up to 16")
	}
	return good("database", found)
}

func schemaOf(ctx context.Context, db *sql.DB) finding {
	schema, err := backup.SchemaOf(ctx, db)
	if err != nil {
		return bad("schema", err.Error(), "start grapnel serve: it makes what is missing")
	}
	found := fmt.Sprintf("%d, this release knows up to %d", schema, store.Latest())
	switch {
	case schema > store.Latest():
		return bad("schema", found, "start the newer release that it was last used with")
	case schema < store.Latest():
		return bad("schema", found, "start grapnel serve, or run grapnel migrate: a backup is made first")
	}
	return good("schema", found)
}

// mostClockGap is how far the clocks of the machine and the database may differ.
const mostClockGap = 5 * time.Second

func clockOf(ctx context.Context, db *sql.DB) finding {
	var theirs time.Time
	began := time.Now()
	if err := db.QueryRowContext(ctx, "SELECT UTC_TIMESTAMP(6)").Scan(&theirs); err != nil {
		return bad("clock", err.Error(), "see whether the database answers")
	}
	ours := began.Add(time.Since(began) / 2)
	gap := ours.Sub(theirs).Abs()
	found := fmt.Sprintf("%s here, the database's differs by %d ms", ours.UTC().Format(time.RFC3339), gap.Milliseconds())
	if gap > mostClockGap || ours.Year() < 2026 {
		return bad("clock", found, "let both keep time by the network (timedatectl set-ntp true)")
	}
	return good("clock", found)
}

// backupOf looks whether there is a good backup that is not old, and whether the files are
// still there that are listed.
func backupOf(ctx context.Context, db *sql.DB, dir string) finding {
	const what = "backup"
	ask := "grapnel backup makes one now; a served shop makes one each day"
	now, err := backup.Look(ctx, store.New(db), dir, time.Now())
	if err != nil {
		return bad(what, "no list of backups: "+err.Error(), ask)
	}
	if len(now.Missing) > 0 {
		return bad(what, fmt.Sprintf("%d that are listed are not there, as %s", len(now.Missing), now.Missing[0].Path), "find out who took them away; "+ask)
	}
	if now.LastGood == nil {
		return bad(what, "there is none in "+dir, ask)
	}
	found := fmt.Sprintf("the last good one is %s old: %s", now.Age.Round(time.Minute), now.LastGood.Path)
	if now.Late {
		return bad(what, found, ask)
	}
	if now.Others > 0 {
		found += fmt.Sprintf("; %d more files there are of other databases or earlier releases, and are left alone", now.Others)
	}
	return good(what, found)
}
