package gate

import (
	"context"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/memo"
	"bathyform/core/mould"

	"gonum.org/v1/gonum/spatial/r3"
)

// Mould is what gates are laid into: masters in their places in a box.
type Mould struct {
	Master   *channel.Master
	Known    bool // the master's shape; else it is the block of its measures
	Places   []func(r3.Vec) r3.Vec
	Low      r3.Vec // of the box, in the frame of its way up
	High     r3.Vec
	Round    float64         // the box's diameter about its middle, 0 where it is square
	Grows    bool            // the box grows for its channels
	Up       r3.Vec          // as the resin comes in
	Draw     r3.Vec          // the parting lies across it
	Parting  float64         // height along the draw, mm
	Parted   bool            // it has a parting
	Resin    kinds.Resin     // how resin comes in
	Cavity   derive.Number   // mL of one
	Clear    float64         // mm of rubber between a channel and a part
	Between  float64         // mm of rubber between two channels
	Wall     float64         // mm of rubber between a channel and the wall
	Sides    []channel.Sweep // of a master, in the axes of its mesh: where pieces are drawn out sideways
	Standing func(ctx context.Context, up r3.Vec) (*fill.Space, error)

	stand *channel.Stand // instead of Places, where that is at hand
	Ends  *Ends          // where gates meet the part, once that is known; nil where nobody remembers
}

// Ends are where gates may meet a part, in the axes of its mesh: for each of
// its spaces.
type Ends = memo.Memo[End, [][]channel.Mouth]

// End is what decides where gates meet a part.
type End struct {
	Up, Draw     r3.Vec // no draw where the parting does not stand upright
	Parting      float64
	Level        bool // the parting lies level, so high in the axes of the mesh, and gates come in it
	Gate, Runner float64
	Clear        float64
	Flat         bool   // mouths lie in the parting itself
	Marks        string // faces that show and to spare
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
	} else if m.Parted && m.Known {
		level := m.Parting * math.Copysign(1, d.Z)
		r.Level = &level
	}
	for i := range stand.Places {
		for _, s := range m.Sides {
			at := r.Box(i, s.At)
			r.Sweeps = append(r.Sweeps, channel.Sweep{At: at, Out: r3.Sub(r.Box(i, r3.Add(s.At, s.Out)), at), Wide: s.Wide})
		}
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

// Places are the places of a plan's cavities.
func Places(c mould.Cavities) (out []func(r3.Vec) r3.Vec) {
	for _, pose := range c.Poses {
		out = append(out, func(p r3.Vec) r3.Vec { return c.Place(p, pose) })
	}
	return out
}
