package mesh

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Capped returns the mesh with each hole closed by a fan from the middle of
// its rim, and the number of holes closed. Flat holes are closed exactly.
// Rims that do not run back into themselves stay open.
func (m *Mesh) Capped() (*Mesh, int) {
	next := make(map[int32][]int32) // along the rim, against the triangles that use it
	var starts []int32
	m.edgeTable().each(func(low int32, uses []edgeUse) {
		if len(uses) != 1 {
			return
		}
		from, to := uses[0].high, low
		if !uses[0].along() {
			from, to = low, uses[0].high
		}
		next[from] = append(next[from], to)
		starts = append(starts, from)
	})
	if len(starts) == 0 {
		return m, 0
	}
	out := &Mesh{Vertices: slices.Clone(m.Vertices), Triangles: slices.Clone(m.Triangles)}
	holes := 0
	for _, start := range starts {
		for _, loop := range walkRim(next, start) {
			if len(loop) >= 3 {
				holes++
				out.fan(loop)
			}
		}
	}
	return out, holes
}

// fan closes a rim with triangles from its middle.
func (m *Mesh) fan(rim []int32) {
	var middle r3.Vec
	for _, v := range rim {
		middle = r3.Add(middle, r3.Scale(1/float64(len(rim)), m.Vertices[v]))
	}
	hub := int32(len(m.Vertices))
	m.Vertices = append(m.Vertices, middle)
	for i, v := range rim {
		m.Triangles = append(m.Triangles, [3]int32{v, rim[(i+1)%len(rim)], hub})
	}
}

// rimSpread is how much volume in mm³ the holes' true surfaces may hold more
// or less than the flat caps because their rims are not flat: cap area times
// the rim's own depth, by two thirds as for a dome. Flat rims give 0.
func rimSpread(m, capped *Mesh) float64 {
	var spread float64
	for t := len(m.Triangles); t < len(capped.Triangles); {
		hub := capped.Triangles[t][2]
		first := t
		var area r3.Vec
		for ; t < len(capped.Triangles) && capped.Triangles[t][2] == hub; t++ {
			a, b, c := capped.Corners(t)
			area = r3.Add(area, r3.Scale(0.5, r3.Cross(r3.Sub(b, a), r3.Sub(c, a))))
		}
		low, high := math.Inf(1), math.Inf(-1)
		for i := first; i < t; i++ {
			h := r3.Dot(area, capped.Vertices[capped.Triangles[i][0]])
			low, high = min(low, h), max(high, h)
		}
		spread += 2.0 / 3 * (high - low)
	}
	return spread
}

// walkRim takes a closed walk from start out of next. Where the walk meets
// itself it is cut into loops that each pass a corner once.
func walkRim(next map[int32][]int32, start int32) (loops [][]int32) {
	var walk []int32
	at := make(map[int32]int) // place of a corner in walk
	for v := start; ; {
		if i, again := at[v]; again {
			loops = append(loops, slices.Clone(walk[i:]))
			for _, u := range walk[i:] {
				delete(at, u)
			}
			walk = walk[:i]
			if len(walk) == 0 {
				return loops
			}
		}
		out := next[v]
		if len(out) == 0 {
			return loops
		}
		next[v] = out[1:]
		at[v] = len(walk)
		walk = append(walk, v)
		v = out[0]
	}
}
