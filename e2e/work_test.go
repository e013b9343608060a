package e2e_test

import (
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"grapnel/e2e/browser"
)

// enter signs somebody of the demo in and opens a job.
func enter(t *testing.T, width, height int64, name, plate string) *person {
	t.Helper()
	_, p := comeIn(t, width, height, name)
	p.tap(plate)
	p.see("What holds")
	return p
}

// TestHandOver hands a job over from its head: it moves, waits for a part, and is
// found under "My jobs" by whoever has it.
func TestHandOver(t *testing.T) {
	p := enter(t, 390, 844, "Mara Ostwick", "DUN 48")
	p.tap("Bay 3, Mara Ostwick")
	p.see("Hand over, move, let wait")
	p.tap("Jonah Pell")
	p.do(p.TapIn("[role=dialog]", "Shelf"))
	p.tap("a part")
	p.do(p.Fill("Details", "six-volt clamp"))
	p.narrow()
	p.tap("Keep it so")
	p.see("Shelf, Jonah Pell, waits for a part")
	p.do(p.Open("/"))
	p.see("Waits for a part: six-volt clamp")
	p.tap("My jobs")
	p.do(p.Gone("DUN 48"))
	p.see("WS 204 K")
}

// TestLiftStop lifts a stop rule under one's name: a reason too short is refused, the
// steps open again, and who did it stays on the job and on the report.
func TestLiftStop(t *testing.T) {
	p := enter(t, 1280, 800, "Jonah Pell", "MOWER C")
	p.verdict("stop_unsafe", false)
	p.stage("Crank power")
	p.see("Closed by the stop rule")
	p.tap("It no longer holds")
	p.do(p.Fill("Why the stop rule", "fine"))
	p.tap("Lift it under my name")
	p.see("Allowed: 8 to 300 characters")
	p.do(p.Fill("Why the stop rule", "moulded so, all four of this kind are"))
	p.tap("Lift it under my name")
	p.see("Stop rule lifted by Jonah Pell: moulded so")
	p.do(p.Gone("Closed by the stop rule"))
	p.verdict("more_tests", false)
	p.line("look bulge", true)
	p.verdict("stop_unsafe", false)
	p.stage("Finish")
	p.tap("Report to print")
	p.see("Stop rule lifted:", "moulded so, all four of this kind are (Jonah Pell)")
}

// TestPicture takes a picture at the vehicle; it is made small and kept with its note.
func TestPicture(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "WS 204 K")
	p.stage("Look")
	path := filepath.Join(t.TempDir(), "clamp.png")
	file, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	if err := png.Encode(file, image.NewGray(image.Rect(0, 0, 2400, 1200))); err != nil {
		t.Fatal(err)
	}
	file.Close()
	p.do(p.Fill("What the picture shows", "green strands"))
	p.do(p.Upload(`input[type=file]`, path))
	p.see("green strands, Jonah Pell")
	p.do(p.Until(`(i => i && i.naturalWidth === 1600)(document.querySelector('img[alt="green strands"]'))`))
	p.narrow()
	p.accessible("look with a picture")

	// Without the line it waits on the device, and is sent once.
	p.do(p.Offline(true))
	p.do(p.Fill("What the picture shows", "wet tray"))
	p.do(p.Upload(`input[type=file]`, path))
	p.see("On this device, to be sent")
	p.do(p.Until(`(i => i && i.naturalWidth === 1600)(document.querySelector('img[alt="wet tray"]'))`))
	p.do(p.Offline(false))
	p.do(p.Gone("On this device, to be sent"))
	p.see("wet tray, Jonah Pell")
}

// TestQuickLook walks the short trail: three minutes, no charge, nothing on the vehicle.
func TestQuickLook(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("Quick look")
	p.see("What they say")
	p.do(p.Until(`[...document.querySelectorAll('[aria-label="What for"] [aria-checked=true]')].some(e => e.innerText === 'a quick look')`))
	p.do(p.Fill("Plate or name", "QL 3 MIN"))
	p.reach("flooded")
	p.tap("flooded")
	p.do(p.Fill("Rating, A", "650"))
	p.do(p.Submit())
	p.see("What holds")
	p.stage("Look")
	p.tap("Nothing found")
	p.volts("12.66", "stood an hour or more")
	p.line("594/650 cca", true)
	p.verdict("keep", false)
	p.do(p.Until(`document.querySelector('[aria-label="Stages of the job"]').innerHTML.includes('not in a quick look')`))
	p.answerAll()
	p.tap("Hand it back")
	p.see("This job is handed back")
}

// TestGravitiesByThumb enters every cell on the drawing of the cells, one not to be
// read, and keeps the line that stands there.
func TestGravitiesByThumb(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "WS 204 K")
	p.stage("Charge state")
	for _, cell := range []struct{ name, points string }{{"cell 1", "1265"}, {"cell 2", "1260"}, {"cell 4", "1265"}, {"cell 5", "1260"}, {"cell 6", "1180"}} {
		p.do(p.Fill(cell.name, cell.points))
	}
	p.do(p.Fill("acid", "15"))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'sg 1265 1260 - 1265 1260 1180 at 15c'`))
	p.tap("Cell 6: 5 points more")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value.endsWith('1185 at 15c')`))
	p.do(p.Until(`document.querySelector('[aria-live] .border-verdigris')`))
	p.do(p.TapIn("#understood + * ~ *, body", "Enter keeps it"))
	p.see("sg 1265 1260 - 1265 1260 1185 at 15c")
	p.narrow()
}

// TestClockIsSeen lets a load's seconds run out: the clock rings in the bar until
// somebody has seen to it.
func TestClockIsSeen(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "WS 204 K")
	p.stage("Crank power")
	p.tap("Load on: count")
	p.see("read the volts, then load off")
	p.do(p.Until(`document.title.startsWith('Read the volts')`))
	p.tap("Seen")
	p.do(p.Gone("read the volts, then load off"))
	p.do(p.Until(`document.title.endsWith('Grapnel') && !document.title.startsWith('Read the volts')`))
	p.do(p.Type(browser.Escape))
}

// TestWhatIsKnownOfTheVehicle completes what the maker asks for on the job: a figure that
// is none is refused by name and nothing is lost; the next look has it.
func TestWhatIsKnownOfTheVehicle(t *testing.T) {
	_, p := comeIn(t, 390, 844, "Jonah Pell")
	p.tap("WS 204 K")
	p.see("What holds")
	p.stage("Arrive")
	p.tap("Complete the vehicle")
	p.do(p.Fill("Required cranking amps, A", "64O"))
	p.tap("Keep the vehicle")
	p.see("cannot be taken", "10 to 3000 A")
	p.do(p.Until(`[...document.querySelectorAll('[role=dialog] input')].some(i => i.value === '64O')`))
	p.do(p.Fill("Required cranking amps, A", "640,5"))
	p.narrow()
	p.accessible("the vehicle")
	p.do(p.TapIn("[role=dialog]", "Keep the vehicle"))
	p.do(p.Until(`!document.querySelector('[role=dialog]')`))
	p.tap("Complete the vehicle")
	p.do(p.Until(`[...document.querySelectorAll('[role=dialog] input')].some(i => i.value === '640.5')`))
}

// TestStopAtTheLine types what a stop rule forbids: the line says so, with what clears it,
// before and after Enter, and nothing is kept; once the rule is lifted for what was seen,
// the same line is taken.
func TestStopAtTheLine(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("MOWER C")
	p.see("Stop: unsafe")
	p.do(p.Fill("Reading line", "load 100a 15s 9.9v"))
	p.see("What is broken is not lifted, it is replaced.")
	p.do(p.Type(browser.Enter))
	p.do(p.Until(`document.querySelector('#understood [role=alert]')`))
	p.do(p.Until(`![...document.querySelectorAll('[aria-label="Readings"] > li')].some(li => li.innerText.includes('load 100a'))`))
	p.tap("It no longer holds")
	p.do(p.Fill("Why the stop rule no longer holds", "a label stood off, the case is whole"))
	p.tap("Lift it under my name")
	p.see("Stop rule lifted by Mara Ostwick")
	p.do(p.Until(`document.querySelector('[data-action]')?.dataset.action !== 'stop_unsafe'`))
	p.line("load 100a 15s 9.9v", true)
	p.do(p.Until(`[...document.querySelectorAll('[aria-label="Readings"] > li')].some(li => li.innerText.includes('load 100a 15s 9.9v'))`))
}

// TestFormsPutAwayAndReloaded begins the label twice: put away, it is gone; with the page
// opened anew, it is there again.
func TestFormsPutAwayAndReloaded(t *testing.T) {
	p := enter(t, 1280, 800, "Jonah Pell", "WS 204 K")
	p.stage("Arrive")
	rating := func(want string) {
		t.Helper()
		p.tap("Complete the label")
		p.do(p.Until(`[...document.querySelectorAll('[role=dialog] input')].some(i => i.value === '` + want + `')`))
	}
	rating("650")
	p.do(p.Fill("Rating, A", "651"))
	p.do(p.TapIn("[role=dialog]", "Close"))
	p.do(p.Until(`!document.querySelector('[role=dialog]')`))
	rating("650")
	p.do(p.Fill("Rating, A", "652"))
	address, err := browser.JS[string](p.Page, "location.pathname")
	p.do(err)
	p.do(p.Open(address))
	rating("652")
}
