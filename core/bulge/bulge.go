// Package bulge says how stiff rubber is, how far a wall of it gives under
// the head of resin behind it, and how thick it must be.
//
// Lengths are in mm, pressures in Pa, moduli in MPa.
package bulge

import (
	"math"
)

// Young is the modulus of a rubber of a hardness, Shore A, in MPa, by Gent
// (Rubber Chem. Technol. 31, 1958, 896; from memory). It is good to about a
// third from 20 to 80 Shore A; harder and softer ones are taken at the ends
// of 10 to 80.
func Young(shore float64) float64 {
	s := max(10, min(80, shore))
	return 0.0981 * (56 + 7.62336*s) / (0.137505 * (254 - 2.54*s))
}

// Edges is how a wall is held all round.
type Edges int

// A wall of a block runs on into the block: clamped. A lid laid on is supported.
const (
	Clamped Edges = iota
	Supported
)

// plates are coefficients of a uniformly loaded rectangular plate, Poisson's
// ratio 0.5, by side ratio: deflection α, and the share c that shear adds.
// After Timoshenko & Woinowsky-Krieger 1959 and Mindlin 1951, computed for
// incompressible rubber.
var plates = [2][]struct{ ratio, alpha, c float64 }{
	Clamped:   {{1, 0.001265, 25}, {1.5, 0.002197, 20.4}, {2, 0.002533, 19.6}, {3, 0.00262, 19.2}},
	Supported: {{1, 0.004062, 7.26}, {1.5, 0.007724, 5.22}, {2, 0.010129, 4.50}, {5, 0.013021, 3.84}},
}

func plate(e Edges, ratio float64) (alpha, c float64) {
	rows := plates[e]
	last := rows[0]
	for _, r := range rows {
		if ratio <= r.ratio {
			if r.ratio == last.ratio {
				return r.alpha, r.c
			}
			f := (ratio - last.ratio) / (r.ratio - last.ratio)
			return last.alpha + f*(r.alpha-last.alpha), last.c + f*(r.c-last.c)
		}
		last = r
	}
	return last.alpha, last.c
}

// Wall is a wall of rubber over a face of the cavity.
type Wall struct {
	Short, Long float64 // sides of the face, mm
	Thick       float64 // mm
	Edges       Edges
}

// Deflection is how far the middle of a wall gives under a mean pressure (Pa)
// at a modulus (MPa), in mm: w = α q a⁴ / D · (1 + c (t/a)²) with D = E t³ / 9.
func (w Wall) Deflection(pressure, young float64) float64 {
	a, b := min(w.Short, w.Long), max(w.Short, w.Long)
	if a <= 0 || w.Thick <= 0 || young <= 0 {
		return math.Inf(1)
	}
	alpha, c := plate(w.Edges, b/a)
	return 9 * alpha * pressure * math.Pow(a, 4) / (young * 1e6 * math.Pow(w.Thick, 3)) * (1 + c*(w.Thick/a)*(w.Thick/a))
}

// Thickness is how thick a wall must be to give no more than so much, mm.
// Where shear alone already gives more, no thickness helps and it is +Inf.
func (w Wall) Thickness(most, pressure, young float64) float64 {
	lo, hi := 0.01, 4*max(w.Short, w.Long)
	w.Thick = hi
	if most <= 0 || w.Deflection(pressure, young) > most {
		return math.Inf(1)
	}
	for range 80 {
		mid := (lo + hi) / 2
		if w.Thick = mid; w.Deflection(pressure, young) > most {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi
}
