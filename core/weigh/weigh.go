// Package weigh reads a scale as a careful caster does: a figure counts once it
// stands still, and a scale that is silent, overloaded, below nothing or creeping
// is not believed.
//
// Times are in s since any moment; nothing here knows a clock.
package weigh

import "math"

// Reading is what a scale shows at a time.
type Reading struct {
	At    float64 // s
	Grams float64
	Over  bool // more than the scale takes; it shows no figure
}

// Watch is how a scale is watched.
type Watch struct {
	Digit float64 // g, one digit
	Still float64 // s for which a figure stands
	Quiet float64 // s without a reading, after which the scale has gone
}

// Usual is how a scale of a digit is watched: a figure that stands for a second
// is one, and after two without any the scale has gone. Common practice, no
// source.
func Usual(digit float64) Watch {
	return Watch{Digit: digit, Still: 1, Quiet: 2}
}

// least is how many readings tell that a figure stands still.
const least = 3

// Settled is the figure of the latest readings, in the order of their times, that
// has stood for long enough within one digit; not ok while it moves, or is too
// young.
func (w Watch) Settled(all []Reading) (grams float64, ok bool) {
	if len(all) < least {
		return 0, false
	}
	last := all[len(all)-1]
	low, high, n := math.Inf(1), math.Inf(-1), 0
	for i := len(all) - 1; i >= 0; i-- {
		if all[i].Over || math.IsNaN(all[i].Grams) {
			return 0, false
		}
		low, high = min(low, all[i].Grams), max(high, all[i].Grams)
		if high-low > w.Digit*(1+1e-9) {
			return 0, false
		}
		if n++; last.At-all[i].At >= w.Still {
			return last.Grams, n >= least
		}
	}
	return 0, false
}

// Trouble is why a scale is not believed.
type Trouble string

// What may be wrong with a scale.
const (
	None     Trouble = ""
	Silent   Trouble = "silent"   // no reading has come for some time
	Overload Trouble = "overload" // more stands on it than it takes
	Below    Trouble = "below"    // it shows less than nothing: the tare was taken with more on it
	Creeping Trouble = "creeping" // it wanders one way, slowly, though nothing is poured
)

// Says is what a caster does about it.
func (t Trouble) Says() string {
	return map[Trouble]string{
		Silent:   "The scale says nothing. Look at its plug and its lead, or type the weight in.",
		Overload: "More stands on the scale than it takes. Take something off, or weigh in two cups.",
		Below:    "The scale shows less than nothing: tare it again with the empty cup and its stick on it.",
		Creeping: "The scale creeps. Let it warm up out of the draught, tare again, or type the weight in.",
	}[t]
}

// A scale creeps where its figures go one way by more than two digits over so
// long, no faster than anybody pours. Common practice, no source.
const (
	creepsOver   = 20.0 // s
	creepsDigits = 2.0
	pours        = 0.2 // g/s, under which nobody pours
)

// Trouble is what is wrong with a scale whose readings came up to now.
func (w Watch) Trouble(all []Reading, now float64) Trouble {
	if len(all) == 0 {
		return None // it has just begun
	}
	last := all[len(all)-1]
	switch {
	case now-last.At > w.Quiet:
		return Silent
	case last.Over:
		return Overload
	case last.Grams < -1.5*w.Digit:
		return Below
	case w.creeps(all):
		return Creeping
	}
	return None
}

// creeps is whether the readings wander one way, slowly and evenly.
func (w Watch) creeps(all []Reading) bool {
	last := all[len(all)-1]
	first := len(all) - 1
	for first > 0 && last.At-all[first-1].At <= creepsOver {
		first--
	}
	seconds := last.At - all[first].At
	if len(all)-first < 2*least || seconds < creepsOver/2 {
		return false
	}
	went := last.Grams - all[first].Grams
	if math.Abs(went) <= creepsDigits*w.Digit || math.Abs(went)/seconds > pours {
		return false
	}
	for _, r := range all[first:] { // on the way it never leaves the straight line by more than a digit or so
		even := all[first].Grams + went*(r.At-all[first].At)/seconds
		if r.Over || math.Abs(r.Grams-even) > 1.5*w.Digit {
			return false
		}
	}
	return true
}
