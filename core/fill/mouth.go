package fill

import (
	"fmt"
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// OutsideError says that a channel was put where there is nothing to open.
type OutsideError struct{ Distance float64 }

func (e OutsideError) Error() string {
	return fmt.Sprintf("it lies outside the part, %.3g mm from its surface; put it on the surface", e.Distance)
}

// mouth finds the places that a channel opens: everything that its cylinder
// touches from its foot upwards, each at the highest height it is touched.
func (s *Space) mouth(o Opening) ([]opening, error) {
	if !(o.Bore > 0) || math.IsInf(o.Bore, 0) {
		return nil, fmt.Errorf("its bore must be more than 0, not %g mm", o.Bore)
	}
	foot, near, err := s.foot(o)
	if err != nil {
		return nil, err
	}
	if !s.exact {
		return s.mouthColumns(o, foot), nil
	}
	var open []opening
	r := o.Bore / 2
	level := foot.Z - s.contact
	s.eachUnder(foot.X, foot.Y, r, func(t int32) {
		z, touched := s.highestInDisc(t, foot.X, foot.Y, r)
		if touched && (z >= level || t == near) {
			open = append(open, opening{s.ceiling[t], z})
		}
	})
	return open, nil
}

func (s *Space) mouthColumns(o Opening, foot r3.Vec) []opening {
	g := &s.grid
	r := max(o.Bore/2, 0.8*g.Cell) // at least one column centre
	level := foot.Z - g.Cell
	var open []opening
	for i := range g.spans {
		span := &g.spans[i]
		x, y := g.Centre(int(span.column))
		if math.Hypot(x-foot.X, y-foot.Y) <= r && span.hi >= level {
			open = append(open, opening{int32(i), span.hi})
		}
	}
	return open
}

// Foot returns where on the surface a channel starts, in mesh coordinates:
// the nearest point of the surface to a point near it, or straight above a
// point inside the space.
func (s *Space) Foot(o Opening) (r3.Vec, error) {
	foot, _, err := s.foot(o)
	if err != nil {
		return r3.Vec{}, err
	}
	return s.Frame.Out(foot), nil
}

// foot works in the frame and also gives the triangle, -1 for a point that
// is well inside.
func (s *Space) foot(o Opening) (r3.Vec, int32, error) {
	if math.IsNaN(o.At.X+o.At.Y+o.At.Z) || math.IsInf(o.At.X+o.At.Y+o.At.Z, 0) {
		return r3.Vec{}, -1, fmt.Errorf("its place is not made of finite numbers")
	}
	p := s.Frame.In(o.At)
	q, tri, dist := s.nearest(p)
	reach := max(o.Bore/2, s.grid.Cell)
	if dist <= reach {
		return q, tri, nil
	}
	if ceiling, ok := s.above(p); ok {
		return ceiling, -1, nil
	}
	return r3.Vec{}, -1, OutsideError{dist}
}

// above returns the ceiling straight above a point in the space.
func (s *Space) above(p r3.Vec) (r3.Vec, bool) {
	g := &s.grid
	if p.X < g.X0 || p.Y < g.Y0 || p.X > g.X0+float64(g.NX)*g.Cell || p.Y > g.Y0+float64(g.NY)*g.Cell {
		return p, false
	}
	c := g.CellY(p.Y)*g.NX + g.CellX(p.X)
	var hits []grid.Crossing
	for _, t := range g.Over(c) {
		hits = g.Meet(t, p.X, p.Y, hits)
	}
	grid.SortCrossings(hits)
	for _, h := range hits {
		if h.Z >= p.Z {
			return r3.Vec{X: p.X, Y: p.Y, Z: h.Z}, s.plans[h.Tri] > 0
		}
	}
	return p, false
}

// eachUnder calls f once for every triangle filed within r of x, y.
func (s *Space) eachUnder(x, y, r float64, f func(t int32)) {
	g := &s.grid
	x0, x1, y0, y1 := g.CellX(x-r), g.CellX(x+r), g.CellY(y-r), g.CellY(y+r)
	seen := make(map[int32]bool)
	for cy := y0; cy <= y1; cy++ {
		for cx := x0; cx <= x1; cx++ {
			c := cy*g.NX + cx
			for _, t := range g.Over(c) {
				if !seen[t] {
					seen[t] = true
					f(t)
				}
			}
		}
	}
}

// highestInDisc returns the greatest height of triangle t within the upright
// cylinder of radius r about x, y.
func (s *Space) highestInDisc(t int32, x, y, r float64) (float64, bool) {
	tri := s.tris[t]
	p := [3]r3.Vec{s.at[tri[0]], s.at[tri[1]], s.at[tri[2]]}
	best, touched := math.Inf(-1), false
	take := func(z float64) { best, touched = max(best, z), true }
	for k := range p {
		a, b := p[k], p[(k+1)%3]
		if math.Hypot(a.X-x, a.Y-y) <= r {
			take(a.Z)
		}
		// where the side enters and leaves the cylinder
		dx, dy := b.X-a.X, b.Y-a.Y
		qa, qb, qc := dx*dx+dy*dy, dx*(a.X-x)+dy*(a.Y-y), (a.X-x)*(a.X-x)+(a.Y-y)*(a.Y-y)-r*r
		if disc := qb*qb - qa*qc; qa > 0 && disc >= 0 {
			root := math.Sqrt(disc)
			for _, f := range [2]float64{(-qb - root) / qa, (-qb + root) / qa} {
				if f >= 0 && f <= 1 {
					take(a.Z + f*(b.Z-a.Z))
				}
			}
		}
	}
	// the cylinder's own highest point on the triangle's plane
	n := r3.Cross(r3.Sub(p[1], p[0]), r3.Sub(p[2], p[0]))
	slope := math.Hypot(n.X, n.Y)
	if n.Z != 0 {
		gx, gy := 0.0, 0.0
		if slope > 0 {
			sign := math.Copysign(1, n.Z)
			gx, gy = -sign*n.X/slope*r, -sign*n.Y/slope*r
		}
		for _, at := range [2][2]float64{{x + gx, y + gy}, {x, y}} {
			if insidePlan(p, at[0], at[1]) {
				take(p[0].Z - (n.X*(at[0]-p[0].X)+n.Y*(at[1]-p[0].Y))/n.Z)
			}
		}
	}
	return best, touched
}

func insidePlan(p [3]r3.Vec, x, y float64) bool {
	var pos, neg bool
	for k := range p {
		a, b := p[k], p[(k+1)%3]
		c := (b.X-a.X)*(y-a.Y) - (b.Y-a.Y)*(x-a.X)
		pos, neg = pos || c > 0, neg || c < 0
	}
	return !(pos && neg)
}

// nearest returns the point of the surface nearest to p, looking outwards in
// plan ring by ring.
func (s *Space) nearest(p r3.Vec) (best r3.Vec, tri int32, dist float64) {
	g := &s.grid
	cx, cy := g.CellX(p.X), g.CellY(p.Y)
	tri, dist = -1, math.Inf(1)
	look := func(x, y int) {
		if x < 0 || y < 0 || x >= g.NX || y >= g.NY {
			return
		}
		c := y*g.NX + x
		for _, t := range g.Over(c) {
			k := s.tris[t]
			q := mesh.NearestOnTriangle(p, s.at[k[0]], s.at[k[1]], s.at[k[2]])
			if d := r3.Norm(r3.Sub(p, q)); d < dist {
				best, tri, dist = q, t, d
			}
		}
	}
	for ring := 0; ring <= max(g.NX, g.NY); ring++ {
		if float64(ring-1)*g.Cell > dist {
			break
		}
		for i := -ring; i <= ring; i++ {
			look(cx+i, cy-ring)
			if ring > 0 {
				look(cx+i, cy+ring)
			}
			if i > -ring && i < ring {
				look(cx-ring, cy+i)
				look(cx+ring, cy+i)
			}
		}
	}
	return best, tri, dist
}
