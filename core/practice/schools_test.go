package practice_test

import (
	"testing"

	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
)

// Every school has at least two answers with a reason each, and a house that
// says nothing gives the first.
func TestSchoolsHaveTheirReasons(t *testing.T) {
	h := practice.Usual()
	seen := map[string]bool{}
	for _, s := range practice.Schools {
		assert.False(t, seen[s.Key], s.Key)
		seen[s.Key] = true
		assert.GreaterOrEqual(t, len(s.Choices), 2, s.Key)
		assert.Equal(t, s.Choices[0].Key, h.Does(s.Key))
		for _, c := range s.Choices {
			assert.NotEmpty(t, c.Why)
			h.Schools = map[string]string{s.Key: c.Key}
			assert.Equal(t, c.Key, h.Does(s.Key))
			assert.NoError(t, h.Check())
		}
		h.Schools = nil
	}
	assert.Empty(t, h.Does("the moon"))
	h.Schools = map[string]string{practice.Vents: "sideways"}
	assert.ErrorContains(t, h.Check(), "no answer")
	assert.Equal(t, practice.Beforehand, h.Does(practice.Vents), "an answer that nobody knows is not given")
	h.Schools = map[string]string{"moon": "full"}
	assert.ErrorContains(t, h.Check(), "nobody asks")
}

// Inches with grams, psi and Fahrenheit: each kind by itself.
func TestUnitsEachByThemselves(t *testing.T) {
	h := practice.Usual()
	assert.Equal(t, "12 mm at 22 °C under 340 kPa", h.In().Told("12 mm at 22 °C under 340 kPa"))
	h.Each = map[string]string{"length": "us", "pressure": "psi", "temperature": "°F"}
	assert.NoError(t, h.Check())
	assert.Equal(t, "in", h.In().Unit(quantity.Length))
	assert.Equal(t, "in²", h.In().Unit(quantity.Area))
	assert.Equal(t, "g", h.In().Unit(quantity.Mass))
	assert.Equal(t, "0.472 in, 80 g, at 71.6 °F under 49.3 psi", h.In().Told("12 mm, 80 g, at 22 °C under 340 kPa"))
	h.Units, h.Each = quantity.US, map[string]string{"mass": "metric"}
	assert.Equal(t, "fl oz", h.In().Unit(quantity.Volume))
	assert.Equal(t, "g", h.In().Unit(quantity.Mass))
	assert.Equal(t, "71.6 °F", h.In().Told("22 °C"), "as it goes with inches")
	h.Each = map[string]string{"length": "furlong"}
	assert.ErrorContains(t, h.Check(), "metric or us")
	h.Each = map[string]string{"luck": "metric"}
	assert.ErrorContains(t, h.Check(), "no unit to choose")
}
