package fill

import (
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A trough of two basins, 20 wide, 30 long and 15 and 10 deep under a bridge that
// is 10 high: fed into one, the other fills when the level stands at the sill, and
// only then. By hand: 20 × 20 × 15 and 20 × 20 × 10 and 60 × 20 × 10 over them.
func TestABasinFillsOverItsSill(t *testing.T) {
	trough := meshtest.Extruded([][2]float64{{0, 0}, {20, 0}, {20, 15}, {40, 15}, {40, 5}, {60, 5}, {60, 25}, {0, 25}}, 20)
	s, err := Prepare(trough, r3.Vec{Z: 1}, Options{Cell: 0.5, Sound: true})
	require.NoError(t, err)
	left, right := r3.Vec{X: 10, Y: 10}, r3.Vec{X: 50, Y: 10, Z: 5}

	c := s.Course([]r3.Vec{left})
	at := func(c Course, h float64) float64 { return c.Levels(0, h, 1).Volume[1] }
	assert.InEpsilon(t, 20*20*14, at(c, 14), 0.01, "the other is empty")
	assert.InEpsilon(t, 20*20*15+20*20*10, at(c, 15.1), 0.02, "it fills while the level stands at the sill")
	assert.InEpsilon(t, trough.Volume(), at(c, 25), 1e-6, "all of it in the end")
	basins := c.Basins(5, 100)
	require.Len(t, basins, 1)
	assert.InDelta(t, 15, basins[0].Sill, 0.01)
	assert.InDelta(t, 10, basins[0].Fall, 0.01)
	assert.InEpsilon(t, 20*20*10, basins[0].Volume, 0.01)
	assert.InDelta(t, 50, basins[0].At.X, 10.1)
	dry, volume := c.Dry(5, 100), 0.0
	for _, d := range dry {
		assert.InDelta(t, 15, d.Sill, 0.01)
		assert.Greater(t, d.X, 39.0)
		volume += (d.Hi - d.Lo) * 0.5 * 0.5
	}
	assert.InEpsilon(t, basins[0].Volume, volume, 0.01, "drawn as it is counted")
	assert.Empty(t, c.Dry(11, 100), "a fall that is less is not drawn")

	assert.InEpsilon(t, 20*20*9, at(s.Course([]r3.Vec{right}), 14), 0.01, "fed into the other, the first is empty")
	both := s.Course([]r3.Vec{left, right})
	assert.Empty(t, both.Basins(1, 1), "with two inlets nothing is behind a sill")
	for _, h := range []float64{3, 8, 14, 20, 25} {
		assert.InDelta(t, s.Levels(0, h, 1, nil).Volume[1], at(both, h), 1e-6)
		assert.LessOrEqual(t, at(c, h), at(both, h)+1e-6, "never more than with both")
	}
}

// A ball has no sill, wherever liquid comes in: it runs down to its lowest place.
func TestABallFillsInOne(t *testing.T) {
	s, err := Prepare(meshtest.Sphere(15, 48), r3.Vec{Z: 1}, Options{Sound: true})
	require.NoError(t, err)
	for _, from := range []r3.Vec{{Z: -15}, {X: 15}, {Y: -10.6, Z: 10.6}} {
		c := s.Course([]r3.Vec{from})
		assert.Empty(t, c.Basins(0.5, 1), "from %v", from)
		for _, h := range []float64{-10, 0, 10} {
			assert.InEpsilon(t, s.Levels(-15, h, 1, nil).Volume[1], c.Levels(-15, h, 1).Volume[1], 1e-3)
		}
	}
}
