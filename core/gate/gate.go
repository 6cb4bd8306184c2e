// Package gate lays out the channels that let resin into a cavity and air
// out, and tells what air they leave shut in.
package gate

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Vent is a thin channel from the part straight up to the top of the mould.
type Vent struct {
	At   r3.Vec  // on the part, mesh coordinates, mm
	Bore float64 // mm
}

// Choices are what the caster decides about the gates.
type Choices struct {
	Feed      practice.Feed
	SprueBore float64 // mm; the opening's bore when feeding from the top
	WellWidth float64 // mm at the rim
	WellDepth float64 // mm
	Vents     []Vent
	Fault     Fault   // the smallest that the order does not bear
	Pressure  float64 // kPa over the air's, of the pot that castings set in; 0 for none

	also []fill.Opening // that let air out besides
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

// WellWall is the rubber that a well keeps between its rim and the wall of
// the box, mm. Common practice, no source.
const WellWall = 3.0

// MostVents bounds what one design may hold.
const MostVents = 60

// ChannelKind says what a channel is for.
type ChannelKind string

// The channels of a mould.
const (
	Sprue    ChannelKind = "sprue"
	WellKind ChannelKind = "well"
	VentKind ChannelKind = "vent"
)

// Channel is one run of round bore. A well is a cone from Bore at its foot to
// Rim at the top of the mould.
type Channel struct {
	Kind   ChannelKind
	Path   []r3.Vec // mesh coordinates, from the part (or the well's foot) outwards
	Bore   float64
	Rim    float64 // of a well, mm; 0 for others
	Volume derive.Number
	Foot   float64 // height of the first point over the mould floor, mm
	Top    float64 // height of its upper end
	Vent   int     // index into Choices.Vents, -1 for others
}

// Mould is what gates are laid into.
type Mould struct {
	Box     r3.Box        // mesh coordinates
	Draw    r3.Vec        // the parting lies across it
	Parting float64       // height along the draw, mm
	Resin   kinds.Resin   // how resin comes in
	Cavity  derive.Number // mL
}

// Layout is the channels of a mould and the air that they leave shut in, for
// one cavity.
type Layout struct {
	Channels []Channel
	Blind    *derive.Number // mL of the blind channel that a squeeze mould presses into
	Trapped  fill.Trapped
	Known    bool    // the shape is known, so Trapped means something
	Floor    float64 // height of the mould floor along the way up, mm
	Top      float64 // height of the mould's top over its floor, mm
	PartLow  float64 // over the floor
	PartHigh float64
	Problems []VentProblem
	Fault    Fault // pockets that do not matter are not spoken of
}

// VentProblem is a vent that opens nothing.
type VentProblem struct {
	Vent int
	Err  error
}

// Openings are what the choices open to the air; vents that lie outside the
// part open nothing and come back as problems.
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
		open = append(open, o)
	}
	return open, feet, problems
}

// Lay places the channels in a mould for the cavity as it is poured and finds
// the air left in. An upright parting keeps the sprue. What is pressed or
// poured into the open face has no sprue, and gives its air off at the top.
func Lay(space *fill.Space, m Mould, c Choices) (Layout, error) {
	if err := c.Check(); err != nil {
		return Layout{}, err
	}
	l := frameOf(m.Box, space.Frame.Up)
	l.Known, l.Fault = true, c.Fault
	l.PartLow, l.PartHigh = space.Low()-l.Floor, space.High()-l.Floor
	c = c.of(m.Resin)
	open, feet, problems := openings(space, c)
	l.Problems = problems
	switch {
	case m.Resin != kinds.Sprued:
		open = append(open, l.openTop(space, m))
	case c.Feed == practice.FeedTop:
		apex := topOpening(space, c.SprueBore)
		open = append(open, fill.Opening{At: apex, Bore: c.SprueBore})
		l.addFeed(space.Frame, []r3.Vec{apex}, m.Box, c)
	default:
		l.addFeed(space.Frame, lowPath(space, m.Draw, m.Parting, c.SprueBore), m.Box, c)
	}
	for i, foot := range feet {
		if !math.IsNaN(foot.X) {
			l.addVent(space.Frame, foot, c.Vents[i], i)
		}
	}
	var err error
	l.Trapped, err = space.Trap(open)
	return l, err
}

// of are the choices that mean something for a way in: vents go with a sprue.
func (c Choices) of(in kinds.Resin) Choices {
	if in != kinds.Sprued {
		c.Vents = nil
	}
	return c
}

// openTop is the way out of a mould without a sprue.
func (l *Layout) openTop(space *fill.Space, m Mould) fill.Opening {
	if m.Resin == kinds.Pressed {
		blind := kinds.Blind(m.Cavity)
		l.Blind = &blind
	}
	low, high := plan(space)
	return fill.Opening{At: topOpening(space, 1), Bore: max(high.X-low.X, high.Y-low.Y) / 4}
}

// LayByMeasure places a sprue and a well for a master of which no more than
// its bounds are known.
func LayByMeasure(bounds r3.Box, m Mould, up r3.Vec, c Choices) (Layout, error) {
	box := m.Box
	c.Vents = nil
	if err := c.Check(); err != nil {
		return Layout{}, err
	}
	frame, err := grid.NewFrame(up)
	if err != nil {
		return Layout{}, err
	}
	l := frameOf(box, frame.Up)
	low, high := r3.Dot(up, bounds.Min), r3.Dot(up, bounds.Max)
	low, high = min(low, high), max(low, high)
	l.PartLow, l.PartHigh = low-l.Floor, high-l.Floor
	if m.Resin != kinds.Sprued {
		if m.Resin == kinds.Pressed {
			blind := kinds.Blind(m.Cavity)
			l.Blind = &blind
		}
		return l, nil
	}
	middle := frame.In(bounds.Center())
	foot := middle
	if c.Feed == practice.FeedTop {
		foot.Z = high
		l.addFeed(frame, []r3.Vec{frame.Out(foot)}, box, c)
		return l, nil
	}
	l.addFeed(frame, measuredPath(frame, bounds, c.SprueBore), box, c)
	return l, nil
}

func frameOf(box r3.Box, up r3.Vec) Layout {
	a, b := r3.Dot(up, box.Min), r3.Dot(up, box.Max)
	return Layout{Floor: min(a, b), Top: math.Abs(b - a)}
}

// addFeed adds the sprue along path, straight up from its last point, and the
// well that it opens into.
func (l *Layout) addFeed(f grid.Frame, path []r3.Vec, box r3.Box, c Choices) {
	last := f.In(path[len(path)-1])
	room := l.Top - (last.Z - l.Floor)
	depth := min(c.WellDepth, 0.8*room)
	wellFoot := last
	wellFoot.Z = l.Floor + l.Top - depth
	path = append(path, f.Out(wellFoot))
	var length float64
	for i := 1; i < len(path); i++ {
		length += r3.Norm(r3.Sub(path[i], path[i-1]))
	}
	foot := f.In(path[0]).Z - l.Floor
	bore := derive.From("bore", quantity.Length, c.SprueBore, "this design")
	l.Channels = append(l.Channels, Channel{
		Kind: Sprue, Path: path, Bore: c.SprueBore, Foot: foot, Top: l.Top - depth, Vent: -1,
		Volume: derive.Of(quantity.Volume, math.Pi/4*c.SprueBore*c.SprueBore*length/1000, "π/4 × bore² × length",
			bore, derive.From("length", quantity.Length, length, "from the part to the foot of the well")),
	})
	if depth <= 0 {
		return
	}
	rim := max(c.WellWidth, c.SprueBore)
	top := wellFoot
	top.Z = l.Floor + l.Top
	if wellFoot.Z >= l.Floor+l.PartHigh { // clear of the part it may lean over it, away from the wall
		low, high := inFrame(box, f)
		room := rim/2 + WellWall
		top.X = max(min(low.X+room, (low.X+high.X)/2), min(max(high.X-room, (low.X+high.X)/2), top.X))
		top.Y = max(min(low.Y+room, (low.Y+high.Y)/2), min(max(high.Y-room, (low.Y+high.Y)/2), top.Y))
	}
	l.Channels = append(l.Channels, Channel{
		Kind: WellKind, Path: []r3.Vec{f.Out(wellFoot), f.Out(top)}, Bore: c.SprueBore, Rim: rim, Foot: l.Top - depth, Top: l.Top, Vent: -1,
		Volume: derive.Of(quantity.Volume, frustum(c.SprueBore/2, rim/2, depth)/1000, "π × depth × (r² + r × R + R²) / 3",
			derive.From("depth", quantity.Length, depth, "this design, at most 0.8 of the way to the top"),
			derive.From("r, half the bore", quantity.Length, c.SprueBore/2, "this design"),
			derive.From("R, half the rim", quantity.Length, rim/2, "this design")),
	})
}

func (l *Layout) addVent(f grid.Frame, foot r3.Vec, v Vent, index int) {
	top := f.In(foot)
	height := top.Z - l.Floor
	top.Z = l.Floor + l.Top
	l.Channels = append(l.Channels, Channel{
		Kind: VentKind, Path: []r3.Vec{foot, f.Out(top)}, Bore: v.Bore, Foot: height, Top: l.Top, Vent: index,
		Volume: derive.Of(quantity.Volume, math.Pi/4*v.Bore*v.Bore*(l.Top-height)/1000, "π/4 × bore² × (top − foot)",
			derive.From("bore", quantity.Length, v.Bore, "this design"),
			derive.From("top", quantity.Length, l.Top, "top of the mould over its floor"),
			derive.From("foot", quantity.Length, height, "where the vent leaves the part")),
	})
}

// Scar is what the channels leave on a casting where they are cut off, cm².
func (l Layout) Scar() derive.Number {
	sum := 0.0
	var inputs []derive.Input
	for _, c := range l.Channels {
		if c.Kind == WellKind {
			continue
		}
		area := math.Pi / 4 * c.Bore * c.Bore / 100
		sum += area
		name := string(c.Kind)
		if c.Vent >= 0 {
			name = fmt.Sprintf("vent %d", c.Vent+1)
		}
		inputs = append(inputs, derive.From(name, quantity.Area, area, "π/4 × bore²"))
	}
	return derive.Of(quantity.Area, sum, "sum of the channels' mouths", inputs...).
		Noted("Where a mouth meets the part aslant, the scar is the larger.")
}

// frustum is the volume of a cone cut off between radii a and b.
func frustum(a, b, h float64) float64 { return math.Pi * h * (a*a + a*b + b*b) / 3 }

// VolumeBelow is how much of the channel lies below a height over the mould
// floor, in mm³.
func (c Channel) VolumeBelow(height float64) float64 {
	if c.Rim > 0 {
		h := max(0, min(height-c.Foot, c.Top-c.Foot))
		if h == 0 {
			return 0
		}
		r, rim := c.Bore/2, c.Rim/2
		return frustum(r, r+(rim-r)*h/(c.Top-c.Foot), h)
	}
	below, whole := 0.0, 0.0
	up := c.up()
	foot := r3.Dot(up, c.Path[0])
	for i := 1; i < len(c.Path); i++ {
		length := r3.Norm(r3.Sub(c.Path[i], c.Path[i-1]))
		low, high := r3.Dot(up, c.Path[i-1])-foot+c.Foot, r3.Dot(up, c.Path[i])-foot+c.Foot
		low, high = min(low, high), max(low, high)
		whole += length
		switch {
		case height >= high:
			below += length
		case height > low:
			below += length * (height - low) / (high - low)
		}
	}
	if whole == 0 {
		return 0
	}
	return c.Volume.Value * 1000 * below / whole
}

// up is the way up along which the channel goes from its last bend on.
func (c Channel) up() r3.Vec {
	last := len(c.Path) - 1
	return r3.Unit(r3.Sub(c.Path[last], c.Path[last-1]))
}

// Open is what the choices open to the air in a space, however it stands;
// vents beside the part open nothing.
func Open(space *fill.Space, in kinds.Resin, c Choices) []fill.Opening {
	open, _, _ := openings(space, c.of(in))
	switch {
	case in != kinds.Sprued:
		var l Layout
		open = append(open, l.openTop(space, Mould{}))
	case c.Feed == practice.FeedTop:
		open = append(open, fill.Opening{At: topOpening(space, c.SprueBore), Bore: c.SprueBore})
	}
	return open
}

// Of are the choices of a design.
func Of(d design.Design) Choices {
	c := Choices{Feed: d.Feed, SprueBore: d.SprueBore, WellWidth: d.WellWidth, WellDepth: d.WellDepth}
	for _, v := range d.Vents {
		c.Vents = append(c.Vents, Vent{At: v.At.Vec(), Bore: v.Bore})
	}
	return c
}
