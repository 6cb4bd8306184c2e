// Package quantity holds the measures of the trade, each in one unit, and
// reads and writes them the way casters do: in millimetres or in inches and
// fractions, in grams or pounds and ounces.
package quantity

import (
	"fmt"
	"strings"
)

// Kind is what is being measured.
type Kind string

// The kinds of measure that people type in and read off.
const (
	Length  Kind = "length"  // kept in mm
	Volume  Kind = "volume"  // kept in mL
	Mass    Kind = "mass"    // kept in g
	Density Kind = "density" // kept in g/mL
	Area    Kind = "area"    // kept in cm²
	Time    Kind = "time"    // kept in h
	Number  Kind = "number"  // without a unit: counts, percentages, parts of a ratio
)

// System is the family of units that a bare number is read in.
type System string

// The two systems. US fluid ounces are meant, not Imperial ones.
const (
	Metric System = "metric"
	US     System = "us"
)

// Exact factors to the kept units. Source: the 1959 inch and pound, as listed
// in NIST Special Publication 811 (2008), appendix B; cited from memory.
const (
	MillimetrePerInch       = 25.4
	MillilitrePerCubicInch  = 16.387064
	MillilitrePerFluidOunce = 29.5735295625 // US; 231/128 in³
	GramPerPound            = 453.59237
	GramPerOunce            = 28.349523125
)

type unit struct {
	kind   Kind
	factor float64 // kept units in one of these
}

// units by the spellings that people use, in lower case.
var units = map[string]unit{
	"mm": {Length, 1}, "cm": {Length, 10}, "m": {Length, 1000},
	"in": {Length, MillimetrePerInch}, "inch": {Length, MillimetrePerInch}, "inches": {Length, MillimetrePerInch},
	`"`: {Length, MillimetrePerInch}, "″": {Length, MillimetrePerInch}, "”": {Length, MillimetrePerInch},
	"ft": {Length, 12 * MillimetrePerInch}, "'": {Length, 12 * MillimetrePerInch},

	"ml": {Volume, 1}, "cc": {Volume, 1}, "cm3": {Volume, 1}, "cm³": {Volume, 1}, "l": {Volume, 1000},
	"floz": {Volume, MillilitrePerFluidOunce}, "pt": {Volume, 16 * MillilitrePerFluidOunce},
	"qt": {Volume, 32 * MillilitrePerFluidOunce}, "gal": {Volume, 128 * MillilitrePerFluidOunce},
	"in3": {Volume, MillilitrePerCubicInch}, "in³": {Volume, MillilitrePerCubicInch}, "cuin": {Volume, MillilitrePerCubicInch},

	"g": {Mass, 1}, "kg": {Mass, 1000}, "lb": {Mass, GramPerPound}, "lbs": {Mass, GramPerPound}, "oz": {Mass, GramPerOunce},

	"cm2": {Area, 1}, "cm²": {Area, 1}, "mm2": {Area, 0.01}, "mm²": {Area, 0.01},
	"in2": {
		Area,
		MillimetrePerInch * MillimetrePerInch / 100,
	}, "in²": {Area, MillimetrePerInch * MillimetrePerInch / 100}, "sqin": {Area, MillimetrePerInch * MillimetrePerInch / 100},

	"h": {Time, 1}, "min": {Time, 1.0 / 60},

	"g/ml": {Density, 1}, "g/cc": {Density, 1}, "g/cm3": {Density, 1}, "g/cm³": {Density, 1},
	"kg/m3": {Density, 0.001}, "kg/m³": {Density, 0.001}, "kg/l": {Density, 1},
	"lb/in3": {Density, GramPerPound / MillilitrePerCubicInch}, "lb/gal": {Density, GramPerPound / (128 * MillilitrePerFluidOunce)},

	"%": {Number, 1},
}

// written out, as people do.
var written = map[string]string{
	"millimetre": "mm", "millimeter": "mm", "centimetre": "cm", "centimeter": "cm", "metre": "m", "meter": "m",
	"foot": "ft", "feet": "ft",
	"millilitre": "ml", "milliliter": "ml", "litre": "l", "liter": "l",
	"fluidounce": "floz", "pint": "pt", "quart": "qt", "gallon": "gal",
	"gram": "g", "gramme": "g", "kilogram": "kg", "kilo": "kg", "pound": "lb", "ounce": "oz",
	"minute": "min", "hour": "h", "hr": "h",
}

// kitchen measures of the United States, that resin is poured with.
var kitchen = map[string]float64{"cup": 8, "tablespoon": 0.5, "tbsp": 0.5, "teaspoon": 1.0 / 6, "tsp": 1.0 / 6} // fl oz

// unitCalled finds a unit by its sign or its name, one or many.
func unitCalled(name string) (unit, bool) {
	name = squeeze(name)
	for _, n := range [2]string{name, strings.TrimSuffix(name, "s")} {
		if sign, ok := written[n]; ok {
			n = sign
		}
		if ounces, ok := kitchen[n]; ok {
			return unit{Volume, ounces * MillilitrePerFluidOunce}, true
		}
		if u, ok := units[n]; ok {
			return u, true
		}
	}
	return unit{}, false
}

// Unit returns the unit in which a kind is typed and shown in a system.
func (s System) Unit(k Kind) string {
	if s == US {
		switch k {
		case Length:
			return "in"
		case Volume:
			return "fl oz"
		case Mass:
			return "oz"
		case Area:
			return "in²"
		}
	}
	switch k {
	case Length:
		return "mm"
	case Volume:
		return "mL"
	case Mass:
		return "g"
	case Density:
		return "g/mL"
	case Area:
		return "cm²"
	case Time:
		return "h"
	default:
		return ""
	}
}

// Kept converts a value in a named unit to the unit that its kind is kept in.
func Kept(value float64, name string) (float64, Kind, error) {
	u, ok := unitCalled(name)
	if !ok {
		return 0, "", fmt.Errorf("the unit %q is not known", name)
	}
	return value * u.factor, u.kind, nil
}

// In converts a kept value to a named unit of its kind.
func In(kept float64, name string) (float64, error) {
	u, ok := unitCalled(name)
	if !ok {
		return 0, fmt.Errorf("the unit %q is not known", name)
	}
	return kept / u.factor, nil
}
