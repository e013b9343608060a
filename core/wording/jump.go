package wording

// jumpWords are what is said of a jump start.
var jumpWords = map[string]string{
	"jump_refusal.mixed_voltage": "{other:0}\u00a0V onto {volts:0}\u00a0V is never joined: the same voltage on both sides, or another way.",
	"jump_refusal.frozen":        "It is frozen, or may be at this charge: no jump before it has thawed indoors and was looked at again.",
	"jump_refusal.damaged":       "The case or a post is damaged: no current through it. It is replaced, and what broke it is found out.",
	"jump_refusal.eye_clear":     "The eye is clear: the acid lies under it, and gas stands above. It is not jumped, it is replaced.",
	"jump_refusal.lithium":       "A lithium battery is not jumped like lead: its maker’s instructions and equipment alone.",
	"jump_refusal.weak_donor":    "A hybrid takes a jump and gives none, unless its book says so: its small battery and converter are not made for it.",
	"jump_small.weak_donor":      "It gives {amps:A} at most at this temperature, and the starter asks {asks:A} even warm: it only goes flat as well. A larger one, or another way.",
	"jump_refusal.not_this_way":  "Earth leads first ends on a live positive at the donor’s battery: positive first, and the last clamp to bare metal away from the battery.",

	"jump_better.thicker_cable": "Leads of twice the copper.",
	"jump_better.shorter_cable": "Leads of half the length: bring the vehicles nearer.",
	"jump_better.feed_longer":   "Feed it ten minutes longer before it cranks.",
	"jump_better.bigger_donor":  "A donor half as large again.",
	"jump_better.warm":          "Bring battery and engine into the warm, some fifteen degrees.",
	"jump_better.clean_joints":  "Clean and seat the joint that is in the way: that alone may start it.",

	"word.jump_percent": "How full what gives is", "word.jump_celsius": "How cold it is", "word.jump_nominal": "Its nominal volts", "word.jump_amps": "Its amperes",
	"word.jump_ah": "Its ampere-hours", "word.jump_square": "The leads", "word.jump_metres": "The length of a lead", "word.jump_engine": "The engine",
	"word.jump_joints": "Bad joints", "word.jump_minutes": "Feed first",

	"word.lost_donor": "inside what gives", "word.lost_leads": "leads and clamps", "word.lost_joints": "the vehicle’s own cables and joints", "word.lost_starter": "reaches the starter",

	"jump_after.volts":  "Read the charging volts at the posts; just after a jump they prove little.",
	"jump_after.drive":  "Keep to where it can be jumped again for the first 10 to 15 minutes: that long proves only that it starts again.",
	"jump_after.charge": "It is not charged by the drive: that takes hours on a charger.",
	"jump_after.tests":  "Test the battery after the full charge and its rest, with its load and its charging.",
	"jump_after.cause":  "Find what flattened it, or write down that it is not known.",
	"jump_after.pack":   "Charge the pack again, by its maker’s instructions, before it is needed.",

	"assumed.jump_chemistry": "What kind of battery it is is not known: worked out as flooded.",
	"assumed.jump_wake":      "Nothing is cranked on 12\u00a0V here: worked out as waking it with {amps:A}.",
	"assumed.jump_cables":    "The leads were not described in full: taken as {square:0}\u00a0mm², {metres:1}\u00a0m each.",
	"assumed.jump_charger":   "The start current of the charger was not said: taken as {amps:A}.",
	"assumed.jump_pack":      "The peak on the pack’s label was not said: taken as {amps:A}.",
	"assumed.jump_peak":      "Of the {peak:A} peak on a pack’s label about {amps:A} count at the starter’s volts, as cold and as full as it is: a value from memory.",
	"assumed.jump_donor":     "The donor’s battery was not described: taken as flooded, {ah:Ah}, charged.",
}
