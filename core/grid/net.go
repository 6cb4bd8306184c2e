// Package grid turns fields sampled on a regular grid into meshes.
package grid

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Field gives the signed distance in mm from a point to a surface, negative
// inside. Away from the surface it need only have the right sign and grow.
type Field func(p r3.Vec) float64

// Net returns the surface of a field inside a box as a closed mesh of
// roughly square facets of side cell (naive surface nets, Gibson 1998, from
// memory), each corner then drawn onto the surface along the field's slope.
// The surface must lie inside the box.
func Net(f Field, box r3.Box, cell float64) *mesh.Mesh {
	size := r3.Sub(box.Max, box.Min)
	nx, ny, nz := int(math.Ceil(size.X/cell))+1, int(math.Ceil(size.Y/cell))+1, int(math.Ceil(size.Z/cell))+1
	at := func(i, j, k int) r3.Vec {
		return r3.Add(box.Min, r3.Vec{X: float64(i) * cell, Y: float64(j) * cell, Z: float64(k) * cell})
	}
	index := func(i, j, k int) int { return (k*ny+j)*nx + i }
	value := make([]float64, nx*ny*nz)
	for k := range nz {
		for j := range ny {
			for i := range nx {
				value[index(i, j, k)] = f(at(i, j, k))
			}
		}
	}
	m := &mesh.Mesh{}
	corner := make([]int32, len(value)) // vertex of the cell whose low corner this is, plus one
	for k := range nz - 1 {
		for j := range ny - 1 {
			for i := range nx - 1 {
				if p, ok := crossingMean(value, index, at, i, j, k); ok {
					m.Vertices = append(m.Vertices, drawn(f, p, cell))
					corner[index(i, j, k)] = int32(len(m.Vertices))
				}
			}
		}
	}
	quad := func(a, b, c, d int, flip bool) {
		v := [4]int32{corner[a] - 1, corner[b] - 1, corner[c] - 1, corner[d] - 1}
		if flip {
			v[1], v[3] = v[3], v[1]
		}
		if dist(m, v[0], v[2]) <= dist(m, v[1], v[3]) {
			m.Triangles = append(m.Triangles, [3]int32{v[0], v[1], v[2]}, [3]int32{v[0], v[2], v[3]})
		} else {
			m.Triangles = append(m.Triangles, [3]int32{v[0], v[1], v[3]}, [3]int32{v[1], v[2], v[3]})
		}
	}
	for k := 1; k < nz-1; k++ {
		for j := 1; j < ny-1; j++ {
			for i := 1; i < nx-1; i++ {
				in := value[index(i, j, k)] < 0
				if in != (value[index(i+1, j, k)] < 0) {
					quad(index(i, j-1, k-1), index(i, j, k-1), index(i, j, k), index(i, j-1, k), !in)
				}
				if in != (value[index(i, j+1, k)] < 0) {
					quad(index(i-1, j, k-1), index(i-1, j, k), index(i, j, k), index(i, j, k-1), !in)
				}
				if in != (value[index(i, j, k+1)] < 0) {
					quad(index(i-1, j-1, k), index(i, j-1, k), index(i, j, k), index(i-1, j, k), !in)
				}
			}
		}
	}
	return m
}

func dist(m *mesh.Mesh, a, b int32) float64 {
	return r3.Norm(r3.Sub(m.Vertices[a], m.Vertices[b]))
}

// crossingMean is the middle of the points where the surface crosses the
// twelve edges of a cell.
func crossingMean(value []float64, index func(i, j, k int) int, at func(i, j, k int) r3.Vec, i, j, k int) (r3.Vec, bool) {
	var sum r3.Vec
	n := 0
	for e := range 12 {
		axis, u, v := e/4, e&1, e>>1&1
		a := [3]int{i, j, k}
		a[(axis+1)%3] += u
		a[(axis+2)%3] += v
		b := a
		b[axis]++
		fa, fb := value[index(a[0], a[1], a[2])], value[index(b[0], b[1], b[2])]
		if (fa < 0) == (fb < 0) {
			continue
		}
		pa, pb := at(a[0], a[1], a[2]), at(b[0], b[1], b[2])
		sum = r3.Add(sum, r3.Add(pa, r3.Scale(fa/(fa-fb), r3.Sub(pb, pa))))
		n++
	}
	if n == 0 {
		return sum, false
	}
	return r3.Scale(1/float64(n), sum), true
}

// drawn moves a point onto the surface, at most half a cell far.
func drawn(f Field, p r3.Vec, cell float64) r3.Vec {
	start := p
	h := 1e-4 * cell
	for range 6 {
		d := f(p)
		g := r3.Vec{
			X: f(r3.Add(p, r3.Vec{X: h})) - f(r3.Sub(p, r3.Vec{X: h})),
			Y: f(r3.Add(p, r3.Vec{Y: h})) - f(r3.Sub(p, r3.Vec{Y: h})),
			Z: f(r3.Add(p, r3.Vec{Z: h})) - f(r3.Sub(p, r3.Vec{Z: h})),
		}
		g = r3.Scale(1/(2*h), g)
		n2 := r3.Norm2(g)
		if n2 < 1e-6 {
			break
		}
		next := r3.Sub(p, r3.Scale(d/n2, g))
		if r3.Norm(r3.Sub(next, start)) > cell/2 {
			break
		}
		p = next
	}
	return p
}
