package quantity

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Units are what a shop measures in, each by itself: inches and grams are how
// many shops work.
type Units struct {
	Length, Volume, Mass System
	Pressure             string // kPa, psi or bar
	Fahrenheit           bool
	Comma                bool // decimals are written with one
}

// Of is the system that a kind is typed and shown in.
func (u Units) Of(k Kind) System {
	switch k {
	case Length, Area:
		return u.Length
	case Volume:
		return u.Volume
	case Mass:
		return u.Mass
	}
	return Metric
}

// Unit is the unit that a kind is typed and shown in.
func (u Units) Unit(k Kind) string { return u.Of(k).Unit(k) }

// Decimal is a number with its decimals written the shop's way.
func (u Units) Decimal(number string) string {
	if u.Comma {
		return strings.Replace(number, ".", ",", 1)
	}
	return number
}

// Units of pressure; from the exact pound and inch, NIST SP 811, from memory.
const (
	KilopascalPerPSI = 6.894757293168361
	KilopascalPerBar = 100
)

// measured is a number, or several with a times between, and a metric unit as
// texts are written with.
var measured = regexp.MustCompile(`(\d+(?:\.\d+)?(?: ?[×x] ?\d+(?:\.\d+)?)*) ?(mm²|mm³|mm|cm²|mL|kPa|°C|kg|g|L)\b?`)

var point = regexp.MustCompile(`(\d)\.(\d)`)

var number = regexp.MustCompile(`\d+(?:\.\d+)?`)

// Told is a text of findings and steps, which are written in metric units, in
// the shop's own: 12 mm become 0.47 in. Densities and times stay.
func (u Units) Told(text string) string {
	if u.Comma {
		u.Comma = false
		return point.ReplaceAllString(u.Told(text), "$1,$2")
	}
	if metric := (Units{Length: Metric, Volume: Metric, Mass: Metric, Pressure: u.Pressure}); u == metric &&
		(u.Pressure == "" || u.Pressure == "kPa") {
		return text
	}
	out := strings.Builder{}
	last := 0
	for _, at := range measured.FindAllStringSubmatchIndex(text, -1) {
		figures, unit := text[at[2]:at[3]], text[at[4]:at[5]]
		if rest := text[at[1]:]; rest != "" && (rest[0] == '/' || isLetter(rest[0])) {
			continue // g/mL, or the beginning of a word
		}
		turn, name := u.turned(unit)
		if turn == nil {
			continue
		}
		out.WriteString(text[last:at[2]])
		out.WriteString(number.ReplaceAllStringFunc(figures, func(s string) string {
			v, err := strconv.ParseFloat(s, 64)
			if err != nil {
				return s
			}
			return short(turn(v))
		}))
		out.WriteString(" " + name)
		last = at[1]
	}
	out.WriteString(text[last:])
	return out.String()
}

func isLetter(b byte) bool { return b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' }

// turned is how a metric unit becomes the shop's, nil where it is the shop's.
func (u Units) turned(unit string) (func(float64) float64, string) {
	by := func(f float64) func(float64) float64 { return func(v float64) float64 { return v * f } }
	switch {
	case u.Length == US && unit == "mm":
		return by(1 / MillimetrePerInch), "in"
	case u.Length == US && unit == "mm²":
		return by(1 / (MillimetrePerInch * MillimetrePerInch)), "in²"
	case u.Length == US && unit == "cm²":
		return by(100 / (MillimetrePerInch * MillimetrePerInch)), "in²"
	case u.Volume == US && unit == "mL":
		return by(1 / MillilitrePerFluidOunce), "fl oz"
	case u.Volume == US && unit == "mm³":
		return by(1 / (1000 * MillilitrePerFluidOunce)), "fl oz"
	case u.Volume == US && unit == "L":
		return by(1000 / MillilitrePerFluidOunce), "fl oz"
	case u.Mass == US && unit == "g":
		return by(1 / GramPerOunce), "oz"
	case u.Mass == US && unit == "kg":
		return by(1000 / GramPerPound), "lb"
	case u.Pressure == "psi" && unit == "kPa":
		return by(1 / KilopascalPerPSI), "psi"
	case u.Pressure == "bar" && unit == "kPa":
		return by(1.0 / KilopascalPerBar), "bar"
	case u.Fahrenheit && unit == "°C":
		return func(v float64) float64 { return v*1.8 + 32 }, "°F"
	}
	return nil, ""
}

// short writes a figure with about three digits.
func short(v float64) string {
	digits := 2
	if v != 0 {
		digits = max(0, min(4, 2-int(math.Floor(math.Log10(math.Abs(v))))))
	}
	s := fmt.Sprintf("%.*f", digits, v)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}
