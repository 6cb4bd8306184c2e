// Package gap reckons whether resin runs into a thin section: the pressure
// that resists it at the mouth, the time it takes, how far it comes before it
// gels, and what a dead end or a bubble does. SI units throughout.
package gap

import (
	"bathyform/core/mix"
	"bathyform/core/quantity"
	"math"
)

// Atmosphere is the standard atmosphere, Pa.
const Atmosphere = 101325

// Resin is what flows.
type Resin struct {
	Viscosity float64 // mixed, Pa s
	Density   float64 // kg/m³
	Tension   float64 // surface tension, N/m
	PotLife   float64 // s, in which the viscosity doubles
}

// Neutral and Pessimistic are contact angles in degrees between resin and
// rubber: liquid resin neither wets nor shuns clean silicone; moving fronts
// and release agents push the angle up.
const (
	Neutral     = 90.0
	Pessimistic = 105.0
)

// EntryPressure is what resists resin at the mouth of a slot of width h, in
// Pa: -2 γ cos θ / h (Young, Laplace). Negative draws it in.
func EntryPressure(tension, degrees, h float64) float64 {
	return -2 * tension * cos(degrees) / h
}

// TubeEntryPressure is the same for a round hole of diameter d.
func TubeEntryPressure(tension, degrees, d float64) float64 {
	return -4 * tension * cos(degrees) / d
}

// Narrowest is the smallest slot that a pressure p fills, in m; 0 where the
// resin wets and nothing is too narrow.
func Narrowest(tension, degrees, p float64) float64 {
	return math.Max(0, -2*tension*cos(degrees)/p)
}

func cos(degrees float64) float64 {
	if degrees == 90 {
		return 0
	}
	return math.Cos(degrees * math.Pi / 180)
}

// Head is the pressure under a column of resin, Pa.
func Head(density, height float64) float64 { return density * quantity.Gravity * height }

// SlotTime is how long resin of constant viscosity takes to run a length l
// into a slot of width h under a pressure p, in s: 6 η L² / (P h²).
func SlotTime(viscosity, l, h, p float64) float64 {
	if l == 0 {
		return 0
	}
	if p <= 0 {
		return math.Inf(1)
	}
	return 6 * viscosity * l * l / (p * h * h)
}

// TubeTime is the same for a round hole of diameter d: 16 η L² / (P d²).
func TubeTime(viscosity, l, d, p float64) float64 {
	if l == 0 {
		return 0
	}
	if p <= 0 {
		return math.Inf(1)
	}
	return 16 * viscosity * l * l / (p * d * d)
}

// Reach is how far resin comes into a slot of width h under p before the
// time t is over, in m, with the viscosity growing as it does in a pot life.
func (r Resin) Reach(h, p, t float64) float64 {
	if p <= 0 {
		return 0
	}
	return h * math.Sqrt(p*mix.Thickening(r.PotLife).Effective(t)/(6*r.Viscosity))
}

// Filling is how far resin comes into a thin place before it gels, m, and how
// thin a place as long may be for each, m.
type Filling struct {
	Poured, Vacuum           float64 // under the head alone; with the air drawn out before and let back on after
	LeastPoured, LeastVacuum float64
}

// drawn is the pressure that a usual vacuum adds, Pa.
const drawn = 98e3

// widest is the widest gap that is asked about, m.
const widest = 0.02

// Into is what a slot of a width h and a length fills with under a pressure,
// where the resin is reluctant to wet it.
func (r Resin) Into(h, length, p float64) Filling {
	reach := func(h, p float64) float64 {
		return r.Reach(h, p-max(0, EntryPressure(r.Tension, Pessimistic, h)), r.PotLife)
	}
	least := func(p float64) float64 {
		low, high := 0.0, widest
		for range 40 {
			if mid := (low + high) / 2; reach(mid, p) < length {
				low = mid
			} else {
				high = mid
			}
		}
		return high
	}
	return Filling{reach(h, p), reach(h, p+drawn), least(p), least(p + drawn)}
}

// DeadEnd is the share of a blind gap that fills when resin comes in with the
// pressure dp over air at the absolute pressure air: Boyle.
func DeadEnd(air, dp float64) float64 { return 1 - air/(air+dp) }

// BubbleLeft is the diameter that a bubble of diameter d keeps under a gauge pressure.
func BubbleLeft(d, gauge float64) float64 {
	return d * math.Cbrt(Atmosphere/(Atmosphere+gauge))
}
