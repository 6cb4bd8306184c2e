package api

import (
	"fmt"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/life"
	"bathyform/core/quantity"
	"bathyform/internal/store"
)

// compared is what release, rest and warmth do to moulds of a rubber.
func (l *ledger) compared(all []store.Treated) []Comparison {
	var warmth []float64
	for _, t := range all {
		if t.Celsius != nil {
			warmth = append(warmth, *t.Celsius)
		}
	}
	slices.Sort(warmth)
	middle := math.Inf(1)
	if len(warmth) > 0 {
		middle = warmth[len(warmth)/2]
	}
	out := []Comparison{}
	for _, c := range []struct {
		what  ComparisonWhat
		named string
		has   func(store.Treated) (from *int, known bool)
	}{
		{"released", "released now and then", func(t store.Treated) (*int, bool) { return t.Released, true }},
		{"rested", "rested", func(t store.Treated) (*int, bool) { return t.Rested, true }},
		{"warm", fmt.Sprintf("cast in at %.3g °C and more", middle), func(t store.Treated) (*int, bool) {
			if t.Celsius == nil || *t.Celsius < middle {
				return nil, t.Celsius != nil
			}
			return new(int), true // from the first pull on
		}},
	} {
		var treated []life.Treated
		for _, t := range all {
			if from, known := c.has(t); known {
				treated = append(treated, life.Treated{Pulls: t.Pulls, WornOut: t.WornOut, Never: from == nil, From: given(from)})
			}
		}
		out = append(out, l.comparison(c.what, c.named, life.Compare(treated)))
	}
	return out
}

// farOff is how many times as often nobody believes.
const farOff = 100

func (l *ledger) comparison(what ComparisonWhat, named string, c life.Compared) Comparison {
	out := Comparison{
		What:        what,
		Moulds:      c.With.Moulds,
		Worn:        c.With.Worn,
		OtherMoulds: c.Without.Moulds,
		OtherWorn:   c.Without.Worn,
		Tells:       c.Tells,
	}
	worn := c.With.Worn + c.Without.Worn
	if math.IsNaN(c.Odds) {
		out.Says = fmt.Sprintf("Moulds that were %s: nothing to compare yet.", named)
		return out
	}
	ratio := derive.Of(quantity.Number, digits(min(c.Odds, farOff), 3),
		"ratio of the odds that a mould wears out at a pull, with to without, of moulds that gave as many pulls",
		derive.From("worn out with", quantity.Number, float64(c.With.Worn), "the rack"),
		derive.From("pulls with", quantity.Number, float64(c.With.Pulls), "the log, from the first time on"),
		derive.From("worn out without", quantity.Number, float64(c.Without.Worn), "the rack"),
		derive.From("pulls without", quantity.Number, float64(c.Without.Pulls), "the log")).
		Noted("The likeliest, and its exact interval, after Gart 1970. A mould counts as treated from then on only: one that lasts is " +
			"treated sooner or later. A comparison is no proof: who rests a mould may treat it better in other ways.")
	out.Ratio, out.Low = l.some(&ratio), some(digits(c.Low, 3))
	span := fmt.Sprintf("from %.2g times upwards", c.Low)
	if c.High < farOff {
		high := digits(c.High, 3)
		out.High = &high
		span = fmt.Sprintf("%.2g to %.2g times", c.Low, c.High)
	}
	switch {
	case !c.Tells:
		out.Says = fmt.Sprintf(
			"Moulds that were %s: nothing can be told yet. %d of all have worn out and %d are needed; so far they may wear "+
				"out %s as often a pull.",
			named,
			worn,
			life.LeastWorn,
			span,
		)
	case c.High < 1:
		out.Says = fmt.Sprintf("Moulds that were %s wear out less often: %s as often a pull.", named, span)
	case c.Low > 1:
		out.Says = fmt.Sprintf("Moulds that were %s wear out more often: %s as often a pull.", named, span)
	default:
		out.Says = fmt.Sprintf(
			"Moulds that were %s wear out neither more nor less often as far as the log tells: %s as often a pull.",
			named,
			span,
		)
	}
	return out
}
