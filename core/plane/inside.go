package plane

import "math"

// Region tells how far places lie from a simple ring, quickly: what is near
// each field of a grid is looked up beforehand.
type Region struct {
	ring   []Point
	low    Point
	margin float64
	cell   float64
	nx, ny int
	near   [][]int32 // edges that may be the nearest from a field
	side   []int8    // of a field that lies on one side of the ring: 1 outside, -1 inside; else 0
}

const fields = 64 // along the longer side of the grid

// NewRegion makes one of an anticlockwise ring, for places within margin of
// its bounds.
func NewRegion(ring []Point, margin float64) *Region {
	low, high := Bounds(ring)
	g := &Region{ring: ring, margin: margin, low: Point{low[0] - margin, low[1] - margin}}
	w, h := high[0]-low[0]+2*margin, high[1]-low[1]+2*margin
	g.cell = max(w, h) / fields
	g.nx, g.ny = int(w/g.cell)+1, int(h/g.cell)+1
	g.near, g.side = make([][]int32, g.nx*g.ny), make([]int8, g.nx*g.ny)
	away := make([]float64, len(ring))
	for j := range g.ny {
		for i := range g.nx {
			mid := Point{g.low[0] + (float64(i)+0.5)*g.cell, g.low[1] + (float64(j)+0.5)*g.cell}
			least := math.Inf(1)
			for e := range ring {
				away[e] = g.edge(e, mid)
				least = min(least, away[e])
			}
			for e, d := range away {
				if d <= least+g.cell*math.Sqrt2 {
					g.near[j*g.nx+i] = append(g.near[j*g.nx+i], int32(e))
				}
			}
			if least > g.cell*math.Sqrt2/2 {
				g.side[j*g.nx+i] = 1
				if Inside(ring, mid) {
					g.side[j*g.nx+i] = -1
				}
			}
		}
	}
	return g
}

// edge is how far a place lies from one side of the ring.
func (g *Region) edge(e int, p Point) float64 {
	a, b := g.ring[e], g.ring[(e+1)%len(g.ring)]
	x, y := b[0]-a[0], b[1]-a[1]
	t := 0.0
	if n := x*x + y*y; n > 0 {
		t = max(0, min(1, ((p[0]-a[0])*x+(p[1]-a[1])*y)/n))
	}
	return math.Hypot(p[0]-a[0]-t*x, p[1]-a[1]-t*y)
}

// Beyond is how far a place lies outside the ring, negative inside, mm; beyond
// the margin, how far it does at least.
func (g *Region) Beyond(p Point) float64 {
	i, j := int(math.Floor((p[0]-g.low[0])/g.cell)), int(math.Floor((p[1]-g.low[1])/g.cell))
	if i < 0 || j < 0 || i >= g.nx || j >= g.ny {
		high := Point{g.low[0] + float64(g.nx)*g.cell, g.low[1] + float64(g.ny)*g.cell}
		out := math.Hypot(max(0, g.low[0]-p[0], p[0]-high[0]), max(0, g.low[1]-p[1], p[1]-high[1]))
		return g.margin + out
	}
	least, side := math.Inf(1), 0.0 // squared; positive to the right of the nearest edge, where it is outside
	for _, e := range g.near[j*g.nx+i] {
		a, b := g.ring[e], g.ring[int(e+1)%len(g.ring)]
		x, y, u, v := b[0]-a[0], b[1]-a[1], p[0]-a[0], p[1]-a[1]
		t := (u*x + v*y) / (x*x + y*y)
		corner := t <= 0 || t >= 1
		t = max(0, min(1, t))
		if d := (u-t*x)*(u-t*x) + (v-t*y)*(v-t*y); d < least {
			least, side = d, u*y-v*x
			if corner {
				side = 0
			}
		}
	}
	d := math.Sqrt(least)
	if known := g.side[j*g.nx+i]; known != 0 {
		return d * float64(known)
	}
	if side < 0 || side == 0 && Inside(g.ring, p) { // beside a corner no single edge tells
		return -d
	}
	return d
}

// Inside reports whether a place lies in a ring, by the parity of crossings.
func Inside(ring []Point, p Point) (in bool) {
	for i, a := range ring {
		b := ring[(i+1)%len(ring)]
		if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < a[0]+(p[1]-a[1])/(b[1]-a[1])*(b[0]-a[0]) {
			in = !in
		}
	}
	return in
}
