package mesh

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// shared is what bodies that run into one another have in common, counted as
// often as it is too many times in the sum of their volumes.
type shared struct {
	volume float64  // mm³
	err    float64  // mm³, bound
	pairs  [][2]int // of bodies, in order
}

const (
	sharedSide  = 384  // lines along a side of the region that is looked at
	sharedLeast = 1e-9 // share of the region below which it is rounding
	leastBound  = 1e-4 // share of what is shared that is not vouched for, whatever two lattices say
)

// sharedBy measures the volume that bodies share, along lines that run along
// none of the usual axes, so that no face lies along them and what a line
// counts changes steadily from one to the next. The bound is three times what
// a lattice of a quarter of the lines differs by.
func (m *Mesh) sharedBy(parts []*Mesh) shared {
	type frame struct{ u, v, w r3.Vec }
	w := r3.Unit(r3.Vec{X: 0.4142135623730951, Y: 0.3027756377319946, Z: 0.8585772081})
	u := r3.Unit(r3.Cross(r3.Vec{X: 0.2, Y: 0.9, Z: 0.1}, w))
	f := frame{u, r3.Cross(w, u), w}
	type rect struct{ x0, x1, y0, y1, z0, z1 float64 }
	inf := math.Inf(1)
	at := make([]r3.Vec, len(m.Vertices))
	for i, p := range m.Vertices {
		at[i] = r3.Vec{X: r3.Dot(f.u, p), Y: r3.Dot(f.v, p), Z: r3.Dot(f.w, p)}
	}
	rects := make([]rect, len(parts))
	boxes := make([]r3.Box, len(parts))
	for i, p := range parts {
		r := rect{inf, -inf, inf, -inf, inf, -inf}
		for _, t := range p.Triangles {
			for _, k := range t {
				q := at[k]
				r = rect{min(r.x0, q.X), max(r.x1, q.X), min(r.y0, q.Y), max(r.y1, q.Y), min(r.z0, q.Z), max(r.z1, q.Z)}
			}
		}
		rects[i], boxes[i] = r, p.usedBounds()
	}
	region := rect{inf, -inf, inf, -inf, 0, 0}
	involved := make([]bool, len(parts))
	for i := range parts {
		for j := i + 1; j < len(parts); j++ {
			a, b := rects[i], rects[j]
			x0, x1, y0, y1 := max(a.x0, b.x0), min(a.x1, b.x1), max(a.y0, b.y0), min(a.y1, b.y1)
			if x0 >= x1 || y0 >= y1 || a.z0 >= b.z1 || b.z0 >= a.z1 || apart(boxes[i], boxes[j]) {
				continue
			}
			involved[i], involved[j] = true, true
			region.x0, region.x1 = min(region.x0, x0), max(region.x1, x1)
			region.y0, region.y1 = min(region.y0, y0), max(region.y1, y1)
		}
	}
	var out shared
	if region.x0 >= region.x1 {
		return out
	}
	var tris []bodyTriangle
	for i, p := range parts {
		if involved[i] {
			for _, t := range p.Triangles {
				tris = append(tris, bodyTriangle{t, int32(i)})
			}
		}
	}
	const side = sharedSide
	hx, hy := (region.x1-region.x0)/side, (region.y1-region.y0)/side
	lines := raised(at, tris, region.x0, region.y0, hx, hy)
	pairs := make(map[[2]int]bool)
	var all, quarter float64
	for k, hits := range lines {
		over := excess(hits, pairs)
		all += over
		if (k/side+k%side)%2 == 0 {
			quarter += 2 * over
		}
	}
	out.volume = all * hx * hy
	if out.volume < sharedLeast*(region.x1-region.x0)*(region.y1-region.y0)*max(region.x1-region.x0, region.y1-region.y0) {
		return shared{}
	}
	out.err = max(3*math.Abs(all-quarter)*hx*hy, leastBound*out.volume)
	for p := range pairs {
		out.pairs = append(out.pairs, p)
	}
	slices.SortFunc(out.pairs, func(a, b [2]int) int { return cmp.Or(a[0]-b[0], a[1]-b[1]) })
	return out
}

func apart(a, b r3.Box) bool {
	return a.Max.X <= b.Min.X || b.Max.X <= a.Min.X || a.Max.Y <= b.Min.Y || b.Max.Y <= a.Min.Y || a.Max.Z <= b.Min.Z || b.Max.Z <= a.Min.Z
}

type bodyTriangle struct {
	tri  [3]int32
	body int32
}

type crossed struct {
	z    float64
	up   int32 // +1 where the line enters
	body int32
}

// excess is how much of a line lies in more bodies than one, as often as it
// does, and notes which.
func excess(hits []crossed, pairs map[[2]int]bool) (length float64) {
	if len(hits) < 4 {
		return 0
	}
	slices.SortFunc(hits, func(a, b crossed) int { return cmp.Or(cmp.Compare(a.z, b.z), int(b.up-a.up)) })
	var inside [8]int32 // bodies that the line is in
	n, depth := 0, int32(0)
	for k, h := range hits {
		if depth > 1 {
			length += float64(depth-1) * (h.z - hits[k-1].z)
		}
		depth += h.up
		if h.up > 0 {
			for i := range n {
				if a, b := int(inside[i]), int(h.body); a != b {
					pairs[[2]int{min(a, b), max(a, b)}] = true
				}
			}
			if n < len(inside) {
				inside[n] = h.body
				n++
			}
			continue
		}
		for i := range n {
			if inside[i] == h.body {
				inside[i] = inside[n-1]
				n--
				break
			}
		}
	}
	return length
}

// raised is what the lines of a lattice cross.
func raised(at []r3.Vec, tris []bodyTriangle, x0, y0, hx, hy float64) [][]crossed {
	const side = sharedSide
	lines := make([][]crossed, side*side)
	cell := func(v, low, h float64) int { return int(math.Floor(max(-1, min(side, (v-low)/h-0.5)))) }
	for _, t := range tris {
		c := [3]r3.Vec{at[t.tri[0]], at[t.tri[1]], at[t.tri[2]]}
		low, high := cell(min(c[0].Y, c[1].Y, c[2].Y), y0, hy), cell(max(c[0].Y, c[1].Y, c[2].Y), y0, hy)+1
		for j := max(0, low); j <= min(side-1, high); j++ {
			y := y0 + (float64(j)+0.5)*hy
			left, right := math.Inf(1), math.Inf(-1)
			for k := range 3 { // where the row runs through it
				p, q := c[k], c[(k+1)%3]
				if min(p.Y, q.Y) > y || max(p.Y, q.Y) < y {
					continue
				}
				x := p.X
				if q.Y != p.Y {
					x += (q.X - p.X) * (y - p.Y) / (q.Y - p.Y)
				} else {
					left, right = min(left, q.X), max(right, q.X)
				}
				left, right = min(left, x), max(right, x)
			}
			for i := max(0, cell(left, x0, hx)); i <= min(side-1, cell(right, x0, hx)+1); i++ {
				if z, up, ok := meetLine(at, t.tri, x0+(float64(i)+0.5)*hx, y); ok {
					lines[j*side+i] = append(lines[j*side+i], crossed{z, up, t.body})
				}
			}
		}
	}
	return lines
}

// meetLine is where the line at x, y crosses a triangle. Both triangles on an
// edge ask on which side of it the line is with the same rounding.
func meetLine(at []r3.Vec, t [3]int32, x, y float64) (z float64, up int32, ok bool) {
	side := func(i, j int32) bool {
		turned := j < i
		if turned {
			i, j = j, i
		}
		a, b := at[i], at[j]
		dx, dy := b.X-a.X, b.Y-a.Y
		c := dx*(y-a.Y) - dy*(x-a.X)
		if c == 0 { // on the edge or a vertex: as if a little to the right, and by far less up
			if c = -dy; c == 0 {
				c = dx
			}
		}
		return (c > 0) != turned
	}
	left := side(t[0], t[1])
	if side(t[1], t[2]) != left || side(t[2], t[0]) != left {
		return 0, 0, false
	}
	a, b, c := at[t[0]], at[t[1]], at[t[2]]
	ux, uy, vx, vy := b.X-a.X, b.Y-a.Y, c.X-a.X, c.Y-a.Y
	det := ux*vy - uy*vx
	if det == 0 {
		return 0, 0, false
	}
	px, py := x-a.X, y-a.Y
	z = a.Z + ((px*vy-py*vx)*(b.Z-a.Z)+(ux*py-uy*px)*(c.Z-a.Z))/det
	if left { // the surface faces along the line, which leaves
		return z, -1, true
	}
	return z, 1, true
}
