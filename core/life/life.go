// Package life forecasts how many pulls a mould still has in it.
//
// A mould's life N is discrete Weibull, P(N > n) = 2^-(n/m)^beta, with median
// m and wear exponent beta both uncertain; what the shop's moulds have done
// so far narrows them. A kind of mould that wears faster or slower goes
// through its life in proportion, so that all moulds of one rubber teach one
// another. Source: discrete Weibull after Nakagawa & Osaki 1975, from memory;
// the priors are common practice, no source.
package life

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// Prior is what is believed of a kind of mould before any has worn out.
type Prior struct {
	Typical   float64 // pulls, the middle of what is expected
	Low, High float64 // 10 and 90 per cent of the typical life of such moulds
}

// TradePrior is a round guess for a mould of which nothing is known: common
// practice, no source. Every shop's own log beats it.
var TradePrior = Prior{Typical: 40, Low: 20, High: 80}

// Rubber is what of a rubber tells how long its moulds last.
type Rubber struct {
	Family string  // tin, platinum, or empty where the sheet does not say
	Shore  float64 // A; 0 where the sheet does not say
	Clear  bool
}

// How a rubber shifts the prior; urethane resins, orders of magnitude, from
// memory; common practice, no source.
const (
	soft      = 15.0 // Shore A, up to which rubber tears soon
	softLife  = 0.6
	clearLife = 0.75
)

var familyPriors = map[string]Prior{"tin": {Typical: 32, Low: 20, High: 50}, "platinum": {Typical: 55, Low: 30, High: 100}}

// PriorOf is what the trade expects of a rubber, of a block that is cut or
// made in two halves.
func PriorOf(r Rubber) Prior {
	p, ok := familyPriors[r.Family]
	if !ok {
		p = TradePrior
	}
	share := 1.0
	if r.Shore > 0 && r.Shore <= soft {
		share *= softLife
	}
	if r.Clear {
		share *= clearLife
	}
	return Prior{p.Typical * share, p.Low * share, p.High * share}
}

// Record is what one mould has done.
type Record struct {
	Pulls   int
	WornOut bool    // else it lives, or was retired for another reason
	Wear    float64 // of its kind, see [Forecast.Wearing]; 0 for 1
}

const (
	gridM, gridBeta = 121, 41
	spanM, spanBeta = 5.0, 3.0 // grid reach in standard deviations
	betaMid, betaSD = 2.0, 0.5 // ln beta ~ Normal(ln 2, 0.5)
	tenToNinety     = 2.5631   // standard normal deviates between the 10 and 90 per cent points
	leastLikely     = 1e-300
)

// Forecast is the belief about a kind of mould after looking at records.
type Forecast struct {
	m, beta, weight []float64
	prior           Prior
	wear            float64
	worn, logged    int
}

// Learn weighs the prior with what the moulds of a kind have done.
func Learn(p Prior, records []Record) Forecast {
	f := Forecast{prior: p, wear: 1, logged: len(records)}
	for _, r := range records {
		if r.WornOut {
			f.worn++
		}
	}
	sd := math.Log(p.High/p.Low) / tenToNinety
	for i := range gridM {
		zm := spanM * (2*float64(i)/(gridM-1) - 1)
		for j := range gridBeta {
			zb := spanBeta * (2*float64(j)/(gridBeta-1) - 1)
			f.m = append(f.m, p.Typical*math.Exp(sd*zm))
			f.beta = append(f.beta, betaMid*math.Exp(betaSD*zb))
			f.weight = append(f.weight, -zm*zm/2-zb*zb/2)
		}
	}
	best := math.Inf(-1)
	for k := range f.weight {
		for _, r := range records {
			f.weight[k] += f.logLikelihood(k, r)
		}
		best = max(best, f.weight[k])
	}
	var sum float64
	for k, w := range f.weight {
		f.weight[k] = math.Exp(w - best)
		sum += f.weight[k]
	}
	for k := range f.weight {
		f.weight[k] /= sum
	}
	return f
}

// hazard is the summed hazard up to n pulls: P(N > n) = exp(-hazard).
func (f Forecast) hazard(k int, n float64) float64 {
	return math.Ln2 * math.Pow(n/(f.wear*f.m[k]), f.beta[k])
}

// Wearing is the forecast for a kind of mould that gives wear times the pulls
// of a plain block.
func (f Forecast) Wearing(wear float64) Forecast {
	f.wear = wear
	return f
}

// NewMould is how many pulls half of the moulds of a kind outlast, with what
// that rests on.
func (f Forecast) NewMould() derive.Number {
	inputs := []derive.Input{
		derive.From(
			"typical life before any log",
			quantity.Number,
			f.prior.Typical,
			fmt.Sprintf("by the rubber's family and hardness, %.0f to %.0f; common practice, no source", f.prior.Low, f.prior.High),
		),
		derive.From(
			"moulds logged",
			quantity.Number,
			float64(f.logged),
			"the shop's rack",
		),
		derive.From("of them worn out", quantity.Number, float64(f.worn), "the shop's rack"),
	}
	if f.wear != 1 {
		inputs = append(
			inputs,
			derive.From("share of a plain block's life", quantity.Number, f.wear, "this kind of mould; common practice, no source"),
		)
	}
	return derive.Of(quantity.Number, float64(f.Remaining(0).Middle), "pulls that half of such moulds outlast: the "+
		"usual life, corrected by the shop's log", inputs...).
		Noted("Discrete Weibull, median and wear both learnt from the log; Nakagawa & Osaki 1975, from memory.")
}

func (f Forecast) logLikelihood(k int, r Record) float64 {
	if r.Wear > 0 {
		f.wear = r.Wear
	}
	if !r.WornOut || r.Pulls < 1 {
		return -f.hazard(k, float64(r.Pulls))
	}
	before, after := f.hazard(k, float64(r.Pulls-1)), f.hazard(k, float64(r.Pulls))
	return -before + math.Log(max(-math.Expm1(before-after), leastLikely))
}

// Outlasts is the chance that a mould with so many pulls gives more than
// further ones.
func (f Forecast) Outlasts(pulls, further int) float64 {
	var sum float64
	for k, w := range f.weight {
		sum += w * math.Exp(f.hazard(k, float64(pulls))-f.hazard(k, float64(pulls+further)))
	}
	return sum
}

// Remaining is how many pulls a living mould still gives with 10, 50 and 90
// per cent of such moulds failing earlier.
type Remaining struct{ Low, Middle, High int }

// Remaining forecasts a mould that lives with so many pulls.
func (f Forecast) Remaining(pulls int) Remaining {
	return Remaining{f.quantile(pulls, 0.1), f.quantile(pulls, 0.5), f.quantile(pulls, 0.9)}
}

// quantile is the smallest r with P(remaining > r) <= 1 - q.
func (f Forecast) quantile(pulls int, q float64) int {
	low, high := 0, 1
	for f.Outlasts(pulls, high) > 1-q && high < 1<<20 {
		low, high = high, 2*high
	}
	for high-low > 1 {
		mid := (low + high) / 2
		if f.Outlasts(pulls, mid) > 1-q {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}
