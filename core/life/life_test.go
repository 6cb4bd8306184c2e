package life

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

func dead(pulls ...int) (r []Record) {
	for _, n := range pulls {
		r = append(r, Record{Pulls: n, WornOut: true})
	}
	return r
}

// Values from an independent evaluation of the same grid, kept in the
// project's reference sheet.
func TestForecastOfMouldLife(t *testing.T) {
	fresh := Learn(TradePrior, nil)
	assert.Equal(t, Remaining{12, 39, 107}, fresh.Remaining(0))
	assert.InDelta(t, 0.91613, fresh.Outlasts(0, 10), 1e-4)

	some := append(dead(32, 41, 28), Record{Pulls: 15, WornOut: false}, Record{Pulls: 36, WornOut: false})
	f := Learn(TradePrior, some)
	assert.Equal(t, Remaining{18, 36, 62}, f.Remaining(0))
	assert.Equal(t, Remaining{7, 23, 49}, f.Remaining(15))
	assert.InDelta(t, 0.82880, f.Outlasts(15, 10), 1e-4)
	assert.Equal(t, Remaining{2, 10, 35}, f.Remaining(36))
	assert.InDelta(t, 0.47304, f.Outlasts(36, 10), 1e-4)

	assert.Equal(t, Remaining{8, 24, 72}, Learn(TradePrior, dead(12)).Remaining(0))
	alive := Learn(TradePrior, []Record{{Pulls: 60, WornOut: false}})
	assert.Equal(t, Remaining{5, 30, 121}, alive.Remaining(60))
	assert.InDelta(t, 0.78108, alive.Outlasts(60, 10), 1e-4)
	assert.Equal(t, Remaining{26, 38, 48}, Learn(TradePrior, dead(40, 40, 40, 40, 40, 40)).Remaining(0))
}

func TestOrderOfMouldsDoesNotMatter(t *testing.T) {
	a := Learn(TradePrior, append(dead(32, 41), Record{Pulls: 15, WornOut: false}))
	b := Learn(TradePrior, append([]Record{{Pulls: 15, WornOut: false}}, dead(41, 32)...))
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

// Calibration: lives drawn from the prior itself must fall into the 10 to 90
// per cent band about eight times in ten. Worked out for this project's
// reference sheet: 80.9 per cent for a single mould; whole pulls add a little.
func TestBandsHoldWhatTheyPromise(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 13))
	sd := math.Log(TradePrior.High/TradePrior.Low) / tenToNinety
	inside, all := 0, 0
	for range 120 {
		m := TradePrior.Typical * math.Exp(sd*rng.NormFloat64())
		beta := betaMid * math.Exp(betaSD*rng.NormFloat64())
		life := int(math.Ceil(m * math.Pow(-math.Log2(1-rng.Float64()), 1/beta)))
		age := rng.IntN(30)
		if life <= age {
			continue // not living any more when it is looked at
		}
		band := Learn(TradePrior, []Record{{Pulls: age, WornOut: false}}).Remaining(age)
		all++
		if left := life - age; left >= band.Low && left <= band.High {
			inside++
		}
	}
	share := float64(inside) / float64(all)
	assert.Greater(t, all, 75)
	assert.InDelta(t, 0.81, share, 0.07)
}

func TestMouldsThatOutlastTheRestRaiseTheForecast(t *testing.T) {
	short := Learn(TradePrior, dead(18, 22, 20)).Remaining(0)
	long := Learn(TradePrior, dead(70, 80, 75)).Remaining(0)
	assert.Less(t, short.Middle, priorMiddle)
	assert.Greater(t, long.Middle, priorMiddle)
	assert.Less(t, short.High-short.Low, 95, "three lives narrow the band of the prior, 12 to 107")
}

// priorMiddle is the median of a new mould under the prior alone.
const priorMiddle = 39

func TestASoftSkinAndAFirmBlockAreNotExpectedToLastAlike(t *testing.T) {
	skin, block := PriorOf(Rubber{Family: "platinum", Shore: 5}), PriorOf(Rubber{Family: "platinum", Shore: 40})
	assert.Less(t, skin.Typical, 0.7*block.Typical)
	assert.Less(t, PriorOf(Rubber{Family: "platinum", Shore: 40, Clear: true}).Typical, block.Typical)
	assert.Less(t, PriorOf(Rubber{Family: "tin", Shore: 30}).Typical, block.Typical)
	assert.Equal(t, TradePrior, PriorOf(Rubber{}))
}

// Twelve moulds dead at ten pulls: whoever asks hears of it, and kinds that
// wear otherwise in proportion.
func TestTheLogReachesEveryKind(t *testing.T) {
	prior := PriorOf(Rubber{Family: "tin", Shore: 30})
	var log []Record
	for range 12 {
		log = append(log, Record{Pulls: 10, WornOut: true})
	}
	before, after := Learn(prior, nil), Learn(prior, log)
	assert.InDelta(t, 32, before.NewMould().Value, 1.5)
	assert.InDelta(t, 10, after.NewMould().Value, 2)
	assert.InDelta(t, 0.5*after.NewMould().Value, after.Wearing(0.5).NewMould().Value, 1)
	assert.Equal(t, after.Remaining(0).Middle, int(after.NewMould().Value), "the rack and the plan say the same")
	for i := range log {
		log[i].Pulls, log[i].Wear = 5, 0.5
	}
	assert.InDelta(t, 10, Learn(prior, log).NewMould().Value, 2, "five pulls of a kind that wears twice as fast teach the same")
}

func rackOf(moulds int) (r []Record) {
	for i := range moulds {
		r = append(r, Record{Pulls: 5 + i*7%60, WornOut: i%4 != 0, Wear: 1 + float64(i%3)/4})
	}
	return r
}

func BenchmarkLearnFromTwoThousandMoulds(b *testing.B) {
	rack := rackOf(2000)
	for b.Loop() {
		Learn(TradePrior, rack)
	}
}

func BenchmarkWhatIsLeft(b *testing.B) {
	f := Learn(TradePrior, rackOf(20))
	for b.Loop() {
		f.Remaining(25)
	}
}
