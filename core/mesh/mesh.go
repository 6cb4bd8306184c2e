// Package mesh reads the triangle mesh of a master and measures it.
//
// A mesh comes from a file as loose triangles. Reading welds their corners,
// finds out how well the surface closes, turns bodies that are inside out,
// and measures volume and area exactly for the tessellation. All lengths are
// in millimetres, areas in mm², volumes in mm³; the caller scales a file in
// another unit with [Mesh.Scaled].
package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Mesh is an indexed triangle mesh. Seen from outside, the corners of a
// triangle run anticlockwise.
type Mesh struct {
	Vertices  []r3.Vec
	Triangles [][3]int32
}

// Corners returns the three corners of triangle t.
func (m *Mesh) Corners(t int) (a, b, c r3.Vec) {
	tri := m.Triangles[t]
	return m.Vertices[tri[0]], m.Vertices[tri[1]], m.Vertices[tri[2]]
}

// Scaled returns a copy with every coordinate multiplied by factor, which
// takes a mesh drawn in another unit to millimetres.
func (m *Mesh) Scaled(factor float64) *Mesh {
	if factor == 1 {
		return m
	}
	out := &Mesh{Vertices: make([]r3.Vec, len(m.Vertices)), Triangles: m.Triangles}
	for i, v := range m.Vertices {
		out.Vertices[i] = r3.Scale(factor, v)
	}
	return out
}

// Turned returns a copy turned about the origin.
func (m *Mesh) Turned(by r3.Rotation) *Mesh {
	out := &Mesh{Vertices: make([]r3.Vec, len(m.Vertices)), Triangles: m.Triangles}
	for i, v := range m.Vertices {
		out.Vertices[i] = by.Rotate(v)
	}
	return out
}

// Append adds the triangles of another mesh as further bodies.
func (m *Mesh) Append(other *Mesh) {
	base := int32(len(m.Vertices))
	m.Vertices = append(m.Vertices, other.Vertices...)
	for _, t := range other.Triangles {
		m.Triangles = append(m.Triangles, [3]int32{t[0] + base, t[1] + base, t[2] + base})
	}
}

// Bounds returns the smallest box with sides along the axes that holds the
// mesh. An empty mesh gives a zero box.
func (m *Mesh) Bounds() r3.Box {
	if len(m.Vertices) == 0 {
		return r3.Box{}
	}
	inf := math.Inf(1)
	box := r3.Box{Min: r3.Vec{X: inf, Y: inf, Z: inf}, Max: r3.Vec{X: -inf, Y: -inf, Z: -inf}}
	for _, v := range m.Vertices {
		box.Min.X, box.Max.X = min(box.Min.X, v.X), max(box.Max.X, v.X)
		box.Min.Y, box.Max.Y = min(box.Min.Y, v.Y), max(box.Max.Y, v.Y)
		box.Min.Z, box.Max.Z = min(box.Min.Z, v.Z), max(box.Max.Z, v.Z)
	}
	return box
}

// turn reverses the winding of triangle t, which swaps inside and outside.
func (m *Mesh) turn(t int) {
	tri := &m.Triangles[t]
	tri[1], tri[2] = tri[2], tri[1]
}

// isFinite reports whether all three coordinates are numbers.
func isFinite(v r3.Vec) bool {
	s := v.X + v.Y + v.Z // NaN and the infinities survive addition
	return !math.IsNaN(s) && !math.IsInf(s, 0)
}
