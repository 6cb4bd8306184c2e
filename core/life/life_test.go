package life

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func dead(pulls ...int) (r []Record) {
	for _, n := range pulls {
		r = append(r, Record{n, true})
	}
	return r
}

// Values from an independent evaluation of the same grid, kept in the
// project's reference sheet.
func TestForecastOfMouldLife(t *testing.T) {
	fresh := Learn(TradePrior, nil)
	assert.Equal(t, Remaining{12, 39, 107}, fresh.Remaining(0))
	assert.InDelta(t, 0.91613, fresh.Outlasts(0, 10), 1e-4)

	some := append(dead(32, 41, 28), Record{15, false}, Record{36, false})
	f := Learn(TradePrior, some)
	assert.Equal(t, Remaining{18, 36, 62}, f.Remaining(0))
	assert.Equal(t, Remaining{7, 23, 49}, f.Remaining(15))
	assert.InDelta(t, 0.82880, f.Outlasts(15, 10), 1e-4)
	assert.Equal(t, Remaining{2, 10, 35}, f.Remaining(36))
	assert.InDelta(t, 0.47304, f.Outlasts(36, 10), 1e-4)

	assert.Equal(t, Remaining{8, 24, 72}, Learn(TradePrior, dead(12)).Remaining(0))
	alive := Learn(TradePrior, []Record{{60, false}})
	assert.Equal(t, Remaining{5, 30, 121}, alive.Remaining(60))
	assert.InDelta(t, 0.78108, alive.Outlasts(60, 10), 1e-4)
	assert.Equal(t, Remaining{26, 38, 48}, Learn(TradePrior, dead(40, 40, 40, 40, 40, 40)).Remaining(0))
}

func TestOrderOfMouldsDoesNotMatter(t *testing.T) {
	a := Learn(TradePrior, append(dead(32, 41), Record{15, false}))
	b := Learn(TradePrior, append([]Record{{15, false}}, dead(41, 32)...))
	assert.InDelta(t, a.Outlasts(10, 20), b.Outlasts(10, 20), 1e-12)
}

func TestChancesFallWithEveryPull(t *testing.T) {
	f := Learn(TradePrior, nil)
	last := 1.0
	for r := range 200 {
		p := f.Outlasts(5, r)
		assert.LessOrEqual(t, p, last)
		last = p
	}
	assert.InDelta(t, 1.0, f.Outlasts(5, 0), 1e-12)
}
