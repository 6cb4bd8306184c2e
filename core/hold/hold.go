// Package hold tells how a master is held while rubber is poured all round
// it: on pins or feet, from sticks, wires or a bar. Every support leaves a
// hole in the rubber, so the rods of sprue and vents come first, and pins are
// added only where the master would topple or swing without them. What is
// lighter than the rubber is lifted by it, and has to be held down as well.
package hold

import (
	"fmt"
	"math"
	"strings"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/plane"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Point is where the master is held.
type Point struct {
	Kind  design.SupportKind
	At    r3.Vec  // on the part
	To    r3.Vec  // where it leaves the box
	Bore  float64 // mm
	Rod   bool    // a rod of the sprue or a wire of a vent, whose hole is wanted anyway
	Blind bool    // on its way it runs through the part
}

// stiffFrom is the bore from which a rod holds against being pushed, mm;
// thinner wires only pull. Common practice, no source.
const stiffFrom = 2.5

// pushes reports whether it keeps the master from rising.
func (p Point) pushes() bool {
	switch p.Kind {
	case design.Wire:
		return false
	case design.Bar, design.Stick:
		return p.Bore >= stiffFrom
	}
	return true // glued down
}

func (p Point) above(up r3.Vec) bool { return r3.Dot(r3.Sub(p.To, p.At), up) > 0 }

// Body is a master as it stands.
type Body struct {
	Ground
	Volume  float64 // mm³ of all of it, closed hollows included
	Density float64 // g/mL; 0 where nobody has weighed it
	Floor   float64 // along Up, mm
	Top     float64
}

// Standing is how a master stands on its supports.
type Standing struct {
	Points []Point
	Own    bool    // the caster's supports, not the proposal's
	Middle r3.Vec  // of its mass
	Margin float64 // mm that the middle lies inside what it stands on; negative outside, or where it hangs
	Tilt   float64 // degrees that it swings to before it hangs still
	Lift   derive.Number
	Down   int     // supports that keep it from rising
	Borne  bool    // a stiff rod carries it like a bracket
	Known  bool    // its density
	Rubber float64 // g/mL
}

// mostTilt is how far a hanging master may be out of plumb, degrees; common
// practice, no source.
const mostTilt = 3.0

// Stands reports whether it keeps its place.
func (s Standing) Stands() bool {
	if len(s.Points) == 0 {
		return false
	}
	return s.Margin >= 0 || s.Tilt <= mostTilt || s.Borne
}

// Stand works out how a body stands: on the caster's own supports where there
// are any, else on the rods and, if those do not do, on pins.
func (b Body) Stand(rods []Point, own []design.Support, rubber float64) Standing {
	points := append([]Point(nil), rods...)
	s := Standing{Own: len(own) > 0, Known: b.Density > 0, Rubber: rubber}
	if s.Own {
		for _, o := range own {
			points = append(points, b.led(o))
		}
	} else if !(Standing{Points: points, Margin: b.margin(points), Tilt: b.tilt(points), Borne: b.borne(points, rubber)}).Stands() {
		for _, p := range b.Pins {
			points = append(points, b.led(design.Support{Kind: design.Pin, At: design.At(p), Bore: pinBore}))
		}
	}
	s.Points, s.Middle = points, b.Middle
	s.Margin, s.Tilt, s.Borne = b.margin(points), b.tilt(points), b.borne(points, rubber)
	for _, p := range points {
		if p.pushes() {
			s.Down++
		}
	}
	s.Lift = b.lift(rubber)
	return s
}

// led is a support with where it leaves the box.
func (b Body) led(o design.Support) Point {
	p := Point{Kind: o.Kind, At: o.At.Vec(), Bore: o.Bore}
	level := b.Floor
	if o.Kind == design.Wire || o.Kind == design.Bar {
		level = b.Top
	}
	p.To = r3.Add(p.At, r3.Scale(level-r3.Dot(p.At, b.Up), b.Up))
	p.Blind = !b.clear(p.At, r3.Sub(p.To, p.At))
	return p
}

// lift is what the rubber lifts it by, g.
func (b Body) lift(rubber float64) derive.Number {
	density, source := b.Density, "weighed"
	if density == 0 {
		density, source = hollowPrint, "a hollow print, from memory; weigh yours in the brief"
	}
	return derive.Of(quantity.Mass, max(0, rubber-density)*b.Volume/1000,
		"(density of the rubber − density of the master) × volume of the master, never below nothing",
		derive.From("density of the rubber", quantity.Density, rubber, "data sheet"),
		derive.From("density of the master", quantity.Density, density, source),
		derive.From("volume of the master", quantity.Volume, b.Volume/1000, "the mesh"))
}

// hollowPrint is the density of a print with little infill, g/mL; from memory.
const hollowPrint = 0.6

// flat are points seen from above.
func (b Body) flat(points []Point) (out []plane.Point) {
	for _, p := range points {
		q := b.frame.In(p.At)
		out = append(out, plane.Point{q.X, q.Y})
	}
	return out
}

// margin is how far inside the hull of its supports a body has its middle.
func (b Body) margin(points []Point) float64 {
	hull := plane.Hull(b.flat(points))
	mid := b.frame.In(b.Middle)
	if len(hull) < 3 {
		return math.Inf(-1)
	}
	least := math.Inf(1)
	for i, p := range hull {
		q := hull[(i+1)%len(hull)]
		x, y := q[0]-p[0], q[1]-p[1]
		least = min(least, (x*(mid.Y-p[1])-y*(mid.X-p[0]))/math.Hypot(x, y))
	}
	return least
}

// tilt is how far a body swings that hangs from one place or two, degrees.
func (b Body) tilt(points []Point) float64 {
	var high []Point
	for _, p := range points {
		if p.above(b.Up) {
			high = append(high, p)
		}
	}
	if len(high) == 0 {
		return 90
	}
	mid := b.frame.In(b.Middle)
	off, level := math.Inf(1), 0.0
	flat := b.flat(high)
	for i, p := range flat {
		for k := range i + 1 {
			q := flat[k]
			if d := fromLine(plane.Point{mid.X, mid.Y}, p, q); d < off {
				off, level = d, (b.frame.In(high[i].At).Z+b.frame.In(high[k].At).Z)/2
			}
		}
	}
	drop := level - mid.Z
	if drop <= 0 {
		return 90 // it turns over
	}
	return math.Atan2(off, drop) * 180 / math.Pi
}

// glueHolds is the stress that a glued butt joint stands for a day, Pa; from
// memory, well under what hot glue and instant glue are sold with.
const glueHolds = 0.5e6

// solid is the density of a master that nobody has weighed, taken heavy, g/mL.
const solid = 1.2

// borne reports whether one stiff rod carries the body like a bracket: its
// joint bends under the weight, or the lift, by the way to the middle, and
// stands σ π d³ / 32 (Euler and Bernoulli).
func (b Body) borne(points []Point, rubber float64) bool {
	weighs := b.Density
	if weighs == 0 {
		weighs = solid
	}
	pull := max(weighs, b.lift(rubber).Value*1000/max(b.Volume, 1e-9)) * b.Volume / 1e6 * quantity.Gravity // N
	for _, p := range points {
		if p.Bore < stiffFrom || p.Kind == design.Wire || p.Kind == design.Foot {
			continue
		}
		off := r3.Sub(b.Middle, p.At)
		lever := r3.Norm(r3.Sub(off, r3.Scale(r3.Dot(off, b.Up), b.Up))) / 1000
		if pull*lever <= glueHolds*math.Pi*math.Pow(p.Bore/1000, 3)/32 {
			return true
		}
	}
	return false
}

// fromLine is how far a point lies from a stretch of line, which may be a point.
func fromLine(m, p, q plane.Point) float64 {
	x, y := q[0]-p[0], q[1]-p[1]
	t := 0.0
	if n := x*x + y*y; n > 0 {
		t = max(0, min(1, (x*(m[0]-p[0])+y*(m[1]-p[1]))/n))
	}
	return math.Hypot(m[0]-p[0]-t*x, m[1]-p[1]-t*y)
}

// Told is all supports in words, as "1 rod, 2 wires and 3 pins of 2 mm".
func (s Standing) Told() string { return told(s.Points) }

// Added are those beside the rods of sprue and vents, in words.
func (s Standing) Added() string {
	var own []Point
	for _, p := range s.Points {
		if !p.Rod {
			own = append(own, p)
		}
	}
	return told(own)
}

func told(points []Point) string {
	count := map[string]int{}
	var order []string
	for _, p := range points {
		name := string(p.Kind)
		if p.Rod {
			name = map[bool]string{true: "rod", false: "wire"}[p.Bore >= stiffFrom]
		} else {
			name = fmt.Sprintf("%s of %.3g mm", name, p.Bore)
		}
		if count[name] == 0 {
			order = append(order, name)
		}
		count[name]++
	}
	words := ""
	for i, name := range order {
		switch {
		case i > 0 && i == len(order)-1:
			words += " and "
		case i > 0:
			words += ", "
		}
		one, more := name, name+"s"
		if k, bore, ok := strings.Cut(name, " of "); ok {
			one, more = name, k+"s of "+bore
			if k == string(design.Foot) {
				more = "feet of " + bore
			}
		}
		words += quantity.Plural(count[name], one, more)
	}
	return words
}
