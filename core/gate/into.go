package gate

import (
	"context"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/memo"
	"bathyform/core/mould"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Mould is what gates are laid into: masters in their places in a box.
type Mould struct {
	Master   *channel.Master
	Known    bool // the master's shape; else it is the block of its measures
	Places   []func(r3.Vec) r3.Vec
	Low      r3.Vec // of the box, in the frame of its way up
	High     r3.Vec
	Round    float64       // the box's diameter about its middle, 0 where it is square
	Grows    bool          // the box grows for its channels
	Up       r3.Vec        // as the resin comes in
	Draw     r3.Vec        // the parting lies across it
	Parting  float64       // height along the draw, mm
	Parted   bool          // it has a parting
	Resin    kinds.Resin   // how resin comes in
	Cavity   derive.Number // mL of one
	Clear    float64       // mm of rubber between a channel and a part
	Between  float64       // mm of rubber between two channels
	Wall     float64       // mm of rubber between a channel and the wall
	Standing func(ctx context.Context, up r3.Vec) (*fill.Space, error)

	stand *channel.Stand            // instead of Places, where that is at hand
	Ends  *memo.Memo[End, []r3.Vec] // where gates meet the part, once that is known; nil where nobody remembers
}

// End is what decides where gates meet a part.
type End struct {
	Up, Draw      r3.Vec // no draw where the parting does not stand upright
	Parting, Bore float64
	Marks         string // faces that show and to spare
}

// Boxed is the mould in a box of mesh coordinates.
func (m Mould) Boxed(b r3.Box) Mould {
	if frame, err := grid.NewFrame(m.Up); err == nil {
		m.Low, m.High = inFrame(b, frame)
		if m.Round > 0 {
			m.Round = m.High.X - m.Low.X
		}
	}
	return m
}

// The rubber that channels are laid with, mm. Common practice, no source.
const (
	Off     = 5.0 // to a part
	Between = 1.5 // to another channel
	Wall    = 4.0 // to the wall of the box
)

// Widths of the channels against the sprue's and the part. All common
// practice, no source.
const (
	runnerShare = 0.75  // of the sprue's bore
	runnerGates = 1.5   // of the gate's, at most
	gateShare   = 0.625 // of the sprue's bore: it is cut off
	gateOfPart  = 0.25  // of the side of a cube as large as the part, at most
	leastGate   = 1.0   // mm
	sprueGates  = 2.0   // of the gate's, at most, where it is proposed
)

// gateOf is how wide the gate of a part of a volume in mm³ is behind a sprue.
func gateOf(sprue, volume float64) float64 {
	return min(gateShare*sprue, max(leastGate, gateOfPart*math.Cbrt(volume)))
}

// SprueOf is the bore of a sprue for a part of a volume in mm³, by the house's.
func SprueOf(h practice.House, volume float64) float64 {
	return min(h.SprueBore, sprueGates*gateOf(h.SprueBore, volume))
}

// feed is the choices' way in for parts of a volume in mm³.
func (c Choices) feed(volume float64) channel.Feed {
	gate := gateOf(c.SprueBore, volume)
	return channel.Feed{Sprue: c.SprueBore, Gate: gate, Runner: min(runnerShare*c.SprueBore, runnerGates*gate), Rim: c.WellWidth,
		Depth: c.WellDepth, System: c.System}
}

// Scaled is by how much a channel's bore changes with a sprue's, for parts of a
// volume in mm³: runners and gates go with it up to what the part bears.
func Scaled(k channel.Kind, from, to, volume float64) float64 {
	one, other := Choices{SprueBore: from}.feed(volume), Choices{SprueBore: to}.feed(volume)
	switch k {
	case channel.Gate:
		return other.Gate / one.Gate
	case channel.Runner:
		return other.Runner / one.Runner
	}
	return to / from
}

// Rung is the gap between rows of parts of a volume in mm³ that stand over one
// another, so that a runner lies between them.
func (c Choices) Rung(volume float64) float64 { return 2*Off + c.feed(volume).Runner }

// Pass is the gap between parts side by side through which two vents of a bore
// come up from those below.
func Pass(vent float64) float64 { return 2*Off + 2*vent + Between }

// Trouble is what stands against the channels as they were asked for.
type Trouble struct {
	Err  error   // there is no such way in, and another was laid
	Body int     // else what runs too near to a part
	Part int     // and which one
	At   r3.Vec  // mesh coordinates
	Gap  float64 // mm of rubber between them, negative inside
}

// Fed is the way in of a mould, from the well to the parts, as it stands in the
// frame of its way up.
type Fed struct {
	Frame   grid.Frame
	Bodies  []channel.Body
	Volumes []float64 // mm³, by body: what two hold at their joint counts once
	System  channel.System
	Trouble []Trouble
	wall    float64
}

// Holds are the boxes round the channels with the rubber round them that a mould
// must have room for, in mesh coordinates; upwards they are open.
func (f Fed) Holds() []r3.Box { return f.boxes(f.wall) }

// Takes are the same without any rubber.
func (f Fed) Takes() []r3.Box { return f.boxes(0) }

func (f Fed) boxes(wall float64) (out []r3.Box) {
	for _, b := range f.Bodies {
		low, high := b.Bounds()
		high.Z = math.Inf(-1)
		for _, p := range b.Path {
			high.Z = max(high.Z, p.Z)
		}
		side := r3.Vec{X: wall, Y: wall}
		p, q := f.Frame.Out(r3.Sub(low, r3.Add(side, r3.Vec{Z: wall}))), f.Frame.Out(r3.Add(high, side))
		out = append(out, r3.Box{Min: r3.Vec{X: min(p.X, q.X), Y: min(p.Y, q.Y), Z: min(p.Z, q.Z)},
			Max: r3.Vec{X: max(p.X, q.X), Y: max(p.Y, q.Y), Z: max(p.Z, q.Z)}})
	}
	return out
}

// room is the mould as channels are led through it.
func (m Mould) room() (*channel.Room, grid.Frame, error) {
	frame, err := grid.NewFrame(m.Up)
	if err != nil {
		return nil, frame, err
	}
	stand := m.stand
	if stand == nil {
		if stand, err = channel.NewStand(m.Master, m.Up); err != nil {
			return nil, frame, err
		}
		for _, placed := range m.Places {
			if err := stand.Put(func(p r3.Vec) r3.Vec { return frame.In(placed(p)) }); err != nil {
				return nil, frame, err
			}
		}
	}
	r := &channel.Room{Stand: stand, Low: m.Low, High: m.High, Round: m.Round, Clear: m.Clear, Wall: m.Wall, Between: m.Between,
		Grows: m.Grows}
	if d := frame.In(m.Draw); m.Parted && math.Abs(d.Z) < 0.5 {
		r.Sheet = &channel.Sheet{AlongX: math.Abs(d.Y) > 0.5, At: m.Parting * math.Copysign(1, d.X+d.Y)}
	}
	return r, frame, nil
}

// off is how far a point of the mesh lies off an upright parting; nil where
// there is none. Cavities lie side by side in it, so that it is the same for all.
func (m Mould) off(r *channel.Room) func(r3.Vec) float64 {
	if r.Sheet == nil {
		return nil
	}
	return func(p r3.Vec) float64 { return math.Abs(r3.Dot(m.Draw, p) - m.Parting) }
}

// Lead leads resin in.
func (m Mould) Lead(ctx context.Context, c Choices) (Fed, error) {
	out, err := m.lead(ctx, c)
	out.Volumes = channel.Volumes(out.Bodies)
	return out, err
}

func (m Mould) lead(ctx context.Context, c Choices) (Fed, error) {
	if err := c.Check(); err != nil {
		return Fed{}, err
	}
	r, frame, err := m.room()
	out := Fed{Frame: frame, wall: m.Wall}
	switch {
	case err != nil || m.Resin == kinds.Poured:
		return out, err
	case m.Resin == kinds.Pressed:
		out.Bodies, out.System = m.blind(r), channel.Each
		out.judge(r)
		return out, nil
	}
	if c.Feed == practice.FeedTop {
		return out, m.fromTop(ctx, r, c, &out)
	}
	f := c.feed(m.Cavity.Value * 1000)
	all, err := m.feet(ctx, r, c, f.Gate, &out)
	if err != nil {
		return out, err
	}
	if c.Shaft != nil {
		at := frame.In(*c.Shaft)
		f.At, f.Forced = &[2]float64{at.X, at.Y}, true
	}
	out.Bodies, out.System, err = r.Under(f, all)
	if err != nil { // as it was asked for there is no room: something is laid all the same, and that is told
		out.Trouble = append(out.Trouble, Trouble{Err: err})
		grown := *r
		grown.Grows, grown.Round, f.System, f.At, f.Forced = true, 0, "", nil, false
		if out.Bodies, out.System, err = grown.Under(f, all); err != nil {
			f.Forced = true
			out.Bodies, out.System, err = grown.Under(f, all)
		}
	}
	if err == nil && (c.Shaft != nil || c.Foot != nil || f.Forced) {
		out.judge(r)
	}
	if len(m.Places) == 1 {
		out.System = channel.Each
	}
	return out, err
}

// feet are where gates meet the parts in all places, in the frame.
func (m Mould) feet(ctx context.Context, r *channel.Room, c Choices, bore float64, out *Fed) (all []channel.Foot, err error) {
	for i := range r.Places {
		up := r.Places[i].Up()
		space, err := m.Standing(ctx, up)
		if err != nil {
			return nil, err
		}
		e := End{Up: up, Bore: bore, Marks: fmt.Sprint(c.Marks)}
		if r.Sheet != nil {
			e.Draw, e.Parting = m.Draw, m.Parting
		}
		at, err := m.end(ctx, e, func() []r3.Vec { return feet(space, bore, m.off(r), c.faces) })
		if err != nil {
			return nil, err
		}
		if at, err = led(space, at, c.Foot, bore); err != nil && i == 0 {
			out.Trouble = append(out.Trouble, Trouble{Err: fmt.Errorf("the foot of the sprue: %w", err)})
		}
		for _, p := range at {
			all = append(all, channel.Foot{Cavity: i, At: r.Box(i, p)})
		}
	}
	return all, nil
}

// end is where gates meet the part, as it was found before or anew.
func (m Mould) end(ctx context.Context, e End, find func() []r3.Vec) ([]r3.Vec, error) {
	if m.Ends == nil {
		return find(), nil
	}
	return m.Ends.Get(ctx, e, func(context.Context) ([]r3.Vec, error) { return find(), nil })
}

// judge says which bodies run through parts, or too near to one.
func (f *Fed) judge(r *channel.Room) {
	for i, b := range f.Bodies {
		if part, at, gap := r.Closest(b, thinRubber); gap < thinRubber-1e-3 {
			f.Trouble = append(f.Trouble, Trouble{Body: i, Part: part, At: f.Frame.Out(at), Gap: gap})
		}
	}
}

// fromTop gives each cavity an opening at the high end of each of its spaces.
func (m Mould) fromTop(ctx context.Context, r *channel.Room, c Choices, out *Fed) error {
	out.System = channel.Each
	for i := range r.Places {
		space, err := m.Standing(ctx, r.Places[i].Up())
		if err != nil {
			return err
		}
		for _, o := range tops(space, c) {
			if err := fromTop(r, i, o, c); err != nil {
				out.Trouble = append(
					out.Trouble,
					Trouble{Err: fmt.Errorf("the opening of cavity %d: %w", i+1, err), At: out.Frame.Out(r.Box(i, o.At))},
				)
			}
		}
	}
	out.Bodies = r.Bodies
	return nil
}

// deepest is the share of the way from a part to the top that a well over it
// may take.
const deepest = 0.8

// fromTop leads an opening of a cavity up into a well of its own; straight up
// where there is no other way.
func fromTop(r *channel.Room, i int, o fill.Opening, c Choices) error {
	b, err := r.Rise(channel.Sprue, i, r.Box(i, o.At), o.Bore)
	last := len(b.Path) - 1
	neck, mouth, before := b.Path[last], b.Path[last], b.Path[last-1]
	depth := min(c.WellDepth, deepest*(mouth.Z-before.Z))
	neck.Z -= depth
	if upright := math.Hypot(before.X-mouth.X, before.Y-mouth.Y) < 1e-6; upright && depth > 0 {
		b.Path[last] = neck
		r.Bodies = append(r.Bodies, channel.Body{Kind: channel.Well, Cavity: i, Bore: o.Bore, Rim: max(o.Bore, c.WellWidth),
			Path: []r3.Vec{neck, mouth}})
	}
	r.Bodies = append(r.Bodies, b)
	return err
}

// Lay adds the vents of every cavity to a way in, and finds the air that is
// left in each.
func (m Mould) Lay(ctx context.Context, c Choices, fed Fed) (Layout, error) {
	r, _, err := m.room()
	if err != nil {
		return Layout{}, err
	}
	return m.into(ctx, r, c, fed)
}

// into lays the channels into a room, which has them afterwards.
func (m Mould) into(ctx context.Context, r *channel.Room, c Choices, fed Fed) (Layout, error) {
	c = c.of(m.Resin)
	var err error
	l := Layout{System: fed.System, Known: m.Known, Fault: c.Fault, Floor: r.Low.Z, Top: r.High.Z - r.Low.Z, Faults: fed.Trouble,
		PartLow: math.Inf(1), PartHigh: math.Inf(-1)}
	r.Bodies = append(r.Bodies, fed.Bodies...)
	if len(r.Places) > 0 {
		l.home = func(p r3.Vec) r3.Vec { return r.Mesh(0, fed.Frame.In(p)) }
	}
	vents := make([]int, len(r.Bodies))
	for i := range vents {
		vents[i] = -1
	}
	type class struct {
		up   r3.Vec
		lost string
	}
	first := map[class]int{}
	for i := range r.Places {
		place := &r.Places[i]
		l.PartLow, l.PartHigh = min(l.PartLow, place.Low()-l.Floor), max(l.PartHigh, place.High()-l.Floor)
		cavity := Cavity{Low: place.Low() - l.Floor, Like: i}
		if cavity.Space, err = m.Standing(ctx, place.Up()); err != nil {
			return l, err
		}
		here := c.stood(cavity.Space, m.Resin)
		if !m.Known {
			l.Cavities = append(l.Cavities, cavity)
			continue
		}
		_, feet, problems := openings(cavity.Space, here)
		l.Problems = problems // the same for all
		var open []Vent
		for k, foot := range feet {
			if math.IsNaN(foot.X) || !here.Vents[k].State.There() {
				continue
			}
			b, err := r.Rise(channel.Vent, i, r.Box(i, foot), here.Vents[k].Bore)
			if err != nil {
				cavity.Lost = append(cavity.Lost, k)
				continue
			}
			r.Bodies, vents = append(r.Bodies, b), append(vents, k)
			if here.Vents[k].State.Opens() {
				open = append(open, here.Vents[k])
			}
		}
		key := class{place.Up(), fmt.Sprint(cavity.Lost)}
		if k, ok := first[key]; ok {
			cavity.Like, cavity.Trapped = k, l.Cavities[k].Trapped
		} else {
			first[key] = i
			if cavity.Trapped, err = cavity.Space.Trap(openedBy(cavity.Space, here, open)); err != nil {
				return l, err
			}
		}
		l.Cavities = append(l.Cavities, cavity)
		if err := ctx.Err(); err != nil {
			return l, err
		}
	}
	l.take(fed, r.Bodies, vents, c.Vents)
	return l, nil
}

// take makes the channels of the bodies.
func (l *Layout) take(fed Fed, bodies []channel.Body, vents []int, of []Vent) {
	frame := fed.Frame
	for i, b := range bodies {
		volume := b.Full() // vents join nothing
		if i < len(fed.Volumes) {
			volume = fed.Volumes[i]
		}
		c := Channel{Body: b, Vent: vents[i], up: frame.Up, Fills: vents[i] < 0 || of[vents[i]].State.Opens(),
			Foot: b.Path[0].Z - l.Floor, Top: b.Path[len(b.Path)-1].Z - l.Floor, Volume: held(b, volume)}
		c.Path = make([]r3.Vec, len(b.Path))
		for k, p := range b.Path {
			c.Path[k] = frame.Out(p)
		}
		c.Half = frame.Out(b.Half)
		l.Channels = append(l.Channels, c)
	}
}

// held is what a body holds besides what others hold at its joints, mL.
func held(b channel.Body, volume float64) derive.Number {
	length := derive.From("length", quantity.Length, b.Length(), "of its way")
	inputs := []derive.Input{derive.From("bore", quantity.Length, b.Bore, "this design"), length}
	formula := "π/4 × bore² × length"
	if b.Half != (r3.Vec{}) {
		formula = "π/8 × bore² × length, half round"
	}
	if b.Rim > 0 {
		formula = "π × length × (bore² + bore × rim + rim²) / 12"
		inputs = append(inputs, derive.From("rim", quantity.Length, b.Rim, "this design"))
	}
	if shared := b.Full() - volume; shared > 1e-9*volume {
		formula += " − what is counted with another at their joint"
		inputs = append(inputs, derive.From("at the joint", quantity.Volume, shared/1000, "where it grows out of the other's middle"))
	}
	return derive.Of(quantity.Volume, volume/1000, formula, inputs...)
}

// Rods are what leaves the channels in the rubber.
func (l Layout) Rods() (out []mould.Rod) {
	for _, c := range l.Channels {
		out = append(out, mould.Rod{Name: c.Named(len(l.Cavities)), Volume: c.Volume,
			Bore: pieces.Bore{Path: c.Path, Wide: c.Bore, Rim: c.Rim, Half: c.Half, Volume: c.Volume.Value * 1000}})
	}
	return out
}

// Places are the places of a plan's cavities.
func Places(c mould.Cavities) (out []func(r3.Vec) r3.Vec) {
	for _, pose := range c.Poses {
		out = append(out, func(p r3.Vec) r3.Vec { return c.Place(p, pose) })
	}
	return out
}
