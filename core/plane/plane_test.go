package plane

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestSimplifiedKeepsTheShape(t *testing.T) {
	var ring []Point
	for i := range 2000 {
		a := 2 * math.Pi * float64(i) / 2000
		ring = append(ring, Point{30 * math.Cos(a), 20 * math.Sin(a)})
	}
	small := Simplified(ring, 0.05)
	assert.Less(t, len(small), 150)
	assert.InEpsilon(t, math.Pi*600, math.Abs(Area(small)), 0.004)
}

func TestTheHullHoldsEveryPointAndTurnsOneWay(t *testing.T) {
	points := []Point{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {5, 5}, {5, 0}, {2, 7}, {10, 10}, {0, 4}}
	hull := Hull(points)
	assert.Equal(t, []Point{{0, 0}, {10, 0}, {10, 10}, {0, 10}}, hull, "anticlockwise, without what lies on its sides")
	assert.InDelta(t, 100, math.Abs(Area(hull)), 1e-9)
	for i := range 40 { // on a ring, nothing may be left out
		a := float64(i) * 2.399963
		points = append(points, Point{5 + 20*math.Cos(a), 5 + 20*math.Sin(a)})
	}
	hull = Hull(points)
	assert.Len(t, hull, 40)
	for i, p := range hull {
		q := hull[(i+1)%len(hull)]
		for _, o := range points {
			assert.GreaterOrEqual(t, (q[0]-p[0])*(o[1]-p[1])-(q[1]-p[1])*(o[0]-p[0]), -1e-9, "%v is outside", o)
		}
	}
	assert.Len(t, Hull([]Point{{1, 1}, {1, 1}}), 1)
	assert.Len(t, Hull([]Point{{0, 0}, {1, 1}, {2, 2}, {3, 3}}), 2, "a line has two ends")
}
