package web

import (
	"context"
	"crypto/subtle"
	"errors"
	"net/http"

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
	Shop       *record.Shop   `json:"shop"`
	Demo       []DemoPerson   `json:"demo"`
	Release    string         `json:"release"`
}

type signInInput struct {
	Body struct {
		SignIn   string `json:"sign_in" maxLength:"64"`
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

func (s *Server) sessionAPI(api huma.API) {
	get(s, api, "/hello", "hello", "Who is signed in, and what a browser needs to begin",
		func(ctx context.Context, _ *none) (Hello, error) {
			return s.hello(ctx, who(ctx))
		})
	post(s, api, "/sign-in", "signIn", "Sign in",
		s.signIn)
	post(s, api, "/sign-out", "signOut", "Sign out",
		func(ctx context.Context, _ *none) (Hello, error) {
			if err := s.sessions.Destroy(ctx); err != nil {
				return Hello{}, err
			}
			return s.hello(ctx, people.Person{})
		})
	post(s, api, "/set-up", "setUp", "Set the shop up, once, with the code printed in the terminal",
		s.setUp)
}

func (s *Server) hello(ctx context.Context, p people.Person) (Hello, error) {
	h := Hello{Demo: s.config.DemoHint, Release: s.config.Release}
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
	sh, err := s.shop.Shop(ctx)
	h.Person, h.Shop = &p, &sh
	return h, err
}

func (s *Server) signIn(ctx context.Context, in *signInInput) (Hello, error) {
	p, err := s.shop.SignIn(ctx, in.Body.SignIn, in.Body.Password)
	if errors.Is(err, shop.ErrNotFound) {
		return Hello{}, newProblem(http.StatusUnauthorized, "That name and password do not belong together.")
	}
	if err != nil {
		return Hello{}, err
	}
	return s.begin(ctx, p)
}

// begin starts a session under a fresh token.
func (s *Server) begin(ctx context.Context, p people.Person) (Hello, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return Hello{}, err
	}
	s.sessions.Put(ctx, sessionPerson, p.ID.String())
	return s.hello(ctx, p)
}

func (s *Server) setUp(ctx context.Context, in *setUpInput) (Hello, error) {
	b := in.Body
	if s.config.SetUpCode == "" || subtle.ConstantTimeCompare([]byte(b.Code), []byte(s.config.SetUpCode)) != 1 {
		return Hello{}, newProblem(
			http.StatusForbidden,
			"That is not the code. It is printed in the terminal where Grapnel was started.",
			ProblemField{
				Field:   "code",
				Given:   b.Code,
				Allowed: "the code from the terminal",
				Code:    "problem.code",
				Text:    "The code is printed in the terminal where Grapnel was started.",
				Suggest: []string{},
			},
		)
	}
	p, err := s.shop.SetUp(ctx, shop.SetUp{ShopName: b.ShopName, TimeZone: b.TimeZone, Name: b.Name, SignIn: b.SignIn, Password: b.Password})
	if err != nil {
		return Hello{}, err
	}
	return s.begin(ctx, p)
}
