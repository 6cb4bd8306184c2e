package slit

import (
	"math"
	"testing"

	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func block(t *testing.T, m *mesh.Mesh) (pieces.Plan, []plane.Point) {
	t.Helper()
	p, err := pieces.Make(
		t.Context(),
		m,
		pieces.Choices{Draw: r3.Vec{Z: 1}, Clearance: practice.Clearance{Beside: 12, Below: 13, Above: 20},
			HalvesOnly: true, Rubber: strip.Rubber{Shore: 30, Elongation: 300}, Wanted: 20, Cells: 70, Keys: key.Choices{Kind: key.None}},
		nil,
	)
	require.NoError(t, err)
	a, b := p.Box.Min, p.Box.Max
	return p, []plane.Point{{a.X, a.Y}, {b.X, a.Y}, {b.X, b.Y}, {a.X, b.Y}}
}

func TestTheCutFollowsThePartingRoundTheBlock(t *testing.T) {
	// a slab nearer to its long walls
	p, walls := block(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 20}))
	g := Lay(p, walls, false, nil)
	assert.InEpsilon(t, 2*(84+54), g.Round, 1e-9)
	assert.InEpsilon(t, 53, g.Height, 1e-9)
	assert.Len(t, g.Corners, 4)
	assert.InDelta(t, 12, g.Nearest, p.Cell, "the blade finds the part after the clearance")
	assert.InEpsilon(t, firstPass*g.Nearest, g.First, 1e-9)
	// the line lies where the rubber is shared evenly: below it as much as above
	box, part := 84*54.0, 60*30.0
	even := ((box*53-part*20)/2 - part*13) / (box - part)
	for _, m := range g.Path {
		assert.InDelta(t, even, m.Up, 0.2)
	}
	last := g.Path[len(g.Path)-1].Along
	assert.InDelta(t, (1-hinged)*g.Round, last, 2*step, "and stops at the hinge")
}

func TestAJaggedCutKeepsToTheLineOnTheWhole(t *testing.T) {
	p, walls := block(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 20}))
	straight, wavy := Lay(p, walls, false, nil), Lay(p, walls, true, nil)
	require.Equal(t, len(straight.Path), len(wavy.Path))
	sum, most := 0.0, 0.0
	for i := range wavy.Path {
		off := wavy.Path[i].Up - straight.Path[i].Up
		sum += off
		most = max(most, math.Abs(off))
	}
	assert.InDelta(t, 0, sum/float64(len(wavy.Path)), 0.2)
	assert.InDelta(t, jag, most, 0.8)
	for x := 0.0; x < 3; x += 0.01 {
		assert.InDelta(t, tooth(x), -tooth(x+0.5), 1e-9)
		assert.LessOrEqual(t, math.Abs(tooth(x)), 1.0)
	}
}

// The smallest slit is as long as the part asks, lies about the side that it
// leaves by, and is never longer than a cut to the hinge.
func TestTheSmallestSlitLiesWhereThePartLeaves(t *testing.T) {
	p, walls := block(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 20}))
	round := Lay(p, walls, false, nil)
	for _, toward := range []plane.Point{{1, 0}, {0, 1}, {-1, 0}, {0, -1}, {0.8, 0.6}} {
		g := Lay(p, walls, false, &Short{Long: 40, Toward: toward})
		assert.InDelta(t, 40, g.Path[len(g.Path)-1].Along, 2*step)
		middle := len(g.Path) / 2
		x, y := around(walls, g.Start, g.Path[middle].Along)
		x, y = x-(p.Box.Min.X+p.Box.Max.X)/2, y-(p.Box.Min.Y+p.Box.Max.Y)/2
		assert.Greater(t, (x*toward[0]+y*toward[1])/math.Hypot(x, y), 0.99, "about %v", toward)
	}
	long := Lay(p, walls, false, &Short{Long: 1e4, Toward: plane.Point{1, 0}})
	assert.InDelta(t, round.Path[len(round.Path)-1].Along, long.Path[len(long.Path)-1].Along, 2*step)
}

// around is the place so far round the walls from a start.
func around(walls []plane.Point, start plane.Point, along float64) (x, y float64) {
	for i := range walls { // find the wall that the start lies on
		a, b := walls[i], walls[(i+1)%len(walls)]
		long := math.Hypot(b[0]-a[0], b[1]-a[1])
		if d := math.Hypot(start[0]-a[0], start[1]-a[1]) + math.Hypot(start[0]-b[0], start[1]-b[1]) - long; d > 1e-6 {
			continue
		}
		along += math.Hypot(start[0]-a[0], start[1]-a[1])
		for k := i; ; k = (k + 1) % len(walls) {
			a, b := walls[k], walls[(k+1)%len(walls)]
			long := math.Hypot(b[0]-a[0], b[1]-a[1])
			if along <= long {
				return a[0] + along/long*(b[0]-a[0]), a[1] + along/long*(b[1]-a[1])
			}
			along -= long
		}
	}
	return math.NaN(), math.NaN()
}

func TestTheHingeIsWhereThePartIsFarthest(t *testing.T) {
	// a bar along x with a knob that brings it near the wall at low y
	m := meshtest.Box(r3.Vec{X: 0, Y: 0, Z: 0}, r3.Vec{X: 20, Y: 70, Z: 20})
	m.Append(meshtest.Box(r3.Vec{X: 20, Y: 0, Z: 0}, r3.Vec{X: 60, Y: 14, Z: 20}))
	p, walls := block(t, m)
	g := Lay(p, walls, false, nil)
	// nothing lies behind most of the wall at high x, so the hinge runs there
	assert.Greater(t, g.Start[1], 20.0)
	assert.Positive(t, g.Farthest)
	assert.GreaterOrEqual(t, g.Farthest, g.Nearest)
}
