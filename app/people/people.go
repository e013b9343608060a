// Package people holds who works in the shop: signing in and roles.
package people

import (
	"errors"
	"strings"
	"unicode"

	"grapnel/app/fold"
	"grapnel/app/record"
	"grapnel/core/problem"
)

// ErrTaken is returned for a name, or a first start, that is already taken.
var ErrTaken = errors.New("already taken")

// ErrIDTaken is returned for a new row under an ID that another row has.
var ErrIDTaken = errors.New("that id is another row's")

// ErrForbidden is returned for what is somebody else's to do. What a role may do stands in
// the table of rights.
var ErrForbidden = errors.New("somebody else's to do")

// Role is what a person does in the shop.
type Role string

// The roles; what each may do stands in the table of rights.
const (
	Owner      Role = "owner"
	Technician Role = "technician"
	Counter    Role = "counter"
)

// Roles lists them.
func Roles() []Role { return []Role{Owner, Technician, Counter} }

// Person works in the shop.
type Person struct {
	ID           record.ID `json:"id"`
	ShopID       record.ID `json:"-"`
	Name         string    `json:"name"`
	Initials     string    `json:"initials"`
	SignIn       string    `json:"sign_in"`
	Role         Role      `json:"role"`
	PasswordHash string    `json:"-"`
	Active       bool      `json:"active"`
	// SecondStep tells that signing in takes a code of their phone besides the password;
	// SecondSecret is what the codes are made of, set before it is switched on.
	SecondStep   bool   `json:"second_step"`
	SecondSecret string `json:"-"`
}

// Limits of texts, in characters.
const (
	maxName     = 120
	leastSignIn = 2
	mostSignIn  = 64
	leastSecret = 10
	mostSecret  = 200
)

// Check reports what is wrong with a person and their password.
func (p Person) Check(found *problem.List, secret string) {
	p.checkName(found)
	if n := len([]rune(strings.TrimSpace(p.SignIn))); n < leastSignIn || n > mostSignIn || !plainName(p.SignIn) {
		allowed := problem.Range(leastSignIn, mostSignIn, "letters, figures, . - _ @")
		*found = append(*found, problem.New("problem.text", "sign_in", p.SignIn, allowed))
	}
	p.CheckSecret(found, secret)
}

// CheckChange reports what is wrong with a name and a role that are changed.
func (p Person) CheckChange(found *problem.List) { p.checkName(found) }

func (p Person) checkName(found *problem.List) {
	found.CheckText("name", p.Name, 1, maxName)
	if p.Role != Owner && p.Role != Technician && p.Role != Counter {
		*found = append(*found, problem.New("problem.code", "role", string(p.Role), "owner, technician, counter"))
	}
}

// CheckSecret reports what is wrong with a password for somebody. It is never said again.
func (p Person) CheckSecret(found *problem.List, secret string) {
	unsaid := strings.Repeat("•", min(len(secret), 12))
	if n := len(secret); n < leastSecret || n > mostSecret {
		*found = append(*found, problem.New("problem.text", "password", unsaid, problem.Range(leastSecret, mostSecret, "characters")))
	} else if Guessable(secret, p.SignIn) {
		*found = append(*found, problem.New("problem.guessable", "password", unsaid, "three or four words of your own"))
	}
}

// plainName reports a sign-in name of letters and figures that can be seen: two that
// look alike to a person must not be two.
func plainName(name string) bool {
	return !strings.ContainsFunc(strings.TrimSpace(name), func(c rune) bool {
		return !unicode.IsLetter(c) && !unicode.IsDigit(c) && !strings.ContainsRune(".-_@ ", c)
	})
}

// Complete fills in what the person does not type.
func (p *Person) Complete(shopID record.ID, hash string) {
	if p.ID.IsZero() {
		p.ID = record.NewID()
	}
	p.ShopID, p.PasswordHash, p.Active = shopID, hash, true
	p.SignIn = fold.Name(p.SignIn)
	p.Rename(p.Name)
}

// Rename gives a person a name, and its initials.
func (p *Person) Rename(name string) {
	p.Name = strings.TrimSpace(name)
	p.Initials = initials(p.Name)
}

// initials takes the first letters of the first and last word of a name.
func initials(name string) string {
	words := strings.Fields(name)
	if len(words) == 0 {
		return ""
	}
	letters := string([]rune(words[0])[:1])
	if len(words) > 1 {
		letters += string([]rune(words[len(words)-1])[:1])
	}
	return strings.ToUpper(letters)
}
