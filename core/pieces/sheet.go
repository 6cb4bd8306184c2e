package pieces

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// sheet is the parting surface as a height along the draw over the plan of
// the box. A height over the plan cannot lock along the draw, so halves that
// it parts always come apart.
type sheet struct {
	*block
	height []float64 // by j*NX+i
	Level  float64   // of the plane that it keeps to where it can
	Off    float64   // greatest distance of the parting line from that plane, mm
	Steep  float64   // greatest slope outside the part, as a tangent
	Line   float64   // length of the parting line seen along the draw, mm
}

// rim is a column at the part's edge: the line may run anywhere from lo to hi.
type rim struct {
	column int
	lo, hi float64
}

// rounds bounds the relaxation of the sheet.
const rounds = 500

// stretch lays the sheet: level at a height if the outline allows it there,
// else through the outline, smooth between and level at the wall of the box
// (Laplace's equation, relaxed). A nil level takes the one nearest to the
// whole outline.
func stretch(b *block, level *float64) *sheet {
	s := &sheet{block: b, height: make([]float64, b.NX*b.NY)}
	span := func(c int) (lo, hi float64, ok bool) {
		line := b.lines[2][c]
		if len(line) == 0 {
			return 0, 0, false
		}
		return line[0].at, line[len(line)-1].at, true
	}
	var rims []rim
	sides := 0
	for j := 1; j < b.NY-1; j++ {
		for i := 1; i < b.NX-1; i++ {
			c := j*b.NX + i
			lo, hi, ok := span(c)
			if !ok {
				continue
			}
			free := 0
			for _, o := range [4]int{c - 1, c + 1, c - b.NX, c + b.NX} {
				if len(b.lines[2][o]) == 0 {
					free++
				}
			}
			if free > 0 {
				rims = append(rims, rim{c, lo, hi})
				sides += free
			}
		}
	}
	s.Line = float64(sides) * b.Cell * math.Pi / 4
	s.Level = levelOf(rims)
	if level != nil {
		s.Level = *level
	}
	fixed := make([]bool, len(s.height))
	for i := range s.height {
		s.height[i] = s.Level
	}
	for _, r := range rims {
		keep := min((r.hi-r.lo)*0.1, b.Cell)
		h := max(r.lo+keep, min(r.hi-keep, s.Level))
		s.height[r.column], fixed[r.column] = h, true
		s.Off = max(s.Off, math.Abs(h-s.Level))
	}
	if s.Off < 1e-6 {
		s.Off = 0
		return s
	}
	s.relax(fixed)
	// inside the part's shadow the sheet stays within the part, so that what lies over it belongs to the upper half
	for c := range s.height {
		if lo, hi, ok := span(c); ok {
			s.height[c] = max(lo, min(hi, s.height[c]))
		}
	}
	for j := 1; j < b.NY-1; j++ {
		for i := 1; i < b.NX-1; i++ {
			c := j*b.NX + i
			if len(b.lines[2][c]) > 0 || len(b.lines[2][c+1]) > 0 || len(b.lines[2][c+b.NX]) > 0 {
				continue
			}
			s.Steep = max(s.Steep, math.Hypot(s.height[c+1]-s.height[c], s.height[c+b.NX]-s.height[c])/b.Cell)
		}
	}
	return s
}

func (s *sheet) relax(fixed []bool) {
	nx, ny := s.NX, s.NY
	over := 2 / (1 + math.Sin(math.Pi/float64(max(nx, ny))))
	for range rounds {
		most := 0.0
		for j := range ny {
			for i := range nx {
				c := j*nx + i
				if fixed[c] {
					continue
				}
				// a missing neighbour mirrors the one opposite: level at the wall
				l, r, d, u := c-1, c+1, c-nx, c+nx
				if i == 0 {
					l = r
				}
				if i == nx-1 {
					r = l
				}
				if j == 0 {
					d = u
				}
				if j == ny-1 {
					u = d
				}
				change := (s.height[l]+s.height[r]+s.height[d]+s.height[u])/4 - s.height[c]
				s.height[c] += over * change
				most = max(most, math.Abs(change))
			}
		}
		if most < 1e-4*s.Cell {
			return
		}
	}
}

// at is the sheet's height over a place.
func (s *sheet) at(p r3.Vec) float64 {
	x, y := (p.X-s.Low.X)/s.Cell, (p.Y-s.Low.Y)/s.Cell
	i, j := max(0, min(int(x), s.NX-2)), max(0, min(int(y), s.NY-2))
	fx, fy := max(0, min(1, x-float64(i))), max(0, min(1, y-float64(j)))
	c := j*s.NX + i
	return (1-fy)*((1-fx)*s.height[c]+fx*s.height[c+1]) + fy*((1-fx)*s.height[c+s.NX]+fx*s.height[c+s.NX+1])
}

// levelOf is the height with the least mean distance to all rims: the middle
// of those that are equally good.
func levelOf(rims []rim) float64 {
	if len(rims) == 0 {
		return 0
	}
	away := func(z float64) (sum float64) {
		for _, r := range rims {
			sum += max(0, r.lo-z, z-r.hi)
		}
		return sum / float64(len(rims))
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, r := range rims {
		lo, hi = min(lo, r.lo), max(hi, r.hi)
	}
	low, high := lo, hi
	for range 80 {
		a, b := low+(high-low)/3, high-(high-low)/3
		if away(a) <= away(b) {
			high = b
		} else {
			low = a
		}
	}
	best := (low + high) / 2
	limit := away(best) + 1e-9*(hi-lo)
	reach := func(to float64) float64 {
		from := best
		for range 60 {
			if mid := (from + to) / 2; away(mid) <= limit {
				from = mid
			} else {
				to = mid
			}
		}
		return from
	}
	return (reach(lo) + reach(hi)) / 2
}
