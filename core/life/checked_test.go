package life

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Forecasts of moulds whose lives are drawn from the model come inside the band
// about eight times in ten; each is made from the others alone.
func TestForecastsAreHeldAgainstWhatCame(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	inside, all := 0, 0
	for range 25 {
		median, beta := 40*math.Exp(0.54*r.NormFloat64()), 2*math.Exp(0.5*r.NormFloat64())
		var records []Record
		for range 6 {
			life := int(math.Ceil(median * math.Pow(-math.Log2(1-r.Float64()), 1/beta)))
			records = append(records, Record{Pulls: max(1, life), WornOut: true})
		}
		for _, c := range Checked(TradePrior, records) {
			all++
			if c.Inside {
				inside++
			}
			assert.Equal(t, c.WornAfter, c.At+c.Gave)
		}
	}
	assert.InDelta(t, 0.80, float64(inside)/float64(all), 0.10)
	assert.Empty(t, Checked(TradePrior, []Record{{Pulls: 40}, {Pulls: 1, WornOut: true}}), "nothing has come yet")
	one := Checked(TradePrior, dead(40))
	alone := Learn(TradePrior, nil).Remaining(20)
	assert.Equal(t, alone, one[0].Forecast, "from the others alone: there are none")
}
