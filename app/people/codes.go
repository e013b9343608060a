package people

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base32"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"net/url"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
)

// How many bytes a code that is used once is made of, and how many recovery codes there are.
const (
	codeBytes     = 8
	recoveryCodes = 10
	secondBytes   = 20
	deviceBytes   = 20
)

var plainCode = base32.StdEncoding.WithPadding(base32.NoPadding)

// NewCode makes a code that is used once, in groups that can be read out.
func NewCode() string {
	raw := make([]byte, codeBytes)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	text := plainCode.EncodeToString(raw)
	return text[:4] + "-" + text[4:8] + "-" + text[8:]
}

// HashCode is a code as it is kept; how it was grouped and in which case makes no difference.
// It has bits enough that a plain hash will do.
func HashCode(code string) string {
	plain := strings.Map(func(c rune) rune {
		switch {
		case c == ' ' || c == '-':
			return -1
		case c == '0':
			return 'O' // the codes have no nought, one or eight
		case c == '1':
			return 'I'
		case c == '8':
			return 'B'
		}
		return c
	}, strings.ToUpper(code))
	sum := sha256.Sum256([]byte(plain))
	return hex.EncodeToString(sum[:])
}

// NewDevice makes what a device carries on which somebody signed in.
func NewDevice() string {
	raw := make([]byte, deviceBytes)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	return plainCode.EncodeToString(raw)
}

// HashDevice is what a device carries as it is kept; empty for what no device was given.
func HashDevice(device string) string {
	if raw, err := plainCode.DecodeString(device); err != nil || len(raw) != deviceBytes {
		return ""
	}
	sum := sha256.Sum256([]byte(device))
	return hex.EncodeToString(sum[:])
}

// NewSealKey makes a key of AES-256, in base64.
func NewSealKey() string {
	raw := make([]byte, 32)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	return base64.StdEncoding.EncodeToString(raw)
}

// NewRecoveryCodes makes the codes that stand in for a lost phone, once each.
func NewRecoveryCodes() []string {
	out := make([]string, recoveryCodes)
	for i := range out {
		out[i] = NewCode()
	}
	return out
}

// NewSecond makes what the codes of a phone are made of.
func NewSecond() string {
	raw := make([]byte, secondBytes)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	return plainCode.EncodeToString(raw)
}

// SecondURI is the secret as an authenticator takes it from a picture.
func SecondURI(secret, shop, signIn string) string {
	label := url.PathEscape("Grapnel " + shop + ":" + signIn)
	return fmt.Sprintf("otpauth://totp/%s?secret=%s&issuer=%s", label, secret, url.QueryEscape("Grapnel "+shop))
}

// secondStep is how long a code of a phone stands, RFC 6238's own.
const secondStep = 30 * time.Second

// SecondMatches finds the step of time, RFC 6238, that a code of a phone belongs to: the
// present one or one of its neighbours, since clocks differ. False where it is none's.
func SecondMatches(secret, code string, now time.Time) (step int64, ok bool) {
	code = strings.ReplaceAll(code, " ", "")
	options := totp.ValidateOpts{Period: uint(secondStep.Seconds()), Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}
	for shift := -1; shift <= 1; shift++ {
		at := now.Add(time.Duration(shift) * secondStep)
		want, err := totp.GenerateCodeCustom(secret, at, options)
		if err == nil && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			step, ok = at.Unix()/int64(secondStep.Seconds()), true
		}
	}
	return step, ok
}
