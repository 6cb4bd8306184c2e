package plane

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Rings of many corners, that no fan of triangles fills.
var rings = map[string]func(i, n int) Point{
	"a gear of fine teeth": func(i, n int) Point {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		r := 30 + 10*math.Sin(2*math.Pi*float64(i)/40)
		return Point{r * cos, r * sin}
	},
	"two combs in one another": func(i, n int) Point {
		if high := float64(n); i >= n/2 {
			return Point{float64(n-1-i) + 0.5, -high + float64((i+1)%2)*high*0.99}
		}
		return Point{float64(i), float64(i%2) * float64(n)}
	},
	"a band wound up": func(i, n int) Point {
		k, wide := i, 0.0
		if i >= n/2 {
			k, wide = n-1-i, 0.3
		}
		a := float64(k) * 0.05
		sin, cos := math.Sincos(a)
		r := 1 + a/(2*math.Pi) + wide
		return Point{r * cos, r * sin}
	},
}

func TestTrianglesFillARingOfManyCorners(t *testing.T) {
	for name, at := range rings {
		t.Run(name, func(t *testing.T) {
			const n = 10_000
			ring := make([]Point, n)
			for i := range ring {
				ring[i] = at(i, n)
			}
			if Area(ring) < 0 {
				slices.Reverse(ring)
			}
			all := Triangles(ring)
			require.Len(t, all, n-2)
			var sum float64
			for _, c := range all {
				a := Area([]Point{ring[c[0]], ring[c[1]], ring[c[2]]})
				require.GreaterOrEqual(t, a, 0.0, "none lies upside down")
				sum += a
			}
			assert.InEpsilon(t, Area(ring), sum, 1e-9)
		})
	}
}

// What crosses itself everywhere is left after so many looks.
func TestATangleIsLeft(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	ring := make([]Point, 5000)
	for i := range ring {
		ring[i] = Point{random.Float64(), random.Float64()}
	}
	_, left := Cut(ring, 100_000)
	assert.Negative(t, left)
}
