package e2e_test

import "testing"

// TestReadingsThatContradict types volts and gravities of one charge that cannot both be true:
// the screen says so, has no charge state, and asks for what settles it.
func TestReadingsThatContradict(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.bringInByTap("CN 7 TRA", "cranks slowly", "flooded")
	p.stage("Charge state")
	p.line("12.65 v 20c rested 3h", true)
	p.see("12.65 v 20c rested 3h")
	p.line("sg 1190 1190 1190 1185 1190 1190 at 20c", true)
	p.see("both cannot be true", "readings contradict", "Surface charge", "contradicted")
	p.verdict("more_tests", false)
	p.accessible("readings that contradict")
	// Read again, the surface charge gone, they agree.
	p.line("12.28 v 20c lamps 2min wait 1min", true)
	p.verdict("charge_and_retest", false)
}

// TestReversedBattery types volts below nothing on the phone: everything stops.
func TestReversedBattery(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.bringInByTap("RV 1 RSD", "completely dead", "flooded")
	p.stage("Charge state")
	p.line("-12.1 v", true)
	p.see("wrong way round")
	p.verdict("stop_unsafe", false)
	p.narrow()
}

// TestHybridIsAsked brings a hybrid in that says whether its 12 V battery cranks: a cranking
// reading of one that does not is kept and counts for nothing.
func TestHybridIsAsked(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.bringInByTap("HY 3 BRD", "hybrid", "Does not crank on 12 V", "odd warning lamps", "AGM")
	p.stage("Vehicle")
	p.line("crank 9.1v 3s slow", true)
	p.see("turns no engine")
	p.stage("Charge state")
	p.line("halves 12.7v 12.1v 20c rested 3h", true)
	p.see("Part them")
}
