package pieces

import (
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A pocket with an outline like an L, in the side of a block: its piece is an
// L too, a seat wider, and leaves the corner of the L to the halves.
func TestASidePieceFollowsItsSocket(t *testing.T) {
	// the block's front half holds the pocket, 18 deep; the L has arms of 34 and
	// a width of 12, so that the corner of its hull is 22 by 22
	front := meshtest.Extruded([][2]float64{{-30, -30}, {30, -30}, {30, 30}, {-30, 30}}, 18)
	hole := meshtest.Extruded([][2]float64{{-17, -17}, {17, -17}, {17, -5}, {-5, -5}, {-5, 17}, {-17, 17}}, 18)
	m := pocketed(front, hole, 40)
	_, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	require.True(t, r.Sound)
	c := usual
	c.Cells = 110
	p := made(t, m, c)
	lawful(t, p, 4e-3)
	require.Len(t, p.Pieces, 3)
	side := p.Pieces[0]
	assert.Equal(t, "Side 1", side.Name)
	assert.Less(t, side.Draw.Y, -0.99, "straight out of the pocket")
	assert.LessOrEqual(t, side.Catches, 1.0)
	for _, v := range side.Mesh.Vertices {
		if v.Y > -2 && v.Y < 20 { // in the pocket and at its mouth, before the step
			assert.False(t, v.X > 1 && v.Z > 1, "no rubber of it in the corner of the L, at %v", v)
		}
	}
	corner := false
	for _, half := range p.Pieces[1:] {
		for _, v := range half.Mesh.Vertices {
			corner = corner || v.Y > -2 && v.Y < 0.5 && v.X > 3 && v.X < 15 && v.Z > 3 && v.Z < 15
		}
	}
	assert.True(t, corner, "a half has the corner")
}

// pocketed is a block along y whose front has a pocket: both outlines of the
// front face, the pocket's floor, and the block's own back and sides.
func pocketed(block, pocket *mesh.Mesh, long float64) *mesh.Mesh {
	out := &mesh.Mesh{}
	for i, v := range block.Vertices {
		if i%2 == 1 {
			v.Y = long
		}
		out.Vertices = append(out.Vertices, v)
	}
	outer := int32(len(out.Vertices))
	out.Vertices = append(out.Vertices, pocket.Vertices...)
	add := func(tris [][3]int32, from int32, flip bool, keep func(a, b, c r3.Vec) bool) {
		for _, t := range tris {
			a, b, c := from+t[0], from+t[1], from+t[2]
			if !keep(out.Vertices[a], out.Vertices[b], out.Vertices[c]) {
				continue
			}
			if flip {
				b, c = c, b
			}
			out.Triangles = append(out.Triangles, [3]int32{a, b, c})
		}
	}
	onFront := func(a, b, c r3.Vec) bool { return a.Y == 0 && b.Y == 0 && c.Y == 0 }
	add(block.Triangles, 0, false, func(a, b, c r3.Vec) bool { return !onFront(a, b, c) })
	add(pocket.Triangles, outer, true, func(a, b, c r3.Vec) bool { return !onFront(a, b, c) })
	// the front face: from the block's outline in to the pocket's, by hand
	at := func(x, z float64) int32 {
		for i, v := range out.Vertices {
			if v.Y == 0 && v.X == x && v.Z == z {
				return int32(i)
			}
		}
		panic("no such corner")
	}
	quad := func(p, q, r, s [2]float64) {
		a, b, c, d := at(p[0], p[1]), at(q[0], q[1]), at(r[0], r[1]), at(s[0], s[1])
		out.Triangles = append(out.Triangles, [3]int32{a, b, c}, [3]int32{a, c, d})
	}
	quad([2]float64{-30, -30}, [2]float64{30, -30}, [2]float64{17, -17}, [2]float64{-17, -17})
	quad([2]float64{30, -30}, [2]float64{30, 30}, [2]float64{17, -5}, [2]float64{17, -17})
	quad([2]float64{30, 30}, [2]float64{-5, 17}, [2]float64{-5, -5}, [2]float64{17, -5})
	quad([2]float64{30, 30}, [2]float64{-30, 30}, [2]float64{-17, 17}, [2]float64{-5, 17})
	quad([2]float64{-30, 30}, [2]float64{-30, -30}, [2]float64{-17, -17}, [2]float64{-17, 17})
	return out
}
