package instrument

import (
	"net"
	"time"
)

// Converse speaks SCPI over a line that is there, for tests.
func Converse(conn net.Conn) Reader { return newSCPI(conn) }

// ParseCharge reads a line of a logger, for tests.
var ParseCharge = parseCharge

// SetLife has a watcher lose interest sooner, for tests.
func (w *Watcher) SetLife(d time.Duration) { w.life = d }
