package box

import (
	"errors"
	"math"

	"bathyform/core/plane"
)

// Hollow is the smallest radius that a strip of card or thin board is bent to
// hollow, mm; common practice, no source. Narrower hollows are bridged.
const Hollow = 6.0

// ErrApart says that no one wall goes round all cavities.
var ErrApart = errors.New("the cavities stand so far apart that no one wall follows them: lay them nearer, or take a wall that is bent " +
	"round them all")

// followed is a wall that keeps its distance from the true outlines, hollows
// included: everything within the distance and a bend's radius of them, less
// that radius again.
func followed(a Ask) (Box, error) {
	if len(a.Rings) == 0 {
		return Box{}, errors.New("the outline of the part is not known from there: take another form of box")
	}
	grown := plane.Offset(a.Rings, a.Beside+Hollow)
	if len(grown) == 0 {
		return Box{}, errors.New("seen from there the part has no width: turn it")
	}
	for _, other := range grown[1:] { // a hole is too narrow for a wall of its own, or stands in the middle of the rubber
		if plane.Area(other) > 0 {
			return Box{}, ErrApart
		}
	}
	back := plane.Offset(grown[:1], -Hollow)
	if len(back) == 0 {
		return Box{}, errors.New("the outline of the part is too jagged to be followed: take another form of box")
	}
	ring := plane.Simplified(back[0], drawnOff)
	low, high := plane.Bounds(ring)
	b := Box{Form: Follow, Ring: ring, Area: plane.Area(ring), Wall: plane.Perimeter(ring), Wide: high[0] - low[0], Deep: high[1] - low[1]}
	b.Nearest = math.Inf(1)
	region := plane.NewRegion(ring, 1)
	for _, r := range a.Rings {
		for _, p := range r {
			b.Nearest = min(b.Nearest, -region.Beyond(p))
		}
	}
	if b.Nearest < a.Beside-nearEnough { // never a wall nearer than was asked for
		return Box{}, errors.New("the outline of the part cannot be followed at that distance: take another form of box")
	}
	b.Bends = bends(ring)
	return b, nil
}

// drawnOff is how far the wall may be drawn off, mm.
const drawnOff = 0.02

// nearEnough is by how much a drawn wall may come nearer than was asked, mm.
const nearEnough = 0.1

// bends are the stretches of a wall, straight and round, as far as they can be
// told from its corners.
func bends(ring []plane.Point) (out []Bend) {
	n := len(ring)
	bent, turned := 0.0, 0.0
	flush := func() {
		if bent > 0 {
			out = append(out, Bend{bent, bent / math.Max(math.Abs(turned), 1e-9)})
		}
		bent, turned = 0, 0
	}
	for i, p := range ring {
		q, r := ring[(i+1)%n], ring[(i+2)%n]
		long := math.Hypot(q[0]-p[0], q[1]-p[1])
		turn := math.Remainder(math.Atan2(r[1]-q[1], r[0]-q[0])-math.Atan2(q[1]-p[1], q[0]-p[0]), 2*math.Pi)
		if long > straightFrom {
			flush()
			out = append(out, Bend{long, 0})
			continue
		}
		if turned*turn < 0 {
			flush()
		}
		bent, turned = bent+long, turned+turn
	}
	flush()
	return out
}

// straightFrom is the length of a side that is no step of an arc, mm.
const straightFrom = 3.0
