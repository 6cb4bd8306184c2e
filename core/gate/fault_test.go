package gate

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatAnOrderBears(t *testing.T) {
	for _, c := range []struct {
		quality          string
		pocket           float64 // mm across
		matters, spoiled bool
	}{
		{"decorative", 1.9, false, false}, {"decorative", 2.1, true, false}, {"decorative", 7, true, true},
		{"good", 0.9, false, false}, {"good", 1.1, true, false}, {"good", 3.5, true, true}, {"", 3.5, true, true},
		{"precision", 0.45, false, false}, {"precision", 0.6, true, false}, {"precision", 1.8, true, true},
	} {
		f, v := FaultOf(c.quality), math.Pi/6*math.Pow(c.pocket, 3)
		assert.InEpsilon(t, c.pocket, Across(v), 1e-12)
		assert.Equal(t, c.matters, f.Matters(v), "%s, %g mm", c.quality, c.pocket)
		assert.Equal(t, c.spoiled, f.Spoils(v), "%s, %g mm", c.quality, c.pocket)
	}
	assert.Equal(t, FaultOf("good").Least(), Fault(0).Least(), "where nobody says")
}

// 60 psi leave 58 % of a bubble's diameter: Boyle, from the table of pressures.
func TestWhatAPotMakesOfAPocketIsSaid(t *testing.T) {
	ball := math.Pi / 6 * 1000
	assert.Contains(t, good.why(ball, 413.69), "10 mm across, and the order bears less than 1 mm. A pot at 414 kPa leaves 5.8 mm of it.")
	assert.NotContains(t, good.why(ball, 0), "pot")
}
