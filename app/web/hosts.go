package web

import (
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
)

// hosted answers only to the names that are ours: a page from outside that has its own name
// point at our address would otherwise be taken for one of ours by a browser. An address in
// figures cannot be made to point elsewhere.
func (s *Server) hosted(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if s.config.Hosts != nil && !s.called(r.Host) {
			p := newProblem(http.StatusMisdirectedRequest, "Grapnel does not go by the name "+plainHost(r.Host)+". Start it with -host and that name.")
			p.RequestID = requestID(r.Context())
			p.write(w)
			return
		}
		next.ServeHTTP(w, r)
	})
}

func (s *Server) called(host string) bool {
	name := plainHost(host)
	if _, err := netip.ParseAddr(strings.Trim(name, "[]")); err == nil || name == "localhost" {
		return true
	}
	return slices.ContainsFunc(s.config.Hosts, func(one string) bool { return strings.EqualFold(one, name) })
}

// plainHost is a host without its port and the dot at its end.
func plainHost(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.TrimSuffix(host, "."))
}
