package web

import (
	"fmt"
	"html/template"
	"net/http"
	"strings"

	"rsc.io/qr"
)

// Trust is what a phone of the shop needs to reach Grapnel over TLS by the shop's
// own authority.
type Trust struct {
	// DER is the authority's certificate, Fingerprint its SHA-256.
	DER         []byte
	Fingerprint string
	// URL is where the phone goes once it trusts it, Page where it begins, over
	// plain HTTP.
	URL, Page string
}

// Handler serves the page that puts the authority on a phone. It needs nobody signed
// in and no TLS: a phone that does not trust us yet begins here. Whatever else is
// asked of it is sent to the TLS address.
func (t Trust) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /trust", t.page)
	mux.HandleFunc("GET /trust/grapnel.crt", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/x-x509-ca-cert")
		w.Header().Set("Content-Disposition", `attachment; filename="grapnel.crt"`)
		// The status is sent; a client that has gone cannot be told more.
		_, _ = w.Write(t.DER)
	})
	mux.HandleFunc("GET /trust/style.css", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/css; charset=utf-8")
		_, _ = w.Write([]byte(trustStyle))
	})
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, t.Page, http.StatusTemporaryRedirect)
	})
	return mux
}

const trustStyle = `body { margin: 0; background: #f3eee3; color: #15222d; font: 1.06rem/1.45 system-ui, sans-serif; }
main { max-width: 38rem; margin: 0 auto; padding: 1.2rem; }
h1 { font-size: 1.5rem; }
ol { padding-left: 1.4rem; }
li { margin: 0.8rem 0; }
a.go { display: inline-block; padding: 0.75rem 1.1rem; border-radius: 8px; background: #15222d; color: #fbf8f1; font-weight: 700; text-decoration: none; }
svg { display: block; width: 12rem; height: 12rem; background: #fff; border: 1px solid #d8cfbd; }
small { color: #525c65; }
code { font: 1rem/1.6 ui-monospace, monospace; overflow-wrap: anywhere; }
`

var trustPage = template.Must(template.New("trust").Parse(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Grapnel on this phone</title>
<link rel="stylesheet" href="/trust/style.css">
</head>
<body>
<main>
<h1>Grapnel on this phone</h1>
<p>Once for each phone or tablet of the shop. The certificate below is this workshop's own; it is good for this network only.</p>
<ol>
<li><a class="go" href="/trust/grapnel.crt">Take the certificate</a></li>
<li>Install it as a certificate authority. Android: Settings, Security, Encryption and credentials, Install a certificate, CA certificate. iPhone and iPad: Settings, Profile downloaded, Install; then General, About, Certificate trust settings, switch it on.</li>
<li><a class="go" href="{{.URL}}">Open Grapnel</a><br><small>{{.URL}}</small></li>
</ol>
<h2>Is it the right one?</h2>
<p>This page comes over a line that is not secured yet. Before the certificate is installed, compare its fingerprint (SHA-256), which the phone shows under details, with what Grapnel printed in the terminal when it was started:</p>
<p><code>{{.Fingerprint}}</code></p>
<p>Where one differs from the other, somebody stands in between: do not install it.</p>
<h2>Another phone</h2>
<p>Let its camera look at this: it opens this page there.</p>
{{.Code}}
<p><small>{{.Page}}</small></p>
</main>
</body>
</html>
`))

func (t Trust) page(w http.ResponseWriter, _ *http.Request) {
	code, err := drawCode(t.Page)
	if err != nil {
		http.Error(w, "The code cannot be drawn: "+err.Error(), http.StatusInternalServerError)
		return
	}
	h := w.Header()
	h.Set("Content-Type", "text/html; charset=utf-8")
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	// The status is sent; a client that has gone cannot be told more.
	_ = trustPage.Execute(w, struct {
		Trust
		Code template.HTML
	}{t, code})
}

// quiet is the empty margin that a QR code needs, in modules.
const quiet = 4

// drawCode is a QR code as SVG: one path, sharp at any size and on paper.
func drawCode(text string) (template.HTML, error) {
	side, path, err := codeOf(text)
	if err != nil {
		return "", err
	}
	return template.HTML(fmt.Sprintf(`<svg viewBox="0 0 %d %d" role="img" aria-label="QR code of this page's address"><path d="%s"/></svg>`, side, side, path)), nil
}

// codeOf is a QR code as one path in a square of modules, its margin counted in.
func codeOf(text string) (side int, path string, err error) {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return 0, "", err
	}
	var out strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				fmt.Fprintf(&out, "M%d %dh1v1h-1z", x+quiet, y+quiet)
			}
		}
	}
	return code.Size + 2*quiet, out.String(), nil
}
