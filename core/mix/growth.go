package mix

import "math"

// Growth is how a mix thickens on its way to gel: its viscosity grows
// exponentially and is Times what it was at first when its pot life is over
// (Castro and Macosko 1980, Roller 1975; from memory). The clock starts as A
// and B meet. The zero Growth stays as thin as it is.
type Growth struct {
	PotLife float64 // s; 0 where the mix does not thicken
	Times   float64 // more than 1; the common sheet says 2, see [Thickens]
}

// Thickening is the growth of a mix whose sheet gives a pot life in s.
func Thickening(potLife float64) Growth { return Growth{potLife, Thickens} }

func (g Growth) rate() float64 {
	if g.PotLife <= 0 || g.Times <= 1 {
		return 0
	}
	return math.Log(g.Times) / g.PotLife
}

// Effective is the time in s at the first viscosity in which as much runs as
// in the time t while it thickens: (1 − exp(−k t)) / k.
func (g Growth) Effective(t float64) float64 {
	k := g.rate()
	if k == 0 {
		return t
	}
	return -math.Expm1(-k*t) / k
}

// Takes is how long in s really takes what would take t at the first
// viscosity: −ln(1 − k t) / k. It is false where the mix sets before.
func (g Growth) Takes(t float64) (float64, bool) {
	k := g.rate()
	switch {
	case k == 0:
		return t, !math.IsInf(t, 1)
	case k*t >= 1:
		return math.Inf(1), false
	}
	return -math.Log1p(-k*t) / k, true
}
