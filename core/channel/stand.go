package channel

import (
	"math"

	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Place is where a master stands in the box, and how it is turned.
type Place struct {
	At   r3.Vec  // of the mesh's origin
	Turn float64 // degrees about the way up, where all are turned about that

	axes   [3]r3.Vec // of the box, in those of the mesh
	middle r3.Vec    // of the master
	seen   *view
}

// Stand is a master in each of its places.
type Stand struct {
	Places []Place
	*Master
	frame grid.Frame
}

// NewStand takes a master that stands with a direction of its mesh up.
func NewStand(m *Master, up r3.Vec) (*Stand, error) {
	frame, err := grid.NewFrame(up)
	return &Stand{Master: m, frame: frame}, err
}

// Shape is the master seen from above, not turned.
func (s *Stand) Shape() (gang.Shape, error) {
	v, err := s.from(s.frame.Up)
	if err != nil {
		return gang.Shape{}, err
	}
	return v.shape, nil
}

// Lay stands the master in the poses of a gang on one level, its lowest point
// at a height.
func (s *Stand) Lay(poses []gang.Pose, low float64) error {
	v, err := s.from(s.frame.Up)
	if err != nil {
		return err
	}
	s.Places = nil
	for _, p := range poses {
		sin, cos := math.Sincos(p.Turn * math.Pi / 180)
		x, y := v.shape.At[0], v.shape.At[1]
		off := r3.Vec{X: p.X - cos*x + sin*y, Y: p.Y - sin*x - cos*y, Z: low - v.low}
		if err := s.Put(func(q r3.Vec) r3.Vec {
			q = s.frame.In(q)
			return r3.Vec{X: off.X + cos*q.X - sin*q.Y, Y: off.Y + sin*q.X + cos*q.Y, Z: off.Z + q.Z}
		}); err != nil {
			return err
		}
		s.Places[len(s.Places)-1].Turn = p.Turn
	}
	return nil
}

// Put stands the master where a motion carries its mesh, however it is turned.
func (s *Stand) Put(carried func(r3.Vec) r3.Vec) error {
	at := carried(r3.Vec{})
	x, y, z := r3.Sub(carried(r3.Vec{X: 1}), at), r3.Sub(carried(r3.Vec{Y: 1}), at), r3.Sub(carried(r3.Vec{Z: 1}), at)
	p := Place{At: at, axes: [3]r3.Vec{{X: x.X, Y: y.X, Z: z.X}, {X: x.Y, Y: y.Y, Z: z.Y}, {X: x.Z, Y: y.Z, Z: z.Z}}}
	p.middle = p.box(s.middle)
	var err error
	if p.seen, err = s.from(p.axes[2]); err != nil {
		return err
	}
	s.Places = append(s.Places, p)
	return nil
}

// Move moves all masters.
func (s *Stand) Move(by r3.Vec) {
	for i, p := range s.Places {
		s.Places[i].At, s.Places[i].middle = r3.Add(p.At, by), r3.Add(p.middle, by)
	}
}

// Middle is that of the box round the master in a place.
func (s *Stand) Middle(place int) r3.Vec { return s.Places[place].middle }

// Way is a direction of the box in the axes of the mesh of a place, to a
// billionth.
func (s *Stand) Way(place int, v r3.Vec) r3.Vec {
	return grained(r3.Sub(s.Mesh(place, v), s.Mesh(place, r3.Vec{})))
}

// box is where a point of the mesh lies in the box.
func (p *Place) box(q r3.Vec) r3.Vec {
	return r3.Add(p.At, r3.Vec{X: r3.Dot(p.axes[0], q), Y: r3.Dot(p.axes[1], q), Z: r3.Dot(p.axes[2], q)})
}

// mesh is the point of the mesh that lies at a place of the box.
func (p *Place) mesh(at r3.Vec) r3.Vec {
	q := r3.Sub(at, p.At)
	return r3.Add(r3.Scale(q.X, p.axes[0]), r3.Add(r3.Scale(q.Y, p.axes[1]), r3.Scale(q.Z, p.axes[2])))
}

// Up is the way up of the box in the axes of the mesh of a place, to a
// billionth.
func (p *Place) Up() r3.Vec { return grained(p.axes[2]) }

// Low and High are how far up the master in a place reaches.
func (p *Place) Low() float64  { return p.At.Z + p.seen.low }
func (p *Place) High() float64 { return p.At.Z + p.seen.high }

// Box is where a point of the mesh lies in one of the places.
func (s *Stand) Box(place int, p r3.Vec) r3.Vec { return s.Places[place].box(p) }

// Mesh is the point of the mesh that lies at a place of the box.
func (s *Stand) Mesh(place int, p r3.Vec) r3.Vec { return s.Places[place].mesh(p) }

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
	return s.solid().Holds(s.Mesh(place, p))
}

// aside is how far a place lies beside all masters as seen from above,
// negative over or under one, mm; it is good up to the radius of a master.
func (s *Stand) aside(x, y float64) float64 {
	least := math.Inf(1)
	for i := range s.Places {
		p := &s.Places[i]
		q := p.seen.frame.In(p.mesh(r3.Vec{X: x, Y: y}))
		at := plane.Point{q.X - p.seen.shape.At[0], q.Y - p.seen.shape.At[1]}
		least = min(least, p.seen.shadow.Beyond(at)-p.seen.shape.Slack)
	}
	return least
}

// Seen is the convex outline of the master in a place, seen from above.
func (s *Stand) Seen(place int) (out []plane.Point) {
	p := &s.Places[place]
	for _, v := range p.seen.shape.Convex {
		q := p.box(p.seen.frame.Out(r3.Vec{X: v[0] + p.seen.shape.At[0], Y: v[1] + p.seen.shape.At[1]}))
		out = append(out, plane.Point{q.X, q.Y})
	}
	return out
}

// Plan is the rectangle round all masters seen from above.
func (s *Stand) Plan() (low, high plane.Point) {
	var all []plane.Point
	for i := range s.Places {
		all = append(all, s.Seen(i)...)
	}
	return plane.Bounds(all)
}

// Reach is how far masters reach from the middle of the plan, mm.
func (s *Stand) Reach() (far float64) {
	for i := range s.Places {
		for _, v := range s.Seen(i) {
			far = max(far, math.Hypot(v[0], v[1]))
		}
	}
	return far
}

// Axes are those of the box in those of the mesh, the way up last.
func (s *Stand) Axes() [3]r3.Vec { return [3]r3.Vec{s.frame.U, s.frame.V, s.frame.Up} }
