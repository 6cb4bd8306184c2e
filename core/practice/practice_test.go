package practice

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestUsualPracticeCanBeWorkedWith(t *testing.T) {
	assert.NoError(t, Usual().Check())
}

// Common practice, no source: 6 to 19 mm beside, at least 13 mm over and
// under, sprues of 6 to 10 mm, vents of 1 to 3 mm.
func TestUsualPracticeLiesWithinTheTradesRanges(t *testing.T) {
	h := Usual()
	within := func(name string, v, low, high float64) {
		assert.True(t, v >= low && v <= high, "%s %g", name, v)
	}
	within("beside", h.Clearance.Beside, 6, 19)
	within("below", h.Clearance.Below, 13, 25)
	within("above", h.Clearance.Above, 13, 25)
	within("sprue", h.SprueBore, 6, 10)
	within("vent", h.VentBore, 1, 3)
	within("bucket", h.RubberOver, 3, 10)
}

func TestPracticeThatNoMouldCanBeMadeWith(t *testing.T) {
	for name, change := range map[string]func(*House){
		"units":            func(h *House) { h.Units = "cubits" },
		"feed":             func(h *House) { h.Feed = "sideways" },
		"clearance beside": func(h *House) { h.Clearance.Beside = 0 },
		"clearance below":  func(h *House) { h.Clearance.Below = -1 },
		"clearance above":  func(h *House) { h.Clearance.Above = 1e4 },
		"board thickness":  func(h *House) { h.PanelThick = -1 },
		"freeboard":        func(h *House) { h.Freeboard = math.NaN() },
		"rubber allowance": func(h *House) { h.RubberOver = 101 },
		"sprue bore":       func(h *House) { h.SprueBore = 0 },
		"top opening":      func(h *House) { h.TopBore = 0 },
		"vent bore":        func(h *House) { h.VentBore = 0 },
		"well width":       func(h *House) { h.WellWidth = 0 },
		"well depth":       func(h *House) { h.WellDepth = -1 },
		"shot allowance":   func(h *House) { h.ShotOver = -1 },
		"scale step":       func(h *House) { h.ScaleStep = 0 },
		"ratio tolerance":  func(h *House) { h.RatioTolerance = 0 },
	} {
		h := Usual()
		change(&h)
		assert.ErrorContains(t, h.Check(), name)
	}
}
