package fill

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Lows returns, for each space that is cut off from the others, its floor
// points within reach mm of its lowest one, in the frame, one a column: the
// largest space first. Spaces are told apart to a column.
func (s *Space) Lows(reach float64) [][]r3.Vec {
	g := &s.grid
	pool := make([]int32, len(g.spans))
	for i := range pool {
		pool[i] = int32(i)
	}
	root := func(i int32) int32 {
		for pool[i] != i {
			pool[i] = pool[pool[i]]
			i = pool[i]
		}
		return i
	}
	for i := range g.spans {
		a := &g.spans[i]
		x, y := int(a.column)%g.NX, int(a.column)/g.NX
		for _, next := range [2][2]int{{x + 1, y}, {x, y + 1}} {
			if next[0] >= g.NX || next[1] >= g.NY {
				continue
			}
			n := next[1]*g.NX + next[0]
			for j := g.start[n]; j < g.start[n+1]; j++ {
				if b := &g.spans[j]; a.lo < b.hi && b.lo < a.hi {
					pool[root(j)] = root(int32(i))
				}
			}
		}
	}
	type room struct {
		first  int32
		size   float64
		lowest float64
		floor  []r3.Vec
	}
	at := map[int32]*room{}
	for i := range g.spans {
		r, span := at[root(int32(i))], &g.spans[i]
		if r == nil {
			r = &room{first: int32(i), lowest: math.Inf(1)}
			at[root(int32(i))] = r
		}
		r.size += span.hi - span.lo
		r.lowest = min(r.lowest, span.lo)
	}
	for i := range g.spans {
		if r, span := at[root(int32(i))], &g.spans[i]; span.lo <= r.lowest+reach {
			r.floor = append(r.floor, s.plan(span, span.lo))
		}
	}
	var rooms []*room
	most := 0.0
	for _, r := range at {
		rooms, most = append(rooms, r), max(most, r.size)
	}
	slices.SortFunc(rooms, func(a, b *room) int { return cmp.Or(cmp.Compare(b.size, a.size), cmp.Compare(a.first, b.first)) })
	var out [][]r3.Vec
	for _, r := range rooms {
		if r.size > dust*most { // a column that a slanting surface cuts off is no space of its own
			out = append(out, r.floor)
		}
	}
	return out
}

// dust is the share of the largest space below which a space is none.
const dust = 1e-3
