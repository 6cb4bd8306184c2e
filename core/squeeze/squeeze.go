// Package squeeze works out a mould whose upper half is pressed down on
// resin: how thick the flash comes out, how hard the resin lifts the upper
// half, and the weight that keeps it down.
//
// All values are SI: m, N, kg, s, Pa s.
package squeeze

import (
	"math"

	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// Land is the ring of rubber round the cavity over which the excess leaves.
type Land struct {
	Length float64 // of its centre line, m
	Width  float64 // m
}

// Flow is resin on its way to gel.
type Flow struct {
	Viscosity float64 // freshly mixed, Pa s
	Growth    mix.Growth
}

// Effective is the time in s that a flow as thin as at first would need to
// come as far by gel, which is reckoned at the end of the pot life.
func (f Flow) Effective() float64 { return f.Growth.Effective(f.Growth.PotLife) }

// Flash is how thick the film on the land is at gel when a force (N) presses
// on it from a gap: 1/h² = 1/h0² + 2 F t / (η L b³), a narrow strip vented on
// both edges (Stefan 1874, Reynolds 1886; from memory).
func (l Land) Flash(force, gap float64, f Flow) float64 {
	if force <= 0 || l.Length <= 0 || l.Width <= 0 || f.Viscosity <= 0 {
		return gap
	}
	return 1 / math.Sqrt(1/(gap*gap)+2*force*f.Effective()/(f.Viscosity*l.Length*math.Pow(l.Width, 3)))
}

// Closes is how long it takes to press the film from a gap down to a thickness,
// in s from when the upper half is laid on, and not ok where it gels first: the
// same law, solved for t.
func (l Land) Closes(force, gap, thick float64, f Flow) (s float64, ok bool) {
	if thick >= gap {
		return 0, true
	}
	if force <= 0 || l.Length <= 0 || l.Width <= 0 || f.Viscosity <= 0 || thick <= 0 {
		return math.Inf(1), false
	}
	fresh := (1/(thick*thick) - 1/(gap*gap)) * f.Viscosity * l.Length * math.Pow(l.Width, 3) / (2 * force)
	return f.Growth.Takes(fresh)
}

// Uplift is the force by which resin of a density (kg/m³) lifts a ceiling,
// in N: the weight of the resin that would stand between the ceiling and the
// level of its free surface (m³).
func Uplift(density, between float64) float64 { return density * quantity.Gravity * between }

// Safety is by how much more the weight is made. Common practice, no source.
const Safety = 1.5

// Weight is what has to be laid on an upper half of a mass (kg), in kg; never
// below nothing.
func Weight(uplift, half float64) float64 { return math.Max(0, Safety*uplift/quantity.Gravity-half) }
