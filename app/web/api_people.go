package web

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/people"
	"grapnel/app/record"
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
}
