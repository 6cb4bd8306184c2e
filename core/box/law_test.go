package box

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scattered is the hull of some points thrown at a table.
func scattered(rng *rand.Rand) []plane.Point {
	for {
		var p []plane.Point
		for range 3 + rng.IntN(9) {
			p = append(p, plane.Point{120 * rng.Float64(), 80 * rng.Float64()})
		}
		if h := plane.Hull(p); len(h) >= 3 && plane.Area(h) > 200 {
			return h
		}
	}
}

func turned(ring []plane.Point, by float64) []plane.Point {
	sin, cos := math.Sincos(by)
	out := make([]plane.Point, len(ring))
	for i, p := range ring {
		out[i] = plane.Point{cos*p[0] - sin*p[1], sin*p[0] + cos*p[1]}
	}
	return out
}

// Whatever the part: every form holds it with its clearance, what is drawn has
// the area that is reckoned with, and a bent strip is as long as its wall.
func TestEveryFormKeepsItsLaw(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	for range 60 {
		hull := scattered(rng)
		beside := 4 + 20*rng.Float64()
		area := map[Form]float64{}
		for _, f := range []Form{Rectangle, Sleeve, Contour, Round} {
			b, err := Of(f, Ask{Hull: hull, Beside: beside})
			require.NoError(t, err)
			area[f] = b.Area
			assert.GreaterOrEqual(t, reach(hull, b.Ring), beside*0.998-0.05, f)
			assert.InEpsilon(t, b.Area, plane.Area(b.Ring), 2e-3, f)
			edge := 0.0
			for i, p := range b.Ring {
				q := b.Ring[(i+1)%len(b.Ring)]
				edge += math.Hypot(q[0]-p[0], q[1]-p[1])
			}
			assert.InEpsilon(t, b.Wall, edge, 2e-3, f)
			if f != Rectangle {
				strip := 0.0
				for _, bend := range b.Bends {
					strip += bend.Length
				}
				assert.InEpsilon(t, b.Wall, strip, 1e-9, f)
			}
		}
		for f, a := range area {
			assert.LessOrEqual(t, area[Contour], a*(1+1e-9), "no wall spares more than one that follows the part, not %s", f)
		}
	}
}

func TestTurningThePartTurnsItsContour(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 5))
	for range 30 {
		hull := scattered(rng)
		by := 2 * math.Pi * rng.Float64()
		for _, f := range []Form{Contour, Round} {
			a, err := Of(f, Ask{Hull: hull, Beside: 10})
			require.NoError(t, err)
			b, err := Of(f, Ask{Hull: plane.Hull(turned(hull, by)), Beside: 10})
			require.NoError(t, err)
			assert.InEpsilon(t, a.Area, b.Area, 1e-6, f)
			assert.InEpsilon(t, a.Wall, b.Wall, 1e-6, f)
		}
	}
}

func TestPrintedWallsAreEven(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 20 {
		b, err := Of(Contour, Ask{Hull: scattered(rng), Beside: 8})
		require.NoError(t, err)
		in := distinct(b.Ring)
		out := mitred(in, 2.4)
		require.Equal(t, len(in), len(out))
		for i := range out {
			p, q := out[i], out[(i+1)%len(out)]
			n := normal(in[i], in[(i+1)%len(in)])
			for _, e := range []plane.Point{p, q} {
				assert.InDelta(t, 2.4, (e[0]-in[i][0])*n[0]+(e[1]-in[i][1])*n[1], 1e-6, "square to every side")
			}
		}
	}
}
