package wording

// chargingWords are what is said of one charge.
var chargingWords = map[string]string{
	"refusal.frozen":             "It is frozen, or may be at this charge: no charge before it has thawed indoors and was looked at again.",
	"refusal.damaged":            "The case or a post is damaged: it is not charged, it is replaced, and what broke it is found out.",
	"refusal.eye_clear":          "The eye is clear: the acid lies under it. It is not charged, it is replaced.",
	"refusal.plates_dry":         "Plates stand dry: cover them with distilled or deionised water first, to the mark only after the charge.",
	"refusal.lithium":            "A lithium battery is charged by its maker’s instructions and charger alone.",
	"refusal.unknown_chemistry":  "What kind of battery it is has to be known before it is charged: the volts differ.",
	"refusal.must_leave_vehicle": "It leaves the vehicle for this charge: makers of motorcycles and off-road vehicles want it out always, and more than 15\u00a0V never go on a vehicle.",
	"refusal.sealed_equalise":    "Only a flooded battery whose cells open is equalised.",
	"refusal.no_setting":         "The charger has no setting for {chemistry:word}.",
	"refusal.too_many_amps":      "The charger’s least, {amps:A}, is more than the {most_amps:A} that this battery may have.",
	"refusal.too_many_volts":     "The charger holds {volts:V}; this battery may have {most_volts:V} at the most.",
	"refusal.never_for_storage":  "A charger that does not end by itself is never left alone with a battery.",
	"refusal.will_not_wake":      "The battery lies under the {wake_v:V} that the charger starts on.",

	"wake.polarity": "Find plus and minus with a meter at the posts of both batteries; do not go by colours.",
	"wake.second":   "Put a good battery of {volts:V} beside it, plus to plus and minus to minus.",
	"wake.begin":    "Begin the charge across both.",
	"wake.part":     "Take the good battery off as soon as the charge runs, minus first.",
	"wake.watch":    "Stay with it for the first quarter of an hour: no heat, no hard gassing, the volts rise.",

	"assumed.where":     "Where it is charged was not said: taken as {where:word}.",
	"assumed.capacity":  "The label does not give ampere-hours: taken as {ah:Ah}.",
	"assumed.charge":    "The readings tell no charge: anything from flat to full.",
	"assumed.battery_c": "No temperature is known: taken as {celsius:C}.",
	"assumed.charger":   "No charger was named: one that goes through its stages at {amps:A}.",
	"word.in_vehicle":   "in the vehicle",

	"why_charge.amps":              "{amps:A} is {percent:0}\u00a0% of its {ah:Ah}; a tenth is kind.",
	"why_charge.not_more":          "{amps:A} would be {percent:0}\u00a0% and {hours:1}\u00a0h sooner full: warmer, and harder on the plates.",
	"why_charge.not_less":          "{amps:A} would take {hours:1}\u00a0h longer.",
	"why_charge.volts":             "{volts:V} is what {chemistry:word} is held at; this charger does not follow the temperature.",
	"why_charge.volts_compensated": "{volts:V} is what {chemistry:word} is held at, at {celsius:C}.",

	"unplaced.no_channel":      "There is no channel to put it on.",
	"unplaced.no_hands":        "Nobody is there in time to put it on and take it off again: add hands’ hours.",
	"unplaced.place_too_small": "The place has too little mains or air for its charge, even with nothing else on.",
	"unplaced.never_ready":     "No charger here gets it there within {hours:0} h.",

	"decided.nothing":  "What was decided by hand costs nothing.",
	"decided.late":     "What was decided by hand costs {minutes:min} late.",
	"decided.flat":     "What was decided by hand costs {flat:1} h more of standing flat.",
	"decided.last":     "What was decided by hand keeps the last one on {last:1} h longer.",
	"decided.unplaced": "What was decided by hand leaves {unplaced:0} without a charger.",

	"fix.amps":     "{battery}: {amps:A} instead of {usual:A}, within its limit; it gets warmer. Saves {minutes:min}.",
	"fix.charger":  "One more charger like {channel}, borrowed or bought, saves {minutes:min}.",
	"fix.hands":    "Somebody there until {at} saves {minutes:min}.",
	"fix.tomorrow": "{battery}: promise it for {at}. Saves {minutes:min}.",

	"why_charge.most": "The most that it may have is {amps:A}, {percent:0} % of its ampere-hours.",

	"before.clean":          "Clean the posts; clamps bite on lead, not on a bolt’s thread.",
	"before.in_vehicle":     "In the vehicle: everything off, plus first, then minus on the metal that the maker names, away from the battery.",
	"before.bench":          "On the bench: off the vehicle, upright, plus first, then minus.",
	"before.second_battery": "A start-stop vehicle may have a second battery and a relay that joins them: find both, and part them, or the charge goes to the other one.",
	"before.halves":         "Two in series: read each half. Where they differ they are charged one by one, parted.",
	"before.equalise":       "Equalising at {volts:V}: caps loose, level over the plates, off the vehicle, somebody beside it, a small current, and an end when no cell rises any more for an hour.",
	"before.cold":           "At {celsius:C} it takes {hours:1} h longer than at 25 °C: bring it in to warm first.",
	"before.cold_never":     "At {celsius:C} it is not full in three days, at 25 °C in {hours:1} h: bring it in to warm first.",
	"before.outdoors":       "Outdoors or in the damp: a residual-current device, the lead out of water and out of the way of wheels, the charger dry.",
	"before.order":          "Charger off and unplugged; clamp; plug in; set the kind of battery, then the current; then on.",

	"after_charge.off":    "Charger off and unplugged, then minus off, then plus.",
	"after_charge.rest":   "Let it rest an hour.",
	"after_charge.read":   "Read the volts, and every cell where they open; or look at the eye.",
	"after_charge.retest": "Load it again: charging proves no health.",
}

// anomalyWords are what a charge that goes otherwise is said to be, and what to do.
var anomalyWords = map[string]string{
	"anomaly.not_accepting":     "It takes hardly any current: deeply discharged or sulphated, or the clamp sits on a bolt’s thread.",
	"anomaly.poor_contact":      "The current is small for volts that lie under the charger’s: a poor contact between charger and posts.",
	"anomaly.early_full":        "The current falls long before what was missing is in: a tired or sulphated battery.",
	"anomaly.takes_too_much":    "It takes more than was missing and the volts stay low: it does not hold what it is given.",
	"anomaly.shorted_cell":      "The volts lie a cell too low: one cell is shorted.",
	"anomaly.too_hot":           "The battery is hot.",
	"anomaly.over_volts":        "The volts are more than this battery may have.",
	"anomaly.not_falling":       "The current no longer falls though what was missing is in.",
	"anomaly.lamp_contradicted": "The charger says full; the ampere-hours put in say not yet.",
	"anomaly.runaway":           "The current rises at the same volts: thermal runaway.",

	"anomaly_do.not_accepting":     "Clean the posts, clamp on lead and not on a thread, and wait: up to 16 h for a sealed one. Then read the current again.",
	"anomaly_do.poor_contact":      "Charger off; clean posts and clamps, clamp again, and read the volts at the posts beside the charger’s own.",
	"anomaly_do.early_full":        "Let it rest an hour, read volts and every cell, then load it: a charge proves no health.",
	"anomaly_do.takes_too_much":    "End the charge, let it stand over night and read the volts: a cell that falls by itself shows then.",
	"anomaly_do.shorted_cell":      "End the charge. Read every cell, or the volts after a rest; near 10.5\u00a0V one cell is gone.",
	"anomaly_do.too_hot":           "Charger off. Go on with less current once it is cool to the hand.",
	"anomaly_do.over_volts":        "Charger off. See to its setting, and to a battery monitor or a relay that it fights.",
	"anomaly_do.not_falling":       "End the charge. Feel the cells for one that is warm, and read the volts after a rest.",
	"anomaly_do.lamp_contradicted": "Do not believe the lamp: charge on, or with another charger, and count the ampere-hours.",
	"anomaly_do.runaway":           "Charger off at once, away from it, and let it cool outdoors.",
}
