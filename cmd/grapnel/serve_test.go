package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/store"
)

// terminal is what a person sees while the server runs.
type terminal struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (t *terminal) Write(p []byte) (int, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.text.Write(p)
}

func (t *terminal) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.text.String()
}

// dataDir is a folder that the database's own user can reach.
func dataDir(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "grapnel-serve-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	return filepath.Join(dir, "data")
}

var address = regexp.MustCompile(`Grapnel is at (https?://\S+)`)

// running starts a command that serves, gives its address, and stops it at the
// end, gracefully.
func running(t *testing.T, args ...string) (url string, screen *terminal) {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	screen = &terminal{}
	ended := make(chan int, 1)
	go func() { ended <- run(ctx, args, strings.NewReader(""), screen, screen) }()
	t.Cleanup(func() {
		stop()
		if code := <-ended; code != 0 {
			t.Errorf("%v ended with %d: %s", args, code, screen)
		}
	})
	for deadline := time.Now().Add(60 * time.Second); time.Now().Before(deadline); time.Sleep(20 * time.Millisecond) {
		if match := address.FindStringSubmatch(screen.String()); match != nil {
			return match[1], screen
		}
	}
	t.Fatalf("%v does not serve: %s", args, screen)
	return "", nil
}

func ready(t *testing.T, url string) {
	t.Helper()
	r, err := http.Get(url + "/readyz")
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		t.Errorf("%s is not ready: %s", url, r.Status)
	}
}

// asked asks by the command whether a server serves: the exit code, and what it says.
func asked(t *testing.T, dir, url string, want int, says string) {
	t.Helper()
	code, out, errs := command0([]string{"doctor", "-data", dir, "-served", url}, "")
	if code != want || !strings.Contains(out, says) {
		t.Errorf("asked %s: exit %d, want %d with %q\n%s%s", url, code, want, says, out, errs)
	}
}

// TestServe starts a shop on a private database and on one of the person's own.
func TestServe(t *testing.T) {
	dir := dataDir(t)
	url, screen := running(t, "serve", "-address", "127.0.0.1:0", "-data", dir)
	ready(t, url)
	asked(t, dir, url, 0, "ok     server       the shop can be worked in")
	asked(t, dir, strings.Replace(url, "http:", "https:", 1), exitFault, "WRONG  server")
	asked(t, dir, "127.0.0.1", exitFault, "is no address of a server")
	asked(t, dir, "http://127.0.0.1:1", exitFault, "see whether it runs")
	if !strings.Contains(screen.String(), "give the code") {
		t.Errorf("no code for the first start: %s", screen)
	}
	own, err := localdb.Start(t.Context(), localdb.Options{Dir: dataDir(t), Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := own.Stop(); err != nil {
			t.Error(err)
		}
	}()
	t.Setenv("GRAPNEL_DSN", own.DSN())
	if code, out, errs := command0([]string{"migrate"}, ""); code != 0 || !strings.Contains(out, fmt.Sprint("schema version ", store.Latest())) {
		t.Errorf("migrate: %d %s %s", code, out, errs)
	}
	t.Run("own database", func(t *testing.T) {
		url, screen := running(t, "demo", "-address", "127.0.0.1:0")
		ready(t, url)
		if !strings.Contains(screen.String(), "sign in as mara") {
			t.Errorf("nobody to sign in as: %s", screen)
		}
	})
}

// TestImportAndExport takes a job into a shop that is being served on its private
// database, and writes it back to the letter; twice is once.
func TestImportAndExport(t *testing.T) {
	dir := dataDir(t)
	url, _ := running(t, "demo", "-address", "127.0.0.1:0", "-data", dir)
	ready(t, url)
	want := strings.Replace(textJob, "12.8 v rested 3h; look none", "12.8 v rested 3h\nlook none", 1)
	code, out, errs := command0([]string{"import", "-data", dir}, textJob)
	if code != 0 || !strings.Contains(out, "5 readings") {
		t.Fatalf("import: %d %s %s", code, out, errs)
	}
	id, _, _ := strings.Cut(out, " ")
	if code, again, errs := command0([]string{"import", "-data", dir}, textJob); code != 0 || !strings.Contains(again, id+"  imported before") {
		t.Errorf("the second time: %d %s %s", code, again, errs)
	}
	for _, args := range [][]string{{"-job", id}, {"-plate", "TX 7"}} {
		code, text, errs := command0(append([]string{"export", "-data", dir}, args...), "")
		if code != 0 || text != want {
			t.Errorf("export %v: %d\n%s\nwant\n%s%s", args, code, text, want, errs)
		}
	}
	// A job of the demo: out, and its text in and out again.
	code, first, errs := command0([]string{"export", "-data", dir, "-plate", "QN 77 BT"}, "")
	if code != 0 || !strings.Contains(first, "470/760 cca en at 20") {
		t.Fatalf("export: %d %s %s", code, first, errs)
	}
	code, out, errs = command0([]string{"import", "-data", dir, "-as", "mara"}, first)
	if code != 0 {
		t.Fatalf("import: %d %s", code, errs)
	}
	id, _, _ = strings.Cut(out, " ")
	if _, second, _ := command0([]string{"export", "-data", dir, "-job", id}, ""); second != first {
		t.Errorf("came back as\n%s\nwant\n%s", second, first)
	}
	for _, c := range []struct {
		args     []string
		in, says string
	}{
		{[]string{"import", "-data", dir, "-as", "nobody"}, textJob + "# other\n", "nobody signs in"},
		{[]string{"export", "-data", dir, "-job", "seven"}, "", "a UUID"},
		{[]string{"export", "-data", dir, "-plate", "NONE 1"}, "", "no such job"},
		{[]string{"import", "-data", dir}, "battery: flooded, 12 V\n12.4 v 400c\n", "line 2.battery_c"},
	} {
		if code, out, errs := command0(c.args, c.in); code == 0 || out != "" || !strings.Contains(errs, c.says) {
			t.Errorf("%v: %d %q %q", c.args, code, out, errs)
		}
	}
	// A shop that nobody has set up yet.
	if code, _, errs := command0([]string{"import", "-data", dataDir(t)}, textJob); code != exitFault || !strings.Contains(errs, "set it up") {
		t.Errorf("no shop: %d %s", code, errs)
	}
}

// TestOwnTLS serves by the workshop's own authority: a phone that knows nothing of it
// is refused, takes the certificate from the plain page, and is let in over HTTP/2,
// whose one connection carries many streams.
func TestOwnTLS(t *testing.T) {
	dir := dataDir(t)
	url, screen := running(t, "serve", "-tls", "-address", "127.0.0.1:0", "-trust-address", "127.0.0.1:0", "-data", dir)
	if !strings.HasPrefix(url, "https://") {
		t.Fatal(url)
	}
	if _, err := http.Get(url + "/readyz"); err == nil {
		t.Error("a phone that does not know the authority is let in")
	}
	begin := regexp.MustCompile(`Phones begin at (\S+)`).FindStringSubmatch(screen.String())
	if begin == nil {
		t.Fatal(screen.String())
	}
	read := func(client *http.Client, at string) (string, *http.Response) {
		t.Helper()
		r, err := client.Get(at)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		body, err := io.ReadAll(r.Body)
		if err != nil {
			t.Fatal(err)
		}
		return string(body), r
	}
	asked(t, dir, url, 0, "the shop can be worked in")
	asked(t, dataDir(t), url, exitFault, "certificate")
	page, _ := read(http.DefaultClient, begin[1])
	for _, wanted := range []string{"/trust/grapnel.crt", url, "QR code", "<path d="} {
		if !strings.Contains(page, wanted) {
			t.Errorf("the page for phones lacks %s", wanted)
		}
	}
	der, _ := read(http.DefaultClient, strings.TrimSuffix(begin[1], "/trust")+"/trust/grapnel.crt")
	own, err := x509.ParseCertificate([]byte(der))
	if err != nil {
		t.Fatal(err)
	}
	// What a phone compares is there twice: printed where it was started, and on the page.
	sum := fmt.Sprintf("%X", sha256.Sum256(own.Raw))
	for name, text := range map[string]string{"the terminal": screen.String(), "the page": page} {
		if !strings.Contains(strings.ReplaceAll(text, " ", ""), sum) {
			t.Errorf("%s lacks the fingerprint %s", name, sum)
		}
	}
	roots := x509.NewCertPool()
	roots.AddCert(own)
	phone := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots}, ForceAttemptHTTP2: true}}
	body, r := read(phone, url+"/readyz")
	if r.ProtoMajor != 2 || body != "ok\n" || r.Header.Get("Strict-Transport-Security") == "" {
		t.Errorf("%s %q", r.Proto, body)
	}
	phone.CloseIdleConnections()
	for _, one := range slices.Concat(tls.CipherSuites(), tls.InsecureCipherSuites()) {
		config := &tls.Config{RootCAs: roots, MaxVersion: tls.VersionTLS12, CipherSuites: []uint16{one.ID}}
		conn, err := tls.Dial("tcp", strings.TrimPrefix(url, "https://"), config)
		if err != nil {
			continue
		}
		if conn.Close(); !strings.Contains(one.Name, "_GCM_") && !strings.Contains(one.Name, "_POLY1305_") {
			t.Errorf("%s is spoken", one.Name)
		}
	}
}

// TestDemoTakesOnlyItsOwn checks that the demo, told to begin anew in a folder that is
// not its own, says so by name and leaves it as it is.
func TestDemoTakesOnlyItsOwn(t *testing.T) {
	dir := dataDir(t)
	if err := os.MkdirAll(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(dir, "accounts.txt")
	if err := os.WriteFile(file, []byte("a year's work"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{"demo", "-fresh"}, {"demo"}, {"serve"}} {
		code, out, errs := command0(append(args, "-address", "127.0.0.1:0", "-data", dir), "")
		if code != exitFault || !strings.Contains(errs, dir) || !strings.Contains(errs, "accounts.txt") {
			t.Errorf("%v: %d %s %s", args, code, out, errs)
		}
	}
	if text, err := os.ReadFile(file); err != nil || string(text) != "a year's work" {
		t.Errorf("%s %v", text, err)
	}
}

// TestPlain checks at which addresses others than this machine could listen in.
func TestPlain(t *testing.T) {
	for address, want := range map[string]bool{
		"127.0.0.1:8040": false, "localhost:8040": false, "[::1]:8040": false, "0.0.0.0:8040": true, ":8040": true, "192.168.1.4:8040": true, "bench.local:8040": true,
	} {
		if got := (&serving{address: address}).plain(); got != want {
			t.Errorf("%s: %v", address, got)
		}
		if (&serving{address: address, own: true}).plain() || (&serving{address: address, proxy: "10.0.0.2"}).plain() {
			t.Errorf("%s: plain behind TLS", address)
		}
	}
	for _, proxy := range []string{"proxy.example", "10.0.0.0/40", "10.0.0.1:443"} {
		code, _, errs := command0([]string{"serve", "-behind-proxy", proxy, "-address", "127.0.0.1:0", "-data", dataDir(t)}, "")
		if code != exitBadInput || !strings.Contains(errs, "-behind-proxy") || !strings.Contains(errs, proxy) {
			t.Errorf("%s: exit %d, %s", proxy, code, errs)
		}
	}
}

// TestResetPassword makes a code at the machine, beside the server that runs, and comes in
// with it.
func TestResetPassword(t *testing.T) {
	dir := dataDir(t)
	url, _ := running(t, "demo", "-address", "127.0.0.1:0", "-data", dir)
	reset := func(args ...string) (int, string, string) {
		return command0(append([]string{"reset-password", "-shop", "demo", "-data", dir}, args...), "")
	}
	code, out, errs := reset("Edda")
	if code != 0 {
		t.Fatal(code, errs)
	}
	made, _, _ := strings.Cut(out, "\n")
	body := fmt.Sprintf(`{"sign_in":"edda","code":%q,"password":"herons on the lock"}`, made)
	r, err := http.Post(url+"/api/reset", "application/json", strings.NewReader(body))
	if err != nil || r.StatusCode != http.StatusOK {
		t.Errorf("%v %v", r, err)
	}
	for _, c := range []struct {
		args []string
		says string
	}{{[]string{"nobody"}, `"nobody"`}, {nil, "NAME"}, {[]string{"a", "b"}, "NAME"}} {
		if code, out, errs := reset(c.args...); code != exitBadInput || out != "" || !strings.Contains(errs, c.says) {
			t.Errorf("%v: exit %d, %q %q", c.args, code, out, errs)
		}
	}
}

// TestAddShop makes a second shop beside the first, whose owner comes in with the code, and
// finds what is wrong named.
func TestAddShop(t *testing.T) {
	dir := dataDir(t)
	if code, _, errs := command0([]string{"add-shop", "-data", dir, "-name", "Second", "-owner", "Oda Vane", "-sign-in", "oda"}, ""); code != exitBadInput || !strings.Contains(errs, "grapnel serve") {
		t.Errorf("before the first: exit %d, %s", code, errs)
	}
	url, screen := running(t, "serve", "-address", "127.0.0.1:0", "-data", dir)
	code := regexp.MustCompile(`give the code (\S+)`).FindStringSubmatch(screen.String())
	post := func(path, body string) int {
		t.Helper()
		r, err := http.Post(url+path, "application/json", strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		return r.StatusCode
	}
	first := fmt.Sprintf(`{"code":%q,"shop_name":"First","time_zone":"UTC","name":"Ada Quill","sign_in":"ada","password":"blue heron on the lock"}`, code[1])
	if status := post("/api/set-up", first); status != http.StatusOK {
		t.Fatal(status)
	}
	if code, _, errs := command0([]string{"add-shop", "-data", dir, "-name", "", "-owner", "Oda Vane", "-sign-in", "ADA"}, ""); code != exitBadInput || !strings.Contains(errs, "shop_name") {
		t.Errorf("without a name: exit %d, %s", code, errs)
	}
	if code, _, errs := command0([]string{"add-shop", "-data", dir, "-name", "Second", "-owner", "Oda Vane", "-sign-in", "ADA"}, ""); code != exitBadInput || !strings.Contains(errs, "sign_in") {
		t.Errorf("a name that is taken: exit %d, %s", code, errs)
	}
	exit, out, errs := command0([]string{"add-shop", "-data", dir, "-name", "Second", "-owner", "Oda Vane", "-sign-in", "oda"}, "")
	made, _, _ := strings.Cut(out, "\n")
	if exit != 0 || post("/api/reset", fmt.Sprintf(`{"sign_in":"oda","code":%q,"password":"two herons on the lock"}`, made)) != http.StatusOK {
		t.Errorf("exit %d, %s %s", exit, out, errs)
	}
}
