// Package archive writes what the shop holds in open formats for programs outside.
package archive

import (
	"time"

	ics "github.com/arran4/golang-ical"
)

// Calendar is a list of days on which something is to be done.
type Calendar struct {
	Name   string
	Events []Event
}

// Event is one such day. Its UID stays when the day moves, and its sequence grows, so that a
// program that has it already moves it instead of having it twice.
type Event struct {
	UID      string
	Sequence int
	// Changed is when it was written down or moved last.
	Changed time.Time
	// On is the day, a date without a time.
	On          time.Time
	Summary     string
	Description string
	Location    string
}

// product names what wrote a calendar.
const product = "-//Grapnel//Workshop//EN"

// refreshEvery is how often a program that subscribed may ask again.
const refreshEvery = "PT6H"

// Text is the calendar as iCalendar. Source: RFC 5545.
func (c Calendar) Text() string {
	cal := ics.NewCalendar()
	cal.SetProductId(product)
	cal.SetMethod(ics.MethodPublish)
	cal.SetVersion("2.0")
	cal.SetXWRCalName(c.Name)
	cal.SetRefreshInterval(refreshEvery)
	for _, e := range c.Events {
		event := cal.AddEvent(e.UID)
		event.SetDtStampTime(e.Changed.UTC())
		event.SetModifiedAt(e.Changed.UTC())
		event.SetSequence(e.Sequence)
		event.SetAllDayStartAt(e.On)
		event.SetAllDayEndAt(e.On.AddDate(0, 0, 1))
		event.SetSummary(e.Summary)
		event.SetTimeTransparency(ics.TransparencyTransparent)
		if e.Description != "" {
			event.SetDescription(e.Description)
		}
		if e.Location != "" {
			event.SetLocation(e.Location)
		}
	}
	return cal.Serialize(ics.WithNewLineWindows)
}
