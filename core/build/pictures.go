package build

import (
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/drawing"
	"bathyform/core/kind"
	"bathyform/core/outline"
	"bathyform/core/part"

	"gonum.org/v1/gonum/spatial/r3"
)

// attitudes draws the section of the mould at each pour, the way up that it stands.
func (c Case) attitudes() []drawing.Drawing {
	a := c.Ups
	type scene struct {
		name  string
		up    part.Axis
		upper drawing.Tone // on half A's side of the parting
		lower drawing.Tone
		fill  drawing.Tone
	}
	var all []scene
	switch c.Kind {
	case kind.Cut, kind.Tape, kind.Stretch:
		all = []scene{{"Rubber, in one pour", a.RubberA, drawing.RubberA, drawing.RubberA, drawing.Master}, {"Cut open, part out", a.RubberA, drawing.RubberA, drawing.RubberB, ""}, {"Resin, and cure", a.Resin, drawing.RubberA, drawing.RubberB, drawing.Resin}}
	case kind.OpenFace:
		all = []scene{{"Rubber over the part on its board", a.RubberA, drawing.RubberA, drawing.Board, drawing.Master}, {"Turned over, resin into the open face", a.RubberA.Opposite(), drawing.RubberA, "", drawing.Resin}}
	case kind.Shell:
		all = []scene{{"Clay blanket, shell over it", a.RubberA, drawing.Clay, drawing.Clay, drawing.Master}, {"Rubber in the clay's place", a.RubberA, drawing.RubberA, drawing.RubberA, drawing.Master}, {"Resin, and cure", a.Resin, drawing.RubberA, drawing.RubberB, drawing.Resin}}
	case kind.Board:
		all = []scene{{"First half on the board", a.RubberA, drawing.RubberA, drawing.Board, drawing.Master}, {"Turned, second half", a.RubberB, drawing.RubberA, drawing.RubberB, drawing.Master}, {"Resin, and cure", a.Resin, drawing.RubberA, drawing.RubberB, drawing.Resin}}
	default:
		all = []scene{{"First half over the clay bed", a.RubberA, drawing.RubberA, drawing.Clay, drawing.Master}, {"Turned, second half", a.RubberB, drawing.RubberA, drawing.RubberB, drawing.Master}, {"Resin, and cure", a.Resin, drawing.RubberA, drawing.RubberB, drawing.Resin}}
	}
	var out []drawing.Drawing
	for i, s := range all {
		d := drawing.Drawing{Name: fmt.Sprintf("%d. %s", i+1, s.name), Arrow: string(s.up)}
		turn, ok := c.turned(s.up)
		if !ok {
			d.Arrow = string(s.up) + ", across the picture"
		}
		c.sectionInto(&d, turn, s.upper, s.lower, s.fill)
		d.Fit(3)
		out = append(out, d)
	}
	return out
}

// turned is how far the section, drawn with the draw upwards, is turned for a
// way up: as sine and cosine; false where it is seen from across.
func (c Case) turned(up part.Axis) ([2]float64, bool) {
	dir, err := up.Dir()
	if err != nil {
		return [2]float64{0, 1}, false
	}
	p := c.View.On(dir)
	if math.Hypot(p[0], p[1]) < 0.5 {
		return [2]float64{0, 1}, false
	}
	return [2]float64{p[0], p[1]}, true // what points along p is turned to point up
}

// sectionInto draws box, rubber and cavity in a section.
func (c Case) sectionInto(d *drawing.Drawing, turn [2]float64, upper, lower, fill drawing.Tone) {
	spin := func(r []outline.Point) []outline.Point {
		out := make([]outline.Point, len(r))
		for i, p := range r {
			out[i] = outline.Point{turn[1]*p[0] - turn[0]*p[1], turn[0]*p[0] + turn[1]*p[1]}
		}
		return out
	}
	left, right := c.across()
	floor, top := c.Plan.Box.Min.Z, c.Plan.Box.Max.Z
	const steps = 60
	var seam []outline.Point
	for i := range steps + 1 {
		x := left + (right-left)*float64(i)/steps
		at := c.Plan.Frame.In(r3.Add(c.middle(), r3.Scale(x-r3.Dot(c.View.Right, c.middle()), c.View.Right)))
		y := c.Plan.Sheet(at.X, at.Y)
		if c.Kind == kind.OpenFace {
			y = floor + c.under()
		}
		seam = append(seam, outline.Point{x, max(floor, min(top, y))})
	}
	above := append(append([]outline.Point{}, seam...), outline.Point{right, top}, outline.Point{left, top})
	below := append(append([]outline.Point{}, seam...), outline.Point{right, floor}, outline.Point{left, floor})
	if c.Kind == kind.Shell {
		c.shellInto(d, spin, upper, fill)
		return
	}
	part := c.View.Rings(c.Section)
	var cavity [][]outline.Point
	for _, r := range part {
		cavity = append(cavity, spin(r))
	}
	for _, s := range []struct {
		tone drawing.Tone
		ring []outline.Point
	}{{upper, above}, {lower, below}} {
		if s.tone != "" {
			d.Areas = append(d.Areas, drawing.Area{Tone: s.tone, Rings: [][]outline.Point{spin(s.ring)}})
		}
	}
	tone := fill
	if tone == "" {
		tone = drawing.Block
	}
	d.Areas = append(d.Areas, drawing.Area{Tone: tone, Rings: cavity})
	d.Lines = append(d.Lines,
		drawing.Line{Tone: drawing.Seam, Points: spin(seam)},
		drawing.Line{Tone: drawing.Ink, Points: spin(drawing.Rectangle(outline.Point{left, floor}, outline.Point{right, top})), Closed: true})
	for _, r := range cavity {
		d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: r, Closed: true})
	}
}

// shellThick is how thick a shell is drawn, mm. Common practice, no source.
const shellThick = 12.0

// shellInto draws a shell with its skin: clay first, then rubber in its place.
func (c Case) shellInto(d *drawing.Drawing, spin func([]outline.Point) []outline.Point, skin, fill drawing.Tone) {
	var outer, inner [][]outline.Point
	var all []outline.Point
	for _, r := range c.View.Rings(c.Sleeve) {
		outer = append(outer, spin(r))
		all = append(all, spin(r)...)
	}
	for _, r := range c.View.Rings(c.Section) {
		inner = append(inner, spin(r))
	}
	if b, err := box.Of(box.Contour, box.Ask{Hull: outline.Hull(all), Beside: shellThick}); err == nil {
		d.Areas = append(d.Areas, drawing.Area{Tone: drawing.Shell, Rings: [][]outline.Point{b.Ring}})
		d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: b.Ring, Closed: true})
	}
	d.Areas = append(d.Areas, drawing.Area{Tone: skin, Rings: outer}, drawing.Area{Tone: fill, Rings: inner})
	for _, r := range append(outer, inner...) {
		d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: r, Closed: true})
	}
}

// seen is the cavities along the draw with the holes through them.
func (c Case) seen() [][]outline.Point {
	if len(c.Seen) == 0 {
		return c.Plan.Shadow()
	}
	out := append([][]outline.Point{}, c.Seen...)
	shadow := c.Plan.Shadow()
	whole := 0.0
	for _, r := range shadow { // outlines run one way round, holes the other
		if a := outline.Area(r); math.Abs(a) > math.Abs(whole) {
			whole = a
		}
	}
	for _, r := range shadow {
		if outline.Area(r)*whole < 0 {
			out = append(out, r)
		}
	}
	return out
}

func (c Case) middle() r3.Vec { return r3.Scale(0.5, r3.Add(c.Body.Min, c.Body.Max)) }

// across is the box in the section, from left to right.
func (c Case) across() (left, right float64) {
	left, right = math.Inf(1), math.Inf(-1)
	for _, p := range c.Box.Ring {
		x := r3.Dot(c.View.Right, c.Plan.Frame.Out(r3.Vec{X: p[0], Y: p[1]}))
		left, right = min(left, x), max(right, x)
	}
	return left, right
}

// plan draws the mould seen along the draw: box, part, keys.
func (c Case) plan() drawing.Drawing {
	d := drawing.Drawing{Name: "Seen along the draw"}
	d.Areas = append(d.Areas, drawing.Area{Tone: drawing.RubberB, Rings: [][]outline.Point{c.Box.Ring}})
	d.Areas = append(d.Areas, drawing.Area{Tone: drawing.Master, Rings: c.seen()})
	if c.keyed() {
		for _, k := range c.Plan.Keys.Keys {
			if k.Kind == "bevel" {
				continue
			}
			const n = 24
			var ring []outline.Point
			sin, cos := math.Sincos(k.Turn)
			for i := range n {
				s, co := math.Sincos(2 * math.Pi * float64(i) / n)
				x, y := k.Radius*co, k.Radius*s
				x += math.Copysign(k.Reach()-k.Radius, x)
				ring = append(ring, outline.Point{k.X + cos*x - sin*y, k.Y + sin*x + cos*y})
			}
			d.Areas = append(d.Areas, drawing.Area{Tone: drawing.RubberA, Rings: [][]outline.Point{ring}})
			d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: ring, Closed: true})
		}
	}
	d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: c.Box.Ring, Closed: true})
	for _, r := range c.seen() {
		d.Lines = append(d.Lines, drawing.Line{Tone: drawing.Ink, Points: r, Closed: true})
	}
	for i, p := range c.Plan.Pieces[:len(c.Plan.Pieces)-2] {
		at := c.Plan.Frame.In(c.middle())
		out := c.Plan.Frame.In(p.Draw)
		reach := 0.46 * min(c.Box.Wide, c.Box.Deep)
		d.Words = append(d.Words, drawing.Word{At: outline.Point{at.X + reach*out.X, at.Y + reach*out.Y}, Words: fmt.Sprint(i + 1), Centre: true})
	}
	d.Fit(3)
	if d.High[1]-d.Low[1] > 1.2*(d.High[0]-d.Low[0]) { // lying, so that it fills the paper
		d.Turn()
		d.Fit(3)
	}
	return d
}
