package web

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
)

type personInput struct {
	Body struct {
		ID       record.ID `json:"id" format:"uuid"`
		Name     string    `json:"name" maxLength:"200"`
		SignIn   string    `json:"sign_in" maxLength:"64"`
		Role     string    `json:"role" maxLength:"16"`
		Password string    `json:"password" maxLength:"200"`
	}
}

// PersonPath names the person in an address.
type PersonPath struct {
	PersonID record.ID `path:"person"`
}

type changePersonInput struct {
	PersonPath
	Body struct {
		Name   string `json:"name" maxLength:"200"`
		Role   string `json:"role" maxLength:"16"`
		Active bool   `json:"active" doc:"Whether they may come in"`
	}
}

func (s *Server) peopleAPI(api huma.API) {
	get(s, api, "/people", "people", "Who works here",
		func(ctx context.Context, _ *none) ([]people.Person, error) {
			return s.shop.People(ctx, who(ctx))
		})
	post(s, api, "/people", "addPerson", "Add someone; the owner only",
		func(ctx context.Context, in *personInput) (people.Person, error) {
			b := in.Body
			return s.shop.AddPerson(ctx, who(ctx), people.Person{ID: b.ID, Name: b.Name, SignIn: b.SignIn, Role: people.Role(b.Role)}, b.Password)
		})
	put(s, api, "/people/{person}", "changePerson", "Change somebody's name or role, or switch them off and on again; the owner only",
		func(ctx context.Context, in *changePersonInput) (people.Person, error) {
			b := in.Body
			return s.shop.ChangePerson(ctx, who(ctx), people.Person{ID: in.PersonID, Name: b.Name, Role: people.Role(b.Role), Active: b.Active})
		})
	post(s, api, "/people/{person}/reset", "resetPerson", "Make a code with which somebody sets another password, told once; the owner only",
		func(ctx context.Context, in *PersonPath) (shop.ResetCode, error) {
			return s.shop.MakeReset(ctx, who(ctx), in.PersonID)
		})
	remove(s, api, "/people/{person}/sessions", "endSessions", "Sign somebody out everywhere; the owner only",
		func(ctx context.Context, in *PersonPath) ([]people.Person, error) {
			if err := s.shop.EndSessions(ctx, who(ctx), in.PersonID); err != nil {
				return nil, err
			}
			return s.shop.People(ctx, who(ctx))
		})
}
