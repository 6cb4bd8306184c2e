package bench

import (
	"context"
	"math"

	"bathyform/core/axis"
	"bathyform/core/box"
	"bathyform/core/channel"
	"bathyform/core/fill"
	"bathyform/core/gate"
	"bathyform/core/mould"
	"bathyform/core/strip"
	"bathyform/core/survey"

	"gonum.org/v1/gonum/spatial/r3"
)

// into is a plan as gates are laid into it.
func (m *Master) into(ctx context.Context, q Question, p mould.Plan) (gate.Mould, error) {
	d := p.Design
	out := gate.Mould{
		Master:   m.channels(),
		Known:    m.Known(),
		Places:   gate.Places(p.Cavities),
		Grows:    d.Box.Form != string(box.Own),
		Up:       d.ResinUp.Dir(),
		Draw:     d.Draw.Dir(),
		Parting:  p.Parting.Height,
		Parted:   p.Parted(),
		Resin:    p.Kind.Resin,
		Cavity:   p.Part,
		Clear:    q.House.Webs.Part,
		Between:  q.House.Webs.Apart,
		Wall:     min(q.House.Webs.Wall, d.Clearance.Beside),
		Standing: m.standingUp,
		Ends:     &m.ends,
	}
	if p.Box.Form == box.Round && d.ResinUp.Along(p.Box.Stands) {
		out.Round = p.Box.Wide
	}
	var err error
	if out.Sides, err = m.sideways(ctx, q, p); err != nil {
		return out, err
	}
	return out.Boxed(p.Box.Bounds), nil
}

// besideSide is the rubber of a side piece round what it fills, mm. Common
// practice, no source.
const besideSide = 3.0

// sideways is where pieces will be drawn out sideways, as far as the part's
// undercuts say before the rubber is divided.
func (m *Master) sideways(ctx context.Context, q Question, p mould.Plan) ([]channel.Sweep, error) {
	if !p.Kind.Sided || !m.Known() {
		return nil, nil
	}
	draw := p.Design.Draw.Dir()
	a, err := m.Draw(ctx, draw, false)
	if err != nil {
		return nil, err
	}
	judged := survey.Judge(a, q.Rubber, q.wanted())
	var out []channel.Sweep
	for i, lock := range survey.Locks(judged, p.Design.Sides) {
		away := r3.Sub(judged[i].Out, r3.Scale(r3.Dot(judged[i].Out, draw), draw))
		if lock.Answer != strip.SidePiece || lock.Said || r3.Norm(away) < 0.5 {
			continue
		}
		out = append(out, channel.Sweep{At: lock.At, Out: r3.Unit(away), Wide: 2*math.Sqrt(judged[i].Opening/math.Pi) + 2*besideSide})
	}
	return out, nil
}

// channels is the master as channels keep clear of it.
func (m *Master) channels() *channel.Master {
	return sure(&m.channelled, struct{}{}, func() *channel.Master { return channel.NewMaster(m.Solid) })
}

// led is the way in of a plan. It is worked out on the box as the parts alone
// want it, so that a box that grows for it does not change it.
func (m *Master) led(ctx context.Context, into gate.Mould, p mould.Plan, c gate.Choices) (gate.Fed, error) {
	return m.feeds.Get(ctx, m.ledBy(into, p, c), func(ctx context.Context) (gate.Fed, error) {
		return into.Boxed(p.Bare).Lead(ctx, c)
	})
}

// ledBy is all that the way in depends on.
func (m *Master) ledBy(into gate.Mould, p mould.Plan, c gate.Choices) string {
	c.Vents = nil
	return encoded(
		p.Design.Draw,
		p.Design.ResinUp,
		p.Cavities.Poses,
		p.Bare,
		p.Parting.Height,
		into.Parted,
		into.Grows,
		into.Round > 0,
		into.Resin,
		into.Wall,
		into.Sides,
		c,
	)
}

// layout is the channels of a plan and the air that they leave.
func (m *Master) layout(ctx context.Context, q Question, p mould.Plan) (gate.Layout, error) {
	into, err := m.into(ctx, q, p)
	if err != nil {
		return gate.Layout{}, err
	}
	c := m.choices(q)
	return m.layouts.Get(ctx, m.ledBy(into, p, c)+encoded(p.Box.Bounds, c.Vents), func(ctx context.Context) (gate.Layout, error) {
		fed, err := m.led(ctx, into, p, c)
		if err != nil {
			return gate.Layout{}, err
		}
		return into.Lay(ctx, c, fed)
	})
}

// standingUp is the space inside the part as it stands with a direction of its
// mesh up; inside the block of its measures where its shape is not known.
func (m *Master) standingUp(ctx context.Context, up r3.Vec) (*fill.Space, error) {
	if a, exact := axis.Nearest(up); m.Known() && exact {
		return m.Cavity(ctx, a)
	}
	return m.turned.Get(ctx, up, func(context.Context) (*fill.Space, error) {
		return fill.Prepare(m.Solid, up, fill.Options{Sound: true})
	})
}
