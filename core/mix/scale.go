package mix

import "math"

// readings per weighed part: the tare and the reading each round once.
const readings = 2

// RatioError is the worst relative error of the ratio A:B that a scale's
// resolution (g) can cause when mA and mB grams are weighed, each with a tare
// and a reading off by up to half a digit. It is +Inf when B could vanish.
// Source: worst-case propagation after JCGM 100:2008 (GUM), from memory.
func RatioError(resolution, mA, mB float64) float64 {
	e := readings * resolution / 2
	if mB <= e {
		return math.Inf(1)
	}
	return (mA+e)/(mB-e)*mB/mA - 1
}

// SmallestBatch is the mass (g) from which the ratio r = A/B by weight stays
// within the relative tolerance on a scale of the given resolution (g).
func SmallestBatch(resolution, r, tolerance float64) float64 {
	return readings * resolution / 2 * (1 + r*(1+tolerance)) * (r + 1) / (r * tolerance)
}
