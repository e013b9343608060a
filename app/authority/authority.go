// Package authority is the workshop's own certificate authority: made once on the
// server, trusted once by each of the shop's phones, it lets Grapnel speak TLS on a
// local network where no public authority can vouch for an address. It vouches for
// nothing but local names and private addresses, so that whoever stole its key could
// not stand in for anything outside.
package authority

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"grapnel/app/whole"
)

// How long certificates hold. Phones refuse one for a server that holds longer than
// 398 days.
const (
	ownLife    = 10 * 365 * 24 * time.Hour
	serverLife = 397 * 24 * time.Hour
	// renewBefore is how long before its end a certificate is made anew.
	renewBefore = 60 * 24 * time.Hour
	// backdate allows for a phone whose clock is behind.
	backdate = 24 * time.Hour
)

// The files of an authority in its folder.
const (
	ownCertificate    = "authority.pem"
	ownKey            = "authority.key"
	serverCertificate = "server.pem"
	serverKey         = "server.key"
)

// Authority is the workshop's own authority.
type Authority struct {
	dir  string
	cert *x509.Certificate
	key  *ecdsa.PrivateKey
	pem  []byte
}

// Open takes the authority that is kept in a folder, or makes one there.
func Open(dir string, now time.Time) (*Authority, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("certificate authority: %w", err)
	}
	a := &Authority{dir: dir}
	pair, err := tls.LoadX509KeyPair(a.path(ownCertificate), a.path(ownKey))
	if errors.Is(err, fs.ErrNotExist) {
		return a, a.make(now)
	}
	if err != nil {
		return nil, fmt.Errorf("certificate authority: %w", err)
	}
	key, ok := pair.PrivateKey.(*ecdsa.PrivateKey)
	if !ok {
		return nil, fmt.Errorf("certificate authority: %s holds no key of ours", a.path(ownKey))
	}
	a.cert, a.key = pair.Leaf, key
	a.pem = pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: pair.Leaf.Raw})
	return a, nil
}

// Trusted is what somebody trusts who trusts the authority that is kept in a folder: nobody,
// where there is none. It makes none.
func Trusted(dir string) (*x509.CertPool, error) {
	pool := x509.NewCertPool()
	text, err := os.ReadFile(filepath.Join(dir, ownCertificate))
	if errors.Is(err, fs.ErrNotExist) {
		return pool, nil
	}
	if err == nil && !pool.AppendCertsFromPEM(text) {
		err = fmt.Errorf("%s holds no certificate", ownCertificate)
	}
	if err != nil {
		return nil, fmt.Errorf("certificate authority: %w", err)
	}
	return pool, nil
}

func (a *Authority) path(name string) string { return filepath.Join(a.dir, name) }

// PEM is the authority's certificate, as a phone takes it.
func (a *Authority) PEM() []byte { return slices.Clone(a.pem) }

// Fingerprint is the certificate's SHA-256 in groups, as a phone shows it: what a phone is
// about to trust is compared with what the terminal printed.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.cert.Raw)
	groups := make([]string, len(sum)/2)
	for i := range groups {
		groups[i] = fmt.Sprintf("%02X%02X", sum[2*i], sum[2*i+1])
	}
	return strings.Join(groups, " ")
}

// DER is the same in the form some phones want.
func (a *Authority) DER() []byte { return slices.Clone(a.cert.Raw) }

// make creates the authority.
func (a *Authority) make(now time.Time) error {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	template, err := template("Grapnel, this workshop's own authority", now, ownLife)
	if err != nil {
		return err
	}
	template.IsCA, template.BasicConstraintsValid, template.MaxPathLenZero = true, true, true
	template.KeyUsage = x509.KeyUsageCertSign | x509.KeyUsageCRLSign
	template.PermittedDNSDomainsCritical = true
	template.PermittedDNSDomains = []string{"localhost", "local", "lan", "home.arpa", "internal"}
	template.PermittedIPRanges = privateRanges()
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	if err != nil {
		return err
	}
	if a.cert, err = x509.ParseCertificate(der); err != nil {
		return err
	}
	a.key = key
	a.pem, err = a.keep(ownCertificate, ownKey, der, key)
	return err
}

// privateRanges are the addresses a workshop's own network may have.
func privateRanges() []*net.IPNet {
	var list []*net.IPNet
	for _, text := range []string{"127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "::1/128",
		"fc00::/7", "fe80::/10"} {
		_, one, err := net.ParseCIDR(text)
		if err != nil {
			panic(err) // a constant that does not parse
		}
		list = append(list, one)
	}
	return list
}

func template(name string, now time.Time, life time.Duration) (*x509.Certificate, error) {
	serial, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		return nil, err
	}
	return &x509.Certificate{
		SerialNumber: serial, Subject: pkix.Name{CommonName: name, Organization: []string{"Grapnel"}},
		NotBefore: now.Add(-backdate), NotAfter: now.Add(life),
	}, nil
}

// keep writes a certificate and its key, the key for nobody else to read.
func (a *Authority) keep(certName, keyName string, der []byte, key *ecdsa.PrivateKey) ([]byte, error) {
	secret, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return nil, err
	}
	cert := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
	secretPEM := pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: secret})
	if err := whole.Write(a.path(keyName), secretPEM, 0o600); err != nil {
		return nil, fmt.Errorf("certificate authority: %w", err)
	}
	if err := whole.Write(a.path(certName), cert, 0o644); err != nil {
		return nil, fmt.Errorf("certificate authority: %w", err)
	}
	return cert, nil
}

// Certificate is a server's certificate for some hosts: the one that is kept, or a
// new one where it is about to end or the hosts have changed.
func (a *Authority) Certificate(hosts []string, now time.Time) (tls.Certificate, error) {
	pair, err := tls.LoadX509KeyPair(a.path(serverCertificate), a.path(serverKey))
	if err == nil && a.holds(pair.Leaf, hosts, now) {
		return pair, nil
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return tls.Certificate{}, err
	}
	leaf, err := template("Grapnel", now, serverLife)
	if err != nil {
		return tls.Certificate{}, err
	}
	leaf.KeyUsage, leaf.ExtKeyUsage = x509.KeyUsageDigitalSignature, []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}
	for _, host := range hosts {
		if ip := net.ParseIP(host); ip != nil {
			leaf.IPAddresses = append(leaf.IPAddresses, ip)
		} else {
			leaf.DNSNames = append(leaf.DNSNames, host)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, leaf, a.cert, &key.PublicKey, a.key)
	if err != nil {
		return tls.Certificate{}, fmt.Errorf("server certificate: %w", err)
	}
	if _, err := a.keep(serverCertificate, serverKey, der, key); err != nil {
		return tls.Certificate{}, err
	}
	return tls.LoadX509KeyPair(a.path(serverCertificate), a.path(serverKey))
}

// holds reports whether a certificate is ours, will last, and is for these hosts.
func (a *Authority) holds(leaf *x509.Certificate, hosts []string, now time.Time) bool {
	if leaf.CheckSignatureFrom(a.cert) != nil || now.Add(renewBefore).After(leaf.NotAfter) || now.Before(leaf.NotBefore) {
		return false
	}
	return !slices.ContainsFunc(hosts, func(host string) bool { return leaf.VerifyHostname(host) != nil })
}

// Hosts are the names and addresses this machine can be reached by on its own
// networks, the likeliest for a phone first.
func Hosts() []string {
	var hosts []string
	if addresses, err := net.InterfaceAddrs(); err == nil {
		for _, one := range addresses {
			prefix, err := netip.ParsePrefix(one.String())
			if err == nil && prefix.Addr().Is4() && prefix.Addr().IsPrivate() {
				hosts = append(hosts, prefix.Addr().String())
			}
		}
	}
	if name, err := os.Hostname(); err == nil && name != "" {
		short, _, _ := strings.Cut(strings.ToLower(name), ".")
		hosts = append(hosts, short+".local")
	}
	return append(hosts, "localhost", "127.0.0.1")
}
