package watch_test

import (
	"math/rand/v2"
	"testing"

	"bathyform/core/watch"

	"github.com/stretchr/testify/assert"
)

func castings(s string) (out []bool) {
	for _, c := range s {
		out = append(out, c == 'B')
	}
	return out
}

func TestThePathOfAChart(t *testing.T) {
	got := watch.One.Run(castings("GGBGBB"))
	assert.Equal(t, []int{0, 0, 8, 7, 15, 23}, got.States)
	assert.Equal(t, []int{6}, got.Alarms)
	assert.InDelta(t, 4.0/26, got.Scrap(), 1e-12)
	again := watch.One.Run(castings("BBBGBBB"))
	assert.Equal(t, []int{3, 7}, again.Alarms, "it begins anew")
	assert.Empty(t, watch.One.Run(nil).Alarms)
}

// Exact run lengths of the chain, kept in the project's reference sheet and
// checked there by simulation.
func TestRunLengthsOfTheCharts(t *testing.T) {
	low := watch.Chart{Adds: 8, Height: 16, Usual: 0.05}
	tenPercent := watch.Chart{Adds: 4, Height: 12, Usual: 0.10}
	for _, c := range []struct {
		chart       watch.Chart
		share, want float64
	}{
		{low, 0.05, 222.02}, {low, 0.10, 53.56}, {low, 0.20, 16.70}, {low, 0.30, 9.51}, {low, 0.50, 5.02},
		{watch.One, 0.05, 366.68}, {watch.One, 0.10, 69.60}, {watch.One, 0.20, 19.64}, {watch.One, 0.30, 11.08},
		{watch.One, 0.50, 6.07},
		{watch.Many, 0.05, 1819.4}, {watch.Many, 0.10, 151.06}, {watch.Many, 0.20, 30.32}, {watch.Many, 0.30, 16.03},
		{watch.Many, 0.50, 8.30},
		{tenPercent, 0.10, 347.90}, {tenPercent, 0.15, 98.77}, {tenPercent, 0.20, 45.56}, {tenPercent, 0.30, 18.76},
		{tenPercent, 0.50, 8.06},
	} {
		assert.InDelta(t, c.want, c.chart.RunLength(c.share), max(0.005, 2e-4*c.want), "%+v at %g", c.chart, c.share)
	}
	assert.InDelta(t, 0.151, low.FalseAlarm(40), 5e-4)
	assert.InDelta(t, 0.0876, watch.One.FalseAlarm(40), 5e-5)
	assert.InDelta(t, 0.0143, watch.Many.FalseAlarm(40), 5e-5)
	assert.InDelta(t, 0.0946, tenPercent.FalseAlarm(40), 5e-5)
	assert.Equal(t, watch.Many, watch.For(4))
	assert.Equal(t, watch.One, watch.For(2))
}

// What the chain says is what happens.
func TestChartsAlarmAsOftenAsTheySay(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	sum, runs := 0, 4000
	for range runs {
		s := 0
		for {
			sum++
			if r.Float64() < 0.20 {
				s += watch.One.Adds
			} else {
				s = max(0, s-1)
			}
			if s >= watch.One.Height {
				break
			}
		}
	}
	assert.InEpsilon(t, watch.One.RunLength(0.20), float64(sum)/float64(runs), 0.03)
}

func TestAllCavitiesAtOnceIsTheMix(t *testing.T) {
	assert.Equal(t, []int{2}, watch.Together([][]bool{castings("GBG"), castings("GBB")}))
	assert.Empty(t, watch.Together([][]bool{castings("BBB")}))
	assert.Empty(t, watch.Together([][]bool{castings("BB"), castings("")}), "one of them was plugged")
}
