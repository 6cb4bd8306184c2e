package mesh

import "fmt"

// Unit is a unit of length that a mesh may be drawn in.
type Unit string

// The units of length that mesh files are met with.
const (
	Millimetre Unit = "mm"
	Centimetre Unit = "cm"
	Metre      Unit = "m"
	Inch       Unit = "in"
)

// Millimetres returns the length of one unit, or an error that names the
// units there are.
func (u Unit) Millimetres() (float64, error) {
	switch u {
	case Millimetre:
		return 1, nil
	case Centimetre:
		return 10, nil
	case Metre:
		return 1000, nil
	case Inch:
		return 25.4, nil
	}
	return 0, fmt.Errorf("the unit %q is not known; use mm, cm, m or in", string(u))
}

// UnitGuess is a likely unit and the reason for it.
type UnitGuess struct {
	Unit Unit
	Why  string
}

// Sizes of usual cast parts, longest side in mm: common practice, no source.
const (
	smallestPart = 8
	largestPart  = 600
)

// GuessUnit proposes the unit of a mesh from the longest side in file units.
// STL files do not carry one, so the caster confirms it.
func GuessUnit(longest float64) UnitGuess {
	said := func(u Unit, format string, args ...any) UnitGuess {
		return UnitGuess{u, fmt.Sprintf(format, args...)}
	}
	switch {
	case longest >= smallestPart && longest <= largestPart:
		return said(Millimetre, "the longest side is %.4g, a usual size in mm; drawn in inches it would be 25 times as large", longest)
	case longest > largestPart:
		return said(Millimetre, "the longest side is %.4g: large even in mm, larger in any other unit; it may be in hundredths", longest)
	case longest*25.4 >= smallestPart && longest*25.4 <= largestPart:
		return said(Inch, "the longest side is %.4g: tiny in mm, a usual size in inches", longest)
	default:
		return said(Metre, "the longest side is only %.3g: a usual size in metres, and in nothing smaller", longest)
	}
}
