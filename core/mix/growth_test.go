package mix

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The share of a pot life that flow makes use of, by how much thicker the mix
// is at its end. Worked by integration of the differential equation.
func TestWhatAPotLifeIsWorth(t *testing.T) {
	for _, c := range []struct{ times, atTheEnd, everAfter float64 }{
		{2, 0.72135, 1.4427}, {5, 0.49707, 0.62133}, {10, 0.39087, 0.43429}, {20, 0.31712, 0.33381},
	} {
		g := Growth{600, c.times}
		assert.InEpsilon(t, c.atTheEnd, g.Effective(600)/600, 2e-5)
		assert.InEpsilon(t, c.everAfter, g.Effective(math.Inf(1))/600, 1e-4)
	}
}

func TestThickResinTakesLonger(t *testing.T) {
	took, ok := Thickening(1800).Takes(938.09)
	assert.True(t, ok)
	assert.InEpsilon(t, 1164.0, took, 2e-4)
	_, ok = Thickening(300).Takes(938.09)
	assert.False(t, ok, "it sets before")
	took, ok = Growth{}.Takes(938.09)
	assert.True(t, ok)
	assert.InDelta(t, 938.09, took, 0, "nothing thickens")
	_, ok = Growth{}.Takes(math.Inf(1))
	assert.False(t, ok)
}

func TestTakesUndoesEffective(t *testing.T) {
	g := Thickening(420)
	for _, s := range []float64{0, 1, 60, 420, 1000} {
		back, ok := g.Takes(g.Effective(s))
		assert.True(t, ok)
		assert.InDelta(t, s, back, 1e-7)
	}
}
