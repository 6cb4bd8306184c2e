// Package life forecasts how many pulls a mould still has in it.
//
// A mould's life N is discrete Weibull, P(N > n) = 2^-(n/m)^beta, with median
// m and wear exponent beta both uncertain; what the shop's moulds have done
// so far narrows them. Source: discrete Weibull after Nakagawa & Osaki 1975,
// from memory; the prior is common practice, no source.
package life

import "math"

// Prior is what is believed of a kind of mould before any has worn out.
type Prior struct {
	Typical   float64 // pulls, the middle of what is expected
	Low, High float64 // 10 and 90 per cent of the typical life of such moulds
}

// TradePrior is a round guess for soft moulds and urethane resins: common
// practice, no source. Every shop's own log beats it.
var TradePrior = Prior{Typical: 40, Low: 20, High: 80}

// Record is what one mould has done.
type Record struct {
	Pulls   int
	WornOut bool // else it lives, or was retired for another reason
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
}

// Learn weighs the prior with what the moulds of a kind have done.
func Learn(p Prior, records []Record) Forecast {
	var f Forecast
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
	return math.Ln2 * math.Pow(n/f.m[k], f.beta[k])
}

func (f Forecast) logLikelihood(k int, r Record) float64 {
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
