package people_test

import (
	"context"
	"encoding/base32"
	"errors"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/problem"
)

// TestSecrets checks that a password is kept so that it opens to itself and to nothing
// else, never the same way twice, and that what is no such record opens to nothing.
func TestSecrets(t *testing.T) {
	one, err := people.HashSecret(t.Context(), "four claws hold")
	if err != nil {
		t.Fatal(err)
	}
	two, err := people.HashSecret(t.Context(), "four claws hold")
	if err != nil || one == two || strings.Contains(one, "claws") {
		t.Errorf("%s and %s, %v", one, two, err)
	}
	opens := func(hash, secret string) bool {
		ok, err := people.SecretMatches(t.Context(), hash, secret)
		if err != nil {
			t.Error(err)
		}
		return ok
	}
	if !opens(one, "four claws hold") || !opens(two, "four claws hold") {
		t.Error("it does not open to itself")
	}
	for _, hash := range []string{one, "", "$argon2id$", "$argon2id$v=19$m=1,t=0,p=0$$", strings.Replace(one, "argon2id", "argon2x", 1)} {
		if opens(hash, "four claws held") || opens(hash, "") {
			t.Errorf("%q opens to another", hash)
		}
	}
	ended, end := context.WithCancel(t.Context())
	end()
	var hands sync.WaitGroup
	for range 12 { // more than have a place: those who wait for one go with their request
		hands.Go(func() {
			if _, err := people.HashSecret(ended, "x"); err != nil && !errors.Is(err, context.Canceled) {
				t.Error(err)
			}
		})
	}
	hands.Wait()
}

// TestGuessable checks what is among the first that anybody tries, and what is not.
func TestGuessable(t *testing.T) {
	for _, secret := range []string{
		"1234567890", "Qwertyuiop", "password12", "Password!!!", "passwordpassword", "aaaaaaaaaa", "abcdefghijkl", "0987654321", "abcabcabcabc",
		"mara123456", "maramaramara", "mara-mara-1", "iloveyou2026",
	} {
		if !people.Guessable(secret, "mara") {
			t.Errorf("%q would be taken", secret)
		}
	}
	for _, secret := range []string{"four claws hold", "ten letters at least", "another long secret", "k7#pW2!vQz9", "mara mends old outboards", "blue heron on the lock"} {
		if people.Guessable(secret, "mara") {
			t.Errorf("%q would not be taken", secret)
		}
	}
}

// TestCodes checks codes that are used once: long enough, read out in any case and grouping,
// and never the same.
func TestCodes(t *testing.T) {
	seen := map[string]bool{}
	for range 100 {
		code := people.NewCode()
		if len(code) < 14 || seen[code] {
			t.Fatalf("%q", code)
		}
		seen[code] = true
		read := strings.ToLower(strings.ReplaceAll(code, "-", " "))
		if people.HashCode(code) != people.HashCode(read) || people.HashCode(code) == people.HashCode(code+"A") {
			t.Errorf("%q is another as %q", code, read)
		}
	}
}

// TestSecondMatches checks the codes of a phone against the vectors of RFC 6238, appendix B
// (SHA-1, the last six of its eight figures), a clock of half a minute off, and no more.
func TestSecondMatches(t *testing.T) {
	secret := base32.StdEncoding.EncodeToString([]byte("12345678901234567890"))
	for at, code := range map[int64]string{59: "287082", 1111111109: "081804", 1111111111: "050471", 1234567890: "005924", 2000000000: "279037"} {
		for _, off := range []int64{-30, 0, 30} {
			step, ok := people.SecondMatches(secret, code[:3]+" "+code[3:], time.Unix(at+off, 0))
			if !ok || step != at/30 {
				t.Errorf("%s at %d%+d: step %d, %v", code, at, off, step, ok)
			}
		}
		for _, off := range []int64{-90, 90} {
			if _, ok := people.SecondMatches(secret, code, time.Unix(at+off, 0)); ok {
				t.Errorf("%s still holds at %d%+d", code, at, off)
			}
		}
	}
	if _, ok := people.SecondMatches("", "", time.Now()); ok {
		t.Error("nothing opens")
	}
	uri, err := url.Parse(people.SecondURI(secret, "Lockside & Sons", "mara"))
	if err != nil || uri.Scheme != "otpauth" || uri.Host != "totp" || uri.Query().Get("secret") != secret || uri.Query().Get("issuer") != "Grapnel Lockside & Sons" {
		t.Errorf("%v %v", uri, err)
	}
}

// TestRights checks the table by what must hold whoever writes in it: nothing stands in it
// that nobody may do, a wider role may all that a narrower one may, what is safety's is never
// the counter's, and what is the owner's is nobody else's.
func TestRights(t *testing.T) {
	for _, name := range people.Operations() {
		if !people.Owner.May(name) {
			t.Errorf("the owner may not %s", name)
		}
		if people.Counter.May(name) && !people.Technician.May(name) {
			t.Errorf("the counter may %s and a technician may not", name)
		}
		if people.Nobody.May(name) && !people.Counter.May(name) {
			t.Errorf("nobody may %s and the counter may not", name)
		}
	}
	for _, name := range []string{"clearStop", "mistakenReading", "undoReading", "correctReading", "keepReading", "mistakenVisit", "stepAttempt"} {
		if people.Counter.May(name) || !people.Technician.May(name) {
			t.Errorf("%s is a technician's", name)
		}
	}
	for _, name := range []string{"addPerson", "changePerson", "resetPerson", "setLimit", "probeInstrument", "keepCharger"} {
		if people.Technician.May(name) || people.Counter.May(name) {
			t.Errorf("%s is the owner's", name)
		}
	}
	for _, name := range []string{"bringIn", "closeJob", "keepStock", "stockLabels", "yard"} {
		if !people.Counter.May(name) {
			t.Errorf("%s is the counter's too", name)
		}
	}
	if people.Owner.May("no such") || people.Role("king").May("hello") || len(people.Nobody.Rights()) > 8 {
		t.Errorf("nobody may %v", people.Nobody.Rights())
	}
}

// TestWhoMayBeAdded checks what a name, a sign-in, a password and a role have to be: two
// that look alike to a person are not two.
func TestWhoMayBeAdded(t *testing.T) {
	good := people.Person{Name: "Mara Ostwick", SignIn: "mara", Role: people.Technician}
	for field, change := range map[string]func(*people.Person) string{
		"":         func(*people.Person) string { return "ten letters at least" },
		"name":     func(p *people.Person) string { p.Name = "Ma\u200bra"; return "ten letters at least" },
		"sign_in":  func(p *people.Person) string { p.SignIn = "ma\u00adra"; return "ten letters at least" },
		"password": func(*people.Person) string { return "short" },
		"role":     func(p *people.Person) string { p.Role = "king"; return "ten letters at least" },
	} {
		p, found := good, problem.List(nil)
		secret := change(&p)
		p.Check(&found, secret)
		if field == "" && len(found) > 0 || field != "" && (len(found) != 1 || found[0].Field != field) {
			t.Errorf("%q: %v", field, found)
		}
		if strings.Contains(found.Error(), "short") {
			t.Errorf("the password is said: %v", found)
		}
	}
	p := people.Person{Name: "  Mara van Ostwick ", SignIn: " MARA "}
	p.Complete(record.NewID(), "hash")
	if p.Name != "Mara van Ostwick" || p.SignIn != "mara" || p.Initials != "MO" || !p.Active || p.ID.IsZero() {
		t.Errorf("%+v", p)
	}
}
