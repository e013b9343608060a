package web

import (
	"net"
	"net/netip"
	"slices"
	"sync"
)

// How many connections may be open at once, from one address and in all: a browser has seven at
// the most. Common practice, no source.
const (
	MostOfAddress   = 1000
	MostConnections = 4000
)

// Few is a listener that takes no more connections than it is told, from one address and in all:
// who opens more finds them closed at once.
type Few struct {
	net.Listener
	// OfAddress and All are the bounds; the addresses of Proxies may have as many as all.
	OfAddress, All int
	Proxies        []netip.Prefix

	mu   sync.Mutex
	open map[netip.Addr]int
	all  int
}

// Accept waits for the next connection that is within the bounds.
func (f *Few) Accept() (net.Conn, error) {
	for {
		c, err := f.Listener.Accept()
		if err != nil {
			return nil, err
		}
		from := addressOf(c)
		if f.take(from) {
			return &counted{Conn: c, gone: sync.OnceFunc(func() { f.giveBack(from) })}, nil
		}
		_ = c.Close() // nobody is owed a word
	}
}

// addressOf is where a connection comes from; of IPv6 the network, since whoever has one address
// there has them all.
func addressOf(c net.Conn) netip.Addr {
	at, err := netip.ParseAddrPort(c.RemoteAddr().String())
	if err != nil {
		return netip.Addr{}
	}
	from := at.Addr().Unmap().WithZone("")
	if from.Is6() {
		from = netip.PrefixFrom(from, 64).Masked().Addr()
	}
	return from
}

func (f *Few) take(from netip.Addr) bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	proxy := slices.ContainsFunc(f.Proxies, func(p netip.Prefix) bool { return p.Contains(from) })
	if f.all >= f.All || f.open[from] >= f.OfAddress && !proxy {
		return false
	}
	if f.open == nil {
		f.open = map[netip.Addr]int{}
	}
	f.open[from]++
	f.all++
	return true
}

func (f *Few) giveBack(from netip.Addr) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.all--
	if f.open[from]--; f.open[from] == 0 {
		delete(f.open, from)
	}
}

// counted is a connection that is counted until it is closed.
type counted struct {
	net.Conn
	gone func()
}

// Close closes it.
func (c *counted) Close() error {
	c.gone()
	return c.Conn.Close()
}
