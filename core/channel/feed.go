package channel

import (
	"cmp"
	"errors"
	"math"
	"slices"

	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// System is how resin is led from a well to several cavities.
type System string

// The ways of the trade.
const (
	Each   System = "each"   // every cavity by itself
	Ring   System = "ring"   // spokes from the sprue's foot to every gate
	Comb   System = "comb"   // a trunk with teeth
	Tree   System = "tree"   // halved again and again, so that every way is as long
	Ladder System = "ladder" // rungs under rows that stand over one another
)

// Systems are all of them, in the order in which they are compared.
var Systems = []System{Ring, Comb, Tree, Ladder, Each}

// Feed says how resin is led in.
type Feed struct {
	Sprue, Runner, Gate float64      // bores, mm
	Top                 float64      // of a sprue that is a cone, under the well, mm; 0 for a straight one
	Rim, Depth          float64      // of the well, mm
	System              System       // none for the one that takes the least
	At                  *plane.Point // where the sprue stands; nil for where it takes the least
	Forced              bool         // whatever is in the way
}

// Foot is a gate that a cavity needs; one that falls into several spaces needs
// one for each.
type Foot struct {
	Cavity int
	Mouths []Mouth // any of these serves
}

// Mouth is where a gate may meet a part.
type Mouth struct {
	At   r3.Vec // on the part
	From r3.Vec // where the gate leaves the runner, at the level of the runners
}

// met is a foot with the mouth that was chosen for it.
type met struct {
	cavity int
	Mouth
}

// meet takes the mouth of each foot that lies nearest to a place as seen from
// above.
func meet(feet []Foot, to plane.Point) []met {
	out := make([]met, len(feet))
	for i, f := range feet {
		out[i] = met{f.Cavity, f.Mouths[0]}
		far := func(m Mouth) float64 { // squared
			x, y := m.From.X-to[0], m.From.Y-to[1]
			return x*x + y*y
		}
		for _, m := range f.Mouths[1:] {
			if far(m) < far(out[i].Mouth)-1e-9 {
				out[i].Mouth = m
			}
		}
	}
	return out
}

// Errors that a caster can do something about.
var (
	ErrNoShaft = errors.New("no place in the box has room for the sprue: leave more room between the cavities, " +
		"lay fewer, or take a thinner sprue")
	ErrSystem = errors.New("these cavities cannot be fed that way: rows over one another are fed by a ladder, a single level by a " +
		"ring, a comb or a tree")
)

// web is one way to lead resin from the sprue's foot to all gates.
type web struct {
	system System
	foot   r3.Vec  // of the sprue
	bodies []Body  // runners, then gates
	holds  float64 // mm³
}

func (w *web) add(kind Kind, cavity int, bore float64, path ...r3.Vec) {
	const same = 1e-6
	b := Body{Kind: kind, Cavity: cavity, Bore: bore}
	for i, p := range path {
		if i == 0 || r3.Norm(r3.Sub(p, path[i-1])) > same {
			b.Path = append(b.Path, p)
		}
	}
	if len(b.Path) < 2 {
		return
	}
	w.bodies = append(w.bodies, b)
	w.holds += b.Full()
}

// Under leads resin in from below: from a well down a sprue beside the
// masters, along runners under them, and up through a gate into each at its
// feet. Of all places for the sprue and all ways to run, the one that takes the
// least is chosen: channels by their resin, and a box that has to grow for them
// by its rubber. Where the parting stands upright, sprue and runners lie in it;
// where it lies level runners and gates do, and meet the masters from the side.
//
// The bodies come joined, the runners a clearance below the masters that they
// feed, and with the way in which they run.
func (r *Room) Under(f Feed, feet []Foot) ([]Body, System, error) {
	if f.System != Each {
		return r.together(f, feet)
	}
	f.System = ""
	at := f.At
	var all []Body
	for i := range r.Places {
		var own []Foot
		for _, foot := range feet {
			if foot.Cavity == i {
				own = append(own, foot)
			}
		}
		if i > 0 && at != nil { // beside each as beside the first
			p := r.Places[i].box(r.Places[0].mesh(r3.Vec{X: at[0], Y: at[1]}))
			f.At = &plane.Point{p.X, p.Y}
		}
		one := *r
		one.Bodies = all
		bodies, _, err := one.together(f, own)
		if err != nil {
			return nil, Each, err
		}
		all = append(all, bodies...)
	}
	return all, Each, nil
}

// together leads resin to all feet from one well.
func (r *Room) together(f Feed, feet []Foot) ([]Body, System, error) {
	top := r.High.Z
	low, high := r.Plan()
	l := r.lanesOf(f, meet(feet, plane.Point{(low[0] + high[0]) / 2, (low[1] + high[1]) / 2}))
	if !l.suits() {
		return nil, f.System, ErrSystem
	}
	best := web{holds: math.Inf(1)}
	try := func(x, y float64) {
		aside := max(f.Sprue, f.Top, f.Rim)/2 + r.Wall
		grown := r.grown([2]plane.Point{{x - aside, y - aside}, {x + aside, y + aside}})
		if f.At == nil {
			if !r.Grows && (grown > 0 || r.Round > 0 && !r.walled(r3.Vec{X: x, Y: y, Z: top}, max(f.Rim, f.Top)/2)) {
				return
			}
			if grown*Rubber > best.holds || r.aside(x, y) < f.Sprue/2+r.Clear-1e-6 {
				return
			}
		}
		foot := r3.Vec{X: x, Y: y, Z: l.rows[0].level}
		near := l
		if r.Level != nil {
			near = r.lanesOf(f, meet(feet, plane.Point{x, y}))
		}
		for _, w := range near.webs(foot) {
			w.holds += grown * Rubber
			if w.holds < best.holds-1e-9 && r.sweeps(w, f, top) {
				w.holds *= Sweeping
			}
			if w.holds < best.holds-1e-9 && (f.Forced || r.keeps(w, f, top)) {
				best = w
			}
		}
	}
	places, pitch := r.shafts(f, l)
	if r.Level != nil && f.At == nil {
		places = append(places, besides(f, feet)...)
		middle := plane.Point{(low[0] + high[0]) / 2, (low[1] + high[1]) / 2}
		slices.SortStableFunc(places, func(a, b plane.Point) int { // of two that take as much the one before the middle of a side
			return cmp.Compare(apartInPlan(a, middle), apartInPlan(b, middle))
		})
	}
	for _, at := range places {
		try(at[0], at[1])
	}
	if math.IsInf(best.holds, 1) && r.Level != nil && (f.System == "" || f.System == Comb) {
		if w, ok := r.routed(f, feet, top); ok {
			return w.asLaid(f, top), w.system, nil
		}
	}
	if math.IsInf(best.holds, 1) {
		return nil, f.System, ErrNoShaft
	}
	for step := pitch / 2; f.At == nil && step > finer; step /= 2 { // closer, where the places looked at are too coarse
		for _, by := range [4]plane.Point{{step, 0}, {-step, 0}, {0, step}, {0, -step}} {
			if r.Sheet == nil || r.Sheet.AlongX == (by[0] != 0) {
				try(best.foot.X+by[0], best.foot.Y+by[1])
			}
		}
	}
	return best.asLaid(f, top), best.system, nil
}

// asLaid is a web from the well down, in the order of the resin.
func (w web) asLaid(f Feed, top float64) (out []Body) {
	neck := w.foot
	neck.Z = max(neck.Z, top-f.Depth)
	mouth := neck
	mouth.Z = top
	if f.Depth > 0 {
		out = append(out, f.well(neck, mouth))
	}
	out = append(out, f.sprue(neck, w.foot))
	return append(out, w.bodies...)
}

// finer is how close a sprue's place is looked for, mm.
const finer = 0.05

// shafts are the places where the sprue may stand, as far as they are looked
// at, and how far apart they are.
func (r *Room) shafts(f Feed, l *lanes) (out []plane.Point, pitch float64) {
	if f.At != nil {
		at := r3.Vec{X: f.At[0], Y: f.At[1]}
		if r.Sheet != nil {
			at = r.Sheet.onto(at)
		}
		return []plane.Point{{at.X, at.Y}}, 0
	}
	from, to := plane.Point{r.Low.X, r.Low.Y}, plane.Point{r.High.X, r.High.Y}
	if r.Grows {
		more := 2*r.Clear + f.Sprue + max(f.Sprue, f.Top, f.Rim)/2 + r.Wall
		from, to = plane.Point{from[0] - more, from[1] - more}, plane.Point{to[0] + more, to[1] + more}
	}
	pitch = max(2, (to[0]-from[0])/60, (to[1]-from[1])/60)
	low, high := r.Plan() // as close beside them as may be, or as far off as the box has room
	off, wall := r.Clear+f.Sprue/2, max(f.Sprue, f.Top, f.Rim)/2+r.Wall
	xs := ticks(from[0], to[0], pitch, append([]float64{low[0] - off, high[0] + off, r.Low.X + wall, r.High.X - wall}, l.x...))
	ys := ticks(from[1], to[1], pitch, append([]float64{low[1] - off, high[1] + off, r.Low.Y + wall, r.High.Y - wall}, l.y...))
	if r.Sheet != nil {
		if r.Sheet.AlongX {
			ys = []float64{r.Sheet.At}
		} else {
			xs = []float64{r.Sheet.At}
		}
	}
	for _, x := range xs {
		for _, y := range ys {
			out = append(out, plane.Point{x, y})
		}
	}
	return out, pitch
}

func apartInPlan(a, b plane.Point) float64 { return math.Hypot(a[0]-b[0], a[1]-b[1]) }

// besides are the places for a sprue right before the mouths in a level parting.
func besides(f Feed, feet []Foot) (out []plane.Point) {
	for _, foot := range feet {
		for _, m := range foot.Mouths {
			away := r3.Unit(r3.Vec{X: m.From.X - m.At.X, Y: m.From.Y - m.At.Y})
			at := r3.Add(m.From, r3.Scale(f.Sprue/2+f.Gate+finer, away))
			out = append(out, plane.Point{at.X, at.Y})
		}
	}
	return out
}

// sprue leads down from the neck of the well, as wide there as its foot or as its
// cone begins.
func (f Feed) sprue(neck, foot r3.Vec) Body {
	b := Body{Kind: Sprue, Cavity: Shared, Bore: f.Sprue, Path: []r3.Vec{neck, foot}}
	if f.Top > f.Sprue {
		b.Bore, b.Rim = f.Top, f.Sprue
	}
	return b
}

func (f Feed) well(neck, mouth r3.Vec) Body {
	wide := max(f.Sprue, f.Top)
	return Body{Kind: Well, Cavity: Shared, Bore: wide, Rim: max(f.Rim, wide), Path: []r3.Vec{neck, mouth}}
}

// whole is a web with the sprue over its foot, and the well.
func (w web) whole(f Feed, top float64) []Body {
	up := w.foot
	up.Z = top
	neck := up
	neck.Z = max(w.foot.Z, top-f.Depth)
	sprue := f.sprue(neck, w.foot)
	all := append(w.bodies[:len(w.bodies):len(w.bodies)], sprue)
	if f.Depth > 0 {
		all = append(all, f.well(neck, up))
	}
	return all
}

// sweeps is whether any of a web runs through a side piece.
func (r *Room) sweeps(w web, f Feed, top float64) bool {
	return len(r.Sweeps) > 0 && slices.ContainsFunc(w.whole(f, top), r.swept)
}

// keeps is whether a web and the sprue over its foot keep clear of all masters
// but those that they lead to, and of channels that are there. This is looked
// at on the mesh: as seen from above masters are known a little roughly.
func (r *Room) keeps(w web, f Feed, top float64) bool {
	all := w.whole(f, top)
	if w.system == Tree && w.crosses() {
		return false
	}
	for _, b := range all {
		if !b.steps(b.Bore/4, func(at r3.Vec, _, radius float64) bool {
			for place := range r.Places {
				if place != b.Cavity && r.near(place, at, radius+r.Clear-1e-6) {
					return false
				}
			}
			for _, o := range r.Bodies {
				if o.beyond(at) < radius+r.Between {
					return false
				}
			}
			return true
		}) {
			return false
		}
	}
	return true
}

// crosses is whether two bodies of a web run into one another, beyond their joint
// where they have one.
func (w web) crosses() bool {
	for i := range w.bodies {
		b := &w.bodies[i]
		for k := range w.bodies {
			if i == k {
				continue
			}
			o := &w.bodies[k]
			meet, joined := joint(*b, *o)
			if !b.steps(b.Bore/4, func(at r3.Vec, _, radius float64) bool {
				if joined && norm(r3.Sub(at, meet)) <= jointed*max(b.Bore, o.Bore)+b.Bore/2 {
					return true
				}
				return o.beyond(at) >= radius
			}) {
				return true
			}
		}
	}
	return false
}

// Rubber is what a mm³ of it counts against one of resin that is cut off at
// every pull: it lasts for many, and there is much more of it. Common
// practice, no source.
const Rubber = 0.05

// grown is by how much the box must grow to hold a rectangle of its plan, mm³.
func (r *Room) grown(of [2]plane.Point) float64 {
	if r.Round > 0 && r.Grows { // what is as wide as deep, and round
		x, y := (of[0][0]+of[1][0]-r.Low.X-r.High.X)/2, (of[0][1]+of[1][1]-r.Low.Y-r.High.Y)/2
		reach := max(r.Round/2, math.Hypot(x, y)+(of[1][0]-of[0][0])/2)
		return math.Pi * (reach*reach - r.Round*r.Round/4) * (r.High.Z - r.Low.Z)
	}
	wide := max(r.High.X, of[1][0]) - min(r.Low.X, of[0][0])
	deep := max(r.High.Y, of[1][1]) - min(r.Low.Y, of[0][1])
	return (wide*deep - (r.High.X-r.Low.X)*(r.High.Y-r.Low.Y)) * (r.High.Z - r.Low.Z)
}

// ticks are places along a side, those of lanes among them.
func ticks(from, to, pitch float64, lanes []float64) []float64 {
	var out []float64
	for n := math.Ceil((to - from) / pitch); len(out) <= int(n); {
		out = append(out, from+(to-from)*float64(len(out))/n)
	}
	for _, l := range lanes {
		if l > from && l < to {
			out = append(out, l)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}
