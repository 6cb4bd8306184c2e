package sheet

import (
	"fmt"
	"math"
	"strings"

	"bathyform/core/plane"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// Area is rings filled by the even-odd rule.
type Area struct {
	Tone  tone.Tone
	Rings [][]plane.Point
}

// Drawing is a picture.
type Drawing struct {
	Name  string
	Low   plane.Point
	High  plane.Point
	Areas []Area
	Lines []Line
	Texts []Text
	Arrow string // what the arrow upwards says; empty for none
}

// Fit sets the drawing's bounds round everything but words, with a margin.
func (d *Drawing) Fit(margin float64) {
	low, high := plane.Point{math.Inf(1), math.Inf(1)}, plane.Point{math.Inf(-1), math.Inf(-1)}
	see := func(p plane.Point) {
		low = plane.Point{min(low[0], p[0]), min(low[1], p[1])}
		high = plane.Point{max(high[0], p[0]), max(high[1], p[1])}
	}
	for _, a := range d.Areas {
		for _, r := range a.Rings {
			for _, p := range r {
				see(p)
			}
		}
	}
	for _, l := range d.Lines {
		for _, p := range l.Points {
			see(p)
		}
	}
	if low[0] > high[0] {
		low, high = plane.Point{}, plane.Point{1, 1}
	}
	d.Low, d.High = plane.Point{low[0] - margin, low[1] - margin}, plane.Point{high[0] + margin, high[1] + margin}
}

// Turn lays a drawing on its side: what pointed up points left.
func (d *Drawing) Turn() {
	turn := func(r []plane.Point) []plane.Point {
		out := make([]plane.Point, len(r))
		for i, p := range r {
			out[i] = plane.Point{-p[1], p[0]}
		}
		return out
	}
	for i := range d.Areas {
		rings := make([][]plane.Point, len(d.Areas[i].Rings))
		for k, r := range d.Areas[i].Rings {
			rings[k] = turn(r)
		}
		d.Areas[i].Rings = rings
	}
	for i := range d.Lines {
		d.Lines[i].Points = turn(d.Lines[i].Points)
	}
	for i := range d.Texts {
		d.Texts[i].At = turn([]plane.Point{d.Texts[i].At})[0]
	}
}

// Path is the rings of an area as SVG path data, y downwards from the
// drawing's upper edge.
func (d *Drawing) Path(rings [][]plane.Point, closed bool) string {
	var b strings.Builder
	for _, r := range rings {
		for i, p := range r {
			step := "L"
			if i == 0 {
				step = "M"
			}
			fmt.Fprintf(&b, "%s%.2f %.2f", step, p[0]-d.Low[0], d.High[1]-p[1])
		}
		if closed {
			b.WriteString("Z")
		}
	}
	return b.String()
}

// View turns places of the mesh into the plane of a drawing.
type View struct{ Right, Up r3.Vec }

// On is where a place is seen.
func (v View) On(p r3.Vec) plane.Point { return plane.Point{r3.Dot(v.Right, p), r3.Dot(v.Up, p)} }

// Rings are loops of a section as seen.
func (v View) Rings(loops [][]r3.Vec) [][]plane.Point {
	var out [][]plane.Point
	for _, l := range loops {
		if len(l) < 3 {
			continue
		}
		r := make([]plane.Point, len(l))
		for i, p := range l {
			r[i] = v.On(p)
		}
		out = append(out, r)
	}
	return out
}

// Rectangle is a ring.
func Rectangle(low, high plane.Point) []plane.Point {
	return []plane.Point{low, {high[0], low[1]}, high, {low[0], high[1]}}
}
