package exotherm

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The sheet's own cup has the sheet's pot life; a larger one gels earlier, a
// smaller one later, and what hardly heats itself hardly differs.
func TestALargeCupGelsEarly(t *testing.T) {
	for _, sheet := range []float64{3, 40, 480} {
		assert.InEpsilon(t, sheet, PotLife(sheet, 100, 1.1, Reaction), 1e-3)
		last := 0.0
		for _, mass := range []float64{2000, 500, 100, 30, 5} {
			now := PotLife(sheet, mass, 1.1, Reaction)
			assert.Greater(t, now, last, "%g g of a sheet's %g min", mass, sheet)
			last = now
		}
		mild, hot := PotLife(sheet, 1000, 1.1, 25), PotLife(sheet, 1000, 1.1, Reaction)
		assert.Less(t, sheet-mild, sheet-hot+1e-9, "rubber sets little heat free")
	}
	assert.Equal(t, 0.0, PotLife(0, 100, 1.1, Reaction))
	assert.Equal(t, 5.0, PotLife(5, 0, 1.1, Reaction), "nothing is known of it")
}

// Without any heat of its own a cup's size does not matter: the closed form of a
// first-order reaction, −ln(1 − X) / k.
func TestAColdCupFollowsTheClosedForm(t *testing.T) {
	assert.InEpsilon(t, 0.35667494/0.001, gels(0.001, 50, 1.1, 0), 2e-3)
	assert.InEpsilon(t, 7, PotLife(7, 5000, 1.1, 0), 1e-3)
}
