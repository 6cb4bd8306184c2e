package build

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/drawing"
	"bathyform/core/kind"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/quantity"
	"bathyform/core/slit"
	"bathyform/core/squeeze"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sizes of what only some kinds have; common practice, no source.
const (
	landWidth = 8.0  // mm
	excess    = 0.1  // share of the shot that is squeezed out
	finWidth  = 12.0 // mm of tape
	closeGap  = 2.0  // mm, from which a squeeze mould closes slowly
	hollow    = 0.6  // g/mL, a print with little infill
	spare     = 50   // mm that a fin is cut longer
)

// extras adds what only this kind of mould has.
func (c Case) extras(b *Build) {
	add := func(name string, n derive.Number) { b.Extras = append(b.Extras, Extra{name, n}) }
	switch c.Kind {
	case kind.Cut, kind.Tape, kind.Stretch, kind.OpenFace:
		if c.Rubber != nil {
			v := derive.From("masters", quantity.Volume, c.Part/1000, "their meshes")
			add("Lift on the master, if it is a hollow print", derive.Of(quantity.Mass, max(0, c.Rubber.Density-hollow)*c.Part/1000, "(density of the rubber − that of a hollow print) × volume",
				derive.From("density of the rubber (g/mL)", quantity.Number, c.Rubber.Density, "data sheet of "+c.Rubber.Name), derive.From("of a hollow print (g/mL)", quantity.Number, hollow, "from memory; weigh yours"), v))
		}
	}
	line := derive.From("parting line", quantity.Length, c.Plan.Line, "the division of the rubber")
	switch c.Kind {
	case kind.Cut, kind.Tape:
		g := slit.Lay(c.Plan, c.Box.Ring, !c.House.Straight)
		b.Cut = &g
		add("First pass of the blade", derive.Of(quantity.Length, g.First, "0.6 × nearest depth to the part, 15 mm at most", derive.From("nearest depth", quantity.Length, g.Nearest, "from the wall to the part along the parting")))
		add("Part at its nearest", derive.Of(quantity.Length, g.Nearest, "least way from the wall to the part along the parting", derive.From("once round the block", quantity.Length, g.Round, "the box")))
		if c.Kind == kind.Tape {
			add("Tape for the fins", derive.Of(quantity.Length, c.Plan.Line+spare, "parting line + something to hold", line, derive.From("to hold", quantity.Length, spare, "common practice, no source")).
				Noted(fmt.Sprintf("%.0f mm wide; it stands square on the part along the line.", finWidth)))
		}
	case kind.Squeeze:
		c.squeezed(add, line)
	case kind.Shell:
		add("Skin of rubber", derive.Of(quantity.Length, c.Skin, "thickness of the clay blanket", derive.From("blanket", quantity.Length, c.Skin, "this design")))
		add("Undercut that the clay bridges", derive.Of(quantity.Volume, c.Blanket.Bridged/1000, "columns of the lattice between two stretches of skin", derive.From("cell", quantity.Length, c.Blanket.Cell, "the lattice")))
		add("Outside of the skin, for the shell", derive.Of(quantity.Area, c.Blanket.Area/100, "surface that the shell is built on"))
		add("Hours to pour a worn skin again", derive.Of(quantity.Time, repourHours, "work without the cure", derive.From("work", quantity.Time, repourHours, "common practice, no source")))
		if at := c.even(b); at.Value > 0 {
			add("Pays from so many castings", at)
		}
	}
}

// squeezed is the land, the channel and the weight of a squeeze mould.
func (c Case) squeezed(add func(string, derive.Number), line derive.Input) {
	add("Land", derive.Of(quantity.Length, landWidth, "width of rubber round the cavity that closes", derive.From("width", quantity.Length, landWidth, "narrow lands beat heavy weights; common practice, no source")))
	excessVolume := excess * c.Shot
	bore := math.Sqrt(4*excessVolume*1000/(math.Pi*max(1, c.Plan.Line))) * math.Sqrt2 // half round
	add("Blind channel, half round", derive.Of(quantity.Length, bore, "bore of a half-round channel along the land that holds the excess",
		derive.From("excess", quantity.Volume, excessVolume, "a tenth of the shot; common practice, no source"), line))
	density := resinDensity
	f := squeeze.Flow{Viscosity: 1, PotLife: 600, Times: 10}
	source := "no resin is chosen: 1 Pa s, 10 min"
	if c.Resin != nil {
		density = c.Resin.Density
		if c.Resin.Traits.Viscosity > 0 && c.Resin.Traits.PotLife > 0 {
			f, source = squeeze.Flow{Viscosity: c.Resin.Traits.Viscosity, PotLife: c.Resin.Traits.PotLife * 60, Times: 10}, "data sheet of "+c.Resin.Name
		}
	}
	lift := squeeze.Uplift(density*1000, c.Plan.Ceiling()*1e-9)
	halfKg := 0.0
	if c.Rubber != nil {
		halfKg = c.half(2).Volume * 1e-6 * c.Rubber.Density
	}
	weight := squeeze.Weight(lift, halfKg)
	up := derive.From("lift of the resin (N)", quantity.Number, lift, "resin that would stand over the upper half's ceiling, up to its highest point")
	add("Weight to lay on", derive.Of(quantity.Mass, weight*1000, "1.5 × lift / g − upper half, never below nothing", up, derive.From("upper half", quantity.Mass, halfKg*1000, "half A")))
	force := (weight + halfKg) * squeeze.Gravity
	land := squeeze.Land{Length: c.Plan.Line / 1000, Width: landWidth / 1000}
	add("Flash at gel, at the least", derive.Of(quantity.Length, max(0.02, 1000*land.Flash(force-lift, closeGap/1000, f)), "squeeze film of a narrow strip: 1 / √(1/h² + 2 F t / (η L b³)), 0.02 mm at the least",
		derive.From("force that closes (N)", quantity.Number, max(0, force-lift), "weight + upper half − lift"), derive.From("land", quantity.Length, landWidth, "above"), line,
		derive.From("viscosity (Pa s)", quantity.Number, f.Viscosity, source)).Noted("A narrow land presses it thinner than a heavy weight. Stefan 1874, Reynolds 1886, from memory."))
}

// even is from how many castings on a shell costs less than block after block.
func (c Case) even(b *Build) derive.Number {
	const litre = 1000 * 1000
	block := (c.half(1).Volume + c.half(2).Volume) / litre
	skin := c.Blanket.Volume / litre
	n := float64(max(1, c.Cavities))
	life := max(1, math.Round(c.Life*n))
	eachBlock, eachSkin := blockHours+kind.RubberHours*block, repourHours+kind.RubberHours*skin
	at := Even(0, eachBlock, shellOnce, eachSkin, int(life))
	return derive.Of(quantity.Number, float64(at), "first number of castings from which shell + skins never cost more than blocks",
		derive.From("a block (h)", quantity.Number, eachBlock, fmt.Sprintf("%.1f h of work and %.2f L of rubber", blockHours, block)),
		derive.From("a skin (h)", quantity.Number, eachSkin, fmt.Sprintf("%.1f h of work and %.2f L of rubber", repourHours, skin)),
		derive.From("the shell, once (h)", quantity.Number, shellOnce, "common practice, no source"),
		derive.From("castings of a mould", quantity.Number, life, c.LifeFrom))
}

const (
	blockHours = 2.0 // of work for a block; common practice, no source
	shellOnce  = 6.0
)

// Even is the first quantity from which a method with a higher start never
// costs more than another again: start + each mould, one for every life
// castings. 0 where it never does.
func Even(startA, eachA, startB, eachB float64, life int) int {
	if eachB >= eachA || life < 1 {
		return 0
	}
	moulds := max(1, math.Ceil((startB-startA)/(eachA-eachB)-1e-9))
	return (int(moulds)-1)*life + 1
}

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
	d.Areas = append(d.Areas, drawing.Area{Tone: drawing.Master, Rings: c.Plan.Shadow()})
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
	for _, r := range c.Plan.Shadow() {
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
