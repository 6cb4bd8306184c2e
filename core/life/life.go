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
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

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
	faint           = 1e-13 // share of the belief that no answer needs
)

// Forecast is the belief about a kind of mould after looking at records.
type Forecast struct {
	grid         []point // where the belief is
	prior        Prior
	wear         float64
	worn, logged int
}

// point is one pair of a median and a wear exponent.
type point struct {
	base   float64 // ln 2 m^-beta: the summed hazard of one pull
	weight float64
	beta   uint8 // which of the exponents
}

// exponents are the wear exponents of the grid.
var exponents = func() (out [gridBeta]float64) {
	for j := range out {
		out[j] = betaMid * math.Exp(betaSD*spanBeta*(2*float64(j)/(gridBeta-1)-1))
	}
	return out
}()

// wornBy is a number of pulls to the power of every exponent, in a mould that
// gives wear times the pulls of a plain block.
func wornBy(pulls int, wear float64) (out [gridBeta]float64) {
	for j, beta := range exponents {
		out[j] = math.Pow(float64(pulls)/wear, beta)
	}
	return out
}

// hazard is the summed hazard up to n pulls: P(N > n) = exp(-hazard).
func (p *point) hazard(worn *[gridBeta]float64) float64 { return p.base * worn[p.beta] }

// Learn weighs the prior with what the moulds of a kind have done. Moulds
// that have done the same are weighed once.
func Learn(p Prior, records []Record) Forecast {
	same := make(map[Record]int)
	for _, r := range records {
		same[r.plain()]++
	}
	b := believe(p)
	var living [gridBeta]float64
	for _, r := range inOrder(same) {
		if r.WornOut {
			b.wearOut(r, same[r])
			continue
		}
		b.logged += same[r]
		b.live(&living, r, same[r])
	}
	return b.forecast(&living)
}

// plain is the record as it is reckoned with.
func (r Record) plain() Record {
	if !(r.Wear > 0) {
		r.Wear = 1
	}
	r.WornOut = r.WornOut && r.Pulls > 0
	return r
}

// belief is what is believed of a kind of mould while it is learnt: on the whole grid,
// as the logarithms of weights that add up to nothing yet.
type belief struct {
	grid         []point
	prior        Prior
	worn, logged int
}

// believe is what is believed before any mould was seen.
func believe(p Prior) *belief {
	b := &belief{prior: p, grid: make([]point, 0, gridM*gridBeta)}
	sd := math.Log(p.High/p.Low) / tenToNinety
	for i := range gridM {
		zm := spanM * (2*float64(i)/(gridM-1) - 1)
		m := p.Typical * math.Exp(sd*zm)
		for j, beta := range exponents {
			zb := spanBeta * (2*float64(j)/(gridBeta-1) - 1)
			b.grid = append(b.grid, point{math.Ln2 * math.Pow(m, -beta), -zm*zm/2 - zb*zb/2, uint8(j)})
		}
	}
	return b
}

// wearOut weighs moulds that wore out, all at the same pull.
func (b *belief) wearOut(r Record, moulds int) {
	b.worn += moulds
	b.logged += moulds
	before, after := wornBy(r.Pulls-1, r.Wear), wornBy(r.Pulls, r.Wear)
	for k := range b.grid {
		g := &b.grid[k]
		h, then := g.hazard(&before), g.hazard(&after)
		g.weight += float64(moulds) * (-h + math.Log(max(-math.Expm1(h-then), leastLikely)))
	}
}

// live adds moulds that live, or went for another reason, to what those have gone
// through: their likelihood asks for nothing else.
func (b *belief) live(through *[gridBeta]float64, r Record, moulds int) {
	worn := wornBy(r.Pulls, r.Wear)
	for j := range through {
		through[j] += float64(moulds) * worn[j]
	}
}

// forecast is the belief with what the living have gone through, where there is any.
func (b *belief) forecast(living *[gridBeta]float64) Forecast {
	f := Forecast{grid: slices.Clone(b.grid), prior: b.prior, wear: 1, worn: b.worn, logged: b.logged}
	best, sum := math.Inf(-1), 0.0
	for k := range f.grid {
		g := &f.grid[k]
		g.weight -= g.hazard(living)
		best = max(best, g.weight)
	}
	for k := range f.grid {
		f.grid[k].weight = math.Exp(f.grid[k].weight - best)
		sum += f.grid[k].weight
	}
	f.grid = slices.DeleteFunc(f.grid, func(g point) bool { return g.weight < faint*sum })
	sum = 0
	for _, g := range f.grid {
		sum += g.weight
	}
	for k := range f.grid {
		f.grid[k].weight /= sum
	}
	return f
}

// inOrder is the same order always, so that sums come out the same.
func inOrder(same map[Record]int) []Record {
	return slices.SortedFunc(maps.Keys(same), func(a, b Record) int {
		worn := func(r Record) int {
			if r.WornOut {
				return 1
			}
			return 0
		}
		return cmp.Or(cmp.Compare(a.Pulls, b.Pulls), worn(a)-worn(b), cmp.Compare(a.Wear, b.Wear))
	})
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
	return derive.Of(quantity.Number, float64(f.Remaining(0).Middle), "pulls that half of such moulds outlast: the "+
		"usual life, corrected by the shop's log", f.restsOn()...).Noted(model)
}

// Left is how many more pulls half of the moulds give that have given so many, with what
// that rests on.
func (f Forecast) Left(pulls int) derive.Number {
	r := f.Remaining(pulls)
	inputs := append([]derive.Input{derive.From("pulls so far", quantity.Number, float64(pulls), "the log")}, f.restsOn()...)
	return derive.Of(quantity.Number, float64(r.Middle), fmt.Sprintf("more pulls that half of the moulds give that have given as many; "+
		"8 in 10 give %d to %d: the usual life, corrected by the shop's log", r.Low, r.High), inputs...).Noted(model)
}

const model = "Discrete Weibull, median and wear both learnt from the log; Nakagawa & Osaki 1975, from memory."

// restsOn is what a forecast rests on.
func (f Forecast) restsOn() []derive.Input {
	inputs := []derive.Input{
		derive.From("typical life before any log", quantity.Number, f.prior.Typical,
			fmt.Sprintf("by the rubber's family and hardness, %.0f to %.0f; common practice, no source", f.prior.Low, f.prior.High)),
		derive.From("moulds logged", quantity.Number, float64(f.logged), "the shop's rack"),
		derive.From("of them worn out", quantity.Number, float64(f.worn), "the shop's rack"),
	}
	if f.wear != 1 {
		inputs = append(inputs,
			derive.From("share of a plain block's life", quantity.Number, f.wear, "this kind of mould; common practice, no source"))
	}
	return inputs
}

// Outlasts is the chance that a mould with so many pulls gives more than
// further ones.
func (f Forecast) Outlasts(pulls, further int) float64 {
	now := wornBy(pulls, f.wear)
	return f.outlasts(&now, pulls+further)
}

func (f Forecast) outlasts(now *[gridBeta]float64, pulls int) (chance float64) {
	then := wornBy(pulls, f.wear)
	for k := range f.grid {
		g := &f.grid[k]
		chance += g.weight * math.Exp(g.hazard(now)-g.hazard(&then))
	}
	return chance
}

// Remaining is how many pulls a living mould still gives with 10, 50 and 90
// per cent of such moulds failing earlier.
type Remaining struct{ Low, Middle, High int }

// Remaining forecasts a mould that lives with so many pulls.
func (f Forecast) Remaining(pulls int) Remaining {
	now := wornBy(pulls, f.wear)
	known := make(map[int]float64)
	// quantile is the smallest r with P(remaining > r) <= 1 - q
	quantile := func(q float64) int {
		more := func(further int) bool {
			chance, ok := known[further]
			if !ok {
				chance = f.outlasts(&now, pulls+further)
				known[further] = chance
			}
			return chance > 1-q
		}
		low, high := 0, 1
		for more(high) && high < 1<<20 {
			low, high = high, 2*high
		}
		for high-low > 1 {
			if mid := (low + high) / 2; more(mid) {
				low = mid
			} else {
				high = mid
			}
		}
		return high
	}
	return Remaining{quantile(0.1), quantile(0.5), quantile(0.9)}
}
