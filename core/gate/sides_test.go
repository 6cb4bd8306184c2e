package gate

import (
	"math"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// partedAt is a mould whose parting lies level at a height of the part.
func partedAt(t testing.TB, m *mesh.Mesh, height float64) stood {
	t.Helper()
	s := space(t, m)
	s.Parted, s.Parting = true, height
	return s
}

// In a level parting the resin comes from the side, in the parting.
func TestALevelPartingIsFedFromTheSide(t *testing.T) {
	block := func(x, y, z float64) *mesh.Mesh {
		return meshtest.Box(r3.Vec{X: x, Y: y, Z: z}, r3.Vec{X: x + 30, Y: y + 20, Z: z + 16})
	}
	two := block(0, 0, 0)
	two.Append(block(45, 0, 0))
	ring := meshtest.Extruded([][2]float64{{0, 0}, {60, 0}, {60, 60}, {0, 60}}, 8)
	for name, c := range map[string]struct {
		part   *mesh.Mesh
		height float64
		gates  int
		off    float64 // of the mouth off the parting
	}{
		"a ball":                     {meshtest.Sphere(15, 48), 0, 1, 0},
		"a block":                    {block(0, 0, 0), 8, 1, 0},
		"a block parted at its top":  {block(0, 0, 0), 16, 1, 0.4},
		"a block parted at its foot": {block(0, 0, 0), 0, 1, 0.4},
		"two bodies":                 {two, 8, 2, 0},
		"a plate":                    {ring, 4, 1, 0},
	} {
		s := partedAt(t, c.part, c.height)
		l := s.lay(t, low())
		gates := of(l, channel.Gate)
		require.Len(t, gates, c.gates, name)
		assert.Empty(t, l.Faults, name)
		for _, g := range gates {
			assert.InDelta(t, c.off*g.Bore, math.Abs(g.Mouth().Z-c.height), 0.01, name)
			assert.InDelta(t, 0, s.Master.Distance(g.Mouth()), 1e-6, "%s: on the part", name)
			assert.InDelta(t, c.height, g.Path[0].Z, 1e-9, "%s: out of the parting", name)
		}
		for _, r := range of(l, channel.Runner) {
			for _, p := range r.Path {
				assert.InDelta(t, c.height, p.Z, 1e-9, "%s: runners lie in it", name)
			}
		}
		stand, err := channel.NewStand(s.Master, zUp)
		require.NoError(t, err)
		require.NoError(t, stand.Put(func(p r3.Vec) r3.Vec { return p }))
		var bodies []channel.Body
		for _, ch := range l.Channels {
			bodies = append(bodies, ch.Body)
		}
		assert.Less(t, stand.Overlap(bodies), 0.01*channel.Volumes(bodies)[0], name)
	}
}

// What the parting does not reach is fed from below.
func TestWhatLiesUnderThePartingIsFedFromBelow(t *testing.T) {
	both := meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 20})
	both.Append(meshtest.Box(r3.Vec{X: 45}, r3.Vec{X: 75, Y: 20, Z: 4}))
	l := partedAt(t, both, 16).lay(t, low())
	gates := of(l, channel.Gate)
	require.Len(t, gates, 2)
	for _, g := range gates {
		assert.InDelta(t, 0, g.Mouth().Z, 1e-6)
	}
}

// The gate keeps off a face that shows, takes one to spare, and comes where the
// caster says: out of the parting only where that is far from it.
func TestTheSideGateGoesWhereItMay(t *testing.T) {
	s := partedAt(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16}), 8)
	at := func(c Choices) r3.Vec { return of(s.lay(t, c.On(Marked(s.Master, c.Marks))), channel.Gate)[0].Mouth() }
	for _, x := range []float64{0, 40} {
		c := low()
		c.Marks = []Mark{{At: r3.Vec{X: x, Y: 10, Z: 8}}}
		assert.InDelta(t, x, at(c).X, 1e-6, "the end to spare")
		for _, side := range []r3.Vec{{X: 40 - x, Y: 10, Z: 8}, {X: 20, Z: 8}, {X: 20, Y: 20, Z: 8}} {
			c.Marks = append(c.Marks, Mark{At: side, Show: true})
		}
		c.Marks = c.Marks[1:]
		assert.InDelta(t, x, at(c).X, 1e-6, "the only one that does not show")
	}
	c := low()
	c.Foot = &r3.Vec{X: 30, Y: 20, Z: 9}
	assert.Less(t, r3.Norm(r3.Sub(at(c), *c.Foot)), 2.5, "as near as the outline is looked at")
	assert.InDelta(t, 8, at(c).Z, 1e-6)
	c.Foot = &r3.Vec{X: 30, Y: 10}
	assert.Equal(t, *c.Foot, at(c), "to its underside from below")
}

// A sprue keeps off what is drawn out sideways.
func TestTheSprueKeepsOffSidePieces(t *testing.T) {
	s := partedAt(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16}), 8)
	for _, away := range []r3.Vec{{X: 1}, {X: -1}, {Y: 1}, {Y: -1}} {
		s.Sides = append(s.Sides, channel.Sweep{At: r3.Vec{X: 20, Y: 10, Z: 8}, Out: away, Wide: 8})
		now := of(s.lay(t, low()), channel.Sprue)[0].Path[0]
		for _, side := range s.Sides {
			v := r3.Sub(now, side.At)
			aside := math.Abs(r3.Dot(v, r3.Vec{X: side.Out.Y, Y: side.Out.X}))
			assert.False(t, r3.Dot(v, side.Out) > 0 && aside < 4, "sprue at %v in the way of %v", now, side.Out)
		}
	}
}
