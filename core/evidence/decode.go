package evidence

import (
	"fmt"
	"io"
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/field"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Decode reads a case as JSON. Every problem is listed with the path of its
// field; unknown fields are refused by name and null means missing.
func Decode(in io.Reader) (Case, error) {
	o, err := field.Read(in, "case", "{\"battery\": {…}, \"readings\": […]}")
	if err != nil {
		return Case{}, err
	}
	c := caseFrom(o)
	o.Close()
	if err := o.Err(); err != nil {
		return Case{}, err
	}
	return c, nil
}

func caseFrom(o *field.Object) Case {
	c := Case{AsOf: o.Text("as_of", "YYYY-MM-DD", isDate), Label: TakeLabel(o, "battery")}
	c.Vehicle = TakeVehicle(o, "vehicle")
	c.Symptoms = o.Codes("symptom", Symptoms())
	c.School = school.ID(o.Code("school", school.IDs()))
	c.Tools = o.Codes("tools", Tools())
	c.Own = limits(o)
	o.Missing("readings", "[…]")
	c.Readings = Untimed(TakeReadings(o, "readings", c.Label)...)
	c.Cleared = clearings(o, len(c.Readings))
	return c
}

func isDate(s string) bool {
	_, err := time.Parse(time.DateOnly, s)
	return err == nil
}

// TakeLabel takes a battery's label, which has to be there.
func TakeLabel(o *field.Object, key string) battery.Label {
	l, missing := field.Decode(o, key, battery.Fields())
	if missing {
		o.Missing(key, "{\"chemistry\": …, \"nominal_v\": …}")
	}
	return l
}

// TakeVehicle takes a vehicle; the zero one where it is missing.
func TakeVehicle(o *field.Object, key string) Vehicle {
	v, _ := field.Decode(o, key, vehicleFields)
	return v
}

// clearings are stop rules that were lifted, for readings by their index:
// [{"stop": "frozen-or-damaged", "readings": [0, 1]}].
func clearings(o *field.Object, readings int) []Clearing {
	var out []Clearing
	o.Each("cleared", "[{\"stop\": …, \"readings\": […]}]", func(one *field.Object) {
		stop := school.Caution(one.Code("stop", school.StopCodes()))
		named := indexes(one, "readings", readings)
		for _, key := range []string{"stop", "readings"} {
			one.Missing(key, "stop, readings")
		}
		one.Close()
		out = append(out, Clearing{Stop: stop, Readings: named})
	})
	return out
}

// indexes are places of readings in the case.
func indexes(o *field.Object, key string, readings int) []wording.Ref {
	allowed := fmt.Sprintf("[0 … %d]", max(readings-1, 0))
	list, _ := o.List(key, allowed)
	var out []wording.Ref
	for _, item := range list {
		i, ok := item.(float64)
		if !ok || i != math.Trunc(i) || i < 0 || int(i) >= readings {
			o.Fault("problem.range", key, item, allowed)
			continue
		}
		out = append(out, wording.Index(int(i)))
	}
	return out
}

// limits are a shop's own figures: {"drain_most": {"value": 0.03, "note": …}}.
func limits(o *field.Object) school.Own {
	inner, missing := o.Under("limits")
	if missing {
		return nil
	}
	own := school.Own{}
	for _, row := range school.Limits() {
		one, missing := inner.Under(string(row.ID))
		if missing {
			continue
		}
		notes := problem.Range(1, school.MostNote, "characters")
		value := one.Number("value", row.Low, row.High, row.Unit)
		note := one.Text("note", notes, school.ValidNote)
		one.Missing("value", problem.Range(row.Low, row.High, row.Unit))
		one.Missing("note", notes)
		one.Close()
		if value != nil {
			own[row.ID] = school.Override{Value: *value, Note: note}
		}
	}
	inner.Close()
	return own
}

// MostReadings is how many readings a case may have. What judging one costs grows with them. Common
// practice, no source: nobody takes as many of one battery.
const MostReadings = 3000

// TakeReadings takes readings, each a line or an object, and checks those that the label
// rules out; nil where they are missing.
func TakeReadings(o *field.Object, key string, l battery.Label) []reading.Reading {
	list, ok := o.List(key, "[…]")
	if !ok {
		return nil
	}
	if len(list) > MostReadings {
		o.Fault("problem.range", key, float64(len(list)), fmt.Sprintf("%d at the most", MostReadings))
		return nil
	}
	out := make([]reading.Reading, 0, len(list))
	for i, item := range list {
		r, problems := reading.FromJSON(item)
		if len(problems) == 0 && l.NominalV > 0 {
			if pr, bad := CheckAgainst(l, r); bad {
				problems = append(problems, pr)
			}
		}
		for _, pr := range problems {
			o.Found(pr.Under(fmt.Sprintf("%s[%d]", o.At(key), i)))
		}
		out = append(out, r)
	}
	return out
}
