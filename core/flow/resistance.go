// Package flow works out how resin runs through the channels of a mould: what
// each resists, what share of the resin takes it, and when each cavity is
// full.
//
// All values are SI: m, m³, s, Pa, Pa s, kg/m³. The flow is slow and laminar,
// the resin a plain liquid, the mould stiff.
package flow

import (
	"math"

	"bathyform/core/quantity"
)

// Tube is what a round bore resists, in Pa s/m³: 128 η L / (π d⁴) (Hagen
// 1839, Poiseuille 1840; from memory).
func Tube(viscosity, bore, length float64) float64 {
	return 128 * viscosity * length / (math.Pi * math.Pow(bore, 4))
}

// Ends is the length that is added to a bore for both its mouths where the
// flow creeps: 3 π r / 8 (Sampson 1891; Dagan, Weinbaum and Pfeffer 1982; from
// memory).
func Ends(bore float64) float64 { return 3 * math.Pi * bore / 16 }

// Cone is what a bore resists that goes evenly from one diameter to another:
// (8 η L / 3π) (r² + r R + R²) / (r³ R³). It is 2 % off at a half angle of 20°
// and 6 % at 45° (Harrison 1916, Happel and Brenner 1965; from memory).
func Cone(viscosity, bore, rim, length float64) float64 {
	r, R := bore/2, rim/2
	return 8 * viscosity * length / (3 * math.Pi) * (r*r + r*R + R*R) / math.Pow(r*R, 3)
}

// Duct is what a rectangular channel resists: 12 η L / (w h³ β) with h the
// lesser side (Boussinesq 1868, from memory).
func Duct(viscosity, width, height, length float64) float64 {
	w, h := max(width, height), min(width, height)
	return 12 * viscosity * length / (w * h * h * h * beta(h/w))
}

// HalfTube is what a bore resists that is half round: its section carries (π/2 −
// 4/π) r⁴ / 4 of η⁻¹ dp/dx where a round one carries π/8 r⁴, which is the
// stiffness of a half-round bar in torsion (de Saint-Venant 1855; Roark's
// formulas have 0.296 r⁴; from memory).
func HalfTube(viscosity, bore, length float64) float64 {
	return Tube(viscosity, bore, length) * (math.Pi / 2) / (math.Pi/2 - 4/math.Pi)
}

// beta is how much of what runs between wide plates runs in a channel whose
// sides are as h to w: 1 − (192/π⁵) (h/w) Σ tanh(nπw/2h)/n⁵ over odd n.
func beta(aspect float64) float64 {
	sum := 0.0
	for n := 1.0; n < 20; n += 2 {
		sum += math.Tanh(n*math.Pi/(2*aspect)) / math.Pow(n, 5)
	}
	return 1 - 192/math.Pow(math.Pi, 5)*aspect*sum
}

// Head is the pressure at the foot of a column of resin.
func Head(density, height float64) float64 { return density * quantity.Gravity * height }

// Syringe is the pressure that a hand of a force in N makes with a piston.
func Syringe(force, bore float64) float64 { return force / (math.Pi / 4 * bore * bore) }

// SelfWeight is the flow in m³/s with which an upright bore just runs full:
// poured slower it runs part empty and draws air.
func SelfWeight(density, viscosity, bore float64) float64 {
	return density * quantity.Gravity / Tube(viscosity, bore, 1)
}

// Reynolds tells whether a flow in m³/s through a round bore is laminar: it is
// under 2000.
func Reynolds(density, viscosity, bore, flow float64) float64 {
	return 4 * density * math.Abs(flow) / (math.Pi * bore * viscosity)
}

// Entry is how much of ρ/2 v² it costs to speed resin up into a round bore,
// smooth and laminar; from memory.
const Entry = 2.3

// Through is the flow in m³/s that a pressure drives through a resistance, with
// entry times ρ/2 v² lost as the resin is sped up into the area of the bore:
// dp = R Q + K (ρ/2) (Q/A)².
func Through(pressure, resistance, entry, density, area float64) float64 {
	a := entry * density / 2 / (area * area)
	if a == 0 {
		return pressure / resistance
	}
	return 2 * pressure / (resistance + math.Sqrt(resistance*resistance+4*a*pressure))
}
