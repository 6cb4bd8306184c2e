package mould

import (
	"math"

	"bathyform/core/plane"
)

// InPlan is a mould seen along its draw, in the places of a gang's layout: the
// block, and the rods and wires in it.
type InPlan struct {
	Low, High plane.Point // of the block
	Ways      []Way
}

// Way is a rod or a wire seen along the draw.
type Way struct {
	Name      string
	Wide, Rim float64 // mm at its two ends
	Points    []plane.Point
}

// InPlan is the mould as it is set out.
func (p Plan) InPlan() InPlan {
	frame, at := p.Frame(), p.Cavities.Shape.At
	a, b := frame.In(p.Box.Bounds.Min), frame.In(p.Box.Bounds.Max)
	out := InPlan{
		Low:  plane.Point{min(a.X, b.X) - at[0], min(a.Y, b.Y) - at[1]},
		High: plane.Point{max(a.X, b.X) - at[0], max(a.Y, b.Y) - at[1]},
	}
	for _, r := range p.Rods {
		w := Way{Name: r.Name, Wide: r.Bore.Wide, Rim: r.Bore.Wide}
		if r.Bore.Rim > 0 {
			w.Rim = r.Bore.Rim
		}
		for _, v := range r.Bore.Path {
			q := frame.In(v)
			w.Points = append(w.Points, plane.Point{q.X - at[0], q.Y - at[1]})
		}
		out.Ways = append(out.Ways, w)
	}
	return out
}

// round is so many sides of a circle.
const roundSides = 24

// Edges are the outlines of its runs, of its round end where one stands along the
// draw.
func (w Way) Edges() (out [][]plane.Point) {
	for i := 1; i < len(w.Points); i++ {
		a, b := w.Points[i-1], w.Points[i]
		dx, dy := b[0]-a[0], b[1]-a[1]
		long := math.Hypot(dx, dy)
		if long < 1e-6 {
			var ring []plane.Point
			for k := range roundSides {
				sin, cos := math.Sincos(2 * math.Pi * float64(k) / roundSides)
				r := max(w.Wide, w.Rim) / 2
				ring = append(ring, plane.Point{a[0] + r*cos, a[1] + r*sin})
			}
			out = append(out, ring)
			continue
		}
		x, y := -dy/long/2, dx/long/2
		out = append(out, []plane.Point{{a[0] + x*w.Wide, a[1] + y*w.Wide}, {b[0] + x*w.Rim, b[1] + y*w.Rim},
			{b[0] - x*w.Rim, b[1] - y*w.Rim}, {a[0] - x*w.Wide, a[1] - y*w.Wide}})
	}
	return out
}
