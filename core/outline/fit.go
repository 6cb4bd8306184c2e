package outline

import (
	"bathyform/core/plane"
)

// Bounds of an outline that a solid is made of.
const (
	fitTolerance = 0.05 // mm that a simplified corner may lie off
	fitCorners   = 600  // of all rings together
	fitRings     = 40
)

// Fitted is a drawing as a solid can take it: about its middle, with no more
// rings and corners than that takes, and how wide and tall it is in mm.
func (d Drawing) Fitted() (rings [][]plane.Point, wide, tall float64) {
	var all []plane.Point
	for _, ring := range d.Rings {
		all = append(all, ring...)
	}
	if len(all) == 0 {
		return nil, 0, 0
	}
	low, high := plane.Bounds(all)
	wide, tall = high[0]-low[0], high[1]-low[1]
	for tolerance := fitTolerance; ; tolerance *= 2 {
		rings = nil
		corners := 0
		for _, ring := range d.Rings[:min(fitRings, len(d.Rings))] {
			var points []plane.Point
			for _, p := range plane.Simplified(ring, tolerance) {
				points = append(points, plane.Point{p[0] - (low[0]+high[0])/2, p[1] - (low[1]+high[1])/2})
			}
			corners += len(points)
			rings = append(rings, points)
		}
		if corners <= fitCorners || tolerance > wide+tall {
			return rings, wide, tall
		}
	}
}
