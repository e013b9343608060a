package e2e_test

import (
	"fmt"
	"log/slog"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"grapnel/app/backup"
	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/record"
	"grapnel/app/store"
	"grapnel/app/web"
	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// got is what a script on a screen comes to.
func got[T any](p *person, script string) T {
	p.t.Helper()
	out, err := browser.JS[T](p.Page, script)
	p.do(err)
	return out
}

// TestLetInAgain has the owner make a code, and whoever forgot their password come in with it
// on a phone, switch a second step on, and come in with that, by the keyboard alone.
func TestLetInAgain(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.do(p.Open("/people"))
	p.see("Someone new")
	p.do(p.TapIn("tr:has(td:first-child b)", "Let in again")) // Edda's, the first
	p.see("Make a code")
	p.tap("Make a code for another password")
	p.see("shown once")
	code := got[string](p, `document.querySelector('[role=dialog] [role=status] .num').innerText`)

	phone := visit(t, shop, 390, 844)
	phone.see("Come in as")
	phone.tap("I have a code")
	phone.accessible("sign-in by code")
	phone.do(phone.Fill("Sign in as", "edda"))
	phone.do(phone.Fill("Code", strings.ToLower(code)))
	phone.do(phone.Fill("New password", "edda1234567"))
	phone.do(phone.Submit())
	phone.see("among the first that anybody tries")
	phone.do(phone.Fill("New password", "herons on the lock"))
	phone.do(phone.Submit())
	phone.see("worst first")

	phone.do(phone.Open("/account"))
	phone.see("this one")
	phone.accessible("account")
	phone.tap("Switch it on")
	phone.see("authenticator")
	secret := got[string](phone, `document.querySelector('[aria-label="Second step"] .select-all').innerText`)
	shown := func(at time.Time) string {
		now, err := totp.GenerateCode(secret, at)
		if err != nil {
			t.Fatal(err)
		}
		return now
	}
	phone.do(phone.Fill("Code on the phone", shown(time.Now())))
	phone.tap("It shows this")
	phone.see("Write these down")
	if n := got[int](phone, `document.querySelectorAll('[aria-label="Second step"] li').length`); n != 10 {
		t.Errorf("%d recovery codes", n)
	}
	phone.tap("I have them")
	phone.see("My password, to switch it off")
	phone.tap("EB: Edda Brandreth")
	phone.tap("Sign out")
	phone.see("Come in as")
	phone.do(phone.Fill("Sign in as", "edda"))
	phone.do(phone.Fill("Password", "herons on the lock"))
	phone.do(phone.Type(browser.Enter))
	phone.see("Now the code that your phone shows")
	phone.do(phone.Type(shown(time.Now().Add(30 * time.Second))))
	phone.do(phone.Type(browser.Enter))
	phone.see("worst first")
}

// TestSwitchedOff has the owner switch somebody off who is at work: their screen asks who is
// there, and what they did is kept.
func TestSwitchedOff(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Jonah Pell")
	owner := visit(t, shop, 1280, 800)
	owner.tap("Mara Ostwick")
	owner.see("worst first")
	owner.do(owner.Open("/people"))
	owner.see("Someone new")
	owner.do(owner.TapIn("tr:has(button):nth-of-type(2)", "Change"))
	owner.see("Signs in as jonah")
	owner.tap("Switch off")
	owner.see("switched off and signed out everywhere")
	owner.see("switched off")
	p.do(p.Open("/account"))
	p.see("Come in as")
	owner.do(owner.TapIn("tr:has(button):nth-of-type(2)", "Change"))
	owner.tap("Keep it")
	owner.see("can sign in")
}

// TestCounterLooksOn checks what somebody who does not measure finds on a job: what was
// measured, no line to type in, no stop rule to lift, and the way to hand it back.
func TestCounterLooksOn(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Edda Brandreth")
	p.tap("PL 88 ORE")
	p.see("A technician takes the readings")
	for _, name := range []string{"Reading line", "Correct", "Mistaken"} {
		if there, err := p.Shown(name); err != nil || there {
			t.Errorf("%s is offered: %v", name, err)
		}
	}
	p.do(p.Open("/people"))
	p.see("The owner adds people")
}

// TestServerScreen shows the owner, and nobody else, that backups fail and what others can
// read on the way, on every screen, with the last good one and a way to try again.
func TestServerScreen(t *testing.T) {
	borrow(t)
	db := dbtest.Filled(t, demo.Fill)
	book := store.New(db)
	good := backup.Run{ID: record.NewID(), MadeAt: time.Now().Add(-30 * time.Hour), Why: backup.Daily, Host: "bench", Path: "/kept/grapnel-2026-11-28T023000Z.zip", Bytes: 3 << 20, Rows: 4711, Seconds: 1.5}
	if err := book.AddBackupRun(t.Context(), good); err != nil {
		t.Fatal(err)
	}
	nowhere := backup.Source{DSN: "grapnel:x@tcp(127.0.0.1:1)/grapnel", Dir: filepath.Join(t.TempDir(), "kept")}
	keeper := backup.NewKeeper(nowhere, book, time.Now, slog.New(slog.DiscardHandler))
	shop, err := e2e.OpenWith(db, web.Config{Plain: true, Backups: keeper})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(shop.Close)
	p := visit(t, shop, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first", "Backup failed")
	p.tap("Backup failed")
	p.see("The last good one is 30 h old", "plain HTTP", "4,711 rows", "Failed:")
	p.accessible("server and backups")
	before := got[int](p, `document.querySelectorAll('tbody tr').length`)
	p.tap("Make one now")
	p.do(p.Until(fmt.Sprintf(`document.querySelectorAll('tbody tr').length === %d`, before+1)))
	p.do(p.Size(390, 844))
	p.narrow()
	jonah := visit(t, shop, 390, 844)
	jonah.tap("Jonah Pell")
	jonah.see("worst first")
	jonah.do(jonah.Gone("Backup failed"))
	jonah.do(jonah.Open("/server"))
	jonah.see("The owner looks after these")
}
