package build

import (
	"fmt"
	"math"

	"bathyform/core/axis"
	"bathyform/core/box"
	"bathyform/core/plane"
	"bathyform/core/sheet"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// attitudes draws the section of the mould at each pour, the way up that it stands.
func (c Case) attitudes() []sheet.Drawing {
	d := c.Plan.Design
	all := c.Plan.Kind.Scenes(d.RubberUpA, d.RubberUpB, d.ResinUp)
	var out []sheet.Drawing
	for i, s := range all {
		d := sheet.Drawing{Name: fmt.Sprintf("%d. %s", i+1, s.Name), Arrow: s.Up.String()}
		turn, ok := c.turned(s.Up)
		if !ok {
			d.Arrow = s.Up.String() + ", across the picture"
		}
		c.sectionInto(&d, turn, s.Upper, s.Lower, s.Fill)
		d.Fit(3)
		out = append(out, d)
	}
	return out
}

// turned is how far the section, drawn with the draw upwards, is turned for a
// way up: as sine and cosine; false where it is seen from across.
func (c Case) turned(up axis.Axis) ([2]float64, bool) {
	p := c.View.On(up.Dir())
	if math.Hypot(p[0], p[1]) < 0.5 {
		return [2]float64{0, 1}, false
	}
	return [2]float64{p[0], p[1]}, true // what points along p is turned to point up
}

// sectionInto draws box, rubber and cavity in a section.
func (c Case) sectionInto(d *sheet.Drawing, turn [2]float64, upper, lower, fill tone.Tone) {
	spin := func(r []plane.Point) []plane.Point {
		out := make([]plane.Point, len(r))
		for i, p := range r {
			out[i] = plane.Point{turn[1]*p[0] - turn[0]*p[1], turn[0]*p[0] + turn[1]*p[1]}
		}
		return out
	}
	left, right := c.across()
	floor, top := c.Plan.Design.Draw.Span(c.Plan.Box.Bounds)
	const steps = 60
	var seam []plane.Point
	for i := range steps + 1 {
		x := left + (right-left)*float64(i)/steps
		at := c.Plan.Frame().In(r3.Add(c.middle(), r3.Scale(x-r3.Dot(c.View.Right, c.middle()), c.View.Right)))
		y := c.Plan.Parting.Height
		switch {
		case c.Plan.Kind.OnBoard:
			y = floor
		case c.Plan.Division != nil && !c.Plan.Kind.Peeled:
			y = c.Plan.Division.Sheet(at.X, at.Y)
		}
		seam = append(seam, plane.Point{x, max(floor, min(top, y))})
	}
	above := append(append([]plane.Point{}, seam...), plane.Point{right, top}, plane.Point{left, top})
	below := append(append([]plane.Point{}, seam...), plane.Point{right, floor}, plane.Point{left, floor})
	if c.Plan.Kind.OnBoard && lower != "" { // the board, under what stands on it
		below = sheet.Rectangle(plane.Point{left, floor - boardThick}, plane.Point{right, floor})
	}
	if c.Plan.Kind.Shelled {
		c.shellInto(d, spin, upper, fill)
		return
	}
	part := c.View.Rings(c.Section)
	var cavity [][]plane.Point
	for _, r := range part {
		cavity = append(cavity, spin(r))
	}
	for _, s := range []struct {
		tone tone.Tone
		ring []plane.Point
	}{{upper, above}, {lower, below}} {
		if s.tone != "" {
			d.Areas = append(d.Areas, sheet.Area{Tone: s.tone, Rings: [][]plane.Point{spin(s.ring)}})
		}
	}
	within := fill
	if within == "" {
		within = tone.Block
	}
	d.Areas = append(d.Areas, sheet.Area{Tone: within, Rings: cavity})
	d.Lines = append(d.Lines,
		sheet.Line{Tone: tone.Seam, Points: spin(seam)},
		sheet.Line{Tone: tone.Ink, Points: spin(sheet.Rectangle(plane.Point{left, floor}, plane.Point{right, top})), Closed: true})
	for _, r := range cavity {
		d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: r, Closed: true})
	}
}

// boardThick is how thick a board is drawn, mm.
const boardThick = 8.0

// shellThick is how thick a shell is drawn, mm. Common practice, no source.
const shellThick = 12.0

// shellInto draws a shell with its skin: clay first, then rubber in its place.
func (c Case) shellInto(d *sheet.Drawing, spin func([]plane.Point) []plane.Point, skin, fill tone.Tone) {
	var outer, inner [][]plane.Point
	var all []plane.Point
	for _, r := range c.View.Rings(c.Sleeve) {
		outer = append(outer, spin(r))
		all = append(all, spin(r)...)
	}
	for _, r := range c.View.Rings(c.Section) {
		inner = append(inner, spin(r))
	}
	if b, err := box.Of(box.Contour, box.Ask{Hull: plane.Hull(all), Beside: shellThick}); err == nil {
		d.Areas = append(d.Areas, sheet.Area{Tone: tone.Shell, Rings: [][]plane.Point{b.Ring}})
		d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: b.Ring, Closed: true})
	}
	d.Areas = append(d.Areas, sheet.Area{Tone: skin, Rings: outer}, sheet.Area{Tone: fill, Rings: inner})
	for _, r := range append(outer, inner...) {
		d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: r, Closed: true})
	}
}

// seen is the cavities along the draw with the holes through them.
func (c Case) seen() [][]plane.Point {
	out := c.Plan.Cavities.Outlines()
	if c.Plan.Division == nil {
		return out
	}
	shadow := c.Plan.Division.Shadow()
	whole := 0.0
	for _, r := range shadow { // outlines run one way round, holes the other
		if a := plane.Area(r); math.Abs(a) > math.Abs(whole) {
			whole = a
		}
	}
	for _, r := range shadow {
		if plane.Area(r)*whole < 0 {
			out = append(out, r)
		}
	}
	return out
}

func (c Case) middle() r3.Vec { return c.Plan.Middle() }

// across is the box in the section, from left to right.
func (c Case) across() (left, right float64) {
	left, right = math.Inf(1), math.Inf(-1)
	for _, p := range c.Plan.Across() {
		x := r3.Dot(c.View.Right, c.Plan.Frame().Out(r3.Vec{X: p[0], Y: p[1]}))
		left, right = min(left, x), max(right, x)
	}
	return left, right
}

// plan draws the mould seen along the draw: box, part, keys.
func (c Case) plan() sheet.Drawing {
	d := sheet.Drawing{Name: "Seen along the draw"}
	d.Areas = append(d.Areas, sheet.Area{Tone: tone.RubberB, Rings: [][]plane.Point{c.Plan.Across()}})
	seen := c.seen()
	d.Areas = append(d.Areas, sheet.Area{Tone: tone.Master, Rings: seen})
	if c.Plan.Division != nil && c.Plan.Kind.Keyed {
		for _, k := range c.Plan.Division.Keys.Keys {
			if k.Kind == "bevel" {
				continue
			}
			const n = 24
			var ring []plane.Point
			sin, cos := math.Sincos(k.Turn)
			for i := range n {
				s, co := math.Sincos(2 * math.Pi * float64(i) / n)
				x, y := k.Radius*co, k.Radius*s
				x += math.Copysign(k.Reach()-k.Radius, x)
				ring = append(ring, plane.Point{k.X + cos*x - sin*y, k.Y + sin*x + cos*y})
			}
			d.Areas = append(d.Areas, sheet.Area{Tone: tone.RubberA, Rings: [][]plane.Point{ring}})
			d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: ring, Closed: true})
		}
	}
	d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: c.Plan.Across(), Closed: true})
	for _, r := range seen {
		d.Lines = append(d.Lines, sheet.Line{Tone: tone.Ink, Points: r, Closed: true})
	}
	low, high := plane.Bounds(c.Plan.Across())
	for i := range c.Plan.Sides() {
		at, out := c.Plan.Frame().In(c.middle()), c.Plan.Frame().In(c.Plan.Division.Pieces[i].Draw)
		reach := 0.46 * min(high[0]-low[0], high[1]-low[1])
		d.Texts = append(
			d.Texts,
			sheet.Text{At: plane.Point{at.X + reach*out.X, at.Y + reach*out.Y}, Words: fmt.Sprint(i + 1), Centre: true},
		)
	}
	d.Fit(3)
	if d.High[1]-d.Low[1] > 1.2*(d.High[0]-d.Low[0]) { // lying, so that it fills the paper
		d.Turn()
		d.Fit(3)
	}
	return d
}
