package plane

import "math"

// Circle is the smallest circle round points (Welzl 1991, moving on from
// every point that is outside).
func Circle(points []Point) (x, y, r float64) {
	holds := func(p Point) bool { return math.Hypot(p[0]-x, p[1]-y) <= r*(1+1e-12) }
	two := func(p, q Point) {
		x, y = (p[0]+q[0])/2, (p[1]+q[1])/2
		r = math.Hypot(p[0]-q[0], p[1]-q[1]) / 2
	}
	three := func(a, b, c Point) {
		bx, by, cx, cy := b[0]-a[0], b[1]-a[1], c[0]-a[0], c[1]-a[1]
		d := 2 * (bx*cy - by*cx)
		if d == 0 {
			return
		}
		ux, uy := (cy*(bx*bx+by*by)-by*(cx*cx+cy*cy))/d, (bx*(cx*cx+cy*cy)-cx*(bx*bx+by*by))/d
		x, y, r = a[0]+ux, a[1]+uy, math.Hypot(ux, uy)
	}
	x, y = points[0][0], points[0][1]
	for i, p := range points {
		if holds(p) {
			continue
		}
		x, y, r = p[0], p[1], 0
		for j, q := range points[:i] {
			if holds(q) {
				continue
			}
			two(p, q)
			for _, o := range points[:j] {
				if !holds(o) {
					three(p, q, o)
				}
			}
		}
	}
	return x, y, r
}
