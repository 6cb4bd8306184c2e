package exotherm

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// First-order reaction with feedback, 111 K adiabatic, k = 1/600 s, Q10 = 2:
// the peaks against the Semenov number ψ = ΔT·kτ·ln Q10/10, by an independent
// integration (see the models' section on exotherm).
func TestPeaksOfTheFeedbackEquation(t *testing.T) {
	for _, c := range []struct{ rise, tau, want float64 }{
		{111, 15.597, 3.178},
		{111, 0.36788 / 0.2 * 15.597, 6.603},
		{111, 0.8 / 0.2 * 15.597, 26.05},
		{111, 1.5 / 0.2 * 15.597, 86.14},
		{20, 0.36788 / 0.2 * 15.597 * 111 / 20, 3.879},
		{20, 3 / 0.2 * 15.597 * 111 / 20, 13.11},
	} {
		assert.InEpsilon(t, c.want, peak(c.rise, 1.0/600, c.tau), 2e-3, "%v K, τ %v s", c.rise, c.tau)
	}
}

// Without rubber that takes heat up, a fast urethane behind 10 mm comes near
// the adiabatic rise at 1 mm and at 6 mm (107.0 and 110.5 K).
func TestABoundThatIgnoresTheRubber(t *testing.T) {
	for thick, want := range map[float64]float64{1: 107.0, 6: 110.5} {
		half := thick / 2000
		tau := 1050 * capacity * half * (1/film + 0.010/conducts)
		assert.InEpsilon(t, want, peak(Adiabatic, 0.0049929, tau), 3e-3, "%v mm", thick)
	}
}

// A thin casting comes out warm at most, a thick one hot, whatever the sheet:
// more section is never cooler, faster resin never cooler, more rubber never
// hotter than none that takes heat.
func TestThickAndFastRunHot(t *testing.T) {
	fast := func(thick, demould float64) float64 {
		return Slab{Thick: thick, Density: 1.05, Demould: demould, Rubber: 12}.Peak()
	}
	assert.InDelta(t, 111.11, Adiabatic, 0.01)
	assert.Less(t, fast(2, 15), 40.0)
	assert.Greater(t, fast(40, 15), 70.0)
	before := 0.0
	for _, thick := range []float64{0.5, 1, 2, 4, 8, 16, 32, 64, 128} {
		now := fast(thick, 15)
		assert.GreaterOrEqual(t, now, before)
		assert.LessOrEqual(t, now, Adiabatic)
		before = now
	}
	assert.Less(t, fast(8, 16*60), fast(8, 15))
	assert.Zero(t, Slab{Density: 1, Demould: 10}.Peak())
	assert.InDelta(t, 2.828, Slower(30, 0), 1e-3, "a cup that is 15 K warmer on average")
	assert.Equal(t, 1.0, Slower(10, 30))
}
