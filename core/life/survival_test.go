package life

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The 6-MP arm of Freireich et al., Blood 21 (1963) 699, as it stands in every
// textbook of survival analysis: weeks, + for those that were still in remission.
// Standard errors after Greenwood, intervals on log(−log S); from an independent
// evaluation.
func TestTheSurvivalOfTheSixMPArm(t *testing.T) {
	var all []Record
	for _, n := range []int{6, 6, 6, 7, 10, 13, 16, 22, 23} {
		all = append(all, Record{Pulls: n, WornOut: true})
	}
	for _, n := range []int{6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35} {
		all = append(all, Record{Pulls: n})
	}
	want := []Survived{
		{6, 0.85714, 0.07636, 0.6197, 0.9516, 21, 3}, {7, 0.80672, 0.08694, 0.5631, 0.9228, 17, 1},
		{10, 0.75294, 0.09635, 0.5032, 0.8894, 15, 1}, {13, 0.69020, 0.10681, 0.4316, 0.8491, 12, 1},
		{16, 0.62745, 0.11405, 0.3675, 0.8049, 11, 1}, {22, 0.53782, 0.12823, 0.2678, 0.7468, 7, 1},
		{23, 0.44818, 0.13459, 0.1881, 0.6801, 6, 1},
	}
	got := Survival(all)
	require.Len(t, got, len(want))
	for i, w := range want {
		g := got[i]
		assert.Equal(t, [3]int{w.Pulls, w.AtRisk, w.WornOut}, [3]int{g.Pulls, g.AtRisk, g.WornOut})
		assert.InDelta(t, w.Share, g.Share, 1e-5)
		assert.InDelta(t, w.Error, g.Error, 1e-5)
		assert.InDelta(t, w.Low, g.Low, 1e-4)
		assert.InDelta(t, w.High, g.High, 1e-4)
	}
	assert.Empty(t, Survival([]Record{{Pulls: 40}}), "none has worn out")
	last := Survival(dead(3, 9))
	assert.Zero(t, last[1].Share)
}

// The posterior's expectations, from an independent evaluation of the same grid.
func TestWhatIsBelievedOfMoulds(t *testing.T) {
	for name, c := range map[string]struct {
		records   []Record
		lnM, beta float64
	}{
		"none":              {nil, 3.68888, 2.25934},
		"three and two":     {append(dead(32, 41, 28), Record{Pulls: 15}, Record{Pulls: 36}), 3.59722, 3.11365},
		"one early":         {dead(12), 3.24186, 2.06433},
		"one that lives on": {[]Record{{Pulls: 60}}, 4.13042, 2.10611},
		"six and one":       {append(dead(30, 35, 38, 41, 44, 52), Record{Pulls: 20}), 3.64541, 3.87588},
		"all the same":      {dead(40, 40, 40, 40, 40, 40), 3.62383, 5.86498},
	} {
		lnM, beta := Learn(TradePrior, c.records).Belief()
		assert.InDelta(t, c.lnM, lnM, 5e-4, name)
		assert.InDelta(t, c.beta, beta, 5e-4, name)
	}
}
