package learnt_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/learnt"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Thirteen trials of the BCG vaccine (Colditz et al., JAMA 271, 1994), logarithms of
// the risk ratios: by DerSimonian and Laird -0.7141, standard error 0.1787, variance
// between 0.3088, as the textbooks of meta-analysis print it; from memory.
func TestCombineAgainstThePublishedTrials(t *testing.T) {
	var y, v []float64
	for _, c := range [][4]float64{{4, 119, 11, 128}, {6, 300, 29, 274}, {3, 228, 11, 209}, {62, 13536, 248, 12619}, {33, 5036, 47, 5761},
		{180, 1361, 372, 1079}, {8, 2537, 10, 619}, {505, 87886, 499, 87892}, {29, 7470, 45, 7232}, {17, 1699, 65, 1600},
		{186, 50448, 141, 27197}, {5, 2493, 3, 2338}, {27, 16886, 29, 17825}} {
		n1, n2 := c[0]+c[1], c[2]+c[3]
		y = append(y, math.Log(c[0]/n1/(c[2]/n2)))
		v = append(v, 1/c[0]-1/n1+1/c[2]-1/n2)
	}
	mean, err, between := learnt.Combine(y, v)
	assert.InDelta(t, -0.7141, mean, 5e-5)
	assert.InDelta(t, 0.1787, err, 5e-5)
	assert.InDelta(t, 0.3088, between, 5e-5)
}

// Coaching in eight schools (Rubin 1981): they differ no more than chance, and the
// common effect is 7.7 with a standard error of 4.1.
func TestCombineEightSchools(t *testing.T) {
	mean, err, between := learnt.Combine([]float64{28, 8, -3, 7, -1, 1, 18, 12}, []float64{225, 100, 256, 121, 81, 121, 100, 324})
	assert.InDelta(t, 7.7, mean, 0.05)
	assert.InDelta(t, 4.1, err, 0.05)
	assert.Zero(t, between)
}

func TestAKindMeasuredOnceLeansOnTheOthers(t *testing.T) {
	p := learnt.Pool([]learnt.Group{
		{Of: "fast", Values: []float64{1.0, 1.2, 1.1, 0.9, 1.0, 1.1}},
		{Of: "slow", Values: []float64{2.0, 2.2, 2.1, 1.9, 2.1}},
		{Of: "thick", Values: []float64{4.0}},
		{Of: "never"},
	})
	require.Len(t, p.Groups, 3)
	assert.Equal(t, 12, p.N)
	often, once := p.Groups[0], p.Groups[2]
	assert.Greater(t, often.Own, once.Own)
	assert.Less(t, once.Pooled, once.Mean, "towards the others")
	assert.Greater(t, once.Error, often.Error)
	for _, g := range p.Groups {
		assert.LessOrEqual(t, math.Abs(g.Pooled-p.Mean), math.Abs(g.Mean-p.Mean)+1e-12, g.Of)
	}
	alone := learnt.Pool([]learnt.Group{{Of: "fast", Values: []float64{1, 3}}})
	assert.InDelta(t, 2, alone.Groups[0].Pooled, 1e-12)
	assert.InDelta(t, 1, alone.Groups[0].Own, 1e-12)
	single := learnt.Pool([]learnt.Group{{Of: "a", Values: []float64{1}}, {Of: "b", Values: []float64{3}}})
	assert.InDelta(t, 3, single.Groups[1].Pooled, 1e-12, "nobody knows how it scatters, so nothing leans")
	assert.True(t, math.IsNaN(single.Groups[1].Error))
	same := learnt.Pool([]learnt.Group{{Of: "a", Values: []float64{2, 2}}, {Of: "b", Values: []float64{2, 2, 2}}})
	assert.InDelta(t, 2, same.Groups[0].Pooled, 1e-9)
	assert.Zero(t, learnt.Pool(nil).N)
}

// Leant on the others, the means of kinds with few measurements come nearer to the
// truth than by themselves.
func TestPoolingIsNearerToTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	var own, pooled float64
	for range 400 {
		var groups []learnt.Group
		truth := map[string]float64{}
		for k := range 8 {
			g := learnt.Group{Of: string(rune('a' + k))}
			truth[g.Of] = 5 + r.NormFloat64()
			for range 2 + k%3 {
				g.Values = append(g.Values, truth[g.Of]+1.5*r.NormFloat64())
			}
			groups = append(groups, g)
		}
		for _, g := range learnt.Pool(groups).Groups {
			own += (g.Mean - truth[g.Of]) * (g.Mean - truth[g.Of])
			pooled += (g.Pooled - truth[g.Of]) * (g.Pooled - truth[g.Of])
		}
	}
	assert.Less(t, pooled, 0.8*own)
}

func TestPotLifeGoesWithTheWarmth(t *testing.T) {
	var cups []learnt.Gelled
	for _, c := range []float64{18, 20, 22, 25, 28} { // 3 min at 23 °C, a third of it for every 10 °C
		cups = append(cups, learnt.Gelled{Celsius: c, Minutes: 3 * math.Pow(3, (23-c)/10)})
	}
	w, ok := learnt.OfWarmth(cups, 23, 2)
	require.True(t, ok)
	assert.True(t, w.Fitted)
	assert.InDelta(t, 3, w.Minutes, 1e-9)
	assert.InDelta(t, 3, w.Q10, 1e-9)
	assert.InDelta(t, 1, w.Spread, 1e-6)
	few, ok := learnt.OfWarmth(cups[:1], 23, 2)
	require.True(t, ok)
	assert.False(t, few.Fitted)
	assert.InDelta(t, cups[0].Minutes/math.Sqrt(2), few.Minutes, 1e-9, "5 °C by the usual doubling every ten")
	same, _ := learnt.OfWarmth([]learnt.Gelled{{21, 3}, {21, 4}, {22, 3}, {21, 3.5}}, 23, 2)
	assert.False(t, same.Fitted, "all at the same temperature tell nothing of it")
	odd, _ := learnt.OfWarmth([]learnt.Gelled{{15, 2}, {20, 3}, {25, 4}, {30, 5}}, 23, 2)
	assert.False(t, odd.Fitted, "a cup does not last longer for being warmer")
	_, ok = learnt.OfWarmth(nil, 23, 2)
	assert.False(t, ok)
}
