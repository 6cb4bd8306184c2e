package bench

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

// SetPart is a part of a set, as its own job moulds it, and how many of it make
// a set.
type SetPart struct {
	Name   string
	Master *Master
	Asked  Question
	Count  int
}

// SetMaster are the parts of sets side by side, as one master: each along its own
// draw, their partings on one level, which is the height 0 along z.
type SetMaster struct {
	Mesh *mesh.Mesh
	Sets int
	Of   []int // which part each body is, in the order of the mesh
}

// ErrSetShape says that a set cannot be laid, since a shape is missing.
var ErrSetShape = errors.New("the shape of every part must be known to lay the set in one mould: add the meshes")

// LaySet lays the parts of so many sets for one mould, in the right proportions,
// with room between them for runners in the parting.
func LaySet(ctx context.Context, parts []SetPart, sets int, h practice.House) (SetMaster, error) {
	if len(parts) < 2 {
		return SetMaster{}, errors.New("a set has two parts at least: add another master to it")
	}
	if sets < 1 {
		return SetMaster{}, fmt.Errorf("lay one set at least, not %d", sets)
	}
	bodies := make([]*mesh.Mesh, len(parts))
	shapes, ratio := make([]gang.Shape, len(parts)), make([]int, len(parts))
	gap := 0.0
	for i, p := range parts {
		if !p.Master.Known() {
			return SetMaster{}, fmt.Errorf("%s: %w", p.Name, ErrSetShape)
		}
		one := p.Asked
		one.Design = one.Design.Single()
		laid, err := p.Master.Lay(ctx, one)
		if err != nil {
			return SetMaster{}, fmt.Errorf("%s: %w", p.Name, err)
		}
		frame := laid.Frame()
		bodies[i] = &mesh.Mesh{Vertices: make([]r3.Vec, len(p.Master.Solid.Vertices)), Triangles: p.Master.Solid.Triangles}
		for k, v := range p.Master.Solid.Vertices {
			q := frame.In(v)
			q.Z -= laid.Parting.Height
			bodies[i].Vertices[k] = q
		}
		if shapes[i], err = gang.Seen(bodies[i], r3.Vec{Z: 1}); err != nil {
			return SetMaster{}, fmt.Errorf("%s: %w", p.Name, err)
		}
		ratio[i] = p.Count
		gap = max(gap, gate.Choices{SprueBore: h.SprueBore, Webs: h.Webs}.Rung(p.Master.Part.Volume()))
	}
	l, err := gang.LaySet(shapes, ratio, gang.Ask{Count: sets, Gap: gap, Edge: h.Clearance.Beside})
	if err != nil {
		return SetMaster{}, err
	}
	out := SetMaster{Mesh: &mesh.Mesh{}, Sets: l.Sets}
	for _, pose := range l.Poses {
		shape := shapes[pose.Shape]
		sin, cos := math.Sincos(pose.Turn * math.Pi / 180)
		body := &mesh.Mesh{Vertices: make([]r3.Vec, len(bodies[pose.Shape].Vertices)), Triangles: bodies[pose.Shape].Triangles}
		for k, q := range bodies[pose.Shape].Vertices {
			x, y := q.X-shape.At[0], q.Y-shape.At[1]
			body.Vertices[k] = r3.Vec{X: pose.X + cos*x - sin*y, Y: pose.Y + sin*x + cos*y, Z: q.Z}
		}
		out.Mesh.Append(body)
		out.Of = append(out.Of, pose.Shape)
	}
	return out, nil
}

// SetDesign is the mould that is proposed for the parts of a set: in halves, the
// parting where each part's is, resin as the halves are drawn, and a vent at
// every high spot of every part.
func SetDesign(ctx context.Context, m *Master, h practice.House) (design.Design, error) {
	d, err := m.Start(ctx, h)
	if err != nil {
		return d, err
	}
	parting := 0.0
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Parting = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusZ, &parting
	d.Box, d.Vents = design.Box{}, nil
	d.Vents, err = m.ProposeVents(ctx, Question{Design: d, House: h})
	return d, err
}

// TakeSet takes the parts of sets in hand as one master.
func TakeSet(name string, s SetMaster) (*Master, error) {
	m, r, err := mesh.Load(s.Mesh.WriteSTL(), 1)
	if err != nil {
		return nil, err
	}
	return Take(part.Master{Name: name, Mesh: m.Filled(r.Hollows), Report: r}), nil
}
