package pattern_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bathyform/core/pattern"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
	"gonum.org/v1/gonum/stat/distuv"
)

const ball = 20.0 // mm, the radius of the part

// onBall is a point of the ball's surface, anywhere.
func onBall(r *rand.Rand) r3.Vec {
	return r3.Scale(ball, r3.Unit(r3.Vec{X: r.NormFloat64(), Y: r.NormFloat64(), Z: r.NormFloat64()}))
}

// ballShare is the share of a sphere within a chord of one of its points: r²/4R²
// (Archimedes).
func ballShare(_ r3.Vec, radius float64) float64 { return radius * radius / (4 * ball * ball) }

func TestDefectsThatGatherAreTold(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 2))
	horn := r3.Vec{X: 0, Y: 0, Z: ball}
	var all []pattern.Marked
	for i := range 6 {
		all = append(
			all,
			pattern.Marked{
				At:     r3.Add(horn, r3.Vec{X: float64(i) / 3, Y: float64(i%2) / 2}),
				Mould:  "FL-1",
				Cavity: 2,
				Defect: "void",
			},
		)
	}
	for range 5 {
		all = append(all, pattern.Marked{At: onBall(r), Mould: "FL-1", Cavity: 1, Defect: "pinholes"})
	}
	got := pattern.Places(all, 3, ballShare)
	require.Len(t, got, 1)
	assert.Equal(t, 6, got[0].Defects)
	assert.Less(t, r3.Norm(r3.Sub(got[0].At, horn)), 1.5)
	assert.Contains(t, got[0].Says, `6 of 11 marked defects lie within 6 mm of one another, in one cavity alone, mostly "void"`)
	// five of the ten others within 0.5625 % of the surface, eleven tried; held against gonum's binomial
	want := 11 * (1 - distuv.Binomial{N: 10, P: ballShare(horn, 3)}.CDF(4))
	assert.InEpsilon(t, want, got[0].Chance, 1e-6)
	assert.Contains(t, got[0].Suggest, "its own vent")
	alone := slices.Clone(all)
	for i := range alone {
		alone[i].Cavity = 1
	}
	assert.Contains(t, pattern.Places(alone, 3, ballShare)[0].Suggest, "from one cavity nobody can tell")
	for i := range all {
		all[i].Cavity = i%3 + 1
	}
	assert.Contains(t, pattern.Places(all, 3, ballShare)[0].Suggest, "the layout")
}

// Defects that lie anywhere are told to gather in no more than one log of twenty.
func TestDefectsThatLieAnywhereAreNotTold(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	const logs = 2000
	told := 0
	for range logs {
		var all []pattern.Marked
		for range 12 {
			all = append(all, pattern.Marked{At: onBall(r), Defect: "void"})
		}
		if len(pattern.Places(all, 4, ballShare)) > 0 {
			told++
		}
	}
	assert.Less(t, float64(told)/logs, 0.05+3*math.Sqrt(0.05*0.95/logs))
	assert.Empty(t, pattern.Places(nil, 4, ballShare))
}

func TestALightCastingIsTold(t *testing.T) {
	all := []pattern.Weight{
		{Grams: 43.1, Good: true},
		{Grams: 43.3, Good: true},
		{Grams: 43.0, Good: true},
		{Grams: 43.2, Good: true},
		{Grams: 41, Good: false},
	}
	_, ok := pattern.UsualOf(all, 0.1)
	assert.False(t, ok, "four good ones are too few")
	all = append(all, pattern.Weight{Grams: 43.1, Good: true}, pattern.Weight{Grams: 38, Good: true})
	u, ok := pattern.UsualOf(all, 0.1)
	require.True(t, ok)
	assert.InDelta(t, 43.1, u.Grams, 1e-9, "one light one among them does not move it")
	assert.Greater(t, u.Limit, 42.5)
	assert.Less(t, u.Limit, 43.0)
	coarse, _ := pattern.UsualOf(all, 1)
	assert.InDelta(t, 41.1, coarse.Limit, 1e-9, "a scale of whole grams tells no less than two")
}
