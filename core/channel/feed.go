package channel

import (
	"cmp"
	"errors"
	"math"
	"slices"

	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Feed says how resin is led in.
type Feed struct {
	Sprue, Runner, Gate float64 // bores, mm
	Rim, Depth          float64 // of the well, mm
}

// Foot is where a gate meets a cavity; one that falls into several spaces has
// a gate for each.
type Foot struct {
	Cavity int
	At     r3.Vec
}

// ErrNoShaft says that nothing in the box leaves room for a sprue.
var ErrNoShaft = errors.New("no place in the box has room for the sprue: leave more room between the cavities, " +
	"lay fewer, or take a thinner sprue")

// web is one way to lead resin from the sprue's foot to all gates.
type web struct {
	foot   r3.Vec  // of the sprue
	bodies []Body  // runners, then gates
	holds  float64 // mm³
}

// Under leads resin in from below: from a well down a sprue beside the
// masters, along runners under them, and up through a gate into each at its
// feet. Of all places for the sprue and all ways to run, the
// one that takes the least is chosen: channels by their resin, and a box that
// has to grow for them by its rubber, where grows says that it may.
//
// The bodies come joined, the sprue's foot and the runners a clearance below
// the lowest master.
func (r *Room) Under(f Feed, feet []Foot, grows bool) ([]Body, error) {
	low, top := math.Inf(1), r.High.Z
	for _, p := range r.Places {
		low = min(low, p.At.Z+r.low)
	}
	level := low - r.Clear - f.Runner/2
	lanes := lanesOf(f, feet, level)
	best := web{holds: math.Inf(1)}
	from, to := plane.Point{r.Low.X, r.Low.Y}, plane.Point{r.High.X, r.High.Y}
	aside := max(f.Sprue/2, f.Rim/2) + r.Wall
	if grows {
		more := 2*r.Clear + f.Sprue + aside
		from, to = plane.Point{from[0] - more, from[1] - more}, plane.Point{to[0] + more, to[1] + more}
	}
	pitch := max(1, (to[0]-from[0])/120, (to[1]-from[1])/120)
	for _, x := range ticks(from[0], to[0], pitch, lanes.x) {
		for _, y := range ticks(from[1], to[1], pitch, lanes.y) {
			box := [2]plane.Point{{x - aside, y - aside}, {x + aside, y + aside}}
			grown := r.grown(box)
			if grown > 0 && !grows || r.Round > 0 && !r.walled(r3.Vec{X: x, Y: y, Z: top}, f.Rim/2) {
				continue
			}
			if grown*Rubber > best.holds || r.beside(x, y) < f.Sprue/2+r.Clear {
				continue
			}
			foot := r3.Vec{X: x, Y: y, Z: level}
			for _, w := range lanes.webs(foot) {
				if w.holds += grown * Rubber; w.holds < best.holds-1e-9 && r.keeps(w, f, top) {
					best = w
				}
			}
		}
	}
	if math.IsInf(best.holds, 1) {
		return nil, ErrNoShaft
	}
	neck := best.foot
	neck.Z = max(level, top-f.Depth)
	mouth := neck
	mouth.Z = top
	out := []Body{
		{Kind: Well, Cavity: Shared, Bore: f.Sprue, Rim: max(f.Rim, f.Sprue), Path: []r3.Vec{neck, mouth}},
		{Kind: Sprue, Cavity: Shared, Bore: f.Sprue, Path: []r3.Vec{neck, best.foot}},
	}
	return append(out, best.bodies...), nil
}

// keeps is whether a web and the sprue over its foot keep clear of all masters
// but those that they lead to. This is looked at on the mesh: as seen from
// above masters are known a little roughly.
func (r *Room) keeps(w web, f Feed, top float64) bool {
	up := w.foot
	up.Z = top
	for _, b := range append(w.bodies, Body{Kind: Sprue, Cavity: Shared, Bore: f.Sprue, Path: []r3.Vec{w.foot, up}}) {
		if !b.steps(b.Bore/4, func(at r3.Vec, _, radius float64) bool {
			for place := range r.Places {
				if place != b.Cavity && r.near(place, at, radius+r.Clear-1e-6) {
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

// Rubber is what a mm³ of it counts against one of resin that is cut off at
// every pull: it lasts for many, and there is much more of it. Common
// practice, no source.
const Rubber = 0.05

// grown is by how much the box must grow to hold a rectangle of its plan, mm³.
func (r *Room) grown(of [2]plane.Point) float64 {
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

// lanes are the lines along which runners may lie: feet that lie nearly in a
// line share one.
type lanes struct {
	feed  Feed
	feet  []Foot
	level float64
	x, y  []float64
	onX   []int // the lane of every foot
	onY   []int
}

func lanesOf(f Feed, feet []Foot, level float64) *lanes {
	l := &lanes{feed: f, feet: feet, level: level}
	l.x, l.onX = grouped(feet, f.Runner+1, func(p r3.Vec) float64 { return p.X })
	l.y, l.onY = grouped(feet, f.Runner+1, func(p r3.Vec) float64 { return p.Y })
	return l
}

// grouped puts places whose coordinates lie within a distance into groups, and
// gives each group's middle.
func grouped(of []Foot, within float64, by func(r3.Vec) float64) (middles []float64, group []int) {
	order := make([]int, len(of))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(by(of[a].At), by(of[b].At)) })
	group = make([]int, len(of))
	for i := 0; i < len(order); {
		first := by(of[order[i]].At)
		last := first
		for ; i < len(order) && by(of[order[i]].At)-first < within; i++ {
			last = by(of[order[i]].At)
			group[order[i]] = len(middles)
		}
		middles = append(middles, (first+last)/2)
	}
	return middles, group
}

// leastAngle between two runners that meet, degrees: sharper ones run into
// one another far beyond their joint.
const leastAngle = 55

// webs are the ways to run from a sprue's foot: straight to each gate as far
// as they part soon enough, and along a trunk one way and the other.
func (l *lanes) webs(foot r3.Vec) (out []web) {
	if w, ok := l.star(foot); ok {
		out = append(out, w)
	}
	out = append(out, l.comb(foot, false), l.comb(foot, true))
	return out
}

func (w *web) add(kind Kind, cavity int, bore float64, path ...r3.Vec) {
	b := Body{Kind: kind, Cavity: cavity, Bore: bore, Path: path}
	if b.Length() < 1e-6 {
		return
	}
	w.bodies = append(w.bodies, b)
	w.holds += b.Full()
}

// gates adds the gates, each from a place on a runner.
func (l *lanes) gates(w *web, from func(i int) r3.Vec) {
	for i, foot := range l.feet {
		w.add(Gate, foot.Cavity, l.feed.Gate, from(i), foot.At)
	}
}

// star runs straight to every gate.
func (l *lanes) star(foot r3.Vec) (web, bool) {
	w := web{foot: foot}
	angles := make([]float64, 0, len(l.feet))
	for _, f := range l.feet {
		to := r3.Vec{X: f.At.X, Y: f.At.Y, Z: l.level}
		if r3.Norm(r3.Sub(to, foot)) < l.feed.Sprue/2+l.feed.Gate {
			return w, false
		}
		angles = append(angles, math.Atan2(to.Y-foot.Y, to.X-foot.X)*180/math.Pi)
		w.add(Runner, Shared, l.feed.Runner, foot, to)
	}
	slices.Sort(angles)
	for i, a := range angles {
		if i > 0 && a-angles[i-1] < leastAngle || i == 0 && len(angles) > 1 && a+360-angles[len(angles)-1] < leastAngle {
			return w, false
		}
	}
	l.gates(&w, func(i int) r3.Vec { return r3.Vec{X: l.feet[i].At.X, Y: l.feet[i].At.Y, Z: l.level} })
	return w, true
}

// comb runs along a trunk through the sprue's foot, along x or y, with a tooth
// to each lane of gates.
func (l *lanes) comb(foot r3.Vec, alongY bool) web {
	w := web{foot: foot}
	at := func(along, across float64) r3.Vec {
		if alongY {
			along, across = across, along
		}
		return r3.Vec{X: along, Y: across, Z: l.level}
	}
	split := func(p r3.Vec) (along, across float64) {
		if alongY {
			return p.Y, p.X
		}
		return p.X, p.Y
	}
	own, trunk := split(foot)
	teeth, on := slices.Clone(l.x), l.onX
	if alongY {
		teeth, on = slices.Clone(l.y), l.onY
	}
	close := (l.feed.Sprue+l.feed.Runner)/2 + 1
	low, high := own, own
	for i, t := range teeth {
		if math.Abs(t-own) < close {
			teeth[i] = own // a tooth beside the sprue grows out of its foot
		}
		low, high = min(low, teeth[i]), max(high, teeth[i])
	}
	for _, end := range []float64{low, high} {
		w.add(Runner, Shared, l.feed.Runner, at(own, trunk), at(end, trunk))
	}
	reach := map[float64][2]float64{}
	start := make([]r3.Vec, len(l.feet))
	for i, f := range l.feet {
		tooth := teeth[on[i]]
		_, across := split(f.At)
		if math.Abs(across-trunk) < (l.feed.Runner+l.feed.Gate)/2+0.5 {
			across = trunk // it rises out of the trunk
		}
		span, ok := reach[tooth]
		if !ok {
			span = [2]float64{trunk, trunk}
		}
		reach[tooth] = [2]float64{min(span[0], across), max(span[1], across)}
		start[i] = at(tooth, across)
	}
	for _, tooth := range slices.Sorted(func(yield func(float64) bool) {
		for t := range reach {
			if !yield(t) {
				return
			}
		}
	}) {
		for _, end := range reach[tooth] {
			w.add(Runner, Shared, l.feed.Runner, at(tooth, trunk), at(tooth, end))
		}
	}
	l.gates(&w, func(i int) r3.Vec { return start[i] })
	return w
}
