package exotherm

import "math"

// A sheet's pot life is that of a cup of so many grams, from memory; when it is
// over this much has reacted, from memory as well.
const (
	sheetCup  = 100.0 // g
	converted = 0.3
)

// PotLife is the pot life of a mix of a mass in g whose sheet gives it for 100 g:
// a larger cup keeps more of its heat and gels earlier, a smaller one later. It is
// in the unit of the sheet's, min. The mix sets free so many J/g.
//
// The cup is a cylinder as high as wide that loses heat to still air; the reaction
// is of the first order, twice as fast for every 10 °C.
func PotLife(sheet, mass, density, reaction float64) float64 {
	if sheet <= 0 || mass <= 0 || density <= 0 {
		return sheet
	}
	low, high := 1e-9, 10.0 // of the rate, a second
	for range 60 {
		rate := math.Sqrt(low * high)
		if gels(rate, sheetCup, density, reaction) > sheet*60 {
			low = rate
		} else {
			high = rate
		}
	}
	return gels(math.Sqrt(low*high), mass, density, reaction) / 60
}

// gels is when a cup that reacts at a rate a second has converted so much, s.
func gels(rate, mass, density, reaction float64) float64 {
	wide := math.Cbrt(4*mass/density/math.Pi) / 100 // m
	tau := density * 1000 * capacity * (wide / 6) / film
	rise := reaction * 1000 / capacity
	x, t, at := 0.0, 0.0, 0.0
	for x < converted {
		pace := rate * math.Pow(q10, t/10)
		h := 0.001 / pace
		dx := pace * (1 - x)
		x, at = x+h*dx, at+h
		t = (t + h*rise*dx) / (1 + h/tau) // stands, however slow it is against the cooling
	}
	return at
}
