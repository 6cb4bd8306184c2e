package mix

import (
	"math"
	"testing"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func volume(mL float64) derive.Number { return derive.Of(quantity.Volume, mL, "given") }

func byWeight(a, b, density float64) Material {
	return Material{Name: "test", Ratio: Ratio{A: a, B: b}, Density: density}
}

// Common practice, no source: the sums that casters do on a scrap of card.
func TestSumsOnAScrapOfCard(t *testing.T) {
	boxed := 10.0 * 10 * 2 // cm
	assert.Equal(t, 200.0, boxed, "a 10 x 10 x 2 cm box is 200 mL")

	b, err := Split(byWeight(10, 1, 1.2), volume(400))
	require.NoError(t, err)
	assert.InEpsilon(t, 480, b.Mass.Value, 1e-12, "400 mL at 1.2 g/mL is 480 g, not 400")

	// 10:1 of 170 g base takes 17 g of catalyst; 2500 g takes 250 g
	for base, catalyst := range map[float64]float64{170: 17, 2500: 250} {
		b, err = Split(byWeight(10, 1, 1), volume(base+catalyst))
		require.NoError(t, err)
		assert.InEpsilon(t, base, b.A.Value, 1e-12)
		assert.InEpsilon(t, catalyst, b.B.Value, 1e-12)
	}

	read := func(text string) float64 {
		mm, err := quantity.Reader{System: quantity.US}.Parse(quantity.Length, text)
		require.NoError(t, err)
		return mm
	}
	mL := read("3 7/8") * read("14") * read("2 1/2") / 1000
	in3, err := quantity.In(mL, "in3")
	require.NoError(t, err)
	assert.InEpsilon(t, 135.625, in3, 1e-12)
	assert.InEpsilon(t, 117.625, in3-18, 1e-12, "less a part of 18 cubic inches")
	assert.InEpsilon(t, 4.705, (in3-18)/25, 1e-12, "shop rule: 25 cubic inches to the pound")
	// that rule is a density of 1.107 g/mL without any allowance
	assert.InEpsilon(t, 1.107, quantity.GramPerPound/(25*quantity.MillilitrePerCubicInch), 2e-4)

	mL = read("5 3/4") * read("5 1/2") * read("3 1/2") / 1000
	in3, _ = quantity.In(mL, "in3")
	floz, _ := quantity.In(mL, "fl oz")
	assert.InEpsilon(t, 110.6875, in3, 1e-12)
	assert.InDelta(t, 61.33, floz, 0.005)
	equal := Material{Name: "test", Ratio: Ratio{A: 1, B: 1, ByVolume: true}, Density: 1, DensityA: 1, DensityB: 1}
	b, err = Split(equal, volume(mL))
	require.NoError(t, err)
	half, _ := quantity.In(b.VolumeA.Value, "fl oz")
	assert.InDelta(t, 30.67, half, 0.005)
}

// Worked out by Monte Carlo and by hand for this project's reference sheet.
func TestRatioByVolumeIsWeighedByBothDensities(t *testing.T) {
	m := Material{Name: "test", Ratio: Ratio{A: 1, B: 1, ByVolume: true}, Density: 1.08, DensityA: 1.06, DensityB: 1.10}
	assert.InEpsilon(t, 0.96364, m.ByWeight(), 1e-5)
	m.Ratio.A, m.DensityA, m.DensityB = 2, 1.15, 0.97
	assert.InEpsilon(t, 2.3711, m.ByWeight(), 2e-5)
	b, err := Split(m, volume(100))
	require.NoError(t, err)
	assert.InEpsilon(t, 2, b.VolumeA.Value/b.VolumeB.Value, 1e-12)
	assert.InEpsilon(t, 108, b.A.Value+b.B.Value, 1e-12)

	ten, err := Split(byWeight(10, 1, 1.1), volume(250))
	require.NoError(t, err)
	assert.InEpsilon(t, 250, ten.A.Value, 1e-12)
	assert.InEpsilon(t, 25, ten.B.Value, 1e-12)
	assert.Nil(t, ten.VolumeA)
}

func TestScaleErrorOfSmallBatches(t *testing.T) {
	split := func(mass, r float64) (a, b float64) { return mass * r / (r + 1), mass / (r + 1) }
	a, b := split(20, 10)
	assert.InEpsilon(t, 1.3444, RatioError(1, a, b), 2e-4, "20 g at 10:1 on a 1 g scale")
	assert.InDelta(t, 0.0605, RatioError(0.1, a, b), 0.004)
	assert.InEpsilon(t, 0.00605, RatioError(0.01, a, b), 0.01)
	a, b = split(1, 10)
	assert.True(t, math.IsInf(RatioError(1, a, b), 1), "B is less than the scale can show")
	assert.InDelta(t, 0, RatioError(0, a, b), 1e-12)

	assert.InEpsilon(t, 253.0, SmallestBatch(1, 10, 0.05), 2e-4)
	assert.InEpsilon(t, 25.30, SmallestBatch(0.1, 10, 0.05), 2e-4)
	assert.InEpsilon(t, 82.00, SmallestBatch(1, 1, 0.05), 2e-4)
	assert.InEpsilon(t, 20.20, SmallestBatch(0.1, 1, 0.02), 2e-4)
	for _, r := range []float64{0.5, 1, 2, 10} {
		mass := SmallestBatch(0.1, r, 0.03)
		a, b := split(mass, r)
		assert.InEpsilon(t, 0.03, RatioError(0.1, a, b), 1e-9, "the smallest batch just meets its tolerance")
	}
}

func TestMaterialsThatCannotBe(t *testing.T) {
	for says, m := range map[string]Material{
		"ratio":        byWeight(0, 1, 1.1),
		"10:-1":        byWeight(10, -1, 1.1),
		"more than 0":  byWeight(10, 1, 0),
		"check the":    byWeight(10, 1, 1100),
		"both parts":   {Name: "x", Ratio: Ratio{A: 1, B: 1, ByVolume: true}, Density: 1.1},
		"must be more": byWeight(10, 1, math.NaN()),
		"mixed 1e+308": byWeight(1e308, 1, 1.1),
		"mixed 5e-324": byWeight(5e-324, 1, 1.1),
		"those of no":  {Name: "x", Ratio: Ratio{A: 1, B: 1, ByVolume: true}, Density: 1.1, DensityA: 1e-300, DensityB: 1},
	} {
		_, err := Split(m, volume(10))
		assert.ErrorContains(t, err, says)
	}
	_, err := Split(byWeight(1, 1, 1), volume(0))
	assert.ErrorIs(t, err, ErrNothing)
}

func TestScaleErrorBehavesAsErrorsDo(t *testing.T) {
	split := func(mass, r float64) (a, b float64) { return mass * r / (r + 1), mass / (r + 1) }
	for _, r := range []float64{0.25, 1, 4, 10} {
		a, b := split(400, r)
		coarse, fine := RatioError(1, a, b), RatioError(0.5, a, b)
		assert.InEpsilon(t, 2, coarse/fine, 0.06, "half the step, half the error")
		a2, b2 := split(800, r)
		assert.InEpsilon(t, 2, coarse/RatioError(1, a2, b2), 0.06, "twice the batch, half the error")
		assert.Less(t, SmallestBatch(0.1, r, 0.05), SmallestBatch(0.1, r, 0.02))
	}
	even := SmallestBatch(1, 1, 0.05)
	for _, r := range []float64{0.1, 0.5, 2, 10} {
		assert.Greater(t, SmallestBatch(1, r, 0.05), even, "equal parts are the kindest to a scale")
	}
}

func TestEveryNumberOfABatchSaysWhereItComesFrom(t *testing.T) {
	b, err := Split(
		Material{Name: "clear", Ratio: Ratio{A: 2, B: 1, ByVolume: true}, Density: 1.1, DensityA: 1.15, DensityB: 0.97},
		volume(50),
	)
	require.NoError(t, err)
	for name, n := range map[string]derive.Number{"mass": b.Mass, "A": b.A, "B": b.B, "volume A": *b.VolumeA, "volume B": *b.VolumeB} {
		assert.NotEmpty(t, n.Formula, name)
		require.NotEmpty(t, n.Inputs, name)
		for _, in := range n.Inputs {
			assert.NotEmpty(t, in.Source, "%s of %s", in.Name, name)
			if in.Source == "worked out" {
				assert.NotNil(t, in.Number)
				assert.Equal(t, in.Value, in.Number.Value)
			}
		}
	}
	assert.Equal(t, "2:1 by volume", Ratio{A: 2, B: 1, ByVolume: true}.String())
	assert.Equal(t, "10:1 by weight", Ratio{A: 10, B: 1}.String())
}

// Wax and metal have one part: all of it is weighed, no ratio is kept.
func TestWhatIsMeltedHasOnePart(t *testing.T) {
	wax := Material{Name: "casting wax", Ratio: Ratio{A: 1}, Density: 0.95, Traits: Traits{PourFrom: 75, PourTo: 85, Kit: 1000}}
	require.NoError(t, wax.Validate())
	assert.Equal(t, "one part", wax.Ratio.String())
	b, err := Split(wax, derive.Of(quantity.Volume, 100, "asked"))
	require.NoError(t, err)
	assert.InDelta(t, 95, b.A.Value, 1e-9)
	assert.Zero(t, b.B.Value)
	assert.Nil(t, CheckScale(finding.Shot, "the shot", wax, b.A.Value, b.B.Value, practice.Usual()))
	assert.Nil(t, CheckDensity(finding.Shot, wax))
	wax.Ratio.ByVolume = true
	assert.ErrorContains(t, wax.Validate(), "no ratio by volume")
	wax.Ratio = Ratio{}
	assert.ErrorContains(t, wax.Validate(), "more than 0")

	metal := Material{Name: "metal", Traits: Traits{PourFrom: 250, PourTo: 280}}
	rubber := Material{Name: "rubber", Traits: Traits{Heat: 200}}
	require.NotNil(t, CheckHeat(metal, rubber))
	assert.Equal(t, finding.Stop, CheckHeat(metal, rubber).Severity)
	rubber.Traits.Heat = 300
	assert.Nil(t, CheckHeat(metal, rubber))
	assert.Error(t, Traits{PourFrom: 90, PourTo: 80}.Check())
}

// A sheet whose mixed density is not what its parts make is told, and by how much.
func TestDensitiesAreHeldAgainstOneAnother(t *testing.T) {
	m := Material{Name: "R", Ratio: Ratio{A: 1, B: 1, ByVolume: true}, DensityA: 1.12, DensityB: 1, Density: 1.06}
	assert.InDelta(t, 1.06, m.Mixed(), 1e-9)
	assert.Nil(t, CheckDensity(finding.Shot, m))
	m.Density = 1.1
	f := CheckDensity(finding.Shot, m)
	require.NotNil(t, f)
	assert.InDelta(t, 1.06, f.Limit.Value, 1e-9)
}

func TestKitsForAJob(t *testing.T) {
	m := Material{Name: "R", Traits: Traits{Kit: 900}}
	assert.Contains(t, CheckKits(finding.Shot, "The resin", m, 850).What, "fits into one kit")
	assert.Contains(t, CheckKits(finding.Shot, "The resin", m, 950).What, "2 kits")
	assert.Nil(t, CheckKits(finding.Shot, "The resin", Material{}, 950))
}

// Times of a sheet in the shop: ten degrees colder, twice as long, from the
// sheet's own temperature.
func TestTimesFollowTheSheetsOwnTemperature(t *testing.T) {
	s := Traits{PotLife: 10, Demould: 60}
	assert.InEpsilon(t, 20, s.In(15).PotLife, 1e-12)
	assert.InEpsilon(t, 30, s.In(35).Demould, 1e-12)
	s.Celsius = 20
	assert.InEpsilon(t, 10, s.In(20).PotLife, 1e-12)
	assert.InEpsilon(t, 5, s.In(30).PotLife, 1e-12)
	assert.Equal(t, s, s.In(0))
	s.Q10 = 3 // as it was measured
	assert.InEpsilon(t, 30, s.In(10).PotLife, 1e-12)
	assert.NoError(t, s.Check())
	s.Q10 = 0.5
	assert.ErrorContains(t, s.Check(), "10 °C warmer")
}
