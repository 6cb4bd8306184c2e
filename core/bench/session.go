package bench

import (
	"context"
	"errors"
	"math"

	"bathyform/core/design"
	"bathyform/core/kinds"
	"bathyform/core/practice"
	"bathyform/core/session"
	"bathyform/core/shot"
)

// Why a session cannot be planned from a design.
var (
	ErrNoResin  = errors.New("no resin is chosen: choose one at the shot, so that it can be weighed")
	ErrNoRubber = errors.New("no rubber is chosen: choose one at the rubber, so that it can be weighed")
)

// Casting plans a casting run in moulds that were built so.
func (m *Master) Casting(
	ctx context.Context, job string, b Built, q Question, shop session.Bench, moulds []session.Mould,
) (session.Plan, error) {
	if q.Resin == nil || b.Study.Shot.Batch == nil {
		return session.Plan{}, ErrNoResin
	}
	one := session.Shot{
		Batch: *b.Study.Shot.Batch,
		Doses: b.Study.Shot.Doses,
		TintB: q.House.Does(practice.Tint) == practice.PartB,
		Area:  b.Study.surface(),
		Keeps: q.House.CupKeeps * q.Resin.Density,
		Steps: b.Steps,
	}
	for i, s := range b.Steps { // the mould is made already
		if s.Casting {
			one.Steps = b.Steps[i:]
			break
		}
	}
	if run := b.Study.Run; run != nil && run.Full != nil {
		one.Minutes = max(0, run.Full.Value-shot.Mixing)
	}
	if m.Known() {
		t, err := m.Thickness(ctx)
		if err != nil {
			return session.Plan{}, err
		}
		one.Section = t.Thinnest.Thickness
	}
	if b.Plan.Kind.Resin != kinds.Poured {
		shop.InPot = b.Study.inPot(q.House)
	}
	p, err := session.Cast(shop, job, *q.Resin, one, moulds)
	return p.Measured(q.House), err
}

// surface is that of the resin in wells and vents at the top of a mould, mm².
func (s Study) surface() (sum float64) {
	const at = 0.01 // mm
	for _, c := range s.Gates.Channels {
		if c.Fills && c.Top > s.Gates.Top-at {
			wide := c.Wide(c.Length())
			sum += c.Section(wide) * math.Pi / 4 * wide * wide
		}
	}
	if sum == 0 { // an open face
		return s.Plan.Box.Section(s.Plan.Design.ResinUp)
	}
	return sum
}

// Making plans the making of moulds that were built so.
func (b Built) Making(job string, q Question, shop session.Bench, moulds []session.Mould) (session.Plan, error) {
	if q.Rubber == nil {
		return session.Plan{}, ErrNoRubber
	}
	var pours []session.Filling
	for _, p := range b.Plan.Pours {
		across, _ := b.Plan.Box.Footprint(p.Up)
		pours = append(pours, session.Filling{Pour: p, Area: b.Plan.Box.Section(p.Up), Side: across})
	}
	p, err := session.Make(shop, job, *q.Rubber, b.Steps, pours, moulds)
	return p.Measured(q.House), err
}

// OpenFaced is whether moulds of a kind are poured into from above, so that they
// take what is left over of a mix.
func OpenFaced(kind string) bool {
	k, err := kinds.Of(design.Kind(kind))
	return err == nil && k.Resin == kinds.Poured
}
