// Package pattern finds what the scrap in a log has in common: one cavity, one run,
// the mould's age. Each is held against chance by an exact test, corrected for how
// many were tried.
package pattern

import (
	"math"
	"slices"
)

// Table counts castings with a defect and without, among those that have something
// in common and among the others.
type Table struct {
	Bad, Good           int // that have it in common
	OtherBad, OtherGood int
}

// Exact is how likely at least so many bad ones are among those in common if it were
// chance alone: Fisher's exact test, one-sided (Fisher 1935).
func (t Table) Exact() float64 {
	n := t.Bad + t.Good + t.OtherBad + t.OtherGood
	bad, mine := t.Bad+t.OtherBad, t.Bad+t.Good
	sum := 0.0
	for k := t.Bad; k <= min(bad, mine); k++ {
		sum += math.Exp(hypergeometric(k, n, bad, mine))
	}
	return min(1, sum)
}

// TwoSided is how likely a table at least as far from even is.
func (t Table) TwoSided() float64 {
	n := t.Bad + t.Good + t.OtherBad + t.OtherGood
	bad, mine := t.Bad+t.OtherBad, t.Bad+t.Good
	const rounding = 1e-7
	own := hypergeometric(t.Bad, n, bad, mine) + rounding
	sum := 0.0
	for k := max(0, bad+mine-n); k <= min(bad, mine); k++ {
		if p := hypergeometric(k, n, bad, mine); p <= own {
			sum += math.Exp(p)
		}
	}
	return min(1, sum)
}

// hypergeometric is the logarithm of the chance that k of the bad are among mine.
func hypergeometric(k, n, bad, mine int) float64 {
	if mine-k > n-bad {
		return math.Inf(-1)
	}
	return choose(bad, k) + choose(n-bad, mine-k) - choose(n, mine)
}

func choose(n, k int) float64 {
	a, _ := math.Lgamma(float64(n) + 1)
	b, _ := math.Lgamma(float64(k) + 1)
	c, _ := math.Lgamma(float64(n-k) + 1)
	return a - b - c
}

// Holm corrects chances for how many were looked at, so that of all that are told
// together one in twenty is told for nothing (Holm, Scand. J. Stat. 6, 1979).
func Holm(chances []float64) []float64 {
	order := make([]int, len(chances))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case chances[a] < chances[b]:
			return -1
		case chances[a] > chances[b]:
			return 1
		}
		return 0
	})
	out := make([]float64, len(chances))
	last := 0.0
	for rank, i := range order {
		last = max(last, min(1, chances[i]*float64(len(chances)-rank)))
		out[i] = last
	}
	return out
}
