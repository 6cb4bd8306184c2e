package channel

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// row is the feet of masters that stand on one level, and the level of the
// runners under them.
type row struct {
	feet  []met
	level float64
}

// lanes are the lines along which runners may lie: feet that lie nearly in a
// line share one.
type lanes struct {
	feed  Feed
	rows  []row  // the lowest first
	sheet *Sheet // that runners lie in, or nil
	rise  float64
	x, y  []float64
	onX   []int // the lane of every foot of the lowest row
	onY   []int
}

// lanesOf puts feet into rows: by the level of their masters where the parting
// stands upright, else all into one.
func (r *Room) lanesOf(f Feed, feet []met) *lanes {
	l := &lanes{feed: f, sheet: r.Sheet, rise: f.Runner + r.Between}
	under := func(i int) float64 { return r.Places[feet[i].cavity].Low() - r.Clear - f.Runner/2 }
	if r.Level != nil {
		l.rise = 0
		under = func(int) float64 { return *r.Level }
	}
	order := make([]int, len(feet))
	for i := range order {
		order[i] = i
	}
	if r.Sheet != nil {
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(under(a), under(b)) })
	}
	for _, i := range order {
		last := len(l.rows) - 1
		if last < 0 || r.Sheet != nil && under(i) > l.rows[last].level+f.Runner {
			l.rows, last = append(l.rows, row{level: under(i)}), last+1
		}
		l.rows[last].feet = append(l.rows[last].feet, feet[i])
		l.rows[last].level = min(l.rows[last].level, under(i))
	}
	l.x, l.onX = grouped(l.rows[0].feet, f.Runner+1, func(p r3.Vec) float64 { return p.X })
	l.y, l.onY = grouped(l.rows[0].feet, f.Runner+1, func(p r3.Vec) float64 { return p.Y })
	return l
}

// grouped puts places whose coordinates lie within a distance into groups, and
// gives each group's middle.
func grouped(of []met, within float64, by func(r3.Vec) float64) (middles []float64, group []int) {
	order := make([]int, len(of))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(by(of[a].From), by(of[b].From)) })
	group = make([]int, len(of))
	for i := 0; i < len(order); {
		first := by(of[order[i]].From)
		last := first
		for ; i < len(order) && by(of[order[i]].From)-first < within; i++ {
			last = by(of[order[i]].From)
			group[order[i]] = len(middles)
		}
		middles = append(middles, (first+last)/2)
	}
	return middles, group
}

// leastAngle between two runners that meet, degrees: sharper ones run into
// one another far beyond their joint.
const leastAngle = 55

// suits is whether the system that is asked for serves such rows.
func (l *lanes) suits() bool {
	one := len(l.rows) == 1
	switch l.feed.System {
	case Ring:
		return l.sheet == nil
	case Comb:
		return one
	case Tree:
		return one && len(l.rows[0].feet) > 1
	case Ladder:
		return !one
	}
	return true
}

// can is whether a system is asked for, or none and it may be proposed.
func (l *lanes) can(s System) bool {
	switch {
	case l.feed.System != "":
		return l.feed.System == s
	case s == Tree: // it takes more of everything than a comb, but for balance
		return false
	}
	return true
}

// webs are the ways to run from a sprue's foot.
func (l *lanes) webs(foot r3.Vec) (out []web) {
	one := len(l.rows) == 1
	switch {
	case l.sheet == nil:
		if w, ok := l.star(foot); l.can(Ring) && ok {
			out = append(out, w)
		}
		if l.can(Comb) {
			out = append(out, l.comb(foot, false), l.comb(foot, true))
		}
	case one && l.can(Comb) || !one && l.can(Ladder):
		out = append(out, l.rungs(foot))
	}
	if one && l.can(Tree) && len(l.rows[0].feet) > 1 {
		out = append(out, l.tree(foot))
	}
	return out
}

// gates adds the gates of the lowest row, each from a place on a runner.
func (l *lanes) gates(w *web, from func(i int) r3.Vec) {
	for i, foot := range l.rows[0].feet {
		w.add(Gate, foot.cavity, l.feed.Gate, from(i), foot.At)
	}
}

// rungs run in the upright parting, one under each row.
func (l *lanes) rungs(foot r3.Vec) web {
	w := web{system: Comb, foot: foot}
	if len(l.rows) > 1 {
		w.system = Ladder
	}
	own := l.sheet.along(foot)
	for _, row := range l.rows {
		low, high := own, own
		at := func(along float64) r3.Vec { return l.sheet.at(along, row.level) }
		var starts []r3.Vec
		for _, f := range row.feet {
			along := l.sheet.along(f.From)
			low, high = min(low, along), max(high, along)
			starts = append(starts, at(along))
		}
		for _, end := range []float64{low, high} {
			w.add(Runner, Shared, l.feed.Runner, at(own), at(end))
		}
		for i, f := range row.feet {
			w.add(Gate, f.cavity, l.feed.Gate, starts[i], f.At)
		}
	}
	return w
}

// tree halves the feet again and again: a run to the middle of each half, and
// there up by a level, until each run leads to a foot alone.
func (l *lanes) tree(foot r3.Vec) web {
	feet := l.rows[0].feet
	on := make([]r3.Vec, len(feet)) // where the feet lie for the runners
	for i, f := range feet {
		if on[i] = f.From; l.sheet != nil {
			on[i] = l.sheet.onto(f.From)
		}
	}
	levels := 0
	for n := len(feet); n > 1; n = (n + 1) / 2 {
		levels++
	}
	var middle r3.Vec
	for _, p := range on {
		middle = r3.Add(middle, r3.Scale(1/float64(len(on)), p))
	}
	central := math.Hypot(foot.X-middle.X, foot.Y-middle.Y) < (l.feed.Sprue+l.feed.Runner)/2
	if central { // the first halving is at the sprue's foot itself
		levels--
	}
	base := l.rows[0].level - float64(levels)*l.rise
	w := web{system: Tree, foot: r3.Vec{X: foot.X, Y: foot.Y, Z: base}}
	var part func(from r3.Vec, which []int, level int)
	part = func(from r3.Vec, which []int, level int) {
		z := base + float64(level)*l.rise
		var middle r3.Vec
		for _, i := range which {
			middle = r3.Add(middle, r3.Scale(1/float64(len(which)), on[i]))
		}
		to := r3.Vec{X: middle.X, Y: middle.Y, Z: from.Z}
		if len(which) == 1 {
			w.add(Runner, Shared, l.feed.Runner, from, to)
			w.add(Gate, feet[which[0]].cavity, l.feed.Gate, to, feet[which[0]].At)
			return
		}
		up := to
		up.Z = z + l.rise
		if central && level < 0 {
			up = from
		} else {
			w.add(Runner, Shared, l.feed.Runner, from, to, up)
		}
		long := func(i int) float64 { return on[i].X }
		if spread(which, on, func(p r3.Vec) float64 { return p.Y }) > spread(which, on, func(p r3.Vec) float64 { return p.X }) {
			long = func(i int) float64 { return on[i].Y }
		}
		slices.SortStableFunc(which, func(a, b int) int { return cmp.Compare(long(a), long(b)) })
		half := len(which) / 2
		part(up, slices.Clone(which[:half]), level+1)
		part(up, slices.Clone(which[half:]), level+1)
	}
	all := make([]int, len(feet))
	for i := range all {
		all[i] = i
	}
	if central {
		part(w.foot, all, -1)
	} else {
		part(w.foot, all, 0)
	}
	return w
}

func spread(which []int, at []r3.Vec, by func(r3.Vec) float64) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, i := range which {
		low, high = min(low, by(at[i])), max(high, by(at[i]))
	}
	return high - low
}

// star runs straight to every gate.
func (l *lanes) star(foot r3.Vec) (web, bool) {
	feet := l.rows[0].feet
	w := web{system: Ring, foot: foot}
	angles := make([]float64, 0, len(feet))
	for _, f := range feet {
		to := r3.Vec{X: f.From.X, Y: f.From.Y, Z: foot.Z}
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
	l.gates(&w, func(i int) r3.Vec { return r3.Vec{X: feet[i].From.X, Y: feet[i].From.Y, Z: foot.Z} })
	return w, true
}

// comb runs along a trunk through the sprue's foot, along x or y, with a tooth
// to each lane of gates.
func (l *lanes) comb(foot r3.Vec, alongY bool) web {
	w := web{system: Comb, foot: foot}
	at := func(along, across float64) r3.Vec {
		if alongY {
			along, across = across, along
		}
		return r3.Vec{X: along, Y: across, Z: foot.Z}
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
	start := make([]r3.Vec, len(l.rows[0].feet))
	for i, f := range l.rows[0].feet {
		tooth := teeth[on[i]]
		_, across := split(f.From)
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
