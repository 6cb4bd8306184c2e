package fill

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Locked is how much rubber a level parting at height level shuts under the
// part, in mm³: upper is rubber over the parting with part above it, which
// holds the upper half when it is drawn up; lower the like for the lower
// half. Good to a cell. The space must be a cavity.
func (s *Space) Locked(level float64) (upper, lower float64) {
	g := &s.grid
	for c := range g.NX * g.NY {
		spans := g.spans[g.start[c]:g.start[c+1]]
		for i := range spans {
			if i == 0 {
				upper += max(0, spans[0].lo-level)
			} else {
				upper += max(0, spans[i].lo-max(level, spans[i-1].hi))
			}
			if i == len(spans)-1 {
				lower += max(0, level-spans[i].hi)
			} else {
				lower += max(0, min(level, spans[i+1].lo)-spans[i].hi)
			}
		}
	}
	area := g.Cell * g.Cell
	return upper * area, lower * area
}

// LevelCeiling returns the plan area in mm² of the ceiling that is level with
// a height, to within a twentieth of a millimetre. Good to a cell.
func (s *Space) LevelCeiling(height float64) float64 {
	n := 0
	for i := range s.grid.spans {
		if d := s.grid.spans[i].hi - height; d > -0.05 && d < 0.05 {
			n++
		}
	}
	return float64(n) * s.grid.Cell * s.grid.Cell
}

// Lowest returns the floor points of the cavity within reach mm of its lowest
// point round which a mouth of a bore has its whole rim over such floor, in the
// frame, one a column; all such floor points where there is no room for it.
func (s *Space) Lowest(reach, bore float64) []r3.Vec {
	g, low := &s.grid, s.Low()
	floor := make([]bool, g.NX*g.NY)
	var all []r3.Vec
	for i := range g.spans {
		if span := &g.spans[i]; span.lo <= low+reach {
			floor[span.column] = true
			all = append(all, s.plan(span, span.lo))
		}
	}
	const rim = 8
	var round [rim][2]float64
	for k := range round {
		sin, cos := math.Sincos(2 * math.Pi * float64(k) / rim)
		round[k] = [2]float64{bore / 2 * cos, bore / 2 * sin}
	}
	var out []r3.Vec
	for _, p := range all {
		whole := true
		for k := 0; k < rim && whole; k++ {
			x, y := p.X+round[k][0], p.Y+round[k][1]
			whole = g.Spans(x, y) && floor[g.ColumnAt(x, y)]
		}
		if whole {
			out = append(out, p)
		}
	}
	if len(out) == 0 {
		return all
	}
	return out
}

// Over returns the lowest height of the space straight over a place of the
// mesh, in the frame, if any of it lies there with something between. Good to
// a column.
func (s *Space) Over(at r3.Vec) (low float64, ok bool) {
	g, p := &s.grid, s.Frame.In(at)
	if !g.Spans(p.X, p.Y) {
		return 0, false
	}
	c := g.ColumnAt(p.X, p.Y)
	for j := g.start[c]; j < g.start[c+1]; j++ {
		if span := &g.spans[j]; span.lo > p.Z+g.Cell {
			return span.lo, true
		}
	}
	return 0, false
}
