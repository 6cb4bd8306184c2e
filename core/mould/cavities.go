package mould

import (
	"math"

	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Cavities are the masters of a mould where they lie, in the plane across the
// draw.
type Cavities struct {
	Frame grid.Frame // of the draw
	Shape gang.Shape // of the part, seen along the draw
	Poses []gang.Pose
}

// Laid are the cavities of a design.
func Laid(d design.Design, shape gang.Shape) (Cavities, error) {
	frame, err := grid.NewFrame(d.Draw.Dir())
	c := Cavities{Frame: frame, Shape: shape}
	for _, p := range d.Poses() {
		c.Poses = append(c.Poses, gang.Pose{X: p[0], Y: p[1], Turn: p[2]})
	}
	return c, err
}

// Place is where a point of the master lies in one of the cavities.
func (c Cavities) Place(v r3.Vec, pose gang.Pose) r3.Vec {
	if pose == (gang.Pose{}) {
		return v
	}
	sin, cos := math.Sincos(pose.Turn * math.Pi / 180)
	q := c.Frame.In(v)
	x, y := q.X-c.Shape.At[0], q.Y-c.Shape.At[1]
	return c.Frame.Out(r3.Vec{X: c.Shape.At[0] + pose.X + cos*x - sin*y, Y: c.Shape.At[1] + pose.Y + sin*x + cos*y, Z: q.Z})
}

// Whole is the mesh of all cavities: the master's own where there is one.
func (c Cavities) Whole(m *mesh.Mesh) *mesh.Mesh {
	if len(c.Poses) == 1 && c.Poses[0] == (gang.Pose{}) {
		return m
	}
	all := &mesh.Mesh{}
	for _, pose := range c.Poses {
		copied := &mesh.Mesh{Vertices: make([]r3.Vec, len(m.Vertices)), Triangles: m.Triangles}
		for i, v := range m.Vertices {
			copied.Vertices[i] = c.Place(v, pose)
		}
		all.Append(copied)
	}
	return all
}

// Carried is how the master is carried into each cavity: the rows of an
// affine map of mesh coordinates, three by four.
func (c Cavities) Carried() [][12]float64 {
	var out [][12]float64
	for _, pose := range c.Poses {
		at := func(v r3.Vec) r3.Vec { return c.Place(v, pose) }
		o := at(r3.Vec{})
		x, y, z := r3.Sub(at(r3.Vec{X: 1}), o), r3.Sub(at(r3.Vec{Y: 1}), o), r3.Sub(at(r3.Vec{Z: 1}), o)
		out = append(out, [12]float64{x.X, y.X, z.X, o.X, x.Y, y.Y, z.Y, o.Y, x.Z, y.Z, z.Z, o.Z})
	}
	return out
}

// Outlines are the cavities seen along the draw, in its frame.
func (c Cavities) Outlines() [][]plane.Point {
	var out [][]plane.Point
	for _, pose := range c.Poses {
		ring := c.Shape.Laid(pose)
		for i := range ring {
			ring[i] = plane.Point{ring[i][0] + c.Shape.At[0], ring[i][1] + c.Shape.At[1]}
		}
		out = append(out, ring)
	}
	return out
}

// Outline is what of a part is seen from above, standing some way up: the
// convex hull of its plan in the frame of that way, and how high it reaches.
type Outline struct {
	Hull      []plane.Point
	Rings     [][]plane.Point // the true outlines, where a wall shall follow them; else none
	Low, High float64
}

// Stood is the outline of a mesh in a frame.
func Stood(m *mesh.Mesh, frame grid.Frame) Outline {
	out := Outline{Low: math.Inf(1), High: math.Inf(-1)}
	flat := make([]plane.Point, len(m.Vertices))
	for i, v := range m.Vertices {
		q := frame.In(v)
		flat[i] = plane.Point{q.X, q.Y}
		out.Low, out.High = min(out.Low, q.Z), max(out.High, q.Z)
	}
	out.Hull = plane.Hull(flat)
	return out
}

// Followed is the outline of a mesh in a frame with its hollows.
func Followed(m *mesh.Mesh, frame grid.Frame) (Outline, error) {
	out := Stood(m, frame)
	s, err := gang.Seen(m, frame.Up)
	if err != nil {
		return out, err
	}
	ring := s.Laid(gang.Pose{})
	for i, p := range ring {
		ring[i] = plane.Point{p[0] + s.At[0], p[1] + s.At[1]}
	}
	out.Rings = [][]plane.Point{ring}
	return out, nil
}

// spread is the outline of all cavities, given those of one at every turn.
func (c Cavities) spread(frame grid.Frame, turned func(turn float64) Outline) Outline {
	out := Outline{Low: math.Inf(1), High: math.Inf(-1)}
	var all []plane.Point
	for _, pose := range c.Poses {
		one := turned(pose.Turn)
		by := frame.In(c.Frame.Out(r3.Vec{X: pose.X, Y: pose.Y}))
		for _, p := range one.Hull {
			all = append(all, plane.Point{p[0] + by.X, p[1] + by.Y})
		}
		for _, ring := range one.Rings {
			moved := make([]plane.Point, len(ring))
			for i, p := range ring {
				moved[i] = plane.Point{p[0] + by.X, p[1] + by.Y}
			}
			out.Rings = append(out.Rings, moved)
		}
		out.Low, out.High = min(out.Low, one.Low+by.Z), max(out.High, one.High+by.Z)
	}
	out.Hull = plane.Hull(all)
	return out
}
