package mix_test

import (
	"math"
	"testing"

	"bathyform/core/derive"
	"bathyform/core/mix"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func grams(v float64) derive.Number { return derive.Of(quantity.Mass, v, "as asked") }

// A colour that was matched in a small cup is scaled to a batch. 95 g of 50
// and 45 with 0.2 g of pigment on a scale of 0.1 g is out by 25 to 50 % of the
// pigment: half a digit for the reading, and another for the tare.
func TestAColourIsScaledAndSaysHowSureItIs(t *testing.T) {
	r := mix.Recipe{Batch: 95, Step: 0.1, Pigments: []mix.Pigment{{Name: "ochre", Grams: 0.2}, {Name: "black", Drops: 3}}}
	doses, err := r.Doses(grams(190), 60, 1)
	require.NoError(t, err)
	require.Len(t, doses, 2)
	assert.InDelta(t, 0.4, doses[0].Amount.Value, 1e-12)
	assert.InDelta(t, 24, doses[0].Order.Value, 1e-9)
	assert.InDelta(t, 25, doses[0].Low.Value, 1e-9)
	assert.InDelta(t, 50, doses[0].High.Value, 1e-9)
	assert.True(t, doses[1].ByDrops)
	assert.InDelta(t, 6, doses[1].Amount.Value, 1e-12)
	assert.InDelta(t, 100.0/6, doses[1].Low.Value, 1e-9, "three drops are two and a half to three and a half")
	f := mix.CheckColour(doses)
	require.NotNil(t, f)
	assert.Contains(t, f.What, "ochre was matched to within 25 to 50 %")

	fine := mix.Recipe{Batch: 950, Step: 0.01, Pigments: []mix.Pigment{{Name: "ochre", Grams: 2}}}
	doses, err = fine.Doses(grams(190), 1, 1)
	require.NoError(t, err)
	assert.Nil(t, mix.CheckColour(doses))
	house := mix.Recipe{Batch: 95, Pigments: []mix.Pigment{{Name: "ochre", Grams: 4}}}
	doses, err = house.Doses(grams(95), 1, 1)
	require.NoError(t, err)
	assert.InDelta(t, 25, doses[0].High.Value, 1e-9, "without a scale of its own it is weighed on the shop's")
}

func TestRecipesThatCannotBeScaledAreRefused(t *testing.T) {
	ochre := []mix.Pigment{{Name: "ochre", Grams: 1}}
	for _, c := range []struct {
		r    mix.Recipe
		want string
	}{
		{mix.Recipe{Pigments: ochre}, "more than 0 g"},
		{mix.Recipe{Batch: math.NaN(), Pigments: ochre}, "more than 0 g"},
		{mix.Recipe{Batch: 50, Step: -1, Pigments: ochre}, "one digit"},
		{mix.Recipe{Batch: 50, Pigments: []mix.Pigment{{Grams: 1}}}, "has a name"},
		{mix.Recipe{Batch: 50, Pigments: []mix.Pigment{{Name: "ochre"}}}, "how many grams or how many drops"},
		{mix.Recipe{Batch: 50, Pigments: []mix.Pigment{{Name: "ochre", Grams: 1, Drops: 2}}}, "one of the two"},
		{mix.Recipe{Batch: 50, Pigments: []mix.Pigment{{Name: "ochre", Grams: 60}}}, "no more than the batch"},
		{mix.Recipe{Batch: 50, Pigments: make([]mix.Pigment, 13)}, "at most"},
	} {
		_, err := c.r.Doses(grams(100), 1, 1)
		assert.ErrorContains(t, err, c.want)
	}
}

// What was weighed is answered for: 173 g of base at 10:1 take 17.3 g, 190.3 g
// in all (common practice, no source), and 104.6 g take 10.46 g.
func TestCatalystForTheBaseThatWasWeighed(t *testing.T) {
	tin := mix.Material{Name: "tin", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1}
	for base, catalyst := range map[float64]float64{173: 17.3, 104.6: 10.46, 0.5: 0.05} {
		b, err := mix.Weighed(tin, base, false)
		require.NoError(t, err)
		assert.InDelta(t, catalyst, b.B.Value, 1e-9)
		assert.InDelta(t, base+catalyst, b.Mass.Value, 1e-9)
		assert.InDelta(t, (base+catalyst)/1.1, b.Volume.Value, 1e-9)
		back, err := mix.Weighed(tin, b.B.Value, true)
		require.NoError(t, err)
		assert.InDelta(t, base, back.A.Value, 1e-9, "the other way round")
		whole, err := mix.Split(tin, b.Volume)
		require.NoError(t, err)
		assert.InDelta(t, base, whole.A.Value, 1e-9, "as it is split when the volume is asked")
	}
	marks := mix.Material{Name: "fast", Ratio: mix.Ratio{A: 1, B: 1, ByVolume: true}, Density: 1.08, DensityA: 1.06, DensityB: 1.10}
	b, err := mix.Weighed(marks, 100, false)
	require.NoError(t, err)
	assert.InDelta(t, 103.77, b.B.Value, 0.005, "a ratio by volume, weighed")

	_, err = mix.Weighed(tin, 0, false)
	require.ErrorIs(t, err, mix.ErrNothing)
	_, err = mix.Weighed(tin, 1e-300, false)
	require.ErrorContains(t, err, "less than any scale")
	_, err = mix.Weighed(mix.Material{Name: "wax", Ratio: mix.Ratio{A: 1}, Density: 0.9}, 100, false)
	assert.ErrorContains(t, err, "one part")
}
