package channel

import "gonum.org/v1/gonum/spatial/r3"

// Sheet is a parting that stands upright: a plane across x, or across y, in
// which channels lie, so that they come away with its halves.
type Sheet struct {
	AlongX bool    // the plane lies along x, across y
	At     float64 // where along the axis that it is across, mm
}

// along is how far a place lies along the sheet.
func (s *Sheet) along(p r3.Vec) float64 {
	if s.AlongX {
		return p.X
	}
	return p.Y
}

// at is the place in the sheet so far along it and so high.
func (s *Sheet) at(along, z float64) r3.Vec {
	if s.AlongX {
		return r3.Vec{X: along, Y: s.At, Z: z}
	}
	return r3.Vec{X: s.At, Y: along, Z: z}
}

// onto is the place in the sheet that is nearest to p.
func (s *Sheet) onto(p r3.Vec) r3.Vec { return s.at(s.along(p), p.Z) }

// Off is how far a place lies off the sheet, mm.
func (s *Sheet) Off(p r3.Vec) float64 { return r3.Norm(r3.Sub(p, s.onto(p))) }
