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
	Celsius    float64 `json:",omitempty"` // °C that the sheet gives its times for; 0 for [SheetCelsius]
	PotLife    float64 `json:",omitempty"` // min at that temperature, until it is [Thickens] times as thick
	Demould    float64 `json:",omitempty"` // min at that temperature
	Q10        float64 `json:",omitempty"` // times as fast it reacts 10 °C warmer; 0 for [UsualQ10]
	MinSection float64 `json:",omitempty"` // mm; thinner stays soft
	MaxSection float64 `json:",omitempty"` // mm; thicker overheats and shrinks
	Shrink     float64 `json:",omitempty"` // linear, per cent
	Clear      bool    `json:",omitempty"`
	Flexible   bool    `json:",omitempty"`
	Outdoor    bool    `json:",omitempty"`
	Heat       float64 `json:",omitempty"` // °C that it stands
	Strength   float64 `json:",omitempty"` // tensile, MPa
	PourFrom   float64 `json:",omitempty"` // °C from which a melted material is poured
	PourTo     float64 `json:",omitempty"` // °C up to which it is
	Kit        float64 `json:",omitempty"` // g of both parts that are sold together
	Colour     string  `json:",omitempty"` // as it cures: clear, white, amber or black

	Recipes []NamedRecipe `json:",omitempty"` // colours that the shop goes back to in it
}

// SheetCelsius is the temperature that a sheet's times are for where it does
// not say; from memory.
const SheetCelsius = 25.0

// UsualQ10 is by how many times faster a mix reacts when it is 10 °C warmer, where
// nobody has measured it; common practice, no source (ASTM F1980 has the same form).
const UsualQ10 = 2.0

// Faster is by how many times faster it reacts when it is 10 °C warmer.
func (t Traits) Faster() float64 {
	if t.Q10 > 0 {
		return t.Q10
	}
	return UsualQ10
}

// Reference is the temperature that the sheet's times are for, °C.
func (t Traits) Reference() float64 {
	if t.Celsius == 0 {
		return SheetCelsius
	}
	return t.Celsius
}

// In is the same sheet with its times as they are in a shop of so many °C,
// the one place where they are: ten degrees warmer, half as long, or as it was measured. A shop of 0
// is one whose temperature is not known.
func (t Traits) In(shop float64) Traits {
	if shop == 0 {
		return t
	}
	f := math.Pow(t.Faster(), (t.Reference()-shop)/10)
	t.PotLife, t.Demould, t.Celsius = f*t.PotLife, f*t.Demould, shop
	return t
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
		{"shrink", t.Shrink, 20}, {"heat", t.Heat, 600}, {"pouring temperature", t.PourFrom, 700}, {"highest pouring " +
			"temperature", t.PourTo, 700},
		{"kit", t.Kit, 1e6}, {"temperature of the sheet's times", t.Celsius, 60}, {"strength", t.Strength, 500},
	} {
		if math.IsNaN(v.value) || v.value < 0 || v.value > v.high {
			return fmt.Errorf("the %s must lie between 0 and %g, not %g", v.name, v.high, v.value)
		}
	}
	if t.Q10 != 0 && (math.IsNaN(t.Q10) || t.Q10 < 1 || t.Q10 > 10) {
		return fmt.Errorf("10 °C warmer it reacts from 1 to 10 times as fast, not %g", t.Q10)
	}
	if t.PourTo > 0 && t.PourTo < t.PourFrom {
		return fmt.Errorf("it is poured from %g up to %g °C: the second must be the higher", t.PourFrom, t.PourTo)
	}
	if err := checkRecipes(t.Recipes); err != nil {
		return err
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
