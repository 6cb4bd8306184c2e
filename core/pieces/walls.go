package pieces

import (
	"errors"
	"math"

	"bathyform/core/outline"

	"gonum.org/v1/gonum/spatial/r3"
)

// halfPlanes are the walls of a convex ring, anticlockwise: normal and distance.
func halfPlanes(ring []outline.Point) [][3]float64 {
	var out [][3]float64
	for i, p := range ring {
		q := ring[(i+1)%len(ring)]
		x, y := q[1]-p[1], p[0]-q[0]
		if n := math.Hypot(x, y); n > 1e-9 {
			out = append(out, [3]float64{x / n, y / n, (x*p[0] + y*p[1]) / n})
		}
	}
	return out
}

// roomIn makes a box as wide as a ring of walls, and returns the area inside:
// the part has to have room in it.
func roomIn(ring []outline.Point, low, high r3.Vec, box *r3.Box) (area float64, err error) {
	if area = outline.Area(ring); !(area > 0) {
		return 0, errors.New("the walls of the box must run anticlockwise round it")
	}
	l, h := ring[0], ring[0]
	for _, p := range ring {
		l, h = outline.Point{min(l[0], p[0]), min(l[1], p[1])}, outline.Point{max(h[0], p[0]), max(h[1], p[1])}
	}
	if l[0] >= low.X || l[1] >= low.Y || h[0] <= high.X || h[1] <= high.Y {
		return 0, errors.New("the part does not go into that box: take a larger one")
	}
	box.Min.X, box.Min.Y, box.Max.X, box.Max.Y = l[0], l[1], h[0], h[1]
	return area, nil
}

// beyond is how far a place lies outside the box, negative inside.
func (b *block) beyond(p r3.Vec) float64 {
	f := max(b.box.Min.Z-p.Z, p.Z-b.box.Max.Z)
	if len(b.walls) == 0 {
		return max(f, b.box.Min.X-p.X, p.X-b.box.Max.X, b.box.Min.Y-p.Y, p.Y-b.box.Max.Y)
	}
	for _, w := range b.walls {
		f = max(f, w[0]*p.X+w[1]*p.Y-w[2])
	}
	return f
}
