package pieces

import (
	"math"

	"bathyform/core/key"

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
	Line   float64   // length of the parting line, climbs included, mm
	Holes  bool      // the part has holes through it
	Open   float64   // share of the line that runs across a wall instead of along an edge
	keys   []key.Key

	missing []int // pulls that the line cannot follow
}

// Seam is where the parting line runs on walls along the draw.
type Seam string

// The seams that casters choose between.
const (
	Flattest Seam = ""       // nearest to one level
	TopEdge  Seam = "top"    // along the upper edge of every wall, where trimming hides
	LowEdge  Seam = "bottom" // along the lower edge
	MidWall  Seam = "half"   // half way: where a plug in a hole is usually set
)

// Seams in the order they are compared.
var Seams = []Seam{Flattest, TopEdge, LowEdge}

// rim is a column at the part's edge: the line may run anywhere from lo to hi.
type rim struct {
	column int
	lo, hi float64
	hole   bool // at the edge of a hole through the part
}

// flatCells is how far, in cells, an outline may leave its level and still
// count as level: no lattice can tell.
const flatCells = 0.2

// rounds bounds the relaxation of the sheet.
const rounds = 500

// stretch lays the sheet: level at a height if the outline allows it there,
// else through the outline, smooth between and level at the wall of the box
// (Laplace's equation, relaxed).
func stretch(b *block, level float64, seam, holes Seam, pulls []Pull) *sheet {
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
	open := b.openPlan()
	for j := 1; j < b.NY-1; j++ {
		for i := 1; i < b.NX-1; i++ {
			c := j*b.NX + i
			lo, hi, ok := span(c)
			if !ok {
				continue
			}
			free, outer := 0, 0
			for _, o := range [4]int{c - 1, c + 1, c - b.NX, c + b.NX} {
				if len(b.lines[2][o]) == 0 {
					free++
					if open[o] {
						outer++
					}
				}
			}
			if free > 0 {
				rims = append(rims, rim{c, lo, hi, outer == 0})
				sides += free
			}
		}
	}
	s.Line = float64(sides) * b.Cell * math.Pi / 4 // seen along the draw
	s.Level = level
	settled(rims, level, b.NX)
	fixed := make([]bool, len(s.height))
	for i := range s.height {
		s.height[i] = s.Level
	}
	heights := make([]float64, len(rims))
	for i, r := range rims {
		keep := min((r.hi-r.lo)*0.1, b.Cell)
		heights[i] = max(r.lo+keep, min(r.hi-keep, s.Level))
		if math.Abs(heights[i]-s.Level) < flatCells*b.Cell {
			heights[i] = s.Level
		}
		where := seam
		if r.hole && holes != Flattest {
			where = holes
			s.Holes = true
		}
		s.Holes = s.Holes || r.hole
		switch where {
		case TopEdge:
			heights[i] = r.hi - keep
		case LowEdge:
			heights[i] = r.lo + keep
		case MidWall:
			heights[i] = (r.lo + r.hi) / 2
		}
	}
	for i, p := range pulls {
		if !s.pull(rims, heights, p) {
			s.missing = append(s.missing, i)
		}
	}
	for i, r := range rims {
		s.height[r.column], fixed[r.column] = heights[i], true
		s.Off = max(s.Off, math.Abs(heights[i]-s.Level))
	}
	s.trace(rims)
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
	h := (1-fy)*((1-fx)*s.height[c]+fx*s.height[c+1]) + fy*((1-fx)*s.height[c+s.NX]+fx*s.height[c+s.NX+1])
	for _, k := range s.keys {
		if k.Kind == key.Bevel || max(math.Abs(p.X-k.X), math.Abs(p.Y-k.Y)) < k.Reach() {
			h += k.Rise(p.X, p.Y)
		}
	}
	return h
}

// side is how far a place lies on the lower half's side of the parting,
// negative on the upper half's: the sheet, and the strips that stand on it.
func (s *sheet) side(p r3.Vec) float64 {
	over := p.Z - s.at(p)
	f := -over
	for _, k := range s.keys {
		if k.Kind == key.Strip && over > 0 && max(math.Abs(p.X-k.X), math.Abs(p.Y-k.Y)) < k.Reach() {
			f = max(f, -k.Beyond(p.X, p.Y, over))
		}
	}
	return f
}

// snapped reports whether a place lies in a strip, from which rubber is pulled
// off with a snap.
func (s *sheet) snapped(p r3.Vec) bool { return p.Z > s.at(p) && s.side(p) > 0 }

// trace lengthens the line by what it climbs, and measures how much of it
// crosses walls, where a seam shows.
func (s *sheet) trace(rims []rim) {
	at := make(map[int]float64, len(rims))
	for _, r := range rims {
		at[r.column] = s.height[r.column]
	}
	climb, pairs, open := 0.0, 0, 0
	for _, r := range rims {
		for _, step := range [4]int{1, s.NX, s.NX + 1, s.NX - 1} {
			if h, ok := at[r.column+step]; ok {
				run := s.Cell
				if step != 1 && step != s.NX {
					run *= math.Sqrt2
				}
				climb += math.Hypot(run, h-at[r.column]) / run
				pairs++
			}
		}
		if h := at[r.column]; min(h-r.lo, r.hi-h) > edgeCells*s.Cell {
			open++
		}
	}
	if pairs > 0 {
		s.Line *= climb / float64(pairs)
		s.Open = float64(open) / float64(len(rims))
	}
}

// openPlan marks the columns beside the part that are reached from the wall:
// what is left lies in holes.
func (b *block) openPlan() []bool {
	open := make([]bool, b.NX*b.NY)
	queue := []int{0}
	open[0] = true
	for n := 0; n < len(queue); n++ {
		c := queue[n]
		i, j := c%b.NX, c/b.NX
		for _, o := range [4][2]int{{i - 1, j}, {i + 1, j}, {i, j - 1}, {i, j + 1}} {
			if o[0] < 0 || o[1] < 0 || o[0] >= b.NX || o[1] >= b.NY {
				continue
			}
			if p := o[1]*b.NX + o[0]; !open[p] && len(b.lines[2][p]) == 0 {
				open[p] = true
				queue = append(queue, p)
			}
		}
	}
	return open
}

// edgeCells is how near, in cells, the line must be to a wall's edge to hide in it.
const edgeCells = 1.5

// room is the plan with what keys must stay clear of: part, side pieces, and
// where the parting is too steep to press a key into.
func (d *division) room(spots []key.Spot) key.Room {
	taken := make([]bool, d.NX*d.NY)
	open := d.openPlan() // no key stands in a hole through the part
	for j := range d.NY {
		for i := range d.NX {
			c := j*d.NX + i
			at := d.At(i, j, 0)
			at.Z = d.sheet.height[c]
			taken[c] = !open[c] || d.bent() && d.beyond(at) > 0
			for n := range d.sides {
				taken[c] = taken[c] || d.sides[n].depth(at) < 0
			}
			if i+1 < d.NX && j+1 < d.NY {
				slope := math.Hypot(d.sheet.height[c+1]-d.sheet.height[c], d.sheet.height[c+d.NX]-d.sheet.height[c]) / d.Cell
				taken[c] = taken[c] || slope > keySlope
			}
		}
	}
	room := key.Clearing(d.Low.X, d.Low.Y, d.Cell, d.NX, d.NY, taken, [4]float64{d.box.Min.X, d.box.Max.X, d.box.Min.Y, d.box.Max.Y}, spots)
	room.Bent = d.bent()
	return room
}

// bent reports whether the box is no block.
func (b *block) bent() bool { return len(b.walls) > 0 || b.region != nil }

// keySlope is the steepest parting, as a tangent, that a key is pressed into.
// Common practice, no source.
const keySlope = 0.5

// settled lets the line keep its level at single columns of a wall where it
// does so on both sides: at the very edge of a wall a column may meet no more
// of it than a facet that stands out.
func settled(rims []rim, level float64, nx int) {
	at := make(map[int]rim, len(rims))
	for _, r := range rims {
		at[r.column] = r
	}
	holds := func(r rim) bool { return r.lo <= level && level <= r.hi }
	for i, r := range rims {
		if holds(r) {
			continue
		}
		beside := 0
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				if o, ok := at[r.column+dy*nx+dx]; ok && (dx != 0 || dy != 0) && holds(o) {
					beside++
				}
			}
		}
		if beside >= 2 {
			rims[i].lo, rims[i].hi = min(r.lo, level), max(r.hi, level)
		}
	}
}

// asGood is the share of the outline's own height by which a level may be
// further from it on the average and still count as near: facets of a wall
// stand out here and there.
const asGood = 1e-3

// nearestLevel is the height with the least mean distance to all rims: the
// preferred one where it is as good as any, which near reports; else the
// middle of those that are equally good, and so where they are closer than
// the preferred one is known.
func nearestLevel(rims []rim, prefer, known float64) (z float64, near bool) {
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
	first, last := reach(lo), reach(hi)
	near = away(prefer) <= limit+asGood*(hi-lo)
	if near && last-first > known {
		return prefer, true
	}
	return (first + last) / 2, near
}
