// Package axis holds the six ways along the axes of a mesh: which way a half
// is drawn, and which way is up at a pour.
package axis

import (
	"fmt"

	"gonum.org/v1/gonum/spatial/r3"
)

// Axis is one of the six ways. The zero value is +z, as a mesh stands.
type Axis uint8

// The six ways.
const (
	PlusZ Axis = iota
	MinusZ
	PlusX
	MinusX
	PlusY
	MinusY
)

// All lists the six ways in the order they are offered.
var All = []Axis{PlusX, MinusX, PlusY, MinusY, PlusZ, MinusZ}

var (
	names = [...]string{"+z", "-z", "+x", "-x", "+y", "-y"}
	dirs  = [...]r3.Vec{{Z: 1}, {Z: -1}, {X: 1}, {X: -1}, {Y: 1}, {Y: -1}}
)

// Parse reads a way from its text form, as in "+z".
func Parse(text string) (Axis, error) {
	for a, name := range names {
		if name == text {
			return Axis(a), nil
		}
	}
	return 0, fmt.Errorf("%q is not one of the ways +x, -x, +y, -y, +z, -z", text)
}

// String is the text form of a way.
func (a Axis) String() string { return names[int(a)%len(names)] }

// MarshalText writes the text form.
func (a Axis) MarshalText() ([]byte, error) { return []byte(a.String()), nil }

// UnmarshalText reads the text form and refuses anything else.
func (a *Axis) UnmarshalText(text []byte) (err error) {
	*a, err = Parse(string(text))
	return err
}

// Dir is the unit vector along the way.
func (a Axis) Dir() r3.Vec { return dirs[int(a)%len(dirs)] }

// Opposite is the way back.
func (a Axis) Opposite() Axis { return Axis(int(a)%len(dirs)) ^ 1 }

// Negative reports whether the way runs against its coordinate.
func (a Axis) Negative() bool { return a&1 == 1 }

// Along reports whether two ways lie on one line.
func (a Axis) Along(b Axis) bool { return a == b || a == b.Opposite() }

// Of is the part of a vector along the way, with its sign.
func (a Axis) Of(v r3.Vec) float64 { return r3.Dot(a.Dir(), v) }

// Span is the lowest and the highest height of a box along the way.
func (a Axis) Span(b r3.Box) (low, high float64) {
	p, q := a.Of(b.Min), a.Of(b.Max)
	return min(p, q), max(p, q)
}

// Nearest is the axis that a direction is nearest to, and whether it lies on
// it but for rounding.
func Nearest(dir r3.Vec) (near Axis, exact bool) {
	most := -2.0
	for _, a := range All {
		if d := a.Of(dir); d > most {
			near, most = a, d
		}
	}
	return near, most > (1-1e-9)*r3.Norm(dir)
}
