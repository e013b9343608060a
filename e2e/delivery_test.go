package e2e_test

import (
	"errors"
	"fmt"
	"image"
	"image/png"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/room"
	"grapnel/app/web"
	"grapnel/e2e"
	"grapnel/e2e/browser"
	"grapnel/e2e/fault"
)

// counted compares the readings of a job in the database with what was typed: nothing
// lost, nothing twice, nothing in the wrong order.
func counted(t *testing.T, shop *e2e.Workshop, plate string, before []string, typed ...string) {
	t.Helper()
	want := append(slices.Clone(before), typed...)
	now, err := shop.SettledLines(t.Context(), plate, want)
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Equal(now, want) {
		t.Errorf("the database has\n%s\nwanted\n%s", strings.Join(now, "\n"), strings.Join(want, "\n"))
	}
}

// has finds that a query comes to count so many in the database.
func has(t *testing.T, shop *e2e.Workshop, want int, query string, args ...any) {
	t.Helper()
	if n, err := shop.Settled(t.Context(), want, query, args...); err != nil || n != want {
		t.Errorf("%d, wanted %d (%v): %s", n, want, err, query)
	}
}

func linesOf(t *testing.T, shop *e2e.Workshop, plate string) []string {
	t.Helper()
	lines, err := shop.Lines(t.Context(), plate)
	if err != nil {
		t.Fatal(err)
	}
	return lines
}

// onJob opens a job of the demo and gives its readings so far, by the database.
func onJob(t *testing.T, width, height int64, plate string) (*e2e.Workshop, *person, []string) {
	t.Helper()
	shop, p := comeIn(t, width, height, "Jonah Pell")
	before := linesOf(t, shop, plate)
	p.tap(plate)
	p.see("What holds")
	return shop, p, before
}

// enterLine types a line and presses Enter, whatever the line to the server does, and
// waits until it is no longer in the line.
func (p *person) enterLine(text string) {
	p.t.Helper()
	p.do(p.Fill("Reading line", text))
	p.do(p.Type(browser.Enter))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
}

// sent waits until nothing waits on the device any more.
func (p *person) sent() {
	p.t.Helper()
	p.do(p.Until(`!document.querySelector('header').innerText.includes('to be sent') && !document.querySelector('[aria-label="On this device only"]')`))
}

// TestFaults keeps readings through every way in which a line fails: each is in the
// database once, in order.
func TestFaults(t *testing.T) {
	for _, one := range []struct {
		name string
		kind fault.Kind
		hits func(*http.Request) bool
	}{
		{"bad gateway", fault.BadGateway, nil},
		{"silence", fault.Silence, nil},
		{"portal", fault.Portal, nil},
		{"lost answers", fault.LostAnswer, fault.Writes},
	} {
		t.Run(one.name, func(t *testing.T) {
			shop, p, before := onJob(t, 1280, 800, "WS 204 K")
			p.line("look none", true)
			shop.Line.Set(one.kind, one.hits)
			p.enterLine("12.66 v rested 3h after charge")
			p.enterLine("load 325a 15s 9.9v 18c")
			p.do(p.Until(`document.querySelector('header').innerText.includes('to be sent')`))
			shop.Line.Set(fault.None, nil)
			p.sent()
			p.see("load 325a 15s 9.9v 18c")
			counted(t, shop, "WS 204 K", before, "look none", "12.66 v rested 3h after charge", "load 325a 15s 9.9v 18c")
		})
	}
}

// TestSlowAnswer opens a job while the server is slow: the device answers with what it kept, and
// what somebody else has found meanwhile is there as soon as the server is quicker, though nothing
// else changes. No source: it is how the program is to behave.
func TestSlowAnswer(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	p.do(p.Open("/"))
	p.see("worst first")
	shop.Line.Set(fault.Silence, fault.Path("/api/jobs/"))
	p.do(shop.Bulge(t.Context(), "WS 204 K"))
	p.tap("WS 204 K")
	p.see("What holds")
	shop.Line.Set(fault.None, nil)
	p.see("look bulge")
}

// TestTwoTabs keeps readings in two tabs of one browser while the server is down: both
// are sent, by one tab, in the order they were kept.
func TestTwoTabs(t *testing.T) {
	shop, p, before := onJob(t, 1280, 800, "WS 204 K")
	tab, err := p.Beside(1280, 800)
	p.do(err)
	defer tab.Close()
	other := &person{tab, t}
	address, err := browser.JS[string](p.Page, "location.pathname")
	p.do(err)
	other.do(other.Open(address))
	other.see("What holds")
	shop.Down()
	p.see("The line is down")
	p.enterLine("12.61 v rested 3h")
	other.enterLine("12.62 v rested 4h")
	p.enterLine("12.63 v rested 5h")
	p.see("3 to be sent")
	other.see("3 to be sent")
	p.do(shop.Up())
	p.sent()
	other.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h", "12.62 v rested 4h", "12.63 v rested 5h")
	other.see("12.63 v rested 5h")
}

// TestHandBackWaits hands a job back behind a reading that waits: the job is closed and
// stays closed.
func TestHandBackWaits(t *testing.T) {
	shop, p, _ := onJob(t, 390, 844, "WS 204 K")
	closed, err := shop.Count(t.Context(), eventsOf+"event.kind = 'closed'")
	p.do(err)
	p.stage("Decide")
	p.see("Copy it")
	p.do(p.Until(`document.querySelector('[aria-label="Cause"] button')`))
	for _, first := range []string{`[aria-label="Choices"] button`, `[aria-label="Cause"] button`} {
		_, err := browser.JS[bool](p.Page, fmt.Sprintf(`(document.querySelector(%q).click(), true)`, first))
		p.do(err)
		p.do(p.Until(fmt.Sprintf(`document.querySelector(%q).getAttribute('aria-pressed') === 'true'`, first)))
	}
	p.answerAll()
	shop.Line.Set(fault.BadGateway, fault.Writes)
	p.enterLine("age 4y")
	p.stage("Finish")
	p.tap("Hand it back")
	p.do(p.Until(`document.querySelector('header').innerText.includes('2')`))
	shop.Line.Set(fault.None, nil)
	p.sent()
	p.see("This job is handed back")
	for condition, want := range map[string]int{"job.state = 'open'": 0, "event.kind = 'closed'": closed + 1, "event.kind = 'reopened'": 0} {
		has(t, shop, want, eventsOf+condition)
	}
}

// eventsOf counts the events and jobs of a plate that a condition behind it picks; each job
// once for every event.
const eventsOf = `SELECT COUNT(*) FROM event JOIN job ON job.id = event.job_id
	JOIN vehicle ON vehicle.id = job.vehicle_id WHERE vehicle.plate = 'WS 204 K' AND `

// TestSessionEnds ends the session in mid-work: what was typed stays, what was kept waits,
// and both go on after signing in.
func TestSessionEnds(t *testing.T) {
	shop, p, before := onJob(t, 1280, 800, "WS 204 K")
	p.do(shop.EndSessions(t.Context()))
	shop.Down()
	p.do(shop.Up())
	p.enterLine("12.61 v rested 3h")
	p.see("Sign in to go on")
	p.accessible("signed out in mid-work")
	p.do(p.TapIn("[role=dialog]", "Jonah Pell"))
	p.do(p.Until(`!document.querySelector('[role=dialog]')`))
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
	p.line("12.62 v rested 4h", true)
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h", "12.62 v rested 4h")
}

// TestReopenedWithoutServer opens the application anew, twice, while the server is silent,
// and then with it.
func TestReopenedWithoutServer(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	before := linesOf(t, shop, "WS 204 K")
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	shop.Line.Set(fault.Silence, nil)
	p.enterLine("12.61 v rested 3h")
	p.do(p.Open("/"))
	// Who is signed in is known, and the day is shown, not the sign-in.
	p.see("worst first")
	p.do(p.Until(`document.querySelector('header').innerText.includes('1')`))
	p.tap("WS 204 K")
	p.see("12.61 v rested 3h", "On this device, to be sent")
	p.do(p.Fill("Reading line", "load 325a 15s 9"))
	p.do(p.Open("/"))
	p.see("worst first")
	p.tap("WS 204 K")
	// What was being typed is there again.
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'load 325a 15s 9'`))
	shop.Line.Set(fault.None, nil)
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
}

// TestFirstVisit keeps readings on a first visit whose line goes before anything is kept
// for it.
func TestFirstVisit(t *testing.T) {
	shop, p, before := onJob(t, 390, 844, "WS 204 K")
	shop.Down()
	p.enterLine("12.61 v rested 3h")
	p.enterLine("12.62 v rested 4h")
	p.do(p.Until(`document.querySelector('header').innerText.includes('2')`))
	p.do(shop.Up())
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h", "12.62 v rested 4h")
}

// TestReleaseChanges changes the release under an open tab: it says so, keeps what is done
// on the device, and the page of the new build sends it.
func TestReleaseChanges(t *testing.T) {
	shop, p, before := onJob(t, 1280, 800, "WS 204 K")
	shop.Line.Release("0123456789ab")
	p.do(p.Fill("Reading line", "12.61 v rested 3h"))
	p.do(p.Type(browser.Enter))
	p.see("A new release of Grapnel is here")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	p.do(p.Fill("Reading line", "look no"))
	p.accessible("a new release")
	p.tap("Go on with it")
	p.do(p.Gone("A new release of Grapnel is here"))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]')?.value === 'look no'`))
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
}

// TestStorageBlocked works where the browser keeps nothing: what waits lives as long as
// the page, and the list says so.
func TestStorageBlocked(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.do(p.Before(`
		Object.defineProperty(window, 'indexedDB', { get() { throw new DOMException('denied', 'SecurityError') } });
		for (const name of ['localStorage', 'sessionStorage']) Object.defineProperty(window, name, { get() { throw new DOMException('denied', 'SecurityError') } })`))
	before := linesOf(t, shop, "WS 204 K")
	p.do(p.Open("/"))
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	shop.Line.Set(fault.BadGateway, nil)
	p.enterLine("12.61 v rested 3h")
	p.do(p.Until(`[...document.querySelectorAll('header button')].some(b => b.innerText.includes('1'))`))
	p.do(p.TapIn("header", "1"))
	p.see("leave this page open until all is sent")
	p.do(p.Type(browser.Escape))
	shop.Line.Set(fault.None, nil)
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
}

// TestRefusedElsewhere has a reading refused after its person has gone to another screen:
// it comes back to its job, holds up no other job, and is put into the line again.
func TestRefusedElsewhere(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Jonah Pell")
	before, drain := linesOf(t, shop, "MOWER C"), linesOf(t, shop, "WS 204 K")
	p.tap("MOWER C")
	p.see("What holds")
	shop.Line.Set(fault.BadGateway, fault.Writes)
	// A stop rule forbids it; the device cannot be asked before it is ready.
	p.enterLine("load 100a 15s 9.9v")
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	p.enterLine("12.61 v rested 3h")
	shop.Line.Set(fault.None, nil)
	p.see("1 sent back")
	p.do(p.Gone("to be sent"))
	counted(t, shop, "WS 204 K", drain, "12.61 v rested 3h")
	p.tap("1 1 sent back")
	p.see("On this device, not at the server yet", "load 100a 15s 9.9v", "What is broken is not lifted, it is replaced")
	p.accessible("what waits on the device")
	p.tap("The job")
	p.do(p.Type(browser.Escape))
	p.do(p.TapIn(`[aria-label="On this device only"]`, "Put it in the line again"))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'load 100a 15s 9.9v'`))
	p.sent()
	counted(t, shop, "MOWER C", before)
}

// TestPictureMeetsBadGateway takes a picture into a 502: it waits and is sent once.
func TestPictureMeetsBadGateway(t *testing.T) {
	shop, p, _ := onJob(t, 390, 844, "WS 204 K")
	p.stage("Look")
	for i, kind := range []fault.Kind{fault.BadGateway, fault.Portal, fault.LostAnswer} {
		shop.Line.Set(kind, fault.Path("/photos/"))
		note := fmt.Sprintf("picture %d", i+1)
		p.do(p.Fill("What the picture shows", note))
		p.do(p.Upload(`input[type=file]`, pictureFile(t)))
		p.see("On this device, to be sent")
		shop.Line.Set(fault.None, nil)
		p.do(p.Gone("On this device, to be sent"))
		p.see(note + ", Jonah Pell")
	}
	has(t, shop, 3, "SELECT COUNT(*) FROM photo WHERE note LIKE 'picture %'")
}

func pictureFile(t *testing.T) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "clamp.png")
	file, err := os.Create(path)
	if err == nil {
		err = errors.Join(png.Encode(file, image.NewGray(image.Rect(0, 0, 64, 48))), file.Close())
	}
	if err != nil {
		t.Fatal(err)
	}
	return path
}

// TestRefusedClock has a clock refused that was set going without the line: none is left
// running.
func TestRefusedClock(t *testing.T) {
	shop, p, _ := onJob(t, 390, 844, "WS 204 K")
	p.stage("Crank power")
	shop.Line.Set(fault.BadGateway, nil)
	// Somebody finds what stops the work, and the page does not hear of it.
	p.do(shop.Bulge(t.Context(), "WS 204 K"))
	p.tap("Load on: count")
	p.do(p.Until(`[...document.querySelectorAll('header button')].some(b => /0:1\d/.test(b.innerText))`))
	p.do(p.Until(`[...document.querySelectorAll('header button')].some(b => b.innerText.includes('to be sent'))`))
	shop.Line.Set(fault.None, nil)
	p.see("sent back")
	p.do(p.Until(`![...document.querySelectorAll('header button')].some(b => /0:\d\d/.test(b.innerText) && !/Rest/.test(b.innerText))`))
	has(t, shop, 0, `SELECT COUNT(*) FROM clock WHERE kind = 'load' AND ended_at IS NULL`)
}

// TestFullDisk types a reading on a phone while the server's disk is full: it waits on the
// phone, which says why, and is sent by itself when there is room.
func TestFullDisk(t *testing.T) {
	var left atomic.Int64
	left.Store(room.Least - 1)
	shop, err := e2e.OpenWith(dbtest.Filled(t, demo.Fill), web.Config{Room: func() (int64, error) { return left.Load(), nil }})
	if err != nil {
		t.Fatal(err)
	}
	p := visit(t, shop, 390, 844)
	p.tap("Mara Ostwick")
	p.see("worst first", "Disk full")
	before := linesOf(t, shop, "WS 204 K")
	p.tap("WS 204 K")
	p.see("What holds")
	p.enterLine("12.61 v rested 3h")
	p.tap("1 to be sent")
	p.see("64.0 MB are left", "is sent by itself then")
	p.accessible("what waits for a full disk")
	left.Store(10 * room.Little)
	p.do(p.Gone("is sent by itself then"))
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
	p.do(p.Open("/server"))
	p.do(p.Gone("disk"))
}
