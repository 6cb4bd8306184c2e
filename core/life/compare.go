package life

import (
	"math"

	"gonum.org/v1/gonum/mathext"
)

// Side is what some moulds have done: how many wore out in how many pulls.
type Side struct{ Moulds, Worn, Pulls int }

// Compared is how much oftener a pull wears out a mould on one side than on the other.
type Compared struct {
	With, Without Side
	Ratio         float64 // of the rates; NaN where none wore out without, or nothing was pulled
	Low, High     float64 // 95 per cent interval; High may be infinite
	Tells         bool    // whether the log tells anything of it yet
}

// LeastWorn is how many moulds of a kind must have worn out before a difference is told.
const LeastWorn = 30

// unsure is the chance outside of the interval.
const unsure = 0.05

// Compare holds moulds that had something against those that had not. Given how many
// wore out in all, how many of them were on one side is binomial; its exact interval
// (Clopper & Pearson, Biometrika 26, 1934) gives that of the ratio of the rates
// (Przyborowski & Wilenski, Biometrika 31, 1940). It is a comparison, no proof: who
// rests a mould may also treat it better.
func Compare(with, without Side) Compared {
	out := Compared{With: with, Without: without, Ratio: math.NaN(), High: math.Inf(1)}
	if with.Pulls == 0 || without.Pulls == 0 || with.Worn+without.Worn == 0 {
		return out
	}
	a, b := float64(with.Worn), float64(without.Worn)
	exposed := float64(without.Pulls) / float64(with.Pulls)
	if b > 0 {
		out.Ratio = a / b * exposed
	}
	odds := func(p float64) float64 { return p / (1 - p) * exposed }
	if a > 0 {
		out.Low = odds(mathext.InvRegIncBeta(a, b+1, unsure/2))
	}
	if b > 0 {
		out.High = odds(mathext.InvRegIncBeta(a+1, b, 1-unsure/2))
	}
	out.Tells = with.Worn+without.Worn >= LeastWorn
	return out
}
