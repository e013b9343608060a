package instrument_test

import (
	"context"
	"errors"
	"net"
	"net/netip"
	"slices"
	"strings"
	"testing"

	"grapnel/app/instrument"
)

// written is a network that dials nothing: it writes down what would be.
type written struct{ dialled []string }

func (w *written) network(names map[string][]string) instrument.Network {
	return instrument.Network{
		Lookup: func(_ context.Context, host string) (list []netip.Addr, err error) {
			for _, one := range names[host] {
				list = append(list, netip.MustParseAddr(one))
			}
			if list == nil {
				err = errors.New("no such name")
			}
			return list, err
		},
		Connect: func(_ context.Context, to netip.AddrPort) (net.Conn, error) {
			w.dialled = append(w.dialled, to.String())
			return nil, errors.New("nobody dials here")
		},
	}
}

// TestWhatIsDialled checks which addresses are dialled for what is written down: those of
// private networks, and of this machine what the shipped simulator opened, by its name; a name is dialled at the
// very address that was found fit, and one that stands for something else is not dialled.
// Ranges: RFC 1918, RFC 4193, RFC 3927, RFC 6598, the IANA special-purpose registries.
func TestWhatIsDialled(t *testing.T) {
	shipped, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer shipped.Close()
	simulated, own := instrument.SimulatedAt(shipped.Addr()), shipped.Addr().String()
	plain, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer plain.Close()
	names := map[string][]string{
		"meter.lan": {"192.168.1.40"}, "both.lan": {"203.0.113.9", "10.0.0.4"}, "trick.lan": {"127.0.0.1"}, "out.lan": {"203.0.113.9"},
		"mapped.lan": {"::ffff:169.254.169.254"}, "inner.lan": {"::ffff:10.1.2.3"},
	}
	for address, want := range map[string]string{
		"192.168.1.40:5025": "192.168.1.40:5025", "10.255.255.254:1": "10.255.255.254:1", "172.31.0.9:80": "172.31.0.9:80", "[fd12::7]:5025": "[fd12::7]:5025",
		"meter.lan:5025": "192.168.1.40:5025", "both.lan:5025": "10.0.0.4:5025", "inner.lan:5": "10.1.2.3:5",
		simulated: own, strings.ToUpper(simulated): own, instrument.SimulatedAt(plain.Addr()): "", "simulator:3306": "",
		"127.0.0.1:3306": "", "localhost:3306": "", "[::1]:80": "", "127.9.9.9:80": "", "0.0.0.0:80": "", "[::]:80": "", "trick.lan:3306": "",
		"169.254.169.254:80": "", "[fe80::1]:80": "", "[fe80::1%eth0]:80": "", "mapped.lan:80": "", "[::ffff:127.0.0.1]:80": "", "224.0.0.1:80": "",
		"8.8.8.8:53": "", "203.0.113.9:80": "", "out.lan:80": "", "100.64.0.1:80": "", "172.32.0.1:80": "", "[2001:db8::1]:80": "",
		"nowhere": "", "nowhere:80": "", "192.168.1.40": "", "192.168.1.40:": "", ":5025": "", "192.168.1.40:99999": "", "0x7f.1:80": "",
	} {
		var w written
		n := w.network(names)
		_, dialErr := n.Dial(t.Context(), instrument.SCPI, address)
		_, _, probeErr := n.Probe(t.Context(), address)
		logErr := n.ReadLog(t.Context(), address, nil)
		if dialErr == nil || probeErr == nil || logErr == nil {
			t.Errorf("%s: nobody is there, and no error", address)
		}
		if want == "" && len(w.dialled) > 0 || want != "" && !slices.Equal(w.dialled, []string{want, want, want}) {
			t.Errorf("%s: dialled %v, want %q", address, w.dialled, want)
		}
		if literal, _, err := net.SplitHostPort(address); err == nil && want == "" && net.ParseIP(literal) != nil && !strings.HasSuffix(address, ":") && !strings.Contains(address, "99999") {
			if !errors.Is(dialErr, instrument.ErrOutside) {
				t.Errorf("%s: %v", address, dialErr)
			}
		}
	}
}

// TestNameIsLookedUpOnce checks that a name that stands for something else the next moment is
// dialled at what was found fit.
func TestNameIsLookedUpOnce(t *testing.T) {
	var w written
	n := w.network(nil)
	asked := 0
	n.Lookup = func(context.Context, string) ([]netip.Addr, error) {
		asked++
		return []netip.Addr{netip.MustParseAddr(map[bool]string{true: "192.168.1.40", false: "127.0.0.1"}[asked == 1])}, nil
	}
	if _, err := n.Dial(t.Context(), instrument.SCPI, "turns.lan:5025"); err == nil || asked != 1 || !slices.Equal(w.dialled, []string{"192.168.1.40:5025"}) {
		t.Errorf("asked %d times, dialled %v: %v", asked, w.dialled, err)
	}
}
