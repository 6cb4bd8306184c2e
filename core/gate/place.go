package gate

import (
	"math"

	"bathyform/core/fill"
	"bathyform/core/kinds"

	"gonum.org/v1/gonum/spatial/r3"
)

// plateau is how far below its highest point a pocket still counts as level,
// and above its lowest point a floor, in mm.
const plateau = 0.3

// highest is where a broad opening at the top meets the part: the middle of
// the highest ceiling.
func highest(space *fill.Space, bore float64) r3.Vec {
	found, err := space.Trap(nil)
	if err != nil || len(found.Pockets) == 0 {
		return r3.Vec{}
	}
	best := 0
	for i, p := range found.Pockets {
		if p.ApexHeight > found.Pockets[best].ApexHeight {
			best = i
		}
	}
	return VentSpot(space, found, best, nil)
}

// VentSpot is where a vent empties a pocket best: the point of a pocket's top nearest to the middle of all
// that is as high, so that a vent in a level ceiling does not sit on its rim, and off the faces that show where it can.
func VentSpot(space *fill.Space, found fill.Trapped, pocket int, faces *Faces) r3.Vec {
	p := found.Pockets[pocket]
	reach := min(plateau, 0.05*(p.ApexHeight-p.SealHeight))
	var top []r3.Vec
	var sum r3.Vec
	for _, s := range space.Stretches(found, 1) {
		if s.Pocket == pocket && s.Hi >= p.ApexHeight-reach {
			at := r3.Vec{X: s.X, Y: s.Y, Z: s.Hi}
			top = append(top, at)
			sum = r3.Add(sum, at)
		}
	}
	if len(top) < 3 {
		return p.Apex
	}
	middle := r3.Scale(1/float64(len(top)), sum)
	top = faces.best(top, space.Frame.Out)
	best, dist := p.Apex, math.Inf(1)
	for _, at := range top {
		if d := math.Hypot(at.X-middle.X, at.Y-middle.Y); d < dist {
			best, dist = space.Frame.Out(at), d
		}
	}
	return best
}

// ProposeVents puts a vent at the top of every pocket until none is left that
// is worth one. Vents that are there already stay.
func ProposeVents(space *fill.Space, c Choices, bore float64) []Vent {
	return proposeVents(space, c.stood(space, kinds.Sprued), bore)
}

func proposeVents(space *fill.Space, c Choices, bore float64) []Vent {
	vents := append([]Vent(nil), c.Vents...)
	for len(vents) < MostVents {
		found, err := space.Trap(openedBy(space, c, vents))
		if err != nil {
			return vents
		}
		before := len(vents)
		for i, p := range found.Pockets {
			if c.Fault.Matters(p.Volume) && len(vents) < MostVents && !ventAt(vents, p.Apex, bore) {
				vents = append(vents, Vent{At: VentSpot(space, found, i, c.faces), Bore: bore})
			}
		}
		if len(vents) == before {
			break
		}
	}
	return vents
}

// ventAt reports whether a vent already stands at a point, so that a pocket
// which its mouth just misses is not vented again and again.
func ventAt(vents []Vent, at r3.Vec, bore float64) bool {
	for _, v := range vents {
		if r3.Norm(r3.Sub(v.At, at)) < bore/4 {
			return true
		}
	}
	return false
}
