package pieces

import (
	"math"

	"bathyform/core/plane"
)

// What the outline of a side piece is followed by.
const (
	fin      = 3.0  // mm; between its arms no rubber of a half is left thinner than twice that
	blot     = 0.75 // of a cell, that a point of its socket stands for
	oneBody  = 0.05 // share of the outline up to which a second body is dust
	drawnOff = 0.03 // mm that the outline may be drawn off
	regionBy = 6.0  // mm beside the outline that places are asked for
)

// socket is the outline of points seen along a piece's draw, a seat wider,
// hollows followed; nil where they fall into several, which one hull holds.
func (b *block) socket(seen []plane.Point) *plane.Region {
	dot := b.Cell / 2
	low, high := plane.Bounds(seen)
	const rim = 3
	nx, ny := int((high[0]-low[0])/dot)+2*rim+1, int((high[1]-low[1])/dot)+2*rim+1
	mask := make([]bool, nx*ny)
	x0, y0 := low[0]-rim*dot, low[1]-rim*dot
	for _, p := range seen {
		i, j := int((p[0]-x0)/dot), int((p[1]-y0)/dot)
		for dj := -2; dj <= 2; dj++ {
			for di := -2; di <= 2; di++ {
				x, y := x0+(float64(i+di)+0.5)*dot, y0+(float64(j+dj)+0.5)*dot
				if i+di >= 0 && j+dj >= 0 && i+di < nx && j+dj < ny && math.Hypot(x-p[0], y-p[1]) <= blot*b.Cell {
					mask[(j+dj)*nx+i+di] = true
				}
			}
		}
	}
	var ring []plane.Point
	best, outer := 0.0, 0.0
	for _, loop := range plane.Borders(mask, nx, ny) {
		r := make([]plane.Point, len(loop))
		for i, p := range loop {
			r[i] = plane.Point{x0 + float64(p[0])*dot, y0 + float64(p[1])*dot}
		}
		a := plane.Area(r)
		if a < 0 { // holes run the other way round
			outer -= a
		}
		if -a > best {
			best, ring = -a, plane.Simplified(r, 0.8*dot)
		}
	}
	if len(ring) < 3 || outer-best > oneBody*best {
		return nil
	}
	if plane.Area(ring) < 0 {
		for i, k := 0, len(ring)-1; i < k; i, k = i+1, k-1 {
			ring[i], ring[k] = ring[k], ring[i]
		}
	}
	grown := plane.Offset([][]plane.Point{ring}, seat-blot*b.Cell+fin)
	if len(grown) == 0 {
		return nil
	}
	if grown = plane.Offset(grown[:1], -fin); len(grown) == 0 {
		return nil
	}
	return plane.NewRegion(plane.Simplified(grown[0], drawnOff), regionBy)
}
