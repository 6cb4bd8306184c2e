package plane

import (
	"cmp"
	"math"
	"slices"
)

// How an offset is drawn: its corners lie on it to a millionth of a field, and
// between two of them it is off by field² / (8 radius).
const (
	field  = 0.5   // mm
	across = 300.0 // fields at most along the longer side
	halved = 24    // times, to find where it crosses the edge of a field
)

// Offset is everything within a distance of simple anticlockwise rings, or
// where by is negative everything that lies deeper in them: its outlines, the
// largest first, outsides anticlockwise and holes clockwise.
func Offset(rings [][]Point, by float64) (out [][]Point) {
	var all []Point
	for _, r := range rings {
		all = append(all, r...)
	}
	if len(all) < 3 {
		return nil
	}
	low, high := Bounds(all)
	cell := max(field, max(high[0]-low[0], high[1]-low[1])/across)
	rim := max(by, 0) + 2*cell
	var regions []*Region
	for _, r := range rings {
		regions = append(regions, NewRegion(r, math.Abs(by)+2*cell))
	}
	// no ring lies on the grid itself
	x0, y0 := low[0]-rim-0.137*cell, low[1]-rim-0.219*cell
	nx, ny := int((high[0]-x0+rim)/cell)+2, int((high[1]-y0+rim)/cell)+2
	beyond := func(p Point) float64 {
		d := math.Inf(1)
		for _, g := range regions {
			d = min(d, g.Beyond(p))
		}
		return d - by
	}
	at := func(i, j int) Point { return Point{x0 + float64(i)*cell, y0 + float64(j)*cell} }
	mask := make([]bool, nx*ny)
	for j := range ny {
		for i := range nx {
			mask[j*nx+i] = beyond(at(i, j)) <= 0
		}
	}
	for _, loop := range Borders(mask, nx, ny) {
		var ring []Point
		for k, p := range loop {
			q := loop[(k+1)%len(loop)]
			// the dots to the left and to the right of a step, the first of them inside
			dx, dy := q[0]-p[0], q[1]-p[1]
			in := [2]int{p[0] + min(0, dx) + min(0, dy), p[1] - max(0, dx) + min(0, dy)}
			paper := [2]int{in[0] - dy, in[1] + dx}
			a, b := at(in[0], in[1]), at(paper[0], paper[1])
			lo, hi := 0.0, 1.0
			for range halved {
				if mid := (lo + hi) / 2; beyond(Point{a[0] + mid*(b[0]-a[0]), a[1] + mid*(b[1]-a[1])}) <= 0 {
					lo = mid
				} else {
					hi = mid
				}
			}
			ring = append(ring, Point{a[0] + lo*(b[0]-a[0]), a[1] + lo*(b[1]-a[1])})
		}
		slices.Reverse(ring) // borders run clockwise where y points up
		out = append(out, ring)
	}
	slices.SortStableFunc(out, func(a, b []Point) int { return cmp.Compare(math.Abs(Area(b)), math.Abs(Area(a))) })
	return out
}
