package pattern_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"bathyform/core/pattern"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Published tables: the lady tasting tea (Fisher, The Design of Experiments, 1935),
// convictions of like-sex twins (Fisher 1962); values as in the documentation of
// R's fisher.test, from memory. And two that are counted by hand.
func TestExactTests(t *testing.T) {
	tea := pattern.Table{Bad: 3, Good: 1, OtherBad: 1, OtherGood: 3}
	assert.InDelta(t, 17.0/70, tea.Exact(), 1e-12)
	assert.InDelta(t, 34.0/70, tea.TwoSided(), 1e-12)
	twins := pattern.Table{Bad: 2, Good: 15, OtherBad: 10, OtherGood: 3}
	assert.InDelta(t, 0.0005367, twins.TwoSided(), 5e-8)
	all := pattern.Table{Bad: 3, Good: 0, OtherBad: 0, OtherGood: 5}
	assert.InDelta(t, 1.0/56, all.Exact(), 1e-12, "one way in 8 over 3")
	assert.InDelta(t, 1, pattern.Table{Bad: 0, Good: 4, OtherBad: 3, OtherGood: 1}.Exact(), 1e-12)
}

// Holm's own worked order: 0.01, 0.04, 0.03, 0.005 become 0.03, 0.06, 0.06, 0.02,
// as in the documentation of R's p.adjust, from memory.
func TestHolm(t *testing.T) {
	assert.InDeltaSlice(t, []float64{0.03, 0.06, 0.06, 0.02}, pattern.Holm([]float64{0.01, 0.04, 0.03, 0.005}), 1e-12)
	assert.Empty(t, pattern.Holm(nil))
}

// season is a log of moulds with two cavities, a tenth of them scrap by chance.
func season(r *rand.Rand, moulds, pulls int, scrap float64) (out []pattern.Casting) {
	for m := range moulds {
		for p := range pulls {
			for c := 1; c <= 2; c++ {
				k := pattern.Casting{Mould: fmt.Sprintf("M-%d", m+1), Cavity: c, Run: fmt.Sprintf("day %d", p/2+1), Age: p}
				if r.Float64() < scrap {
					k.Defect = "pinholes"
				}
				out = append(out, k)
			}
		}
	}
	return out
}

// Three patterns are planted, and each is found with its cause; where there is none
// nothing is told, but in one log of twenty at the most.
func TestPlantedPatternsAreFound(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 9))
	plant := func(has func(pattern.Casting) bool, defect string) []pattern.Cause {
		all := season(r, 2, 40, 0.02)
		for i, c := range all {
			if has(c) {
				all[i].Defect = defect
			}
		}
		return pattern.Causes(all)
	}
	cavity := plant(
		func(c pattern.Casting) bool { return c.Mould == "M-1" && c.Cavity == 2 && c.Age%4 == 0 },
		"void at a high spot",
	)
	require.NotEmpty(t, cavity)
	assert.Equal(t, pattern.Cavity, cavity[0].Kind)
	assert.Equal(t, "M-1, cavity 2", cavity[0].Of)
	assert.Equal(t, "void at a high spot", cavity[0].Defect)
	assert.Contains(t, cavity[0].Says, "the layout")
	run := plant(func(c pattern.Casting) bool { return c.Run == "day 7" }, "soft or sticky")
	require.NotEmpty(t, run)
	assert.Equal(t, pattern.Run, run[0].Kind)
	assert.Equal(t, "day 7", run[0].Of)
	age := plant(func(c pattern.Casting) bool { return c.Mould == "M-2" && c.Age > 28 && c.Age%2 == 0 }, "torn detail")
	require.NotEmpty(t, age)
	assert.True(t, len(age) > 0 && (age[0].Kind == pattern.Age || age[0].Kind == pattern.Mould), "%+v", age)
	wears := false
	for _, c := range age {
		wears = wears || c.Kind == pattern.Age && c.Of == "M-2"
	}
	assert.True(t, wears)

	lot := plant(func(c pattern.Casting) bool { return false }, "")
	assert.Empty(t, lot)
	byLot := season(r, 2, 40, 0.02)
	for i, c := range byLot {
		byLot[i].Lot, byLot[i].Celsius = fmt.Sprint("L", c.Age%5), 20+float64(c.Age%7)*1.5
		if byLot[i].Lot == "L3" && i%3 != 0 {
			byLot[i].Defect = "pinholes"
		}
	}
	lots := pattern.Causes(byLot)
	require.NotEmpty(t, lots)
	assert.Equal(t, pattern.Lot, lots[0].Kind)
	assert.Equal(t, "L3", lots[0].Of)
	hot := season(r, 2, 40, 0.02)
	for i, c := range hot {
		if hot[i].Celsius = 20 + float64(c.Age%7)*1.5; hot[i].Celsius > 28 && i%2 == 0 {
			hot[i].Defect = "short fill"
		}
	}
	days := pattern.Causes(hot)
	require.NotEmpty(t, days)
	assert.Equal(t, pattern.Heat, days[0].Kind)
	damp := season(r, 2, 40, 0.02)
	for i, c := range damp {
		if damp[i].Humid = 40 + float64(c.Age%7)*6; damp[i].Humid >= 65 && i%2 == 0 {
			damp[i].Defect = "pinholes"
		}
	}
	days = pattern.Causes(damp)
	require.NotEmpty(t, days)
	assert.Equal(t, pattern.Damp, days[0].Kind)
	assert.Contains(t, days[0].Suggest, "Water foams")

	// all three in one log: each is found, the strongest does not hide the others
	three := season(r, 2, 40, 0.01)
	for i, c := range three {
		switch {
		case c.Run == "day 7":
			three[i].Defect = "soft or sticky"
		case c.Mould == "M-1" && c.Cavity == 2 && c.Age%2 == 0:
			three[i].Defect = "void at a high spot"
		case c.Mould == "M-2" && c.Age > 28 && (c.Age+c.Cavity)%2 == 0:
			three[i].Defect = "torn detail"
		}
	}
	kinds := map[pattern.Kind]string{}
	for _, c := range pattern.Causes(three) {
		kinds[c.Kind] = c.Of
	}
	assert.Equal(t, map[pattern.Kind]string{pattern.Run: "day 7", pattern.Cavity: "M-1, cavity 2", pattern.Age: "M-2"}, kinds)

	told := 0
	const logs = 300
	for range logs {
		if len(pattern.Causes(season(r, 2, 40, 0.1))) > 0 {
			told++
		}
	}
	assert.LessOrEqual(t, told, int(logs*pattern.FalseAlarm)+8, "false alarms")
	assert.Empty(t, pattern.Causes(nil))
}

// A log of fifty thousand pulls of two cavities.
func BenchmarkCausesOfALargeLog(b *testing.B) {
	all := season(rand.New(rand.NewPCG(2, 3)), 2000, 25, 0.06)
	for b.Loop() {
		pattern.Causes(all)
	}
}
