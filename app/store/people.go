package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
)

// CountPeople counts everyone who may sign in, of any shop.
func (s *Store) CountPeople(ctx context.Context) (int, error) {
	n, err := s.q.CountPeople(ctx)
	return int(n), err
}

// AddPerson writes a person down; people.ErrTaken where somebody has the sign-in name,
// people.ErrIDTaken where the ID is another person's.
func (s *Store) AddPerson(ctx context.Context, p people.Person, at time.Time) error {
	err := s.q.AddPerson(ctx, gen.AddPersonParams{
		ID: p.ID, ShopID: p.ShopID, Name: p.Name, Initials: p.Initials, SignIn: p.SignIn, Role: string(p.Role),
		PasswordHash: p.PasswordHash, Active: p.Active, CreatedAt: at,
	})
	if IsThere(err) && ofPrimaryKey(err) {
		return people.ErrIDTaken
	}
	return taken(err)
}

func personFrom(row gen.Person) people.Person {
	return people.Person{
		ID: row.ID, ShopID: row.ShopID, Name: row.Name, Initials: row.Initials, SignIn: row.SignIn, Role: people.Role(row.Role),
		PasswordHash: row.PasswordHash, Active: row.Active, SecondStep: row.SecondStep, SecondSecret: row.SecondSecret,
	}
}

// PersonBySignIn finds an active person, of any shop.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (people.Person, error) {
	row, err := s.q.PersonBySignIn(ctx, signIn)
	return personFrom(row), found(err)
}

// Person finds a person of a shop.
func (s *Store) Person(ctx context.Context, shopID, id record.ID) (people.Person, error) {
	row, err := s.q.PersonByID(ctx, gen.PersonByIDParams{ShopID: shopID, ID: id})
	return personFrom(row), found(err)
}

// People lists the people of a shop by name.
func (s *Store) People(ctx context.Context, shopID record.ID) ([]people.Person, error) {
	rows, err := s.q.People(ctx, shopID)
	return each(rows, personFrom), err
}

// ChangePerson writes a person's name, role and whether they may come in.
func (s *Store) ChangePerson(ctx context.Context, p people.Person) error {
	return s.q.ChangePerson(ctx, gen.ChangePersonParams{Name: p.Name, Initials: p.Initials, Role: string(p.Role), Active: p.Active, ShopID: p.ShopID, ID: p.ID})
}

// Owners lists, and holds, the owners who may come in.
func (s *Store) Owners(ctx context.Context, shopID record.ID) ([]record.ID, error) {
	return s.q.OwnersForUpdate(ctx, shopID)
}

// SetPassword writes the hash of another password.
func (s *Store) SetPassword(ctx context.Context, p people.Person, hash string) error {
	return s.q.SetPassword(ctx, gen.SetPasswordParams{PasswordHash: hash, ShopID: p.ShopID, ID: p.ID})
}

// SetSecond writes what the codes of a phone are made of, whether they are asked for, and
// the hashes of the codes that stand in for them.
func (s *Store) SetSecond(ctx context.Context, p people.Person, secret string, on bool, recovery []string) error {
	if err := s.q.SetSecond(ctx, gen.SetSecondParams{SecondSecret: secret, SecondStep: on, ShopID: p.ShopID, ID: p.ID}); err != nil {
		return err
	}
	if err := s.q.DropRecoveryCodes(ctx, gen.DropRecoveryCodesParams{ShopID: p.ShopID, PersonID: p.ID}); err != nil {
		return err
	}
	for _, hash := range recovery {
		if err := s.q.AddRecoveryCode(ctx, gen.AddRecoveryCodeParams{PersonID: p.ID, Hash: hash, ShopID: p.ShopID}); err != nil {
			return err
		}
	}
	return nil
}

// one reports that exactly one row was changed.
func one(n int64, err error) (bool, error) { return n == 1, err }

// UseSecondStep uses up a code of a phone; false where it, or a later one, was used before. One
// of a step that is yet to come, beyond its neighbours, was used when the clock was ahead.
func (s *Store) UseSecondStep(ctx context.Context, shopID, personID record.ID, step int64) (bool, error) {
	return one(s.q.UseSecondStep(ctx, gen.UseSecondStepParams{Step: step, Shop: shopID, ID: personID, Latest: step + 2}))
}

// UseRecoveryCode uses up a recovery code; false where there is none such.
func (s *Store) UseRecoveryCode(ctx context.Context, shopID, personID record.ID, hash string, at time.Time) (bool, error) {
	return one(s.q.UseRecoveryCode(ctx, gen.UseRecoveryCodeParams{UsedAt: &at, ShopID: shopID, PersonID: personID, Hash: hash}))
}

// KeepResetCode keeps the code with which a person may set another password; it takes the
// place of an earlier one.
func (s *Store) KeepResetCode(ctx context.Context, p people.Person, hash string, until time.Time) error {
	return s.q.KeepResetCode(ctx, gen.KeepResetCodeParams{PersonID: p.ID, ShopID: p.ShopID, Hash: hash, UntilAt: until})
}

// ResetCode is the hash of the code that a person may use at a moment.
func (s *Store) ResetCode(ctx context.Context, shopID, personID record.ID, at time.Time) (string, error) {
	hash, err := s.q.ResetCode(ctx, gen.ResetCodeParams{ShopID: shopID, PersonID: personID, UntilAt: at})
	return hash, found(err)
}

// UseResetCode uses up the code; false where it was used before.
func (s *Store) UseResetCode(ctx context.Context, p people.Person, hash string) (bool, error) {
	return one(s.q.UseResetCode(ctx, gen.UseResetCodeParams{ShopID: p.ShopID, PersonID: p.ID, Hash: hash}))
}

// AddSession writes down that somebody signed in on a device.
func (s *Store) AddSession(ctx context.Context, one people.Session) error {
	return s.q.AddSession(ctx, gen.AddSessionParams{
		ID: one.ID, ShopID: one.ShopID, PersonID: one.PersonID, BegunAt: one.BegunAt, SeenAt: one.SeenAt, Address: one.Address, Device: one.Device,
	})
}

func sessionFrom(row gen.SignedIn) people.Session {
	return people.Session{
		ID: row.ID, ShopID: row.ShopID, PersonID: row.PersonID, BegunAt: row.BegunAt, SeenAt: row.SeenAt, EndedAt: row.EndedAt,
		Address: row.Address, Device: row.Device,
	}
}

// Session finds a session with its person.
func (s *Store) Session(ctx context.Context, id record.ID) (people.Session, people.Person, error) {
	row, err := s.q.SessionByID(ctx, id)
	return sessionFrom(row.SignedIn), personFrom(row.Person), found(err)
}

// SeeSession writes down that a session is used.
func (s *Store) SeeSession(ctx context.Context, id record.ID, at time.Time) error {
	return s.q.SeeSession(ctx, gen.SeeSessionParams{At: at, ID: id})
}

// SessionsOf lists the sessions of a person that nobody has ended, the latest used first.
func (s *Store) SessionsOf(ctx context.Context, shopID, personID record.ID) ([]people.Session, error) {
	rows, err := s.q.SessionsOfPerson(ctx, gen.SessionsOfPersonParams{ShopID: shopID, PersonID: personID})
	return each(rows, sessionFrom), err
}

// EndSession ends one session of a person.
func (s *Store) EndSession(ctx context.Context, p people.Person, id record.ID, at time.Time) error {
	return s.q.EndSession(ctx, gen.EndSessionParams{EndedAt: &at, ShopID: p.ShopID, PersonID: p.ID, ID: id})
}

// EndSessionsBut ends every session of a person but one, and makes all their devices unknown;
// the zero ID spares none.
func (s *Store) EndSessionsBut(ctx context.Context, p people.Person, spared record.ID, at time.Time) error {
	if err := s.q.ForgetDevices(ctx, gen.ForgetDevicesParams{ShopID: p.ShopID, PersonID: p.ID}); err != nil {
		return err
	}
	return s.q.EndSessionsBut(ctx, gen.EndSessionsButParams{EndedAt: &at, ShopID: p.ShopID, PersonID: p.ID, ID: spared})
}

// SealKey is what somebody's devices seal with; fresh becomes it where there is none yet.
func (s *Store) SealKey(ctx context.Context, p people.Person, fresh string) (string, error) {
	key, err := s.q.SealKey(ctx, gen.SealKeyParams{ShopID: p.ShopID, ID: p.ID})
	if err != nil || key != "" {
		return key, found(err)
	}
	if err := s.q.MakeSealKey(ctx, gen.MakeSealKeyParams{SealKey: fresh, ShopID: p.ShopID, ID: p.ID}); err != nil {
		return "", err
	}
	return s.q.SealKey(ctx, gen.SealKeyParams{ShopID: p.ShopID, ID: p.ID})
}

// KnowDevice writes down that somebody signed in on a device; device is a hash.
func (s *Store) KnowDevice(ctx context.Context, p people.Person, device string, at time.Time) error {
	return s.q.KnowDevice(ctx, gen.KnowDeviceParams{Hash: device, PersonID: p.ID, ShopID: p.ShopID, SeenAt: at})
}

// KnownDevice reports that somebody signed in on a device before.
func (s *Store) KnownDevice(ctx context.Context, personID record.ID, device string) (bool, error) {
	n, err := s.q.KnownDevice(ctx, gen.KnownDeviceParams{Hash: device, PersonID: personID})
	return n > 0, err
}

// SweepDevices forgets the devices that nobody signed in on since a moment, some at a time.
func (s *Store) SweepDevices(ctx context.Context, before time.Time) error {
	return s.q.SweepDevices(ctx, before)
}

// Guard is what has failed lately for a subject.
func (s *Store) Guard(ctx context.Context, subject string) (people.Guard, error) {
	return guardFrom(s.q.Guard(ctx, subject))
}

func guardFrom(row gen.SignInGuard, err error) (people.Guard, error) {
	if errors.Is(err, sql.ErrNoRows) {
		return people.Guard{}, nil
	}
	return people.Guard{Failures: int(row.Failures), LastAt: row.LastAt}, err
}

// FailGuard changes what has failed for a subject; whoever else does is waited for.
func (s *Store) FailGuard(ctx context.Context, subject string, next func(people.Guard) people.Guard) error {
	return s.Write(ctx, func(tx shop.Tx) error {
		q := tx.(*Store).q
		g, err := guardFrom(q.GuardForUpdate(ctx, subject))
		if err != nil {
			return err
		}
		g = next(g)
		return q.KeepGuard(ctx, gen.KeepGuardParams{Subject: subject, Failures: int32(g.Failures), LastAt: g.LastAt})
	})
}

// DropGuard forgets what has failed for a subject.
func (s *Store) DropGuard(ctx context.Context, subject string) error {
	return s.q.DropGuard(ctx, subject)
}

// Sweep forgets the sessions and the failures of before a moment, some at a time.
func (s *Store) Sweep(ctx context.Context, before time.Time) error {
	return errors.Join(s.q.SweepSessions(ctx, before), s.q.SweepTokens(ctx, before), s.q.SweepGuards(ctx, before))
}
