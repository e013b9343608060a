package shop

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/problem"
)

// Deed is a write that carries a key of its own. The same key again, from the same
// person, of the same thing and with the same body, is the same deed: nothing is written
// and the answer is the one given the first time. Anything else under that key is
// refused, naming what differs.
type Deed struct {
	ID     ID
	ShopID ID
	Kind   string
	// Subject is what it is done to: a job, a battery, a vehicle; nil for the shop.
	Subject *ID
	Person  *ID
	// Body is what was asked, as JSON; empty for a deed of a release that kept none.
	Body   string
	Answer string
	At     time.Time
}

// KeyUsed is returned for a key that another deed has; the list names what differs.
type KeyUsed struct{ problem.List }

// Unwrap gives the list.
func (k KeyUsed) Unwrap() error { return k.List }

// keyed is a deed about to be done.
type keyed struct {
	id      ID
	kind    string
	subject *ID
	body    any
}

// missing reports a key that is not there.
func (k keyed) missing() error {
	if k.id.IsZero() {
		return problem.List{problem.New("problem.missing", "id", "", "a UUID")}
	}
	return nil
}

// once writes a deed down, first thing in its transaction. It reports that it was done
// before, with the answer given then in into.
func (h *house) once(ctx context.Context, tx DeedStore, who Person, k keyed, into any) (again bool, err error) {
	if err := k.missing(); err != nil {
		return false, err
	}
	body, err := json.Marshal(k.body)
	if err != nil {
		return false, wrap(err, "deed")
	}
	d := Deed{ID: k.id, ShopID: who.ShopID, Kind: k.kind, Subject: k.subject, Person: &who.ID, Body: string(body), At: h.stamp()}
	if fresh, err := tx.AddDeed(ctx, d); fresh || err != nil {
		return false, err
	}
	before, err := tx.Deed(ctx, k.id)
	if err != nil {
		return false, err
	}
	if differ := d.differs(before); len(differ) > 0 {
		return false, KeyUsed{differ}
	}
	if before.Answer == "" || into == nil {
		return true, nil
	}
	return true, wrap(json.Unmarshal([]byte(before.Answer), into), "answer of a deed")
}

// answer keeps what a deed was answered with, for the next time.
func answer(ctx context.Context, tx DeedStore, id ID, given any) error {
	if given == nil {
		return nil
	}
	text, err := json.Marshal(given)
	if err != nil {
		return wrap(err, "answer")
	}
	return tx.AnswerDeed(ctx, id, string(text))
}

// differs names what of a deed is another than of the one that has its key.
func (d Deed) differs(before Deed) problem.List {
	var list problem.List
	say := func(field string, now, then any) {
		list = append(list, problem.New("problem.key_used", field, fmt.Sprint(now), fmt.Sprint(then)))
	}
	if d.ShopID != before.ShopID {
		say("id", d.Kind, "another deed")
		return list
	}
	if d.Kind != before.Kind {
		say("id", d.Kind, before.Kind)
		return list
	}
	if !same(d.Subject, before.Subject) {
		say("subject", text(d.Subject), text(before.Subject))
	}
	if before.Person != nil && !same(d.Person, before.Person) {
		say("person", text(d.Person), text(before.Person))
	}
	var now, then map[string]json.RawMessage
	if before.Body == "" || before.Body == d.Body || json.Unmarshal([]byte(d.Body), &now) != nil ||
		json.Unmarshal([]byte(before.Body), &then) != nil {
		return list
	}
	fields := slices.Sorted(maps.Keys(now))
	for name := range then {
		if _, ok := now[name]; !ok {
			fields = append(fields, name)
		}
	}
	for _, name := range fields {
		if string(now[name]) != string(then[name]) {
			say(name, string(now[name]), string(then[name]))
		}
	}
	return list
}

func same(a, b *ID) bool { return a == b || a != nil && b != nil && *a == *b }

func text(id *ID) string {
	if id == nil {
		return ""
	}
	return id.String()
}

// errNothing ends a change that has nothing to do; it never leaves the service.
var errNothing = errors.New("nothing to do")

// done is what a command did: the event's body and the answer to it. What a change of a
// job was judged by goes along where it has been read.
type done struct {
	body   any
	answer any
	scene  *scene
}

// command is a change of a job.
type command struct {
	who   Person
	jobID ID
	// kind names the event, key the deed; a zero key for a change that says how things
	// stand and may be said again.
	kind string
	key  *keyed
	// judges tells that verdicts may change by it.
	judges bool
	// said is what was asked; where no key is set it belongs to the key that came with
	// the request.
	said any
	// into takes the answer that was given to the same deed before.
	into any
}

type requestKey struct{}

// WithKey gives the changes made under a context a key, for those that name none of
// their own: handing back, moving, labelling may then be asked for again and are done
// once. The zero key is none.
func WithKey(ctx context.Context, id ID) context.Context {
	if id.IsZero() {
		return ctx
	}
	return context.WithValue(ctx, requestKey{}, id)
}

// keyedBy is the command with the key that came with its request.
func (c command) keyedBy(ctx context.Context) command {
	if id, ok := ctx.Value(requestKey{}).(ID); ok && c.key == nil {
		c.key = &keyed{id: id, kind: c.kind, subject: &c.jobID, body: c.said}
	}
	return c
}

// run does a command in one transaction: it holds the job, makes the change, judges it
// anew where that may differ, and writes down what was done, once.
func (h *house) run(ctx context.Context, c command, do func(Tx, *record.Job) (done, error)) error {
	c = c.keyedBy(ctx)
	err := h.write(ctx, func(tx Tx) error {
		if c.key != nil {
			if again, err := h.once(ctx, tx, c.who, *c.key, c.into); again || err != nil {
				return errors.Join(err, nothing(again))
			}
		}
		j, err := tx.JobForUpdate(ctx, c.who.ShopID, c.jobID)
		if err != nil {
			return err
		}
		did, err := do(tx, &j)
		if errors.Is(err, errNothing) && c.key != nil {
			return nil // asked again later, when there would be something to do, it is the same deed still
		}
		if err != nil {
			return err
		}
		if err := h.settle(ctx, tx, c, &j, did); err != nil {
			return err
		}
		if c.key != nil {
			return answer(ctx, tx, c.key.id, did.answer)
		}
		return nil
	})
	if errors.Is(err, errNothing) {
		return nil
	}
	return err
}

func nothing(is bool) error {
	if is {
		return errNothing
	}
	return nil
}

// settle writes the job, what it comes to, and the event.
func (h *house) settle(ctx context.Context, tx Tx, c command, j *record.Job, did done) error {
	if c.judges {
		j.Revision++
		if did.scene == nil {
			now, err := h.see(ctx, tx, c.who.ShopID, *j)
			if err != nil {
				return err
			}
			did.scene = &now
		}
		did.scene.Job = *j
		if err := h.judge(ctx, tx, c.who.ShopID, *did.scene); err != nil {
			return err
		}
	}
	if err := tx.UpdateJob(ctx, c.who.ShopID, *j); err != nil {
		return err
	}
	return h.tell(ctx, tx, c.who, j, c.kind, did.body)
}

// tell writes the event of what was done to a job; nil for the shop.
func (h *house) tell(ctx context.Context, tx EventStore, who Person, j *record.Job, kind string, body any) error {
	e := Event{PersonID: &who.ID, Kind: kind, Body: body, At: h.stamp()}
	if j != nil {
		e.JobID, e.Revision = &j.ID, j.Revision
	}
	return tx.AddEvent(ctx, who.ShopID, e)
}
