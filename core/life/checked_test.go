package life

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// drawn are moulds of a kind whose median and wear are drawn from the prior, poured one
// after the other, pulled once a day; some are lost on the way, and the log ends on a day.
func drawn(r *rand.Rand, moulds, until int) (out []Lived) {
	sd := math.Log(TradePrior.High/TradePrior.Low) / tenToNinety
	median, beta := TradePrior.Typical*math.Exp(sd*r.NormFloat64()), betaMid*math.Exp(betaSD*r.NormFloat64())
	for i := range moulds {
		m := Lived{Poured: 15 * i}
		life := max(1, int(math.Ceil(median*math.Pow(-math.Log2(1-r.Float64()), 1/beta))))
		lost := int(r.ExpFloat64() * 150)
		for day := m.Poured + 1; day <= until && len(m.Pulled) < min(life, lost); day++ {
			m.Pulled = append(m.Pulled, day)
		}
		if n := len(m.Pulled); n == min(life, lost) {
			m.Retired, m.Ended, m.WornOut = true, m.Poured+n, n == life
		}
		out = append(out, m)
	}
	return out
}

// Over many shops whose moulds come as the model says, eight in ten forecasts come
// inside their span at every age, the living counted as far as they came. Over 400 shops
// it is 0.79 to 0.81.
func TestEightInTenForecastsComeInside(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(5, 6))
	var came []Came
	for range 40 {
		came = append(came, Checked(TradePrior, drawn(r, 12, 220))...)
	}
	told := 0
	for _, tally := range Tallied(came) {
		if tally.Decided() < 200 {
			continue
		}
		told++
		assert.InDelta(t, 0.80, tally.Share, 0.05, "%+v", tally)
		assert.Positive(t, tally.Open, "some still live")
		assert.Less(t, tally.Low, tally.Share)
		assert.Greater(t, tally.High, tally.Share)
	}
	assert.GreaterOrEqual(t, told, 3)
}

// What was said on a day rests on what was known that day: nothing that came later
// changes it.
func TestAForecastOfThePastKnowsNothingOfWhatCameLater(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	moulds := drawn(r, 8, 400)
	all := Checked(TradePrior, moulds)
	require.Greater(t, len(all), 20)
	var each []Came
	for i := range moulds {
		each = append(each, CheckedOf(TradePrior, moulds, i)...)
	}
	assert.ElementsMatch(t, all, each)
	for _, c := range all {
		var known []Record
		for i, m := range moulds {
			switch {
			case i == c.Mould:
				known = append(known, Record{Pulls: c.At})
			case m.Poured < c.Day:
				rec := Record{}
				for _, day := range m.Pulled {
					if day < c.Day {
						rec.Pulls++
					}
				}
				rec.WornOut = m.WornOut && m.Ended < c.Day
				known = append(known, rec)
			}
		}
		assert.Equal(t, Learn(TradePrior, known).Remaining(c.At), c.Forecast, "mould %d after %d", c.Mould, c.At)
	}
}

func TestForecastsAreHeldAgainstWhatCame(t *testing.T) {
	days := func(n int) (out []int) {
		for i := range n {
			out = append(out, i+1)
		}
		return out
	}
	alone := Learn(TradePrior, nil).Remaining(0)
	cases := []struct {
		says  string
		mould Lived
		fate  Fate
	}{
		{"worn out within the span", Lived{Pulled: days(40), Retired: true, Ended: 40, WornOut: true}, Inside},
		{"worn out at the first pull", Lived{Pulled: days(1), Retired: true, Ended: 1, WornOut: true}, Less},
		{"worn out long after", Lived{Pulled: days(alone.High + 1), Retired: true, Ended: 200, WornOut: true}, More},
		{"still lives, and has given what was said", Lived{Pulled: days(alone.High)}, More},
		{"still lives within the span", Lived{Pulled: days(40)}, Open},
		{"lost within the span", Lived{Pulled: days(40), Retired: true, Ended: 40}, Open},
	}
	for _, c := range cases {
		t.Run(c.says, func(t *testing.T) {
			came := Checked(TradePrior, []Lived{c.mould})
			require.NotEmpty(t, came)
			first := came[0]
			assert.Equal(t, alone, first.Forecast, "of a new mould, before any log")
			assert.Equal(t, c.fate, first.Fate)
			assert.Len(t, came, (len(c.mould.Pulled)+CheckedEvery-1)/CheckedEvery, "one when new, one after each ten pulls")
			for _, f := range came {
				assert.Equal(t, len(c.mould.Pulled), f.At+f.Gave)
			}
		})
	}
	assert.Empty(t, Checked(TradePrior, []Lived{{}}), "nothing has come yet")
	assert.Empty(t, Tallied(nil))
}

// BenchmarkChecked goes through a kind with 100 moulds, 60 of them worn out.
func BenchmarkChecked(b *testing.B) {
	moulds := drawn(rand.New(rand.NewPCG(5, 9)), 100, 1100)
	forecasts := 0
	for b.Loop() {
		forecasts = len(Checked(TradePrior, moulds))
	}
	b.ReportMetric(float64(forecasts), "forecasts")
}
