package draw

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bathyform/core/forest"
	"bathyform/core/grid"

	"gonum.org/v1/gonum/spatial/r3"
)

// spaces gathers the locked stretches into bodies: neighbouring columns whose
// stretches overlap belong together. Hollows without a way out are summed
// apart; no rubber gets there.
func (v *view) spaces(ctx context.Context) (out []Space, sealed float64, where *locked, err error) {
	where = &locked{frame: v.frame, cell: v.cols.Cell, x0: v.cols.X0, y0: v.cols.Y0, nx: v.cols.NX, ny: v.cols.NY}
	if len(v.gaps) == 0 {
		return nil, 0, where, nil
	}
	body := v.bodies()
	travel := v.travel(body)
	forms := v.forms(body)
	type sums struct{ volume, x, y, z, lo, hi float64 }
	all := make(map[int32]*sums)
	v.pieces(ctx, body, func(root int32, x, y, area float64, lo, hi float64) {
		b := all[root]
		if b == nil {
			b = &sums{lo: math.Inf(1), hi: math.Inf(-1)}
			all[root] = b
		}
		vol := area * (hi - lo)
		b.volume += vol
		b.x, b.y, b.z = b.x+vol*x, b.y+vol*y, b.z+vol*(lo+hi)/2
		b.lo, b.hi = min(b.lo, lo), max(b.hi, hi)
	})
	gapsOf := make(map[int32][]int32)
	for i, root := range body {
		gapsOf[root] = append(gapsOf[root], int32(i))
	}
	type found struct {
		Space
		root int32
		out  r3.Vec // in the frame
	}
	var list []found
	for root, b := range all {
		way, ok := travel[root]
		switch {
		case !ok:
			sealed += b.volume
		case way.depth > v.tolerance():
			s := Space{Volume: b.volume, Depth: way.depth, Opening: way.opening, Height: b.hi - b.lo, Lo: b.lo, Hi: b.hi,
				Centre:  v.frame.Out(r3.Vec{X: b.x / b.volume, Y: b.y / b.volume, Z: b.z / b.volume}),
				Deepest: v.frame.Out(way.deepest), Out: v.frame.Out(way.out), Form: forms[root]}
			list = append(list, found{s, root, way.out})
		}
	}
	slices.SortFunc(list, func(a, b found) int {
		return cmp.Or(
			cmp.Compare(b.Volume, a.Volume),
			cmp.Compare(a.Centre.X, b.Centre.X),
			cmp.Compare(a.Centre.Y, b.Centre.Y),
			cmp.Compare(a.Centre.Z, b.Centre.Z),
		)
	})
	index := make(map[int32]int32, len(list))
	for i, f := range list {
		if err := ctx.Err(); err != nil {
			return nil, 0, nil, err
		}
		if i < closely {
			f.leaving(v, gapsOf[f.root], f.out)
		}
		out = append(out, f.Space)
		index[f.root] = int32(i)
	}
	where.take(v, body, index)
	return out, sealed, where, ctx.Err()
}

// closely is how many spaces, the largest, are followed on their way out. Of
// more, such as a sponge has, no way out is known: they are judged as if there
// were none.
const closely = 1000

// leaving finds how the rubber of a space comes free.
func (s *Space) leaving(v *view, gaps []int32, out r3.Vec) {
	hints := []r3.Vec{out}
	for _, m := range s.Mouths {
		hints = append(hints, m.facing)
	}
	s.Leave = v.leave(gaps, s.Mouths, hints)
	if s.Round() || s.Bored() {
		s.Up, s.Down = v.passes(gaps, s.Bored())
	}
}

// locked remembers which place lies in which of the spaces.
type locked struct {
	frame  grid.Frame
	cell   float64
	x0, y0 float64
	nx, ny int
	start  []int32
	spans  []span // of column c are spans[start[c]:start[c+1]]
}

// span is a locked stretch of a column and the space that it belongs to, -1
// for a hollow that no rubber reaches.
type span struct {
	space  int32
	lo, hi float64
}

func (l *locked) take(v *view, body []int32, index map[int32]int32) {
	l.start = v.start
	l.spans = make([]span, len(v.gaps))
	for i, g := range v.gaps {
		l.spans[i] = span{-1, g.lo, g.hi}
		if at, ok := index[body[i]]; ok {
			l.spans[i].space = at
		}
	}
}

// SpaceAt returns the index of the space that a place of the part's frame
// lies in, good to a cell across the draw; -1 for none.
func (a Analysis) SpaceAt(q r3.Vec) int {
	l := a.locked
	cx, cy := int(math.Floor((q.X-l.x0)/l.cell)), int(math.Floor((q.Y-l.y0)/l.cell))
	look := func(x, y int) int {
		if len(l.start) == 0 || x < 0 || y < 0 || x >= l.nx || y >= l.ny {
			return -1
		}
		c := y*l.nx + x
		for _, s := range l.spans[l.start[c]:l.start[c+1]] {
			if q.Z >= s.lo && q.Z <= s.hi && s.space >= 0 {
				return int(s.space)
			}
		}
		return -1
	}
	if at := look(cx, cy); at >= 0 {
		return at
	}
	for _, d := range around {
		if at := look(cx+d[0], cy+d[1]); at >= 0 {
			return at
		}
	}
	return -1
}

// finer is how many lines are drawn through a column that the edge of a body
// runs through.
const finer = 16

// pieces calls f for upright prisms that together fill the bodies: whole
// columns inside them, and where their edge runs through a column, a finer
// lattice of lines (a Kronecker lattice, so that edges along the grid are
// resolved as well as others). It leaves off when ctx ends.
func (v *view) pieces(ctx context.Context, body []int32, f func(root int32, x, y, area, lo, hi float64)) {
	g := v.cols
	whole := g.Cell * g.Cell
	for c := range g.NX * g.NY {
		if c%g.NX == 0 && ctx.Err() != nil {
			return
		}
		root, edge := v.edgeColumn(c, body)
		if !edge {
			for i := v.start[c]; i < v.start[c+1]; i++ {
				x, y := g.Centre(c)
				f(body[i], x, y, whole, v.gaps[i].lo, v.gaps[i].hi)
			}
			continue
		}
		cx, cy := g.Centre(c)
		for k := range finer {
			_, shift := math.Modf((float64(k) + 0.5) * (math.Sqrt(5) - 1) / 2)
			x, y := cx+((float64(k)+0.5)/finer-0.5)*g.Cell, cy+(shift-0.5)*g.Cell
			v.gapsAt(x, y, func(lo, hi float64) {
				if r := root(lo, hi); r >= 0 {
					f(r, x, y, whole/finer, lo, hi)
				}
			})
		}
	}
}

// edgeColumn tells whether the edge of a body runs through a column, and
// which body a locked stretch in it belongs to.
func (v *view) edgeColumn(c int, body []int32) (root func(lo, hi float64) int32, edge bool) {
	g := v.cols
	x, y := c%g.NX, c/g.NX
	near := [9]int{c}
	n := 1
	for _, d := range around {
		if nx, ny := x+d[0], y+d[1]; nx >= 0 && ny >= 0 && nx < g.NX && ny < g.NY {
			near[n] = ny*g.NX + nx
			n++
		}
	}
	mine := v.gaps[v.start[c]:v.start[c+1]]
	edge = n < len(near) && len(mine) > 0 // at the rim of the grid
	for _, o := range near[1:n] {
		theirs := v.gaps[v.start[o]:v.start[o+1]]
		if edge = edge || len(mine) != len(theirs); edge {
			break
		}
		for i := range mine {
			edge = edge || min(mine[i].hi, theirs[i].hi) <= max(mine[i].lo, theirs[i].lo)
		}
		if edge {
			break
		}
	}
	return func(lo, hi float64) int32 {
		for _, o := range near[:n] {
			for i := v.start[o]; i < v.start[o+1]; i++ {
				if min(hi, v.gaps[i].hi) > max(lo, v.gaps[i].lo) {
					return body[i]
				}
			}
		}
		return -1
	}, edge
}

// bodies returns for each gap the index of one gap that stands for its body.
func (v *view) bodies() []int32 {
	joined := forest.New(len(v.gaps))
	g := v.cols
	for i := range v.gaps {
		a := &v.gaps[i]
		c := int(a.column)
		for _, n := range [2]int{c + 1, c + g.NX} {
			if n == c+1 && n%g.NX == 0 || n >= g.NX*g.NY {
				continue
			}
			for j := v.start[n]; j < v.start[n+1]; j++ {
				if b := &v.gaps[j]; min(a.hi, b.hi) > max(a.lo, b.lo) {
					joined.Join(int32(i), j)
				}
			}
		}
	}
	return joined.Roots()
}
