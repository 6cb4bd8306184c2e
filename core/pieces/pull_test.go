package pieces

import (
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// A line that is led through a place on a wall climbs there and comes back;
// the rest of it, and the other side, stay. The halves still come apart.
func TestTheLineIsLedThroughAPlace(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 90)
	c := usual
	c.Cells = 70
	straight := made(t, m, c)
	assert.Zero(t, straight.Off)
	for _, z := range []float64{26, 4} {
		c.Line = []Pull{{At: r3.Vec{X: 20, Z: z}, Reach: 15}}
		led := made(t, m, c)
		assert.Empty(t, led.Missing)
		assert.InDelta(t, straight.Level, led.Level, 1e-9, "the level is the same")
		assert.InDelta(t, abs(z-straight.Level), led.Off, 1.5)
		assert.InDelta(t, z, led.Sheet(19.5, 0), 2.5, "there it passes")
		assert.InDelta(t, straight.Level, led.Sheet(-19.5, 0), 0.5, "and not on the other side")
		assert.Greater(t, led.Line, straight.Line)
		lawful(t, led, 2e-3)
		for _, p := range led.Pieces {
			assert.LessOrEqual(t, p.Catches, 1.0, p.Name)
		}
	}
	c.Line = []Pull{{At: r3.Vec{Z: 30}, Reach: 15}, {At: r3.Vec{Y: 20, Z: 60}, Reach: 15}}
	assert.Len(t, made(t, m, c).Missing, 2, "the middle of the top and a place in the air have no wall")
}

// A plate on its edge: what is led on one face leaves the other as it was.
func TestTheOtherFaceOfAPlateStays(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 6, Z: 30})
	c := usual
	c.Cells = 90
	straight := made(t, m, c)
	c.Line = []Pull{{At: r3.Vec{X: 30, Z: 26}, Reach: 12}}
	led := made(t, m, c)
	assert.InDelta(t, 26, led.Sheet(30, 0.4), 2.5)
	assert.InDelta(t, straight.Level, led.Sheet(30, 5.6), 2.5)
	assert.InDelta(t, straight.Level, led.Sheet(50, 0.4), 0.5, "beyond its reach")
	lawful(t, led, 2e-3)
}

func abs(x float64) float64 { return max(x, -x) }
