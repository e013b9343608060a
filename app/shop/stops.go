package shop

import (
	"context"
	"slices"
	"strings"

	"grapnel/app/record"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/safety"
	"grapnel/core/school"
)

// stops are lifted by a person, with a reason.
type stops struct{ *house }

// leastReason is the shortest reason for lifting a stop rule, in characters.
const leastReason = 8

// Clear lifts a stop rule for the readings that are named, as the person saw them at a
// revision of the job; where none is named, for those that raise it now. The reason and
// the person stand on the job and the report; what is found later, or a named reading
// once it is corrected, stops the work again.
func (s stops) Clear(ctx context.Context, who Person, jobID ID, in record.Clearing) error {
	var found problem.List
	found.CheckCode("stop", string(in.Stop), school.StopCodes(), false)
	found.CheckText("reason", in.Reason, leastReason, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	body := map[string]any{"battery_id": in.BatteryID, "stop": in.Stop, "reason": in.Reason, "readings": in.Readings, "revision": in.Revision}
	c := command{
		who:    who,
		jobID:  jobID,
		kind:   "stop_cleared",
		judges: true,
		key:    &keyed{id: in.ID, kind: "stop_cleared", subject: &jobID, body: body},
	}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		now, of, err := s.seeBattery(ctx, tx, who.ShopID, *j, in.BatteryID)
		if err != nil {
			return done{}, err
		}
		lifted := in
		lifted.JobID, lifted.BatteryID, lifted.PersonID, lifted.At = &j.ID, of.Battery.ID, who.ID, now.Now
		lifted.Reason = strings.TrimSpace(in.Reason)
		if lifted.Revision == 0 {
			lifted.Revision = j.Revision
		}
		if lifted.Readings, err = raisedBy(of, in); err != nil {
			return done{}, err
		}
		now.Clearings = append(now.Clearings, lifted)
		return done{body: lifted, scene: &now}, tx.AddClearing(ctx, who.ShopID, lifted)
	})
}

// raisedBy are the readings a clearing names: those given, each of which must stand on
// the job, else those that raise the rule now. A rule that nothing raises has nothing to
// be lifted.
func raisedBy(c record.BatteryCase, in record.Clearing) ([]ID, error) {
	if len(in.Readings) > 0 {
		for _, id := range in.Readings {
			if !slices.ContainsFunc(c.Case.Readings, func(t evidence.Taken) bool { return t.ID == id.Ref() }) {
				return nil, problem.List{problem.New("problem.code", "readings", id.String(), "readings that stand on this job")}
			}
		}
		return in.Readings, nil
	}
	var named []ID
	var holding []string
	for _, stop := range safety.Stops(evidence.Examine(c.Case)) {
		holding = append(holding, string(stop.Caution))
		if stop.Caution != in.Stop {
			continue
		}
		for _, ref := range stop.Readings {
			if id, err := record.ParseID(string(ref)); err == nil && !slices.Contains(named, id) {
				named = append(named, id)
			}
		}
	}
	if len(named) == 0 {
		return nil, problem.List{problem.New("problem.code", "stop", string(in.Stop), problem.OneOf(holding))}
	}
	return named, nil
}
