// Package channel leads resin into cavities that stand in one box and air out
// of them, by channels that are bodies of the mould: each has its sizes, its
// way and its volume, keeps clear of parts, walls and other channels, and
// meets another only at a joint.
//
// Places are in mm in the box as it stands for the resin: x and y across, z up.
package channel

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Kind says what a channel is for.
type Kind string

// The channels of a mould.
const (
	Well   Kind = "well"   // the funnel that is poured into
	Sprue  Kind = "sprue"  // from the well down, or into an opening at a part's top
	Runner Kind = "runner" // along under the parts
	Gate   Kind = "gate"   // from a runner up into a part
	Vent   Kind = "vent"   // from a high spot up to the top of the mould
	Sump   Kind = "foot"   // under the sprue: the first resin falls into it
	Blind  Kind = "blind"  // ends nowhere: it takes the first resin, or what is pressed out round a squeezed part

	Overflow Kind = "overflow" // the cup on a vent that takes what weeps out
)

// Shared stands for the cavity of a channel that serves several.
const Shared = -1

// Body is a channel of round section along a path, or of a part of a round one:
// the half of it to one side of the parting, or a strip in the parting. It is as
// wide as Bore at the path's first point and, where it tapers, as Rim at the last.
type Body struct {
	Kind   Kind
	Cavity int // the one that it leads to, or Shared
	Bore   float64
	Rim    float64 // 0 where it is as wide all along
	Path   []r3.Vec
	Half   r3.Vec  // the way to the side that it is cut into, where it is half round
	Flat   r3.Vec  // across the strip that it is, where it is one
	Thick  float64 // mm of the strip, up to its bore
}

// Section is the share of the round section of a diameter that the body takes.
func (b Body) Section(bore float64) float64 {
	switch {
	case b.Half != (r3.Vec{}):
		return 0.5
	case b.Flat != (r3.Vec{}) && b.Thick < bore:
		t := b.Thick / bore
		return 2 / math.Pi * (t*math.Sqrt(1-t*t) + math.Asin(t))
	}
	return 1
}

// off is how far a place lies out of the section of a body that is none of the
// whole round one, negative inside; minus infinity for a round one.
func (b *Body) off(p, from r3.Vec) float64 {
	switch {
	case b.Half != (r3.Vec{}):
		return -r3.Dot(b.Half, r3.Sub(p, from))
	case b.Flat != (r3.Vec{}):
		return math.Abs(r3.Dot(b.Flat, r3.Sub(p, from))) - b.Thick/2
	}
	return math.Inf(-1)
}

// Length is that of the path, mm.
func (b Body) Length() (sum float64) {
	for i := 1; i < len(b.Path); i++ {
		sum += norm(r3.Sub(b.Path[i], b.Path[i-1]))
	}
	return sum
}

// radius is how wide the body is after a way along its path.
func (b Body) radius(along, length float64) float64 {
	if b.Rim == 0 || length == 0 {
		return b.Bore / 2
	}
	return (b.Bore + (b.Rim-b.Bore)*along/length) / 2
}

// Wide is how wide the body is so far along its path, mm.
func (b Body) Wide(along float64) float64 { return 2 * b.radius(along, b.Length()) }

// Full is what a body holds by itself, mm³: its bends are mitred, so that a
// bent tube holds what a straight one does. A tapered one is a cone cut off.
func (b Body) Full() float64 {
	r, rim := b.Bore/2, b.Bore/2
	if b.Rim > 0 {
		rim = b.Rim / 2
	}
	return b.Section(b.Bore) * math.Pi / 3 * b.Length() * (r*r + r*rim + rim*rim)
}

// Scar is the area that is cut off a casting where the body meets it, mm².
func (b Body) Scar() float64 {
	if b.Kind == Gate || b.Kind == Vent || b.Kind == Sprue && b.Cavity != Shared {
		return b.Section(b.Bore) * math.Pi / 4 * b.Bore * b.Bore
	}
	return 0
}

// ends are the places where a body may be joined to another: where its path
// begins and where it ends.
func (b Body) ends() [2]r3.Vec { return [2]r3.Vec{b.Path[0], b.Path[len(b.Path)-1]} }

// joint is where two bodies meet: an end of the one on the path of the other.
func joint(a, b Body) (r3.Vec, bool) {
	const on = 1e-6
	for _, pair := range [2][2]Body{{a, b}, {b, a}} {
		for _, end := range pair[0].ends() {
			if pair[1].away(end) < on {
				return end, true
			}
		}
	}
	return r3.Vec{}, false
}

// away is how far a place is from the body's path.
func (b Body) away(p r3.Vec) float64 {
	_, off := b.Along(p)
	return off
}

// Along is how far along the path the place on it is that is nearest to p, and
// how far off p lies, mm.
func (b Body) Along(p r3.Vec) (along, off float64) {
	off = math.Inf(1)
	gone := 0.0
	for i := 1; i < len(b.Path); i++ {
		run := r3.Norm(r3.Sub(b.Path[i], b.Path[i-1]))
		at, share := nearest(p, b.Path[i-1], b.Path[i])
		if d := r3.Norm(r3.Sub(p, at)); d < off {
			along, off = gone+share*run, d
		}
		gone += run
	}
	return along, off
}

// At is the place so far along the path.
func (b Body) At(along float64) r3.Vec {
	for i := 1; i < len(b.Path); i++ {
		run := r3.Norm(r3.Sub(b.Path[i], b.Path[i-1]))
		if along <= run && run > 0 {
			return r3.Add(b.Path[i-1], r3.Scale(along/run, r3.Sub(b.Path[i], b.Path[i-1])))
		}
		along -= run
	}
	return b.Path[len(b.Path)-1]
}

// beyond is how far a place is from the body's surface, negative inside. Past
// the ends of a straight run the body ends in a plane.
func (b *Body) beyond(p r3.Vec) float64 {
	length, along, least := 0.0, 0.0, math.Inf(1)
	if b.Rim > 0 {
		length = b.Length()
	}
	for i := 1; i < len(b.Path); i++ {
		from, to := b.Path[i-1], b.Path[i]
		run := norm(r3.Sub(to, from))
		at, share := nearest(p, from, to)
		d := norm(r3.Sub(p, at)) - b.radius(along+share*run, length)
		if first, last := i == 1 && share == 0, i == len(b.Path)-1 && share == 1; first || last {
			past := r3.Dot(r3.Sub(p, from), r3.Sub(from, to))
			if last {
				past = r3.Dot(r3.Sub(p, to), r3.Sub(to, from))
			}
			d = max(d, past/max(run, 1e-9))
		}
		least = min(least, max(d, b.off(p, from)))
		along += run
	}
	return least
}

// norm is [r3.Norm] for lengths in a mould, where no square is too large.
func norm(v r3.Vec) float64 { return math.Sqrt(v.X*v.X + v.Y*v.Y + v.Z*v.Z) }

// nearest is the place on a run that is nearest to p, and its share of it.
func nearest(p, from, to r3.Vec) (r3.Vec, float64) {
	v := r3.Sub(to, from)
	n := r3.Norm2(v)
	if n == 0 {
		return from, 0
	}
	t := max(0, min(1, r3.Dot(r3.Sub(p, from), v)/n))
	return r3.Add(from, r3.Scale(t, v)), t
}

// steps calls use at places along the path no farther apart than a step, with
// the way gone and how wide the body is there, until it is not ok.
func (b Body) steps(step float64, use func(at r3.Vec, along, radius float64) (ok bool)) bool {
	length, gone := b.Length(), 0.0
	for i := 1; i < len(b.Path); i++ {
		v := r3.Sub(b.Path[i], b.Path[i-1])
		run := r3.Norm(v)
		n := max(1, int(math.Ceil(run/step)))
		for k := range n + 1 {
			share := float64(k) / float64(n)
			along := gone + share*run
			if !use(r3.Add(b.Path[i-1], r3.Scale(share, v)), along, b.radius(along, length)) {
				return false
			}
		}
		gone += run
	}
	return true
}
