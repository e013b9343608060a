package localdb

import (
	"context"
	"fmt"
	"syscall"
	"time"

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

// Lost tells, once, that the server has gone and could not be started again.
func (s *Server) Lost() <-chan error { return s.lost }

// watch starts the server again whenever it goes without being told to, on the same
// port, so that the connections of the application find it where it was.
func (s *Server) watch(as *syscall.Credential, o Options) {
	for {
		select {
		case <-s.stopping:
			return
		case <-s.process().exited:
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
