package draw

import (
	"math"

	"bathyform/core/plane"
)

// Pass is what the rubber of a collar has to pass on its way off.
type Pass struct {
	Mouth  float64 // perimeter of the part where the rubber lies round it tightest, mm
	Widest float64 // the greatest perimeter that passes through, mm; infinite where the part closes the way
	At     float64 // height of the widest along the draw, in the frame, mm
}

// Stretch is by how much the rubber is stretched, of its own length.
func (p Pass) Stretch() float64 {
	if !(p.Mouth > 0) {
		return 0
	}
	return max(0, p.Widest/p.Mouth-1)
}

// Levels at which a collar is measured: in the body, and from there to either
// end of the part.
const (
	levelsIn  = 16
	levelsOut = 40
)

// passes measures what a body that lies round the part, or round a bore of
// it, has to pass when it leaves along the draw with the upper half, and
// against it with the lower. Perimeters are those of the hull: rubber does
// not follow a hollow that it is stretched over.
func (v *view) passes(gaps []int32, bored bool) (up, down Pass) {
	body := v.maskOf(gaps)
	r := &ringed{view: v, mask: body.filled(), bored: bored, stamp: make([]int32, v.cols.NX*v.cols.NY)}
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, i := range gaps {
		lo, hi = min(lo, v.gaps[i].lo), max(hi, v.gaps[i].hi)
	}
	spread := func(a, b float64, n int) {
		for i := range n {
			r.zs = append(r.zs, a+(b-a)*(float64(i)+0.5)/float64(n))
		}
	}
	spread(v.low, lo, levelsOut)
	spread(lo, hi, levelsIn)
	spread(hi, v.high, levelsOut)
	r.rough = make([]float64, len(r.zs))
	for i, z := range r.zs {
		r.rough[i] = r.about(z)
	}
	if bored {
		p := r.flange(body)
		return p, p
	}
	return r.pass(1), r.pass(-1)
}

// ringed is a body that lies round the part or round a bore of it.
type ringed struct {
	*view
	mask  mask // with its holes filled
	bored bool
	zs    []float64
	rough []float64 // perimeter at each of zs, good to a cell
	stamp []int32   // of each column: the last section that held it
	turn  int32
	queue []int32
}

// flange is what lies round a bore of the part: it has to pass out through
// the bore, of which seen along the draw no more is open than the hole in the
// body.
func (r *ringed) flange(body mask) Pass {
	var hole, all []plane.Point
	for i, in := range r.mask.in {
		if !in {
			continue
		}
		p := plane.Point{float64(i%body.nx) * r.cols.Cell, float64(i/body.nx) * r.cols.Cell}
		all = append(all, p)
		if !body.in[i] {
			hole = append(hole, p)
		}
	}
	rim := math.Pi * r.cols.Cell
	out := Pass{Mouth: plane.Perimeter(plane.Hull(hole)) + rim, At: r.zs[levelsOut]}
	for i := levelsOut; i < levelsOut+levelsIn; i++ {
		if p := r.rough[i]; !math.IsInf(p, 1) && p > out.Widest {
			out.Widest, out.At = r.exact(i), r.zs[i]
		}
	}
	if out.Widest == 0 { // open at the side at every level
		out.Widest = plane.Perimeter(plane.Hull(all)) + rim
	}
	return out
}

// pass finds the pair of levels, one in the body and one on its way to an
// end, that strains the rubber most.
func (r *ringed) pass(step int) Pass {
	worst, from, to := 0.0, -1, -1
	for i := levelsOut; i < levelsOut+levelsIn; i++ {
		if r.rough[i] <= 0 || math.IsInf(r.rough[i], 1) {
			continue
		}
		for j := i + step; j >= 0 && j < len(r.zs); j += step {
			ratio := r.rough[j] / r.rough[i]
			if ratio > worst {
				worst, from, to = ratio, i, j
			}
		}
	}
	switch {
	case from < 0:
		return Pass{}
	case math.IsInf(worst, 1):
		return Pass{Mouth: r.exact(from), Widest: math.Inf(1), At: r.zs[to]}
	}
	return Pass{Mouth: r.exact(from), Widest: r.exact(to), At: r.zs[to]}
}

// about is roughly the perimeter of the hull of the section at a height: of
// the part as far as it reaches into the mask, or of the bore in it. A bore
// that is open at the side is infinitely wide.
func (r *ringed) about(z float64) float64 {
	g := r.cols
	holds := func(c int) bool {
		solid := z >= r.first[c] && z <= r.last[c] && !r.hollow(c, z)
		return solid != r.bored
	}
	r.turn++
	r.queue = r.queue[:0]
	for i, in := range r.mask.in {
		x, y := i%r.mask.nx+r.mask.x0, i/r.mask.nx+r.mask.y0
		if !in || x < 0 || y < 0 || x >= g.NX || y >= g.NY {
			continue
		}
		if c := y*g.NX + x; holds(c) {
			r.stamp[c] = r.turn
			r.queue = append(r.queue, int32(c))
		}
	}
	for n := 0; n < len(r.queue); n++ {
		x, y := int(r.queue[n])%g.NX, int(r.queue[n])/g.NX
		for _, d := range around[:4] {
			nx, ny := x+d[0], y+d[1]
			if nx < 0 || ny < 0 || nx >= g.NX || ny >= g.NY {
				if r.bored {
					return math.Inf(1)
				}
				continue
			}
			if q := ny*g.NX + nx; r.stamp[q] != r.turn && holds(q) {
				r.stamp[q] = r.turn
				r.queue = append(r.queue, int32(q))
			}
		}
	}
	if len(r.queue) == 0 {
		return 0
	}
	ends := make(map[int32][2]int32) // of each row: the hull needs no more
	for _, c := range r.queue {
		x, y := c%int32(g.NX), c/int32(g.NX)
		e, ok := ends[y]
		if !ok {
			e = [2]int32{x, x}
		}
		ends[y] = [2]int32{min(e[0], x), max(e[1], x)}
	}
	points := make([]plane.Point, 0, 2*len(ends))
	for y, e := range ends {
		for _, x := range e {
			px, py := g.Centre(int(y)*g.NX + int(x))
			points = append(points, plane.Point{px, py})
		}
	}
	return plane.Perimeter(plane.Hull(points)) + math.Pi*g.Cell
}

// exact is the perimeter of the hull of the mesh's own section at one of the
// levels, where it runs through the columns of the section or beside them.
func (r *ringed) exact(level int) float64 {
	g, z := r.cols, r.zs[level]
	rough := r.about(z)
	if rough == 0 || math.IsInf(rough, 1) {
		return rough
	}
	near := func(x, y float64) bool {
		cx, cy := g.CellX(x), g.CellY(y)
		for ny := max(0, cy-1); ny <= min(g.NY-1, cy+1); ny++ {
			for nx := max(0, cx-1); nx <= min(g.NX-1, cx+1); nx++ {
				if r.stamp[ny*g.NX+nx] == r.turn {
					return true
				}
			}
		}
		return false
	}
	var points []plane.Point
	for _, t := range r.view.mesh.Triangles {
		for k := range 3 {
			a, b := r.at[t[k]], r.at[t[(k+1)%3]]
			if (a.Z > z) == (b.Z > z) {
				continue
			}
			s := (z - a.Z) / (b.Z - a.Z)
			if x, y := a.X+s*(b.X-a.X), a.Y+s*(b.Y-a.Y); near(x, y) {
				points = append(points, plane.Point{x, y})
			}
		}
	}
	if len(points) < 3 {
		return rough
	}
	return plane.Perimeter(plane.Hull(points))
}
