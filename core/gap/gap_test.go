package gap

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

const mm = 1e-3

func near(t *testing.T, want, got float64) {
	t.Helper()
	assert.InEpsilon(t, want, got, 2e-4)
}

// Worked figures for a liquid of 1100 kg/m³ and 0.035 N/m (Young, Laplace,
// Jurin, Washburn; checked by integrating the equations of motion).
func TestEntryPressure(t *testing.T) {
	near(t, 24.31, EntryPressure(0.035, 100, 0.5*mm))
	near(t, 121.55, EntryPressure(0.035, 100, 0.1*mm))
	near(t, -70.0, EntryPressure(0.035, 60, 0.5*mm))
	assert.Zero(t, EntryPressure(0.035, 90, 0.5*mm))
	near(t, 2*EntryPressure(0.035, 100, 0.5*mm), TubeEntryPressure(0.035, 100, 0.5*mm))
}

func TestNarrowest(t *testing.T) {
	near(t, 22.54e-6, Narrowest(0.035, 100, Head(1100, 50*mm)))
	near(t, 11.27e-6, Narrowest(0.035, 100, Head(1100, 100*mm)))
	assert.InDelta(t, 0.1200e-6, Narrowest(0.035, 100, Atmosphere), 5e-11)
	near(t, 44.39e-6, Narrowest(0.035, 110, Head(1100, 50*mm)))
	assert.Zero(t, Narrowest(0.035, 60, 500))
}

func TestTimeToRunIn(t *testing.T) {
	near(t, 9.600, SlotTime(1, 20*mm, 0.5*mm, 1000))
	near(t, 0.960, SlotTime(0.1, 20*mm, 0.5*mm, 1000))
	near(t, 60.00, SlotTime(1, 50*mm, 0.5*mm, 1000))
	near(t, 2.4438, SlotTime(1, 20*mm, 0.1*mm, 98206))
	near(t, 25.60, TubeTime(1, 20*mm, 0.5*mm, 1000))
	assert.Zero(t, SlotTime(1, 0, 0.5*mm, 1000))
	assert.True(t, math.IsInf(SlotTime(1, 20*mm, 0.5*mm, 0), 1), "nothing drives it")
}

func TestReachBeforeItGels(t *testing.T) {
	r := Resin{Viscosity: 1, PotLife: 300}
	near(t, 56.97*mm, r.Reach(0.3*mm, 1000, 300))
	near(t, 80.57*mm, r.Reach(0.3*mm, 1000, 1e6))
	assert.Zero(t, r.Reach(0.3*mm, -10, 300))
}

func TestDeadEnds(t *testing.T) {
	for dp, want := range map[float64]float64{1000: 0.0098, 10000: 0.0898, 98205: 0.4922, 413690: 0.8033} {
		assert.InDelta(t, want, DeadEnd(Atmosphere, dp), 1e-4)
	}
	assert.InDelta(t, 0.9692, DeadEnd(3119.7, 98205), 1e-4, "degassed first, then let back to the atmosphere")
	assert.InDelta(t, 0.305, BubbleLeft(0.5, 344738), 5e-4, "half a millimetre at 50 psi")
}

func TestTimeGrowsWithTheSquare(t *testing.T) {
	near(t, 4, SlotTime(1, 40*mm, 1*mm, 100)/SlotTime(1, 20*mm, 1*mm, 100))
	near(t, 4, SlotTime(1, 20*mm, 0.5*mm, 100)/SlotTime(1, 20*mm, 1*mm, 100))
}
