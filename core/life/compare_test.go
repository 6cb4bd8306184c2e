package life

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The tea-tasting lady (Fisher 1935), and five doses of penicillin in rabbits (Mantel
// 1963, Agresti 1990): the exact common ratio of the odds, its interval and chance as the
// statistics system R prints them (fisher.test, mantelhaen.test), from memory; it finds
// the upper ends to one in a hundred. The rabbits' lower end is by counting all ways.
func TestTheRatioOfTheOddsIsExact(t *testing.T) {
	tea := sum{logs: []float64{0}}
	tea.add(table{with: 4, worn: 3, without: 4, wornWithout: 1})
	assert.InDelta(t, 6.408309, tea.likeliest(), 2e-5)
	assert.InDelta(t, 0.2117329, tea.below(0.975), 5e-6)
	assert.InEpsilon(t, 621.9337505, tea.above(0.975), 0.01)

	rabbits := sum{logs: []float64{0}}
	for _, c := range [][4]int{{0, 0, 6, 5}, {3, 0, 3, 6}, {6, 2, 0, 4}, {5, 6, 1, 0}, {2, 5, 0, 0}} {
		rabbits.add(table{with: c[0] + c[2], worn: c[0], without: c[1] + c[3], wornWithout: c[1]})
	}
	assert.Equal(t, 16, rabbits.saw)
	chance := 0.0
	for _, p := range rabbits.at(0)[rabbits.saw-rabbits.least:] {
		chance += p
	}
	assert.InDelta(t, 0.03994/2, chance, 5e-6)
	assert.InDelta(t, 10.36102, rabbits.likeliest(), 1e-4)
	assert.InDelta(t, 1.077388, rabbits.below(0.975), 1e-6)
	assert.InEpsilon(t, 529.837399, rabbits.above(0.975), 0.01)
}

// shopOf are moulds of which most are released sooner or later, if they last so long;
// released ones wear out as often a pull, times a factor.
func shopOf(r *rand.Rand, moulds int, factor float64) (out []Treated) {
	for range moulds {
		m := Treated{Never: true}
		after := 5 + r.IntN(60)
		for {
			m.Pulls++
			m.Never = m.Never && m.Pulls <= after
			wears := math.Pow(float64(m.Pulls)/40, 2) - math.Pow(float64(m.Pulls-1)/40, 2)
			if !m.Never {
				m.From = after
				wears *= factor
			}
			if r.Float64() < 1-math.Exp(-math.Ln2*wears) {
				m.WornOut = true
				break
			}
			if r.Float64() < 0.004 { // lost
				break
			}
		}
		out = append(out, m)
	}
	return out
}

// Moulds that last are released sooner or later: that alone is told for an effect in no
// more than one shop of twenty, and a true one is found.
func TestLastingLongIsNotTakenForBeingReleased(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 4))
	const shops = 300
	told := 0
	for range shops {
		if c := Compare(shopOf(r, 60, 1)); c.Low > 1 || c.High < 1 {
			told++
		}
	}
	assert.Less(t, float64(told)/shops, 0.05+2*math.Sqrt(0.05*0.95/shops))
	c := Compare(shopOf(r, 600, 0.4))
	assert.Less(t, c.High, 1.0)
	assert.InDelta(t, 0.4, c.Odds, 0.12)
	assert.True(t, c.Tells)
}

func TestALogOfAFewMouldsTellsNothing(t *testing.T) {
	var few []Treated
	for i := range 13 {
		few = append(few, Treated{Pulls: 20 + i, WornOut: true, Never: i%3 > 0, From: 5})
	}
	c := Compare(few)
	assert.False(t, c.Tells)
	assert.Less(t, c.Low, 1.0)
	assert.Greater(t, c.High, 1.0)
	assert.Equal(t, 13, c.With.Moulds+c.Without.Moulds)
	assert.Equal(t, 13, c.With.Worn+c.Without.Worn)
	none := Compare([]Treated{{Pulls: 20, WornOut: true, Never: true}, {Pulls: 9, WornOut: true, Never: true}})
	assert.True(t, math.IsNaN(none.Odds), "none had it")
	assert.True(t, math.IsInf(none.High, 1))
	assert.Zero(t, none.Low)
	assert.True(t, math.IsNaN(Compare(nil).Odds))
}
