package web

import (
	"cmp"
	"context"
	"crypto/subtle"
	"errors"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
)

// Hello is what a browser asks first: is anybody signed in, does the shop need
// setting up, is this the demo.
type Hello struct {
	NeedsSetUp bool           `json:"needs_set_up"`
	Person     *people.Person `json:"person"`
	// May are the operations that whoever is signed in may do.
	May []string `json:"may"`
	// Warnings are what the owner has to see to; nobody else is told.
	Warnings []Warning    `json:"warnings"`
	Shop     *record.Shop `json:"shop"`
	Demo     []DemoPerson `json:"demo"`
	Release  string       `json:"release"`
}

type signInInput struct {
	Body struct {
		SignIn   string `json:"sign_in" maxLength:"64"`
		Password string `json:"password" maxLength:"200"`
		Second   string `json:"second,omitempty" maxLength:"40" doc:"The code of the phone, or a recovery code, where a second step is asked for"`
	}
}

type resetInput struct {
	Body struct {
		SignIn   string `json:"sign_in" maxLength:"64"`
		Code     string `json:"code" maxLength:"40"`
		Password string `json:"password" maxLength:"200"`
	}
}

type setUpInput struct {
	Body struct {
		Code     string `json:"code" maxLength:"64"`
		ShopName string `json:"shop_name" maxLength:"200"`
		TimeZone string `json:"time_zone" maxLength:"64"`
		Name     string `json:"name" maxLength:"200"`
		SignIn   string `json:"sign_in" maxLength:"64"`
		Password string `json:"password" maxLength:"200"`
	}
}

type sessionInput struct {
	SessionID record.ID `path:"session"`
}

type passwordInput struct {
	Body struct {
		Had      string `json:"had" maxLength:"200" doc:"The password as it is"`
		Password string `json:"password" maxLength:"200" doc:"What it becomes"`
	}
}

type secondInput struct {
	Body struct {
		Code string `json:"code" maxLength:"12"`
	}
}

type dropSecondInput struct {
	Body struct {
		Had string `json:"had" maxLength:"200" doc:"The password"`
	}
}

// SecondBegun is what an authenticator on a phone takes: its code as one path in a square,
// or the secret typed.
type SecondBegun struct {
	URI    string `json:"uri"`
	Secret string `json:"secret"`
	Side   int    `json:"side"`
	Path   string `json:"path"`
}

// Seal is what a device seals with for a person, in base64; it is forgotten there as soon as nobody
// is signed in.
type Seal struct {
	Person record.ID `json:"person"`
	Key    string    `json:"key"`
}

// RecoveryCodes stand in for a lost phone, once each; they are told once.
type RecoveryCodes struct {
	Codes []string `json:"codes"`
}

func (s *Server) sessionAPI(api huma.API) {
	get(s, api, "/hello", "hello", "Who is signed in, what they may do, and what a browser needs to begin",
		func(ctx context.Context, _ *none) (Hello, error) {
			return s.hello(ctx, who(ctx))
		})
	post(s, api, "/sign-in", "signIn", "Sign in; a second step is asked for by a problem of the field second", s.signIn)
	post(s, api, "/sign-out", "signOut", "Sign out", s.signOut)
	post(s, api, "/set-up", "setUp", "Set the shop up, once, with the code printed in the terminal", s.setUp)
	post(s, api, "/reset", "useResetCode", "Set another password with a code that was handed out, and sign in", s.reset)
	get(s, api, "/me/sessions", "mySessions", "Where I am signed in, the latest used first",
		func(ctx context.Context, _ *none) ([]people.Session, error) { return s.mySessions(ctx, nil) })
	get(s, api, "/me/seal", "mySeal", "What a device seals with what I did there and it has not sent yet",
		func(ctx context.Context, _ *none) (Seal, error) {
			key, err := s.shop.SealKey(ctx, who(ctx))
			return Seal{Person: who(ctx).ID, Key: key}, err
		})
	remove(s, api, "/me/sessions/{session}", "endMySession", "Sign out somewhere else",
		func(ctx context.Context, in *sessionInput) ([]people.Session, error) {
			return s.mySessions(ctx, s.shop.EndSession(ctx, who(ctx), in.SessionID))
		})
	remove(s, api, "/me/sessions", "endMyOtherSessions", "Sign out everywhere but here",
		func(ctx context.Context, _ *none) ([]people.Session, error) {
			if err := s.shop.EndOthers(ctx, who(ctx), from(ctx).ID); err != nil {
				return nil, err
			}
			return s.mySessions(ctx, s.know(ctx, who(ctx)))
		})
	post(s, api, "/me/password", "changePassword", "Change my password; every other session of mine ends",
		func(ctx context.Context, in *passwordInput) (Hello, error) {
			if err := s.shop.ChangePassword(ctx, who(ctx), from(ctx), in.Body.Had, in.Body.Password); err != nil {
				return Hello{}, err
			}
			s.noted(ctx, "password changed", who(ctx).SignIn)
			if err := s.know(ctx, who(ctx)); err != nil {
				return Hello{}, err
			}
			return s.hello(ctx, who(ctx))
		})
	post(s, api, "/me/second", "beginSecond", "Begin a second step at signing in: what a phone takes", s.beginSecond)
	put(s, api, "/me/second", "confirmSecond", "Switch the second step on, with a code that the phone shows",
		func(ctx context.Context, in *secondInput) (RecoveryCodes, error) {
			codes, err := s.shop.ConfirmSecond(ctx, who(ctx), in.Body.Code)
			return RecoveryCodes{codes}, err
		})
	post(s, api, "/me/second/off", "dropSecond", "Switch the second step off, with my password",
		func(ctx context.Context, in *dropSecondInput) (Hello, error) {
			if err := s.shop.DropSecond(ctx, who(ctx), from(ctx), in.Body.Had); err != nil {
				return Hello{}, err
			}
			p := who(ctx)
			p.SecondStep = false
			return s.hello(ctx, p)
		})
}

func (s *Server) hello(ctx context.Context, p people.Person) (Hello, error) {
	h := Hello{Demo: s.config.DemoHint, Release: s.config.Release, May: p.Role.Rights(), Warnings: []Warning{}}
	if h.Demo == nil {
		h.Demo = []DemoPerson{}
	}
	needs, err := s.shop.NeedsSetUp(ctx)
	if err != nil {
		return h, err
	}
	h.NeedsSetUp = needs
	if p.ID.IsZero() {
		return h, nil
	}
	sh, err := s.shop.Shop(ctx, p)
	if err != nil {
		return h, err
	}
	h.Person, h.Shop = &p, &sh
	h.Warnings, err = s.warnedOf(ctx, p)
	return h, err
}

// mySessions are the sessions of whoever asks after a change, or the change's error.
func (s *Server) mySessions(ctx context.Context, err error) ([]people.Session, error) {
	if err != nil {
		return nil, err
	}
	return s.shop.Sessions(ctx, who(ctx), from(ctx).ID)
}

func (s *Server) beginSecond(ctx context.Context, _ *none) (SecondBegun, error) {
	secret, err := s.shop.BeginSecond(ctx, who(ctx))
	if err != nil {
		return SecondBegun{}, err
	}
	sh, err := s.shop.Shop(ctx, who(ctx))
	if err != nil {
		return SecondBegun{}, err
	}
	uri := people.SecondURI(secret, sh.Name, who(ctx).SignIn)
	side, path, err := codeOf(uri)
	return SecondBegun{URI: uri, Secret: secret, Side: side, Path: path}, err
}

// attempt is a try to come in from where a request comes from.
func (s *Server) attempt(ctx context.Context, signIn, secret string) people.Attempt {
	a := people.Attempt{SignIn: signIn, Secret: secret, Address: subnet(s.peer(request(ctx))), Device: people.HashDevice(s.carried(ctx))}
	if here := from(ctx); !here.ID.IsZero() {
		a.From = &here
	}
	return a
}

func (s *Server) signIn(ctx context.Context, in *signInInput) (Hello, error) {
	a := s.attempt(ctx, in.Body.SignIn, in.Body.Password)
	a.Second = in.Body.Second
	p, err := s.shop.Enter(ctx, a)
	switch {
	case err == nil:
		return s.begin(ctx, p)
	case errors.Is(err, people.ErrSecond):
		s.refusedEntry(ctx, a, errors.Is(err, shop.ErrNotFound), "second step")
		return Hello{}, secondAsked(in.Body.Second)
	}
	s.refusedEntry(ctx, a, true, err.Error())
	if errors.Is(err, shop.ErrNotFound) {
		return Hello{}, newProblem(http.StatusUnauthorized, "That name and password do not belong together.")
	}
	return Hello{}, err
}

// secondAsked asks for the second step, again where a code was given.
func secondAsked(given string) *Problem {
	text := "Now the code that your phone shows, or one of your recovery codes."
	if given != "" {
		text = "That code is not right, or was used before. Wait for the next one."
	}
	return newProblem(http.StatusUnauthorized, text, ProblemField{
		Field: "second", Given: "", Allowed: "six figures, or a recovery code", Code: "problem.second", Text: text, Suggest: []string{},
	})
}

// refusedEntry writes down that somebody was not let in; what they typed as a name may be a
// password, and is left out where it is nobody's.
func (s *Server) refusedEntry(ctx context.Context, a people.Attempt, counts bool, why string) {
	if !counts {
		return
	}
	r := request(ctx)
	s.log.InfoContext(ctx, "sign-in refused", slog.String("address", a.Address), slog.String("why", why), slog.String("request_id", requestID(r.Context())))
}

// noted writes down what somebody did to what lets them in.
func (s *Server) noted(ctx context.Context, what, signIn string) {
	s.log.InfoContext(ctx, what, slog.String("person", signIn), slog.String("address", s.peer(request(ctx)).String()),
		slog.String("request_id", requestID(ctx)))
}

func (s *Server) signOut(ctx context.Context, _ *none) (Hello, error) {
	if p := who(ctx); !p.ID.IsZero() {
		if err := s.shop.EndSession(ctx, p, from(ctx).ID); err != nil {
			return Hello{}, err
		}
		s.noted(ctx, "signed out", p.SignIn)
	}
	if err := s.sessions.Destroy(ctx); err != nil {
		return Hello{}, err
	}
	return s.hello(ctx, people.Person{})
}

// begin starts a session under a fresh token; one that was here before ends.
func (s *Server) begin(ctx context.Context, p people.Person) (Hello, error) {
	if before := from(ctx); !before.ID.IsZero() {
		if err := s.shop.EndSession(ctx, who(ctx), before.ID); err != nil {
			return Hello{}, err
		}
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return Hello{}, err
	}
	r := request(ctx)
	session, err := s.shop.SignedIn(ctx, p, s.peer(r).String(), deviceOf(r.UserAgent()))
	if err != nil {
		return Hello{}, err
	}
	s.sessions.Put(ctx, sessionKey, session.ID.String())
	if err := s.know(ctx, p); err != nil {
		return Hello{}, err
	}
	s.noted(ctx, "signed in", p.SignIn)
	return s.hello(ctx, p)
}

// carried is what the device carries that asks; empty where nobody signed in on it yet.
func (s *Server) carried(ctx context.Context) string {
	if c, err := request(ctx).Cookie(s.deviceCookie()); err == nil && people.HashDevice(c.Value) != "" {
		return c.Value
	}
	return ""
}

// know makes the device known that somebody is signed in on, beside all who sign in there.
func (s *Server) know(ctx context.Context, p people.Person) error {
	device := cmp.Or(s.carried(ctx), people.NewDevice())
	http.SetCookie(answerTo(ctx), &http.Cookie{
		Name: s.deviceCookie(), Value: device, Path: "/", MaxAge: int(shop.DeviceLife.Seconds()),
		HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.config.Secure,
	})
	return s.shop.Know(ctx, p, device)
}

// mostDevice is the longest name of a device, in letters.
const mostDevice = 60

// deviceOf says in plain words what a browser says that it is: "phone, Android".
func deviceOf(agent string) string {
	contains := func(part string) bool { return strings.Contains(agent, part) }
	kind, system := "computer", ""
	for _, one := range []struct{ part, kind, system string }{
		{"iPhone", "phone", "iOS"}, {"iPad", "tablet", "iOS"}, {"Android", "tablet", "Android"},
		{"Windows", "computer", "Windows"}, {"Mac OS", "computer", "macOS"}, {"CrOS", "computer", "ChromeOS"}, {"Linux", "computer", "Linux"},
	} {
		if contains(one.part) {
			kind, system = one.kind, one.system
			break
		}
	}
	if contains("Mobile") && system == "Android" {
		kind = "phone"
	}
	if system != "" {
		return kind + ", " + system
	}
	plain := strings.Map(func(c rune) rune {
		if c < ' ' || c > '~' {
			return -1
		}
		return c
	}, agent)
	return strings.TrimSpace(plain[:min(len(plain), mostDevice)])
}

// reset sets another password by a code that was handed out.
func (s *Server) reset(ctx context.Context, in *resetInput) (Hello, error) {
	a := s.attempt(ctx, in.Body.SignIn, in.Body.Code)
	p, err := s.shop.ResetPassword(ctx, a, in.Body.Password)
	if errors.Is(err, shop.ErrNotFound) {
		s.refusedEntry(ctx, a, true, "reset code")
		text := "That name and code do not belong together, or the code was used or has run out. The owner makes another."
		return Hello{}, newProblem(http.StatusUnauthorized, text, ProblemField{
			Field: "code", Allowed: "the code that was handed out", Code: "problem.code", Text: text, Suggest: []string{},
		})
	}
	if err != nil {
		return Hello{}, err
	}
	s.noted(ctx, "password reset", p.SignIn)
	return s.begin(ctx, p)
}

func (s *Server) setUp(ctx context.Context, in *setUpInput) (Hello, error) {
	b := in.Body
	right := func() bool {
		return s.config.SetUpCode != "" && subtle.ConstantTimeCompare([]byte(b.Code), []byte(s.config.SetUpCode)) == 1
	}
	if err := s.shop.TryCode(ctx, subnet(s.peer(request(ctx))), right); err != nil {
		if !errors.Is(err, shop.ErrNotFound) {
			return Hello{}, err
		}
		text := "That is not the code. It is printed in the terminal where Grapnel was started."
		return Hello{}, newProblem(http.StatusForbidden, text, ProblemField{
			Field: "code", Given: b.Code, Allowed: "the code from the terminal", Code: "problem.code", Text: text, Suggest: []string{},
		})
	}
	p, err := s.shop.SetUp(ctx, shop.SetUp{ShopName: b.ShopName, TimeZone: b.TimeZone, Name: b.Name, SignIn: b.SignIn, Password: b.Password})
	if err != nil {
		return Hello{}, err
	}
	return s.begin(ctx, p)
}
