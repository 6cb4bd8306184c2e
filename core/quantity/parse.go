package quantity

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Reader says how typed measures are to be understood.
type Reader struct {
	System       System
	DecimalComma bool // the shop writes 98,4
}

// fractions that have a character of their own.
var vulgar = map[rune][2]float64{
	'½': {1, 2}, '¼': {1, 4}, '¾': {3, 4}, '⅛': {1, 8}, '⅜': {3, 8}, '⅝': {5, 8}, '⅞': {7, 8}, '⅓': {1, 3}, '⅔': {2, 3},
}

// Parse reads a measure such as "98.4", "3 7/8 in", `1/2"`, "2 lb 3 oz" or
// "62 floz" and returns it in the unit that its kind is kept in. A bare
// number is in the system's unit. Negative measures are refused.
func (r Reader) Parse(k Kind, text string) (float64, error) {
	p := parser{text: []rune(strings.ToLower(strings.TrimSpace(text))), reader: r}
	if len(p.text) == 0 {
		return 0, errors.New("a number is missing")
	}
	var total float64
	for terms := 0; ; terms++ {
		p.space()
		if p.done() {
			return total, nil
		}
		value, err := p.number()
		if err != nil {
			return 0, err
		}
		name := p.unit()
		if name == "" {
			if terms > 0 || !p.done() {
				return 0, fmt.Errorf("%q cannot be read as a %s; write it like %s", text, k, example(k, r.System))
			}
			name = r.System.Unit(k)
		}
		if k == Number && name == "" {
			return value, nil
		}
		u, ok := unitCalled(name)
		if !ok {
			return 0, fmt.Errorf("the unit %q is not known; write it like %s", name, example(k, r.System))
		}
		if u.kind != k {
			return 0, fmt.Errorf("%q measures a %s, and a %s is asked for%s", name, u.kind, k, ounceHint(name, k))
		}
		total += value * u.factor
		if math.IsInf(total, 0) {
			return 0, errors.New("the number is too large")
		}
	}
}

// ounceHint helps where the two ounces are mixed up.
func ounceHint(name string, k Kind) string {
	switch {
	case name == "oz" && k == Volume:
		return "; for fluid ounces write fl oz"
	case squeeze(name) == "floz" && k == Mass:
		return "; for ounces by weight write oz"
	}
	return ""
}

func example(k Kind, s System) string {
	if s == US {
		switch k {
		case Length:
			return "3 7/8 in"
		case Volume:
			return "62 fl oz"
		case Mass:
			return "2 lb 3 oz"
		}
	}
	switch k {
	case Length:
		return "98.4 mm"
	case Volume:
		return "200 mL"
	case Mass:
		return "170 g"
	case Density:
		return "1.2 g/mL"
	case Area:
		return "12 cm²"
	case Time:
		return "16 h"
	default:
		return "10"
	}
}

// squeeze drops spaces and dots from a unit's name: "fl. oz" and "floz" are one.
func squeeze(name string) string {
	return strings.NewReplacer(" ", "", ".", "").Replace(strings.ToLower(name))
}

type parser struct {
	text   []rune
	at     int
	reader Reader
}

func (p *parser) done() bool { return p.at >= len(p.text) }

func (p *parser) peek() rune {
	if p.done() {
		return utf8.RuneError
	}
	return p.text[p.at]
}

func (p *parser) space() {
	for !p.done() && unicode.IsSpace(p.text[p.at]) {
		p.at++
	}
}

// number reads a decimal, a fraction, or a whole number with a fraction.
func (p *parser) number() (float64, error) {
	if p.peek() == '-' || p.peek() == '−' {
		return 0, errors.New("a measure cannot be negative")
	}
	if f, ok := vulgar[p.peek()]; ok {
		p.at++
		return f[0] / f[1], nil
	}
	whole, isWhole, err := p.decimal()
	if err != nil || !isWhole {
		return whole, err
	}
	if p.peek() == '/' {
		return p.over(whole)
	}
	back := p.at
	p.space()
	if p.peek() == '-' { // 3-7/8: the hyphen joins
		p.at++
	}
	if f, ok := vulgar[p.peek()]; ok {
		p.at++
		return whole + f[0]/f[1], nil
	}
	if !unicode.IsDigit(p.peek()) {
		p.at = back
		return whole, nil
	}
	top, isWhole, err := p.decimal()
	if err != nil {
		return 0, err
	}
	if !isWhole || p.peek() != '/' {
		return 0, errors.New("two numbers stand side by side; a fraction needs a stroke, as in 3 7/8")
	}
	part, err := p.over(top)
	if err != nil {
		return 0, err
	}
	if part >= 1 {
		return 0, errors.New("the fraction after a whole number must be less than one")
	}
	return whole + part, nil
}

// over reads the stroke and denominator of a fraction.
func (p *parser) over(top float64) (float64, error) {
	p.at++
	bottom, isWhole, err := p.decimal()
	if err != nil || !isWhole {
		return 0, errors.New("a fraction needs a whole number under the stroke")
	}
	if bottom == 0 {
		return 0, errors.New("a fraction cannot have 0 under the stroke")
	}
	return top / bottom, nil
}

func (p *parser) decimal() (value float64, isWhole bool, err error) {
	start := p.at
	isWhole = true
	for ; !p.done(); p.at++ {
		c := p.text[p.at]
		if c == ',' && !p.reader.DecimalComma {
			return 0, false, errors.New(
				"a comma stands in the number; write decimals with a point, or switch on the decimal comma in House practice",
			)
		}
		if c == '.' || c == ',' {
			isWhole = false
		} else if c < '0' || c > '9' {
			break
		}
	}
	digits := strings.ReplaceAll(string(p.text[start:p.at]), ",", ".")
	if digits == "" {
		return 0, false, fmt.Errorf("a number was expected before %q", string(p.text[start:]))
	}
	value, err = strconv.ParseFloat(digits, 64)
	if err != nil {
		return 0, false, fmt.Errorf("%q is not a number", digits)
	}
	return value, isWhole, nil
}

// unit reads letters and marks up to the next number.
func (p *parser) unit() string {
	p.space()
	start := p.at
	for !p.done() {
		c := p.text[p.at]
		if _, isFraction := vulgar[c]; isFraction {
			break
		}
		if c >= '0' && c <= '9' && !p.exponent(string(p.text[start:p.at])) {
			break
		}
		p.at++
	}
	return strings.TrimSpace(string(p.text[start:p.at]))
}

// exponent reports whether the digit at hand belongs to the unit, as in in3
// or cm2, and not to the next term, as in 2lb3oz.
func (p *parser) exponent(name string) bool {
	if name == "" || !unicode.IsLetter(p.text[p.at-1]) {
		return false
	}
	_, known := units[squeeze(name+string(p.text[p.at]))]
	return known
}
