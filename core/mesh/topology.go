package mesh

import (
	"slices"
	"sync"
)

// Edges counts how well the triangles of a mesh meet.
type Edges struct {
	Open        int // used by one triangle: the rim of a hole
	NonManifold int // used by more than two triangles
	Misoriented int // shared by two triangles that disagree about the outside
}

// Closed reports whether every edge is used exactly twice, in opposite directions.
func (e Edges) Closed() bool { return e == Edges{} }

// edgeUse is one triangle's use of an edge, filed under the lower of the
// edge's two vertices.
type edgeUse struct {
	high int32 // the higher vertex
	code int32 // which side of which triangle, and which way: small, for speed
}

// side is 3 times the triangle plus which of its sides the edge is.
func (u edgeUse) side() int32 { return u.code >> 1 }

func (u edgeUse) triangle() int32 { return u.side() / 3 }

// along reports whether the triangle runs from the lower vertex to the higher.
func (u edgeUse) along() bool { return u.code&1 != 0 }

// edgeTable files all uses of all edges by their lower vertex; the uses of
// vertex v are uses[start[v]:start[v+1]], sorted by the higher vertex.
type edgeTable struct {
	start []int32
	uses  []edgeUse
}

func (m *Mesh) edgeTable() edgeTable {
	start := make([]int32, len(m.Vertices)+1)
	uses := make([]edgeUse, 3*len(m.Triangles))
	// Two workers each file the edges whose lower vertex is in their half.
	half := int32(len(m.Vertices) / 2)
	count := func(low, high int32) {
		for _, t := range m.Triangles {
			for k := range 3 {
				if v := min(t[k], t[(k+1)%3]); v >= low && v < high {
					start[v+1]++
				}
			}
		}
	}
	file := func(low, high int32) {
		next := slices.Clone(start[low:high])
		for i, t := range m.Triangles {
			for k := range 3 {
				a, b := t[k], t[(k+1)%3]
				use := edgeUse{high: b, code: int32(3*i+k)<<1 | 1}
				v := a
				if b < a {
					v, use = b, edgeUse{high: a, code: use.code &^ 1}
				}
				if v >= low && v < high {
					uses[next[v-low]] = use
					next[v-low]++
				}
			}
		}
		for v := low; v < high; v++ {
			insertionSort(uses[start[v]:start[v+1]])
		}
	}
	both := func(f func(low, high int32)) {
		var wg sync.WaitGroup
		wg.Go(func() { f(0, half) })
		f(half, int32(len(m.Vertices)))
		wg.Wait()
	}
	both(count)
	for v := 1; v < len(start); v++ {
		start[v] += start[v-1]
	}
	both(file)
	return edgeTable{start, uses}
}

// insertionSort suits the half a dozen uses of a usual vertex; a vertex with
// a great many is left to the library.
func insertionSort(uses []edgeUse) {
	if len(uses) > 24 {
		slices.SortFunc(uses, func(a, b edgeUse) int {
			if a.high != b.high {
				return int(a.high - b.high)
			}
			return int(a.code - b.code)
		})
		return
	}
	for i := 1; i < len(uses); i++ {
		for j := i; j > 0 && (uses[j].high < uses[j-1].high ||
			uses[j].high == uses[j-1].high && uses[j].code < uses[j-1].code); j-- {
			uses[j], uses[j-1] = uses[j-1], uses[j]
		}
	}
}

// each calls f once an edge with the edge's lower vertex and all its uses.
func (e edgeTable) each(f func(low int32, uses []edgeUse)) {
	for v := 0; v+1 < len(e.start); v++ {
		of := e.uses[e.start[v]:e.start[v+1]]
		for i := 0; i < len(of); {
			j := i + 1
			for j < len(of) && of[j].high == of[i].high {
				j++
			}
			f(int32(v), of[i:j])
			i = j
		}
	}
}

// add counts one edge by its uses.
func (n *Edges) add(uses []edgeUse) {
	switch {
	case len(uses) == 1:
		n.Open++
	case len(uses) > 2:
		n.NonManifold++
	case uses[0].along() == uses[1].along():
		n.Misoriented++
	}
}

// balanced reports whether every edge is used as often one way as the other:
// then the surface encloses a volume, even where bodies touch along an edge.
func (e edgeTable) balanced() bool {
	whole := true
	e.each(func(_ int32, uses []edgeUse) {
		sum := 0
		for _, u := range uses {
			if u.along() {
				sum++
			} else {
				sum--
			}
		}
		whole = whole && sum == 0
	})
	return whole
}

// rim returns the vertices on open edges, in rising order.
func (e edgeTable) rim() []int32 {
	var rim []int32
	e.each(func(low int32, uses []edgeUse) {
		if len(uses) == 1 {
			rim = append(rim, low, uses[0].high)
		}
	})
	slices.Sort(rim)
	return slices.Compact(rim)
}

// survey counts how the edges are used and numbers the connected components
// over shared edges in one pass: of[t] is the body of triangle t, counted
// from 0 in the order of first triangles.
func (e edgeTable) survey(triangles int) (edges Edges, of []int32, bodies int) {
	group := newDisjoint(triangles)
	e.each(func(_ int32, uses []edgeUse) {
		edges.add(uses)
		for _, u := range uses[1:] {
			group.union(uses[0].triangle(), u.triangle())
		}
	})
	of = make([]int32, triangles)
	for i := range of {
		of[i] = -1
	}
	for t := range of {
		root := group.find(int32(t))
		if of[root] < 0 {
			of[root] = int32(bodies)
			bodies++
		}
		of[t] = of[root]
	}
	return edges, of, bodies
}

// alignWindings turns triangles until neighbours across two-sided edges
// agree, keeping the winding of the majority of each body, and returns how
// many were turned.
func (m *Mesh) alignWindings(e edgeTable) int {
	// neighbour[3t+k] is the triangle across side k of t plus one, negative
	// when the two disagree about the outside, 0 when there is no single one.
	neighbour := make([]int32, 3*len(m.Triangles))
	e.each(func(_ int32, uses []edgeUse) {
		if len(uses) != 2 {
			return
		}
		sign := int32(1)
		if uses[0].along() == uses[1].along() {
			sign = -1
		}
		neighbour[uses[0].side()] = sign * (uses[1].triangle() + 1)
		neighbour[uses[1].side()] = sign * (uses[0].triangle() + 1)
	})
	const unseen, keep, turn = 0, 1, 2
	state := make([]uint8, len(m.Triangles))
	turned := 0
	var patch []int32
	for seed := range m.Triangles {
		if state[seed] != unseen {
			continue
		}
		patch = append(patch[:0], int32(seed))
		state[seed] = keep
		toTurn := 0
		for i := 0; i < len(patch); i++ {
			t := patch[i]
			for k := range int32(3) {
				next := neighbour[3*t+k]
				if next == 0 {
					continue
				}
				want := state[t]
				if next < 0 {
					next, want = -next, keep+turn-want
				}
				if state[next-1] == unseen {
					state[next-1] = want
					patch = append(patch, next-1)
					if want == turn {
						toTurn++
					}
				}
			}
		}
		which := uint8(turn)
		if 2*toTurn > len(patch) {
			which, toTurn = keep, len(patch)-toTurn
		}
		if toTurn == 0 {
			continue
		}
		for _, t := range patch {
			if state[t] == which {
				m.turn(int(t))
			}
		}
		turned += toTurn
	}
	return turned
}

// disjoint is a union-find forest with path halving.
type disjoint []int32

func newDisjoint(n int) disjoint {
	d := make(disjoint, n)
	for i := range d {
		d[i] = int32(i)
	}
	return d
}

func (d disjoint) find(i int32) int32 {
	for d[i] != i {
		d[i] = d[d[i]]
		i = d[i]
	}
	return i
}

func (d disjoint) union(a, b int32) {
	ra, rb := d.find(a), d.find(b)
	if ra == rb {
		return
	}
	if ra > rb {
		ra, rb = rb, ra
	}
	d[rb] = ra
}
