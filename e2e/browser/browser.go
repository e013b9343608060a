// Package browser drives the real interface in headless Chromium as a person
// would: it opens pages, types, taps what is written on a button, and waits for
// what can be read. It prefers waiting for conditions to sleeping.
package browser

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/storage"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// Patience is how long a condition is waited for: generous, for machines that
// are shared.
const Patience = 2 * time.Minute

// Browser is one headless Chromium with a profile of its own.
type Browser struct {
	ctx    context.Context
	cancel []context.CancelFunc
	dir    string
}

// Start runs Chromium. Close ends it.
func Start() (*Browser, error) {
	dir, err := os.MkdirTemp("", "grapnel-chromium-")
	if err != nil {
		return nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath(program()), chromedp.NoSandbox, chromedp.DisableGPU, chromedp.UserDataDir(dir),
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-sync", true),
		// A page lives for seconds here: nothing is made ready for another, nothing compiled to be quick in an hour.
		chromedp.Flag("disable-features", "Translate,BlinkGenPropertyTrees,SpareRendererForSitePerProcess,PreloadTopChromeWebUI,PreloadTopChromeWebUILessNavigations,MediaRouter"), chromedp.Flag("js-flags", "--no-opt"),
		chromedp.Flag("font-render-hinting", "none"), chromedp.Flag("lang", "en-GB"))
	allocator, cancelAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, cancel := chromedp.NewContext(allocator)
	b := &Browser{ctx: ctx, cancel: []context.CancelFunc{cancel, cancelAllocator}, dir: dir}
	// The first call starts the browser; it takes no time limit.
	if err := chromedp.Do(ctx); err != nil {
		return nil, errors.Join(fmt.Errorf("chromium (Debian's package chromium-headless-shell): %w", err), b.Close())
	}
	return b, nil
}

// program is Debian's headless Chromium: the one without a window, which takes a third less
// of the machine, else the whole browser.
func program() string {
	for _, name := range []string{"chromium-headless-shell", "chromium"} {
		if path, err := exec.LookPath(name); err == nil {
			return path
		}
	}
	return "chromium"
}

// Close ends the browser and removes its profile.
func (b *Browser) Close() error {
	for _, cancel := range b.cancel {
		cancel()
	}
	return os.RemoveAll(b.dir)
}

// Page is one tab.
type Page struct {
	ctx  context.Context
	end  context.CancelFunc
	base string
	// Console gathers errors the page reports.
	Console []string
}

// Page opens a tab of the given size on a server; the browser knows of it what its other
// pages know.
func (b *Browser) Page(base string, width, height int64) (*Page, error) {
	return b.page(base, width, height)
}

// Private opens a tab of the given size on a server that shares nothing with any other:
// no cookies, no storage, no worker.
func (b *Browser) Private(base string, width, height int64) (*Page, error) {
	return b.page(base, width, height, chromedp.WithNewBrowserContext())
}

func (b *Browser) page(base string, width, height int64, options ...chromedp.ContextOption) (*Page, error) {
	ctx, cancel := chromedp.NewContext(b.ctx, options...)
	p := &Page{ctx: ctx, end: cancel, base: base}
	// Each believes it is the one looked at, however many there are.
	err := chromedp.Do(ctx, chromedp.EmulateViewport(width, height))
	if err == nil {
		_, err = chromedp.Call(ctx, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true})
	}
	if err != nil {
		cancel()
		return nil, err
	}
	go func() {
		for message, err := range chromedp.Console(ctx) {
			if err != nil {
				return
			}
			if message.Type == "error" {
				p.Console = append(p.Console, fmt.Sprint(message))
			}
		}
	}()
	return p, nil
}

// Close closes the tab.
func (p *Page) Close() { p.end() }

func (p *Page) do(steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	return chromedp.Do(ctx, steps...)
}

// Open goes to an address of the server.
func (p *Page) Open(path string) error { return p.do(chromedp.Navigate(p.base + path)) }

// JS evaluates an expression in the page.
func JS[T any](p *Page, expression string) (T, error) {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	return chromedp.Run(ctx, chromedp.Evaluate[T](expression, chromedp.EvalAwaitPromise))
}

// Drawn waits until what was changed has been drawn.
func (p *Page) Drawn() error {
	_, err := JS[bool](p, `new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(() => drawn(true)))))`)
	return err
}

// Back goes back in the history, as the browser's own button does.
func (p *Page) Back() error {
	_, err := JS[bool](p, `(history.back(), true)`)
	return err
}

// How often a page is looked at while something is waited for: often at first, then at
// leisure, since a look costs the page a layout.
const (
	pollLeast = 15 * time.Millisecond
	pollMost  = 120 * time.Millisecond
)

// Until waits for an expression to become true.
func (p *Page) Until(expression string) error {
	deadline := time.Now().Add(Patience)
	wait := pollLeast
	for {
		ok, err := JS[bool](p, "Boolean("+expression+")")
		if err == nil && ok {
			return nil
		}
		if time.Now().After(deadline) {
			text, _ := p.Text()
			text = strings.Join(strings.Fields(text), " ")
			text = text[:min(len(text), 6000)]
			if shot := os.Getenv("GRAPNEL_E2E_SHOT"); shot != "" {
				_ = p.Shot(shot)
			}
			return fmt.Errorf("waited in vain for %s (%v); the page reads:\n%s", expression, err, text)
		}
		time.Sleep(wait)
		wait = min(2*wait, pollMost)
	}
}

// See waits until a text can be read on the page. Blanks of any kind are equal.
func (p *Page) See(text string) error {
	return p.Until(`document.body.innerText.replace(/\s+/g,' ').includes(` + strconv.Quote(strings.Join(strings.Fields(text), " ")) + `)`)
}

// Gone waits until a text can no longer be read.
func (p *Page) Gone(text string) error {
	return p.Until(`!document.body.innerText.replace(/\s+/g,' ').includes(` + strconv.Quote(strings.Join(strings.Fields(text), " ")) + `)`)
}

// Text is what can be read on the page.
func (p *Page) Text() (string, error) { return JS[string](p, "document.body.innerText") }

// find is an expression for the first visible thing to tap with a name.
const find = `((name, within) => {
	const plain = s => (s || '').replace(/\s+/g, ' ').trim()
	const own = e => (plain(e.getAttribute('aria-label')) || plain(e.innerText) || plain(e.textContent)).toLowerCase()
	const shown = [...document.querySelectorAll('button,a,[role=button],[role=link],[role=radio],[role=menuitem],[role=option],summary,label')].filter(e =>
		e.closest(within) && e.getClientRects().length > 0 && getComputedStyle(e).visibility !== 'hidden' && !e.disabled)
	const wanted = name.toLowerCase()
	return shown.find(e => own(e) === wanted) ?? shown.find(e => own(e).startsWith(wanted))
})`

// Shown reports whether something to tap with just that name is in sight now.
func (p *Page) Shown(name string) (bool, error) {
	found := find + "(" + strconv.Quote(name) + `, "body")`
	return JS[bool](p, `(e => !!e && (e.getAttribute('aria-label') || e.innerText).replace(/\s+/g, ' ').trim().toLowerCase() === `+
		strconv.Quote(strings.ToLower(name))+`)(`+found+`)`)
}

// Tap presses what carries a name: its label or text, else the start of it.
func (p *Page) Tap(name string) error { return p.TapIn("body", name) }

// TapIn presses what carries a name within a part of the page, by its selector.
func (p *Page) TapIn(within, name string) error {
	target := find + "(" + strconv.Quote(name) + ", " + strconv.Quote(within) + ")"
	for range 5 {
		if err := p.Until(target); err != nil {
			return err
		}
		// What is drawn anew between the look and the tap, or moves away under it, is looked for again.
		at, err := p.still(target)
		if err != nil {
			continue
		}
		if hit, err := p.press(target, at); err != nil || hit {
			return err
		}
	}
	return fmt.Errorf("%s does not stand still", name)
}

// press clicks on a spot and reports whether that took what it was meant for, which it does
// not when the thing moves between down and up. A page that is left by it has taken it.
func (p *Page) press(target string, at point) (bool, error) {
	const watch = `(e => {
		window.missed = undefined
		window.tappedAt = location.href
		let down = false
		addEventListener('pointerdown', d => { down = e.contains(d.target) }, {capture: true, once: true})
		// What opens a menu does so on the way down, and the menu lies over it on the way up.
		addEventListener('click', c => { window.missed = !e.contains(c.target) && !(down && e.matches('[aria-haspopup]')) }, {capture: true, once: true})
		return true
	})(`
	if _, err := JS[bool](p, watch+target+")"); err != nil {
		return false, nil
	}
	if err := p.do(chromedp.MouseClickXY(at.X, at.Y)); err != nil {
		return false, err
	}
	// What was drawn anew under the tap is another thing of the same name: the page it led to tells.
	missed, err := JS[bool](p, "window.missed === true && window.tappedAt === location.href")
	return err != nil || !missed, nil
}

type point struct{ X, Y float64 }

// still waits until an element has stopped moving and says where it is.
func (p *Page) still(target string) (point, error) {
	var before point
	for range 40 {
		at, err := JS[point](
			p,
			`(e => { e.scrollIntoView({block:'center'}); const r = e.getBoundingClientRect(); return {X: r.x + r.width/2, Y: r.y + r.height/2} })(`+target+`)`,
		)
		if err != nil {
			return at, err
		}
		if at == before {
			return at, nil
		}
		before = at
		time.Sleep(40 * time.Millisecond)
	}
	return before, nil
}

// Drag takes what carries a name, in small steps, to the middle of what a selector names,
// and lets it go there.
func (p *Page) Drag(name, to string) error {
	target := find + "(" + strconv.Quote(name) + `, "body")`
	if err := p.Until(target); err != nil {
		return err
	}
	from, err := p.still(target)
	if err != nil {
		return err
	}
	goal, err := p.middle(to)
	if err != nil {
		return err
	}
	left := func(e *input.DispatchMouseEventParams) {
		e.Button, e.Buttons, e.ClickCount = input.MouseButtonLeft, 1, 1
	}
	steps := []chromedp.Action[chromedp.Void]{chromedp.MouseEvent(chromedp.MousePressed, from.X, from.Y, left)}
	for i := 1; i <= 10; i++ {
		share := float64(i) / 10
		steps = append(steps, chromedp.MouseEvent(chromedp.MouseMoved, from.X+(goal.X-from.X)*share, from.Y+(goal.Y-from.Y)*share, left))
	}
	if err := p.do(steps...); err != nil {
		return err
	}
	// A hand lets go when it sees the thing there, and follows what has moved meanwhile.
	for there := false; !there; {
		if err := p.Drawn(); err != nil {
			return err
		}
		now, err := p.middle(to)
		if err != nil {
			return err
		}
		there, goal = now == goal, now
		if err := p.do(chromedp.MouseEvent(chromedp.MouseMoved, goal.X, goal.Y, left)); err != nil {
			return err
		}
	}
	if err := p.Drawn(); err != nil {
		return err
	}
	return p.do(chromedp.MouseEvent(chromedp.MouseReleased, goal.X, goal.Y, left))
}

// middle is where the middle of an element stands now.
func (p *Page) middle(selector string) (point, error) {
	return JS[point](p, `(r => ({X: r.x + r.width/2, Y: r.y + r.height/2}))(document.querySelector(`+strconv.Quote(selector)+`).getBoundingClientRect())`)
}

// Submit presses a form's own button, not a link that carries the same name.
func (p *Page) Submit() error {
	const button = `[...document.querySelectorAll('button[type=submit]')].find(e => e.getClientRects().length > 0 && !e.disabled)`
	if err := p.Until(button); err != nil {
		return err
	}
	at, err := p.still(button)
	if err != nil {
		return err
	}
	return p.do(chromedp.MouseClickXY(at.X, at.Y))
}

// Fill puts the caret into the field with a label and types.
func (p *Page) Fill(label, text string) error {
	field := `(name => [...document.querySelectorAll('input,textarea,select')].find(e => ((e.getAttribute('aria-label') || e.labels?.[0]?.innerText || '').trim().toLowerCase().startsWith(name.toLowerCase())) && e.getClientRects().length > 0))(` + strconv.Quote(
		label,
	) + `)`
	if err := p.Until(field); err != nil {
		return err
	}
	if _, err := JS[bool](p, `(e => { e.focus(); e.select && e.select(); return true })(`+field+`)`); err != nil {
		return err
	}
	return p.Type(text)
}

// Type types into whatever has the focus.
func (p *Page) Type(text string) error {
	if text == " " {
		return p.strike("Space", " ", 32)
	}
	for i, part := range strings.Split(text, Enter) {
		if i > 0 {
			if err := p.strike("Enter", "\r", 13); err != nil {
				return err
			}
		}
		if part == "" {
			continue
		}
		if err := p.do(chromedp.KeyEvent(part)); err != nil {
			return err
		}
	}
	return nil
}

// strike presses a key as one event: what the page makes of the key going down decides
// whether it does what it does by itself, as with a hand's. A space in two events scrolls a
// page that had taken it for itself.
func (p *Page) strike(code, text string, number int64) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	key := code
	if text == " " {
		key = text
	}
	down := input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyDown, Key: key, Code: code, Text: text, WindowsVirtualKeyCode: number}
	up := input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyUp, Key: key, Code: code, WindowsVirtualKeyCode: number}
	_, pressed := chromedp.Call(ctx, input.DispatchKeyEvent, down)
	_, left := chromedp.Call(ctx, input.DispatchKeyEvent, up)
	return errors.Join(pressed, left)
}

// Keys of a keyboard.
const (
	Enter  = kb.Enter
	Escape = kb.Escape
	Up     = kb.ArrowUp
	Down   = kb.ArrowDown
	Right  = kb.ArrowRight
	Left   = kb.ArrowLeft
	Tab    = kb.Tab
)

// Shot takes a PNG of what is on the screen.
func (p *Page) Shot(path string) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	png, err := chromedp.Run(ctx, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	return os.WriteFile(path, png, 0o644)
}

// ScrollUp goes back to the top of the page.
func (p *Page) ScrollUp() error {
	_, err := JS[bool](p, "(scrollTo(0, 0), true)")
	return err
}

// Theme switches between light and dark.
func (p *Page) Theme(theme string) error {
	_, err := JS[bool](p, `(localStorage.setItem('grapnel-theme', '`+theme+`'), document.documentElement.dataset.theme = '`+theme+`', true)`)
	return err
}

// Offline cuts or restores the page's line to the server.
func (p *Page) Offline(off bool) error {
	if !off {
		return p.conditions()
	}
	return p.conditions(&network.Conditions{Offline: true, DownloadThroughput: -1, UploadThroughput: -1})
}

// Slow makes the page's line as slow as one of so many kilobits a second each way,
// with a wait before every answer.
func (p *Page) Slow(kilobits float64, wait time.Duration) error {
	bytes := kilobits * 1000 / 8
	return p.conditions(&network.Conditions{Latency: float64(wait.Milliseconds()), DownloadThroughput: bytes, UploadThroughput: bytes})
}

func (p *Page) conditions(rules ...*network.Conditions) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	if _, err := chromedp.Call(ctx, network.Enable, network.EnableParams{}); err != nil {
		return err
	}
	if rules == nil {
		rules = []*network.Conditions{}
	}
	_, err := chromedp.Call(
		ctx,
		network.EmulateNetworkConditionsByRule,
		network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: rules},
	)
	return err
}

// Forget makes the browser forget every file it keeps of the server, but not who is
// signed in.
func (p *Page) Forget() error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	_, cleared := chromedp.Call(ctx, network.ClearBrowserCache, cdp.Empty{})
	_, err := chromedp.Call(
		ctx,
		storage.ClearDataForOrigin,
		storage.ClearDataForOriginParams{Origin: p.base, StorageTypes: "cache_storage,service_workers"},
	)
	return errors.Join(cleared, err)
}

// TextSize sets the browser's own size of text, in pixels; 16 is what it begins with.
func (p *Page) TextSize(pixels int64) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	_, err := chromedp.Call(ctx, page.SetFontSizes, page.SetFontSizesParams{FontSizes: &page.FontSizes{Standard: pixels, Fixed: pixels}})
	return err
}

// LessMotion asks the page for no more motion than it needs, as a person's settings do.
func (p *Page) LessMotion() error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	_, err := chromedp.Call(
		ctx,
		emulation.SetEmulatedMedia,
		emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}},
	)
	return err
}

// AsPrinted shows the page as paper would have it, or as a screen again.
func (p *Page) AsPrinted(on bool) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	media := map[bool]string{true: "print"}[on]
	_, err := chromedp.Call(ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: media})
	return err
}

// PrintedPages prints the page to PDF and counts its sheets.
func (p *Page) PrintedPages() (int, error) {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	pdf, err := chromedp.Run(ctx, chromedp.PrintToPDF(chromedp.PDFPreferCSSPageSize()))
	if err != nil {
		return 0, err
	}
	return strings.Count(string(pdf), "/Type /Page\n"), nil
}

// Upload gives files to a file input.
func (p *Page) Upload(selector string, files ...string) error {
	return p.do(chromedp.SetUploadFiles(chromedp.CSS(selector), files))
}

// Beside opens another tab of the same person: it knows what this one knows.
func (p *Page) Beside(width, height int64) (*Page, error) {
	b := &Browser{ctx: p.ctx}
	return b.page(p.base, width, height)
}

// Before has a script run in every page that is opened from now on, before anything of
// the page itself.
func (p *Page) Before(script string) error {
	ctx, cancel := context.WithTimeout(p.ctx, Patience)
	defer cancel()
	_, err := chromedp.Call(
		ctx,
		page.AddScriptToEvaluateOnNewDocument,
		page.AddScriptToEvaluateOnNewDocumentParams{Source: script},
	)
	return err
}

// Size makes the window another size.
func (p *Page) Size(width, height int64) error { return p.do(chromedp.EmulateViewport(width, height)) }
