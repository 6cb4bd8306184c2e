package enough_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bathyform/core/enough"
	"bathyform/core/life"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Exact values of the binomial and the beta-binomial, kept in the project's
// reference sheet and checked there by simulation.
func TestHowManyCastingsForSoManyGoodOnes(t *testing.T) {
	for _, c := range []struct {
		wanted int
		yield  enough.Yield
		want   int
	}{
		{1, enough.Yield{Share: 0.9}, 2}, {10, enough.Yield{Share: 0.9}, 13}, {50, enough.Yield{Share: 0.9}, 60},
		{50, enough.Yield{Share: 0.8}, 69}, {50, enough.Yield{Share: 0.95}, 56}, {100, enough.Yield{Share: 0.9}, 117},
		{200, enough.Yield{Share: 0.95}, 216}, {10, enough.Yield{Share: 0.5}, 28}, {50, enough.Yield{Share: 1}, 50},
		{0, enough.Yield{Share: 0.9}, 0},
		{50, enough.Yield{Good: 18, Bad: 2, Counted: true}, 66}, {50, enough.Yield{Good: 9, Bad: 1, Counted: true}, 71},
		{50, enough.Yield{Good: 180, Bad: 20, Counted: true}, 61}, {50, enough.Yield{Good: 180_000, Bad: 20_000, Counted: true}, 60},
	} {
		got, err := c.yield.Castings(c.wanted, enough.Sure)
		require.NoError(t, err)
		assert.Equal(t, c.want, got, "%d of %+v", c.wanted, c.yield)
	}
	for _, wrong := range []enough.Yield{{Share: 0}, {Share: 1.1}, {Share: -0.1}, {Share: math.NaN()}, {Bad: 5, Counted: true},
		{Good: -1, Counted: true}} {
		_, err := wrong.Castings(5, enough.Sure)
		assert.Error(t, err, "%+v", wrong)
	}
	_, err := enough.Yield{Share: 0.9}.Castings(-1, enough.Sure)
	require.ErrorIs(t, err, enough.ErrWanted)
	none := enough.Yield{Good: 0, Bad: 0, Counted: true}
	n, err := none.Castings(10, enough.Sure)
	require.NoError(t, err)
	assert.Greater(t, n, 100, "nothing is known of the yield")
}

// A gang of four: 15 pulls where cavities fail by themselves, 17 where a bad mix
// spoils them all; a gang of six 10 and 12.
func TestAGangTakesFewerPulls(t *testing.T) {
	for _, c := range []struct {
		cavities, alone, together int
	}{{4, 15, 17}, {6, 10, 12}} {
		o := enough.Order{Wanted: 50, Yield: enough.Yield{Share: 0.9}, Cavities: c.cavities}
		n, err := o.Pulls()
		require.NoError(t, err)
		assert.Equal(t, c.alone, n)
		o.Together = true
		n, err = o.Pulls()
		require.NoError(t, err)
		assert.Equal(t, c.together, n)
	}
	_, err := enough.Order{Wanted: 5, Yield: enough.Yield{Share: 1}}.Pulls()
	assert.ErrorIs(t, err, enough.ErrGang)
}

// 100 pulls from new moulds of the posterior of three that wore out and two that
// live: four finish it in 0.92217 of the futures, five in 0.98446; taken for
// independent, four would wrongly do. From the project's reference sheet.
func TestMouldsOfOneRubberShareTheirFate(t *testing.T) {
	f := life.Learn(life.TradePrior, []life.Record{{Pulls: 32, WornOut: true}, {Pulls: 41, WornOut: true}, {Pulls: 28, WornOut: true},
		{Pulls: 15}, {Pulls: 36}})
	o := enough.Order{Wanted: 100, Yield: enough.Yield{Share: 1}, Cavities: 1, Forecast: f}
	got, err := o.Chances(8)
	require.NoError(t, err)
	require.Len(t, got, 6, "five are enough")
	assert.InDelta(t, 0.92217, got[4], 1e-3)
	assert.InDelta(t, 0.98446, got[5], 1e-3)
	assert.Zero(t, got[0], "without a mould nothing is cast")

	o.Moulds = []int{15, 36}
	with, err := o.Chances(8)
	require.NoError(t, err)
	assert.Positive(t, with[0])
	assert.Greater(t, with[3], got[3], "those on the rack help")
	o.Accidents = life.Accidents(6, 100)
	risky, err := o.Chances(8)
	require.NoError(t, err)
	assert.Less(t, risky[3], with[3], "accidents cost moulds")
	for k := 1; k < len(with); k++ {
		assert.GreaterOrEqual(t, with[k], with[k-1]-1e-12)
	}
}

// Moulds that are known through and through, median 40 and wear 2.5: 2 for 20 and
// for 40 pulls, 4 for 100, 7 for 200; with a yield of 0.9 five for 100 good ones.
// From the project's reference sheet.
func TestMouldsThatAreKnown(t *testing.T) {
	for _, c := range []struct {
		wanted int
		yield  float64
		moulds int
		chance float64
	}{{20, 1, 2, 0.99909}, {40, 1, 2, 0.96980}, {100, 1, 4, 0.97733}, {200, 1, 7, 0.97975}, {100, 0.9, 5, 0.99610}} {
		o := enough.Order{Wanted: c.wanted, Yield: enough.Yield{Share: c.yield}, Cavities: 1, Forecast: life.Known(40, 2.5)}
		got, err := o.Chances(10)
		require.NoError(t, err)
		assert.Len(t, got, c.moulds+1, "%+v", c)
		assert.InDelta(t, c.chance, got[len(got)-1], 3e-4, "%+v: the nearest exponent of the grid is 2.53", c)
	}
}

// Orders of thousands are taken in larger steps, and come to about the same.
func TestLongOrders(t *testing.T) {
	o := enough.Order{Wanted: 3000, Yield: enough.Yield{Share: 0.9}, Cavities: 6, Forecast: life.Learn(life.TradePrior, nil)}
	got, err := o.Chances(60)
	require.NoError(t, err)
	assert.Greater(t, got[len(got)-1], enough.Sure)
	assert.InDelta(t, 28, len(got), 14)
}

func BenchmarkIsItEnough(b *testing.B) {
	f := life.Learn(life.TradePrior, []life.Record{{Pulls: 32, WornOut: true}, {Pulls: 41, WornOut: true}, {Pulls: 15}})
	o := enough.Order{Wanted: 240, Yield: enough.Yield{Good: 88, Bad: 7, Counted: true}, Cavities: 2, Moulds: []int{16}, Forecast: f}
	for b.Loop() {
		if _, err := o.Chances(8); err != nil {
			b.Fatal(err)
		}
	}
}

// Two moulds of a known life, laid end to end: the pulls that 19 of 20 such racks give
// are the sum's quantile, here by drawing lives.
func TestHowLongTheRackLasts(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	const median, beta, draws = 40.0, 2.0, 40000
	f := life.Known(median, beta)
	o := enough.Order{Cavities: 1, Moulds: []int{0, 25}, Forecast: f}
	drawn := func(pulls int) int { // a life longer than that, by inversion
		h := math.Ln2*math.Pow(float64(pulls)/median, beta) + r.ExpFloat64()
		return max(1, int(math.Ceil(median*math.Pow(h/math.Ln2, 1/beta)))-pulls)
	}
	sums := make([]int, draws)
	for i := range sums {
		sums[i] = drawn(0) + drawn(25)
	}
	slices.Sort(sums)
	assert.InDelta(t, sums[draws/20], o.Lasts(0.95, 200), 1)
	assert.InDelta(t, sums[draws/2], o.Lasts(0.5, 200), 1)
	assert.Equal(t, 10, o.Lasts(0.5, 10), "no more than is asked")
	assert.Zero(t, enough.Order{Cavities: 1, Forecast: f}.Lasts(0.95, 100), "an empty rack")
}

// A rubber whose moulds last longer needs fewer of them, and the same rubber under
// another name as many.
func TestANewMouldOfAnotherRubber(t *testing.T) {
	long, same := life.Known(90, 2), life.Known(30, 2)
	o := enough.Order{Wanted: 100, Yield: enough.Yield{Share: 0.9}, Cavities: 1, Moulds: []int{10}, Forecast: life.Known(30, 2)}
	plain, err := o.Chances(12)
	require.NoError(t, err)
	o.Fresh = &same
	again, err := o.Chances(12)
	require.NoError(t, err)
	assert.InDeltaSlice(t, plain, again, 1e-9)
	o.Fresh = &long
	firmer, err := o.Chances(12)
	require.NoError(t, err)
	assert.Less(t, len(firmer), len(plain))
	assert.InDelta(t, plain[0], firmer[0], 1e-9, "the rack is the same")
}
