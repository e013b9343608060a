package web

import (
	"context"
	"net/http"

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
	add(s, api, operation{method: http.MethodGet, path: "/people", id: "people", about: "Who works here"}, func(ctx context.Context, _ *none) ([]people.Person, error) {
		return s.shop.People(ctx, who(ctx))
	})
	add(s, api, operation{method: http.MethodPost, path: "/people", id: "addPerson", about: "Add someone; the owner only"}, func(ctx context.Context, in *personInput) (people.Person, error) {
		b := in.Body
		return s.shop.AddPerson(ctx, who(ctx), people.Person{ID: b.ID, Name: b.Name, SignIn: b.SignIn, Role: people.Role(b.Role)}, b.Password)
	})
}
