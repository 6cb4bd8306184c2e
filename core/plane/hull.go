package plane

import (
	"cmp"
	"slices"
)

// Hull is the convex hull of points, anticlockwise (Andrew's monotone chain).
func Hull(points []Point) []Point {
	p := slices.Clone(points)
	slices.SortFunc(p, func(a, b Point) int { return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1])) })
	p = slices.Compact(p)
	if len(p) < 3 {
		return p
	}
	turn := func(o, a, b Point) float64 { return (a[0]-o[0])*(b[1]-o[1]) - (a[1]-o[1])*(b[0]-o[0]) }
	var out []Point
	add := func(q Point, from int) {
		for len(out) >= from+2 && turn(out[len(out)-2], out[len(out)-1], q) <= 0 {
			out = out[:len(out)-1]
		}
		out = append(out, q)
	}
	for _, q := range p {
		add(q, 0)
	}
	from := len(out) - 1
	for i := len(p) - 2; i >= 0; i-- {
		add(p[i], from)
	}
	return out[:len(out)-1]
}
