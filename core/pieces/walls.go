package pieces

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Wall is a flat side of a box: what lies beyond Reach along Out, a unit
// vector, is outside. A bent wall is many of them.
type Wall struct {
	Out   r3.Vec
	Reach float64 // mm
}

// Room is what the rubber fills together with the part, in the frame of the
// draw: a box, less what its walls cut off.
type Room struct {
	Box    r3.Box
	Walls  []Wall  // of a box that is no block; together with Box they are convex
	Volume float64 // mm³
	// Ring is the inside of a box whose wall has hollows, anticlockwise, none for
	// others; it is seen along the wall, with Wide and Deep as its axes here.
	Ring       []plane.Point
	Wide, Deep r3.Vec
}

// Upright are the walls of a convex ring, anticlockwise, that stand along the
// third axis of a frame.
func Upright(ring []plane.Point) (out []Wall) {
	for i, p := range ring {
		q := ring[(i+1)%len(ring)]
		x, y := q[1]-p[1], p[0]-q[0]
		if n := math.Hypot(x, y); n > 1e-9 {
			out = append(out, Wall{r3.Vec{X: x / n, Y: y / n}, (x*p[0] + y*p[1]) / n})
		}
	}
	return out
}

// roomOf is the room that was asked for, or a block with the clearances round
// what reaches from low to high.
func roomOf(c Choices, low, high r3.Vec) (Room, error) {
	if c.Room == nil {
		for _, v := range []float64{c.Clearance.Beside, c.Clearance.Below, c.Clearance.Above} {
			if !(v > 0) || v > 500 {
				return Room{}, fmt.Errorf("the clearance must lie between 0 and 500 mm, not %g: rubber has to stand all round the part", v)
			}
		}
		b := r3.Box{Min: r3.Sub(low, r3.Vec{X: c.Clearance.Beside, Y: c.Clearance.Beside, Z: c.Clearance.Below}),
			Max: r3.Add(high, r3.Vec{X: c.Clearance.Beside, Y: c.Clearance.Beside, Z: c.Clearance.Above})}
		size := r3.Sub(b.Max, b.Min)
		return Room{Box: b, Volume: size.X * size.Y * size.Z}, nil
	}
	const touch = 1e-6 // mm; a part may stand on the floor
	a, b := c.Room.Box.Min, c.Room.Box.Max
	if min(low.X-a.X, low.Y-a.Y, low.Z-a.Z, b.X-high.X, b.Y-high.Y, b.Z-high.Z) < -touch || !(c.Room.Volume > 0) {
		return Room{}, errors.New("the part does not go into that box: take a larger one")
	}
	return *c.Room, nil
}

// within puts the lattice into a room.
func (b *block) within(r Room) {
	b.walls, b.room = r.Walls, r
	if len(r.Ring) > 0 {
		b.region = plane.NewRegion(r.Ring, 2*b.Cell)
	}
}

// beyond is how far a place lies outside the box, negative inside.
func (b *block) beyond(p r3.Vec) float64 {
	f := max(b.box.Min.X-p.X, p.X-b.box.Max.X, b.box.Min.Y-p.Y, p.Y-b.box.Max.Y, b.box.Min.Z-p.Z, p.Z-b.box.Max.Z)
	for _, w := range b.walls {
		f = max(f, r3.Dot(w.Out, p)-w.Reach)
	}
	if b.region != nil {
		f = max(f, b.region.Beyond(plane.Point{r3.Dot(b.room.Wide, p), r3.Dot(b.room.Deep, p)}))
	}
	return f
}
