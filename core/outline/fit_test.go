package outline

import (
	"math"
	"testing"

	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
)

func TestAnOutlineIsFittedForASolid(t *testing.T) {
	var ring []plane.Point
	for i := range 4000 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 4000)
		ring = append(ring, plane.Point{100 + 30*cos + 0.02*math.Sin(float64(i)), 50 + 20*sin})
	}
	rings, wide, tall := Drawing{Rings: [][]plane.Point{ring}}.Fitted()
	assert.InDelta(t, 60, wide, 0.1)
	assert.InDelta(t, 40, tall, 0.1)
	assert.LessOrEqual(t, len(rings[0]), fitCorners)
	low, high := plane.Bounds(rings[0])
	assert.InDelta(t, 0, low[0]+high[0], 0.2, "about its middle")
	assert.InEpsilon(t, math.Pi*600, math.Abs(plane.Area(rings[0])), 0.01)

	many := Drawing{}
	for range 60 {
		many.Rings = append(many.Rings, ring)
	}
	rings, _, _ = many.Fitted()
	assert.Len(t, rings, fitRings)
	rings, wide, _ = Drawing{}.Fitted()
	assert.Empty(t, rings)
	assert.Zero(t, wide)
}
