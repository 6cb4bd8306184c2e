package bench

import (
	"context"

	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/gate"
	"bathyform/core/hold"
	"bathyform/core/mould"
)

// usualRubber is the density of rubber where none is chosen, g/mL; from memory.
const usualRubber = 1.1

// held is how the master stands or hangs in a block that is poured all round
// it; nil for other kinds and for a master without a shape.
func (m *Master) held(ctx context.Context, q Question, p mould.Plan, l gate.Layout) (*hold.Standing, error) {
	if !p.Kind.Held || !m.Known() {
		return nil, nil
	}
	d := p.Design
	ground, err := m.grounds.Get(ctx, d.RubberUpA, func(context.Context) (hold.Ground, error) {
		return hold.On(m.Solid, d.RubberUpA.Dir())
	})
	if err != nil {
		return nil, err
	}
	body := hold.Body{Ground: ground, Volume: m.Part.Volume()}
	body.Floor, body.Top = d.RubberUpA.Span(p.Box.Bounds)
	if c := q.Brief.Check; c != nil && c.Kind == "mass" {
		body.Density = c.Density
	}
	var rods []hold.Point
	for _, ch := range l.Channels {
		kind := design.Bar
		at, to := ch.Path[0], ch.Path[len(ch.Path)-1]
		switch {
		case ch.Cavity == channel.Shared || ch.Kind == channel.Well:
			continue
		case ch.Kind == channel.Gate: // the sprue behind it holds it
			at, to = to, at
		}
		switch {
		case d.ResinUp == d.RubberUpA.Opposite():
			kind = design.Stick
		case ch.Kind == channel.Vent && d.ResinUp == d.RubberUpA:
			kind = design.Wire
		}
		rods = append(rods, hold.Point{Kind: kind, At: at, To: to, Bore: ch.Bore, Rod: true})
	}
	rubber := usualRubber
	if q.Rubber != nil {
		rubber = q.Rubber.Density
	}
	s := body.Stand(rods, d.Supports, rubber)
	return &s, nil
}
