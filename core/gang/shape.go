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
	ring, shadow, err := shadowOf(at, m.Triangles, cell)
	if err != nil {
		return s, err
	}
	if full := math.Abs(plane.Area(hull)); shadow < hollow*full && len(ring) >= 3 {
		s.Ring, s.Slack = ring, cell
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

// shadowOf follows the outer edge of the part's largest shadow.
func shadowOf(at []r3.Vec, tris [][3]int32, cell float64) (ring []plane.Point, area float64, err error) {
	cols, err := grid.LayColumns(at, tris, cell)
	if err != nil {
		return nil, 0, err
	}
	mask := make([]bool, cols.NX*cols.NY)
	var hits []grid.Crossing
	for c := range mask {
		if len(cols.Over(c)) == 0 {
			continue
		}
		x, y := cols.Centre(c)
		hits = cols.Crossings(x, y, hits[:0])
		if mask[c] = len(hits) > 0; mask[c] {
			area += cell * cell
		}
	}
	best := 0.0
	for _, loop := range plane.Borders(mask, cols.NX, cols.NY) {
		r := make([]plane.Point, len(loop))
		for i, p := range loop {
			r[i] = plane.Point{cols.X0 + float64(p[0])*cell, cols.Y0 + float64(p[1])*cell}
		}
		if a := math.Abs(plane.Area(r)); a > best {
			best, ring = a, plane.Simplified(r, 0.8*cell)
		}
	}
	return ring, area, nil
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

// apart is the distance between two rings; negative where they overlap.
func apart(a, b []plane.Point) float64 {
	if inside(a[0], b) || inside(b[0], a) {
		return -1
	}
	least := math.Inf(1)
	for i := range a {
		p, q := a[i], a[(i+1)%len(a)]
		for j := range b {
			r, s := b[j], b[(j+1)%len(b)]
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

func inside(p plane.Point, r []plane.Point) bool {
	in := false
	for i, j := 0, len(r)-1; i < len(r); j, i = i, i+1 {
		if (r[i][1] > p[1]) != (r[j][1] > p[1]) && p[0] < (r[j][0]-r[i][0])*(p[1]-r[i][1])/(r[j][1]-r[i][1])+r[i][0] {
			in = !in
		}
	}
	return in
}
