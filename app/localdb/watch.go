package localdb

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/room"
)

// How long the first try to start a lost server again waits, how long a later one at the
// most, and how many in a row may fail before we give up.
const (
	firstPause = 100 * time.Millisecond
	mostPause  = 10 * time.Second
	mostTries  = 6
	// roomPause is how often it is looked whether a disk that is full has room again.
	roomPause = time.Second
)

// How long a server may say nothing before it is taken to hang, and how often in that time it is
// asked.
const (
	usualHang  = 30 * time.Second
	asksToHang = 3
)

// Lost tells, once, that the server has gone and could not be started again.
func (s *Server) Lost() <-chan error { return s.lost }

// watch starts the server again whenever it goes without being told to, on the same
// port, so that the connections of the application find it where it was. One that hangs is
// ended first: what it committed is safe.
func (s *Server) watch(as *syscall.Credential, o Options) {
	for {
		if !s.runs(o) {
			return
		}
		if err := s.startAgain(as, o); err != nil {
			s.lost <- err
			return
		}
		select {
		case <-s.stopping:
			return
		default:
		}
	}
}

// runs waits until the server has gone by itself, or was ended because it hangs; false where it
// is to be stopped.
func (s *Server) runs(o Options) bool {
	p, silent := s.process(), 0
	ask := time.NewTicker(o.hang() / asksToHang)
	defer ask.Stop()
	for {
		select {
		case <-s.stopping:
			return false
		case <-p.exited:
			return true
		case <-ask.C:
		}
		if s.answers(o.hang() / asksToHang) {
			silent = 0
			continue
		}
		if silent++; silent == asksToHang && !p.gone() {
			o.Say("The database does not answer; ending it, to start it again")
			// It may have gone in this moment.
			_ = syscall.Kill(p.cmd.Process.Pid, syscall.SIGKILL)
		}
	}
}

func (o Options) hang() time.Duration { return cmp.Or(o.Hang, usualHang) }

// answers reports that the server says something: that it lets nobody else in is an answer too.
func (s *Server) answers(patience time.Duration) bool {
	ctx, cancel := context.WithTimeout(context.Background(), patience)
	defer cancel()
	db, err := open(s.config(account, s.creds.App, ""))
	if err != nil {
		return true // our own fault, not the server's
	}
	defer db.Close()
	var said *mysql.MySQLError
	err = db.PingContext(ctx)
	return err == nil || errors.As(err, &said)
}

// startAgain tries with growing pauses; nil where it runs or is to be stopped. While its disk
// is full there is nothing to try.
func (s *Server) startAgain(as *syscall.Credential, o Options) (err error) {
	pause := firstPause
	for range mostTries {
		select {
		case <-s.stopping:
			return nil
		case <-time.After(pause):
		}
		if !s.waitForRoom(o) {
			return nil
		}
		o.Say("The database has gone; starting it again")
		if err = s.run(context.Background(), as, o.Throwaway, false); err == nil {
			return nil
		}
		pause = min(2*pause, mostPause)
	}
	return fmt.Errorf("the database has gone and does not start again: %w", err)
}

// waitForRoom waits until the disk has room for a server; false where it is to be stopped.
func (s *Server) waitForRoom(o Options) bool {
	for said := false; ; said = true {
		left, full := o.full(s.dir)
		if !full {
			return true
		}
		if !said {
			o.Say(fmt.Sprintf("The disk is full: %s are left at %s, and the database needs %s. Waiting for room.", room.Text(left), s.dir, room.Text(room.Least)))
		}
		select {
		case <-s.stopping:
			return false
		case <-time.After(roomPause):
		}
	}
}
