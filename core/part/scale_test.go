package part

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatAMismatchProbablyIs(t *testing.T) {
	const longest, volume = 100.0, 50_000.0 // a mesh of 100 mm and 50 mL
	for _, c := range []struct {
		name  string
		check Check
		says  string
	}{
		{"calipers agree", Check{Kind: "length", Value: 100.2}, ""},
		{"water agrees", Check{Kind: "volume", Value: 51}, ""},
		{"scale agrees", Check{Kind: "mass", Value: 62, Density: 1.24}, ""},
		{"drawn in inches", Check{Kind: "length", Value: 2540}, "drawn in inches"},
		{"taken for inches", Check{Kind: "volume", Value: 50.0 / (25.4 * 25.4 * 25.4)}, "taken for inches"},
		{"drawn in cm", Check{Kind: "length", Value: 1000}, "cm or m"},
		{"a hollow print", Check{Kind: "mass", Value: 15, Density: 1.24}, "hollow"},
		{"made larger for shrink", Check{Kind: "length", Value: 101.2}, "shrink"},
		{"another part", Check{Kind: "length", Value: 140}, "another part"},
	} {
		got, err := c.check.Verify(longest, volume)
		require.NoError(t, err, c.name)
		if c.says == "" {
			assert.Empty(t, got, c.name)
		} else {
			assert.Contains(t, got, c.says, c.name)
		}
	}
	for _, bad := range []Check{{Kind: "length"}, {Kind: "length", Value: -3}, {Kind: "mass", Value: 3}, {Kind: "colour", Value: 3}} {
		_, err := bad.Verify(longest, volume)
		assert.Error(t, err)
	}
}
