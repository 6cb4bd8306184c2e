package bench

import (
	"context"
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/fill"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Angles out of level that are tried, degrees, and the room in a well under its rim.
var tilts = []float64{0.5, 1, 2, 4, 8, 12}

const (
	wellRoom     = 2.0     // mm
	mostTilted   = 150_000 // triangles, over which nobody waits for it
	tiltCells    = 48
	tiltQuarters = 8
)

// tilt is how far out of level the mould may stand as the resin is poured
// before another pocket is shut in, or the well spills; nil where nobody
// waits for it or knows.
func (m *Master) tilt(ctx context.Context, q Question, s Study) (*derive.Number, error) {
	if !m.Known() || s.Plan.Kind.Resin != kinds.Sprued || len(m.Part.Mesh.Triangles) > mostTilted {
		return nil, nil
	}
	d := s.Plan.Design
	return m.tilts.Get(
		ctx,
		encoded(d.ResinUp, d.Tilt, s.Plan.Kind.Resin, gate.Of(d), d.Clearance),
		func(ctx context.Context) (*derive.Number, error) {
			return m.tilted(ctx, d.Tilt.Up(d.ResinUp.Dir()), s.Plan.Kind.Resin, gate.Of(d), s.Gates)
		},
	)
}

func (b *Master) tilted(ctx context.Context, up r3.Vec, in kinds.Resin, c gate.Choices, l gate.Layout) (*derive.Number, error) {
	m := b.Part.Mesh
	frame, err := grid.NewFrame(up)
	if err != nil {
		return nil, err
	}
	size := r3.Sub(m.Bounds().Max, m.Bounds().Min)
	cell := max(size.X, size.Y, size.Z) / tiltCells
	shut := func(dir r3.Vec) (float64, error) {
		space, err := fill.Prepare(m, dir, fill.Options{Cell: cell, Sound: b.Part.Report.Sound})
		if err != nil {
			return 0, err
		}
		found, err := space.Trap(gate.Open(space, in, c))
		return found.Volume, err
	}
	level, err := shut(up)
	if err != nil {
		return nil, err
	}
	safe, spoilt := 0.0, tilts[len(tilts)-1]
	hit := false
	for _, deg := range tilts {
		for n := 0; n < tiltQuarters && !hit; n++ {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			sin, cos := math.Sincos(2 * math.Pi * float64(n) / tiltQuarters)
			aside := r3.Add(r3.Scale(cos, frame.U), r3.Scale(sin, frame.V))
			down, rise := math.Sincos(deg * math.Pi / 180)
			v, err := shut(r3.Add(r3.Scale(rise, up), r3.Scale(down, aside)))
			if err != nil {
				return nil, err
			}
			hit = v > level+gate.Spoils
		}
		if hit {
			spoilt = deg
			break
		}
		safe = deg
	}
	spill := 90.0
	for _, a := range l.Channels {
		for _, o := range l.Channels {
			if away := r3.Sub(a.Path[len(a.Path)-1], o.Path[len(o.Path)-1]); a.Kind == channel.Well && o.Kind == channel.Vent {
				flat := r3.Sub(away, r3.Scale(r3.Dot(away, up), up))
				if n := r3.Norm(flat); n > 0 {
					spill = min(spill, math.Atan(wellRoom/n)*180/math.Pi)
				}
			}
		}
	}
	note := fmt.Sprintf("Tilted to %g° in eight directions: none shuts in more than a bubble of 20 mm³ beyond what is shut in level.", safe)
	if hit {
		note = fmt.Sprintf("Tilted to %g° nothing more is shut in, at %g° it is.", safe, spoilt)
	}
	out := derive.Of(quantity.Number, min(max(safe, 0), spill), "the lesser of: tilt without a new pocket; tilt at "+
		"which resin 2 mm under the rim of the well runs over, or out of a vent",
		derive.From("without a new pocket (°)", quantity.Number, safe, "the cavity tilted in eight directions"),
		derive.From("without a spill (°)", quantity.Number, spill, "atan(2 mm / well to the farthest vent)")).
		Noted(note)
	return &out, nil
}
