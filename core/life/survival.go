package life

import (
	"math"
	"slices"
)

// Survived is a step of a survival curve: after so many pulls, which share of
// moulds still gives good castings.
type Survived struct {
	Pulls     int
	Share     float64
	Error     float64 // standard error, after Greenwood 1926
	Low, High float64 // 95 per cent interval, on log(−log S)
	AtRisk    int     // moulds that had not failed before
	WornOut   int     // that failed then
}

// normal95 is the standard normal deviate of a 95 per cent interval.
const normal95 = 1.95996

// Survival is the curve of what moulds have done, by Kaplan and Meier (JASA 53,
// 1958): those that live, or went for another reason than wear, count as far as
// they came. It has a step for every number of pulls at which one wore out.
func Survival(records []Record) (out []Survived) {
	all := slices.Clone(records)
	slices.SortFunc(all, func(a, b Record) int { return a.Pulls - b.Pulls })
	share, sum := 1.0, 0.0
	for i := 0; i < len(all); {
		at, n, worn := all[i].Pulls, len(all)-i, 0
		for ; i < len(all) && all[i].Pulls == at; i++ {
			if all[i].WornOut {
				worn++
			}
		}
		if worn == 0 {
			continue
		}
		d, r := float64(worn), float64(n)
		share *= 1 - d/r
		step := Survived{Pulls: at, Share: share, AtRisk: n, WornOut: worn}
		if worn < n {
			sum += d / (r * (r - d))
			step.Error = share * math.Sqrt(sum)
			se := math.Sqrt(sum) / math.Abs(math.Log(share))
			step.Low, step.High = math.Pow(share, math.Exp(normal95*se)), math.Pow(share, math.Exp(-normal95*se))
		}
		out = append(out, step)
	}
	return out
}

// Belief is what is believed of moulds: the expectations of the logarithm of their
// median life in pulls, and of their wear exponent.
func (f Forecast) Belief() (lnMedian, beta float64) {
	for _, g := range f.grid {
		b := exponents[g.beta]
		lnMedian += g.weight * -math.Log(g.base/math.Ln2) / b
		beta += g.weight * b
	}
	return lnMedian + math.Log(f.wear), beta
}

// Accidents is the rate a pull at which moulds are torn by hand, lost or spoilt by
// a bad mix, apart from wear: so many in so many pulls of all moulds, drawn towards
// one in a hundred where little is known. From memory.
func Accidents(accidents, pulls int) float64 {
	return (float64(accidents) + 0.5) / (float64(pulls) + 50)
}

// Futures calls use for every way in which moulds may wear, with its weight and the
// chance that one with so many pulls gives more than r further ones.
func (f Forecast) Futures(use func(weight float64, outlasts func(pulls, further int) float64)) {
	for k := range f.grid {
		g := &f.grid[k]
		beta := exponents[g.beta]
		hazard := func(pulls int) float64 { return g.base * math.Pow(float64(pulls)/f.wear, beta) }
		use(g.weight, func(pulls, further int) float64 { return math.Exp(hazard(pulls) - hazard(pulls+further)) })
	}
}

// Known is a forecast of moulds whose median and wear exponent are known, or the
// nearest exponent that is reckoned with.
func Known(median, beta float64) Forecast {
	best := 0
	for j, b := range exponents {
		if math.Abs(b-beta) < math.Abs(exponents[best]-beta) {
			best = j
		}
	}
	return Forecast{grid: []point{{math.Ln2 * math.Pow(median, -exponents[best]), 1, uint8(best)}}, wear: 1, prior: TradePrior}
}
