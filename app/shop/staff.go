package shop

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"grapnel/app/fold"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/problem"
)

// staff is who works in the shop, and what lets them in.
type staff struct {
	*house
	desk *people.Desk
}

// AddPerson adds someone. The same ID twice adds once.
func (s staff) AddPerson(ctx context.Context, who Person, p Person, password string) (Person, error) {
	var found problem.List
	p.Check(&found, password)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	if p.ID.IsZero() {
		p.ID = record.NewID()
	}
	hash, err := people.HashSecret(ctx, password)
	if err != nil {
		return Person{}, err
	}
	asked := map[string]string{"name": p.Name, "sign_in": fold.Name(p.SignIn), "role": string(p.Role)}
	p.Complete(who.ShopID, hash)
	at := s.stamp()
	again := false
	err = s.write(ctx, func(tx Tx) (err error) {
		if again, err = s.once(ctx, tx, who, keyed{id: p.ID, kind: "person_added", body: asked}, nil); err != nil {
			return err
		}
		if again {
			p, err = tx.Person(ctx, who.ShopID, p.ID)
			return err
		}
		if err := tx.AddPerson(ctx, p, at); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "person_added", p)
	})
	if errors.Is(err, people.ErrIDTaken) {
		return Person{}, KeyUsed{problem.List{problem.New("problem.key_used", "id", p.ID.String(), "an id nothing else has")}}
	}
	if errors.Is(err, ErrTaken) {
		return Person{}, problem.List{problem.New("problem.taken", "sign_in", p.SignIn, "a name nobody else signs in with")}
	}
	if err != nil || !again {
		return p, err
	}
	return p, sameSecret(ctx, p, password)
}

// sameSecret says that a person who was added before was given another password then.
func sameSecret(ctx context.Context, p Person, password string) error {
	same, err := people.SecretMatches(ctx, p.PasswordHash, password)
	if err == nil && !same {
		err = KeyUsed{problem.List{problem.New("problem.key_used", "password", "•", "•")}}
	}
	return err
}

// ChangePerson changes what somebody is called, their role, and whether they come in at
// all; whoever does not any more is signed out everywhere. A shop keeps an owner.
func (s staff) ChangePerson(ctx context.Context, who, to Person) (Person, error) {
	var found problem.List
	to.CheckChange(&found)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	err := s.write(ctx, func(tx Tx) error {
		owners, err := tx.Owners(ctx, who.ShopID)
		if err != nil {
			return err
		}
		before, err := tx.Person(ctx, who.ShopID, to.ID)
		if err != nil {
			return err
		}
		leaves := to.Role != people.Owner || !to.Active
		if leaves && len(owners) == 1 && slices.Contains(owners, to.ID) {
			return problem.List{problem.New("problem.last_owner", "role", before.Name, "another owner first")}
		}
		changed := before
		changed.Rename(to.Name)
		changed.Role, changed.Active = to.Role, to.Active
		to = changed
		if changed == before {
			return nil
		}
		if err := tx.ChangePerson(ctx, changed); err != nil {
			return err
		}
		if !changed.Active {
			if err := tx.EndSessionsBut(ctx, changed, ID{}, s.stamp()); err != nil {
				return err
			}
		}
		return s.tell(ctx, tx, who, nil, "person_changed", changed)
	})
	s.desk.Forget()
	return to, err
}

// ResetLife is how long a code to set another password holds.
const ResetLife = 24 * time.Hour

// ResetCode is told once, to be handed to whom it is for.
type ResetCode struct {
	Code  string    `json:"code"`
	Until time.Time `json:"until"`
}

// MakeReset makes a code with which somebody sets another password, once. What they had goes on
// opening until then. An earlier code opens no more.
func (s staff) MakeReset(ctx context.Context, who Person, personID ID) (ResetCode, error) {
	out := ResetCode{Code: people.NewCode(), Until: s.stamp().Add(ResetLife)}
	return out, s.write(ctx, func(tx Tx) error {
		p, err := tx.Person(ctx, who.ShopID, personID)
		if err != nil {
			return err
		}
		if !p.Active {
			return problem.List{problem.New("problem.switched_off", "person", p.Name, "somebody who may come in")}
		}
		if err := tx.KeepResetCode(ctx, p, people.HashCode(out.Code), out.Until); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "reset_made", p)
	})
}

// ResetBySignIn is MakeReset for whoever has the machine in their hands.
func (s staff) ResetBySignIn(ctx context.Context, signIn string) (ResetCode, error) {
	p, err := s.store.PersonBySignIn(ctx, fold.Name(signIn))
	if err != nil {
		return ResetCode{}, err
	}
	return s.MakeReset(ctx, p, p.ID)
}

// ResetPassword sets another password by a code that was handed out: it signs out everywhere and
// switches the second step off, since whoever needs a code may have lost their phone.
func (s staff) ResetPassword(ctx context.Context, a people.Attempt, password string) (Person, error) {
	var found problem.List
	Person{SignIn: a.SignIn}.CheckSecret(&found, password)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	p, err := s.desk.Redeem(ctx, a)
	if err != nil {
		return Person{}, err
	}
	hash, err := people.HashSecret(ctx, password)
	if err != nil {
		return Person{}, err
	}
	err = s.write(ctx, func(tx Tx) error {
		fresh, err := tx.UseResetCode(ctx, p, people.HashCode(a.Secret))
		if err != nil {
			return err
		}
		if !fresh {
			return ErrNotFound // two hands had it at once
		}
		if err := tx.SetSecond(ctx, p, "", false, nil); err != nil {
			return err
		}
		return s.setPassword(ctx, tx, p, hash, ID{}, "password_reset")
	})
	s.desk.Forget()
	p.SecondStep, p.SecondSecret = false, ""
	return p, err
}

// setPassword writes another password down and ends the sessions it may have been stolen
// with.
func (s staff) setPassword(ctx context.Context, tx Tx, p Person, hash string, spared ID, kind string) error {
	if err := tx.SetPassword(ctx, p, hash); err != nil {
		return err
	}
	if err := tx.EndSessionsBut(ctx, p, spared, s.stamp()); err != nil {
		return err
	}
	return s.tell(ctx, tx, p, nil, kind, p)
}

// ChangePassword sets another password for whoever is signed in and knows the one they
// have; every other session of theirs ends.
func (s staff) ChangePassword(ctx context.Context, who Person, from people.Session, had, password string) error {
	var found problem.List
	who.CheckSecret(&found, password)
	if err := found.Err(); err != nil {
		return err
	}
	if err := s.confirm(ctx, who, from, had); err != nil {
		return err
	}
	hash, err := people.HashSecret(ctx, password)
	if err != nil {
		return err
	}
	err = s.write(ctx, func(tx Tx) error {
		return s.setPassword(ctx, tx, who, hash, from.ID, "password_changed")
	})
	s.desk.Forget()
	return err
}

// confirm asks for the password of whoever is signed in.
func (s staff) confirm(ctx context.Context, who Person, from people.Session, secret string) error {
	err := s.desk.Confirm(ctx, who, from, secret)
	if errors.Is(err, ErrNotFound) {
		return problem.List{problem.New("problem.not_yours", "had", strings.Repeat("•", 8), "the password you sign in with")}
	}
	return err
}

// BeginSecond makes what the codes of a phone are made of. Nothing is asked for yet.
func (s staff) BeginSecond(ctx context.Context, who Person) (secret string, err error) {
	secret = people.NewSecond()
	err = s.secondOf(ctx, who, func(tx Tx, p Person) error {
		if p.SecondStep {
			return problem.List{problem.New("problem.second_on", "second", "", "switch it off first")}
		}
		return tx.SetSecond(ctx, p, secret, false, nil)
	})
	return secret, err
}

// ConfirmSecond switches the second step on once the phone has shown a code that is right,
// and gives the codes that stand in for a lost one; they are told once.
func (s staff) ConfirmSecond(ctx context.Context, who Person, code string) ([]string, error) {
	recovery := people.NewRecoveryCodes()
	hashes := make([]string, len(recovery))
	for i, one := range recovery {
		hashes[i] = people.HashCode(one)
	}
	err := s.secondOf(ctx, who, func(tx Tx, p Person) error {
		step, ok := people.SecondMatches(p.SecondSecret, code, s.now())
		if !ok || p.SecondSecret == "" || p.SecondStep {
			return problem.List{problem.New("problem.second", "code", code, "the six figures that the phone shows now")}
		}
		p.SecondStep = true
		if err := tx.SetSecond(ctx, p, p.SecondSecret, true, hashes); err != nil {
			return err
		}
		// The code that switches it on lets nobody in as well.
		if _, err := tx.UseSecondStep(ctx, p.ShopID, p.ID, step); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "second_on", p)
	})
	return recovery, err
}

// DropSecond switches the second step off, for whoever knows their password.
func (s staff) DropSecond(ctx context.Context, who Person, from people.Session, secret string) error {
	if err := s.confirm(ctx, who, from, secret); err != nil {
		return err
	}
	return s.secondOf(ctx, who, func(tx Tx, p Person) error {
		p.SecondStep = false
		if err := tx.SetSecond(ctx, p, "", false, nil); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "second_off", p)
	})
}

// secondOf changes the second step of whoever is signed in, as it stands in the store.
func (s staff) secondOf(ctx context.Context, who Person, do func(Tx, Person) error) error {
	err := s.write(ctx, func(tx Tx) error {
		p, err := tx.Person(ctx, who.ShopID, who.ID)
		if err != nil {
			return err
		}
		return do(tx, p)
	})
	s.desk.Forget()
	return err
}

// SignedIn writes down that somebody signed in on a device.
func (s staff) SignedIn(ctx context.Context, p Person, address, device string) (people.Session, error) {
	at := s.stamp()
	one := people.Session{ID: record.NewID(), ShopID: p.ShopID, PersonID: p.ID, BegunAt: at, SeenAt: at, Address: address, Device: device}
	return one, s.store.AddSession(ctx, one)
}

// EndSession ends one of somebody's own sessions.
func (s staff) EndSession(ctx context.Context, who Person, id ID) error {
	err := s.store.EndSession(ctx, who, id, s.stamp())
	s.desk.Forget()
	return err
}

// EndOthers ends every session of somebody's own but the one that asks.
func (s staff) EndOthers(ctx context.Context, who Person, spared ID) error {
	err := s.store.EndSessionsBut(ctx, who, spared, s.stamp())
	s.desk.Forget()
	return err
}

// EndSessions signs somebody out everywhere.
func (s staff) EndSessions(ctx context.Context, who Person, personID ID) error {
	err := s.write(ctx, func(tx Tx) error {
		p, err := tx.Person(ctx, who.ShopID, personID)
		if err != nil {
			return err
		}
		if err := tx.EndSessionsBut(ctx, p, ID{}, s.stamp()); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "sessions_ended", p)
	})
	s.desk.Forget()
	return err
}

// sweepAfter is how long what is known of ended sessions and failed tries is kept.
const sweepAfter = 30 * 24 * time.Hour

// DeviceLife is how long a device stays known on which nobody signs in.
const DeviceLife = 365 * 24 * time.Hour

// Know writes down that somebody signed in on a device, by what it carries: tries from there are
// heard whoever guesses elsewhere.
func (s staff) Know(ctx context.Context, p Person, device string) error {
	return s.store.KnowDevice(ctx, p, people.HashDevice(device), s.stamp())
}

// SealKey is what a device seals with, for whoever is signed in, what it has not sent yet: 32 bytes
// in base64. It stays the same, so that what waits is opened when they sign in again.
func (s staff) SealKey(ctx context.Context, who Person) (string, error) {
	return s.store.SealKey(ctx, who, people.NewSealKey())
}

// Sweep forgets sessions, failed tries and devices of long ago.
func (s staff) Sweep(ctx context.Context) error {
	at := s.stamp()
	return errors.Join(s.store.Sweep(ctx, at.Add(-sweepAfter)), s.store.SweepDevices(ctx, at.Add(-DeviceLife)))
}
