package practice_test

import (
	"testing"

	"bathyform/core/practice"

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
