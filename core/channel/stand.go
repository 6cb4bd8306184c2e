package channel

import (
	"math"

	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Place is where a master stands in the box: turned about the way up, in
// degrees, and then moved.
type Place struct {
	At       r3.Vec
	Turn     float64
	sin, cos float64
	middle   r3.Vec // of the master
}

// Stand is a master in each of its places.
type Stand struct {
	Places []Place
	frame  grid.Frame
	solid  mesh.Enclosure
	tree   *mesh.Tree
	low    float64 // of the master along the way up
	high   float64
	reach  float64 // of the master from its middle
	middle r3.Vec  // in the frame
	shape  gang.Shape
	shadow *plane.Region
}

// NewStand takes a closed mesh that stands with a direction up.
func NewStand(m *mesh.Mesh, up r3.Vec) (*Stand, error) {
	frame, err := grid.NewFrame(up)
	if err != nil {
		return nil, err
	}
	s := &Stand{frame: frame, solid: mesh.NewEnclosure(m), tree: mesh.NewTree(m), low: math.Inf(1), high: math.Inf(-1)}
	if s.shape, err = gang.Seen(m, up); err != nil {
		return nil, err
	}
	b := r3.Box{Min: r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)}, Max: r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)}}
	for _, v := range m.Vertices {
		q := frame.In(v)
		b.Min = r3.Vec{X: min(b.Min.X, q.X), Y: min(b.Min.Y, q.Y), Z: min(b.Min.Z, q.Z)}
		b.Max = r3.Vec{X: max(b.Max.X, q.X), Y: max(b.Max.Y, q.Y), Z: max(b.Max.Z, q.Z)}
	}
	s.low, s.high, s.middle = b.Min.Z, b.Max.Z, b.Center()
	s.reach = r3.Norm(r3.Sub(b.Max, b.Min)) / 2
	s.shadow = plane.NewRegion(s.shape.Ring, s.shape.Radius)
	return s, nil
}

// Shape is the master seen from above.
func (s *Stand) Shape() gang.Shape { return s.shape }

// Lay stands the master in the poses of a gang, its lowest point at a height.
func (s *Stand) Lay(poses []gang.Pose, low float64) {
	s.Places = nil
	for _, p := range poses {
		sin, cos := math.Sincos(p.Turn * math.Pi / 180)
		x, y := s.shape.At[0], s.shape.At[1]
		at := Place{At: r3.Vec{X: p.X - cos*x + sin*y, Y: p.Y - sin*x - cos*y, Z: low - s.low}, Turn: p.Turn, sin: sin, cos: cos}
		at.middle = at.box(s.middle)
		s.Places = append(s.Places, at)
	}
}

// Move moves all masters.
func (s *Stand) Move(by r3.Vec) {
	for i, p := range s.Places {
		s.Places[i].At, s.Places[i].middle = r3.Add(p.At, by), r3.Add(p.middle, by)
	}
}

// box is where a point of the frame lies in the box.
func (p *Place) box(q r3.Vec) r3.Vec {
	return r3.Vec{X: p.At.X + p.cos*q.X - p.sin*q.Y, Y: p.At.Y + p.sin*q.X + p.cos*q.Y, Z: p.At.Z + q.Z}
}

// Box is where a point of the mesh lies in one of the places.
func (s *Stand) Box(place int, p r3.Vec) r3.Vec { return s.Places[place].box(s.frame.In(p)) }

// Mesh is the point of the mesh that lies at a place of the box.
func (s *Stand) Mesh(place int, p r3.Vec) r3.Vec {
	at := &s.Places[place]
	q := r3.Sub(p, at.At)
	return s.frame.Out(r3.Vec{X: at.cos*q.X + at.sin*q.Y, Y: -at.sin*q.X + at.cos*q.Y, Z: q.Z})
}

// distance is how far the master in a place is from p, at most within.
func (s *Stand) distance(place int, p r3.Vec, within float64) float64 {
	if !s.around(place, p, within) {
		return within
	}
	q := s.Mesh(place, p)
	at, t := s.tree.Nearest(q, within, nil)
	if t < 0 {
		return within
	}
	return r3.Norm(r3.Sub(at, q))
}

// around is whether a place lies in the ball round a master, and a distance more.
func (s *Stand) around(place int, p r3.Vec, more float64) bool {
	return r3.Norm2(r3.Sub(p, s.Places[place].middle)) <= (s.reach+more)*(s.reach+more)
}

// near is whether the master in a place is nearer to p than a distance.
func (s *Stand) near(place int, p r3.Vec, distance float64) bool {
	if !s.around(place, p, distance) {
		return false
	}
	return s.tree.Within(s.Mesh(place, p), distance) >= 0
}

// inside is whether a place lies in the master.
func (s *Stand) inside(place int, p r3.Vec) bool {
	if !s.around(place, p, 0) {
		return false
	}
	return s.solid.Holds(s.Mesh(place, p))
}

// beside is how far a place lies beside all masters as seen from above,
// negative over or under one, mm; it is good up to the radius of a master.
func (s *Stand) beside(x, y float64) float64 {
	least := math.Inf(1)
	for i := range s.Places {
		p := &s.Places[i]
		u, v := x-p.At.X, y-p.At.Y
		at := plane.Point{p.cos*u + p.sin*v - s.shape.At[0], -p.sin*u + p.cos*v - s.shape.At[1]}
		least = min(least, s.shadow.Beyond(at)-s.shape.Slack)
	}
	return least
}

// Plan is the rectangle round all masters seen from above.
func (s *Stand) Plan() (low, high plane.Point) {
	var all []plane.Point
	for i := range s.Places {
		for _, v := range s.shape.Convex {
			p := s.Places[i].box(r3.Vec{X: v[0] + s.shape.At[0], Y: v[1] + s.shape.At[1]})
			all = append(all, plane.Point{p.X, p.Y})
		}
	}
	return plane.Bounds(all)
}

// Reach is how far masters reach from the middle of the plan, mm.
func (s *Stand) Reach() (far float64) {
	for i := range s.Places {
		for _, v := range s.shape.Convex {
			p := s.Places[i].box(r3.Vec{X: v[0] + s.shape.At[0], Y: v[1] + s.shape.At[1]})
			far = max(far, math.Hypot(p.X, p.Y))
		}
	}
	return far
}

// Axes are those of the box in those of the mesh, the way up last.
func (s *Stand) Axes() [3]r3.Vec { return [3]r3.Vec{s.frame.U, s.frame.V, s.frame.Up} }
