package plane

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

var star = func() (out []Point) {
	for i := range 60 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 60)
		r := 30 + 12*math.Cos(10*math.Pi*float64(i)/60)
		out = append(out, Point{r * cos, r * sin})
	}
	return out
}()

// Distances are those of a search through every side.
func TestARegionMeasuresAsASearchDoes(t *testing.T) {
	g := NewRegion(star, 5)
	rng := rand.New(rand.NewPCG(4, 9))
	for range 3000 {
		p := Point{120 * (rng.Float64() - 0.5), 120 * (rng.Float64() - 0.5)}
		want := math.Inf(1)
		for e := range star {
			want = min(want, g.edge(e, p))
		}
		if Inside(star, p) {
			want = -want
		}
		if low, high := Bounds(star); max(low[0]-p[0], p[0]-high[0], low[1]-p[1], p[1]-high[1]) > 5 { // beyond the margin
			assert.LessOrEqual(t, g.Beyond(p), want+1e-9)
			assert.Greater(t, g.Beyond(p), 5.0-1e-9)
			continue
		}
		assert.InDelta(t, want, g.Beyond(p), 1e-9, "%v", p)
	}
}

// Triangles fill a ring: all of it, none twice, none outside.
func TestTrianglesFillARing(t *testing.T) {
	u := []Point{{0, 0}, {2, 0}, {4, 0}, {4, 3}, {3, 3}, {3, 1}, {1, 1}, {1, 3}, {0, 3}}
	for _, ring := range [][]Point{star, {{0, 0}, {4, 0}, {4, 4}, {0, 4}}, u} {
		sum := 0.0
		all := Triangles(ring)
		assert.Len(t, all, len(ring)-2)
		for _, c := range all {
			a := Area([]Point{ring[c[0]], ring[c[1]], ring[c[2]]})
			assert.GreaterOrEqual(t, a, 0.0)
			sum += a
		}
		assert.InEpsilon(t, Area(ring), sum, 1e-9)
	}
}

// A ring moved out by d is longer and larger by Steiner's formula, and moved
// back is itself but for its hollow corners.
func TestOffsetKeepsToSteinersFormula(t *testing.T) {
	square := []Point{{0, 0}, {40, 0}, {40, 30}, {0, 30}}
	for _, d := range []float64{1.5, 6, 20} {
		out := Offset([][]Point{square}, d)
		if assert.Len(t, out, 1) {
			assert.InEpsilon(t, 1200+140*d+math.Pi*d*d, Area(out[0]), 1e-3)
			assert.InEpsilon(t, 140+2*math.Pi*d, Perimeter(out[0]), 1e-2)
			back := Offset(out[:1], -d)
			assert.InEpsilon(t, 1200, Area(back[0]), 4e-3)
		}
	}
	assert.Empty(t, Offset([][]Point{square}, -16), "nothing is left")
	assert.Empty(t, Offset(nil, 3))
	u := []Point{{0, 0}, {60, 0}, {60, 50}, {45, 50}, {45, 15}, {15, 15}, {15, 50}, {0, 50}}
	closing := Offset([][]Point{u, {{0, 50.5}, {60, 50.5}, {60, 60}, {0, 60}}}, 5)
	if assert.Len(t, closing, 2, "two rings joined round a hole") {
		assert.Positive(t, Area(closing[0]))
		assert.Negative(t, Area(closing[1]))
	}
	apart := Offset([][]Point{square, {{100, 0}, {120, 0}, {120, 20}, {100, 20}}}, 5)
	assert.Len(t, apart, 2, "two that do not meet")
	for _, p := range Offset([][]Point{u}, 4)[0] {
		assert.InDelta(t, 4, NewRegion(u, 9).Beyond(p), 1e-5, "every corner lies on it")
	}
}
