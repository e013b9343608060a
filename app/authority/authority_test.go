package authority_test

import (
	"crypto/tls"
	"crypto/x509"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"grapnel/app/authority"
)

var now = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

// trusts checks a server's certificate as a phone does that has taken the authority.
func trusts(a *authority.Authority, pair tls.Certificate, host string, at time.Time) error {
	roots := x509.NewCertPool()
	roots.AppendCertsFromPEM(a.PEM())
	_, err := pair.Leaf.Verify(x509.VerifyOptions{DNSName: host, Roots: roots, CurrentTime: at})
	return err
}

// TestCertificate makes an authority, has a phone trust a server by it, and checks
// that it is the same after a restart.
func TestCertificate(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "tls")
	a, err := authority.Open(dir, now)
	if err != nil {
		t.Fatal(err)
	}
	hosts := []string{"192.168.1.20", "workshop.local", "localhost"}
	pair, err := a.Certificate(hosts, now)
	if err != nil {
		t.Fatal(err)
	}
	for _, host := range hosts {
		if err := trusts(a, pair, host, now); err != nil {
			t.Errorf("%s: %v", host, err)
		}
	}
	if days := pair.Leaf.NotAfter.Sub(pair.Leaf.NotBefore).Hours() / 24; days > 398 {
		t.Errorf("it holds %g days; phones refuse over 398", days)
	}
	again, err := authority.Open(dir, now.AddDate(0, 1, 0))
	if err != nil || !slices.Equal(again.PEM(), a.PEM()) {
		t.Fatalf("another authority after a restart: %v", err)
	}
	if kept, err := again.Certificate(hosts, now.AddDate(0, 1, 0)); err != nil || kept.Leaf.SerialNumber.Cmp(pair.Leaf.SerialNumber) != 0 {
		t.Errorf("a certificate that holds was made anew: %v", err)
	}
	for name, at := range map[string]time.Time{"about to end": now.AddDate(1, 0, 0), "with another address": now} {
		wanted := hosts
		if at.Equal(now) {
			wanted = append(slices.Clone(hosts), "10.0.0.7")
		}
		next, err := again.Certificate(wanted, at)
		if err != nil || next.Leaf.SerialNumber.Cmp(pair.Leaf.SerialNumber) == 0 || trusts(a, next, wanted[len(wanted)-1], at) != nil {
			t.Errorf("%s it was kept: %v", name, err)
		}
	}
}

// TestOnlyLocal checks that the authority can vouch for nothing outside, and that
// its key is nobody else's to read.
func TestOnlyLocal(t *testing.T) {
	dir := t.TempDir()
	a, err := authority.Open(dir, now)
	if err != nil {
		t.Fatal(err)
	}
	for _, host := range []string{"8.8.8.8", "bank.example"} {
		pair, err := a.Certificate([]string{host}, now)
		if err != nil {
			t.Fatal(err)
		}
		if trusts(a, pair, host, now) == nil {
			t.Errorf("it is trusted for %s", host)
		}
	}
	info, err := os.Stat(filepath.Join(dir, "authority.key"))
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the key is %v, %v", info.Mode(), err)
	}
	if err := os.WriteFile(filepath.Join(dir, "authority.pem"), []byte("not a certificate"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := authority.Open(dir, now); err == nil {
		t.Error("a broken authority was taken or replaced")
	}
	if hosts := authority.Hosts(); !slices.Contains(hosts, "localhost") {
		t.Errorf("hosts %v", hosts)
	}
}
