package kinds

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/mix"
	"bathyform/core/quantity"
	"bathyform/core/squeeze"
	"bathyform/core/tone"
)

// What a squeeze mould is built by; common practice, no source.
const (
	Land     = 8.0 // mm of rubber round the cavity that closes
	excess   = 0.1 // share of the cavity that is squeezed out
	closeGap = 2.0 // mm, from which it closes slowly
	closed   = 0.2 // mm, at which it counts as closed
)

// Squeeze is a mould whose upper half is pressed onto the resin in the lower.
var Squeeze = &Kind{
	Key: design.Squeeze, Name: "Squeeze mould", What: "lower half filled, upper half pressed down, the excess runs out over the land",
	Halves: true, Keyed: true, Resin: Pressed, Wear: 1, Blind: true, Bed: "clay",
	Suits: func(c Case) Suit {
		s := twoParts(c)
		switch {
		case c.Median > mostThin:
			s.Against = append(
				s.Against,
				measured(
					note(
						"thick-enough-for-a-sprue",
						finding.Stop,
						"The part is thick enough to be filled through a sprue.",
						"Half of it is thicker. A squeeze mould is for thin shells: here it only costs flash and a weight.",
					),
					quantity.Length,
					c.Median,
					mostThin,
				),
			)
		case c.Median > 0:
			s.For = append(s.For, fmt.Sprintf("Thin: half of it under %.2g mm. No sprue to fill it through.", c.Median))
		}
		s.Against = append(
			s.Against,
			note(
				"flash-all-round",
				finding.Note,
				"Flash all round; the upper half must be weighted.",
				"What is squeezed out stays on the land.",
			),
		)
		return s
	},
	Begin: func(b *Bench) {
		bedded(b)
		b.do(
			"Lay the blind channel outside the land.",
			"It takes what is squeezed out and feeds it back as the resin shrinks.",
			"",
			reservoirMins,
		)
	},
	Open:   halved,
	Scenes: halves("First half over the clay bed", tone.Clay),
	Finish: func(f *finish.Casting, _ Casting) { f.Land, f.Scars = f.Seam, nil },
	Extras: squeezed,
	Sheets: boarded("Squeeze plates"), Bodies: printed,
}

// Blind is the channel that takes what a squeeze mould presses out, mL for a cavity.
func Blind(cavity derive.Number) derive.Number {
	return derive.Of(
		quantity.Volume,
		excess*cavity.Value,
		"share × cavity",
		cavity.As("cavity"),
		derive.From("share", quantity.Number, excess, "common practice, no source"),
	)
}

// squeezed is the land, the channel and the weight.
func squeezed(b *Bench) (out []Extra) {
	add := func(name string, n derive.Number) { out = append(out, Extra{name, n}) }
	line := derive.From("parting line", quantity.Length, b.Line, "the division of the rubber")
	add(
		"Land",
		derive.Of(
			quantity.Length,
			Land,
			"width of rubber round the cavity that closes",
			derive.From("width", quantity.Length, Land, "narrow lands beat heavy weights; common practice, no source"),
		),
	)
	if b.Line <= 0 {
		return out
	}
	if b.Rods.Round > 0 {
		add("Blind channel, half round", derive.Of(
			quantity.Length,
			b.Rods.Blind,
			"√(8 × excess / (π × length)): a half-round channel outside the land that holds the excess",
			derive.From(
				"excess",
				quantity.Volume,
				excess*b.Cavity/float64(b.Cavities),
				"a tenth of the cavity; common practice, no source",
			),
			derive.From("length", quantity.Length, b.Rods.Round, "once round the part, outside the land"),
		))
	}
	density := ResinDensity
	f := squeeze.Flow{Viscosity: 1, Growth: mix.Thickening(600)}
	source := "no resin is chosen: 1 Pa s, 10 min"
	if b.Resin != nil {
		density = b.Resin.Density
		if b.Resin.Traits.Viscosity > 0 && b.Resin.Traits.PotLife > 0 {
			f, source = squeeze.Flow{
				Viscosity: b.Resin.Traits.Viscosity,
				Growth:    mix.Thickening(b.Resin.Traits.In(b.House.Celsius).PotLife * 60),
			}, "data sheet of "+b.Resin.Name
		}
	}
	lift := squeeze.Uplift(density*1000, b.Ceiling*1e-9)
	half := 0.0
	if b.Rubber != nil {
		half = b.Half * 1e-6 * b.Rubber.Density
	}
	weight := squeeze.Weight(lift, half)
	add(
		"Weight to lay on",
		derive.Of(
			quantity.Mass,
			weight*1000,
			"1.5 × lift of the resin / 9.80665 × 1000 − upper half, never below nothing",
			derive.From(
				"lift of the resin (N)",
				quantity.Number,
				lift,
				"resin that would stand over the upper half's ceiling, up to its highest point",
			),
			derive.From("upper half", quantity.Mass, half*1000, "half A"),
		),
	)
	force := (weight + half) * quantity.Gravity
	land := squeeze.Land{Length: b.Line / 1000, Width: Land / 1000}
	add(
		"Flash at gel, at the least",
		derive.Of(
			quantity.Length,
			max(0.02, 1000*land.Flash(force-lift, closeGap/1000, f)),
			"1 / √(1 / gap² + 2000000 × force that closes × time / (viscosity × parting line × land³)), 0.02 mm at the least",
			derive.From("gap", quantity.Length, closeGap, "as the upper half is laid on"),
			derive.From(
				"time (s)",
				quantity.Number,
				f.Effective(),
				"as if the resin stayed as thin as it is fresh; it counts twice as thick at the end of its pot life",
			),
			derive.From(
				"force that closes (N)",
				quantity.Number,
				max(0, force-lift),
				"weight + upper half − lift",
			),
			derive.From("land", quantity.Length, Land, "above"),
			line,
			derive.From(
				"viscosity (Pa s)",
				quantity.Number,
				f.Viscosity,
				source,
			),
		).Noted("The squeeze film of a narrow strip. A narrow land presses it thinner than a heavy weight. Stefan 1874, Reynolds "+
			"1886, from memory."),
	)
	if t, ok := land.Closes(force-lift, closeGap/1000, closed/1000, f); ok && t > 0 {
		fresh := derive.Of(
			quantity.Number,
			f.Growth.Effective(t),
			"(1 / closed² − 1 / gap²) × viscosity × parting line × land³ / (2000000 × force that closes)",
			derive.From("closed", quantity.Length, closed, "as thin as flash should be; common practice, no source"),
			derive.From("gap", quantity.Length, closeGap, "as the upper half is laid on"),
			derive.From("force that closes (N)", quantity.Number, max(0, force-lift), "weight + upper half − lift"),
			derive.From("land", quantity.Length, Land, "above"),
			line,
			derive.From("viscosity (Pa s)", quantity.Number, f.Viscosity, source),
		)
		add(
			"Closes within, min",
			derive.Of(quantity.Number, t/60, "−ln(1 − k × fresh) / k, with k = ln 2 / pot life: it is twice as thick then",
				fresh.As("fresh (s)"), derive.From("pot life (min)", quantity.Number, f.Growth.PotLife/60, source)).
				Noted("From when the upper half is laid on until the film is that thin. A pull that is hurried past it has thicker flash."),
		)
	}
	return out
}
