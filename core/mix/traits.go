package mix

import (
	"fmt"
	"math"
)

// Traits are what else a data sheet says; 0 or empty where it does not.
type Traits struct {
	Family     string  `json:",omitempty"` // of a rubber: tin, platinum or urethane
	Shore      float64 `json:",omitempty"` // A
	Elongation float64 `json:",omitempty"` // at break, per cent
	Viscosity  float64 `json:",omitempty"` // mixed, Pa s
	PotLife    float64 `json:",omitempty"` // min at 25 °C, until it is [Thickens] times as thick
	Demould    float64 `json:",omitempty"` // min at 25 °C, until it is [Thickens] times as thick
	MinSection float64 `json:",omitempty"` // mm; thinner stays soft
	MaxSection float64 `json:",omitempty"` // mm; thicker overheats and shrinks
	Shrink     float64 `json:",omitempty"` // linear, per cent
	Clear      bool    `json:",omitempty"`
	Flexible   bool    `json:",omitempty"`
	Outdoor    bool    `json:",omitempty"`
	Heat       float64 `json:",omitempty"` // °C that it stands
	Strength   float64 `json:",omitempty"` // tensile, MPa
	Colour     string  `json:",omitempty"` // as it cures: clear, white, amber or black
}

// Check refuses what no sheet says.
func (t Traits) Check() error {
	for _, v := range []struct {
		name  string
		value float64
		high  float64
	}{
		{"hardness", t.Shore, 100}, {"elongation", t.Elongation, 2000}, {"viscosity", t.Viscosity, 5000}, {"pot life", t.PotLife, 10_000},
		{"demould time", t.Demould, 20_000}, {"lowest section", t.MinSection, 100}, {"highest section", t.MaxSection, 1000},
		{"shrink", t.Shrink, 20}, {"heat", t.Heat, 600}, {"strength", t.Strength, 500},
	} {
		if math.IsNaN(v.value) || v.value < 0 || v.value > v.high {
			return fmt.Errorf("the %s must lie between 0 and %g, not %g", v.name, v.high, v.value)
		}
	}
	switch t.Colour {
	case "", "clear", "white", "amber", "black":
	default:
		return fmt.Errorf("the colour must be clear, white, amber or black, not %q", t.Colour)
	}
	switch t.Family {
	case "", "tin", "platinum", "urethane":
		return nil
	}
	return fmt.Errorf("the family must be tin, platinum or urethane, not %q", t.Family)
}

// UsualRubber is what is reckoned with before a rubber is chosen, and where
// its sheet does not say. Common practice, no source.
var UsualRubber = Traits{Shore: 30, Elongation: 300, Demould: 960}

// Thickens is how many times thicker a mix is at the end of its pot life:
// the common data-sheet definition is that its viscosity has doubled; from
// memory. Whoever reckons with a pot life reckons with this.
const Thickens = 2.0
