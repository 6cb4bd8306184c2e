package grid_test

import (
	"math"
	"testing"

	"bathyform/core/grid"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A way up counts by where it points, however long it is written.
func TestAWayUpMayBeOfAnyLength(t *testing.T) {
	for _, length := range []float64{5e-324, 1e-300, 1e-12, 1, 1e12, 1e308} {
		f, err := grid.NewFrame(r3.Vec{Y: -length})
		require.NoError(t, err, "%g", length)
		assert.Equal(t, r3.Vec{Y: -1}, f.Up)
		assert.InDelta(t, 1, r3.Dot(r3.Cross(f.U, f.V), f.Up), 1e-15, "right-handed")
	}
	for _, nowhere := range []r3.Vec{{}, {X: math.NaN(), Y: 1}, {Z: math.Inf(1)}} {
		_, err := grid.NewFrame(nowhere)
		assert.ErrorContains(t, err, "not all zero")
	}
}
