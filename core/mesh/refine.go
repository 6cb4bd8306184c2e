package mesh

import "gonum.org/v1/gonum/spatial/r3"

// mostRefined is how many triangles Refined makes at most: where it would be
// more, edges stay longer. A mesh that has more already is left as it is.
const (
	mostRefined = 60_000
	longer      = 1.4 // times the edges, when there were too many
)

// Refined returns the same surface with no edge longer than longest, so that
// what is found out triangle by triangle shows on large flat faces as well.
// Edges are halved, the longest first; both triangles on an edge halve it
// alike, so a closed mesh stays closed. A mesh that is fine already is
// returned as it is; of says which triangle each one was cut from.
func (m *Mesh) Refined(longest float64) (fine *Mesh, of []int32) {
	of = make([]int32, len(m.Triangles))
	for i := range of {
		of[i] = int32(i)
	}
	limit := longest * longest
	long := func(a, b r3.Vec) bool { return r3.Norm2(r3.Sub(a, b)) > limit }
	rough := false
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		rough = rough || long(a, b) || long(b, c) || long(c, a)
	}
	if !rough || !(longest > 0) || len(m.Triangles) >= mostRefined {
		return m, of
	}
	for {
		if fine, of, ok := m.refined(longest); ok {
			return fine, of
		}
		longest *= longer
	}
}

// refined is not ok where it comes to too many triangles.
func (m *Mesh) refined(longest float64) (fine *Mesh, of []int32, ok bool) {
	limit := longest * longest
	fine = &Mesh{Vertices: append([]r3.Vec(nil), m.Vertices...)}
	middle := make(map[[2]int32]int32)
	half := func(i, j int32) int32 {
		key := [2]int32{min(i, j), max(i, j)}
		k, ok := middle[key]
		if !ok {
			k = int32(len(fine.Vertices))
			a, b := fine.Vertices[key[0]], fine.Vertices[key[1]]
			fine.Vertices = append(fine.Vertices, r3.Add(a, r3.Scale(0.5, r3.Sub(b, a))))
			middle[key] = k
		}
		return k
	}
	type piece struct {
		tri [3]int32
		of  int32
	}
	var todo []piece
	for t, tri := range m.Triangles {
		todo = append(todo[:0], piece{tri, int32(t)})
		for len(todo) > 0 {
			p := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			best, at := limit, -1
			for k := range 3 {
				i, j := p.tri[k], p.tri[(k+1)%3]
				d := r3.Norm2(r3.Sub(fine.Vertices[min(i, j)], fine.Vertices[max(i, j)]))
				if d > best || d == best && at >= 0 && min(i, j) < min(p.tri[at], p.tri[(at+1)%3]) {
					best, at = d, k
				}
			}
			if len(fine.Triangles)+len(todo) > mostRefined {
				return nil, nil, false
			}
			if at < 0 {
				fine.Triangles = append(fine.Triangles, p.tri)
				of = append(of, p.of)
				continue
			}
			i, j, k := p.tri[at], p.tri[(at+1)%3], p.tri[(at+2)%3]
			h := half(i, j)
			todo = append(todo, piece{[3]int32{i, h, k}, p.of}, piece{[3]int32{h, j, k}, p.of})
		}
	}
	return fine, of, true
}
