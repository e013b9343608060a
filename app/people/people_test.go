package people_test

import (
	"strings"
	"testing"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/problem"
)

// TestSecrets checks that a password is kept so that it opens to itself and to nothing
// else, never the same way twice, and that what is no such record opens to nothing.
func TestSecrets(t *testing.T) {
	one, err := people.HashSecret("four claws hold")
	if err != nil {
		t.Fatal(err)
	}
	two, err := people.HashSecret("four claws hold")
	if err != nil || one == two || strings.Contains(one, "claws") {
		t.Errorf("%s and %s, %v", one, two, err)
	}
	if !people.SecretMatches(one, "four claws hold") || !people.SecretMatches(two, "four claws hold") {
		t.Error("it does not open to itself")
	}
	for _, hash := range []string{one, "", "$argon2id$", "$argon2id$v=19$m=1,t=0,p=0$$", strings.Replace(one, "argon2id", "argon2x", 1)} {
		if people.SecretMatches(hash, "four claws held") || people.SecretMatches(hash, "") {
			t.Errorf("%q opens to another", hash)
		}
	}
}

// TestWhoMayBeAdded checks what a name, a sign-in, a password and a role have to be: two
// that look alike to a person are not two.
func TestWhoMayBeAdded(t *testing.T) {
	good := people.Person{Name: "Mara Ostwick", SignIn: "mara", Role: people.Technician}
	for field, change := range map[string]func(*people.Person) string{
		"":         func(*people.Person) string { return "ten letters at least" },
		"name":     func(p *people.Person) string { p.Name = "Ma\u200bra"; return "ten letters at least" },
		"sign_in":  func(p *people.Person) string { p.SignIn = "ma\u00adra"; return "ten letters at least" },
		"password": func(*people.Person) string { return "short" },
		"role":     func(p *people.Person) string { p.Role = "king"; return "ten letters at least" },
	} {
		p, found := good, problem.List(nil)
		secret := change(&p)
		p.Check(&found, secret)
		if field == "" && len(found) > 0 || field != "" && (len(found) != 1 || found[0].Field != field) {
			t.Errorf("%q: %v", field, found)
		}
		if strings.Contains(found.Error(), "short") {
			t.Errorf("the password is said: %v", found)
		}
	}
	p := people.Person{Name: "  Mara van Ostwick ", SignIn: " MARA "}
	p.Complete(record.NewID(), "hash")
	if p.Name != "Mara van Ostwick" || p.SignIn != "mara" || p.Initials != "MO" || !p.Active || p.ID.IsZero() {
		t.Errorf("%+v", p)
	}
}
