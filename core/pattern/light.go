package pattern

import (
	"math"
	"slices"
)

// Weight is what a casting weighed.
type Weight struct {
	Grams float64
	Good  bool
}

// Usual is what good castings of a part weigh: their median, and how far one may be
// under it before something is missing inside.
type Usual struct {
	Weighed int     // good castings that it rests on
	Grams   float64 // their median
	Spread  float64 // g, the median of how far they are from it, as a standard deviation
	Limit   float64 // g; lighter is light
}

// How light is light. Common practice, no source.
const (
	leastWeighed = 5
	asDeviation  = 1.4826 // median deviations to a standard deviation of a normal one
	deviations   = 3.0
	steps        = 2.0 // digits of the scale
	leastMissing = 0.01
)

// UsualOf is what good castings weigh, on a scale with a digit in g; false where too
// few were weighed to tell.
func UsualOf(all []Weight, digit float64) (Usual, bool) {
	var good []float64
	for _, w := range all {
		if w.Good {
			good = append(good, w.Grams)
		}
	}
	u := Usual{Weighed: len(good)}
	if len(good) < leastWeighed {
		return u, false
	}
	u.Grams = median(good)
	off := make([]float64, len(good))
	for i, g := range good {
		off[i] = math.Abs(g - u.Grams)
	}
	u.Spread = asDeviation * median(off)
	u.Limit = u.Grams - max(deviations*u.Spread, steps*digit, leastMissing*u.Grams)
	return u, true
}

func median(all []float64) float64 {
	s := slices.Sorted(slices.Values(all))
	n := len(s)
	return (s[n/2] + s[(n-1)/2]) / 2
}
