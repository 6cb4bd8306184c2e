package study

import (
	"fmt"
	"math"

	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/mould"
	"bathyform/core/part"

	"gonum.org/v1/gonum/spatial/r3"
)

// Rise is what the sounding rail shows of a pour: the liquid rising in the
// mould, what lies at which height, and the air that is shut in on the way.
// Heights are in mm over the floor of the box, the way up being Up.
type Rise struct {
	Up                part.Axis
	Floor             float64 // height of the box floor along Up, mesh coordinates
	Top               float64 // of the box
	PartLow, PartHigh float64
	Curve             fill.Curve // liquid below each height, mm³; empty when the shape is not known
	Marks             []Mark
	Pockets           []fill.Pocket // heights over the box floor
	Air               []fill.Stretch
	AirFrame          grid.Frame
	AirCell           float64 // side of a drawn stretch, mm
}

// Mark is a named height on the sounding rail.
type Mark struct {
	Kind   string // part-low, part-high, parting, sprue, vent, air
	Label  string
	Height float64
	Index  int // which vent or pocket, -1 for others
}

// curveSteps is the number of level steps that the rail's handle has.
const curveSteps = 240

// mostDrawn is how many columns of air are drawn one by one; more are drawn
// in squares of four, which the eye cannot tell at that size.
const mostDrawn = 3000

// riseIn begins a rise with what follows from box, part and parting.
func riseIn(m part.Master, plan mould.Plan, draw, up part.Axis) (Rise, error) {
	dir, err := up.Dir()
	if err != nil {
		return Rise{}, err
	}
	drawDir, err := draw.Dir()
	if err != nil {
		return Rise{}, err
	}
	a, b := r3.Dot(dir, plan.Box.Min), r3.Dot(dir, plan.Box.Max)
	low, high := m.Span(dir)
	r := Rise{Up: up, Floor: min(a, b), Top: math.Abs(b - a)}
	r.PartLow, r.PartHigh = low-r.Floor, high-r.Floor
	r.Marks = []Mark{{"part-low", "part low", r.PartLow, -1}, {"part-high", "part high", r.PartHigh, -1}}
	if along := r3.Dot(drawDir, dir); along > 0.5 || along < -0.5 {
		r.Marks = append(r.Marks, Mark{"parting", "parting", plan.Parting*along - r.Floor, -1})
	}
	return r, nil
}

// shutIn adds the air that was found to a rise.
func (r *Rise) shutIn(space *fill.Space, found fill.Trapped) {
	r.Pockets = make([]fill.Pocket, len(found.Pockets))
	for i, pocket := range found.Pockets {
		pocket.ApexHeight -= r.Floor
		pocket.SealHeight -= r.Floor
		r.Pockets[i] = pocket
		if pocket.Volume >= visiblePoint {
			r.Marks = append(r.Marks, Mark{"air", "air shut in", pocket.SealHeight, i})
		}
	}
	r.AirFrame = space.Frame
	r.Air, r.AirCell = space.Stretches(found, 1), space.Cell()
	if len(r.Air) > mostDrawn {
		r.Air, r.AirCell = space.Stretches(found, 2), 2*space.Cell()
	}
}

// resinRise draws up the rail of the resin pour: cavity and channels.
func (p *Prepared) resinRise(s *Study, d Design) error {
	up := d.Mould.Attitudes.Resin
	r, err := riseIn(p.Master, s.Mould, d.Mould.Draw, up)
	if err != nil {
		return err
	}
	for _, c := range s.Gates.Channels {
		switch c.Kind {
		case gate.Sprue:
			r.Marks = append(r.Marks, Mark{"sprue", "sprue foot", c.Foot, -1})
		case gate.VentKind:
			r.Marks = append(r.Marks, Mark{"vent", fmt.Sprintf("vent %d foot", c.Vent+1), c.Foot, c.Vent})
		}
	}
	if p.Master.Mesh != nil {
		cavity, err := p.Cavity(up)
		if err != nil {
			return err
		}
		r.Curve = cavity.Levels(r.Floor, r.Floor+r.Top, curveSteps, nil)
		for i := range r.Curve.Height {
			r.Curve.Height[i] -= r.Floor
			for _, c := range s.Gates.Channels {
				r.Curve.Volume[i] += c.VolumeBelow(r.Curve.Height[i])
			}
		}
		r.shutIn(cavity, s.Gates.Trapped)
	}
	s.Resin = r
	return nil
}

// rubberPour follows the rubber of a half as it rises round the part.
func (p *Prepared) rubberPour(d Design, plan mould.Plan, half int) (Rise, []finding.Finding, error) {
	up := plan.Halves[half].Up
	r, err := riseIn(p.Master, plan, d.Mould.Draw, up)
	if err != nil || p.Master.Mesh == nil {
		return r, nil, err
	}
	dir, _ := up.Dir()
	draw, _ := d.Mould.Draw.Dir()
	side := 1.0 // half A lies where the draw points
	if half == 1 {
		side = -1
	}
	cavity, err := p.Cavity(up)
	if err != nil {
		return r, nil, err
	}
	floor := r.Floor + r.PartLow
	along := side * r3.Dot(draw, dir)
	boxed := (plan.Halves[half].Volume.Value)*1000 + p.partIn(plan, draw, side) // mm³ of box on this side
	switch {
	case along > 0.5: // the parting lies level under this half
		floor = plan.Parting * side
		r.Curve = p.rubberOver(cavity, r, floor, boxed, dir)
	case along > -0.5: // the parting stands upright
		across := cavity.Frame.In(draw)
		r.Curve = cavity.Levels(r.Floor, r.Floor+r.Top, curveSteps, func(x, y float64) bool {
			return side*(across.X*x+across.Y*y-plan.Parting) > 0
		})
		for i := range r.Curve.Height {
			r.Curve.Height[i] -= r.Floor
			r.Curve.Volume[i] = max(0, boxed*r.Curve.Height[i]/r.Top-r.Curve.Volume[i])
		}
	default: // poured from the parting side: unusual, and left to the caster's eye
		return r, nil, nil
	}
	if floor >= r.Floor+r.PartHigh {
		return r, nil, nil // the part does not reach into this half
	}
	space, err := p.round(up, floor, r.Top-r.PartHigh)
	if err != nil {
		return r, nil, err
	}
	found, err := space.Trap(nil)
	if err != nil {
		return r, nil, err
	}
	r.shutIn(space, found)
	return r, rubberFindings(plan.Halves[half].Name, r), nil
}

// partIn is the volume of the part in a half, mm³.
func (p *Prepared) partIn(plan mould.Plan, draw r3.Vec, side float64) float64 {
	above := p.Master.Mesh.VolumeAbove(draw, plan.Parting)
	if side < 0 {
		return p.Master.Volume() - above
	}
	return above
}

// rubberOver is the curve of rubber over a level parting.
func (p *Prepared) rubberOver(cavity *fill.Space, r Rise, floor, boxed float64, dir r3.Vec) fill.Curve {
	c := cavity.Levels(r.Floor, r.Floor+r.Top, curveSteps, nil)
	below := p.Master.Volume() - p.Master.Mesh.VolumeAbove(dir, floor)
	area := boxed / (r.Floor + r.Top - floor)
	for i, h := range c.Height {
		c.Volume[i] = max(0, area*(h-floor)-(c.Volume[i]-below))
		if h <= floor {
			c.Volume[i] = 0
		}
		c.Height[i] = h - r.Floor
	}
	return c
}
