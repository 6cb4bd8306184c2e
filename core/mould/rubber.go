package mould

import (
	"errors"
	"math"

	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/plane"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// How rubber is mixed; common practice, no source.
const (
	besideVessel = 20.0 // mm that a vessel is narrower than the chamber
	rises        = 4.0  // times its height that rubber climbs under vacuum
	thickFrom    = 20.0 // Pa s, from which more of it stays in the bucket
	thickOver    = 3.0  // per cent more
	stirRoom     = 0.8  // share of a bucket that may be filled where nothing is degassed
)

// clayDensity is that of sulphur-free modelling clay, g/mL; from memory.
const clayDensity = 1.7

// share lays the pours and weighs them.
func (p *Plan) share(known []kinds.Piece, skin *derive.Number) {
	d := p.Design
	p.Pours = p.Kind.Share(kinds.Rubber{UpA: d.RubberUpA, UpB: d.RubberUpB, Whole: p.Rubber, Skin: skin, Pieces: known,
		Depth: p.Box.Depth, Bed: func(up axis.Axis) float64 { return p.bed(up) }})
	p.Divided = true
	over := p.allowance()
	p.Weight = 0
	var inputs []derive.Input
	total := 0.0
	for i := range p.Pours {
		q := &p.Pours[i]
		if p.Kind.Halves && q.Name != "Half B" { // what the other half will take stands under it as a bed
			q.Level = max(q.Level, q.Bed)
		}
		if !q.Known {
			p.Divided = false
			continue
		}
		q.Mixed = derive.Of(
			quantity.Volume,
			q.Volume.Value*(1+over.Value/100),
			"rubber × (1 + allowance / 100)",
			q.Volume.As("rubber"),
			over.As("allowance (%)"),
		)
		q.Mixes = p.mixes(q.Mixed)
		if p.rubber != nil {
			if b, err := mix.Split(*p.rubber, q.Mixed); err == nil {
				q.Batch = &b
			} else if !errors.Is(err, mix.ErrNothing) {
				continue // what is wrong with the sheet is told where it is entered
			}
			p.Weight += q.Volume.Value * p.rubber.Density
		}
		total += q.Mixed.Value
		inputs = append(inputs, q.Mixed.As(q.Name))
	}
	if p.Divided {
		p.Mixed = derive.Of(quantity.Volume, total, "sum of the pours, with what stays in the bucket", inputs...)
		p.clay()
	}
}

// allowance is what stays in the bucket, per cent: this design's, and more of
// it for thick rubber.
func (p *Plan) allowance() derive.Number {
	more := 0.0
	if p.rubber != nil && p.rubber.Traits.Viscosity >= thickFrom {
		more = thickOver
	}
	return derive.Of(quantity.Number, p.Design.RubberOver+more, "stays in the bucket + more from 20 Pa s, per cent",
		derive.From("stays in the bucket (%)", quantity.Number, p.Design.RubberOver, "this design"),
		derive.From("more from 20 Pa s (%)", quantity.Number, more, "common practice, no source"))
}

// mixes is into how many buckets a pour is divided: by the largest bucket,
// which under vacuum must hold the rubber several times over, and by the scale.
func (p *Plan) mixes(mixed derive.Number) derive.Number {
	h := p.house
	most := math.Inf(1)
	in := []derive.Input{mixed.As("rubber to mix")}
	if h.Bucket > 0 {
		room, why := h.Bucket*stirRoom, "room to stir"
		if !h.NoDegas {
			room, why = h.Bucket/rises, "rubber climbs to four times its height under vacuum"
		}
		most = min(most, room)
		in = append(in, derive.From("a bucket holds", quantity.Volume, room, "House practice; "+why))
	}
	if wide := h.ChamberWide - besideVessel; wide > 0 && !h.NoDegas {
		room := math.Pi / 4 * wide * wide * wide / 1000 / rises
		most = min(most, room)
		in = append(in, derive.From("the chamber degasses", quantity.Volume, room,
			"a vessel as tall as wide that goes into the House's chamber, a quarter full"))
	}
	if h.ScaleMost > 0 && p.rubber != nil {
		room := h.ScaleMost / p.rubber.Density
		most = min(most, room)
		in = append(in, derive.From("the scale takes", quantity.Volume, room, "House practice and the rubber's density"))
	}
	n := 1.0
	if !math.IsInf(most, 1) && most > 0 {
		n = max(1, math.Ceil(mixed.Value/most-1e-9))
	}
	if len(in) == 1 {
		return derive.Of(quantity.Number, n, "one mix: nothing limits it", in...)
	}
	return derive.Of(quantity.Number, n, "rubber to mix / one mix, rounded up", in[0],
		derive.Of(quantity.Volume, most, "the least of these", in[1:]...).As("one mix"))
}

// clay is the bed or the blanket.
func (p *Plan) clay() {
	p.Clay = nil
	switch {
	case p.Kind.Shelled:
		v := derive.Of(quantity.Volume, p.Rubber.Value, "the clay's place is the rubber's place", p.Rubber.As("skin"))
		p.Clay = &v
	case p.Kind.Halves && p.Kind.Bed == "clay":
		low := p.Pours[len(p.Pours)-1]
		v := derive.Of(quantity.Volume, low.Volume.Value, "what the other half will take: the bed fills its place", low.Volume.As(low.Name))
		p.Clay = &v
	}
}

// ClayMass is the clay's mass, g.
func (p Plan) ClayMass() *derive.Number {
	if p.Clay == nil {
		return nil
	}
	m := derive.Of(
		quantity.Mass,
		p.Clay.Value*clayDensity,
		"volume × density of clay",
		p.Clay.As("volume"),
		derive.From(
			"density of clay",
			quantity.Density,
			clayDensity,
			"sulphur-free modelling clay, from memory; weigh a measured block of yours",
		),
	)
	return &m
}

// Across is the block seen along the draw, in its frame.
func (p Plan) Across() []plane.Point {
	if p.Box.Stands.Along(p.Design.Draw) {
		return p.Box.Ring
	}
	b := p.Box.room(p.Cavities.Frame).Box
	if len(p.Box.Bends) > 0 {
		b = p.chord(b)
	}
	return []plane.Point{{b.Min.X, b.Min.Y}, {b.Max.X, b.Min.Y}, {b.Max.X, b.Max.Y}, {b.Min.X, b.Max.Y}}
}

// chord is the box in the frame of the draw where the parting crosses it:
// between walls that are bent it is as wide as they are apart there.
func (p Plan) chord(b r3.Box) r3.Box {
	draw := p.Frame()
	low, high := r3.Vec{X: math.Inf(1), Y: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	at := func(q plane.Point, z float64) r3.Vec { return draw.In(p.Box.Frame.Out(r3.Vec{X: q[0], Y: q[1], Z: z})) }
	for i, q := range p.Box.Ring {
		r := p.Box.Ring[(i+1)%len(p.Box.Ring)]
		u, v := at(q, p.Box.Low), at(r, p.Box.Low)
		if (u.Z-p.Parting.Height)*(v.Z-p.Parting.Height) > 0 || u.Z == v.Z {
			continue
		}
		t := (p.Parting.Height - u.Z) / (v.Z - u.Z)
		for _, z := range []float64{p.Box.Low, p.Box.High} {
			u, v := at(q, z), at(r, z)
			x, y := u.X+t*(v.X-u.X), u.Y+t*(v.Y-u.Y)
			low.X, low.Y, high.X, high.Y = min(low.X, x), min(low.Y, y), max(high.X, x), max(high.Y, y)
		}
	}
	if low.X > high.X {
		return b
	}
	return r3.Box{Min: r3.Vec{X: low.X, Y: low.Y, Z: b.Min.Z}, Max: r3.Vec{X: high.X, Y: high.Y, Z: b.Max.Z}}
}

// Shadow is what of the parts is seen along the draw, roughly, mm².
func (p Plan) Shadow() float64 { return p.Cavities.Shape.Area * float64(len(p.Cavities.Poses)) }

// Middle is that of all cavities, mesh coordinates.
func (p Plan) Middle() r3.Vec { return r3.Scale(0.5, r3.Add(p.Body.Min, p.Body.Max)) }
