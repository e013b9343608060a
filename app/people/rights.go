package people

import (
	"fmt"
	"slices"
)

// Nobody is who has not signed in.
const Nobody Role = ""

// right says who may do some operations of the API.
type right struct {
	who        []Role
	operations []string
}

var (
	anybody  = []Role{Nobody, Counter, Technician, Owner}
	everyone = []Role{Counter, Technician, Owner}
	hands    = []Role{Technician, Owner}
	owner    = []Role{Owner}
)

// rights is the one table of who may do what: the router is built from it, the screens
// offer what it allows. The counter brings in, hands back, prints, keeps the stock and the
// list of the yard; a technician measures, judges, lifts stop rules, corrects and charges; the
// owner looks after people, limits, instruments, chargers, places and the server.
var rights = []right{
	{anybody, []string{
		"hello", "signIn", "signOut", "setUp", "useResetCode", "description",
	}},
	// Whoever is signed in looks at everything of the shop and looks after their own account.
	{everyone, []string{
		"mySessions", "mySeal", "endMySession", "endMyOtherSessions", "changePassword", "beginSecond", "confirmSecond", "dropSecond",
		"people", "today", "choices", "findVehicles", "events", "clocks",
		"job", "account", "verdicts", "battery", "photo", "jobText", "planCharge", "charged", "terminals", "fitting", "procedures", "attempts", "attempt",
		"preview", "assess", "workOutJump", "complete", "sums", "workSum", "figures", "instruments",
		"shelf", "chargeOnShelf", "loggedCharge", "makerCharge", "yard", "rounds", "season", "places", "staysAt", "chargers", "staysOfBattery",
		"stock", "stockLabels", "calendar", "calendarFeeds", "makeFeed", "withdrawFeed",
	}},
	// The counter's: what comes in, what goes out, where it is, what is in the stock. A point
	// of the closing list is answered under the name of whoever says it.
	{everyone, []string{
		"bringIn", "describe", "desk", "answerStep", "closeJob", "reopenJob", "keepPhoto",
		"keepStock", "leaveStock", "askCharge", "putAway", "endStanding", "stay", "leave",
	}},
	// Hands on the vehicle: what is measured, taken back, connected and decided.
	{hands, []string{
		"keepReading", "correctReading", "mistakenReading", "undoReading", "keepLooseReading", "clearStop", "relabel", "mount", "keepSum",
		"startClock", "stopClock", "instrumentsNow", "importJob",
		"beginAttempt", "stepAttempt", "keepWants", "keepBody", "replaceBattery", "takeBackReplacement", "fitBattery", "takeOutBattery",
		"keepCheck", "followCharge", "unfollowCharge", "setMakerCharge", "connectCharge", "takeOffCharge", "decideCharge", "takeBackDecision",
		"come", "mistakenVisit",
	}},
	{owner, []string{
		"addPerson", "changePerson", "resetPerson", "endSessions",
		"setLimit", "dropLimit", "keepInstrument", "dropInstrument", "probeInstrument",
		"serverState", "backUpNow", "dropBackup", "keepPlace", "dropPlace", "keepCharger", "dropCharger", "setHands", "keepClimate",
	}},
}

// byOperation is the table by what is done.
var byOperation = func() map[string][]Role {
	out := map[string][]Role{}
	for _, r := range rights {
		for _, name := range r.operations {
			if out[name] != nil {
				panic(fmt.Sprintf("rights: %s stands in the table twice", name))
			}
			out[name] = r.who
		}
	}
	return out
}()

// WhoMay lists the roles that may do an operation; nil for one that the table does not have.
func WhoMay(operation string) []Role { return byOperation[operation] }

// May reports whether a role may do an operation; what the table does not have nobody may.
func (r Role) May(operation string) bool { return slices.Contains(byOperation[operation], r) }

// Rights lists the operations that a role may do, in the order of the table.
func (r Role) Rights() []string {
	out := []string{}
	for _, one := range rights {
		if slices.Contains(one.who, r) {
			out = append(out, one.operations...)
		}
	}
	return out
}

// Operations lists every operation of the table.
func Operations() []string { return Owner.Rights() }
