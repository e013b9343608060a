package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/backup"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/room"
	"grapnel/app/shop"
	"grapnel/core/problem"
)

// ServerState is what the owner sees of the server.
type ServerState struct {
	Release string `json:"release"`
	// Plain tells that others reach it over plain HTTP.
	Plain bool `json:"plain"`
	// Fingerprint is that of the workshop's own authority, CertificateUntil when the server's
	// certificate ends; empty and null where it has none of its own.
	Fingerprint      string     `json:"fingerprint"`
	CertificateUntil *time.Time `json:"certificate_until"`
	// Backups is null where none are kept.
	Backups *BackupState `json:"backups"`
	// Warnings are what the owner has to see to.
	Warnings []Warning `json:"warnings"`
}

// BackupState is how it stands with the backups.
type BackupState struct {
	Dir string `json:"dir"`
	// Since is when the one under way began; null for none.
	Since *time.Time `json:"since"`
	// LastGood is the latest that is good; null for none.
	LastGood *backup.Run `json:"last_good"`
	Late     bool        `json:"late"`
	// Others is how many files in the folder are of other databases, or of releases whose names
	// did not say of which; they are left alone.
	Others int          `json:"others"`
	Runs   []backup.Run `json:"runs"`

	age     time.Duration
	missing []backup.Run
}

// Warning is one thing that the owner has to see to.
type Warning struct {
	Code string `json:"code"`
	Text string `json:"text"`
}

// shownRuns is how many backups the owner sees.
const shownRuns = 12

func (s *Server) serverAPI(api huma.API) {
	get(s, api, "/server", "serverState", "How it stands with the server and its backups; the owner only",
		func(ctx context.Context, _ *none) (ServerState, error) { return s.state(ctx) })
	post(s, api, "/server/backups", "backUpNow", "Have a backup made now; the owner only",
		func(ctx context.Context, _ *none) (ServerState, error) {
			if s.config.Backups == nil {
				return ServerState{}, problem.List{problem.New("problem.refused", "backup", "This server", "Start it with -backups and a folder.")}
			}
			s.config.Backups.Ask()
			return s.state(ctx)
		})
	remove(s, api, "/server/backups/{backup}", "dropBackup", "Take away a backup that was asked for; the owner only",
		func(ctx context.Context, in *backupPath) (ServerState, error) {
			if err := s.dropBackup(ctx, in.Backup); err != nil {
				return ServerState{}, err
			}
			return s.state(ctx)
		})
}

type backupPath struct {
	Backup record.ID `path:"backup"`
}

// dropBackup takes away a backup that somebody asked for: the others go by themselves when later
// ones stand for them. Once it is gone, taking it away again changes nothing.
func (s *Server) dropBackup(ctx context.Context, id record.ID) error {
	keeper := s.config.Backups
	if keeper == nil {
		return shop.ErrNotFound
	}
	now, err := keeper.Look(ctx)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(now.Runs, func(r backup.Run) bool { return r.ID == id })
	if at < 0 {
		return shop.ErrNotFound
	}
	r := now.Runs[at]
	switch {
	case r.RemovedAt != nil:
		return nil
	case r.Why != backup.Asked || r.Trouble != "":
		return problem.List{problem.New("problem.refused", "backup", r.Path, "Only one that was asked for is taken away here; the others go when later ones stand for them.")}
	}
	if err := keeper.Remove(ctx, r); errors.Is(err, backup.ErrElsewhere) {
		return problem.List{problem.New("problem.refused", "backup", r.Path, "It lies on "+r.Host+": take it away there.")}
	} else if err != nil {
		return err
	}
	return nil
}

// state is how it stands with the server.
func (s *Server) state(ctx context.Context) (ServerState, error) {
	out := ServerState{Release: s.config.Release, Plain: s.config.Plain, Fingerprint: s.config.Fingerprint}
	if until := s.config.CertificateUntil; !until.IsZero() {
		out.CertificateUntil = &until
	}
	var err error
	if out.Backups, err = s.backups(ctx); err != nil {
		return ServerState{}, err
	}
	out.Warnings = s.warnings(out)
	return out, nil
}

func (s *Server) backups(ctx context.Context) (*BackupState, error) {
	keeper := s.config.Backups
	if keeper == nil {
		return nil, nil
	}
	now, err := keeper.Look(ctx)
	if err != nil {
		return nil, err
	}
	out := &BackupState{
		Dir: keeper.Dir(), Runs: append([]backup.Run{}, now.Runs[:min(len(now.Runs), shownRuns)]...),
		LastGood: now.LastGood, Late: now.Late, Others: now.Others, age: now.Age, missing: now.Missing,
	}
	if since := keeper.Since(); !since.IsZero() {
		out.Since = &since
	}
	return out, nil
}

// certificateSoon is how long before its end a certificate is warned of: it is made anew at
// a start, so that only a server that has run for a year comes near it.
const certificateSoon = 30 * 24 * time.Hour

// warnings are what the owner has to see to, the gravest first.
func (s *Server) warnings(state ServerState) []Warning {
	out := []Warning{}
	add := func(code, text string) { out = append(out, Warning{code, text}) }
	if b := state.Backups; b != nil {
		s.backupWarnings(b, add)
	}
	if state.Plain {
		add("plain_http", "Others on the network reach Grapnel over plain HTTP: what they send can be read on the way, passwords too. Start it with -tls.")
	}
	if until := state.CertificateUntil; until != nil && until.Sub(s.config.Now()) < certificateSoon {
		add("certificate", "The server's certificate ends on "+until.Format(time.DateOnly)+". Starting Grapnel again makes it anew.")
	}
	switch left, ok := s.left(); {
	case ok && left < room.Least:
		add("disk_full", fmt.Sprintf("The server's disk is full: %s are left, and nothing is written down any more until there are %s. Make room.", room.Text(left), room.Text(room.Least)))
	case ok && left < room.Little:
		add("disk", fmt.Sprintf("The server's disk is nearly full: %s are left. Below %s nothing is written down any more. Make room.", room.Text(left), room.Text(room.Least)))
	}
	return out
}

// backupWarnings are those of the backups. One that is under way silences none of them but that
// there is none yet: it may hang.
func (s *Server) backupWarnings(b *BackupState, add func(code, text string)) {
	if n := len(b.missing); n > 0 {
		add("backup_missing", fmt.Sprintf("%d of the backups are not where they were put, as %s. Find out who took them away, and have one made now.", n, b.missing[0].Path))
	}
	if b.Since != nil {
		if so := s.config.Now().Sub(*b.Since); so > backup.LongAfter {
			add("backup_long", fmt.Sprintf("A backup has been under way for %s. See whether the database and the disk of the backups answer. %s", said(so), lastGood(b)))
		}
	}
	failed := len(b.Runs) > 0 && b.Runs[0].Trouble != ""
	switch {
	case b.Late && failed:
		add("backup_failed", "The last backup failed. "+lastGood(b))
	case b.Late && (b.LastGood != nil || len(b.Runs) > 0):
		add("backup_late", "The backup is late. "+lastGood(b))
	}
}

// left is how much room there is where the database is; false where nobody knows.
func (s *Server) left() (int64, bool) {
	if s.config.Room == nil {
		return 0, false
	}
	left, err := s.config.Room()
	if err != nil {
		s.log.Warn("room", slog.Any("error", err))
	}
	return left, err == nil
}

// room refuses changes before the disk is so full that the database breaks off in the middle
// of one.
func (s *Server) room() error {
	if left, ok := s.left(); ok && left < room.Least {
		return newProblem(http.StatusServiceUnavailable, fmt.Sprintf(
			"The server's disk is full: %s are left. Until somebody makes room on it nothing is written down; what is there can be looked at.", room.Text(left)))
	}
	return nil
}

func lastGood(b *BackupState) string {
	if b.LastGood == nil {
		return "There is none that is good."
	}
	return fmt.Sprintf("The last good one is %d h old.", int(b.age.Hours()))
}

// warnedOf are the warnings that whoever is signed in sees.
func (s *Server) warnedOf(ctx context.Context, p people.Person) ([]Warning, error) {
	if !p.Role.May("serverState") {
		return []Warning{}, nil
	}
	state, err := s.state(ctx)
	return state.Warnings, err
}
