// Package gang lays several cavities of one part into a box or into the round
// of the pressure pot: in rows, in rows with every other one turned round, in
// hexagons, in rings about a well, or as close as they can be pushed. The
// true outline counts, not only the rectangle round it. Every layout is
// checked against every other cavity and the wall before it is offered.
package gang

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"bathyform/core/plane"
)

// Ask is what a gang must keep to.
type Ask struct {
	Count      int     // cavities; 0 for as many as there is room for
	Pot        float64 // inner diameter of the pot, mm; 0 for none
	Wide, Deep float64 // of the floor, mm; 0 for none
	Gap        float64 // mm between cavities
	Edge       float64 // mm between a cavity and the wall
}

// Most is the greatest number of cavities that is looked for.
const Most = 400

// mostRoom is the longest that a shop's floor, pot or clearance can be, mm.
const mostRoom = 10_000

// Layout is a gang.
type Layout struct {
	Kind       string // how it was laid: rows, nested pairs, hexagons, ring, pushed together
	Poses      []Pose
	Wide, Deep float64 // of the box, mm, edges included
	Diameter   float64 // of a round box, mm, edges included; 0 where none was asked for
}

// Errors that a caster can do something about.
var (
	ErrNoRoom = errors.New("not one cavity has room: take a smaller edge, a larger floor, or turn the part")
	ErrFewer  = errors.New("there is no room for so many")
)

// eps is the share of a shape by which clearances may be short: rounding.
const eps = 1e-5

// Check refuses what nothing can be laid by.
func (a Ask) Check() error {
	for _, v := range []struct {
		name  string
		value float64
		least float64
	}{{"gap", a.Gap, 0}, {"edge", a.Edge, 0}, {"pot", a.Pot, 0}, {"floor", a.Wide, 0}, {"floor", a.Deep, 0}} {
		if math.IsNaN(v.value) || math.IsInf(v.value, 0) || v.value < v.least {
			return fmt.Errorf("the %s must be a number of millimetres that is not negative, not %g", v.name, v.value)
		}
		if v.value > mostRoom {
			return fmt.Errorf("the %s can be %d mm at most, not %g", v.name, mostRoom, v.value)
		}
	}
	if a.Count < 0 || a.Count > Most {
		return fmt.Errorf("from 1 to %d cavities can be laid, not %d", Most, a.Count)
	}
	if (a.Wide > 0) != (a.Deep > 0) {
		return errors.New("the floor needs a width and a depth")
	}
	return nil
}

// Lay finds the layout with the most cavities, or of the number asked for the
// one on the least room. When fewer have room than were asked for it returns
// what has, with ErrFewer.
func Lay(s Shape, a Ask) (Layout, error) {
	if err := a.Check(); err != nil {
		return Layout{}, err
	}
	if a.Pot == 0 && a.Wide == 0 && a.Count == 0 {
		return Layout{}, errors.New("say how many cavities, or how much room there is")
	}
	switch { // a gap wider than the room is no different
	case a.Pot > 0:
		a.Gap = min(a.Gap, a.Pot)
	case a.Wide > 0:
		a.Gap = min(a.Gap, math.Hypot(a.Wide, a.Deep))
	}
	t := &table{shape: s, ask: a, gap: a.Gap + 2*s.Slack, tol: eps * max(s.Radius, 1)}
	var all []Layout
	switch {
	case a.Pot > 0:
		all = t.round()
	case a.Wide > 0:
		all = t.floor()
	default:
		all = t.smallest(t.patterns())
	}
	slices.SortStableFunc(all, func(p, q Layout) int {
		return cmp.Or(cmp.Compare(len(q.Poses), len(p.Poses)), cmp.Compare(p.room(), q.room()))
	})
	first := slices.IndexFunc(all, func(l Layout) bool { return len(l.Poses) > 0 && t.sound(l.Poses) })
	if first < 0 {
		return Layout{}, ErrNoRoom
	}
	best := all[first]
	if a.Count > 0 && len(best.Poses) < a.Count {
		return best, fmt.Errorf("%w: %d instead of %d", ErrFewer, len(best.Poses), a.Count)
	}
	return best, nil
}

// Smallest lays 1, 2, 3 and so on up to most cavities, each number into the
// smallest box that it finds.
func Smallest(s Shape, a Ask, most int) []Layout {
	a.Pot, a.Wide, a.Deep = 0, 0, 0
	if a.Check() != nil {
		return nil
	}
	t := &table{shape: s, ask: a, gap: a.Gap + 2*s.Slack, tol: eps * max(s.Radius, 1)}
	patterns := t.patterns()
	var out []Layout
	for n := 1; n <= most; n++ {
		t.ask.Count = n
		all := t.smallest(patterns)
		slices.SortStableFunc(all, func(p, q Layout) int { return cmp.Compare(p.room(), q.room()) })
		for _, l := range all { // the first that is sound is enough
			if t.sound(l.Poses) {
				out = append(out, l)
				break
			}
		}
	}
	return out
}

func (l Layout) room() float64 {
	if l.Diameter > 0 {
		return math.Pi / 4 * l.Diameter * l.Diameter
	}
	return l.Wide * l.Deep
}

// table is a search at work.
type table struct {
	shape Shape
	ask   Ask
	gap   float64
	tol   float64
	seps  map[[4]float64]float64
}

// wanted is how many cavities are enough.
func (t *table) wanted() int {
	if t.ask.Count > 0 {
		return t.ask.Count
	}
	return Most
}

// sound checks every cavity against every other and the wall.
func (t *table) sound(poses []Pose) bool {
	rings := make([][]plane.Point, len(poses))
	for i, p := range poses {
		rings[i] = t.shape.Laid(p)
		for _, q := range rings[i] {
			if t.ask.Pot > 0 && math.Hypot(q[0], q[1]) > t.ask.Pot/2-t.ask.Edge-t.shape.Slack+t.tol {
				return false
			}
		}
	}
	if b := extent(rings); t.ask.Wide > 0 && t.ask.Pot == 0 {
		if b[1]-b[0] > t.ask.Wide-2*t.ask.Edge-2*t.shape.Slack+2*t.tol || b[3]-b[2] > t.ask.Deep-2*t.ask.Edge-2*t.shape.Slack+2*t.tol {
			return false
		}
	}
	for i := range rings {
		for j := range i {
			if !t.clear(poses[i], poses[j], rings[i], rings[j]) {
				return false
			}
		}
	}
	return true
}

func (t *table) clear(p, q Pose, a, b []plane.Point) bool {
	d := math.Hypot(p.X-q.X, p.Y-q.Y)
	if d >= 2*t.shape.Radius+t.gap-t.tol || t.shape.Round {
		return d >= 2*t.shape.Radius+t.gap-t.tol
	}
	return apart(a, b, t.gap) >= t.gap-t.tol
}

func extent(rings [][]plane.Point) (b [4]float64) {
	b = [4]float64{math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)}
	for _, r := range rings {
		o := bounds(r)
		b = [4]float64{min(b[0], o[0]), max(b[1], o[1]), min(b[2], o[2]), max(b[3], o[3])}
	}
	return b
}

// boxed puts poses into the middle of a box of their own size.
func (t *table) boxed(kind string, poses []Pose) Layout {
	rings := make([][]plane.Point, len(poses))
	for i, p := range poses {
		rings[i] = t.shape.Laid(p)
	}
	b := extent(rings)
	out := Layout{Kind: kind, Wide: b[1] - b[0] + 2*(t.ask.Edge+t.shape.Slack), Deep: b[3] - b[2] + 2*(t.ask.Edge+t.shape.Slack)}
	for _, p := range poses {
		out.Poses = append(out.Poses, Pose{p.X - (b[0]+b[1])/2, p.Y - (b[2]+b[3])/2, math.Mod(p.Turn+360, 360)})
	}
	return out
}

// potted measures the circle that poses about the middle take.
func (t *table) potted(kind string, poses []Pose) Layout {
	out := t.boxed(kind, poses)
	out.Poses = poses
	far := 0.0
	for _, p := range poses {
		for _, q := range t.shape.Laid(p) {
			far = max(far, math.Hypot(q[0], q[1]))
		}
	}
	out.Diameter = 2 * (far + t.ask.Edge + t.shape.Slack)
	return out
}

// slide moves b in from far away along x (or y) until it would come nearer to
// a than the gap, and returns the distance of their middles along that way:
// it is carried on by its distance each time, so it passes no contact.
func (t *table) slide(turnA, turnB, off float64, alongY bool) float64 {
	if t.shape.Round {
		if d := 2*t.shape.Radius + t.gap; math.Abs(off) < d {
			return math.Sqrt(d*d - off*off)
		}
		return math.Inf(-1)
	}
	key := [4]float64{turnA, turnB, off, 0}
	if alongY {
		key[3] = 1
	}
	if d, ok := t.seps[key]; ok {
		return d
	}
	a := t.shape.Laid(Pose{Turn: turnA})
	from := 2*t.shape.Radius + t.gap + t.tol
	d := from
	for range 150 {
		p := Pose{X: d, Y: off, Turn: turnB}
		if alongY {
			p = Pose{X: off, Y: d, Turn: turnB}
		}
		away := t.shape.Radius // farther than that it does not matter how far
		if math.Hypot(p.X, p.Y) < 2*t.shape.Radius+t.gap+t.shape.Radius {
			away = apart(a, t.shape.Laid(p), t.shape.Radius+t.gap) - t.gap
		}
		if away < t.tol/50 {
			d += max(0, t.tol/50-away)
			break
		}
		if d -= away; d < -from { // it goes by without touching
			d = math.Inf(-1)
			break
		}
	}
	if t.seps == nil {
		t.seps = make(map[[4]float64]float64)
	}
	t.seps[key] = d
	return d
}

// Rubber is what a box of the layout's size takes, less its cavities, in mm³:
// height is the box's, part the volume of one part.
func (l Layout) Rubber(height, part float64) float64 {
	return max(0, l.room()*height-float64(len(l.Poses))*part)
}
