// Package rise follows a liquid that rises in a mould: resin in a cavity, or
// rubber round the part. It is what the sounding rail shows: how much lies
// below each height, what is found at which height, and the air that is shut
// in on the way.
package rise

import (
	"fmt"
	"math"
	"slices"

	"bathyform/core/axis"
	"bathyform/core/channel"
	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/mould"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Rise is one pour. Heights are in mm over the floor of the box, the way up
// being Up.
type Rise struct {
	Name              string
	Up                axis.Axis
	Floor             float64 // height of the box floor along Up, mesh coordinates
	Top               float64 // of the box
	PartLow, PartHigh float64
	Heights           []float64 // steps of the level; none when the shape is not known
	Volumes           []float64 // mm³ of liquid below each; none while its share of the rubber is not known
	Lifts             []float64 // mm by which each cavity stands higher than the first, of resin
	Marks             []Mark
	Pockets           []Pocket
	Air               []fill.Stretch // of the first cavity, with the pockets of that
	AirFrame          grid.Frame
	AirCell           float64 // side of a drawn stretch, mm
	Dry               []Dry   // of the first cavity, until the level stands at a sill
	DryCell           float64 // mm

	first []float64 // mm³ of that in the first cavity, of resin
	least float64   // mm³ of a pocket that matters
}

// Dry is a stretch of a cavity that resin reaches only over a sill: its low end in
// mesh coordinates, how high it reaches, and the sill's height over the box floor.
type Dry struct {
	Low        r3.Vec
	Tall, Sill float64
}

// Pocket is air that stays in a cavity: where in the mould, heights over the
// box floor.
type Pocket struct {
	Cavity int
	fill.Pocket
}

// Mark is a named height on the sounding rail.
type Mark struct {
	Kind   string // part-low, part-high, parting, sprue, vent, air
	Label  string
	Height float64
	Index  int // which vent or pocket, -1 for others
}

// steps is the number of level steps that the rail's handle has.
const steps = 240

// mostDrawn is how many columns of air are drawn one by one; more are drawn
// in squares of four, which the eye cannot tell at that size.
const mostDrawn = 3000

// begin is what follows of a pour from the plan alone.
func begin(p mould.Plan, name string, up axis.Axis) Rise {
	low, high := up.Span(p.Box.Bounds)
	partLow, partHigh := up.Span(p.Body)
	r := Rise{Name: name, Up: up, Floor: low, Top: high - low, PartLow: partLow - low, PartHigh: partHigh - low}
	r.Marks = []Mark{{"part-low", "part low", r.PartLow, -1}, {"part-high", "part high", r.PartHigh, -1}}
	along := up.Of(p.Design.Draw.Dir())
	if parted := !p.Kind.OnBoard && !p.Kind.Peeled; parted && math.Abs(along) > 0.5 {
		r.Marks = append(r.Marks, Mark{"parting", "parting", p.Parting.Height*along - low, -1})
	}
	return r
}

// shutIn adds the air that was found in one space, with each pocket's heights
// over the floor, and marks the pockets of a volume of at least so many mm³.
func (r *Rise) shutIn(space *fill.Space, found fill.Trapped, over func(fill.Pocket) fill.Pocket, least float64) {
	for i, pocket := range found.Pockets {
		pocket = over(pocket)
		r.Pockets = append(r.Pockets, Pocket{0, pocket})
		if pocket.Volume >= least {
			r.Marks = append(r.Marks, Mark{"air", "air shut in", pocket.SealHeight, i})
		}
	}
	r.AirFrame, r.least = space.Frame, least
	drawn := func(every int) []fill.Stretch { // but what does not matter
		return slices.DeleteFunc(space.Stretches(found, every), func(s fill.Stretch) bool { return found.Pockets[s.Pocket].Volume < least })
	}
	r.Air, r.AirCell = drawn(1), space.Cell()
	if len(r.Air) > mostDrawn {
		r.Air, r.AirCell = drawn(2), 2*space.Cell()
	}
}

// levels takes the steps of the level from a space inside the part.
func (r *Rise) levels(cavity *fill.Space, within func(x, y float64) bool) {
	c := cavity.Levels(r.Floor, r.Floor+r.Top, steps, within)
	r.Heights, r.Volumes = c.Height, c.Volume
	for i := range r.Heights {
		r.Heights[i] -= r.Floor
	}
}

// Resin follows the resin of a shot.
func Resin(p mould.Plan, l gate.Layout) Rise {
	r := begin(p, "Resin", p.Design.ResinUp)
	for _, c := range l.Channels {
		switch {
		case c.Kind == channel.Gate && c.Cavity == 0, c.Kind == channel.Sprue && c.Cavity == 0:
			r.Marks = append(r.Marks, Mark{"sprue", "sprue foot", max(c.Foot, c.Top), -1})
			if c.Kind == channel.Sprue {
				r.Marks[len(r.Marks)-1].Height = c.Foot
			}
		case c.Kind == channel.Vent && c.Cavity == 0:
			r.Marks = append(r.Marks, Mark{"vent", fmt.Sprintf("vent %d foot", c.Vent+1), c.Foot, c.Vent})
		}
	}
	r.Marks = together(r.Marks)
	if !l.Known || len(l.Cavities) == 0 {
		return r
	}
	for i, c := range l.Cavities { // each as it stands, and as high
		r.Lifts = append(r.Lifts, c.Low-l.Cavities[0].Low)
		floor := c.Space.Low() - c.Low
		levels := c.Levels(floor, floor+r.Top, steps)
		if i == 0 {
			r.Heights, r.Volumes = make([]float64, len(levels.Height)), make([]float64, len(levels.Height))
			for k, h := range levels.Height {
				r.Heights[k] = h - floor
			}
			r.first = levels.Volume
		}
		for k := range r.Volumes {
			r.Volumes[k] += levels.Volume[k]
		}
	}
	for k, h := range r.Heights {
		for _, c := range l.Channels {
			r.Volumes[k] += c.VolumeBelow(h)
		}
	}
	for i, c := range l.Cavities {
		if i == 0 {
			r.shutIn(c.Air, c.Trapped, c.Over, l.Fault.Least())
			r.DryCell = c.Space.Cell()
			for _, d := range c.Dry() {
				r.Dry = append(r.Dry, Dry{c.Space.Frame.Out(r3.Vec{X: d.X, Y: d.Y, Z: d.Lo}), d.Hi - d.Lo, d.Sill + c.Low - c.Space.Low()})
			}
			continue
		}
		for _, pocket := range c.Trapped.Pockets {
			r.Pockets = append(r.Pockets, Pocket{i, c.Over(pocket)})
		}
	}
	for i, pocket := range r.Pockets {
		r.Pockets[i].Apex = p.Cavities.Place(pocket.Apex, p.Cavities.Poses[pocket.Cavity])
	}
	return r
}

// mostMarked is how many vents are marked one by one.
const mostMarked = 6

// together marks many vents by their heights: those that stand as high within a
// millimetre have one mark.
func together(all []Mark) (out []Mark) {
	vents := 0
	for _, m := range all {
		if m.Kind == "vent" {
			vents++
		}
	}
	if vents <= mostMarked {
		return all
	}
	type place struct {
		kind  string
		level int
	}
	type group struct{ at, n int }
	groups := map[place]*group{}
	for _, m := range all {
		if m.Kind != "vent" && m.Kind != "sprue" {
			out = append(out, m)
			continue
		}
		level := place{m.Kind, int(math.Round(m.Height))}
		if g := groups[level]; g != nil {
			if g.n++; m.Kind == "vent" {
				out[g.at].Label = fmt.Sprintf("%d vents", g.n)
			}
			continue
		}
		groups[level] = &group{len(out), 1}
		out = append(out, m)
	}
	return out
}

// Spaces are those of one cavity that a pour of rubber is followed in.
type Spaces struct {
	Inside func(up axis.Axis) (*fill.Space, error)
	Round  func(up axis.Axis, floor, headroom float64) (*fill.Space, error) // above a floor, along up
}

// Rubber follows one pour of a plan.
func Rubber(p mould.Plan, pour int, s Spaces) (Rise, error) {
	q := p.Pours[pour]
	r := begin(p, q.Name, q.Up)
	if !p.Known || p.Kind.Shelled || p.Kind.Halves && q.Name != "Half A" && q.Name != "Half B" {
		return r, nil
	}
	inside, err := s.Inside(q.Up)
	if err != nil {
		return r, err
	}
	floor := r.Floor // that the rubber is poured on
	side := 0.0      // of the parting: half A lies where the draw points
	if p.Kind.Halves {
		if side = 1; q.Name == "Half B" {
			side = -1
		}
		switch along := side * q.Up.Of(p.Design.Draw.Dir()); {
		case along > 0.5: // the parting lies level under this half
			floor = p.Parting.Height * side
		case along < -0.5:
			return r, nil // poured from the parting side: unusual, and left to the caster's eye
		}
	}
	r.rubberLevels(p, q, inside, floor, side)
	if floor >= r.Floor+r.PartHigh {
		return r, nil // the part does not reach into this half
	}
	space, err := s.Round(q.Up, floor, r.Top-r.PartHigh)
	if err != nil {
		return r, err
	}
	found, err := space.Trap(nil)
	if err != nil {
		return r, err
	}
	if floor > r.Floor+r.PartLow { // a hollow that the bed under this half closes off is the other half's
		found = found.Reached()
	}
	r.shutIn(space, found, func(p fill.Pocket) fill.Pocket {
		p.ApexHeight -= r.Floor
		p.SealHeight -= r.Floor
		return p
	}, gate.Visible)
	return r, nil
}

// rubberLevels is how much rubber lies below each height: what the box holds
// there less the parts, in proportion to what the pour takes in all.
func (r *Rise) rubberLevels(p mould.Plan, q kinds.Pour, inside *fill.Space, floor, side float64) {
	n := float64(p.Design.Cavities())
	var within func(x, y float64) bool
	share := 1.0 // of the box's section
	level := side == 0 || floor > r.Floor+1e-9 || side*q.Up.Of(p.Design.Draw.Dir()) > 0.5
	if !level {
		across := inside.Frame.In(p.Design.Draw.Dir())
		within = func(x, y float64) bool { return side*(across.X*x+across.Y*y-p.Parting.Height) > 0 }
		low, high := p.Design.Draw.Span(p.Box.Bounds)
		if share = (high - p.Parting.Height) / (high - low); side < 0 {
			share = 1 - share
		}
	}
	r.levels(inside, within)
	section := share * p.Box.Section(q.Up)
	if !q.Known || section == 0 {
		r.Volumes = nil
		return
	}
	parts := make([]float64, len(r.Volumes))
	copy(parts, r.Volumes)
	below := func(h float64) float64 { // parts below a height, read off the curve
		for i, z := range r.Heights {
			if z >= h {
				return parts[i]
			}
		}
		return parts[len(parts)-1]
	}
	from := floor - r.Floor
	for i, h := range r.Heights {
		r.Volumes[i] = 0
		if h > from {
			r.Volumes[i] = max(0, section*(h-from)-n*(parts[i]-below(from)))
		}
	}
	last := r.Volumes[len(r.Volumes)-1]
	for i := range r.Volumes {
		r.Volumes[i] *= q.Volume.Value * 1000 / max(last, 1e-9)
	}
}

// RubberFindings says where the rubber of a pour shuts in air as it rises.
func RubberFindings(r Rise) (out []finding.Finding) {
	const mostNamed = 8
	rest, more := 0.0, 0
	for i, pocket := range r.Pockets {
		if pocket.Volume < gate.Visible {
			continue
		}
		if i >= mostNamed {
			rest += pocket.Volume
			more++
			continue
		}
		at := pocket.Apex
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			Code: "rubber-shuts-in-air", What: fmt.Sprintf("The rubber of %s shuts in air under the part.",
				kinds.Small(r.Name)), Where: &at,
			Figure: finding.Of(quantity.Volume, pocket.Volume/1000), Limit: finding.Of(quantity.Volume, gate.Visible/1000),
			Why: "A bubble in the rubber becomes a lump on every casting. Brush rubber in there before pouring, or " +
				"turn the master.", Source: finding.CommonPractice})
	}
	if more > 0 {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould,
			Code: "rubber-shuts-in-more", What: fmt.Sprintf("The rubber of %s shuts in air in %s as well.", kinds.Small(r.Name),
				quantity.Plural(more, "smaller place", "smaller places")),
			Figure: finding.Of(
				quantity.Volume,
				rest/1000,
			), Why: "Brush undersides and recesses with rubber first.", Source: finding.CommonPractice})
	}
	return out
}

// Brushed is how many places a pour's rubber is brushed into beforehand, in
// all cavities.
func Brushed(r Rise, cavities int) (n int) {
	for _, pocket := range r.Pockets {
		if pocket.Volume >= gate.Visible {
			n += cavities
		}
	}
	return n
}

// AirBelow is the air that matters and is shut in by the time the level stands
// at a height, mm³.
func (r Rise) AirBelow(height float64) (sum float64) {
	for _, p := range r.Pockets {
		if p.SealHeight < height && p.Volume >= r.least {
			sum += p.Volume
		}
	}
	return sum
}

// Places are the drawn stretches of air: the low end in mesh coordinates and
// how high each reaches, with the pocket it belongs to.
func (r Rise) Places(yield func(low r3.Vec, tall float64, pocket int)) {
	for _, a := range r.Air {
		yield(r.AirFrame.Out(r3.Vec{X: a.X, Y: a.Y, Z: a.Lo}), a.Hi-a.Lo, int(a.Pocket))
	}
}
