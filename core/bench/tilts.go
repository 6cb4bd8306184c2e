package bench

import (
	"context"
	"math"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/parallel"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// TiltCase is the mould stood so far out of level, to the side with which it
// takes the fewest vents.
type TiltCase struct {
	Tilt  *design.Tilt  // nil as it stands level
	Vents []design.Vent // for every pocket that matters
	First derive.Number // mL that are shut in with the first of them alone
}

// Tilts that are compared, degrees: beyond them a block wants a cradle. Common
// practice, no source.
var compared = []float64{4, 8, 12, 15}

// CompareTilts stands the mould level, and out of level by more and more, telling
// of each as it is done: high spots that move together want fewer vents.
func (m *Master) CompareTilts(ctx context.Context, q Question, told func(TiltCase)) error {
	k, err := q.KindOf()
	if err != nil {
		return err
	}
	if !m.Known() || k.Resin != kinds.Sprued {
		return ErrNoShape
	}
	up := q.Design.ResinUp.Dir()
	frame, err := grid.NewFrame(up)
	if err != nil {
		return err
	}
	c := m.choices(q)
	for _, deg := range append([]float64{0}, compared...) {
		best, err := m.bestTilt(ctx, q, c, frame, deg)
		if err != nil {
			return err
		}
		told(best)
	}
	return nil
}

// bestTilt is the side to raise by so many degrees.
func (m *Master) bestTilt(ctx context.Context, q Question, c gate.Choices, frame grid.Frame, deg float64) (best TiltCase, err error) {
	sides := tiltQuarters
	if deg == 0 {
		sides = 1
	}
	cases := make([]TiltCase, sides)
	if err := parallel.Each(ctx, sides, sides, func(i int) error {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / tiltQuarters)
		tilt := &design.Tilt{Degrees: deg, High: design.At(r3.Add(r3.Scale(cos, frame.U), r3.Scale(sin, frame.V)))}
		space, err := fill.Prepare(m.Solid, tilt.Up(frame.Up), fill.Options{Sound: true})
		if err != nil {
			return err
		}
		ranking, err := gate.Rank(space, c, q.Design.VentBore)
		if err != nil {
			return err
		}
		if deg > 0 {
			cases[i].Tilt = tilt
		}
		for _, v := range ranking.Vents {
			cases[i].Vents = append(cases[i].Vents, design.Vent{At: design.At(v.At), Bore: v.Bore, State: v.State})
		}
		left := ranking.Bare
		if len(ranking.Vents) > 0 {
			left = ranking.Vents[0].Left
		}
		cases[i].First = derive.Of(quantity.Volume, left/1000, "trapped-air analysis with the first vent alone, the mould stood so",
			derive.From("tilt (°)", quantity.Number, deg, "tried"))
		return nil
	}, nil); err != nil {
		return best, err
	}
	best = cases[0]
	for _, o := range cases[1:] {
		if n, least := len(o.Vents), len(best.Vents); n < least || n == least && o.First.Value < best.First.Value-1e-9 {
			best = o
		}
	}
	return best, nil
}
