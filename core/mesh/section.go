package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Section cuts a mesh with the plane of points p with normal·p = offset and
// returns the outlines, closed ones with the material on the left seen
// against the normal. Pieces that do not close, as at a hole, come back open.
func (m *Mesh) Section(normal r3.Vec, offset float64) [][]r3.Vec {
	height := make([]float64, len(m.Vertices))
	for i, v := range m.Vertices {
		height[i] = r3.Dot(normal, v) - offset
		if height[i] == 0 {
			height[i] = math.SmallestNonzeroFloat64 // a corner in the plane counts as above it
		}
	}
	type edge struct{ low, high int32 }
	key := func(i, j int32) edge { return edge{min(i, j), max(i, j)} }
	next := make(map[edge]edge)
	entered := make(map[edge]bool)
	at := func(e edge) r3.Vec {
		a, b := m.Vertices[e.low], m.Vertices[e.high]
		f := height[e.low] / (height[e.low] - height[e.high])
		return r3.Add(a, r3.Scale(f, r3.Sub(b, a)))
	}
	var order []edge
	for _, t := range m.Triangles {
		var down, up edge // edges where the triangle's rim goes below the plane, and comes back
		crosses := false
		for k := range 3 {
			i, j := t[k], t[(k+1)%3]
			switch {
			case height[i] > 0 && height[j] <= 0:
				down, crosses = key(i, j), true
			case height[i] <= 0 && height[j] > 0:
				up, crosses = key(i, j), true
			}
		}
		if crosses {
			next[down] = up
			entered[up] = true
			order = append(order, down)
		}
	}
	var loops [][]r3.Vec
	follow := func(start edge) {
		var loop []r3.Vec
		for e := start; ; {
			to, ok := next[e]
			loop = append(loop, at(e))
			if !ok {
				break
			}
			delete(next, e)
			e = to
		}
		if len(loop) > 1 {
			loops = append(loops, loop)
		}
	}
	for _, e := range order { // open pieces first, from their beginnings
		if _, ok := next[e]; ok && !entered[e] {
			follow(e)
		}
	}
	for _, e := range order {
		if _, ok := next[e]; ok {
			follow(e)
		}
	}
	return loops
}
