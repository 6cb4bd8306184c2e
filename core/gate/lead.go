package gate

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

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
	if c.Shaft != nil {
		at := frame.In(*c.Shaft)
		f.At, f.Forced = &[2]float64{at.X, at.Y}, true
	}
	err = m.under(ctx, r, c, f, &out)
	if f.Top > f.Sprue && !r.Grows && len(out.Trouble) > 0 && errors.Is(out.Trouble[0].Err, channel.ErrNoShaft) {
		low, high := f.Sprue, f.Top
		for range 8 { // as wide as the box has room
			f.Top = (low + high) / 2
			narrower := Fed{Frame: frame, wall: m.Wall}
			if err := m.under(ctx, r, c, f, &narrower); err != nil || len(narrower.Trouble) > 0 {
				high = f.Top
				continue
			}
			low, out = f.Top, narrower
		}
	}
	if err == nil {
		out.pockets(r, c)
		if err := m.shaped(r, out.Bodies, c); err != nil {
			out.Trouble = append(out.Trouble, Trouble{Err: err})
		}
	}
	if err == nil && (c.Shaft != nil || c.Foot != nil || len(out.Trouble) > 0) {
		out.judge(r)
	}
	if len(m.Places) == 1 {
		out.System = channel.Each
	}
	return out, err
}

// pockets adds the foot under the sprue and the blind channel, where the caster
// wants them.
func (f *Fed) pockets(r *channel.Room, c Choices) {
	add := func(size float64, lay func([]channel.Body, float64) ([]channel.Body, error)) {
		if size <= 0 {
			return
		}
		more, err := lay(f.Bodies, size)
		f.Bodies = append(f.Bodies, more...)
		if err != nil {
			f.Trouble = append(f.Trouble, Trouble{Err: err})
		}
	}
	add(c.Sump, r.Sumped)
	add(c.Blind, r.Blinded)
}

// under leads resin in under the parts, or from the side in a level parting.
func (m Mould) under(ctx context.Context, r *channel.Room, c Choices, f channel.Feed, out *Fed) error {
	if r.Level != nil {
		if m.inParting(ctx, r, c, f, out) {
			return nil
		}
		below := *r
		below.Level = nil
		r = &below
	}
	return m.fromBelow(ctx, r, c, f, out)
}

// inParting leads resin in through a level parting; not ok where a part does not
// reach it, where there is no room for the runners in it, or where the caster
// wants it elsewhere.
func (m Mould) inParting(ctx context.Context, r *channel.Room, c Choices, f channel.Feed, out *Fed) bool {
	all, err := m.feet(ctx, r, c, f, out)
	if err != nil || len(all) == 0 {
		return false
	}
	bodies, system, err := r.Under(f, all)
	if err != nil {
		return false
	}
	out.Bodies, out.System = bodies, system
	return true
}

// fromBelow leads resin in from under the parts. As it was asked for there may
// be no room: something is laid all the same, and that is told.
func (m Mould) fromBelow(ctx context.Context, r *channel.Room, c Choices, f channel.Feed, out *Fed) error {
	out.Trouble = nil
	all, err := m.feet(ctx, r, c, f, out)
	if err != nil {
		return err
	}
	if out.Bodies, out.System, err = r.Under(f, all); err == nil {
		return nil
	}
	out.Trouble = append(out.Trouble, Trouble{Err: err})
	grown := *r
	grown.Grows, grown.Round, f.System, f.At, f.Forced = true, 0, "", nil, false
	if out.Bodies, out.System, err = grown.Under(f, all); err != nil {
		f.Forced = true
		out.Bodies, out.System, err = grown.Under(f, all)
	}
	return err
}

// feet are the gates of the parts in all places, in the frame; none where the
// parting lies level and a part cannot be reached in it.
func (m Mould) feet(ctx context.Context, r *channel.Room, c Choices, f channel.Feed, out *Fed) (all []channel.Foot, err error) {
	for i := range r.Places {
		up := r.Places[i].Up()
		space, err := m.Standing(ctx, up)
		if err != nil {
			return nil, err
		}
		e := End{Up: up, Gate: f.Gate, Runner: f.Runner, Clear: m.Clear, Marks: fmt.Sprint(c.Marks)}
		find := func() [][]channel.Mouth { return feet(space, f.Gate, m.off(r), c.faces) }
		switch {
		case r.Sheet != nil:
			e.Draw, e.Parting = m.Draw, m.Parting
		case r.Level != nil:
			e.Level, e.Parting, e.Flat = true, *r.Level-r.Places[i].At.Z, c.Section != design.Round
			find = func() [][]channel.Mouth { return beside(m.Master, space, e, f, c.faces) }
		}
		at, err := m.end(ctx, e, find)
		if err != nil {
			return nil, err
		}
		if at, err = led(space, at, c.Foot, f.Gate, e.Level); err != nil && i == 0 {
			out.Trouble = append(out.Trouble, Trouble{Err: fmt.Errorf("the foot of the sprue: %w", err)})
		}
		for _, mouths := range at {
			if len(mouths) == 0 {
				return nil, nil
			}
			foot := channel.Foot{Cavity: i}
			for _, mouth := range mouths {
				foot.Mouths = append(foot.Mouths, channel.Mouth{At: r.Box(i, mouth.At), From: r.Box(i, mouth.From)})
			}
			all = append(all, foot)
		}
	}
	return all, nil
}

// end is where gates may meet the part, as it was found before or anew.
func (m Mould) end(ctx context.Context, e End, find func() [][]channel.Mouth) ([][]channel.Mouth, error) {
	if m.Ends == nil {
		return find(), nil
	}
	return m.Ends.Get(ctx, e, func(context.Context) ([][]channel.Mouth, error) { return find(), nil })
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
