// Package gate lays out the channels that let resin into the cavities of a
// mould and air out, and tells what air they leave shut in. They are bodies of
// the mould, see [channel.Body]; whatever speaks of them reads them here.
package gate

import (
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Vent is a thin channel from the part up to the top of the mould: straight,
// or round what stands over its foot.
type Vent struct {
	At    r3.Vec  // on the part, mesh coordinates, mm
	Bore  float64 // mm
	State design.VentState
	Rim   bool    // led to the rim of the well
	Cup   float64 // mm across the cup that it overflows into; 0 for none
	Cut   bool    // out of the rubber afterwards
}

// Choices are what the caster decides about the gates.
type Choices struct {
	Feed      practice.Feed
	SprueBore float64 // mm; the opening's bore when feeding from the top
	WellWidth float64 // mm at the rim
	WellDepth float64 // mm
	Vents     []Vent
	System    channel.System // by which a gang is fed; none for the proposal
	Foot      *r3.Vec        // where resin enters the part, mesh coordinates; nil for the proposal
	Shaft     *r3.Vec        // where the sprue stands, mesh coordinates; nil for the proposal
	Fault     Fault          // the smallest that the order does not bear
	Pressure  float64        // kPa over the air's, of the pot that castings set in; 0 for none

	SprueTop float64 // mm under the well at most; 0 for a straight sprue
	Section  design.Section
	Strip    float64 // mm
	Sump     float64 // mm deep, of the foot under the sprue; 0 for none
	Blind    float64 // mm long, of the blind channel; 0 for none
	Tilt     r3.Vec  // way up of the resin in a mould that stands out of level, mesh coordinates; none for level

	Webs   practice.Webs
	Stream float64 // mm across, as resin is poured

	Marks []Mark // faces that show, and faces to spare

	faces *Faces         // the same on the part; nil where nobody looked
	also  []fill.Opening // that let air out besides, see stood
}

// Check refuses bores that cannot be.
func (c Choices) Check() error {
	if c.Feed != practice.FeedLow && c.Feed != practice.FeedTop {
		return fmt.Errorf("the feed must be low or top, not %q", c.Feed)
	}
	for _, v := range []struct {
		name            string
		value, low, top float64
	}{{"sprue bore (mm)", c.SprueBore, 0.5, 200}, {"well width (mm)", c.WellWidth, 1, 300}, {"well depth (mm)", c.WellDepth, 0, 200}} {
		if err := practice.Within(v.name, v.value, v.low, v.top); err != nil {
			return err
		}
	}
	if len(c.Vents) > MostVents {
		return fmt.Errorf("%d vents are more than the %d that can be handled", len(c.Vents), MostVents)
	}
	for i, v := range c.Vents {
		if err := practice.Within(fmt.Sprintf("bore of vent %d (mm)", i+1), v.Bore, 0.1, 50); err != nil {
			return err
		}
	}
	return nil
}

// On are the choices for a part, with the faces that they mark on it.
func (c Choices) On(f *Faces) Choices {
	c.faces = f
	return c
}

// MostVents bounds what one design may hold.
const MostVents = 60

// Channel is one body of the mould, in the mesh coordinates of all cavities.
type Channel struct {
	channel.Body
	Volume derive.Number
	Foot   float64 // height of its first point over the mould floor, mm
	Top    float64 // height of its last
	Vent   int     // index into Choices.Vents, -1 for others
	Fills  bool    // with resin; a vent that is plugged beforehand does not
	Cut    bool    // out of the rubber afterwards; else a rod or a wire is cast in

	up r3.Vec
}

// Layout is the channels of a mould and the air that they leave shut in.
type Layout struct {
	Channels []Channel
	System   channel.System // in which resin runs
	Cavities []Cavity
	Known    bool    // the shape is known, so that the air means something
	Floor    float64 // height of the mould floor along the way up, mm
	Top      float64 // height of the mould's top over its floor, mm
	PartLow  float64 // of all parts, over the floor
	PartHigh float64
	Problems []VentProblem
	Faults   []Trouble
	Fault    Fault // pockets that do not matter are not spoken of

	home func(r3.Vec) r3.Vec // a place of the first cavity on the master
}

// Cavity is how one of them fills.
type Cavity struct {
	Low     float64 // of the part in it over the mould floor, mm
	Space   *fill.Space
	Air     *fill.Space  // the same as the mould stands for the resin: out of level where it is tilted
	Trapped fill.Trapped // in the master's mesh coordinates
	Course  fill.Course  // in which it fills; none where it is not fed from below
	Lost    []int        // vents that have no way out of it
	Like    int          // the first cavity in which the air is the same
}

// Over is a pocket with its heights over the mould floor: the mould as it is
// built, also where it is stood out of level for the resin.
func (c Cavity) Over(p fill.Pocket) fill.Pocket {
	rise := c.Low - c.Space.Low()
	if c.Air == c.Space {
		p.ApexHeight += rise
		p.SealHeight += rise
		return p
	}
	up := c.Space.Frame.Up
	under := (p.ApexHeight - p.SealHeight) / r3.Dot(up, c.Air.Frame.Up)
	p.ApexHeight = r3.Dot(up, p.Apex) + rise
	p.SealHeight = p.ApexHeight - under
	return p
}

// Levels is how it fills, level by level: over its sills in their order where
// it is fed from below.
func (c Cavity) Levels(low, high float64, n int) fill.Curve {
	if c.Course.Known() {
		return c.Course.Levels(low, high, n)
	}
	return c.Space.Levels(low, high, n, nil)
}

// VentProblem is a vent that opens nothing, or does not end as it was asked to.
type VentProblem struct {
	Vent int
	Err  error
}

// HeightOf is how high over the mould floor a place of the master lies in the
// first cavity, mm.
func (l Layout) HeightOf(p r3.Vec) float64 {
	c := l.Cavities[0]
	return r3.Dot(c.Space.Frame.Up, p) - c.Space.Low() + c.Low
}

// Air is what all cavities shut in, mL.
func (l Layout) Air() derive.Number {
	sum := 0.0
	var inputs []derive.Input
	for i, c := range l.Cavities {
		sum += c.Trapped.Volume / 1000
		inputs = append(
			inputs,
			derive.From(fmt.Sprintf("cavity %d", i+1), quantity.Volume, c.Trapped.Volume/1000, "trapped-air analysis"),
		)
	}
	return derive.Of(quantity.Volume, sum, "sum of the cavities' trapped air", inputs...)
}

// Trapped is the air of the first cavity.
func (l Layout) Trapped() fill.Trapped {
	if len(l.Cavities) == 0 {
		return fill.Trapped{}
	}
	return l.Cavities[0].Trapped
}

// Sectioned is the section that the channel has.
func (c Channel) Sectioned() design.Section {
	switch {
	case c.Half != (r3.Vec{}):
		return design.HalfRound
	case c.Flat != (r3.Vec{}):
		return design.Strip
	}
	return design.Round
}

// Named is how casters speak of a channel.
func (c Channel) Named(cavities int) string {
	name := string(c.Kind)
	switch {
	case c.Kind == channel.Blind:
		name = "blind channel"
	case c.Kind == channel.Sump:
		name = "foot of the sprue"
	case c.Kind == channel.Overflow:
		name = fmt.Sprintf("cup on vent %d", c.Vent+1)
	case c.Vent >= 0:
		name = fmt.Sprintf("vent %d", c.Vent+1)
	}
	if c.Cavity != channel.Shared && cavities > 1 {
		name += fmt.Sprintf(" of cavity %d", c.Cavity+1)
	}
	return name
}

// Scar is what the channels leave on the castings of a pull where they are cut
// off, cm².
func (l Layout) Scar() derive.Number {
	sum := 0.0
	var inputs []derive.Input
	for _, c := range l.Channels {
		if area := c.Body.Scar() / 100; area > 0 {
			sum += area
			inputs = append(inputs, derive.From(c.Named(len(l.Cavities)), quantity.Area, area, "π/4 × bore²"))
		}
	}
	return derive.Of(quantity.Area, sum, "sum of the channels' mouths", inputs...).
		Noted("Where a mouth meets the part aslant, the scar is the larger.")
}

// frustum is the volume of a cone cut off between radii a and b.
func frustum(a, b, h float64) float64 { return math.Pi * h * (a*a + a*b + b*b) / 3 }

// VolumeBelow is how much of the channel lies below a height over the mould
// floor, in mm³.
func (c Channel) VolumeBelow(height float64) float64 {
	full := c.Full()
	if full == 0 || !c.Fills {
		return 0
	}
	share := c.Volume.Value * 1000 / full // less what it leaves to others at its joints
	if c.Rim > 0 {                        // an upright cone
		low, high := min(c.Foot, c.Top), max(c.Foot, c.Top)
		h := max(0, min(height-low, high-low))
		if h == 0 {
			return 0
		}
		r, rim := c.Bore/2, c.Rim/2
		if c.Foot > c.Top { // its path leads down
			r, rim = rim, r
		}
		return share * frustum(r, r+(rim-r)*h/(high-low), h)
	}
	below := 0.0
	floor := r3.Dot(c.up, c.Path[0]) - c.Foot
	for i := 1; i < len(c.Path); i++ {
		length := r3.Norm(r3.Sub(c.Path[i], c.Path[i-1]))
		low, high := r3.Dot(c.up, c.Path[i-1])-floor, r3.Dot(c.up, c.Path[i])-floor
		low, high = min(low, high), max(low, high)
		switch {
		case height >= high:
			below += length
		case height > low:
			below += length * (height - low) / (high - low)
		}
	}
	return share * c.Section(c.Bore) * math.Pi / 4 * c.Bore * c.Bore * below
}

// of are the choices that mean something for a way in: vents go with a sprue.
func (c Choices) of(in kinds.Resin) Choices {
	if in != kinds.Sprued {
		c.Vents = nil
	}
	return c
}

// openings are what the choices open to the air in a space; vents that lie
// outside the part open nothing and come back as problems. Vents that are
// plugged before the pour, and those that are not cut yet, let nothing out.
func openings(space *fill.Space, c Choices) (open []fill.Opening, feet []r3.Vec, problems []VentProblem) {
	feet = make([]r3.Vec, len(c.Vents))
	for i, v := range c.Vents {
		o := fill.Opening{At: v.At, Bore: v.Bore}
		foot, err := space.Foot(o)
		feet[i] = foot
		if err != nil {
			problems = append(problems, VentProblem{i, err})
			feet[i] = r3.Vec{X: math.NaN()}
			continue
		}
		if v.State.Opens() {
			open = append(open, o)
		}
	}
	return open, feet, problems
}

// Open is what the choices open to the air in a space, however it stands;
// vents beside the part open nothing.
func Open(space *fill.Space, in kinds.Resin, c Choices) []fill.Opening {
	c = c.of(in).stood(space, in)
	return openedBy(space, c, c.Vents)
}

// openedBy is what lets air out of a cavity with these vents.
func openedBy(space *fill.Space, c Choices, vents []Vent) []fill.Opening {
	open, _, _ := openings(space, Choices{Vents: vents})
	return append(open, c.also...)
}

// stood are the choices for a space as it stands, with what opens its top: a
// broad mouth where resin is pressed or poured in, an opening for each of its
// spaces where it is fed from there.
func (c Choices) stood(space *fill.Space, in kinds.Resin) Choices {
	switch {
	case in != kinds.Sprued:
		low, high := plan(space)
		c.also = []fill.Opening{{At: highest(space, 1), Bore: max(high.X-low.X, high.Y-low.Y) / 4}}
	case c.Feed == practice.FeedTop:
		c.also = tops(space, c)
	}
	return c
}

func inFrame(b r3.Box, f grid.Frame) (low, high r3.Vec) {
	p, q := f.In(b.Min), f.In(b.Max)
	return r3.Vec{
			X: min(p.X, q.X),
			Y: min(p.Y, q.Y),
			Z: min(p.Z, q.Z),
		}, r3.Vec{
			X: max(p.X, q.X),
			Y: max(p.Y, q.Y),
			Z: max(p.Z, q.Z),
		}
}

func plan(space *fill.Space) (low, high r3.Vec) { return inFrame(space.Bounds(), space.Frame) }

// Of are the choices of a design.
func Of(d design.Design) Choices {
	c := Choices{
		Feed:      d.Feed,
		SprueBore: d.SprueBore,
		WellWidth: d.WellWidth,
		WellDepth: d.WellDepth,
		System:    channel.System(d.Runners),
	}
	for _, f := range d.Faces {
		c.Marks = append(c.Marks, Mark{At: f.At.Vec(), Show: f.Show})
	}
	for _, v := range d.Vents {
		c.Vents = append(c.Vents, Vent{At: v.At.Vec(), Bore: v.Bore, State: v.State, Rim: v.Rim, Cup: v.Cup, Cut: v.Cut})
	}
	c.SprueTop, c.Section, c.Strip = d.SprueTop, d.Section, d.Strip
	c.Sump, c.Blind = d.Sump, d.Blind
	if d.Tilt != nil && d.Tilt.Degrees > 0 {
		c.Tilt = d.Tilt.Up(d.ResinUp.Dir())
	}
	if d.Foot != nil {
		at := d.Foot.Vec()
		c.Foot = &at
	}
	if d.Shaft != nil {
		at := d.Shaft.Vec()
		c.Shaft = &at
	}
	return c
}
