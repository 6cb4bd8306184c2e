package quantity

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMeasuresAreReadTheWayCastersWriteThem(t *testing.T) {
	metric, us := Reader{System: Metric}, Reader{System: US}
	comma := Reader{System: Metric, DecimalComma: true}
	for _, c := range []struct {
		r    Reader
		kind Kind
		text string
		want float64
	}{
		{metric, Length, "98.4", 98.4},
		{metric, Length, " 98.4 mm ", 98.4},
		{metric, Length, "3 7/8 in", 98.425},
		{metric, Length, `3 7/8"`, 98.425},
		{us, Length, "3 7/8", 98.425},
		{us, Length, "3-7/8", 98.425},
		{us, Length, "3.875", 98.425},
		{us, Length, "3⅞", 98.425},
		{us, Length, "1/16", 1.5875},
		{us, Length, "1-1/2 in", 38.1},
		{us, Length, "5 3/64 in", 128.190625},
		{us, Length, "9/8", 28.575},
		{us, Length, "3", 76.2},
		{us, Length, "2 ft 3 in", 685.8},
		{us, Length, "12 cm", 120},
		{metric, Length, `1/2"`, 12.7},
		{comma, Length, "98,4", 98.4},
		{metric, Mass, "2lb3oz", 992.2333093750001},
		{metric, Mass, "12 grams", 12},
		{metric, Mass, "500grams", 500},
		{metric, Mass, "1.5 pounds", 680.388555},
		{metric, Volume, "1 1/2 cups", 354.88235475},
		{metric, Volume, "½ cup", 118.29411825},
		{metric, Volume, "2 tbsp 1 tsp", 34.50245115625},
		{metric, Volume, "1 quart", 946.352946},
		{metric, Length, "4 millimetres", 4},
		{metric, Length, "5ft3in", 1600.2},
		{metric, Area, "25 cm2", 25},
		{metric, Time, "2 hours 30 minutes", 2.5},
		{metric, Mass, "2 lb 3 oz", 992.2333},
		{metric, Mass, "1.5kg", 1500},
		{metric, Volume, "62 floz", 1833.5588},
		{metric, Area, "12.5", 12.5},
		{metric, Area, "250 mm²", 2.5},
		{metric, Area, "2 in²", 12.9032},
		{metric, Time, "90 min", 1.5},
		{us, Time, "16 h", 16},
		{metric, Volume, "62 fl oz", 1833.5588},
		{metric, Volume, "62 fl. oz", 1833.5588},
		{us, Volume, "135.625 in3", 2222.4955},
		{metric, Volume, "10 in³", 163.87064},
		{metric, Density, "1.2", 1.2},
		{metric, Density, "1100 kg/m3", 1.1},
		{metric, Number, "10", 10},
		{metric, Number, "5 %", 5},
	} {
		got, err := c.r.Parse(c.kind, c.text)
		require.NoError(t, err, c.text)
		assert.InEpsilon(t, c.want, got, 1e-7, c.text)
	}
}

func TestMeasuresThatCannotBeReadSayWhy(t *testing.T) {
	metric := Reader{System: Metric}
	for _, c := range []struct {
		kind Kind
		text string
		says string
	}{
		{Length, "", "missing"},
		{Length, "-3", "negative"},
		{Length, "98,4", "decimal comma in House practice"},
		{Length, "3/", "under the stroke"},
		{Length, "3 7/0", "0 under the stroke"},
		{Length, "3 9/8", "less than one"},
		{Length, "3 7", "stroke"},
		{Length, "long", "number was expected"},
		{Length, "3 furlongs", "furlongs"},
		{Length, "3 g", "measures a mass"},
		{Volume, "3 oz", "fl oz"},
		{Mass, "3 fl oz", "by weight write oz"},
		{Length, "1.2.3", "not a number"},
		{Mass, "2 lb 3", "cannot be read"},
		{Length, "9e999", "not known"},
	} {
		_, err := metric.Parse(c.kind, c.text)
		require.Error(t, err, c.text)
		assert.Contains(t, err.Error(), c.says, c.text)
	}
}

// Source: NIST SP 811 (2008), appendix B.8, exact factors; from memory.
func TestFactorsAreThoseOfNISTSP811(t *testing.T) {
	for name, want := range map[string]float64{
		"cup": 236.5882365, "tbsp": 14.78676478125,
		"in": 25.4, "ft": 304.8, "in3": 16.387064, "fl oz": 29.5735295625, "pt": 473.176473, "qt": 946.352946,
		"gal": 3785.411784, "lb": 453.59237, "oz": 28.349523125,
	} {
		got, _, err := Kept(1, name)
		require.NoError(t, err)
		assert.InEpsilon(t, want, got, 1e-14, name)
		back, err := In(got, name)
		require.NoError(t, err)
		assert.InEpsilon(t, 1, back, 1e-12, name)
	}
	assert.Equal(t, MillilitrePerFluidOunce, 231.0/128*MillilitrePerCubicInch)
	assert.InDelta(t, 29.574, MillilitrePerFluidOunce, 0.0005, "a fluid ounce of water in grams")
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"3 7/8 in", "2 lb 3 oz", "98,4", `1/2"`, "⅞", "3-", "9/8/7"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, k := range []Kind{Length, Mass, Volume, Density, Number} {
			if got, err := (Reader{System: US, DecimalComma: true}).Parse(k, text); err == nil {
				assert.False(t, math.IsNaN(got) || math.IsInf(got, 0) || got < 0, "%q gave %v", text, got)
			}
		}
	})
}
