package plane

import (
	"math"
	"slices"

	"github.com/tdewolff/canvas"
)

// arcOff is how far a drawn arc may lie from the true one, mm.
const arcOff = 0.02

// Offset moves a ring outwards, or inwards where by is negative, round its
// corners; what is left is its largest part, anticlockwise, and nothing where
// nothing is left.
func Offset(ring []Point, by float64) []Point {
	p := &canvas.Path{}
	for i, q := range ring {
		if i == 0 {
			p.MoveTo(q[0], q[1])
		} else {
			p.LineTo(q[0], q[1])
		}
	}
	p.Close()
	var best []Point
	for _, part := range p.Offset(by, arcOff).Split() {
		var r []Point
		for _, c := range part.Flatten(arcOff).Coords() {
			q := Point{c.X, c.Y}
			if n := len(r); n == 0 || math.Hypot(q[0]-r[n-1][0], q[1]-r[n-1][1]) > 1e-6 {
				r = append(r, q)
			}
		}
		for len(r) > 1 && math.Hypot(r[0][0]-r[len(r)-1][0], r[0][1]-r[len(r)-1][1]) <= 1e-6 {
			r = r[:len(r)-1]
		}
		if math.Abs(Area(r)) > math.Abs(Area(best)) {
			best = r
		}
	}
	if Area(best) < 0 {
		slices.Reverse(best)
	}
	return best
}
