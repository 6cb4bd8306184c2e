package part

import (
	"fmt"
	"math"
)

// Check is a measure that the caster took of the real master, to hold the
// mesh against.
type Check struct {
	Kind    string  `json:"kind"` // length (of the longest side), volume or mass
	Value   float64 `json:"value"`
	Density float64 `json:"density,omitempty"` // g/mL, with mass
}

// CheckTolerance is the share by which calipers, water and scales may differ
// from a mesh without anything being wrong.
var CheckTolerance = map[string]float64{"length": 0.004, "volume": 0.04, "mass": 0.04}

// Verify holds a measure against a master of the given longest side in mm
// and volume in mm³. It says what a mismatch probably is; empty when they agree.
func (c Check) Verify(longest, volume float64) (string, error) {
	if !(c.Value > 0) || math.IsInf(c.Value, 0) {
		return "", fmt.Errorf("the measured %s must be more than 0", c.Kind)
	}
	var ratio float64 // measured over mesh, as a length
	switch c.Kind {
	case "length":
		ratio = c.Value / longest
	case "volume":
		ratio = math.Cbrt(c.Value * 1000 / volume)
	case "mass":
		if !(c.Density > 0) {
			return "", fmt.Errorf("a weight needs the density of what the master is made of")
		}
		ratio = math.Cbrt(c.Value / c.Density * 1000 / volume)
	default:
		return "", fmt.Errorf("the measure must be a length, a volume or a mass, not %q", c.Kind)
	}
	off := ratio - 1
	if c.Kind != "length" {
		off = ratio*ratio*ratio - 1
	}
	tolerance := CheckTolerance[c.Kind]
	if math.Abs(off) <= tolerance {
		return "", nil
	}
	near := func(x float64) bool { return math.Abs(ratio/x-1) < 0.02 }
	said := fmt.Sprintf("The measured %s is %.3g times the mesh's", c.Kind, 1+off)
	switch {
	case near(25.4):
		return said + ": the mesh is drawn in inches.", nil
	case near(1 / 25.4):
		return said + ": the mesh is drawn in mm, but was taken for inches.", nil
	case near(10), near(100), near(1000):
		return said + ": the mesh is drawn in cm or m.", nil
	case near(0.1), near(0.01), near(0.001):
		return said + ": the mesh is drawn in mm, but was taken for cm or m.", nil
	case c.Kind == "mass" && off < -0.1 && off > -0.95:
		return said + ": the master is probably a hollow or sparsely filled print. Its shape is right; its weight says " +
			"nothing about the resin.", nil
	case c.Kind != "mass" && math.Abs(ratio-1) <= 0.025:
		return said + ": one of the two was probably made larger for shrink. Say which size the castings shall have.", nil
	}
	return said + ": this is another part, or another size of it. Measure again.", nil
}
