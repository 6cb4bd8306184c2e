package fill

import (
	"math"

	"bathyform/core/grid"

	"gonum.org/v1/gonum/spatial/r3"
)

// interval is one stretch of free space in a column, between a floor and a
// ceiling. Heights are where the column's centre line meets the triangles.
type interval struct {
	column      int32
	lo, hi      float64
	floor, roof int32 // triangles; onFloor and openTop where there is none
}

const (
	onFloor int32 = -1 // the stretch stands on the floor of the box
	openTop int32 = -1 // nothing above: open to the air
)

// columns holds the free space as stretches along up.
type columns struct {
	*grid.Columns
	start      []int32 // stretches of column c are spans[start[c]:start[c+1]]
	spans      []interval
	overlapped bool // some column enters a body twice or leaves one it is not in
}

// cutColumns finds the stretches of free space in every column.
func (s *Space) cutColumns() {
	g := &s.grid
	n := g.NX * g.NY
	g.start = make([]int32, n+1)
	g.spans = make([]interval, 0, n+n/4)
	for c := range n {
		hits := s.stood.crossings[s.stood.meets[c]:s.stood.meets[c+1]]
		if s.around {
			s.spansRound(int32(c), hits)
		} else {
			s.spansInside(int32(c), hits)
		}
		g.start[c+1] = int32(len(g.spans))
	}
}

// touching, times contact, is the rounding of heights between faces that lie
// on one another.
const touching = 1e-4

// spansInside adds the stretches inside the part. Depth counts how many
// bodies enclose the line, so bodies that run into one another make one space.
func (s *Space) spansInside(column int32, hits []grid.Crossing) {
	g := &s.grid
	depth, first := int32(0), len(g.spans)
	lo, floor := math.Inf(1), onFloor
	for _, h := range hits {
		depth += h.Rises
		switch last := len(g.spans) - 1; {
		case h.Rises > 0 && depth == 1:
			lo, floor = h.Z, h.Tri
			if last >= first && h.Z-g.spans[last].hi < touching*s.contact { // bodies that touch are one space
				lo, floor = g.spans[last].lo, g.spans[last].floor
				g.spans = g.spans[:last]
				g.overlapped = true
			}
		case h.Rises < 0 && depth == 0:
			if h.Z > lo {
				g.spans = append(g.spans, interval{column, lo, h.Z, floor, h.Tri})
			}
			lo = math.Inf(1)
		}
		if depth > 1 || depth < 0 {
			g.overlapped = true
			depth = max(depth, 0)
		}
	}
	if depth != 0 {
		g.overlapped = true
	}
}

// spansRound adds the stretches outside the part, from the floor to the open top.
func (s *Space) spansRound(column int32, hits []grid.Crossing) {
	g := &s.grid
	depth, lo, floor := int32(0), s.floor, onFloor
	for _, h := range hits {
		before := depth
		depth += h.Rises
		switch {
		case before == 0 && depth == 1:
			if h.Z > lo+s.contact {
				g.spans = append(g.spans, interval{column, lo, h.Z, floor, h.Tri})
			}
		case depth == 0 && h.Rises < 0:
			lo, floor = max(h.Z, s.floor), h.Tri
			if h.Z < s.floor {
				floor = onFloor
			}
		}
		if depth > 1 || depth < 0 {
			g.overlapped = true
			depth = max(depth, 0)
		}
	}
	if depth != 0 {
		g.overlapped = true
	}
	if s.top > lo {
		g.spans = append(g.spans, interval{column, lo, s.top, floor, openTop})
	}
}

// plan returns the centre of a stretch's column in the frame at height z.
func (s *Space) plan(i *interval, z float64) r3.Vec {
	x, y := s.grid.Centre(int(i.column))
	return r3.Vec{X: x, Y: y, Z: z}
}
