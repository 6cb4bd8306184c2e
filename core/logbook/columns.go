package logbook

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// column is what a column holds.
type column int

const (
	none column = iota
	pull
	day
	mould
	massA
	massB
	cavity
	casting
	defect
	struck
	notes
	remark
	celsius
	humidity
	pressure
	who
	lot
	resin
	weighs
	placeX
	placeY
	placeZ
	colour
	matched
	finishing
	pouredAt
	out
)

// headers are the names that columns go by, in small letters.
var headers = map[string]column{"pull": pull, "pull id": pull, "id": pull, "day": day, "date": day, "pulled": day,
	"mould": mould, "mold": mould,
	"number": mould, "a": massA, "part a": massA, "weight a": massA, "b": massB, "part b": massB, "weight b": massB, "cavity": cavity,
	"casting": casting, "result": casting, "good": casting, "defect": defect, "reason": defect, "struck": struck,
	"notes": notes, "note": notes, "remark": remark, "remarks": remark, "casting note": remark,
	"°c": celsius, "celsius": celsius, "temperature": celsius, "temp": celsius, "°f": celsius,
	"fahrenheit": celsius, "humidity": humidity, "kpa": pressure, "psi": pressure, "bar": pressure, "pressure": pressure,
	"who": who, "lot": lot, "resin": resin, "material": resin,
	"weight": weighs, "casting weight": weighs, "x": placeX, "y": placeY, "z": placeZ,
	"colour": colour, "color": colour, "matched": matched, "colour matched": matched, "finishing": finishing,
	"poured at": pouredAt, "time": pouredAt, "out after": out, "out": out}

// unit is what a column's figures are taken times, after something was taken off.
type unit struct{ less, times float64 }

func (u unit) of(v float64) float64 { return (v - u.less) * u.times }

var (
	grams = map[string]unit{"": {0, 1}, "g": {0, 1}, "kg": {0, 1000}, "mg": {0, 0.001}, "oz": {0, 28.349523125}, "lb": {0, 453.59237}}
	warm  = map[string]unit{"": {0, 1}, "°c": {0, 1}, "c": {0, 1}, "celsius": {0, 1}, "°f": {32, 5.0 / 9}, "f": {32, 5.0 / 9},
		"fahrenheit": {32, 5.0 / 9}}
	pressed = map[string]unit{"": {0, 1}, "kpa": {0, 1}, "bar": {0, 100}, "psi": {0, 6.894757293}}
	minutes = map[string]unit{"": {0, 1}, "min": {0, 1}, "minutes": {0, 1}, "h": {0, 60}, "s": {0, 1.0 / 60}}
	percent = map[string]unit{"": {0, 1}, "%": {0, 1}, "per cent": {0, 1}}
)

// unitsOf are the units that a column may name.
var unitsOf = map[column]map[string]unit{massA: grams, massB: grams, weighs: grams, celsius: warm, humidity: percent,
	pressure: pressed, finishing: minutes, out: minutes}

// named is what each column holds, and its unit; and what of the header is not read.
func named(head []string) (columns []column, units []unit, says []string) {
	var unread []string
	for _, h := range head {
		name := strings.ToLower(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")))
		base, in, _ := strings.Cut(strings.NewReplacer("(", ",", "[", ",", ")", "", "]", "").Replace(name), ",")
		base, in = strings.TrimSpace(base), strings.TrimSpace(in)
		c := headers[base]
		if in == "" && c != none && unitsOf[c][base] != (unit{}) { // it goes by its unit alone
			in = base
		}
		u, known := unitsOf[c][in]
		switch {
		case c == none && name != "":
			unread = append(unread, strings.TrimSpace(h))
		case unitsOf[c] != nil && !known:
			says = append(says, fmt.Sprintf("The column %s is not read: its unit is not known.", strings.TrimSpace(h)))
			c = none
		}
		columns, units = append(columns, c), append(units, u)
	}
	if len(unread) > 0 {
		says = slices.Insert(says, 0, "Not read: "+strings.Join(unread, ", ")+".")
	}
	return columns, units, says
}

var (
	withComma = regexp.MustCompile(`^\d+,(\d+)$`)
	withPoint = regexp.MustCompile(`^\d+\.\d+$`)
)

// decimalCommas is whether commas in cells that are parted by tabs can only be decimal:
// no figure has a point, and one has a comma that parts no thousands.
func decimalCommas(text string) (decimal bool) {
	for cell := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == '\t' || r == '\r' || r == '\n' }) {
		cell = strings.TrimSpace(cell)
		if withPoint.MatchString(cell) {
			return false
		}
		m := withComma.FindStringSubmatch(cell)
		decimal = decimal || m != nil && len(m[1]) != 3
	}
	return decimal
}
