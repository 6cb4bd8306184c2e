package quantity

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTextsAreToldInTheShopsUnits(t *testing.T) {
	inches := Units{Length: US, Volume: Metric, Mass: Metric, Pressure: "psi", Fahrenheit: true}
	ounces := Units{Length: Metric, Volume: US, Mass: US}
	for _, c := range []struct {
		units      Units
		text, want string
	}{
		{inches, "Only 4 mm of rubber stand beside the part.", "Only 0.157 in of rubber stand beside the part."},
		{inches, "A clamped plate 40 × 60 mm, 12 mm thick", "A clamped plate 1.57 × 2.36 in, 0.472 in thick"},
		{inches, "mix 120 g at 1.05 g/mL", "mix 120 g at 1.05 g/mL"},
		{inches, "under 414 kPa, at 22 °C", "under 60 psi, at 71.6 °F"},
		{inches, "Vent 2 of 3, in 40 min", "Vent 2 of 3, in 40 min"},
		{inches, "25.4 mm² and 6.4516 cm²", "0.0394 in² and 1 in²"},
		{ounces, "the shot of 59.1 mL, 283.5 g", "the shot of 2 fl oz, 10 oz"},
		{ounces, "lay 2 kg on it, 12 mm deep", "lay 4.41 lb on it, 12 mm deep"},
		{ounces, "gauge 10 gear 3 green", "gauge 10 gear 3 green"},
		{Units{Metric, Metric, Metric, "kPa", false, false}, "12 mm", "12 mm"},
	} {
		assert.Equal(t, c.want, c.units.Told(c.text))
	}
}

func TestDecimalsAreToldWithAComma(t *testing.T) {
	comma := Units{Length: Metric, Volume: Metric, Mass: Metric, Comma: true}
	assert.Equal(t, "3,8 mm of a 10:1 rubber. Wait.", comma.Told("3.8 mm of a 10:1 rubber. Wait."))
	comma.Length = US
	assert.Equal(t, "0,472 in", comma.Told("12 mm"))
}

func FuzzTold(f *testing.F) {
	f.Add("12 mm × 3 mm at 20 °C, 5 g/mL")
	u := Units{Length: US, Volume: US, Mass: US, Pressure: "bar", Fahrenheit: true}
	f.Fuzz(func(t *testing.T, text string) {
		_ = u.Told(text)
		assert.Equal(t, text, Units{Metric, Metric, Metric, "", false, false}.Told(text))
	})
}
