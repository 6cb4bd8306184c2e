// Package mould plans the block of rubber round a master: the box, the
// parting and the two halves.
//
// For now a mould is a two-part block parted by a plane across the draw. Half
// A lies on the side that the draw points to and is poured first; the mould
// is then turned over and half B poured against it. Each rubber pour and the
// resin pour has its own way up.
package mould

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Attitudes are the ways up of the mould at each pour, apart from the draw.
type Attitudes struct {
	RubberA, RubberB part.Axis
	Resin            part.Axis
}

// Choices are what the caster decides about the mould.
type Choices struct {
	Draw      part.Axis // half A comes off this way
	Attitudes Attitudes
	Parting   *float64 // height along the draw, mm; nil follows the proposal
	Clearance practice.Clearance
}

// Plan is the mould that follows from the choices.
type Plan struct {
	Box        r3.Box // inside of the box, mesh coordinates, mm
	Length     derive.Number
	Width      derive.Number
	Height     derive.Number // along the way up of the first rubber pour
	Panels     []Panel
	Parting    float64 // height along the draw, mm
	Proposal   Proposal
	PartVolume derive.Number
	BoxVolume  derive.Number
	Halves     [2]Half
}

// Half is one piece of the mould.
type Half struct {
	Name   string
	Up     part.Axis
	Volume derive.Number // of rubber, mL
}

// Panel is a board to cut for the box.
type Panel struct {
	Name  string
	Count int
	A, B  derive.Number // sides, mm
}

// Make works out the mould of a master.
func Make(m part.Master, c Choices, h practice.House) (Plan, error) {
	draw, err := c.check()
	if err != nil {
		return Plan{}, err
	}
	if m.Volume() <= 0 {
		return Plan{}, part.ErrNoMaster
	}
	var p Plan
	p.Box = boxAround(m.Bounds(), c)
	p.Proposal = propose(m, draw, p.Box)
	p.Parting = p.Proposal.Height
	low, high := m.Span(draw)
	if c.Parting != nil {
		p.Parting = *c.Parting
		boxLow, boxHigh := spanOf(p.Box, draw)
		if math.IsNaN(p.Parting) || p.Parting <= boxLow || p.Parting >= boxHigh {
			return Plan{}, fmt.Errorf("the parting at %.4g mm lies outside the box, which reaches from %.4g to %.4g mm along the draw; the part reaches from %.4g to %.4g mm",
				p.Parting, boxLow, boxHigh, low, high)
		}
	}
	p.measure(m, c, h)
	p.split(m, draw, c)
	return p, nil
}

func (c Choices) check() (draw r3.Vec, err error) {
	for _, a := range []part.Axis{c.Attitudes.RubberA, c.Attitudes.RubberB, c.Attitudes.Resin, c.Draw} {
		if draw, err = a.Dir(); err != nil {
			return draw, err
		}
	}
	for _, v := range []struct {
		name  string
		value float64
	}{{"beside", c.Clearance.Beside}, {"below", c.Clearance.Below}, {"above", c.Clearance.Above}} {
		if err := practice.Within("clearance "+v.name+" (mm)", v.value, 0.5, 500); err != nil {
			return draw, err
		}
	}
	return draw, nil
}

// boxAround leaves the clearances round the part as the first half is poured.
func boxAround(b r3.Box, c Choices) r3.Box {
	side := r3.Vec{X: c.Clearance.Beside, Y: c.Clearance.Beside, Z: c.Clearance.Beside}
	low, high := side, side
	set := func(v *r3.Vec, axis byte, value float64) {
		switch axis {
		case 'x':
			v.X = value
		case 'y':
			v.Y = value
		case 'z':
			v.Z = value
		}
	}
	below, above := c.Clearance.Below, c.Clearance.Above
	if c.Attitudes.RubberA[0] == '-' {
		below, above = above, below
	}
	set(&low, c.Attitudes.RubberA[1], below)
	set(&high, c.Attitudes.RubberA[1], above)
	return r3.Box{Min: r3.Sub(b.Min, low), Max: r3.Add(b.Max, high)}
}

func spanOf(b r3.Box, dir r3.Vec) (low, high float64) {
	p, q := r3.Dot(dir, b.Min), r3.Dot(dir, b.Max)
	return min(p, q), max(p, q)
}

const clearanceSource = "this mould's clearances"

// measure works out the inside of the box and its panels.
func (p *Plan) measure(m part.Master, c Choices, h practice.House) {
	bounds := m.Bounds()
	size := r3.Sub(bounds.Max, bounds.Min)
	long, wide, tall := size.X, size.Y, size.Z
	switch c.Attitudes.RubberA[1] {
	case 'x':
		long, wide, tall = size.Y, size.Z, size.X
	case 'y':
		long, wide, tall = size.X, size.Z, size.Y
	}
	if wide > long {
		long, wide = wide, long
	}
	from := func(name string, v float64) derive.Input {
		return derive.From(name, quantity.Length, v, "the master")
	}
	gap := func(name string, v float64) derive.Input {
		return derive.From(name, quantity.Length, v, clearanceSource)
	}
	p.Length = derive.Of(quantity.Length, long+2*c.Clearance.Beside, "part's length + 2 × beside", from("part's length", long), gap("beside", c.Clearance.Beside))
	p.Width = derive.Of(quantity.Length, wide+2*c.Clearance.Beside, "part's width + 2 × beside", from("part's width", wide), gap("beside", c.Clearance.Beside))
	p.Height = derive.Of(quantity.Length, tall+c.Clearance.Below+c.Clearance.Above, "part's height + below + above",
		from("part's height", tall), gap("below", c.Clearance.Below), gap("above", c.Clearance.Above))

	board := derive.From("board", quantity.Length, h.PanelThick, "House practice")
	wall := derive.Of(quantity.Length, p.Height.Value+h.Freeboard, "box height + freeboard",
		p.Height.As("box height"), derive.From("freeboard", quantity.Length, h.Freeboard, "House practice"))
	outerWidth := derive.Of(quantity.Length, p.Width.Value+2*h.PanelThick, "box width + 2 × board", p.Width.As("box width"), board)
	outerLength := derive.Of(quantity.Length, p.Length.Value+2*h.PanelThick, "box length + 2 × board", p.Length.As("box length"), board)
	p.Panels = []Panel{
		{"long walls", 2, p.Length, wall},
		{"end walls, outside", 2, outerWidth, wall},
		{"base", 1, outerLength, outerWidth},
	}

	p.PartVolume = derive.Of(quantity.Volume, m.Volume()/1000, "volume of the master", derive.From("volume", quantity.Volume, m.Volume()/1000, m.VolumeSource()))
	if e := m.Report.VolumeError; m.Mesh != nil && e > 0 {
		p.PartVolume = p.PartVolume.Noted(fmt.Sprintf("the mesh has holes: right to within %.2g mL", e/1000))
	}
	p.BoxVolume = derive.Of(quantity.Volume, p.Length.Value*p.Width.Value*p.Height.Value/1000, "length × width × height",
		p.Length.As("length"), p.Width.As("width"), p.Height.As("height"))
}

// split shares the rubber between the halves.
func (p *Plan) split(m part.Master, draw r3.Vec, c Choices) {
	low, high := spanOf(p.Box, draw)
	across := p.BoxVolume.Value * 1000 / (high - low)
	partA, note := m.Volume()/2, "the shape is not known: half of the part is taken to lie in each half"
	source := "half of the measured volume"
	if m.Mesh != nil {
		partA, note = m.Mesh.VolumeAbove(draw, p.Parting), ""
		source = "the mesh, cut exactly at the parting"
	}
	parts := [2]float64{partA, m.Volume() - partA}
	depths := [2]float64{high - p.Parting, p.Parting - low}
	ups := [2]part.Axis{c.Attitudes.RubberA, c.Attitudes.RubberB}
	section := derive.Of(quantity.Number, across/100, "box volume / box depth along the draw, in cm²", p.BoxVolume.As("box volume"),
		derive.From("box depth along the draw", quantity.Length, high-low, "box and draw"))
	for i, name := range [2]string{"A", "B"} {
		volume := derive.Of(quantity.Volume, (across*depths[i]-parts[i])/1000, "section of the box × depth of the half − part in this half",
			section.As("section of the box (cm²)"),
			derive.From("depth of the half", quantity.Length, depths[i], "from the parting to the end of the box"),
			derive.From("part in this half", quantity.Volume, parts[i]/1000, source)).Noted(note)
		p.Halves[i] = Half{Name: name, Up: ups[i], Volume: volume}
	}
}

// Proposal is a parting that the shape suggests.
type Proposal struct {
	Height float64 // along the draw, mm
	Why    string
}

// sameSection is the relative difference below which two sections count as equal.
const sameSection = 5e-4

// levels at which the section of the part is measured for the proposal.
const levels = 256

// propose puts the parting where the section across the draw is greatest;
// where it is as great over a range, at the height that halves the rubber.
func propose(m part.Master, draw r3.Vec, box r3.Box) Proposal {
	low, high := m.Span(draw)
	if m.Mesh == nil {
		return Proposal{(low + high) / 2, "the shape is not known, so the middle"}
	}
	areas, above := sections(m.Mesh, draw, low, high)
	widest := 0.0
	for _, a := range areas {
		widest = max(widest, a)
	}
	boxLow, boxHigh := spanOf(box, draw)
	size := r3.Sub(box.Max, box.Min)
	across := size.X * size.Y * size.Z / (boxHigh - boxLow)
	best, bestOff, tied := 0, math.Inf(1), 0
	for i, a := range areas {
		if a < widest*(1-sameSection) {
			continue
		}
		tied++
		z := levelAt(low, high, i)
		upper := across*(boxHigh-z) - above[i]
		lower := across*(z-boxLow) - (m.Report.Volume - above[i])
		if off := math.Abs(upper - lower); off < bestOff {
			best, bestOff = i, off
		}
	}
	why := fmt.Sprintf("the outline across the draw is greatest here, %.4g cm²", widest/100)
	if tied > levels/20 {
		why = fmt.Sprintf("the outline across the draw is %.4g cm² over a range; here the rubber is shared evenly", widest/100)
	}
	return Proposal{levelAt(low, high, best), why}
}

func levelAt(low, high float64, i int) float64 {
	return low + (high-low)*(float64(i)+0.5)/levels
}

// sections returns at each level the area of the section and the volume above it.
func sections(m *mesh.Mesh, draw r3.Vec, low, high float64) (areas, above [levels]float64) {
	var plans, moments [levels + 1]float64 // of triangles wholly above level i-1
	step := (high - low) / levels
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		plan := r3.Dot(draw, r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
		ha, hb, hc := r3.Dot(draw, a), r3.Dot(draw, b), r3.Dot(draw, c)
		bottom, top := min(ha, hb, hc), max(ha, hb, hc)
		first := int(math.Ceil((bottom-low)/step - 0.5)) // first level not below the triangle's lowest corner
		first = max(0, min(first, levels))
		plans[first] += plan
		moments[first] += plan * (ha + hb + hc) / 3
		for i := first; i < levels; i++ {
			z := levelAt(low, high, i)
			if z >= top {
				break
			}
			areas[i] += mesh.PlanAbove(plan, ha-z, hb-z, hc-z)
			above[i] += mesh.PrismAbove(plan, ha-z, hb-z, hc-z)
		}
	}
	var plan, moment float64
	for i := levels - 1; i >= 0; i-- {
		plan += plans[i+1]
		moment += moments[i+1]
		areas[i] += plan
		above[i] += moment - plan*levelAt(low, high, i)
	}
	return areas, above
}

// Bed is how high the bed of clay, or the parting board, stands in the box
// while half A is poured, in mm; 0 where the box lies another way then and no
// level mark can be drawn.
func (p Plan) Bed(c Choices) float64 {
	if c.Attitudes.RubberA != c.Draw {
		return 0
	}
	draw, err := c.Draw.Dir()
	if err != nil {
		return 0
	}
	low, _ := spanOf(p.Box, draw)
	return p.Parting - low
}
