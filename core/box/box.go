// Package box holds the forms of wall round a block of rubber: what each
// takes in rubber, and how long its boards or strips are.
package box

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/plane"
)

// Form of a box, seen from above.
type Form string

// The forms of the trade.
const (
	Rectangle Form = "rectangle"
	Sleeve    Form = "sleeve"  // oval: two half rounds and straight sides
	Contour   Form = "contour" // card or thin board bent round the part at an even distance
	Follow    Form = "follow"  // the same, bent into the hollows of the outline as well
	Round     Form = "round"   // a pipe, as stands in the pot
	Own       Form = "own"     // a box that the shop has
)

// Forms in the order they are compared.
var Forms = []Form{Rectangle, Sleeve, Contour, Follow, Round, Own}

// Ask is what a box goes round.
type Ask struct {
	Hull       []plane.Point   // of all cavities seen from above, mm, anticlockwise
	Rings      [][]plane.Point // the true outlines of the cavities; needed to follow their hollows
	Beside     float64         // clearance, mm
	Wide, Deep float64         // of the shop's own box inside, mm; 0 for none
}

// Box is a form round a part.
type Box struct {
	Form       Form
	Ring       []plane.Point // its inside, mm
	Area       float64       // inside, mm²
	Wall       float64       // length of its wall inside, mm
	Wide, Deep float64       // of the rectangle round it, mm
	Bends      []Bend        // of a wall bent from a strip, from its seam on
	Nearest    float64       // mm between part and wall at the closest
}

// Bend is a stretch of a bent wall.
type Bend struct {
	Length float64 // mm
	Radius float64 // mm; 0 where it runs straight
}

// ErrTooSmall says that the shop's own box does not hold the part.
var ErrTooSmall = errors.New("the part does not go into that box with this clearance: take a larger box or less clearance beside")

// arcStep is the largest angle between points of a drawn arc.
const arcStep = math.Pi / 60

// Of works a form out.
func Of(f Form, a Ask) (Box, error) {
	if len(a.Hull) < 3 {
		return Box{}, errors.New("seen from there the part has no width: turn it")
	}
	if !(a.Beside > 0) {
		return Box{}, fmt.Errorf("the clearance beside must be more than nothing, not %g mm", a.Beside)
	}
	low, high := plane.Bounds(a.Hull)
	switch f {
	case Rectangle, "":
		return rectangle(Rectangle, low, high, a.Beside, a.Beside), nil
	case Own:
		return own(a, low, high)
	case Round:
		x, y, r := plane.Circle(a.Hull)
		r += a.Beside
		return bent(Round, []plane.Point{{x, y}}, r, a.Beside), nil
	case Sleeve:
		ends, r := stadium(a.Hull, low, high)
		return bent(Sleeve, ends, r+a.Beside, a.Beside), nil
	case Follow:
		return followed(a)
	case Contour:
		return bent(Contour, a.Hull, a.Beside, a.Beside), nil
	}
	return Box{}, fmt.Errorf("a box is a rectangle, sleeve, contour, follow, round or the shop's own, not %q", f)
}

func rectangle(f Form, low, high plane.Point, x, y float64) Box {
	l, h := plane.Point{low[0] - x, low[1] - y}, plane.Point{high[0] + x, high[1] + y}
	w, d := h[0]-l[0], h[1]-l[1]
	return Box{
		Form:    f,
		Ring:    []plane.Point{l, {h[0], l[1]}, h, {l[0], h[1]}},
		Area:    w * d,
		Wall:    2 * (w + d),
		Wide:    w,
		Deep:    d,
		Nearest: min(x, y),
	}
}

// own puts the part into the middle of a box that is there, either way round.
func own(a Ask, low, high plane.Point) (Box, error) {
	if a.Wide <= 0 || a.Deep <= 0 {
		return Box{}, errors.New("say how wide and deep the shop's box is inside")
	}
	w, d := high[0]-low[0], high[1]-low[1]
	best, found := Box{}, false
	for _, s := range [2][2]float64{{a.Wide, a.Deep}, {a.Deep, a.Wide}} {
		b := rectangle(Own, low, high, (s[0]-w)/2, (s[1]-d)/2)
		if b.Nearest >= a.Beside-1e-9 && (!found || b.Nearest > best.Nearest) {
			best, found = b, true
		}
	}
	if !found {
		return Box{}, fmt.Errorf("%w: it needs %.0f × %.0f mm inside", ErrTooSmall, w+2*a.Beside, d+2*a.Beside)
	}
	return best, nil
}

// stadium finds the oval of least area round a hull, along x or along y: the
// ends of its centre line and its radius.
func stadium(hull []plane.Point, low, high plane.Point) (ends []plane.Point, radius float64) {
	least := math.Inf(1)
	for axis := range 2 {
		u, v := axis, 1-axis
		mid := (low[v] + high[v]) / 2
		half := (high[v] - low[v]) / 2
		most := math.Hypot(high[0]-low[0], high[1]-low[1]) / 2
		for n := range 200 {
			r := half + (most-half)*float64(n)/199
			a, b := math.Inf(1), math.Inf(-1)
			for _, p := range hull {
				reach := math.Sqrt(max(0, r*r-(p[v]-mid)*(p[v]-mid)))
				a, b = min(a, p[u]+reach), max(b, p[u]-reach)
			}
			if a > b {
				a = (a + b) / 2
				b = a
			}
			if area := math.Pi*r*r + 2*r*(b-a); area < least {
				p, q := plane.Point{}, plane.Point{}
				p[u], p[v], q[u], q[v] = a, mid, b, mid
				least, ends, radius = area, []plane.Point{p, q}, r
			}
		}
	}
	return ends, radius
}

// bent is everything within a distance of a convex ring, of a stretch of line
// or of a point: by Steiner's formula its area is A + P d + π d², its edge P + 2 π d.
func bent(f Form, core []plane.Point, d, beside float64) Box {
	b := Box{Form: f, Nearest: beside}
	n := len(core)
	round := 0.0
	for i, p := range core {
		q, before := core[(i+1)%n], core[(i+n-1)%n]
		into, out := math.Atan2(p[1]-before[1], p[0]-before[0])-math.Pi/2, math.Atan2(q[1]-p[1], q[0]-p[0])-math.Pi/2
		turn := math.Mod(out-into+4*math.Pi, 2*math.Pi)
		switch n {
		case 1:
			into, turn = 0, 2*math.Pi
		case 2:
			turn = math.Pi
		}
		steps := max(1, int(math.Ceil(turn/arcStep)))
		for s := range steps + 1 {
			sin, cos := math.Sincos(into + turn*float64(s)/float64(steps))
			b.Ring = append(b.Ring, plane.Point{p[0] + d*cos, p[1] + d*sin})
		}
		if turn > 1e-6 {
			b.Bends = append(b.Bends, Bend{turn * d, d})
		}
		straight := math.Hypot(q[0]-p[0], q[1]-p[1])
		round += straight
		if straight > 1e-6 {
			b.Bends = append(b.Bends, Bend{straight, 0})
		}
	}
	area := 0.0
	if n > 2 {
		area = math.Abs(plane.Area(core))
	}
	b.Area, b.Wall = area+round*d+math.Pi*d*d, round+2*math.Pi*d
	low, high := plane.Bounds(b.Ring)
	b.Wide, b.Deep = high[0]-low[0], high[1]-low[1]
	return b
}
