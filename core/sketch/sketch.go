// Package sketch draws a mesh with no more triangles than an eye can tell
// apart. Nothing is measured on a sketch.
//
// Corners that share a cell of a grid become one, set where the planes that
// met there come closest to meeting again: quadric clustering, from memory of
// P. Lindstrom, "Out-of-core simplification of large polygonal models" (2000).
// Its time grows with the mesh, not with how much is left out. Corners whose
// surface looks another way are kept apart, so that a thin wall keeps its two
// faces.
package sketch

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sketch is a mesh as it is drawn.
type Sketch struct {
	Mesh *mesh.Mesh
	// Of names for each triangle one of the mesh that it stands for; nil where
	// the mesh is drawn as it is.
	Of []int32
	// Creases are lines to draw, as pairs of vertices.
	Creases [][2]int32
}

// Near is a ball of the mesh, mm, that is looked at closely. The zero value
// looks at all of it alike.
type Near struct {
	At     r3.Vec
	Radius float64
}

// Draw sketches a mesh with about most triangles, half of them near what is
// looked at closely, and with its creases of more than angle (radians).
func Draw(m *mesh.Mesh, most int, near Near, angle float64) Sketch {
	creases := m.Creases(angle)
	if len(m.Triangles) <= most {
		return Sketch{Mesh: m, Creases: creases}
	}
	g := gridFor(m, most, near)
	for range 4 {
		s := g.draw(m, creases)
		if len(s.Mesh.Triangles) <= most+most/8 {
			return s
		}
		g = g.coarser(math.Sqrt(float64(len(s.Mesh.Triangles))/float64(most)) * 1.04)
	}
	return g.draw(m, creases)
}

// grid is two grids of cubes: a fine one where the mesh is looked at closely,
// and a coarse one elsewhere.
type grid struct {
	low          r3.Vec
	coarse, fine float64 // sides of the cubes, mm
	near         Near
}

func (g grid) coarser(by float64) grid {
	g.coarse, g.fine = g.coarse*by, g.fine*by
	return g
}

func (g grid) closely(v r3.Vec) bool {
	return g.near.Radius > 0 && r3.Norm2(r3.Sub(v, g.near.At)) < g.near.Radius*g.near.Radius
}

// sampled is how many triangles tell how fine a grid has to be.
const sampled = 20_000

// gridFor finds the cubes that leave about most triangles: a surface of area
// A meets some 1.5 A/h² cubes of side h, each with a corner of two triangles,
// and a triangle larger than that stays whatever the cubes.
func gridFor(m *mesh.Mesh, most int, near Near) grid {
	bounds := m.Bounds()
	g := grid{low: bounds.Min, near: near}
	var far, close []float64
	step := max(1, len(m.Triangles)/sampled)
	for t := 0; t < len(m.Triangles); t += step {
		a, b, c := m.Corners(t)
		area := r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
		if g.closely(a) {
			close = append(close, area)
		} else {
			far = append(far, area)
		}
	}
	widest := r3.Norm(r3.Sub(bounds.Max, bounds.Min))
	side := func(areas []float64, most float64) float64 {
		low, high := 1e-6*widest, widest
		for range 40 {
			h := math.Sqrt(low * high)
			var kept float64
			for _, a := range areas {
				kept += min(1, 3*a/(h*h)) * float64(step)
			}
			if kept > most {
				low = h
			} else {
				high = h
			}
		}
		return high
	}
	share := float64(most)
	if len(close) > 0 {
		share /= 2
		g.fine = side(close, share)
	}
	g.coarse = side(far, share)
	return g
}

// key names the cube that a corner lies in and the way its surface looks.
func (g grid) key(v, normal r3.Vec) uint64 {
	h, which := g.coarse, uint64(0)
	if g.closely(v) {
		h, which = g.fine, 1
	}
	d := r3.Sub(v, g.low)
	const bits = 20
	cell := func(x float64) uint64 { return uint64(min(max(x/h, 0), 1<<bits-1)) }
	return which<<63 | facing(normal)<<60 | cell(d.X)<<(2*bits) | cell(d.Y)<<bits | cell(d.Z)
}

// facing is which of the six sides of a cube a normal looks to.
func facing(n r3.Vec) uint64 {
	ax, ay, az := math.Abs(n.X), math.Abs(n.Y), math.Abs(n.Z)
	side, sign := uint64(0), n.X
	switch {
	case az >= ax && az >= ay:
		side, sign = 4, n.Z
	case ay >= ax:
		side, sign = 2, n.Y
	}
	if sign < 0 {
		side++
	}
	return side
}

// draw joins the corners that share a cube.
func (g grid) draw(m *mesh.Mesh, creases [][2]int32) Sketch {
	normals := make([]r3.Vec, len(m.Vertices))
	for t, tri := range m.Triangles {
		a, b, c := m.Corners(t)
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		for _, v := range tri {
			normals[v] = r3.Add(normals[v], n)
		}
	}
	to := make([]int32, len(m.Vertices)) // the cluster of each corner
	named := make(map[uint64]int32, len(m.Vertices)/4)
	var clusters []cluster
	for v, p := range m.Vertices {
		k := g.key(p, normals[v])
		i, known := named[k]
		if !known {
			i = int32(len(clusters))
			named[k] = i
			clusters = append(clusters, cluster{reach: g.coarse})
			if k>>63 == 1 {
				clusters[i].reach = g.fine
			}
		}
		to[v] = i
		clusters[i].sum = r3.Add(clusters[i].sum, p)
		clusters[i].count++
	}
	for i := range clusters {
		clusters[i].middle = r3.Scale(1/clusters[i].count, clusters[i].sum)
	}
	var out Sketch
	out.Mesh = &mesh.Mesh{}
	drawn := make(map[[3]int32]struct{}, len(clusters)*2)
	for t, tri := range m.Triangles {
		a, b, c := m.Corners(t)
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		at := [3]int32{to[tri[0]], to[tri[1]], to[tri[2]]}
		for _, i := range at {
			clusters[i].meet(n, a)
		}
		if at[0] == at[1] || at[1] == at[2] || at[0] == at[2] {
			continue
		}
		for at[0] > at[1] || at[0] > at[2] { // begins with the lowest: one name for a triangle
			at[0], at[1], at[2] = at[1], at[2], at[0]
		}
		if _, twice := drawn[at]; twice {
			continue
		}
		drawn[at] = struct{}{}
		out.Mesh.Triangles = append(out.Mesh.Triangles, at)
		out.Of = append(out.Of, int32(t))
	}
	out.Mesh.Vertices = make([]r3.Vec, len(clusters))
	for i := range clusters {
		out.Mesh.Vertices[i] = clusters[i].place()
	}
	lines := make(map[[2]int32]struct{}, len(creases))
	for _, e := range creases {
		line := [2]int32{to[e[0]], to[e[1]]}
		if line[0] > line[1] {
			line[0], line[1] = line[1], line[0]
		}
		if _, twice := lines[line]; twice || line[0] == line[1] {
			continue
		}
		lines[line] = struct{}{}
		out.Creases = append(out.Creases, line)
	}
	return out
}
