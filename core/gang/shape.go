package gang

import (
	"errors"
	"math"
	"slices"

	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Shape is a part as seen from above, about its middle.
type Shape struct {
	Ring   []plane.Point // mm, anticlockwise
	Round  bool          // a disc, as far as a caster can tell
	Radius float64       // of the smallest circle about the middle that holds it, mm
	Slack  float64       // mm by which the ring may be short of the part
	Height float64       // of the part, mm
	Area   float64       // mm² inside Ring
	At     plane.Point   // its middle, in the frame that it was seen in
	Convex []plane.Point // its convex hull, exact to the mesh, about the same middle
}

// What makes a shape; the cells go into its longest side.
const (
	cells    = 240
	hollow   = 0.985 // share of its hull that a shape fills, from which the hull stands for it
	roundest = 0.975 // of its radius, that a disc's hull keeps to
	corners  = 48    // at most, so that a search stays quick
)

// Seen takes the shape of a part standing with a direction up, in a frame
// with that direction as z. A shape with hardly a dent is its convex hull,
// exact to the mesh; one with dents is followed on a grid, Slack mm coarse.
func Seen(m *mesh.Mesh, up r3.Vec) (Shape, error) {
	frame, err := grid.NewFrame(up)
	if err != nil {
		return Shape{}, err
	}
	if len(m.Triangles) == 0 {
		return Shape{}, errors.New("the mesh holds no triangles")
	}
	at := make([]r3.Vec, len(m.Vertices))
	flat := make([]plane.Point, len(m.Vertices))
	low, high := math.Inf(1), math.Inf(-1)
	for i, p := range m.Vertices {
		at[i] = frame.In(p)
		flat[i] = plane.Point{at[i].X, at[i].Y}
		low, high = min(low, at[i].Z), max(high, at[i].Z)
	}
	hull := plane.Hull(flat)
	if len(hull) < 3 {
		return Shape{}, errors.New("seen from there the part has no width: turn it")
	}
	s := Shape{Ring: hull, Height: high - low, Convex: slices.Clone(hull)}
	box := bounds(hull)
	cell := max(box[1]-box[0], box[3]-box[2]) / cells
	ring, single, err := shadowOf(at, m.Triangles, cell)
	if err != nil {
		return s, err
	}
	// what is in several pieces is held by its hull; a hole in it takes no cavity
	if full := math.Abs(plane.Area(hull)); single && len(ring) >= 3 && math.Abs(plane.Area(ring)) < hollow*full {
		s.Ring, s.Slack = ring, cell
		if exact := sectionOf(m, frame, flat, low, high, math.Abs(plane.Area(ring))); exact != nil {
			s.Ring, s.Slack = exact, 0
		}
	}
	s.centre()
	for tol := s.Radius / 2000; len(s.Ring) > corners && !s.Round; tol *= 1.5 {
		s.Ring = plane.Simplified(s.Ring, tol)
		if tol > s.Radius/300 {
			s.Slack = max(s.Slack, tol)
		}
	}
	s.Area = math.Abs(plane.Area(s.Ring))
	return s, nil
}

// With is the shape and what beside it has to be laid with it, about the same
// middle: one outline where they touch, else their hull.
func (s Shape) With(rings [][]plane.Point) Shape {
	const touch = 0.05 // mm
	if len(rings) == 0 {
		return s
	}
	all := append([][]plane.Point{s.Ring}, rings...)
	whole := plane.Hull(slices.Concat(all...))
	s.Convex = plane.Hull(append(slices.Clone(s.Convex), whole...))
	s.Ring = whole
	if one := plane.Offset(all, touch); len(one) > 0 && plane.Area(one[0]) >= plane.Area(whole)/2 && holds(one[0], whole) {
		s.Ring = one[0]
	}
	s.Round, s.Radius = false, 0
	for _, p := range s.Ring {
		s.Radius = max(s.Radius, math.Hypot(p[0], p[1]))
	}
	for tol := s.Radius / 2000; len(s.Ring) > corners; tol *= 1.5 {
		s.Ring = plane.Simplified(s.Ring, tol)
		if tol > s.Radius/300 {
			s.Slack = max(s.Slack, tol)
		}
	}
	s.Area = math.Abs(plane.Area(s.Ring))
	return s
}

// holds is whether a ring reaches to every corner of its hull.
func holds(ring, hull []plane.Point) bool {
	for _, p := range hull {
		if fromRing(p, ring) > 0.5 && !plane.Inside(ring, p) {
			return false
		}
	}
	return true
}

// sectionOf is a part's section that all of it stands inside, as that of
// anything with upright walls: its outline to the mesh. It is nil for a part
// that has none.
func sectionOf(m *mesh.Mesh, frame grid.Frame, flat []plane.Point, low, high, shadow float64) []plane.Point {
	const (
		heights = 5
		alike   = 0.02 // share by which a followed shadow is too large
		most    = 5e7  // sums that this is worth
		touch   = 1e-5 // of the part's height, rounding
	)
	for k := range heights {
		var ring []plane.Point
		z := low + (high-low)*(float64(k)+0.5)/heights
		for _, loop := range m.Section(frame.Up, z) {
			r := make([]plane.Point, len(loop))
			for i, p := range loop {
				q := frame.In(p)
				r[i] = plane.Point{q.X, q.Y}
			}
			if math.Abs(plane.Area(r)) > math.Abs(plane.Area(ring)) {
				ring = r
			}
		}
		ring = plane.Simplified(ring, touch*(high-low))
		if len(ring) < 3 || math.Abs(plane.Area(ring)) < (1-alike)*shadow-shadowRim(ring) || float64(len(ring)*len(flat)) > most {
			continue
		}
		whole := true
		for _, p := range flat {
			if whole = plane.Inside(ring, p) || fromRing(p, ring) <= touch*(high-low)+1e-9; !whole {
				break
			}
		}
		if whole {
			return ring
		}
	}
	return nil
}

// shadowRim is about how much larger a shadow is when it is followed on cells:
// a cell all round.
func shadowRim(ring []plane.Point) float64 {
	b := bounds(ring)
	return plane.Perimeter(ring) * max(b[1]-b[0], b[3]-b[2]) / cells
}

// shadowOf follows the outer edge of the part's shadow, and tells whether it
// is in one piece. Whatever the part reaches counts, also what is thinner than
// a cell.
func shadowOf(at []r3.Vec, tris [][3]int32, cell float64) (ring []plane.Point, single bool, err error) {
	cols, err := grid.LayColumns(at, tris, cell)
	if err != nil {
		return nil, false, err
	}
	mask := make([]bool, cols.NX*cols.NY)
	var hits []grid.Crossing
	for c := range mask {
		if len(cols.Over(c)) == 0 {
			continue
		}
		x, y := cols.Centre(c)
		hits = cols.Crossings(x, y, hits[:0])
		mask[c] = len(hits) > 0
	}
	for _, t := range tris { // sides, which may lie between the columns' middles
		for k := range 3 {
			a, b := at[t[k]], at[t[(k+1)%3]]
			n := int(2*math.Hypot(b.X-a.X, b.Y-a.Y)/cell) + 1
			for i := range n {
				f := float64(i) / float64(n)
				mask[cols.ColumnAt(a.X+f*(b.X-a.X), a.Y+f*(b.Y-a.Y))] = true
			}
		}
	}
	best, outer := 0.0, 0
	for _, loop := range plane.Borders(mask, cols.NX, cols.NY) {
		r := make([]plane.Point, len(loop))
		for i, p := range loop {
			r[i] = plane.Point{cols.X0 + float64(p[0])*cell, cols.Y0 + float64(p[1])*cell}
		}
		if plane.Area(r) < 0 { // holes run the other way round
			outer++
		}
		if a := math.Abs(plane.Area(r)); a > best {
			best, ring = a, plane.Simplified(r, 0.8*cell)
		}
	}
	return ring, outer == 1, nil
}

// centre moves the ring about the middle of its smallest circle and tells
// whether it is round.
func (s *Shape) centre() {
	x, y, radius := plane.Circle(s.Ring)
	s.Radius, s.At = radius, plane.Point{x, y}
	for i, p := range s.Convex {
		s.Convex[i] = plane.Point{p[0] - x, p[1] - y}
	}
	least := math.Inf(1)
	for i, p := range s.Ring {
		q := s.Ring[(i+1)%len(s.Ring)]
		s.Ring[i] = plane.Point{p[0] - x, p[1] - y}
		mid := plane.Point{(p[0]+q[0])/2 - x, (p[1]+q[1])/2 - y}
		if i == len(s.Ring)-1 {
			mid = plane.Point{(s.Ring[i][0] + s.Ring[0][0]) / 2, (s.Ring[i][1] + s.Ring[0][1]) / 2}
		}
		least = min(least, math.Hypot(mid[0], mid[1]))
	}
	s.Round = s.Slack == 0 && least >= roundest*s.Radius
	if plane.Area(s.Ring) < 0 {
		for i, j := 0, len(s.Ring)-1; i < j; i, j = i+1, j-1 {
			s.Ring[i], s.Ring[j] = s.Ring[j], s.Ring[i]
		}
	}
}

func bounds(r []plane.Point) (b [4]float64) {
	b = [4]float64{math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)}
	for _, p := range r {
		b = [4]float64{min(b[0], p[0]), max(b[1], p[0]), min(b[2], p[1]), max(b[3], p[1])}
	}
	return b
}

// Pose is where a cavity lies in the box: its middle, and how far it is
// turned anticlockwise, in degrees.
type Pose struct{ X, Y, Turn float64 }

// Laid is the ring of a shape in a pose.
func (s Shape) Laid(p Pose) []plane.Point { return laid(s.Ring, p) }

func laid(ring []plane.Point, p Pose) []plane.Point {
	sin, cos := math.Sincos(p.Turn * math.Pi / 180)
	out := make([]plane.Point, len(ring))
	for i, q := range ring {
		out[i] = plane.Point{p.X + cos*q[0] - sin*q[1], p.Y + sin*q[0] + cos*q[1]}
	}
	return out
}

// apart is the distance between two rings up to within, beyond which nobody
// asks; negative where they overlap.
func apart(a, b []plane.Point, within float64) float64 {
	if plane.Inside(b, a[0]) || plane.Inside(a, b[0]) {
		return -1
	}
	least := within * within
	all := bounds(b)
	for i := range a {
		p, q := a[i], a[(i+1)%len(a)]
		dx := max(all[0]-max(p[0], q[0]), min(p[0], q[0])-all[1], 0)
		dy := max(all[2]-max(p[1], q[1]), min(p[1], q[1])-all[3], 0)
		if dx*dx+dy*dy >= least {
			continue
		}
		for j := range b {
			r, s := b[j], b[(j+1)%len(b)]
			dx := max(min(r[0], s[0])-max(p[0], q[0]), min(p[0], q[0])-max(r[0], s[0]), 0)
			dy := max(min(r[1], s[1])-max(p[1], q[1]), min(p[1], q[1])-max(r[1], s[1]), 0)
			if dx*dx+dy*dy >= least {
				continue
			}
			d := toSegment(r, p, q)
			if e := toSegment(p, r, s); e < d {
				d = e
			}
			if d < least {
				least = d
			}
			if crosses(p, q, r, s) {
				return -1
			}
		}
	}
	return math.Sqrt(least)
}

// toSegment is the square of the distance from a point to a stretch of line.
func toSegment(p, a, b plane.Point) float64 {
	dx, dy := b[0]-a[0], b[1]-a[1]
	t := 0.0
	if l := dx*dx + dy*dy; l > 0 {
		t = max(0, min(1, ((p[0]-a[0])*dx+(p[1]-a[1])*dy)/l))
	}
	x, y := p[0]-a[0]-t*dx, p[1]-a[1]-t*dy
	return x*x + y*y
}

func crosses(a, b, c, d plane.Point) bool {
	side := func(p, q, r plane.Point) float64 { return (q[0]-p[0])*(r[1]-p[1]) - (q[1]-p[1])*(r[0]-p[0]) }
	return side(a, b, c)*side(a, b, d) < 0 && side(c, d, a)*side(c, d, b) < 0
}
