package plane_test

import (
	"math"
	"testing"

	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A ring between two circles, known at dots: both its outlines lie on their
// circles to a thirtieth, and enclose its area. Closed form.
func TestOutlinesLieOnTheirFigure(t *testing.T) {
	const n, middle, outer, inner = 40, 19.3, 14.2, 5.7
	in := func(x, y float64) bool {
		r := math.Hypot(x-middle, y-middle)
		return r >= inner && r <= outer
	}
	mask := make([]bool, n*n)
	for i := range mask {
		mask[i] = in(float64(i%n), float64(i/n))
	}
	rings := plane.Outlines(mask, n, n, in)
	require.Len(t, rings, 2)
	sum := 0.0
	for _, ring := range rings {
		radius := outer
		if math.Abs(plane.Area(ring)) < 200 {
			radius = inner
		}
		for _, p := range ring {
			assert.InDelta(t, radius, math.Hypot(p[0]-middle, p[1]-middle), 1.0/30)
		}
		sum += plane.Area(ring)
	}
	assert.InEpsilon(t, math.Pi*(outer*outer-inner*inner), math.Abs(sum), 0.01, "holes run the other way round")
}
