package flow

import (
	"math"

	"bathyform/core/quantity"
)

// Step is a height in a cavity and the volume below it.
type Step struct{ Height, Volume float64 }

// RiseTime is how long a cavity takes to fill from below through a
// resistance, in s, out of a well that is kept topped up at a head over the
// cavity's floor: (R / ρ g) ∫ A dz / (H − z). The steps rise; between two the
// cavity is as wide as their volumes say. It never comes quite to the head:
// the answer is +Inf there.
func RiseTime(steps []Step, head, resistance, density float64) float64 {
	t, last := 0.0, Step{}
	for _, s := range steps {
		if s.Height >= head {
			return math.Inf(1)
		}
		if dz := s.Height - last.Height; dz > 0 {
			t += (s.Volume - last.Volume) / dz * math.Log((head-last.Height)/(head-s.Height))
		} else {
			t += (s.Volume - last.Volume) / (head - s.Height) // a level shelf
		}
		last = s
	}
	return t * resistance / (density * quantity.Gravity)
}

// LevelAt is how high an even cavity of an area has filled after a time at the
// first viscosity: H (1 − exp(−ρ g t / (A R))).
func LevelAt(t, area, head, resistance, density float64) float64 {
	return -head * math.Expm1(-density*quantity.Gravity*t/(area*resistance))
}

// Falling is the level's difference that is left, and the time it takes, when
// a cavity of an area fills to a height z out of a well of an area that is not
// topped up. It is false where well and cavity stand level before that.
func Falling(area, well, difference, z, resistance, density float64) (left, t float64, ok bool) {
	left = difference - z*(1+area/well)
	if left <= 0 {
		return 0, math.Inf(1), false
	}
	return left, resistance / (density * quantity.Gravity) * area * well / (area + well) * math.Log(difference/left), true
}

// PourTime is how long a volume takes through a resistance under a head that
// stays as it is, as in a feed from the top: V R / (ρ g H).
func PourTime(volume, resistance, density, head float64) float64 {
	return volume * resistance / Head(density, head)
}
