package learnt

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Gelled is a cup of which the time to its gel was taken.
type Gelled struct {
	Celsius float64
	Minutes float64
}

// Warmth is how a pot life goes with the temperature: Minutes at Celsius, and divided
// by Q10 for every 10 °C more.
type Warmth struct {
	N       int
	Celsius float64
	Minutes float64
	Q10     float64
	Fitted  bool    // else too few, or all at the same temperature, and Q10 is the usual
	Spread  float64 // standard deviation of one cup about it, as a factor; NaN of fewer than three
}

// How many cups and how far apart tell the warmth. Common practice, no source.
const (
	leastCups   = 4
	leastApart  = 4.0 // °C
	perTen      = 10.0
	leastSpread = 3
)

// OfWarmth is the pot life at a temperature from cups at any: the logarithm of the
// minutes goes straight with the temperature (least squares), with the usual Q10
// where the cups do not tell. False for no cups.
func OfWarmth(all []Gelled, celsius, usual float64) (Warmth, bool) {
	out := Warmth{N: len(all), Celsius: celsius, Q10: usual, Spread: math.NaN()}
	if len(all) == 0 {
		return out, false
	}
	var x, y []float64
	low, high := math.Inf(1), math.Inf(-1)
	for _, g := range all {
		x, y = append(x, g.Celsius-celsius), append(y, math.Log(g.Minutes))
		low, high = min(low, g.Celsius), max(high, g.Celsius)
	}
	slope := -math.Log(usual) / perTen
	at := stat.Mean(y, nil) - slope*stat.Mean(x, nil)
	if len(all) >= leastCups && high-low >= leastApart {
		if a, b := stat.LinearRegression(x, y, nil, false); b < 0 { // warmer is faster
			at, slope, out.Fitted = a, b, true
		}
	}
	out.Minutes, out.Q10 = math.Exp(at), math.Exp(-perTen*slope)
	if len(all) >= leastSpread {
		sum, free := 0.0, float64(len(all)-1)
		if out.Fitted {
			free--
		}
		for i := range x {
			d := y[i] - at - slope*x[i]
			sum += d * d
		}
		out.Spread = math.Exp(math.Sqrt(sum / free))
	}
	return out, true
}
