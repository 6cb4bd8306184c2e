// Package plane holds what is done to points and rings in a plane: areas,
// hulls, the smallest circle, and fewer points for the same ring.
package plane

import (
	"math"
	"slices"
)

// Point is a corner in mm.
type Point = [2]float64

// Area is the signed area of a ring in mm², positive anticlockwise.
func Area(r []Point) (sum float64) {
	for i := range r {
		a, b := r[i], r[(i+1)%len(r)]
		sum += a[0]*b[1] - a[1]*b[0]
	}
	return sum / 2
}

// Simplified drops corners that lie within tol of the line between their
// neighbours (Douglas and Peucker 1973, from memory).
func Simplified(r []Point, tol float64) []Point {
	if len(r) < 5 {
		return r
	}
	far, dist := 0, -1.0
	for i, p := range r {
		if d := math.Hypot(p[0]-r[0][0], p[1]-r[0][1]); d > dist {
			far, dist = i, d
		}
	}
	a := thin(r[:far+1], tol)
	b := thin(append(slices.Clone(r[far:]), r[0]), tol)
	return append(a[:len(a)-1:len(a)-1], b[:len(b)-1]...)
}

func thin(p []Point, tol float64) []Point {
	if len(p) < 3 {
		return p
	}
	a, b := p[0], p[len(p)-1]
	l := math.Hypot(b[0]-a[0], b[1]-a[1])
	at, worst := 0, tol
	for i := 1; i < len(p)-1; i++ {
		d := math.Hypot(p[i][0]-a[0], p[i][1]-a[1])
		if l > 0 {
			d = math.Abs((b[0]-a[0])*(a[1]-p[i][1])-(a[0]-p[i][0])*(b[1]-a[1])) / l
		}
		if d > worst {
			at, worst = i, d
		}
	}
	if at == 0 {
		return []Point{a, b}
	}
	left := thin(p[:at+1], tol)
	return append(left[:len(left)-1:len(left)-1], thin(p[at:], tol)...)
}

// Bounds is the rectangle round points along the axes.
func Bounds(points []Point) (low, high Point) {
	low, high = points[0], points[0]
	for _, p := range points {
		low = Point{min(low[0], p[0]), min(low[1], p[1])}
		high = Point{max(high[0], p[0]), max(high[1], p[1])}
	}
	return low, high
}

// Perimeter is the length of a closed line.
func Perimeter(r []Point) (sum float64) {
	for i, p := range r {
		q := r[(i+1)%len(r)]
		sum += math.Hypot(q[0]-p[0], q[1]-p[1])
	}
	return sum
}
