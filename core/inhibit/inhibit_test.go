package inhibit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Common practice, no source: what every supplier's sheet warns of.
func TestWhatEverySheetWarnsOf(t *testing.T) {
	for _, s := range []Surface{Clay, Latex, TinCured, PrintResin} {
		assert.Equal(t, Severe, Of(Platinum, s).Severity, s)
		assert.NotEmpty(t, Of(Platinum, s).Remedy, s)
		assert.Less(t, Of(Tin, s).Severity, Severe, "tin cure forgives %s", s)
	}
	assert.True(t, Of(Platinum, Clay).Throughout)
	assert.False(t, Of(Platinum, PrintResin).Throughout)
	assert.Equal(t, None, Of(Platinum, Metal).Severity)
}

func TestAnUnknownSurfaceIsNeverSafe(t *testing.T) {
	for _, f := range []Family{Tin, Platinum, Urethane} {
		assert.Equal(t, Mild, Of(f, Unknown).Severity)
	}
}

func TestEveryWarningSaysWhyAndWhatToDo(t *testing.T) {
	for _, f := range []Family{Tin, Platinum, Urethane} {
		for _, s := range Surfaces {
			if e := Of(f, s); e.Severity > None {
				assert.NotEmpty(t, e.Why, "%s on %s", f, s)
				assert.NotEmpty(t, e.Remedy, "%s on %s", f, s)
			}
		}
	}
}
