package learnt_test

import (
	"math/rand/v2"
	"testing"

	"bathyform/core/learnt"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The eighteen batters of Efron and Morris (J. Am. Stat. Assoc. 70, 1975): hits of 45
// times at bat. They print a mean of 0.265 and, on the arcsine, a sum of squares of
// 18.96, by which 17 of 18.96 parts of the scatter are chance; from memory. The three
// eighths bring what is left of the batters' own from 0.10 to 0.07.
func TestSharesAgainstEighteenBatters(t *testing.T) {
	var groups []learnt.Counted
	for _, hits := range []int{18, 17, 16, 15, 14, 14, 13, 12, 11, 11, 10, 10, 10, 10, 10, 9, 8, 7} {
		groups = append(groups, learnt.Counted{Good: hits, Bad: 45 - hits})
	}
	got := learnt.PoolShares(groups)
	assert.Equal(t, 18*45, got.N)
	assert.InDelta(t, 0.265, got.Mean, 0.003)
	for _, g := range got.Groups {
		assert.InDelta(t, 1-17/18.96, g.Own, 0.03)
	}
	assert.InDelta(t, 0.265+(1-17/18.96)*(0.400-0.265), got.Groups[0].Pooled, 0.004)
}

// The exact interval of 4 of 20 and of 0 of 10, as handbooks have them; from memory.
func TestTheIntervalOfAShareIsExact(t *testing.T) {
	got := learnt.PoolShares([]learnt.Counted{{Good: 4, Bad: 16}, {Good: 0, Bad: 10}}).Groups
	assert.InDelta(t, 0.0573, got[0].Low, 5e-5)
	assert.InDelta(t, 0.4366, got[0].High, 5e-5)
	assert.Zero(t, got[1].Low)
	assert.InDelta(t, 0.3085, got[1].High, 5e-5)
}

func TestASingleGroupLeansOnNobody(t *testing.T) {
	one := learnt.PoolShares([]learnt.Counted{{Good: 9, Bad: 1}})
	require.Len(t, one.Groups, 1)
	assert.InDelta(t, 1, one.Groups[0].Own, 1e-12)
	assert.InDelta(t, 0.9, one.Groups[0].Mean, 1e-12)
	assert.InDelta(t, one.Mean, one.Groups[0].Pooled, 1e-12)
	assert.Zero(t, learnt.PoolShares(nil).N)
}

// Cavities of a few castings come nearer to the truth by leaning on the others.
func TestSharesThatLeanAreNearerToTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	var own, leant float64
	for range 300 {
		var groups []learnt.Counted
		var truth []float64
		for k := range 8 {
			p := 0.9 + 0.05*r.NormFloat64()
			p = min(0.99, max(0.5, p))
			var g learnt.Counted
			for range 6 + 2*k {
				if r.Float64() < p {
					g.Good++
				} else {
					g.Bad++
				}
			}
			groups, truth = append(groups, g), append(truth, p)
		}
		for i, g := range learnt.PoolShares(groups).Groups {
			own += (g.Mean - truth[i]) * (g.Mean - truth[i])
			leant += (g.Pooled - truth[i]) * (g.Pooled - truth[i])
		}
	}
	assert.Less(t, leant, 0.6*own)
}
