package part

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func near(t *testing.T, want, got r3.Vec, why string) {
	t.Helper()
	assert.InDelta(t, 0, r3.Norm(r3.Sub(want, got)), 1e-12, why)
}

func TestWhatIsTurnedUpPointsUp(t *testing.T) {
	var turn Turn
	near(t, r3.Vec{X: 3}, turn.Rotation().Rotate(r3.Vec{X: 3}), "nothing said, nothing turned")
	for _, up := range []r3.Vec{{X: 1}, {Y: -2}, {Z: -1}, {X: 1, Y: 2, Z: -3}, {Z: 1}} {
		mesh := turn.Rotation() // as it stands now
		next, err := turn.Upright(up)
		require.NoError(t, err)
		v := r3.Vec{X: 0.3, Y: -0.7, Z: 0.2} // a place on the part
		near(t, r3.Vec{Z: 1}, next.Since(turn).Rotate(r3.Unit(up)), "what was up stands up")
		near(t, next.Rotation().Rotate(v), next.Since(turn).Rotate(mesh.Rotate(v)), "and places come along")
		assert.InDelta(t, 1, next.W*next.W+next.X*next.X+next.Y*next.Y+next.Z*next.Z, 1e-12)
		turn = next
	}
	for _, bad := range []r3.Vec{{}, {X: math.NaN()}, {Y: math.Inf(1)}} {
		_, err := turn.Upright(bad)
		assert.Error(t, err)
	}
}
