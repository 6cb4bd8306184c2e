// Package strip judges whether cured rubber can be stripped out of an
// undercut: which way it has to give, how far it is strained, and against
// what it stands.
//
// Which formula applies follows from how the locked rubber hangs together
// with the rest of its piece, not from which is the kindest. The clearance to
// the box enters none of them: more rubber outside never makes it easier.
package strip

import (
	"math"

	"bathyform/core/derive"
	"bathyform/core/draw"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Answer is what to do about an undercut.
type Answer string

// The answers, from the easiest.
const (
	Strips    Answer = "strips"
	Another   Answer = "another draw" // the part is drawn another way, along which nothing holds
	Split     Answer = "split"        // the parting is carried through the hole: each half keeps its own end of it
	SidePiece Answer = "side piece"   // wants a piece of its own that is drawn sideways
	Slit      Answer = "slit"         // strips when the rubber is slit there; the slit closes again under clamping
	Plug      Answer = "plug"         // is filled on the master; what it is wanted for is drilled in the castings
)

// Mode is the way locked rubber has to give.
type Mode string

// The modes.
const (
	Threaded Mode = "threaded" // it closes on itself through the part
	Collar   Mode = "collar"   // it lies round the part, or in a bore of it, and has to pass what is wider
	Core     Mode = "core"     // it fills a pocket and has to swing out across its own axis
	Lip      Mode = "lip"      // it reaches under a shelf and has to bend away
)

// Rubber is what the data sheet says of a rubber's strength.
type Rubber struct {
	Shore      float64 // A
	Elongation float64 // at break, per cent
	Source     string  // where these come from
}

// Half is the half of a mould that holds an undercut.
type Half uint8

// The halves: along the draw, and against it.
const (
	Upper Half = iota
	Lower
)

func (h Half) String() string { return [...]string{"Half A", "Half B"}[h] }

// Lock is a place where a part holds the rubber, and what is done about it.
type Lock struct {
	At     r3.Vec  // mesh coordinates
	Volume float64 // mm³
	Mode   Mode
	Answer Answer
	Deep   float64 // mm, how far rubber has to move across the draw to be free
	Said   bool    // the caster has said that it is stripped
}

// Verdict is the judgement with the sums behind it.
type Verdict struct {
	Mode    Mode
	Half    Half // that holds it with the least strain
	Answer  Answer
	Strain  derive.Number // per cent; [Never] for what no stretching frees
	Allowed derive.Number // per cent
	Slit    r3.Vec        // where a slit frees it, mesh coordinates
}

// Small is the volume in mm³ up to which filling an undercut on the master is
// the simplest way; common practice, no source.
const Small = 60.0

// Strains in per cent: from which nobody would try, and one that stands for
// an infinite one.
const (
	Hopeless = 100.0
	Never    = 1e6
)

// Safety factors on elongation at break: one pull or two; pulls again and
// again; a narrow mouth, where the rubber is notched. From memory, and a
// choice: tearing, not elongation, often governs.
const (
	safeOnce  = 2
	safeOften = 4
	safeNotch = 6
	fewPulls  = 2
	slitGains = 2    // times the strain that is allowed beside a slit; common practice, no source
	swings    = 0.3  // of a core's depth that it may be locked along the draw and still swing out
	pocket    = 0.5  // times as deep as its mouth is long, from which a recess is a pocket
	ripple    = 1.0  // mm, within two cells of the lattice, up to which what is locked is a ripple, not a pocket
	leaves    = 0.8  // of an undercut, from which one way across the draw frees it
	carried   = 0.02 // of a mouth's surface that decides which half it opens to
)

// Held tells by which of the halves the rubber at a mouth can be held.
type Held func(draw.Mouth) (upper, lower bool)

// Anyhow is for a parting that is not laid yet: what opens beside the part
// can go to either half.
func Anyhow(m draw.Mouth) (upper, lower bool) {
	side := m.Area - m.Above - m.Below
	return m.Above > carried*m.Area || side > carried*m.Area, m.Below > carried*m.Area || side > carried*m.Area
}

// OneWay is for a mould of one piece, which the part leaves along the draw:
// what it passes lies behind it, as it does for a lower half.
func OneWay(draw.Mouth) (upper, lower bool) { return false, true }

// Judge weighs an undercut for a number of pulls, in the half that holds it
// with the least strain.
func Judge(a draw.Analysis, s draw.Space, held Held, r Rubber, pulls int) Verdict {
	best := Verdict{Mode: Threaded, Answer: Plug}
	found := false
	for _, h := range []Half{Upper, Lower} {
		if v, ok := In(h, a, s, held, r, pulls); ok && (!found || v.Strain.Value < best.Strain.Value) {
			best, found = v, true
		}
	}
	return best
}

// In weighs an undercut in one half; not ok where that half does not hold it.
func In(h Half, a draw.Analysis, s draw.Space, held Held, r Rubber, pulls int) (Verdict, bool) {
	by := func(m draw.Mouth) bool {
		upper, lower := held(m)
		return h == Upper && upper || h == Lower && lower
	}
	mouths := 0
	for _, m := range s.Mouths {
		if by(m) {
			mouths++
		}
	}
	if mouths == 0 {
		return Verdict{}, false
	}
	v := Verdict{Half: h, Slit: s.Mouths[0].Centre, Allowed: allowed(s, r, pulls)}
	loops := s.Threads(by)
	switch {
	case loops > 0:
		v.Mode = Threaded
		v.Strain = derive.Of(quantity.Number, Never, "the rubber closes on itself through the part: no stretching frees it",
			derive.From("mouths", quantity.Number, float64(mouths), "stretches of its surface that open to the rest of the piece"),
			derive.From("ways round or through", quantity.Number, float64(loops), "mouths but one, and posts, less what can be "+
				"slid over an end"))
		v.Slit = s.Centre
	case s.Round() || s.Bored():
		v.Mode, v.Strain = Collar, stretched(s, a, h)
	case s.Depth > 0 && s.Share < leaves && mouthLength(s) < s.Depth: // a hollow with a narrow mouth, or one that winds
		v.Mode, v.Strain = Core, stuck(s)
	case s.Depth > 0 && s.Share < leaves:
		v.Mode, v.Strain = Collar, wrapped(s, a, h)
	case isCore(s, a.Cell):
		v.Mode, v.Strain = Core, swung(s, depthOf(s))
	default:
		v.Mode, v.Strain = Lip, bent(s, a, h)
	}
	v.Answer = answer(s, v)
	return v, true
}

// answer takes the first that serves.
func answer(s draw.Space, v Verdict) Answer {
	strain, limit := v.Strain.Value, v.Allowed.Value
	hopeless := v.Mode == Core && strain >= Hopeless // too stout to bend, however stretchy
	switch {
	case strain <= limit && !hopeless:
		return Strips
	case v.Mode == Threaded && len(s.Mouths) == 2 && s.Holes == 0 && halfCore(s) <= limit && halfCore(s) < Hopeless:
		return Split
	case v.Mode != Threaded && strain <= slitGains*limit && !hopeless:
		return Slit
	case s.Volume <= Small:
		return Plug
	case s.Sideway >= leaves || v.Mode == Collar && !s.Bored(): // what lies all round is shared between several
		return SidePiece
	}
	return Plug
}

// allowed is what a rubber may be strained.
func allowed(s draw.Space, r Rubber, pulls int) derive.Number {
	factor, why := safeOften, "pulled again and again"
	switch {
	case s.Opening > 0 && s.Opening < 0.5*s.Depth*s.Depth:
		factor, why = safeNotch, "a narrow mouth, where the rubber is notched"
	case pulls <= fewPulls:
		factor, why = safeOnce, "a pull or two"
	}
	return derive.Of(quantity.Number, r.Elongation/float64(factor), "elongation at break / safety factor",
		derive.From("elongation at break (%)", quantity.Number, r.Elongation, r.Source),
		derive.From("safety factor", quantity.Number, float64(factor), why+"; from memory"))
}

// depthOf is how far all of the body has to move across the draw at once.
func depthOf(s draw.Space) float64 { return max(s.Travel, s.Depth) }

// isCore tells a pocket, whose rubber has to come out whole, from a shelf. A
// ripple's mouth is too small for the lattice to tell its length; it is a
// shelf, whose rubber gives way.
func isCore(s draw.Space, cell float64) bool {
	d := depthOf(s)
	if d <= min(2*cell, ripple) {
		return false
	}
	return s.Height <= swings*d || d >= pocket*mouthLength(s)
}

func mouthLength(s draw.Space) float64 { return s.Mouths[0].Length }

// width is the least across a core at its root.
func width(s draw.Space) float64 { return min(mouthLength(s), s.Mouths[0].Height) }

// swung is the strain of a core that bends out across its own axis.
func swung(s draw.Space, depth float64) derive.Number {
	w, u := width(s), s.Height
	strain, formula := coreStrain(w, u, depth)
	return derive.Of(quantity.Number, 100*strain, formula,
		derive.From("width of the core", quantity.Length, w, "the least across its mouth"),
		derive.From("locked along the draw", quantity.Length, u, "the undercut, from the mesh"),
		derive.From("depth", quantity.Length, depth, "across the draw, until all of it is free"))
}

func coreStrain(w, u, d float64) (strain float64, formula string) {
	if d <= 0 {
		return 0, "nothing to swing out of"
	}
	bending := 3 * w * u / (2 * d * d)
	if u <= swings*d {
		return bending, "3 × width × locked / (2 × depth²), the core swings out"
	}
	return max(bending, u/w, 1), "the greatest of 3 × width × locked / (2 × depth²), locked / width and 1: too stout to swing, " +
		"it is dragged out"
}

// halfCore is the strain in per cent of either half of a core that is cut in
// the middle of its hole.
func halfCore(s draw.Space) float64 {
	apart := r3.Norm(r3.Sub(s.Mouths[0].Centre, s.Mouths[1].Centre))
	w := min(width(s), min(s.Mouths[1].Length, s.Mouths[1].Height))
	strain, _ := coreStrain(w, s.Height, apart/2)
	return 100 * strain
}

// stretched is the strain of a collar that passes what is wider, or of a
// flange that passes a narrower bore, which is the same the other way round;
// and of its lip, which is pulled away to an arc.
func stretched(s draw.Space, a draw.Analysis, h Half) derive.Number {
	p := s.Up
	if h == Lower {
		p = s.Down
	}
	reach := reachOf(s, a, h)
	bend := s.Depth * s.Depth / (reach * reach)
	widest := derive.From("widest perimeter", quantity.Length, p.Widest, "hull of the section that has to pass, from the mesh")
	if math.IsInf(p.Widest, 1) {
		widest = derive.From("widest perimeter", quantity.Length, Never, "the part closes the way")
	}
	return derive.Of(quantity.Number, min(Never, 100*(p.Stretch()+bend)),
		"widest perimeter / perimeter of the mouth − 1 + depth² / reach²",
		widest,
		derive.From("perimeter of the mouth", quantity.Length, p.Mouth, "hull of the section where the rubber lies tightest"),
		derive.From("depth", quantity.Length, s.Depth, "the undercut, from the mesh: the lip is as thick as it is deep"),
		derive.From("reach", quantity.Length, reach, reachWhy))
}

// wrapped is the strain of a lip that reaches so far round the part that no
// one way frees it: it is stretched as a ring is, and bent.
func wrapped(s draw.Space, a draw.Analysis, h Half) derive.Number {
	radius := mouthLength(s)/(2*math.Pi) - s.Depth
	stretch := Never / 100.0
	if radius > 0 {
		stretch = s.Depth / radius
	}
	bend := bent(s, a, h)
	return derive.Of(quantity.Number, min(Never, 100*stretch+bend.Value), "depth / (mouth / 2π − depth), as a ring, + bending",
		derive.From("depth", quantity.Length, s.Depth, "the undercut, from the mesh"),
		derive.From("mouth", quantity.Length, mouthLength(s), "along its line across the draw"),
		derive.From("bending (%)", quantity.Number, bend.Value, "as a lip"))
}

// stuck is a core that no straight way leads out of.
func stuck(s draw.Space) derive.Number {
	return derive.Of(quantity.Number, Never, "no straight way leads out: the core would have to wind through its mouth",
		derive.From("depth", quantity.Length, s.Depth, "the undercut, from the mesh"),
		derive.From("mouth", quantity.Length, mouthLength(s), "along its line across the draw"))
}

// bent is the strain of a lip that bends away from a shelf: a skirt with a
// load at its tip, as long as the half's rubber hangs along the part there,
// and as thick as it is long, since the block behind it holds it.
func bent(s draw.Space, a draw.Analysis, h Half) derive.Number {
	u, reach := depthOf(s), reachOf(s, a, h)
	thick := reach + u
	return derive.Of(quantity.Number, 100*3*thick*u/(2*reach*reach), "3 × thickness × depth / (2 × reach²), a skirt bent at its tip",
		derive.From("depth", quantity.Length, u, "across the draw, until all of it is free"),
		derive.From("reach", quantity.Length, reach, reachWhy),
		derive.From("thickness", quantity.Length, thick, "of the lip's own rubber: its reach and depth"))
}

const reachWhy = "how far the half's rubber hangs along the part, the undercut included"

// reachOf is how far a half's rubber hangs along the part at an undercut.
func reachOf(s draw.Space, a draw.Analysis, h Half) float64 {
	if h == Lower {
		return s.Hi - a.Low
	}
	return a.Low + a.Height - s.Lo
}
