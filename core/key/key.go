// Package key shapes and places the keys by which two halves of rubber find
// each other again.
//
// A key is a rise of the parting: straight in the draw or leaning, never
// hooked, so that halves keyed by it still come apart. One of them, the
// locking strip, stands a little wider at its top than at its foot, and snaps.
// All places lie in the plan across the draw, in mm.
package key

import (
	"fmt"
	"math"
)

// Kind of key.
type Kind string

// The kinds of the trade that are a plain rise of the parting.
const (
	Dome  Kind = "domes" // as pressed in by an acorn nut
	Bar   Kind = "bars"  // half-round wax bars
	Pin   Kind = "pins"  // stiff wire or dowel, nearly straight
	Strip Kind = "strip" // lengths of strip with a slight undercut, which hold the halves together
	Bevel Kind = "bevel" // a bevelled rim all round the block
	None  Kind = "none"  // a cut that wavers needs no keys
)

// Kinds in the order they are offered.
var Kinds = []Kind{Dome, Bar, Pin, Strip, Bevel, None}

// How keys are built; common practice, no source.
const (
	domeRise = 0.6  // of its radius
	pinRise  = 2.0  // of its radius
	pinTaper = 0.15 // of its radius that a pin is thinner at its top
	barRatio = 2.0  // half length to half width
	stripTop = 0.8  // of its half width, that a strip stands up
	snap     = 0.1  // of its half width, by which it is narrower at its foot
	oddScale = 1.45 // how much larger the odd one is
	bevelRun = 1.5  // width to height of a bevel
)

// Choices are what the caster says of the keys.
type Choices struct {
	Kind Kind    `json:",omitempty"` // empty for domes
	Size float64 `json:",omitempty"` // radius at the foot, or height of a bevel, mm; 0 for what has room
}

// Check refuses what cannot be built.
func (c Choices) Check() error {
	switch c.Kind {
	case "", Dome, Bar, Pin, Strip, Bevel, None:
	default:
		return fmt.Errorf("keys are domes, bars, pins, strips, a bevel or none, not %q", c.Kind)
	}
	if math.IsNaN(c.Size) || c.Size < 0 || c.Size > 60 {
		return fmt.Errorf("a key's size must lie between 0 and 60 mm, not %g", c.Size)
	}
	return nil
}

// Key is one of them.
type Key struct {
	Kind   Kind
	X, Y   float64 // of its middle
	Turn   float64 // of a bar, radians
	Radius float64 // at its foot
	Odd    bool    // unlike the rest, so that the mould closes only one way
	Inside [4]float64
	// Inside is what a bevel runs round: low and high x, low and high y of the box.
}

// Height is how far it stands up.
func (k Key) Height() float64 {
	switch k.Kind {
	case Pin:
		return pinRise * k.Radius
	case Bevel:
		return k.Radius
	case Strip:
		return stripTop * k.Radius
	}
	return domeRise * k.Radius
}

// Reach is how far from its middle its foot goes.
func (k Key) Reach() float64 {
	if k.long() {
		return barRatio * k.Radius
	}
	return k.Radius
}

func (k Key) long() bool { return k.Kind == Bar || k.Kind == Strip }

// beside is how far a place lies from the middle line of a long key.
func (k Key) beside(x, y float64) float64 {
	sin, cos := math.Sincos(k.Turn)
	along := math.Abs(cos*(x-k.X)+sin*(y-k.Y)) - (barRatio-1)*k.Radius
	return math.Hypot(max(0, along), -sin*(x-k.X)+cos*(y-k.Y))
}

// Beyond is how far a place outside a strip lies, negative within it: over is
// its height over the parting that the strip stands on. Other keys have no
// inside of their own, since they are a rise of the parting.
func (k Key) Beyond(x, y, over float64) float64 {
	if k.Kind != Strip {
		return math.Inf(1)
	}
	wide := k.Radius * (1 - snap*(1-max(0, min(1, over/k.Height()))))
	return max(k.beside(x, y)-wide, over-k.Height(), -over)
}

// Snaps is how much rubber stretches at the foot of a strip to let its top
// pass, per cent; nothing for other keys.
func (k Key) Snaps() float64 {
	if k.Kind != Strip {
		return 0
	}
	return 100 * (1/(1-snap) - 1)
}

// Rise is how far the key lifts the parting at a place.
func (k Key) Rise(x, y float64) float64 {
	switch k.Kind {
	case Bevel:
		in := k.Inside
		away := min(x-in[0], in[1]-x, y-in[2], in[3]-y)
		return k.Radius * max(0, min(1, 1-away/(bevelRun*k.Radius)))
	case Strip:
		return 0 // see Beyond
	case Bar:
		return capped(k.beside(x, y), k.Radius)
	case Pin:
		d := math.Hypot(x-k.X, y-k.Y)
		top := (1 - pinTaper) * k.Radius
		return k.Height() * max(0, min(1, (k.Radius-d)/(k.Radius-top)))
	}
	return capped(math.Hypot(x-k.X, y-k.Y), k.Radius)
}

// ball is the radius of the ball that a dome is cut from.
func ball(r float64) float64 {
	h := domeRise * r
	return (r*r + h*h) / (2 * h)
}

// capped is the height of a dome at a distance from its middle.
func capped(d, r float64) float64 {
	if d >= r {
		return 0
	}
	b := ball(r)
	return math.Sqrt(b*b-d*d) - (b - domeRise*r)
}

// Volume is what one half gains and the other loses by it, mm³: a spherical
// cap, a cap drawn out to a bar, the frustum of a cone, a bevelled frame.
func (k Key) Volume() float64 {
	r, h := k.Radius, k.Height()
	switch k.Kind {
	case Pin:
		t := (1 - pinTaper) * r
		return math.Pi * h / 3 * (r*r + r*t + t*t)
	case Strip:
		foot, spine := (1-snap)*r, 2*(barRatio-1)*r
		return math.Pi*h/3*(foot*foot+foot*r+r*r) + spine*h*(foot+r)
	case Bevel:
		w := bevelRun * r
		round := 2 * (k.Inside[1] - k.Inside[0] + k.Inside[3] - k.Inside[2])
		return h * w * (round/2 - 4*w/3)
	}
	dome := math.Pi * h * (3*r*r + h*h) / 6
	if k.Kind == Bar {
		b := ball(r)
		segment := b*b*math.Asin(r/b) - r*(b-h)
		return dome + 2*(barRatio-1)*r*segment
	}
	return dome
}
