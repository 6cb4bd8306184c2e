package shot

import (
	"testing"

	"bathyform/core/mix"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// By hand: 100 mL of density 1 at 50 to 45 with 0.2 g of pigment in 95 g weigh
// 52.6 and 47.4 g and take 0.21 g of it; the scale, tared once, shows their sums.
func TestTheScaleIsTaredOnce(t *testing.T) {
	resin := mix.Material{Name: "r", Ratio: mix.Ratio{A: 50, B: 45}, Density: 1}
	recipe := mix.Recipe{Batch: 95, Step: 0.1, Pigments: []mix.Pigment{{Name: "black", Grams: 0.2}, {Name: "white", Drops: 4}}}
	for _, inB := range []bool{false, true} {
		p, err := Make(Ask{Part: mL(100), Cavities: 1, Resin: &resin, Colour: &recipe, ScaleStep: 1, TintB: inB})
		require.NoError(t, err)
		require.Len(t, p.Chain, 4)
		first, last, a, b := "Part A", "Part B", 5000/95.0, 4500/95.0
		if inB {
			first, last, a, b = last, first, b, a
		}
		assert.Equal(
			t,
			[]string{first, "black", "white", last},
			[]string{p.Chain[0].What, p.Chain[1].What, p.Chain[2].What, p.Chain[3].What},
		)
		assert.InEpsilon(t, a, p.Chain[0].Reads.Value, 1e-9)
		assert.InEpsilon(t, a+0.2/95*100, p.Chain[1].Reads.Value, 1e-9)
		assert.Equal(t, p.Chain[1].Reads.Value, p.Chain[2].Reads.Value, "drops are counted")
		assert.InEpsilon(t, 100+0.2/95*100, p.Chain[3].Reads.Value, 1e-9)
		assert.InEpsilon(t, b, p.Chain[3].Add.Value, 1e-9)
	}
	p, err := Make(Ask{Part: mL(100), Cavities: 1})
	require.NoError(t, err)
	assert.Empty(t, p.Chain, "nothing is weighed of a resin that nobody has chosen")
}

// By hand: 400 mL in cups of 300, of which 200 are filled, are two mixes; a scale
// of 150 g takes three at a density of 1.
func TestAShotIsDividedByCupAndScale(t *testing.T) {
	resin := mix.Material{Name: "r", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1}
	for _, c := range []struct{ cup, scale, mixes float64 }{{300, 0, 2}, {300, 150, 3}, {0, 150, 3}, {0, 0, 1}, {5000, 3000, 1}} {
		p, err := Make(Ask{Part: mL(400), Cavities: 1, Resin: &resin, Bucket: c.cup, Scale: c.scale})
		require.NoError(t, err)
		assert.Equal(t, c.mixes, p.Mixes.Value, "cup %g, scale %g", c.cup, c.scale)
	}
}

// A cup holds half as much again, to stir in; under 29 inches of mercury 5 % of air
// make a mix 2.574 times as high (Boyle's law, the worked table of foam heights).
// What stays in cup and syringe is poured on top.
func TestCupsHaveRoom(t *testing.T) {
	p, err := Make(Ask{Part: mL(100), Cavities: 1, Cup: 2, Syringe: 3})
	require.NoError(t, err)
	assert.InEpsilon(t, 105, p.Total.Value, 1e-9)
	assert.InEpsilon(t, 157.5, p.Cup.Value, 1e-9)
	assert.InEpsilon(t, 105*2.574, p.Vessel.Value, 2e-3)
	sum := 0.0
	for _, l := range p.Lines {
		sum += l.Volume.Value
	}
	assert.InEpsilon(t, p.Total.Value, sum, 1e-9, "the lines are the sum")
}
