package bench

import (
	"context"
	"errors"
	"slices"

	"bathyform/core/axis"
	"bathyform/core/box"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/practice"
	"bathyform/core/strip"
	"bathyform/core/survey"
	"bathyform/core/symmetry"
)

// ErrNoShape says that a master known by measure alone has no shape to work on.
var ErrNoShape = errors.New("this master is known by its measures alone; what asks for its shape cannot be told")

// Survey looks the master over, and says what stands against it.
func (m *Master) Survey(ctx context.Context, q survey.Question, h practice.House) (survey.Survey, []finding.Finding, error) {
	q.Master = m.Part
	var seen *survey.Seen
	if m.Known() {
		seen = &survey.Seen{Fine: m.Fine()}
		var err error
		if seen.Draw, err = m.Draw(ctx, q.Draw, false); err != nil {
			return survey.Survey{}, nil, err
		}
		if seen.Thickness, err = m.Thickness(ctx); err != nil {
			return survey.Survey{}, nil, err
		}
		if h.Detail > 0 {
			recesses, err := m.recesses(ctx)
			if err != nil {
				return survey.Survey{}, nil, err
			}
			seen.Recesses = recesses.Narrow(m.Fine(), min(h.Detail, widestGap))
		}
	}
	s := survey.Make(q, seen, h)
	return s, s.Findings(q, h), nil
}

// Start proposes a design for a master from House practice: drawn where the
// rubber is locked least, poured as the mesh stands, vented at every high spot.
func (m *Master) Start(ctx context.Context, h practice.House) (design.Design, error) {
	d, err := m.starts.Get(ctx, encoded(h), func(ctx context.Context) (design.Design, error) { return m.start(ctx, h) })
	d.Vents = slices.Clone(d.Vents)
	return d, err
}

func (m *Master) start(ctx context.Context, h practice.House) (design.Design, error) {
	d := design.Design{Draw: axis.PlusZ, RubberUpA: axis.PlusZ, RubberUpB: axis.MinusZ, ResinUp: axis.PlusZ, Clearance: h.Clearance,
		RubberOver: h.RubberOver, Feed: h.Feed, SprueBore: gate.SprueOf(h, m.Part.Volume()), VentBore: gate.VentOf(h, m.Part.Volume()),
		WellWidth: h.WellWidth,
		WellDepth: h.WellDepth, ShotOver: h.ShotOver}
	if h.Feed == practice.FeedTop {
		d.SprueBore = gate.OpeningOf(h, m.Part.Volume())
	}
	if !m.Known() {
		return d, nil
	}
	best := -1.0
	for _, draw := range []axis.Axis{axis.PlusZ, axis.PlusX, axis.PlusY} {
		a, err := m.Draw(ctx, draw.Dir(), false)
		if err != nil {
			return d, err
		}
		// a way must be clearly better to be preferred to the one before it
		if best < 0 || a.Volume < 0.8*best-0.005*m.Part.Volume() {
			best = a.Volume
			d.Draw, d.RubberUpA, d.RubberUpB = draw, draw, draw.Opposite()
		}
	}
	if m.repeats(ctx, d.Draw) {
		d.Box.Form = string(box.Round)
	}
	if h.Does(practice.Vents) == practice.Later {
		return d, nil
	}
	var err error
	d.Vents, err = m.ProposeVents(ctx, Question{Design: d, House: h})
	return d, err
}

// repeats reports whether a part wants several side pieces that are the same
// one turned: in a round box each ends at the same wall, and one little box
// does for all.
func (m *Master) repeats(ctx context.Context, along axis.Axis) bool {
	a, err := m.Draw(ctx, along.Dir(), false)
	if err != nil {
		return false
	}
	hard := 0
	for _, j := range survey.Judge(a, nil, manyPulls) {
		if j.Verdict.Answer != strip.Strips {
			hard++
		}
	}
	return hard >= 3 && symmetry.About(m.Solid, along.Dir()).Order >= 3
}

// manyPulls is what a mould is judged for before an order says.
const manyPulls = 40

// DrawnUp is a design drawn along +z, the way a master was just turned.
func (m *Master) DrawnUp(ctx context.Context, d design.Design) (design.Design, error) {
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Parting = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusZ, nil
	d.Vents = nil
	var err error
	d.Vents, err = m.ProposeVents(ctx, Question{Design: d})
	return d, err
}
