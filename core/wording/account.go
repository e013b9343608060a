package wording

// accountWords are what a verdict answers to whoever asks: what would turn it,
// where the schools differ, what two methods, a drain's fuses and a reserve check
// come to, and the paragraph for the customer.
var accountWords = map[string]string{
	// The smallest change of one reading.
	"turn.volts":          "{kind:kind}: {to:V} {way:word} instead of {from:V} would make it “{action:word}”.",
	"turn.volts_near":     "{kind:kind}: {to:V} {way:word} instead of {from:V} would make it “{action:word}”. That is within the instrument's error.",
	"turn.amps":           "{kind:kind}: {to:A} {way:word} instead of {from:A} would make it “{action:word}”.",
	"turn.amps_near":      "{kind:kind}: {to:A} {way:word} instead of {from:A} would make it “{action:word}”. That is within the instrument's error.",
	"turn.milliamps":      "{kind:kind}: {to:mA} {way:word} instead of {from:mA} would make it “{action:word}”.",
	"turn.milliamps_near": "{kind:kind}: {to:mA} {way:word} instead of {from:mA} would make it “{action:word}”. That is within the instrument's error.",
	"word.or_more":        "or more",
	"word.or_less":        "or less",

	// Where the schools of practice differ on a case.
	"school.turns":              "By the school “{school:word}”, {limit:V} at the least, it would be: {action:word}.",
	"school.differs":            "The school “{school:word}”, {limit:V} at the least, judges the load otherwise and comes to the same in the end.",
	"school.agree":              "The other schools of load testing judge this load alike.",
	"school.lamps":              "Some want high beam for {long:s} before the volts count; these had {seconds:s} of headlamps. The charge is close to the mark, so it may matter here.",
	"school.overnight":          "The cautious leave it overnight before the volts count; this stood {rested:min}. The charge is close to the mark, so it may matter here.",
	"school.corrosion_positive": "Some read corrosion on the positive post as overcharging. Here it is a hint that asks for the charging volts, and no more.",
	"school.corrosion_negative": "Some read corrosion on the negative post as undercharging. Here it is a hint that asks for the charging volts, and no more.",
	"school.age":                "It is {years} years old. Some would change it for that, others see 6 to 12 years; age is shown here and never decides.",

	// What the load picture says.
	"fit.within":            "Its internal resistance comes out at {ohms:Ohm} ({low:Ohm} to {high:Ohm}). A sound one of this label, as charged and as warm as this, has {sound_low:Ohm} to {sound_high:Ohm}.",
	"fit.above":             "Its internal resistance comes out at {ohms:Ohm} ({low:Ohm} to {high:Ohm}), more than the {sound_low:Ohm} to {sound_high:Ohm} of a sound one of this label, as charged and as warm as this.",
	"fit.below":             "Its internal resistance comes out at {ohms:Ohm} ({low:Ohm} to {high:Ohm}), less than the {sound_low:Ohm} to {sound_high:Ohm} of a sound one of this label: check the amperes, and the rating on the label.",
	"word.sound_full":       "sound and full would lie in here",
	"word.sound_now":        "sound, charged as this one is",
	"word.sound_full_short": "sound, full",
	"word.sound_now_short":  "sound, as charged",

	// The reserve check planned.
	"reserve.plan": "From full, {amps:A} for {minutes:min} takes a quarter of its ampere-hours. A sound one then shows {low:V} to {high:V} under that load; below {least:V} capacity is lost. Stop at {stop:V}, whatever the clock says.",

	"word.reserve_sound": "sound",
	"word.reserve_least": "least capacity it is kept for",
	"word.reserve_weak":  "one cell at a quarter",

	// Two methods.
	"methods.none":             "Neither a load nor a conductance test yet.",
	"methods.load_only":        "A load test alone. It is the reference; a conductance test beside it makes the verdict surer.",
	"methods.conductance_only": "A conductance test alone. A fail is confirmed by a load before anything is sold.",
	"methods.agree":            "Both methods say the same.",
	"methods.apart":            "The two methods contradict each other. Neither is believed before these are seen to:",
	"methods.one_error":        "Both failed on a battery under {percent:%} charge. That is one error counted twice: charge it, then both again.",
	"check.temperature":        "Temperature taken at the battery: ten degrees off are worth {volts:V} under load.",
	"check.joints":             "Clamps and posts looked at, clean and tight; the tester's clamps rocked.",
	"check.rating":             "The tester set to the type, rating and standard on the label.",
	"check.charge":             "Charged in full and rested.",
	"check.repeat":             "Both taken again.",

	// A drain, fuse by fuse.
	"hunt.begin":         "First the whole drain, asleep. Then millivolts over each fuse, none of them pulled: pulling one wakes modules.",
	"hunt.no_whole":      "Take the whole drain as well, so that it shows how much of it these fuses explain.",
	"hunt.awake":         "The whole drain was taken before the car slept. Let it sleep, take it again, then go on with the fuses.",
	"hunt.in_order":      "{whole:mA} is in order: up to {limit:mA} is usual. There is nothing to hunt.",
	"hunt.first_fuse":    "{whole:mA} in all. Now millivolts over the fuses, the ones that stay live first.",
	"hunt.go_on":         "Up to {left:mA} of {whole:mA} are not explained yet. Go on with the next fuses; then what has none: alternator, starter cable, anything wired straight to the battery.",
	"hunt.spread":        "The {count} fuses measured explain {whole:mA} between them and none carries most of it: several small things, or a module that stays awake.",
	"hunt.found":         "Fuse {fuse} carries {amps:mA}: unplug what hangs on it, one by one, until its millivolts fall.",
	"hunt.found_unnamed": "One fuse carries {amps:mA}: unplug what hangs on it, one by one, until its millivolts fall. Give it a name, so that it is found again.",

	// The customer's paragraph.
	"customer.why":              "Why replace it?",
	"customer.why_not":          "Why not replace it?",
	"customer.not_judged":       "The rules for lead batteries do not hold for this one, so we neither condemn nor clear it: its maker's instructions decide.",
	"customer.unsafe":           "Like this it is neither charged nor tested nor jumped; that is for your safety. What it is worth can be said once it is safe, and if it is damaged it is replaced.",
	"customer.load_failed":      "Under a test load of {amps:A} for {seconds:s} it fell to {volts:V}; as warm as it was ({at:C}), one of its rating has to hold {limit:V}.",
	"customer.load_failed_any":  "Under a test load of {amps:A} for {seconds:s} it fell to {volts:V}; even in the deepest cold one of its rating holds {limit:V}.",
	"customer.tester_failed":    "An electronic test found {measured:A} of the {rated:A} on its label ({ratio:%}).",
	"customer.cell_apart":       "One of its cells stays far behind the others after a charge; such a cell does not come back.",
	"customer.reserve_failed":   "In a timed run with a known load it gave out long before a battery of its label should: its capacity is lost, which a short test does not show.",
	"customer.stays_down":       "After a full charge it rests at only {volts:V}; a good one stays near {full:V}.",
	"customer.was_charged":      "It was {percent:%} charged when this was measured, so being flat is not the explanation.",
	"customer.two_agree":        "Two tests of different kinds say the same.",
	"customer.one_method":       "One kind of test was made; we can make a second one before you decide.",
	"customer.odds_bad":         "Of a hundred batteries that measure like this, about {count} are bad.",
	"customer.vehicle_too":      "The vehicle has something as well (most likely: {cause:word}, {count} in a hundred): unless that is put right, a new battery will suffer from it too.",
	"customer.joint_seen":       "There is {finding:word}{where:tail} at the posts.",
	"customer.clean_first":      "That is where the current is lost, and until it is clean and tight no test says anything about the battery itself. Cleaned, the same battery is tested again; often nothing else is needed.",
	"customer.low":              "It is only {percent:%} charged.",
	"customer.low_at_most":      "It is at most {percent:%} charged.",
	"customer.contradict":       "Two tests contradict each other, so one of them is wrong.",
	"customer.sound_fail":       "At this charge about {count} of a hundred good batteries of this label would fail the load test as well, against {full} when charged, so a failed test says nothing yet.",
	"customer.unproven":         "The test it failed does not count yet, because nobody can say how charged it was.",
	"customer.odds_sound":       "As it stands, about {count} of a hundred batteries like this one are good; a new one would then be money wasted.",
	"customer.charge_first":     "A full charge, a rest and one more test decide it.",
	"customer.load_passed":      "Under a test load of {amps:A} for {seconds:s} it held {volts:V}; as warm as it was ({at:C}), {limit:V} is asked.",
	"customer.load_passed_any":  "Under a test load of {amps:A} for {seconds:s} it held {volts:V}; {limit:V} is enough at any temperature.",
	"customer.tester_passed":    "An electronic test found {measured:A} of the {rated:A} on its label ({ratio:%}).",
	"customer.odds_good":        "Of a hundred batteries that measure like this, about {count} are good.",
	"customer.capacity_unknown": "Not tested is how long it lasts under a small load.",
	"customer.was_flat":         "It came in discharged, and something did that.",
	"customer.likely_cause":     "Most likely: {cause:word} ({count} in a hundred).",
	"customer.find_cause":       "What it was is still to be found.",
	"customer.new_one_too":      "A new battery would not cure that; it would soon be flat too.",
	"customer.age":              "That it is about {years} years old is no reason by itself.",
	"customer.not_yet":          "The readings so far decide nothing either way.",
	"customer.next":             "Next: {step} That is about {minutes:min} of work.",
}
