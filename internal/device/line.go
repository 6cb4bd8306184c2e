// Package device reads the instruments of the bench: gram scale, pressure pot
// gauge, vacuum gauge and thermo-hygrometer. Each says a line for every reading,
// over TCP or a serial line; how a line is read is a pattern that the shop sets.
package device

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Kind is what an instrument measures.
type Kind string

// The instruments of the bench.
const (
	Scale  Kind = "scale"  // g
	Pot    Kind = "pot"    // kPa over the atmosphere
	Vacuum Kind = "vacuum" // kPa under it; a second figure is how high it foams, mm
	Air    Kind = "air"    // °C; a second figure is the humidity, per cent
)

// Kinds are all of them.
var Kinds = []Kind{Scale, Pot, Vacuum, Air}

// Measure is one line as it was read, in the unit of its kind.
type Measure struct {
	Value  float64
	Second float64 // foam in mm, humidity in per cent; 0 where there is none
	Steady bool    // the instrument says that it stands still
	Over   bool    // more than it measures: no value
}

// Errors of a line.
var (
	ErrRubbish = errors.New("this line is no reading: set the pattern so that it fits what the instrument says")
	ErrUnit    = errors.New("this unit is none that is known for the instrument")
)

// Pattern says how a line is read: a regular expression with the groups value,
// and where the line has them unit, second, steady and over.
type Pattern struct {
	Line *regexp.Regexp
	Unit string // of lines that say none; empty for the kind's own
}

// Usual reads the lines of the stand-ins, and of most instruments: a number, a
// unit after it, and words about them.
var Usual = Pattern{Line: regexp.MustCompile(`(?i)(?P<over>overload|\bover\b)|(?P<value>[-+]?\s*\d+(?:[.,]\d+)?)\s*(?P<unit>[a-z%°]+)?` +
	`(?:\s+(?P<second>\d+(?:[.,]\d+)?)\s*(?:mm|%))?(?:.*?(?P<steady>\bsteady\b))?`)}

// NewPattern takes a pattern that a shop has written.
func NewPattern(line, unit string) (Pattern, error) {
	if line == "" {
		return Pattern{Usual.Line, unit}, nil
	}
	if len(line) > longestPattern {
		return Pattern{}, fmt.Errorf("a pattern has %d characters at most", longestPattern)
	}
	re, err := regexp.Compile(line)
	if err != nil {
		return Pattern{}, fmt.Errorf("the pattern cannot be read: %w", err)
	}
	if re.SubexpIndex("value") < 0 {
		return Pattern{}, errors.New("the pattern must name the number: (?P<value>...)")
	}
	return Pattern{re, unit}, nil
}

// Bounds of what is read.
const (
	longestPattern = 400
	longestLine    = 400 // bytes
)

// Read reads a line of an instrument.
func (p Pattern) Read(k Kind, line string) (Measure, error) {
	line = strings.TrimSpace(strings.ToValidUTF8(line, ""))
	if line == "" || len(line) > longestLine {
		return Measure{}, ErrRubbish
	}
	found := p.Line.FindStringSubmatch(line)
	if found == nil {
		return Measure{}, fmt.Errorf("%w: %q", ErrRubbish, line)
	}
	group := func(name string) string {
		if i := p.Line.SubexpIndex(name); i >= 0 {
			return strings.TrimSpace(found[i])
		}
		return ""
	}
	m := Measure{Over: group("over") != "", Steady: group("steady") != ""}
	if m.Over {
		return m, nil
	}
	value, err := number(group("value"))
	if err != nil {
		return m, fmt.Errorf("%w: %q", ErrRubbish, line)
	}
	unit := group("unit")
	if unit == "" {
		unit = p.Unit
	}
	if m.Value, err = k.in(value, unit); err != nil {
		return m, err
	}
	if s := group("second"); s != "" {
		if m.Second, err = number(s); err != nil {
			return m, fmt.Errorf("%w: %q", ErrRubbish, line)
		}
	}
	return m, nil
}

// number reads one with a point or a comma, and room after its sign.
func number(s string) (float64, error) {
	s = strings.ReplaceAll(strings.ReplaceAll(s, " ", ""), ",", ".")
	return strconv.ParseFloat(s, 64)
}

// factors are what a unit is in that of its kind (NIST SP 811).
var factors = map[Kind]map[string]float64{
	Scale:  {"g": 1, "kg": 1000, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237},
	Pot:    {"kpa": 1, "pa": 0.001, "psi": 6.894757, "bar": 100, "mbar": 0.1},
	Vacuum: {"kpa": 1, "pa": 0.001, "psi": 6.894757, "bar": 100, "mbar": 0.1, "inhg": 3.386389, "mmhg": 0.1333224, "torr": 0.1333224},
}

// in is a figure of a unit in that of the kind.
func (k Kind) in(value float64, unit string) (float64, error) {
	unit = strings.ToLower(unit)
	if k == Air {
		switch strings.TrimPrefix(unit, "°") {
		case "c", "":
			return value, nil
		case "f":
			return (value - 32) / 1.8, nil
		}
		return 0, fmt.Errorf("%w: %q", ErrUnit, unit)
	}
	if unit == "" {
		return value, nil
	}
	f, ok := factors[k][unit]
	if !ok {
		return 0, fmt.Errorf("%w: %q", ErrUnit, unit)
	}
	return value * f, nil
}
