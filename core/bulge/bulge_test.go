package bulge

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Values of Gent's formula, and of a Mindlin plate solved by Ritz's method.
func TestHardnessBecomesStiffness(t *testing.T) {
	for shore, want := range map[float64]float64{10: 0.41268, 20: 0.73192, 30: 1.1424, 40: 1.6896, 50: 2.4558, 60: 3.6051, 70: 5.5205} {
		assert.InEpsilon(t, want, Young(shore), 2e-4)
	}
	assert.Equal(t, Young(10), Young(0), "no false numbers at the ends")
	assert.Equal(t, Young(80), Young(100))
}

const (
	head  = 1078.73 // Pa, 100 mm of resin of 1.1
	stiff = 1.14237 // MPa, 30 A
)

func TestHowThickAWallMustBe(t *testing.T) {
	for _, c := range []struct {
		name string
		wall Wall
		want float64
	}{
		{"clamped square", Wall{Short: 60, Long: 60}, 10.805},
		{"supported square", Wall{Short: 60, Long: 60, Edges: Supported}, 14.768},
		{"clamped two to one", Wall{Short: 60, Long: 120}, 14.360},
		{"supported two to one", Wall{Short: 60, Long: 120, Edges: Supported}, 20.390},
	} {
		assert.InEpsilon(t, c.want, c.wall.Thickness(0.2, head, stiff), 2e-4, c.name)
	}
	assert.True(t, math.IsInf(Wall{Short: 60, Long: 60}.Thickness(0, head, stiff), 1))
}

func TestAWallGives(t *testing.T) {
	ten := Wall{Short: 60, Long: 60, Thick: 10}
	assert.InEpsilon(t, 0.2361, ten.Deflection(head, stiff), 4e-4)
	loose := ten
	loose.Edges = Supported
	assert.InEpsilon(t, 0.5376, loose.Deflection(head, stiff), 4e-4)
	assert.InEpsilon(t, 2*ten.Deflection(head, stiff), ten.Deflection(2*head, stiff), 1e-12)
	assert.InEpsilon(t, ten.Deflection(head, stiff)/2, ten.Deflection(head, 2*stiff), 1e-12)
	for ratio := 1.0; ratio < 6; ratio += 0.1 {
		long := Wall{Short: 60, Long: 60 * ratio, Thick: 10}
		assert.GreaterOrEqual(t, long.Deflection(head, stiff), ten.Deflection(head, stiff)*0.999)
		thick := long
		thick.Thick = 12
		assert.Less(t, thick.Deflection(head, stiff), long.Deflection(head, stiff))
	}
	assert.True(t, math.IsInf(Wall{}.Deflection(head, stiff), 1), "no wall at all")
}

// The thickness that is asked for gives just as much as was allowed.
func TestThicknessUndoesDeflection(t *testing.T) {
	for _, short := range []float64{20, 45, 90} {
		for _, ratio := range []float64{1, 1.3, 2, 4} {
			for _, edges := range []Edges{Clamped, Supported} {
				for _, most := range []float64{0.05, 0.2, 1} {
					w := Wall{Short: short, Long: short * ratio, Edges: edges}
					thick := w.Thickness(most, head, stiff)
					if math.IsInf(thick, 1) {
						continue // shear alone gives more
					}
					w.Thick = thick
					assert.InEpsilon(t, most, w.Deflection(head, stiff), 1e-6)
					w.Long, w.Short = w.Short, w.Long
					assert.InEpsilon(t, most, w.Deflection(head, stiff), 1e-6, "whichever side is named first")
				}
			}
		}
	}
}
