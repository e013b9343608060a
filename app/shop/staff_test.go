package shop_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/problem"
)

const joSecret = "another long secret"

// hire adds a person.
func (b *bench) hire(signIn string, role people.Role) people.Person {
	b.t.Helper()
	p, err := b.AddPerson(b.t.Context(), b.owner, people.Person{Name: "Jo " + signIn, SignIn: signIn, Role: role}, joSecret)
	b.must(err)
	return p
}

// enter tries to come in from an address.
func (b *bench) enter(signIn, secret, second string) error {
	_, err := b.Enter(b.t.Context(), people.Attempt{SignIn: signIn, Secret: secret, Second: second, Address: "192.168.7.9"})
	return err
}

// signedIn begins a session for somebody.
func (b *bench) signedIn(p people.Person) people.Session {
	b.t.Helper()
	s, err := b.SignedIn(b.t.Context(), p, "192.168.7.9", "phone, Android")
	b.must(err)
	return s
}

// inside reports whether a session still lets somebody in.
func (b *bench) inside(s people.Session) bool {
	b.t.Helper()
	_, _, err := b.Present(b.t.Context(), s.ID)
	if err != nil && !errors.Is(err, shop.ErrNotFound) {
		b.t.Fatal(err)
	}
	return err == nil
}

// TestChangePerson changes a role, switches somebody off and on, and keeps an owner.
func TestChangePerson(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	session := b.signedIn(jo)
	change := func(p people.Person) error {
		_, err := b.ChangePerson(t.Context(), b.owner, p)
		return err
	}
	jo.Name, jo.Role = "Joan Marsh", people.Counter
	b.must(change(jo))
	if p, _, err := b.Present(t.Context(), session.ID); err != nil || p.Role != people.Counter || p.Initials != "JM" {
		t.Errorf("%+v %v", p, err)
	}
	jo.Active = false
	b.must(change(jo))
	if b.inside(session) || b.enter("jo", joSecret, "") == nil {
		t.Error("somebody who is switched off comes in")
	}
	if _, err := b.MakeReset(t.Context(), b.owner, jo.ID); fault(err) != "person" {
		t.Errorf("a code for somebody who is switched off: %v", err)
	}
	jo.Active = true
	b.must(change(jo))
	if b.inside(session) {
		t.Error("a session that was ended is open again")
	}
	b.must(b.enter("jo", joSecret, ""))
	alone := b.owner
	alone.Role = people.Technician
	if err := change(alone); fault(err) != "role" {
		t.Errorf("the only owner steps down: %v", err)
	}
	alone.Role, alone.Active = people.Owner, false
	if err := change(alone); fault(err) != "role" {
		t.Errorf("the only owner is switched off: %v", err)
	}
	jo.Role = people.Owner
	b.must(change(jo))
	b.must(change(alone))
	if err := change(people.Person{ID: record.NewID(), Name: "x", Role: people.Owner}); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("a person of nowhere: %v", err)
	}
	if err := change(people.Person{ID: jo.ID, Name: " ", Role: "king"}); fault(err) != "name" {
		t.Errorf("%v", err)
	}
}

// TestTwoOwnersStepDown has two owners switch each other off at once: one stays.
func TestTwoOwnersStepDown(t *testing.T) {
	b := newBench(t)
	pair := []people.Person{b.hire("jo", people.Owner), b.owner}
	errs := together(2, func(n int) error {
		off := pair[n]
		off.Active = false
		_, err := b.ChangePerson(t.Context(), pair[1-n], off)
		return err
	})
	if (errs[0] == nil) == (errs[1] == nil) {
		t.Errorf("%v", errs)
	}
}

// TestReset sets another password by a code that is handed out: once, in its time, signing
// out everywhere and switching the second step off.
func TestReset(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	session := b.signedIn(jo)
	first, err := b.MakeReset(t.Context(), b.owner, jo.ID)
	b.must(err)
	b.must(b.enter("jo", joSecret, ""))
	made, err := b.ResetBySignIn(t.Context(), " JO ")
	b.must(err)
	redeem := func(signIn, code, secret string) error {
		_, err := b.ResetPassword(t.Context(), people.Attempt{SignIn: signIn, Secret: code, Address: "192.168.7.9"}, secret)
		return err
	}
	for what, try := range map[string]error{
		"an earlier code": redeem("jo", first.Code, "a third long secret"), "of another": redeem("ada", made.Code, "a third long secret"),
		"of nobody": redeem("nobody", made.Code, "a third long secret"), "no code": redeem("jo", "", "a third long secret"),
	} {
		if !errors.Is(try, shop.ErrNotFound) {
			t.Errorf("%s: %v", what, try)
		}
	}
	if err := redeem("jo", made.Code, "jojojojojo"); fault(err) != "password" {
		t.Errorf("a password that anybody tries: %v", err)
	}
	errs := together(2, func(int) error { return redeem("jo", strings.ToLower(made.Code), "a third long secret") })
	if (errs[0] == nil) == (errs[1] == nil) {
		t.Errorf("two hands: %v", errs)
	}
	if b.inside(session) || b.enter("jo", joSecret, "") == nil {
		t.Error("what was there before still opens")
	}
	b.must(b.enter("jo", "a third long secret", ""))
	late, err := b.MakeReset(t.Context(), b.owner, jo.ID)
	b.must(err)
	b.now = b.now.Add(shop.ResetLife + time.Second)
	if err := redeem("jo", late.Code, "a fourth long secret"); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("a code that has run out: %v", err)
	}
	if _, err := b.ResetBySignIn(t.Context(), "nobody"); !errors.Is(err, shop.ErrNotFound) {
		t.Error(err)
	}
}

// TestOwnPassword changes a password from a session, which stays while the others end.
func TestOwnPassword(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	here, there := b.signedIn(jo), b.signedIn(jo)
	if err := b.ChangePassword(t.Context(), jo, here, "a guess at it", "a third long secret"); fault(err) != "had" || strings.Contains(err.Error(), "guess") {
		t.Errorf("without knowing it: %v", err)
	}
	if err := b.ChangePassword(t.Context(), jo, here, joSecret, "short"); fault(err) != "password" {
		t.Errorf("to a short one: %v", err)
	}
	b.must(b.ChangePassword(t.Context(), jo, here, joSecret, "a third long secret"))
	if !b.inside(here) || b.inside(there) {
		t.Error("the wrong sessions ended")
	}
	b.must(b.enter("jo", "a third long secret", ""))
}

// TestSessions lists where somebody is signed in, and ends one, the others, all; it ends by
// itself when it is not used, and after its time however much it is.
func TestSessions(t *testing.T) {
	b := newBench(t)
	jo, other := b.hire("jo", people.Technician), b.hire("al", people.Technician)
	one, two, three := b.signedIn(jo), b.signedIn(jo), b.signedIn(jo)
	list, err := b.Sessions(t.Context(), jo, two.ID)
	b.must(err)
	if len(list) != 3 || list[0].Address != "192.168.7.9" || list[0].Device != "phone, Android" || list[1].Current == list[0].Current && list[2].Current == list[0].Current {
		t.Errorf("%+v", list)
	}
	b.must(b.EndSession(t.Context(), other, one.ID))
	if !b.inside(one) {
		t.Error("somebody else ended it")
	}
	b.must(b.EndSession(t.Context(), jo, one.ID))
	b.must(b.EndOthers(t.Context(), jo, two.ID))
	if b.inside(one) || !b.inside(two) || b.inside(three) {
		t.Error("the wrong sessions ended")
	}
	b.must(b.EndSessions(t.Context(), b.owner, jo.ID))
	if b.inside(two) {
		t.Error("it was ended by the owner")
	}
	idle, used := b.signedIn(jo), b.signedIn(jo)
	for b.now.Sub(used.BegunAt) < people.SessionLife-2*time.Hour {
		b.now = b.now.Add(time.Hour)
		b.Forget() // another copy of the server knows what is in the store
		if !b.inside(used) {
			t.Fatalf("it ended %s after it began", b.now.Sub(used.BegunAt))
		}
		if b.now.Sub(idle.BegunAt) == people.SessionIdle+time.Hour && b.inside(idle) {
			t.Error("one that nobody used is still open")
		}
	}
	if list, err := b.Sessions(t.Context(), jo, used.ID); err != nil || len(list) != 1 {
		t.Errorf("%+v %v", list, err)
	}
	b.now = b.now.Add(3 * time.Hour)
	if b.inside(used) {
		t.Error("fourteen days are over")
	}
	b.now = b.now.Add(40 * 24 * time.Hour)
	for token, until := range map[string]time.Time{"long over": b.now.Add(-31 * 24 * time.Hour), "still good": b.now.Add(time.Hour)} {
		_, err := b.db.ExecContext(t.Context(), "INSERT INTO sessions (token, data, expiry) VALUES (?, '', ?)", token, until)
		b.must(err)
	}
	b.must(b.Sweep(t.Context()))
	for table, want := range map[string]int{"sessions": 1, "signed_in": 0} {
		var left int
		b.must(b.db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM "+table).Scan(&left))
		if left != want {
			t.Errorf("%d rows of %s are left, want %d", left, table, want)
		}
	}
}

// TestSecondStep switches a second step on, comes in by phone and by recovery code, each
// code once, and switches it off.
func TestSecondStep(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	session := b.signedIn(jo)
	secret, err := b.BeginSecond(t.Context(), jo)
	b.must(err)
	b.must(b.enter("jo", joSecret, ""))
	code := func() string {
		c, err := totp.GenerateCode(secret, b.now)
		b.must(err)
		return c
	}
	if _, err := b.ConfirmSecond(t.Context(), jo, "000000"); fault(err) != "code" {
		t.Errorf("a wrong code: %v", err)
	}
	recovery, err := b.ConfirmSecond(t.Context(), jo, code())
	b.must(err)
	if len(recovery) != 10 {
		t.Errorf("%v", recovery)
	}
	if _, err := b.BeginSecond(t.Context(), jo); fault(err) != "second" {
		t.Errorf("begun over one that is on: %v", err)
	}
	if err := b.enter("jo", joSecret, ""); !errors.Is(err, people.ErrSecond) || errors.Is(err, shop.ErrNotFound) {
		t.Errorf("without the second: %v", err)
	}
	if err := b.enter("jo", "a guess at it", code()); !errors.Is(err, shop.ErrNotFound) || errors.Is(err, people.ErrSecond) {
		t.Errorf("a wrong password tells of the second: %v", err)
	}
	if err := b.enter("jo", joSecret, code()); !errors.Is(err, people.ErrSecond) {
		t.Errorf("the code that switched it on, used again: %v", err)
	}
	b.now = b.now.Add(time.Minute)
	b.must(b.enter("jo", joSecret, code()))
	if err := b.enter("jo", joSecret, code()); !errors.Is(err, people.ErrSecond) {
		t.Errorf("a code used twice: %v", err)
	}
	b.must(b.enter("jo", joSecret, recovery[3]))
	if err := b.enter("jo", joSecret, recovery[3]); !errors.Is(err, people.ErrSecond) {
		t.Errorf("a recovery code used twice: %v", err)
	}
	b.now = b.now.Add(time.Minute)
	b.must(b.enter("jo", joSecret, code()))
	if err := b.DropSecond(t.Context(), jo, session, "a guess at it"); fault(err) != "had" {
		t.Errorf("dropped without knowing the password: %v", err)
	}
	b.must(b.DropSecond(t.Context(), jo, session, joSecret))
	b.must(b.enter("jo", joSecret, ""))
}

// TestGuessing guesses at a name: it is heard less and less, for names that there are and
// that there are not alike, in every copy of the server; right passwords cost nothing; and
// its owner still comes in from where they are signed in.
func TestGuessing(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	here := b.signedIn(jo)
	for range 40 {
		b.must(b.enter("jo", joSecret, ""))
	}
	waits := func(err error) bool {
		var w people.Waiting
		return errors.As(err, &w) && w.Until.After(b.now)
	}
	for _, name := range []string{"jo", "nobody"} {
		heard := 0
		for n := range 8 {
			err := b.enter(name, fmt.Sprint("a guess at it ", n), "")
			if errors.Is(err, shop.ErrNotFound) {
				heard++
			} else if !waits(err) {
				t.Errorf("%s: %v", name, err)
			}
		}
		if heard != 5 {
			t.Errorf("%s: %d guesses were heard", name, heard)
		}
	}
	copied := shop.NewService(store.New(b.db), func() time.Time { return b.now })
	if _, err := copied.Enter(t.Context(), people.Attempt{SignIn: "jo", Secret: joSecret, Address: "192.168.1.1"}); !waits(err) {
		t.Errorf("another copy of the server: %v", err)
	}
	b.must(b.ChangePassword(t.Context(), jo, here, joSecret, "a third long secret"))
	if _, err := b.Enter(t.Context(), people.Attempt{SignIn: "jo", Secret: "a third long secret", Address: "x", From: &here}); err != nil {
		t.Errorf("from where they are signed in: %v", err)
	}
	for n := range 8 {
		if err := b.ChangePassword(t.Context(), jo, here, fmt.Sprint("a guess ", n), joSecret); (n >= 5) != waits(err) {
			t.Errorf("guess %d from a session: %v", n, err)
		}
	}
	b.now = b.now.Add(time.Minute)
	b.must(b.enter("jo", "a third long secret", ""))
	// One address that guesses at many names is heard less and less as well.
	b.now = b.now.Add(24 * time.Hour)
	heard := 0
	for n := range 40 {
		if errors.Is(b.enter(fmt.Sprint("name", n), "a guess at it", ""), shop.ErrNotFound) {
			heard++
		}
	}
	if heard != 20 {
		t.Errorf("%d names could be guessed at", heard)
	}
	var list problem.List
	if err := b.enter("name99", "x", ""); errors.As(err, &list) || !waits(err) {
		t.Errorf("%v", err)
	}
}

// TestGuessingBySpelling guesses at one name in spellings that a collation takes for one: none of
// them is another chance. Names are told apart by accents.
func TestGuessingBySpelling(t *testing.T) {
	b := newBench(t)
	b.hire("jose", people.Technician)
	b.hire("josé", people.Counter)
	heard := 0
	for n, name := range []string{"jose", "JOSE", " jose", "Jose ", "jOsE", "joSE", "josE", "JOse"} {
		if errors.Is(b.enter(name, fmt.Sprint("a guess at it ", n), ""), shop.ErrNotFound) {
			heard++
		}
	}
	if heard != 5 {
		t.Errorf("%d guesses were heard", heard)
	}
	b.must(b.enter("JOSE\u0301", joSecret, ""))
}

// TestKnownDevice has somebody lock a name out: its owner still comes in with the right password
// from a device that is known, and with a code that was handed out; wrong tries wait there too,
// and a device is known no more after a reset or once it was signed out everywhere.
func TestKnownDevice(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	waits := func(err error) bool {
		var w people.Waiting
		return errors.As(err, &w)
	}
	lockOut := func() {
		for n := range 40 {
			if err := b.enter("jo", fmt.Sprint("a guess at it ", n), ""); err == nil {
				t.Fatal("a guess opened")
			}
		}
	}
	mine, other := people.NewDevice(), people.NewDevice()
	from := func(device, secret string) error {
		_, err := b.Enter(t.Context(), people.Attempt{SignIn: "jo", Secret: secret, Address: "192.168.7.9", Device: people.HashDevice(device)})
		return err
	}
	b.must(b.Know(t.Context(), jo, mine))
	lockOut()
	b.must(from(mine, joSecret))
	for what, err := range map[string]error{"an unknown device": from(other, joSecret), "no device": from("", joSecret), "a device that was never given": from("x", joSecret)} {
		if !waits(err) {
			t.Errorf("%s: %v", what, err)
		}
	}
	heard := 0
	for n := range 8 {
		if errors.Is(from(mine, fmt.Sprint("a guess at it ", n)), shop.ErrNotFound) {
			heard++
		}
	}
	if heard != 5 || !waits(from(mine, joSecret)) {
		t.Errorf("%d guesses from a known device", heard)
	}
	code, err := b.MakeReset(t.Context(), b.owner, jo.ID)
	b.must(err)
	redeem := func(code string) error {
		_, err := b.ResetPassword(t.Context(), people.Attempt{SignIn: "jo", Secret: code, Address: "192.168.7.9"}, "a third long secret")
		return err
	}
	if err := redeem("AAAA-BBBB-CCCCC"); !waits(err) {
		t.Errorf("a wrong code: %v", err)
	}
	b.must(redeem(code.Code))
	b.now = b.now.Add(24 * time.Hour)
	lockOut()
	if err := from(mine, "a third long secret"); !waits(err) {
		t.Errorf("known beyond a reset: %v", err)
	}
	b.must(b.Know(t.Context(), jo, mine))
	b.must(from(mine, "a third long secret"))
	b.must(b.EndSessions(t.Context(), b.owner, jo.ID))
	if err := from(mine, "a third long secret"); !waits(err) {
		t.Errorf("known beyond signing out everywhere: %v", err)
	}
	b.must(b.Know(t.Context(), jo, mine))
	b.now = b.now.Add(shop.DeviceLife + time.Hour)
	b.must(b.Sweep(t.Context()))
	lockOut()
	if err := from(mine, "a third long secret"); !waits(err) {
		t.Errorf("known beyond a year: %v", err)
	}
}

// TestGuessingAtTheSecondStep guesses codes of the phone: they are counted for the person as
// passwords are, and somebody at a known device is not locked out by it.
func TestGuessingAtTheSecondStep(t *testing.T) {
	b := newBench(t)
	jo := b.hire("jo", people.Technician)
	secret, err := b.BeginSecond(t.Context(), jo)
	b.must(err)
	code := func() string {
		out, err := totp.GenerateCode(secret, b.now)
		b.must(err)
		return out
	}
	_, err = b.ConfirmSecond(t.Context(), jo, code())
	b.must(err)
	b.now = b.now.Add(time.Minute)
	heard := 0
	for n, name := range []string{"jo", "JO", "Jo", "jO", " jo", "jo ", "JO ", "Jo "} {
		if errors.Is(b.enter(name, joSecret, fmt.Sprintf("%06d", n)), shop.ErrNotFound) {
			heard++
		}
	}
	var w people.Waiting
	if heard != 5 || !errors.As(b.enter("jo", joSecret, code()), &w) {
		t.Errorf("%d codes were heard", heard)
	}
	device := people.NewDevice()
	b.must(b.Know(t.Context(), jo, device))
	_, err = b.Enter(t.Context(), people.Attempt{SignIn: "jo", Secret: joSecret, Second: code(), Address: "192.168.7.9", Device: people.HashDevice(device)})
	b.must(err)
}

// TestPersonUnderAKnownID adds somebody under the ID of somebody else: it is the ID that is
// told, not the name, in the same shop and in another.
func TestPersonUnderAKnownID(t *testing.T) {
	b := newBench(t)
	_, err := b.AddPerson(t.Context(), b.owner, people.Person{ID: b.owner.ID, Name: "Jo", SignIn: "jo", Role: people.Technician}, joSecret)
	if used := (shop.KeyUsed{}); !errors.As(err, &used) || fault(err) != "id" {
		t.Errorf("%v", err)
	}
	_, err = b.AddPerson(t.Context(), b.owner, people.Person{Name: "Jo", SignIn: "ADA", Role: people.Technician}, joSecret)
	if fault(err) != "sign_in" {
		t.Errorf("%v", err)
	}
}
