// Package strip judges whether cured rubber can be stripped out of an
// undercut: how far it is strained when it gives way, against what it stands.
package strip

import (
	"math"

	"bathyform/core/derive"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Answer is what to do about an undercut, from the easiest to the dearest.
type Answer string

// The answers in steps.
const (
	Strips    Answer = "strips"
	Slit      Answer = "slit"       // strips when the rubber is slit beside it; the slit closes again under clamping
	SidePiece Answer = "side piece" // wants a piece of its own that is drawn sideways
	Fill      Answer = "fill"       // is best filled on the master
)

// Rubber is what the data sheet says of a rubber's strength.
type Rubber struct {
	Shore      float64 // A
	Elongation float64 // at break, per cent
	Source     string  // where these come from
}

// Undercut is one place that locks the rubber.
type Undercut struct {
	Depth   float64 // how far the rubber must give way, mm
	Opening float64 // area through which it does, mm²
	Volume  float64 // mm³
	Wall    float64 // thickness of the rubber behind it, mm
	Reach   float64 // length of that wall along the draw that is free to bend, mm
}

// Lock is a place where a part holds the rubber, and what is done about it.
type Lock struct {
	At     r3.Vec  // mesh coordinates
	Volume float64 // mm³
	Answer Answer
	Said   bool // the caster has said that it is stripped
}

// Verdict is the judgement with the sums behind it.
type Verdict struct {
	Answer  Answer
	Strain  derive.Number // per cent
	Allowed derive.Number // per cent
	Wall    float64       // mm, the thickest wall behind it that would strip
}

// Safety factors on elongation at break: one pull or two; pulls again and
// again; a narrow mouth, where the rubber is notched. From memory, and a
// choice: tearing, not elongation, often governs.
const (
	safeOnce   = 2
	safeOften  = 4
	safeNotch  = 6
	fewPulls   = 2
	deepest    = 1.2 // times as deep as its mouth is wide, from which rubber stands in it like a peg
	smallSpace = 60  // mm³ up to which filling on the master is the simplest way
)

// Judge weighs an undercut for a number of pulls.
//
// Two ways to give way are weighed and the easier taken: the wall pulls away
// to an arc, strain = t u / L² (t wall, u depth, L free length), or it shears
// over its thickness, strain = u / t. Small strains; beyond about 30 % the
// figure is an ordering only.
func Judge(u Undercut, r Rubber, pulls int) Verdict {
	bent, sheared := math.Inf(1), math.Inf(1)
	if u.Reach > 0 {
		bent = u.Wall * u.Depth / (u.Reach * u.Reach)
	}
	if u.Wall > 0 {
		sheared = u.Depth / u.Wall
	}
	strain, formula := bent, "wall × depth / free length², the wall pulled away to an arc"
	if sheared < bent {
		strain, formula = sheared, "depth / wall, the wall sheared over its thickness"
	}
	if u.Depth == 0 {
		strain = 0
	}
	factor, why := safeOften, "pulled again and again"
	switch {
	case u.Opening > 0 && u.Opening < 0.5*u.Depth*u.Depth:
		factor, why = safeNotch, "a narrow mouth, where the rubber is notched"
	case pulls <= fewPulls:
		factor, why = safeOnce, "a pull or two"
	}
	limit := r.Elongation / float64(factor) / 100
	v := Verdict{
		Strain: derive.Of(quantity.Number, 100*strain, formula,
			derive.From("depth", quantity.Length, u.Depth, "the undercut, from the mesh"),
			derive.From("wall", quantity.Length, u.Wall, "clearance beside the part"),
			derive.From("free length", quantity.Length, u.Reach, "half of the mould's height along the draw, at least the undercut's own")),
		Allowed: derive.Of(quantity.Number, 100*limit, "elongation at break / safety factor",
			derive.From("elongation at break (%)", quantity.Number, r.Elongation, r.Source),
			derive.From("safety factor", quantity.Number, float64(factor), why+"; from memory")),
		Wall: math.Max(u.Depth/math.Max(limit, 1e-9), 0),
	}
	if u.Depth > 0 && u.Reach > 0 {
		v.Wall = math.Max(0, limit*u.Reach*u.Reach/u.Depth)
	}
	switch {
	case strain <= limit:
		v.Answer = Strips
	// a slit lets the wall open from both sides of it; a peg in a hole it does not free
	case strain <= 2*limit && u.Depth <= deepest*math.Sqrt(u.Opening):
		v.Answer = Slit
	case u.Volume <= smallSpace:
		v.Answer = Fill
	default:
		v.Answer = SidePiece
	}
	return v
}
