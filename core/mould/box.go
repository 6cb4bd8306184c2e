package mould

import (
	"cmp"
	"fmt"
	"math"

	"bathyform/core/axis"
	"bathyform/core/box"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Box is the box round all cavities, as it stands for the first rubber pour.
type Box struct {
	box.Box              // seen from above, in Frame
	Stands    axis.Axis  // up for the first pour
	Frame     grid.Frame // of the draw where the box stands along it, else of Stands
	Low, High float64    // its floor and its top along Frame, mm
	Bounds    r3.Box     // in mesh coordinates

	Height derive.Number // inside, mm
	Volume derive.Number // inside, mL: as the caster measured it, else as reckoned
	Sized  derive.Number // inside, mL, by its sides
	Saved  derive.Number // mL of rubber against a rectangle
	Strip  derive.Number // length of a bent wall with its lap, mm; that of all boards for a rectangle
	Panels []Panel

	Freeboard float64 // mm
	Under     float64 // rubber under the parts as the box stands, mm
}

// Panel is a board to cut for the box.
type Panel struct {
	Name  string
	Count int
	A, B  derive.Number // sides, mm
}

// lap is how far the end of a bent wall goes over its beginning, mm. Common
// practice, no source.
const lap = 25.0

const (
	clearances = "this mould's clearances"
	besides    = "room for the sprue, and rubber round it"
)

// held adds what a box must hold besides to what is asked of its form, and
// says how far it reaches under and over the parts as the box stands. A centred
// box stays round the parts' middle.
func held(
	ask *box.Ask,
	form box.Form,
	frame grid.Frame,
	stood Outline,
	holds []r3.Box,
	head, centred bool,
) (under, over float64) {
	low, high := plane.Bounds(stood.Hull)
	square := form == box.Rectangle || form == box.Own
	var middle plane.Point
	if centred {
		middle[0], middle[1], _ = plane.Circle(stood.Hull)
	}
	for _, h := range holds {
		b := spanned(frame.In(h.Min), frame.In(h.Max))
		down, up := stood.Low-b.Min.Z, b.Max.Z-stood.High
		if head {
			down, up = up, down
		}
		under, over = max(under, down), max(over, up)
		var beyond []plane.Point
		if square {
			beyond = corners(b, low, high, ask.Beside)
		} else {
			beyond = rounded(b, ask.Beside)
		}
		if len(beyond) == 0 {
			continue
		}
		if centred { // side pieces all round stay alike
			for _, p := range beyond[:len(beyond):len(beyond)] {
				beyond = append(beyond, plane.Point{2*middle[0] - p[0], 2*middle[1] - p[1]})
			}
		}
		ask.Hull = plane.Hull(append(append([]plane.Point(nil), ask.Hull...), beyond...))
		if ask.Rings != nil {
			ask.Rings = append(ask.Rings, plane.Hull(fattened(beyond)))
		}
	}
	return under, over
}

// corners are those of a rectangle that lie beyond what a square box has anyway, a
// distance further in.
func corners(b r3.Box, low, high plane.Point, beside float64) (out []plane.Point) {
	const eps = 1e-9
	for _, x := range []float64{b.Min.X, b.Max.X} {
		for _, y := range []float64{b.Min.Y, b.Max.Y} {
			off := max(low[0]-x, x-high[0], low[1]-y, y-high[1])
			if off > beside+eps {
				out = append(out, plane.Point{inward(x, b.Min.X, b.Max.X, beside), inward(y, b.Min.Y, b.Max.Y, beside)})
			}
		}
	}
	return out
}

// rounded are places round which a bent wall that keeps a distance holds what lies
// in a rectangle, which is round at its ends as a channel is.
func rounded(b r3.Box, beside float64) (out []plane.Point) {
	const sides = 8
	x, y := (b.Min.X+b.Max.X)/2, (b.Min.Y+b.Max.Y)/2
	wide, deep := (b.Max.X-b.Min.X)/2, (b.Max.Y-b.Min.Y)/2
	r := min(wide, deep)
	for _, at := range [4]plane.Point{{wide - r, deep - r}, {r - wide, deep - r}, {wide - r, r - deep}, {r - wide, r - deep}} {
		for k := range sides {
			sin, cos := math.Sincos(2 * math.Pi * float64(k) / sides)
			over := max(0, r-beside) / math.Cos(math.Pi/sides)
			out = append(out, plane.Point{x + at[0] + over*cos, y + at[1] + over*sin})
		}
	}
	return out
}

// fattened is points with some room round each, since a wall follows what has
// a width.
func fattened(points []plane.Point) (out []plane.Point) {
	const by = 0.5
	for _, p := range points {
		out = append(out, plane.Point{p[0] - by, p[1] - by}, plane.Point{p[0] + by, p[1] - by}, plane.Point{p[0] + by, p[1] + by},
			plane.Point{p[0] - by, p[1] + by})
	}
	return out
}

// inward is an end of a stretch, a distance further in; its middle at most.
func inward(end, low, high, by float64) float64 {
	middle := (low + high) / 2
	if end < middle {
		return min(end+by, middle)
	}
	return max(end-by, middle)
}

// boxFor lays the box round what stands in it.
func boxFor(d design.Design, k *kinds.Kind, frame grid.Frame, stood Outline, holds []r3.Box, h practice.House) (Box, error) {
	form := box.Form(cmp.Or(d.Box.Form, string(box.Rectangle)))
	out := Box{Stands: d.RubberUpA, Frame: frame, Freeboard: h.Freeboard}
	ask := box.Ask{Hull: stood.Hull, Rings: stood.Rings, Beside: d.Clearance.Beside, Wide: d.Box.Wide, Deep: d.Box.Deep}
	head := d.RubberUpA.Dir() != unit(frame.Up) // the frame is the draw's, and the box stands on its head in it
	under, over := held(&ask, form, frame, stood, holds, head, form == box.Round && k.Sided)
	var err error
	if out.Box, err = box.Of(form, ask); err != nil {
		return out, err
	}
	plain := box.Ask{Hull: stood.Hull, Beside: d.Clearance.Beside}
	held(&plain, box.Rectangle, frame, stood, holds, head, false)
	rect, err := box.Of(box.Rectangle, plain)
	if err != nil {
		return out, err
	}
	below, above := d.Clearance.Below, d.Clearance.Above
	underWhy, overWhy := clearances, clearances
	switch {
	case k.OnBoard:
		below, underWhy = 0, "the part stands on its board"
	case under > below:
		below, underWhy = under, besides
	}
	if over > above {
		above, overWhy = over, besides
	}
	out.Under = below
	gap := func(name string, v float64, why string) derive.Input {
		return derive.From(name, quantity.Length, v, why)
	}
	tall := stood.High - stood.Low
	out.Height = derive.Of(
		quantity.Length,
		tall+below+above,
		"parts, as they stand + below + above",
		derive.From(
			"parts, as they stand",
			quantity.Length,
			tall,
			"the master",
		),
		gap("below", below, underWhy),
		gap("above", above, overWhy),
	)
	out.Low, out.High = stood.Low-below, stood.High+above
	if head {
		out.Low, out.High = stood.Low-above, stood.High+below
	}
	formula := map[box.Form]string{box.Rectangle: "length × width", box.Own: "length × width of the shop's box",
		box.Round: "π × radius²", box.Sleeve: "π × radius² + 2 × radius × straight",
		box.Follow: "inside of the wall", box.Contour: "A + P × beside + π × beside² (Steiner)"}[form]
	area := derive.Of(quantity.Area, out.Area/100, formula, shaped(out.Box, ask)...)
	out.Sized = derive.Of(
		quantity.Volume,
		out.Area*out.Height.Value/1000,
		"box seen from above × height",
		area.As("box seen from above"),
		out.Height.As("height"),
	)
	out.Volume = out.Sized
	out.Saved = derive.Of(
		quantity.Volume,
		(rect.Area-out.Area)*out.Height.Value/1000,
		"(rectangle − this form) × height",
		derive.From(
			"rectangle",
			quantity.Area,
			rect.Area/100,
			"the same clearance all round",
		),
		area.As("this form"),
		out.Height.As("height"),
	)
	out.panels(h)
	low, high := plane.Bounds(out.Ring)
	out.Bounds = boundsOf(
		frame,
		r3.Box{Min: r3.Vec{X: low[0], Y: low[1], Z: out.Low}, Max: r3.Vec{X: high[0], Y: high[1], Z: out.High}},
	)
	return out, nil
}

// shaped are the inputs of a form's area.
func shaped(b box.Box, ask box.Ask) []derive.Input {
	length := func(name string, v float64, source string) derive.Input {
		return derive.From(name, quantity.Length, v, source)
	}
	beside := length("beside", ask.Beside, clearances)
	const seen = "the parts seen from above, and the clearance beside"
	switch b.Form {
	case box.Round:
		return []derive.Input{length("radius", b.Wide/2, "the smallest circle round them, and the clearance beside"), beside}
	case box.Sleeve:
		r := min(b.Wide, b.Deep) / 2
		return []derive.Input{length("radius", r, seen), length("straight", max(b.Wide, b.Deep)-2*r, seen), beside}
	case box.Contour:
		around := 0.0
		for i, p := range ask.Hull {
			q := ask.Hull[(i+1)%len(ask.Hull)]
			around += math.Hypot(q[0]-p[0], q[1]-p[1])
		}
		return []derive.Input{
			derive.From("A", quantity.Area, math.Abs(plane.Area(ask.Hull))/100, "hull of the parts seen from above"),
			length("P", around, "once round that hull"),
			beside,
		}
	case box.Follow:
		return []derive.Input{derive.From("inside of the wall", quantity.Area, b.Area/100, "the parts' true outlines, moved out "+
			"by the clearance; "+
			fmt.Sprintf("hollows under %.0f mm of radius bridged", box.Hollow)), beside}
	case box.Own:
		return []derive.Input{length("length", b.Wide, "the shop's box"), length("width", b.Deep, "the shop's box")}
	}
	return []derive.Input{length("length", b.Wide, seen), length("width", b.Deep, seen), beside}
}

// panels are the boards, or the strip, that the box is made of.
func (b *Box) panels(h practice.House) {
	length := func(v float64, formula string, in ...derive.Input) derive.Number {
		return derive.Of(quantity.Length, v, formula, in...)
	}
	wall := length(
		b.Height.Value+h.Freeboard,
		"height + freeboard",
		b.Height.As("height"),
		derive.From("freeboard", quantity.Length, h.Freeboard, "House practice"),
	)
	inside := derive.From("once round, inside", quantity.Length, b.Wall, "the form")
	switch b.Form {
	case box.Rectangle, box.Own:
		b.Strip = length(b.Wall, "once round, inside", inside)
		if b.Form == box.Own {
			return
		}
		board := derive.From("board", quantity.Length, h.PanelThick, "House practice")
		a, c := length(max(b.Wide, b.Deep), "inside, the longer way"), length(min(b.Wide, b.Deep), "inside, the shorter way")
		b.Panels = []Panel{
			{"long walls", 2, a, wall},
			{"end walls, outside", 2, length(c.Value+2*h.PanelThick, "inside + 2 × board", c.As("inside"), board), wall},
			{
				"base",
				1,
				length(a.Value+2*h.PanelThick, "inside + 2 × board", a.As("inside"), board),
				length(c.Value+2*h.PanelThick, "inside + 2 × board", c.As("inside"), board),
			},
		}
	default:
		b.Strip = length(
			b.Wall+lap,
			"once round, inside + lap",
			inside,
			derive.From("lap", quantity.Length, lap, "common practice, no source"),
		)
		glue := derive.From("room to glue", quantity.Length, lap, "common practice, no source")
		b.Panels = []Panel{
			{"wall, bent", 1, b.Strip, wall},
			{
				"base",
				1,
				length(
					b.Wide+2*lap,
					"widest + 2 × room to glue",
					derive.From("widest", quantity.Length, b.Wide, "the form"),
					glue,
				),
				length(
					b.Deep+2*lap,
					"deepest + 2 × room to glue",
					derive.From("deepest", quantity.Length, b.Deep, "the form"),
					glue,
				),
			},
		}
	}
}

// room is the box in the frame of the draw.
func (b Box) room(draw grid.Frame) pieces.Room {
	out := pieces.Room{Volume: b.Sized.Value * 1000}
	a, c := draw.In(b.Bounds.Min), draw.In(b.Bounds.Max)
	out.Box = r3.Box{
		Min: r3.Vec{X: min(a.X, c.X), Y: min(a.Y, c.Y), Z: min(a.Z, c.Z)},
		Max: r3.Vec{X: max(a.X, c.X), Y: max(a.Y, c.Y), Z: max(a.Z, c.Z)},
	}
	if b.Form == box.Rectangle || b.Form == box.Own {
		return out
	}
	if b.Form == box.Follow {
		out.Ring, out.Wide, out.Deep = b.Ring, draw.In(b.Frame.Out(r3.Vec{X: 1})), draw.In(b.Frame.Out(r3.Vec{Y: 1}))
		return out
	}
	for _, w := range pieces.Upright(b.Ring) {
		out.Walls = append(out.Walls, pieces.Wall{Out: draw.In(b.Frame.Out(w.Out)), Reach: w.Reach})
	}
	return out
}

// Block is the inside of the box as a closed solid, mesh coordinates.
func (b Box) Block() *mesh.Mesh {
	m := &mesh.Mesh{}
	n := int32(len(b.Ring))
	for _, z := range []float64{b.Low, b.High} {
		for _, p := range b.Ring {
			m.Vertices = append(m.Vertices, b.Frame.Out(r3.Vec{X: p[0], Y: p[1], Z: z}))
		}
	}
	for i := range n {
		j := (i + 1) % n
		m.Triangles = append(m.Triangles, [3]int32{i, j, n + j}, [3]int32{i, n + j, n + i})
	}
	for _, t := range plane.Triangles(b.Ring) {
		m.Triangles = append(m.Triangles, [3]int32{t[0], t[2], t[1]}, [3]int32{n + t[0], n + t[1], n + t[2]})
	}
	return m
}

// Depth is the box along a way up, mm.
func (b Box) Depth(up axis.Axis) float64 {
	low, high := up.Span(b.Bounds)
	return high - low
}

// Footprint is the circle that the box takes as it stands some way up, and
// its height, mm.
func (b Box) Footprint(up axis.Axis) (across, tall float64) {
	size := r3.Sub(b.Bounds.Max, b.Bounds.Min)
	tall = b.Depth(up)
	if up.Along(b.Stands) && b.Form == box.Round {
		return b.Wide, tall
	}
	return math.Sqrt(max(0, r3.Norm2(size)-tall*tall)), tall
}

// Section is the area of the box across a way up, where it is the same at
// every height: mm², 0 for a box with bent walls that lies on its side.
func (b Box) Section(up axis.Axis) float64 {
	if up.Along(b.Stands) || len(b.Bends) == 0 {
		return b.Sized.Value * 1000 / b.Depth(up)
	}
	return 0
}

// boundsOf is a box of a frame in mesh coordinates.
func boundsOf(f grid.Frame, b r3.Box) r3.Box { return spanned(f.Out(b.Min), f.Out(b.Max)) }

// spanned is the box between two of its corners.
func spanned(p, q r3.Vec) r3.Box {
	return r3.Box{
		Min: r3.Vec{X: min(p.X, q.X), Y: min(p.Y, q.Y), Z: min(p.Z, q.Z)},
		Max: r3.Vec{X: max(p.X, q.X), Y: max(p.Y, q.Y), Z: max(p.Z, q.Z)},
	}
}

// unit is an axis of a frame without the dust of its rounding.
func unit(v r3.Vec) r3.Vec {
	a, _ := axis.Nearest(v)
	return a.Dir()
}
