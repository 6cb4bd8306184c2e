package box

import (
	"errors"
	"math"

	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Printed is the box as one closed body: a floor and walls of a thickness,
// open at the top; its inside stands on z = 0.
func (b Box) Printed(tall, thick float64) (*mesh.Mesh, error) {
	if !(tall > 0) || !(thick > 0) || len(b.Ring) < 3 {
		return nil, errors.New("a printed box needs a height and walls of some thickness")
	}
	in := distinct(b.Ring)
	out := mitred(in, thick)
	n := int32(len(in))
	m := &mesh.Mesh{}
	add := func(ring []plane.Point, z float64) int32 {
		first := int32(len(m.Vertices))
		for _, p := range ring {
			m.Vertices = append(m.Vertices, r3.Vec{X: p[0], Y: p[1], Z: z})
		}
		return first
	}
	under, rimOut, rimIn, floor := add(out, -thick), add(out, tall), add(in, tall), add(in, 0)
	band := func(a, b int32) {
		for i := range n {
			j := (i + 1) % n
			m.Triangles = append(m.Triangles, [3]int32{a + i, a + j, b + j}, [3]int32{a + i, b + j, b + i})
		}
	}
	band(under, rimOut)
	band(rimOut, rimIn)
	band(rimIn, floor)
	for _, t := range plane.Triangles(in) { // the wall's outside has the same corners
		m.Triangles = append(m.Triangles, [3]int32{under + t[0], under + t[2], under + t[1]},
			[3]int32{floor + t[0], floor + t[1], floor + t[2]})
	}
	return m, nil
}

// distinct drops points that repeat the one before them.
func distinct(ring []plane.Point) (out []plane.Point) {
	for i, p := range ring {
		q := ring[(i+1)%len(ring)]
		if math.Hypot(p[0]-q[0], p[1]-q[1]) > 1e-6 {
			out = append(out, p)
		}
	}
	return out
}

// mitred moves every side of a ring outwards; hollow bends are wider than a wall is thick.
func mitred(ring []plane.Point, by float64) []plane.Point {
	out := make([]plane.Point, len(ring))
	for i, p := range ring {
		a, c := ring[(i+len(ring)-1)%len(ring)], ring[(i+1)%len(ring)]
		n1, n2 := normal(a, p), normal(p, c)
		x, y := n1[0]+n2[0], n1[1]+n2[1]
		k := by * 2 / (x*x + y*y)
		out[i] = plane.Point{p[0] + k*x, p[1] + k*y}
	}
	return out
}

func normal(a, b plane.Point) plane.Point {
	l := math.Hypot(b[0]-a[0], b[1]-a[1])
	return plane.Point{(b[1] - a[1]) / l, (a[0] - b[0]) / l}
}
