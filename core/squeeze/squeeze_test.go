package squeeze

import (
	"testing"

	"bathyform/core/mix"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Closed forms of the squeeze film, confirmed by integrating it in time.
func TestFlashOfANarrowLand(t *testing.T) {
	f := Flow{1, mix.Growth{PotLife: 600, Times: 10}}
	assert.InEpsilon(t, 234.52, f.Effective(), 1e-4)
	l := Land{Length: 0.4, Width: 0.01}
	for force, want := range map[float64]float64{10: 9.235e-6, 50: 4.130e-6, 200: 2.065e-6} {
		assert.InEpsilon(t, want, l.Flash(force, 0.002, f), 3e-4)
	}
	wide := Land{Length: 0.4, Width: 0.02}
	assert.InEpsilon(t, l.Flash(50, 0.002, f)*2.8284, wide.Flash(50, 0.002, f), 1e-3, "flash goes as width to the one and a half")
	assert.Equal(t, 0.002, l.Flash(0, 0.002, f), "nothing pressed, nothing closed")
}

func TestWeightOnTheUpperHalf(t *testing.T) {
	up := Uplift(1100, 0.01*0.05) // a flat ceiling of 100 cm² under 50 mm of resin
	assert.InEpsilon(t, 5.3937, up, 1e-4)
	assert.InEpsilon(t, 0.425, Weight(up, 0.4), 1e-3)
	assert.Zero(t, Weight(up, 5), "a heavy half stays down by itself")
}

func TestFlashBehavesAsFilmsDo(t *testing.T) {
	f := Flow{0.6, mix.Growth{PotLife: 900, Times: 10}}
	l := Land{Length: 0.3, Width: 0.008}
	last := 0.002
	for force := 1.0; force < 500; force *= 1.7 {
		h := l.Flash(force, 0.002, f)
		assert.Less(t, h, last, "a heavier weight presses it thinner")
		last = h
	}
	thick := f
	thick.Viscosity = 1.2
	assert.Greater(t, l.Flash(50, 0.002, thick), l.Flash(50, 0.002, f))
	assert.InEpsilon(t, l.Flash(50, 0.01, f)*1.41421, l.Flash(25, 0.01, f), 0.01, "as one over the root of the force")
	assert.LessOrEqual(t, l.Flash(50, 1e-5, f), 1e-5, "a gap does not open by itself")
}

// What Flash leaves after a time, Closes takes that time for.
func TestClosingTakesAsLongAsTheFilmSays(t *testing.T) {
	l := Land{Length: 0.3, Width: 0.008}
	f := Flow{Viscosity: 1, Growth: mix.Thickening(600)}
	thick := l.Flash(20, 0.002, f)
	took, ok := l.Closes(20, 0.002, thick, f)
	require.True(t, ok)
	assert.InEpsilon(t, 600, took, 1e-9, "as thin as at gel it is at gel")
	half, ok := l.Closes(40, 0.002, thick, f)
	require.True(t, ok)
	assert.Less(t, half, took, "more weight closes sooner")
	assert.InEpsilon(t, f.Growth.Effective(took)/2, f.Growth.Effective(half), 1e-9, "twice the force, half the time as fresh")
	_, ok = l.Closes(20, 0.002, thick/3, f)
	assert.False(t, ok, "it gels first")
	now, ok := l.Closes(0, 0.002, 0.003, f)
	assert.True(t, ok && now == 0, "it is closed already")
}
