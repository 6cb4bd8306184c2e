package fill

import (
	"cmp"
	"math"
	"slices"

	"bathyform/core/forest"

	"gonum.org/v1/gonum/spatial/r3"
)

// Room is a space that is cut off from the others.
type Room struct {
	Floor, Ceiling []r3.Vec // its points near the lowest and the highest one, in the frame, one a column

	of     *Space
	joined forest.Forest // the stretches of all rooms
	root   int32
}

// Holds is whether a place of the frame lies in the room, to a column.
func (r Room) Holds(p r3.Vec) bool {
	g := &r.of.grid
	if p.X < g.X0 || p.Y < g.Y0 || p.X > g.X0+float64(g.NX)*g.Cell || p.Y > g.Y0+float64(g.NY)*g.Cell {
		return false
	}
	c := g.CellY(p.Y)*g.NX + g.CellX(p.X)
	for i := g.start[c]; i < g.start[c+1]; i++ {
		if span := &g.spans[i]; p.Z >= span.lo && p.Z <= span.hi && r.joined.Root(i) == r.root {
			return true
		}
	}
	return false
}

// Rooms returns the spaces that are cut off from one another, the largest
// first, with what lies within reach mm of the lowest and the highest point of
// each. Spaces are told apart to a column.
func (s *Space) Rooms(reach float64) []Room {
	g := &s.grid
	joined := forest.New(len(g.spans))
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
					joined.Join(j, int32(i))
				}
			}
		}
	}
	type room struct {
		Room
		first     int32
		size      float64
		low, high float64
	}
	at := map[int32]*room{}
	for i := range g.spans {
		r, span := at[joined.Root(int32(i))], &g.spans[i]
		if r == nil {
			r = &room{Room: Room{of: s, joined: joined, root: joined.Root(int32(i))}, first: int32(i), low: math.Inf(1), high: math.Inf(-1)}
			at[joined.Root(int32(i))] = r
		}
		r.size += span.hi - span.lo
		r.low, r.high = min(r.low, span.lo), max(r.high, span.hi)
	}
	for i := range g.spans {
		r, span := at[joined.Root(int32(i))], &g.spans[i]
		if span.lo <= r.low+reach {
			r.Floor = append(r.Floor, s.plan(span, span.lo))
		}
		if span.hi >= r.high-reach {
			r.Ceiling = append(r.Ceiling, s.plan(span, span.hi))
		}
	}
	var rooms []*room
	most := 0.0
	for _, r := range at {
		rooms, most = append(rooms, r), max(most, r.size)
	}
	slices.SortFunc(rooms, func(a, b *room) int { return cmp.Or(cmp.Compare(b.size, a.size), cmp.Compare(a.first, b.first)) })
	var out []Room
	for _, r := range rooms {
		if r.size > dust*most { // a column that a slanting surface cuts off is no space of its own
			out = append(out, r.Room)
		}
	}
	return out
}

// dust is the share of the largest space below which a space is none.
const dust = 1e-3
