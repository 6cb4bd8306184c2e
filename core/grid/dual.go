package grid

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Lattice is a block of points a cell apart.
type Lattice struct {
	Low        r3.Vec // point 0, 0, 0
	Cell       float64
	NX, NY, NZ int
}

// Points is how many there are.
func (l Lattice) Points() int { return l.NX * l.NY * l.NZ }

// Index numbers the points, those along the third axis one after another.
func (l Lattice) Index(i, j, k int) int { return (j*l.NX+i)*l.NZ + k }

// At returns where a point is.
func (l Lattice) At(i, j, k int) r3.Vec {
	return r3.Vec{X: l.Low.X + float64(i)*l.Cell, Y: l.Low.Y + float64(j)*l.Cell, Z: l.Low.Z + float64(k)*l.Cell}
}

// Hit is where the surface of a body crosses an edge of the lattice, and the
// surface's outward normal there.
type Hit struct{ At, Normal r3.Vec }

// Dual returns the surface of the body whose points are inside as a closed
// mesh with its edges sharp (dual contouring, Ju, Losasso, Schaefer and Warren
// 2002, from memory). Cross tells where it crosses the edge from an inside
// point to the outside point next to it along axis 0, 1 or 2, forward or
// back. The outermost points must be outside.
func Dual(l Lattice, inside func(index int) bool, cross func(i, j, k, axis int, forward bool) Hit) *mesh.Mesh {
	return dual(l, within, inside, cross)
}

// How far a vertex may lie from the sides of its cell, in cells: inside it,
// so that bodies which share a cell keep to their own; or up to a third
// outside, where an edge of the only body runs just beside it.
const (
	within  = 0.01
	outside = -0.3
)

func dual(l Lattice, keep float64, inside func(index int) bool, cross func(i, j, k, axis int, forward bool) Hit) *mesh.Mesh {
	in := make([]bool, l.Points())
	for p := range in {
		in[p] = inside(p)
	}
	step := [3]int{l.Index(1, 0, 0) - l.Index(0, 0, 0), l.Index(0, 1, 0) - l.Index(0, 0, 0), 1}
	var hits []Hit
	found := make([]int32, 3*len(in)) // by low point of the edge × 3 + axis: its hit, from 1
	edge := func(p, i, j, k, axis int) (Hit, bool) {
		q := p + step[axis]
		if in[p] == in[q] {
			return Hit{}, false
		}
		id := 3*p + axis
		if found[id] == 0 {
			var h Hit
			if in[p] {
				h = cross(i, j, k, axis, true)
			} else {
				at := [3]int{i, j, k}
				at[axis]++
				h = cross(at[0], at[1], at[2], axis, false)
			}
			hits = append(hits, h)
			found[id] = int32(len(hits))
		}
		return hits[found[id]-1], true
	}
	m := &mesh.Mesh{}
	cells := make([]int32, len(in)) // of the cell whose low point this is, from 1
	var made [][12]int32            // of each cell, the vertex that stands for each crossed edge
	vertex := func(c [3]int, e int) int32 {
		id := l.Index(c[0], c[1], c[2])
		if cells[id] == 0 {
			made = append(made, sheets(m, l.At(c[0], c[1], c[2]), l.Cell, keep,
				func(off [3]int) bool { return in[id+off[0]*step[0]+off[1]*step[1]+off[2]*step[2]] },
				func(off [3]int, axis int) Hit {
					h, _ := edge(id+off[0]*step[0]+off[1]*step[1]+off[2]*step[2], c[0]+off[0], c[1]+off[1], c[2]+off[2], axis)
					return h
				}))
			cells[id] = int32(len(made))
		}
		return made[cells[id]-1][e]
	}
	for j := 1; j < l.NY-1; j++ {
		for i := 1; i < l.NX-1; i++ {
			for k := 1; k < l.NZ-1; k++ {
				p := l.Index(i, j, k)
				for axis := range 3 {
					if in[p] == in[p+step[axis]] {
						continue
					}
					// the four cells round the edge, anticlockwise seen against the axis
					a := [3]int{i, j, k}
					u, w := (axis+1)%3, (axis+2)%3
					var quad [4]int32
					for c, d := range [4][2]int{{-1, -1}, {0, -1}, {0, 0}, {-1, 0}} {
						b := a
						b[u] += d[0]
						b[w] += d[1]
						var off [3]int
						off[u], off[w] = -d[0], -d[1]
						quad[c] = vertex(b, edgeOf(axis, off))
					}
					if !in[p] { // the surface faces back along the axis
						quad[1], quad[3] = quad[3], quad[1]
					}
					h, _ := edge(p, i, j, k, axis)
					m.Triangles = append(m.Triangles, split(m, quad, h.Normal)...)
				}
			}
		}
	}
	return m
}

// edgeOf numbers the twelve edges of a cell by their axis and the offset of
// their low point.
func edgeOf(axis int, off [3]int) int { return 4*axis + off[(axis+1)%3] + 2*off[(axis+2)%3] }

// sheets makes a vertex for every sheet of the surface in a cell and returns
// which of them stands for each crossed edge. Sheets that only share the cell
// do not share a vertex, so that the surface stays a manifold (after Schaefer,
// Ju and Warren 2007, from memory).
func sheets(m *mesh.Mesh, low r3.Vec, cell, keep float64, in func(off [3]int) bool, hit func(off [3]int, axis int) Hit) (stands [12]int32) {
	var parent [12]int
	for e := range parent {
		parent[e] = e
	}
	find := func(e int) int {
		for parent[e] != e {
			e = parent[e]
		}
		return e
	}
	crossed := func(axis int, off [3]int) bool {
		to := off
		to[axis]++
		return in(off) != in(to)
	}
	for f := range 3 {
		u, w := (f+1)%3, (f+2)%3
		for side := range 2 {
			at := func(cu, cw int) (off [3]int) {
				off[f], off[u], off[w] = side, cu, cw
				return off
			}
			edges := [4]int{edgeOf(u, at(0, 0)), edgeOf(u, at(0, 1)), edgeOf(w, at(0, 0)), edgeOf(w, at(1, 0))}
			cut := [4]bool{crossed(u, at(0, 0)), crossed(u, at(0, 1)), crossed(w, at(0, 0)), crossed(w, at(1, 0))}
			n, last := 0, -1
			for e := range 4 {
				if cut[e] {
					n++
				}
			}
			if n == 4 { // two inside corners across from one another stay apart
				for cu := range 2 {
					for cw := range 2 {
						if in(at(cu, cw)) {
							parent[find(edges[cw])] = find(edges[2+cu])
						}
					}
				}
				continue
			}
			for e := range 4 {
				if cut[e] {
					if last >= 0 {
						parent[find(edges[e])] = find(edges[last])
					}
					last = e
				}
			}
		}
	}
	var hits [12][]Hit
	for axis := range 3 {
		for k := range 4 {
			var off [3]int
			off[(axis+1)%3], off[(axis+2)%3] = k&1, k>>1
			if crossed(axis, off) {
				root := find(edgeOf(axis, off))
				hits[root] = append(hits[root], hit(off, axis))
			}
		}
	}
	var vertices [12]int32
	for e, h := range hits {
		if len(h) > 0 {
			vertices[e] = int32(len(m.Vertices))
			m.Vertices = append(m.Vertices, feature(h, low, cell, keep))
		}
	}
	for e := range stands {
		stands[e] = vertices[find(e)]
	}
	return stands
}

// split cuts a quad into two triangles along the diagonal that folds least
// against the surface's normal.
func split(m *mesh.Mesh, q [4]int32, normal r3.Vec) [][3]int32 {
	fold := func(a, b [3]int32) float64 {
		worst := 1.0
		for _, t := range [2][3]int32{a, b} {
			n := r3.Cross(r3.Sub(m.Vertices[t[1]], m.Vertices[t[0]]), r3.Sub(m.Vertices[t[2]], m.Vertices[t[0]]))
			if length := r3.Norm(n); length > 0 {
				worst = min(worst, r3.Dot(n, normal)/length)
			}
		}
		return worst
	}
	one := [2][3]int32{{q[0], q[1], q[2]}, {q[0], q[2], q[3]}}
	two := [2][3]int32{{q[0], q[1], q[3]}, {q[1], q[2], q[3]}}
	if fold(one[0], one[1]) >= fold(two[0], two[1]) {
		return one[:]
	}
	return two[:]
}

// feature is the point of a cell that lies best on the planes of its hits:
// on the face, edge or corner that they make.
func feature(hits []Hit, low r3.Vec, cell, keep float64) r3.Vec {
	if len(hits) == 0 {
		return r3.Add(low, r3.Scale(cell/2, r3.Vec{X: 1, Y: 1, Z: 1}))
	}
	var mean r3.Vec
	for _, h := range hits {
		mean = r3.Add(mean, h.At)
	}
	mean = r3.Scale(1/float64(len(hits)), mean)
	// least squares of the distances to the planes, held to the mean where they leave it open
	const hold = 0.1
	var a [3][3]float64
	var b [3]float64
	for _, h := range hits {
		n := [3]float64{h.Normal.X, h.Normal.Y, h.Normal.Z}
		d := r3.Dot(h.Normal, r3.Sub(h.At, mean))
		for i := range 3 {
			for j := range 3 {
				a[i][j] += n[i] * n[j]
			}
			b[i] += n[i] * d
		}
	}
	held := a
	for i := range 3 {
		held[i][i] += hold
	}
	x := solve3(held, b)
	for range 3 { // what the hold kept it off an edge
		rest := b
		for i := range 3 {
			for j := range 3 {
				rest[i] -= a[i][j] * x[j]
			}
		}
		more := solve3(held, rest)
		for i := range 3 {
			x[i] += more[i]
		}
	}
	p := r3.Add(mean, r3.Vec{X: x[0], Y: x[1], Z: x[2]})
	// inside its cell, so that no two points fall together
	in := func(v, lo float64) float64 { return max(lo+keep*cell, min(lo+(1-keep)*cell, v)) }
	if p.X < low.X-cell/2 || p.Y < low.Y-cell/2 || p.Z < low.Z-cell/2 || p.X > low.X+1.5*cell || p.Y > low.Y+1.5*cell ||
		p.Z > low.Z+1.5*cell ||
		math.IsNaN(p.X+p.Y+p.Z) {
		p = mean
	}
	return r3.Vec{X: in(p.X, low.X), Y: in(p.Y, low.Y), Z: in(p.Z, low.Z)}
}

// solve3 solves a symmetric system by Cramer's rule.
func solve3(a [3][3]float64, b [3]float64) [3]float64 {
	det := func(m [3][3]float64) float64 {
		return m[0][0]*(m[1][1]*m[2][2]-m[1][2]*m[2][1]) -
			m[0][1]*(m[1][0]*m[2][2]-m[1][2]*m[2][0]) + m[0][2]*(m[1][0]*m[2][1]-m[1][1]*m[2][0])
	}
	whole := det(a)
	var x [3]float64
	if whole == 0 {
		return x
	}
	for c := range 3 {
		m := a
		for r := range 3 {
			m[r][c] = b[r]
		}
		x[c] = det(m) / whole
	}
	return x
}
