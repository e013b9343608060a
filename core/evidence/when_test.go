package evidence

import (
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// TestTakenAt checks when a reading was taken, by what it says, by the device and by
// now, in a zone an hour ahead of UTC.
func TestTakenAt(t *testing.T) {
	zone := time.FixedZone("there", 3600)
	at := func(text string) time.Time {
		when, err := time.ParseInLocation("2006-01-02 15:04:05", text, zone)
		if err != nil {
			t.Fatal(err)
		}
		return when
	}
	now := at("2026-11-24 14:00:30")
	for _, c := range []struct{ said, typed, want, field string }{
		{"", "", "2026-11-24 14:00:30", ""},
		{"", "2026-11-24 09:10:00", "2026-11-24 09:10:00", ""},
		{"", "2026-11-24 14:20:00", "2026-11-24 14:00:30", ""}, // a device that is ahead is not believed
		{"", "2026-11-27 14:20:00", "", "taken_at"},
		{"", "0000-01-01 00:00:00", "", "taken_at"},
		{"", "9999-01-01 00:00:00", "", "taken_at"},
		{"14:01", "", "2026-11-24 14:01:00", ""}, // half a minute ahead: today, not yesterday
		{"14:15", "", "2026-11-24 14:15:00", ""},
		{"14:16", "", "2026-11-23 14:16:00", ""},
		{"13:10", "", "2026-11-24 13:10:00", ""},
		{"23:50", "", "2026-11-23 23:50:00", ""},
		{"13:10", "2026-11-20 12:00:00", "2026-11-19 13:10:00", ""}, // typed in the morning without the line
		{"00:10", "2026-11-24 00:05:00", "2026-11-24 00:10:00", ""},
		{"2026-11-24T12:00:00Z", "", "2026-11-24 13:00:00", ""},
		{"2026-11-24T13:05:00Z", "", "2026-11-24 14:05:00", ""},
		{"2031-01-01T12:00:00Z", "", "", "at"},
		{"0000-01-01T12:00:00Z", "", "", "at"},
		{"9999-12-31T23:59:59Z", "", "", "at"},
	} {
		var typed time.Time
		if c.typed != "" {
			typed = at(c.typed)
		}
		got, problems := TakenAt(c.said, typed, now, zone)
		if c.field != "" {
			if len(problems) != 1 || problems[0].Field != c.field {
				t.Errorf("%q typed %s: %v, want a problem of %s", c.said, c.typed, problems, c.field)
			}
			continue
		}
		if len(problems) > 0 || !got.Equal(at(c.want)) {
			t.Errorf("%q typed %s: %s, want %s (%v)", c.said, c.typed, got.In(zone), c.want, problems)
		}
	}
}

// TestTakenAgain checks that a corrected time is of the day of the reading, and that a
// line that says none leaves it.
func TestTakenAgain(t *testing.T) {
	day := func(d, h, m int) time.Time { return time.Date(2026, 11, d, h, m, 0, 0, time.UTC) }
	for _, c := range []struct {
		said             string
		before, received time.Time
		want             time.Time
	}{
		{"", day(24, 13, 10), day(24, 14, 0), day(24, 13, 10)},
		{"12:10", day(24, 13, 10), day(24, 14, 0), day(24, 12, 10)},
		{"13:50", day(24, 13, 10), day(24, 14, 0), day(24, 13, 50)},
		{"14:40", day(24, 13, 10), day(24, 14, 0), day(23, 14, 40)},
		{"12:10", day(20, 13, 10), day(24, 9, 0), day(20, 12, 10)}, // it waited on the device
		{"18:00", day(20, 13, 10), day(24, 9, 0), day(20, 18, 0)},
		{"2026-11-19T08:00:00Z", day(24, 13, 10), day(24, 14, 0), day(19, 8, 0)},
	} {
		got, problems := TakenAgain(c.said, c.before, c.received, time.UTC)
		if len(problems) > 0 || !got.Equal(c.want) {
			t.Errorf("%q of %s: %s, want %s (%v)", c.said, c.before, got, c.want, problems)
		}
	}
	if _, problems := TakenAgain("2026-11-25T08:00:00Z", day(24, 13, 10), day(24, 14, 0), time.UTC); len(problems) == 0 {
		t.Error("a reading was taken a day after it was received")
	}
}

// timed are lines with their times, in hours after nine.
func timed(t *testing.T, lines ...struct {
	hours float64
	line  string
}) Case {
	t.Helper()
	c := Case{Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: new(quantity.AmpereHours)}}
	*c.Label.CapacityAh = 60
	for _, l := range lines {
		parsed, err := reading.Parse(l.line)
		if err != nil {
			t.Fatal(err)
		}
		at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC).Add(time.Duration(l.hours * float64(time.Hour)))
		c.Readings = append(c.Readings, Taken{At: at, Reading: parsed.Reading})
	}
	return c
}

// TestChargeMinutes checks that checks of a charge which do not say how long it has run
// are told by their times, and that what went in follows: 6 A over an hour is 6 Ah.
func TestChargeMinutes(t *testing.T) {
	type line = struct {
		hours float64
		line  string
	}
	for _, c := range []struct {
		name  string
		lines []line
		last  float64
		ah    float64
	}{
		{"said", []line{{0, "charge 14.2v 6a 30min"}, {1, "charge 14.4v 6a 90min"}}, 90, 9},
		{"by time", []line{{0, "charge 14.2v 6a"}, {1, "charge 14.4v 6a"}}, 60, 6},
		{"one said", []line{{0, "charge 14.2v 6a 30min"}, {1, "charge 14.4v 6a"}}, 90, 9},
		{"the later said", []line{{0, "charge 14.2v 6a"}, {1, "charge 14.4v 6a 90min"}}, 90, 9},
		{"two days apart", []line{{0, "charge 14.2v 6a 30min"}, {48, "charge 14.4v 6a"}}, 0, 3},
	} {
		k := timed(t, c.lines...)
		got := ChargeMinutes(k, 0, len(k.Readings))[len(k.Readings)-1]
		ah, _ := AhPutIn(k, Epoch{First: 0, End: len(k.Readings)})
		if float64(got) != c.last || float64(ah) != c.ah {
			t.Errorf("%s: %g min, %g Ah; want %g, %g", c.name, got, ah, c.last, c.ah)
		}
	}
}

// TestDay checks that the day judged is that of the moment where no other is named.
func TestDay(t *testing.T) {
	zone := time.FixedZone("there", 13*3600)
	c := Case{Now: time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC).In(zone)}
	if c.Day() != "2026-12-01" {
		t.Errorf("%s", c.Day())
	}
	if c.AsOf = "2026-04-01"; c.Day() != "2026-04-01" {
		t.Errorf("%s", c.Day())
	}
}
