package flow

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

const mm = 1e-3

func near(t *testing.T, want, got float64, what ...any) {
	t.Helper()
	assert.InEpsilon(t, want, got, 2e-4, what...)
}

// Worked by quadrature and series.
func TestWhatChannelsResist(t *testing.T) {
	near(t, 3.1438e9, Tube(1, 6*mm, 100*mm))
	near(t, 5.0301e10, Tube(1, 3*mm, 100*mm))
	near(t, 3.2549e9, Tube(1, 6*mm, 100*mm+Ends(6*mm)), "with both mouths")
	near(t, 0.31809e-6, 1000/Tube(1, 6*mm, 100*mm))
	near(t, 3.0976e10, Duct(1, 20*mm, 1*mm, 50*mm))
	near(t, 5.5575e9, Duct(1, 4*mm, 4*mm, 50*mm))
	near(t, 1.5326e9, Cone(1, 12*mm, 4*mm, 60*mm))
	near(t, Cone(1, 4*mm, 12*mm, 60*mm), Cone(1, 12*mm, 4*mm, 60*mm), "whichever way round")
	near(t, Tube(1, 4*mm, 60*mm), Cone(1, 4*mm, 4*mm, 60*mm))
	near(t, 36.87, 1e-6*Tube(1.81e-5, 1*mm, 50*mm), "air leaves a vent easily")
	near(t, 590.0, 1e-6*Tube(1.81e-5, 0.5*mm, 50*mm))
	near(t, 1078.73, Head(1100, 0.1))
	near(t, 1.0845e-6, SelfWeight(1100, 1, 8*mm))
}

// The products of Darcy's friction factor and the Reynolds number in the table
// of Shah and London, "Laminar flow forced convection in ducts" (1978); values
// from memory.
func TestDuctsOfShahAndLondon(t *testing.T) {
	for _, c := range []struct{ aspect, product float64 }{
		{1, 56.908}, {2, 62.192}, {3, 68.359}, {4, 72.931}, {8, 82.339}, {10, 84.676},
	} {
		w, h := c.aspect*mm, 1*mm
		dh := 2 * w * h / (w + h)
		// (f Re) η v L / (2 Dh²) is the pressure lost at a flow v w h
		near(t, c.product, Duct(1, w, h, 1)*w*h*2*dh*dh, c.aspect)
		near(t, Duct(1, w, h, 1), Duct(1, h, w, 1), "standing or lying")
	}
	assert.InEpsilon(t, 12/1e-9, Duct(1, 1, 1*mm, 1), 1e-3, "wide plates")
}

func TestAHandAtASyringe(t *testing.T) {
	near(t, 70.736e3, Syringe(50, 30*mm))
	near(t, 113.18e3, Syringe(20, 15*mm))
	near(t, 4, Syringe(50, 15*mm)/Syringe(50, 30*mm))
	near(t, 22.5e-6, Syringe(50, 30*mm)/Tube(1, 6*mm, 100*mm))
}

// Speeding the resin up at the mouth costs more the thinner it is.
func TestWhatTheMouthCosts(t *testing.T) {
	area := math.Pi / 4 * 36e-6
	for _, c := range []struct{ viscosity, reynolds, flow, share float64 }{
		{1, 0.0801, 0.34307e-6, 0.9998}, {0.1, 7.88, 3.3740e-6, 0.9833}, {0.05, 30.1, 6.4445e-6, 0.9391},
	} {
		r := Tube(c.viscosity, 6*mm, 100*mm)
		q := Through(Head(1100, 0.1), r, Entry, 1100, area)
		near(t, c.flow, q)
		near(t, c.share, q/(Head(1100, 0.1)/r))
		assert.InEpsilon(t, c.reynolds, Reynolds(1100, c.viscosity, 6*mm, q), 2e-3)
	}
	r := Tube(1, 6*mm, 100*mm)
	near(t, 1000/r, Through(1000, r, 0, 1100, area), "nothing lost at the mouth")
}

// One resistance, 100 mm of head and a cavity of 20 cm², worked by quadrature.
func TestHowLongACavityTakes(t *testing.T) {
	r := Tube(1, 6*mm, 100*mm)
	prism := []Step{{80 * mm, 160e-6}}
	near(t, 938.09, RiseTime(prism, 100*mm, r, 1100))
	var wedge []Step // as wide as it is high, 20 cm² at the top
	for i := 1; i <= 400; i++ {
		z := 80 * mm * float64(i) / 400
		wedge = append(wedge, Step{z, 20e-4 * z * z / (2 * 80 * mm)})
	}
	near(t, 589.75, RiseTime(wedge, 100*mm, r, 1100))
	near(t, 466.30, PourTime(160e-6, r, 1100, 100*mm))
	assert.True(t, math.IsInf(RiseTime(prism, 80*mm, r, 1100), 1), "the last millimetre never fills")
	shelf := append([]Step{{40 * mm, 80e-6}, {40 * mm, 90e-6}}, Step{80 * mm, 170e-6})
	assert.Greater(t, RiseTime(shelf, 100*mm, r, 1100), RiseTime(prism, 100*mm, r, 1100))

	near(t, 31.01*mm, LevelAt(216.40, 20e-4, 100*mm, r, 1100), "what 300 s of a pot life of 300 s are worth")
	near(t, 52.41*mm, LevelAt(432.81, 20e-4, 100*mm, r, 1100), "and all the time after")
}

func TestAWellThatIsNotToppedUp(t *testing.T) {
	r := Tube(1, 6*mm, 100*mm)
	left, took, ok := Falling(20e-4, 30e-4, 100*mm, 50*mm, r, 1100)
	assert.True(t, ok)
	near(t, 16.667*mm, left)
	near(t, 626.62, took)
	_, took, _ = Falling(20e-4, 1e6, 100*mm, 50*mm, r, 1100)
	near(t, 404.01, took, "a well as large as the sea stays up")
	_, _, ok = Falling(20e-4, 30e-4, 100*mm, 60.01*mm, r, 1100)
	assert.False(t, ok, "they stand level at 60 mm")
}
