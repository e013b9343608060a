package instrument

import (
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"
	"time"
)

// shippedName is the name under which the simulated instrument at a port is known on this machine:
// a local socket of Linux that is no file, and ends with whoever opened it.
func shippedName(port int) string { return "@grapnel-simulator-" + strconv.Itoa(port) }

// shipped is a listener of a simulated instrument: as long as it is open, its port is known to be one.
type shipped struct {
	net.Listener
	mark net.Listener
}

// ListenSimulated opens a port for a simulated instrument, host:port. No other port of this machine
// is dialled under the name Simulator.
func ListenSimulated(at string) (net.Listener, error) {
	listener, err := net.Listen("tcp", at)
	if err != nil {
		return nil, err
	}
	to, ok := listener.Addr().(*net.TCPAddr)
	if !ok {
		return nil, errors.Join(fmt.Errorf("%s: no port", listener.Addr()), listener.Close())
	}
	mark, err := net.Listen("unix", shippedName(to.Port))
	if err != nil {
		return nil, errors.Join(fmt.Errorf("port %d is another simulator's: %w", to.Port, err), listener.Close())
	}
	go hangUp(mark)
	return &shipped{listener, mark}, nil
}

// hangUp ends every connection to a mark: that it is there says enough.
func hangUp(mark net.Listener) {
	for {
		conn, err := mark.Accept()
		if errors.Is(err, net.ErrClosed) {
			return
		}
		if err == nil {
			_ = conn.Close()
		}
	}
}

// Close closes the port, and the name of it.
func (s *shipped) Close() error { return errors.Join(s.Listener.Close(), s.mark.Close()) }

// markTimeout bounds how long it is asked whether a port is a simulated instrument's.
const markTimeout = time.Second

// isShipped reports that a port of this machine is a simulated instrument's.
func isShipped(ctx context.Context, port uint16) bool {
	ctx, cancel := context.WithTimeout(ctx, markTimeout)
	defer cancel()
	conn, err := new(net.Dialer).DialContext(ctx, "unix", shippedName(int(port)))
	if err != nil {
		return false
	}
	_ = conn.Close()
	return true
}
