package build

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/kind"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// How rubber is mixed; common practice, no source.
const (
	rises      = 4.0  // times its height that rubber climbs under vacuum
	thickFrom  = 20.0 // Pa s, from which more of it stays in the bucket
	thickOver  = 3.0  // per cent more
	stirRoom   = 0.8  // share of a bucket that may be filled where nothing is degassed
	pourCorner = "A thin, high stream into one low corner, never on the part; slower as it goes round and over it."
)

// Allowance is what stays in the bucket, per cent: this design's, and more of
// it for thick rubber.
func Allowance(over float64, rubber *mix.Material) derive.Number {
	more := 0.0
	if rubber != nil && rubber.Traits.Viscosity >= thickFrom {
		more = thickOver
	}
	return derive.Of(quantity.Number, over+more, "what stays in the bucket + more for thick rubber, per cent",
		derive.From("stays in the bucket (%)", quantity.Number, over, "this design"),
		derive.From("more from 20 Pa s (%)", quantity.Number, more, "common practice, no source"))
}

// pours lays the pours of a kind in their order.
func (c Case) pours(b *Build) error {
	a, low := c.half(2), c.half(1)
	err := fmt.Sprintf("All pieces and the part make up the box to %.2g %%.", 100*c.Plan.Error())
	of := func(volume float64, formula string, in ...derive.Input) derive.Number {
		return derive.Of(quantity.Volume, volume/1000, formula, in...).Noted(err)
	}
	body := func(name string, volume float64) derive.Input {
		return derive.From(name, quantity.Volume, volume/1000, "sum over the triangles of its closed surface")
	}
	whole := of(a.Volume+low.Volume, "half A + half B", body("half A", a.Volume), body("half B", low.Volume))
	boxed := c.depth(c.Ups.RubberA)
	bed := c.bed(c.Ups.RubberA)
	switch c.Kind {
	case kind.Cut, kind.Tape, kind.Stretch:
		b.Pours = []Pour{{Name: "Block", Pieces: []string{"block"}, Up: c.Ups.RubberA, Volume: whole, Level: boxed, Spot: pourCorner}}
		if c.Kind == kind.Tape {
			b.Pours[0].Spot = "A thin, slow stream into a corner away from the fins: it bends tape that it meets."
		}
	case kind.OpenFace:
		tall := c.Plan.Box.Max.Z - c.Plan.Box.Min.Z
		under := c.under() // nothing stands under a part on its board
		v := of(max(0, a.Volume+low.Volume-under*c.Box.Area), "half A + half B − what would lie under the part",
			body("half A", a.Volume), body("half B", low.Volume), derive.From("under the part", quantity.Volume, under*c.Box.Area/1000, "clearance below × box"))
		b.Pours = []Pour{{Name: "Block", Pieces: []string{"block"}, Up: c.Ups.RubberA, Volume: v, Level: tall - under, Spot: pourCorner}}
	case kind.Shell:
		v := derive.Of(quantity.Volume, c.Blanket.Volume/1000, "volume of the skin", derive.From("skin", quantity.Volume, c.Blanket.Volume/1000, "its closed surface, undercuts bridged"))
		b.Pours = []Pour{{Name: "Skin", Pieces: []string{"skin"}, Up: c.Ups.RubberA, Volume: v, Spot: "Through the spout at the low end, slowly, until it stands in every vent of the shell."}}
	case kind.Clay, kind.Board, kind.Squeeze, kind.Pieces:
		if n := len(c.Plan.Pieces) - 2; n > 0 {
			sum, names := 0.0, []string(nil)
			var in []derive.Input
			for _, p := range c.Plan.Pieces[:n] {
				sum += p.Volume
				names = append(names, p.Name)
				in = append(in, body(p.Name, p.Volume))
			}
			b.Pours = append(b.Pours, Pour{Name: plural(n, "side piece", "side pieces"), Pieces: names, Up: c.Ups.RubberA, Volume: of(sum, "sum of the side pieces", in...),
				Spot: "Into the places walled off round the part; they cure together."})
		}
		b.Pours = append(b.Pours,
			Pour{Name: "Half A", Pieces: []string{a.Name}, Up: c.Ups.RubberA, Volume: of(a.Volume, "volume of the half", body(a.Name, a.Volume)), Bed: bed, Level: boxed, Spot: pourCorner},
			Pour{Name: "Half B", Pieces: []string{low.Name}, Up: c.Ups.RubberB, Volume: of(low.Volume, "volume of the half", body(low.Name, low.Volume)), Bed: c.bed(c.Ups.RubberB), Level: c.depth(c.Ups.RubberB), Spot: pourCorner})
	}
	over := Allowance(c.Over, c.Rubber)
	for i := range b.Pours {
		p := &b.Pours[i]
		p.Mixed = derive.Of(quantity.Volume, p.Volume.Value*(1+over.Value/100), "rubber × (1 + allowance / 100)", p.Volume.As("rubber"), over.As("allowance (%)"))
		p.Mixes = c.mixes(*p)
		if c.Rubber == nil {
			continue
		}
		batch, err := mix.Split(*c.Rubber, p.Mixed)
		if errors.Is(err, mix.ErrNothing) {
			continue
		}
		if err != nil {
			return fmt.Errorf("%s: %w", p.Name, err)
		}
		p.Batch = &batch
	}
	return nil
}

// under is the rubber that would stand under the part along the draw, mm.
func (c Case) under() float64 {
	dir, err := c.Draw.Dir()
	if err != nil {
		return 0
	}
	return max(0, min(r3.Dot(dir, c.Body.Min), r3.Dot(dir, c.Body.Max))-c.Plan.Box.Min.Z)
}

// bed is how high what the rubber is poured on stands, mm over the floor.
func (c Case) bed(up part.Axis) float64 {
	level := c.Plan.Level - c.Plan.Box.Min.Z
	switch up {
	case c.Draw:
		return level
	case c.Draw.Opposite():
		return c.Plan.Box.Max.Z - c.Plan.Box.Min.Z - level
	}
	return 0
}

// mixes is into how many buckets a pour is divided: by the largest bucket,
// which under vacuum must hold the rubber several times over, and by the scale.
func (c Case) mixes(p Pour) derive.Number {
	h := c.House
	most := math.Inf(1)
	var in []derive.Input
	if h.Bucket > 0 {
		room, why := h.Bucket*stirRoom, "room to stir"
		if !h.NoDegas {
			room, why = h.Bucket/rises, "rubber climbs to four times its height under vacuum"
		}
		most = min(most, room)
		in = append(in, derive.From("a bucket holds", quantity.Volume, room, "House practice; "+why))
	}
	if h.ScaleMost > 0 && c.Rubber != nil {
		room := h.ScaleMost / c.Rubber.Density
		most = min(most, room)
		in = append(in, derive.From("the scale takes", quantity.Volume, room, "House practice and the rubber's density"))
	}
	n := 1.0
	if !math.IsInf(most, 1) && most > 0 {
		n = max(1, math.Ceil(p.Mixed.Value/most-1e-9))
	}
	return derive.Of(quantity.Number, n, "rubber to mix / the least of these, rounded up", append([]derive.Input{p.Mixed.As("rubber to mix")}, in...)...)
}
