package web

import (
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
)

// Proxies reads the addresses and ranges of the proxies in front of us: "10.0.0.2",
// "10.0.0.0/24, fd00::/64". An error names what is neither.
func Proxies(text string) ([]netip.Prefix, error) {
	var list []netip.Prefix
	for _, one := range strings.FieldsFunc(text, func(c rune) bool { return c == ',' || c == ' ' }) {
		if address, err := netip.ParseAddr(one); err == nil {
			address = address.Unmap()
			list = append(list, netip.PrefixFrom(address, address.BitLen()))
			continue
		}
		prefix, err := netip.ParsePrefix(one)
		if err != nil {
			return nil, fmt.Errorf("%q is no address and no range such as 10.0.0.0/24", one)
		}
		list = append(list, prefix.Masked())
	}
	return list, nil
}

// peer is who called: whoever opened the connection or, where that is a proxy of ours, who
// it says called it. Of what it says the last that is no proxy of ours counts: what stands
// before it anyone may write.
func (s *Server) peer(r *http.Request) netip.Addr {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		host = r.RemoteAddr
	}
	address, err := netip.ParseAddr(host)
	if err != nil {
		return netip.Addr{}
	}
	address = address.Unmap().WithZone("")
	hops := forwarded(r.Header)
	for len(hops) > 0 && s.ours(address) {
		next, err := netip.ParseAddr(hops[len(hops)-1])
		if err != nil {
			break
		}
		address, hops = next.Unmap().WithZone(""), hops[:len(hops)-1]
	}
	return address
}

func (s *Server) ours(address netip.Addr) bool {
	return slices.ContainsFunc(s.config.Proxies, func(p netip.Prefix) bool { return p.Contains(address) })
}

// forwarded are the callers that proxies wrote down, the first caller first: by the standard
// header (RFC 7239), or by the older one. Where both are there one of them may have been
// passed on from outside, and neither is believed.
func forwarded(h http.Header) []string {
	standard, older := h.Values("Forwarded"), h.Values("X-Forwarded-For")
	if len(standard) > 0 && len(older) > 0 {
		return nil
	}
	var out []string
	for _, hop := range strings.Split(strings.Join(older, ","), ",") {
		if hop = strings.TrimSpace(hop); hop != "" {
			out = append(out, hop)
		}
	}
	for _, hop := range strings.Split(strings.Join(standard, ","), ",") {
		for _, pair := range strings.Split(hop, ";") {
			name, value, _ := strings.Cut(strings.TrimSpace(pair), "=")
			if strings.EqualFold(name, "for") {
				out = append(out, node(strings.Trim(value, `"`)))
			}
		}
	}
	return out
}

// node is the address of a node as RFC 7239 writes it: with or without a port, an IPv6
// address in brackets.
func node(text string) string {
	if host, _, err := net.SplitHostPort(text); err == nil {
		return host
	}
	return strings.Trim(text, "[]")
}

// subnet is what a caller's tries are counted for: an address, and of IPv6 the network it is
// in, since whoever has one there has them all.
func subnet(address netip.Addr) string {
	if address.Is6() {
		return netip.PrefixFrom(address, 64).Masked().String()
	}
	return address.String()
}
