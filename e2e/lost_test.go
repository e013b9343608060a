package e2e_test

import (
	"encoding/json"
	"strings"
	"testing"

	"grapnel/e2e/browser"
	"grapnel/e2e/fault"
)

// lies is a script that comes to everything of a shop that lies on the device: answers that were
// kept, with their addresses, what waits unsent, what was begun, and how many keys there are.
const lies = `(async () => {
	const out = { answers: [], deeds: '', drafts: JSON.stringify(sessionStorage), keys: 0 }
	for (const name of await caches.keys()) for (const request of await (await caches.open(name)).keys()) {
		if (!new URL(request.url).pathname.startsWith('/api/')) continue
		const answer = await (await caches.open(name)).match(request)
		out.answers.push(new URL(request.url).pathname + ' ' + (await answer.text()))
	}
	const db = await new Promise((done, failed) => { const asked = indexedDB.open('grapnel-deeds'); asked.onsuccess = () => done(asked.result); asked.onerror = failed })
	const all = (store) => new Promise((done) => { const asked = db.transaction(store).objectStore(store).getAll(); asked.onsuccess = () => done(asked.result) })
	out.deeds = JSON.stringify((await all('deeds')).map((row) => ({ ...row, sealed: row.sealed ? new TextDecoder('latin1').decode(row.sealed.data) : '' })))
	out.keys = (await all('keys')).length
	db.close()
	globalThis.lying = JSON.stringify(out)
})()`

// onDevice is what lies on the device.
type onDevice struct {
	Answers []string `json:"answers"`
	Deeds   string   `json:"deeds"`
	Drafts  string   `json:"drafts"`
	Keys    int      `json:"keys"`
}

// told is all of it that tells of a customer.
func (d onDevice) told() []string {
	var out []string
	for _, answer := range d.Answers {
		if strings.Contains(answer, "WS 204 K") || strings.Contains(answer, `"phone":"0`) || strings.Contains(answer, "Jonah Pell") {
			out = append(out, answer)
		}
	}
	return out
}

// script does something in the page that no person could.
func (p *person) script(text string) {
	p.t.Helper()
	_, err := browser.JS[bool](p.Page, text+`; true`)
	p.do(err)
}

// onDevice looks at what lies on the device.
func (p *person) onDevice() (out onDevice) {
	p.t.Helper()
	p.script(`globalThis.lying = ''; void ` + lies)
	p.do(p.Until(`globalThis.lying !== ''`))
	text, err := browser.JS[string](p.Page, `globalThis.lying`)
	p.do(err)
	p.do(json.Unmarshal([]byte(text), &out))
	return out
}

// TestLostTablet signs somebody out everywhere whose tablet has a job open and a reading unsent. As
// soon as the tablet hears of it nothing of a customer lies on it or stands on it; the reading is
// sealed from the start, is not sent under another's name, and is sent when its person comes back.
func TestLostTablet(t *testing.T) {
	shop, p := atHand(t, 1280, 800)
	before := linesOf(t, shop, "WS 204 K")
	p.tap("WS 204 K")
	p.see("What holds")
	shop.Line.Set(fault.Silence, nil)
	p.enterLine("12.61 v rested 3h")
	p.do(p.Fill("Reading line", "load 325a 15s 9"))
	had := p.onDevice()
	if len(had.told()) == 0 || had.Keys != 1 || !strings.Contains(had.Drafts, "load 325a") {
		t.Fatalf("nothing to lose: %d answers, %d keys, %s", len(had.told()), had.Keys, had.Drafts)
	}
	if !strings.Contains(had.Deeds, `"kind":"sealed"`) || strings.Contains(had.Deeds, "12.61") || strings.Contains(had.Deeds, "rested") {
		t.Errorf("what waits is not sealed: %s", had.Deeds)
	}
	p.do(shop.EndSessions(t.Context()))
	shop.Line.Set(fault.None, nil)
	p.see("Sign in to go on")
	p.do(p.Until(`!document.body.innerText.includes('WS 204 K') && !document.body.innerText.includes('What holds')`))
	p.do(p.Until(`(globalThis.there ??= true, caches.has('grapnel-pages').then(is => { globalThis.there = is }), !globalThis.there)`))
	p.accessible("signed out everywhere")
	now := p.onDevice()
	if len(now.told()) > 0 || now.Keys != 0 || strings.Contains(now.Drafts, "load 325a") {
		t.Errorf("it still holds %d answers, %d keys, %s: %v", len(now.told()), now.Keys, now.Drafts, now.told())
	}
	if !strings.Contains(now.Deeds, `"kind":"sealed"`) || strings.Contains(now.Deeds, "12.61") {
		t.Errorf("what waits: %s", now.Deeds)
	}
	// Another person comes: what waits is not theirs to see or to send.
	p.do(p.Open("/"))
	p.tap("Mara Ostwick")
	p.see("worst first", "1 to be sent")
	p.tap("1 to be sent")
	p.see("sealed: only they can open it", "sent when Jonah Pell is signed in")
	p.do(p.Type(browser.Escape))
	p.tap("MO: Mara Ostwick, menu", "Sign out")
	counted(t, shop, "WS 204 K", before)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.sent()
	counted(t, shop, "WS 204 K", before, "12.61 v rested 3h")
}

// TestWorkerForgets asks for a page with a session that has ended, by the worker alone: it forgets
// what it kept before any screen does.
func TestWorkerForgets(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	p.do(p.Open("/"))
	p.see("worst first")
	if had := p.onDevice(); len(had.told()) == 0 || had.Keys != 1 {
		t.Fatalf("nothing to lose: %+v", had)
	}
	// The page itself forgets nothing, as one of an earlier release.
	p.script(`CacheStorage.prototype.delete = () => Promise.resolve(false); IDBObjectStore.prototype.clear = () => { throw new Error('not by the page') }`)
	p.do(shop.EndSessions(t.Context()))
	// A server that is slow is answered for by the device.
	p.script(`globalThis.asked = 0; globalThis.ask = () => fetch('/api/today').then((answer) => { globalThis.asked = answer.status; if (answer.status !== 401) setTimeout(ask, 200) }); void ask()`)
	p.do(p.Until(`globalThis.asked === 401`))
	if now := p.onDevice(); len(now.told()) > 0 || now.Keys != 0 {
		t.Errorf("it still holds %d keys and %v", now.Keys, now.told())
	}
}
