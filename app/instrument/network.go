package instrument

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/netip"
	"strconv"
	"strings"
)

// Network is how instruments are reached. The zero Network is the machine's own; tests put
// one in its place that writes down what would be dialled.
type Network struct {
	// Lookup finds the addresses of a name.
	Lookup func(ctx context.Context, host string) ([]netip.Addr, error)
	// Connect opens a connection to one address.
	Connect func(ctx context.Context, to netip.AddrPort) (net.Conn, error)
}

// Simulator is the name that stands for the simulated instruments that ship with Grapnel, on
// this machine; nothing else of this machine is an instrument.
const Simulator = "simulator"

// SimulatedAt is how a simulated instrument is written down that listens somewhere: by its
// name where that is this machine alone, by its address where others reach it.
func SimulatedAt(at net.Addr) string {
	to, err := netip.ParseAddrPort(at.String())
	if err != nil || !to.Addr().Unmap().IsLoopback() {
		return at.String()
	}
	return net.JoinHostPort(Simulator, strconv.Itoa(int(to.Port())))
}

// ErrOutside: the address is not one of the workshop's own network.
var ErrOutside = errors.New("not an address of the workshop's own network")

// Dial opens the instrument at an address, host:port.
func (n Network) Dial(ctx context.Context, protocol Protocol, address string) (Reader, error) {
	conn, err := n.dial(ctx, address)
	if err != nil {
		return nil, err
	}
	switch protocol {
	case SCPI:
		return newSCPI(conn), nil
	case Lines:
		return newLines(conn), nil
	}
	return nil, errors.Join(fmt.Errorf("protocol %q: allowed %s, %s", protocol, SCPI, Lines), conn.Close())
}

// dial opens a connection in the workshop's own network: the name is looked up once, what it
// stands for is checked, and just that is dialled.
func (n Network) dial(ctx context.Context, address string) (net.Conn, error) {
	ctx, cancel := context.WithTimeout(ctx, dialTimeout)
	defer cancel()
	to, err := n.near(ctx, address)
	if err != nil {
		return nil, err
	}
	connect := n.Connect
	if connect == nil {
		connect = func(ctx context.Context, to netip.AddrPort) (net.Conn, error) {
			return new(net.Dialer).DialContext(ctx, "tcp", to.String())
		}
	}
	conn, err := connect(ctx, to)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	return conn, nil
}

// near is the one address that may be dialled for what was written down. Private networks
// may be, as the workshop's own; this machine, what only the next switch knows, and all that
// lies outside may not.
func (n Network) near(ctx context.Context, address string) (netip.AddrPort, error) {
	host, service, err := net.SplitHostPort(address)
	if err != nil {
		return netip.AddrPort{}, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	port, err := strconv.ParseUint(service, 10, 16)
	if err != nil || port == 0 {
		return netip.AddrPort{}, fmt.Errorf("%w: port %q", ErrSilent, service)
	}
	if strings.EqualFold(host, Simulator) {
		if !isShipped(ctx, uint16(port)) {
			return netip.AddrPort{}, fmt.Errorf("%w: no simulated instrument has port %d open", ErrSilent, port)
		}
		return netip.AddrPortFrom(netip.AddrFrom4([4]byte{127, 0, 0, 1}), uint16(port)), nil
	}
	list, err := n.addresses(ctx, host)
	if err != nil {
		return netip.AddrPort{}, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	for _, one := range list {
		if one = one.Unmap(); one.IsPrivate() && one.Zone() == "" {
			return netip.AddrPortFrom(one, uint16(port)), nil
		}
	}
	return netip.AddrPort{}, fmt.Errorf("%s: %w", host, ErrOutside)
}

func (n Network) addresses(ctx context.Context, host string) ([]netip.Addr, error) {
	if one, err := netip.ParseAddr(host); err == nil {
		return []netip.Addr{one}, nil
	}
	if n.Lookup != nil {
		return n.Lookup(ctx, host)
	}
	return net.DefaultResolver.LookupNetIP(ctx, "ip", host)
}

// Probe finds out by which protocol an address answers, and what it says it is: that is
// given only where it says it as an instrument does.
func (n Network) Probe(ctx context.Context, address string) (Protocol, string, error) {
	var failed error
	for _, protocol := range []Protocol{SCPI, Lines} {
		r, err := n.Dial(ctx, protocol, address)
		if err != nil {
			return "", "", err
		}
		name, err := r.Identify(ctx)
		if err == nil {
			_, err = r.Read(ctx)
		}
		if err := errors.Join(err, r.Close()); err == nil {
			return protocol, name, nil
		}
		failed = errors.Join(failed, err)
	}
	if err := n.probeLog(ctx, address); err == nil {
		return Log, "", nil
	}
	return "", "", failed
}
