// Package slit lays the cut by which a block that was poured in one piece is
// opened: the path of the blade round the block's outside, how deep the part
// lies behind it, how deep the first pass goes and where the cut stops so
// that the block stays hinged.
package slit

import (
	"math"

	"bathyform/core/pieces"
	"bathyform/core/plane"
)

// What a cut is laid by; common practice, no source.
const (
	jag       = 2.5  // mm to either side of the line
	jagPitch  = 14.0 // mm from tooth to tooth
	firstPass = 0.6  // of the least depth to the part: the register
	mostFirst = 15.0 // mm
	hinged    = 0.22 // of the way round, that stays uncut
	step      = 2.0  // mm between points of the path
)

// Mark is a place on the path: how far round the block, how high over its
// base, and how deep the part lies behind it; all mm.
type Mark struct{ Along, Up, Depth float64 }

// Guide is the path on the block's outside, developed from the start on,
// anticlockwise as seen from half A.
type Guide struct {
	Path     []Mark
	Round    float64   // mm, once round the block
	Height   float64   // mm, of the block along the draw
	Corners  []float64 // mm round, where the block has an edge
	First    float64   // mm deep, the first pass
	Nearest  float64   // mm to the part at the shallowest place that is cut
	Farthest float64   // mm, where the blade meets the part
	Hinge    float64   // mm round, from where on nothing is cut
	Start    plane.Point
	Short    bool // no longer than the part asks for
}

// Short is a cut that is no longer than it has to be: how long the part asks
// for, and the side of the block, seen from the part's middle, that it leaves by.
type Short struct {
	Long   float64 // mm along the block's outside
	Toward plane.Point
}

// Lay follows the parting round the walls of a block, convex and anticlockwise
// in the frame of the draw: round to a hinge, or as far as a short cut asks.
func Lay(p pieces.Plan, walls []plane.Point, jagged bool, short *Short) Guide {
	g := Guide{Height: p.Box.Max.Z - p.Box.Min.Z, Nearest: math.Inf(1), Short: short != nil}
	type place struct {
		x, y, nx, ny float64
		corner       bool
	}
	var all []place
	for i, a := range walls {
		b := walls[(i+1)%len(walls)]
		long := math.Hypot(b[0]-a[0], b[1]-a[1])
		if long < 1e-6 {
			continue
		}
		ux, uy := (b[0]-a[0])/long, (b[1]-a[1])/long
		n := max(1, int(math.Round(long/step)))
		for k := range n {
			s := long * float64(k) / float64(n)
			all = append(all, place{a[0] + s*ux, a[1] + s*uy, -uy, ux, k == 0 && len(walls) < 12})
		}
		g.Round += long
	}
	each := g.Round / float64(len(all))
	depth := make([]float64, len(all))
	for i, q := range all {
		depth[i] = p.Depth(q.x, q.y, q.nx, q.ny)
	}
	// the hinge lies where the part is farthest from the wall all along
	span := max(1, int(hinged*float64(len(all))))
	best, from := -1.0, 0
	for i := range all {
		least := math.Inf(1)
		for k := range span {
			least = min(least, depth[(i+k)%len(all)])
		}
		if math.IsInf(least, 1) {
			least = 1e6
		}
		// of equal places the one whose middle is farthest from the middle of the cut's part
		if least > best+1e-6 {
			best, from = least, i
		}
	}
	if short != nil { // the slit lies about the side that the part leaves by, and is never longer than to the hinge
		long := min(len(all)-span, max(1, int(math.Ceil(short.Long/each))))
		mid := plane.Point{(p.Box.Min.X + p.Box.Max.X) / 2, (p.Box.Min.Y + p.Box.Max.Y) / 2}
		faces, at := math.Inf(-1), 0
		for i, q := range all {
			x, y := q.x-mid[0], q.y-mid[1]
			if d := (x*short.Toward[0] + y*short.Toward[1]) / math.Hypot(x, y); d > faces {
				faces, at = d, i
			}
		}
		span = len(all) - long
		from = (at + (long+1)/2) % len(all)
	}
	start := (from + span) % len(all)
	g.Start = plane.Point{all[start].x, all[start].y}
	g.Hinge = each * float64(len(all)-span)
	for n := range len(all) {
		i := (start + n) % len(all)
		q := all[i]
		along := each * float64(n)
		if q.corner {
			g.Corners = append(g.Corners, along)
		}
		if n > len(all)-span {
			continue
		}
		up := p.Sheet(q.x, q.y) - p.Box.Min.Z
		if jagged {
			up += jag * tooth(along/jagPitch)
		}
		up = max(0.05*g.Height, min(0.95*g.Height, up))
		g.Path = append(g.Path, Mark{along, up, depth[i]})
		if !math.IsInf(depth[i], 1) {
			g.Nearest, g.Farthest = min(g.Nearest, depth[i]), max(g.Farthest, depth[i])
		}
	}
	if math.IsInf(g.Nearest, 1) {
		g.Nearest = 0
	}
	g.First = min(mostFirst, firstPass*g.Nearest)
	return g
}

// tooth is a saw of height one, 0 at whole numbers.
func tooth(x float64) float64 {
	x -= math.Floor(x)
	switch {
	case x < 0.25:
		return 4 * x
	case x < 0.75:
		return 2 - 4*x
	}
	return 4*x - 4
}
