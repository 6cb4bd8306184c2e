package shot

import (
	"math"

	"bathyform/core/derive"
	"bathyform/core/gap"
	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// Weighed is one step at the scale: what goes into the cup, and what the scale
// then shows where it is tared once, with the empty cup and its stick on it.
type Weighed struct {
	What  string
	Add   derive.Number // g, or drops
	Drops bool          // what is added is counted, and weighs next to nothing
	Reads derive.Number // g
}

// Filled is how much of a cup is filled at most, so that it can be stirred. Common
// practice, no source.
const Filled = 2.0 / 3

// Air in mixes. Common practice, no source, and from memory.
const (
	entrained = 0.05 // of a mix is air, stirred in by hand
	evacuated = 98.2 // kPa under the atmosphere: 29 inches of mercury
)

// chain is the order at the scale: the part that is tinted, its pigments, and
// last the other part, with which the pot life begins.
func chain(b mix.Batch, doses []mix.Dose, tintB bool) (out []Weighed) {
	if b.B.Value <= 0 { // one part
		return nil
	}
	sum := 0.0
	var so []derive.Input
	add := func(what string, n derive.Number, drops bool) {
		if !drops {
			sum += n.Value
			so = append(so, n.As(what))
		}
		out = append(
			out,
			Weighed{
				what,
				n,
				drops,
				derive.Of(quantity.Mass, sum, "sum of what is in the cup", append([]derive.Input(nil), so...)...),
			},
		)
	}
	first, last, firstOf, lastOf := "Part A", "Part B", b.A, b.B
	if tintB && len(doses) > 0 {
		first, last, firstOf, lastOf = last, first, lastOf, firstOf
	}
	add(first, firstOf, false)
	for _, d := range doses {
		add(d.Name, d.Amount, d.ByDrops)
	}
	add(last, lastOf, false)
	return out
}

// Cup is the cup that a mix is mixed in, mL.
func Cup(total derive.Number) derive.Number {
	return derive.Of(quantity.Volume, total.Value/Filled, "shot / 2 × 3", total.As("shot")).
		Noted("Both parts together, and a third of it empty, so that it can be stirred. Common practice.")
}

// mixesOf is into how many mixes a shot is divided: by the largest cup, of which
// a third stays empty, and by the scale.
func mixesOf(total derive.Number, a Ask) derive.Number {
	most := math.Inf(1)
	in := []derive.Input{}
	if a.Bucket > 0 {
		most = min(most, a.Bucket*Filled)
		in = append(in, derive.From("a cup holds", quantity.Volume, a.Bucket*Filled, "House practice; room to stir"))
	}
	if a.Scale > 0 && a.Resin != nil {
		most = min(most, a.Scale/a.Resin.Density)
		in = append(in, derive.From("the scale takes", quantity.Volume, a.Scale/a.Resin.Density, "House practice and the resin's density"))
	}
	if len(in) == 0 {
		return derive.Of(quantity.Number, 1, "one mix: nothing limits it", total.As("shot"))
	}
	return derive.Of(quantity.Number, max(1, math.Ceil(total.Value/most-1e-9)), "shot / one mix, rounded up", total.As("shot"),
		derive.Of(quantity.Volume, most, "the least of these", in...).As("one mix"))
}

// Vessel is the cup that a mix is degassed in, mL: it foams up.
func Vessel(total derive.Number) derive.Number {
	const kPa = 1000
	rises := 1 + entrained*(gap.Atmosphere/(gap.Atmosphere-evacuated*kPa)-1)
	return derive.Of(quantity.Volume, total.Value*rises, "shot × (1 + air × (atmosphere / (atmosphere − vacuum) − 1))", total.As("shot"),
		derive.From("air", quantity.Number, entrained, "common practice, no source"),
		derive.From("atmosphere", quantity.Number, float64(gap.Atmosphere)/kPa, "kilopascals, standard"),
		derive.From("vacuum", quantity.Number, evacuated, "29 inches of mercury")).
		Noted("Kilopascals under the atmosphere, and the share of air that stirring leaves. " +
			"Boyle's law: as high it rises before it breaks. Mixed hard it holds twice the air and foams twice as high.")
}
