package channel

import (
	"cmp"
	"container/heap"
	"math"
	"slices"

	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// How runners are routed between masters that lie anyhow. Common practice, no
// source.
const (
	routeCell  = 2.0 // mm between places that are looked at, at the least
	routeCells = 160 // of them along the longer side, at the most
	routeTries = 10  // places for the sprue that are looked at
	docking    = 2.5 // cells from which a gate's beginning is reached straight
)

// router is a level parting as runners are routed in it.
type router struct {
	*Room
	f          Feed
	z, cell    float64
	from       plane.Point
	wide, deep int
	free       []bool
}

// routed leads runners in the level parting round whatever lies in it: from the
// sprue to the gate that is nearest, and on from the runners that are there to
// the next (a Steiner tree by shortest paths, Takahashi & Matsuyama 1980). The
// first place for the sprue is taken from which all gates are reached; those come
// first to which the gates are near. Not ok where a gate cannot be reached, or
// nothing is left for the sprue.
func (r *Room) routed(f Feed, feet []Foot, top float64) (w web, ok bool) {
	t := r.router(f)
	for _, at := range t.shafts(feet) {
		if w, reached := t.webFrom(at, feet); reached && (f.Forced || r.keeps(w, f, top)) {
			return w, true
		}
	}
	return w, false
}

// router looks at where a runner is clear of all masters.
func (r *Room) router(f Feed) *router {
	more := 0.0
	if r.Grows {
		more = 2*r.Clear + f.Sprue
	}
	t := &router{Room: r, f: f, z: *r.Level, from: plane.Point{r.Low.X - more, r.Low.Y - more}}
	wide, deep := r.High.X-r.Low.X+2*more, r.High.Y-r.Low.Y+2*more
	t.cell = max(routeCell, max(wide, deep)/routeCells)
	t.wide, t.deep = int(wide/t.cell)+1, int(deep/t.cell)+1
	t.free = make([]bool, t.wide*t.deep)
	for i := range t.free {
		p := t.at(i)
		t.free[i] = t.clear(p, f.Runner/2) && (r.Grows || r.walled(p, f.Runner/2))
	}
	return t
}

func (t *router) at(i int) r3.Vec {
	return r3.Vec{X: t.from[0] + float64(i%t.wide)*t.cell, Y: t.from[1] + float64(i/t.wide)*t.cell, Z: t.z}
}

// clear is whether a channel of a radius is clear of all masters at a place.
func (t *router) clear(p r3.Vec, radius float64) bool {
	for place := range t.Places {
		if t.near(place, p, radius+t.Clear-1e-6) {
			return false
		}
	}
	return true
}

// straight is whether a runner lies clear from one place to another.
func (t *router) straight(a, b r3.Vec) bool {
	return Body{
		Bore: t.f.Runner,
		Path: []r3.Vec{a, b},
	}.steps(
		t.f.Runner/4,
		func(p r3.Vec, _, radius float64) bool { return t.clear(p, radius) },
	)
}

// shafts are places for the sprue, those first from which all gates are near.
func (t *router) shafts(feet []Foot) (out []plane.Point) {
	if t.f.At != nil {
		return []plane.Point{*t.f.At}
	}
	type candidate struct {
		at  plane.Point
		far float64
	}
	var all []candidate
	for i, free := range t.free {
		p := t.at(i)
		if head := (r3.Vec{X: p.X, Y: p.Y, Z: t.High.Z}); !t.Grows && !t.walled(head, max(t.f.Sprue, t.f.Top, t.f.Rim)/2) {
			continue
		}
		if !free || !t.clear(p, t.f.Sprue/2) || t.aside(p.X, p.Y) < t.f.Sprue/2+t.Clear-1e-6 {
			continue
		}
		far := 0.0
		for _, m := range meet(feet, plane.Point{p.X, p.Y}) {
			far += math.Hypot(m.From.X-p.X, m.From.Y-p.Y)
		}
		all = append(all, candidate{plane.Point{p.X, p.Y}, far})
	}
	slices.SortStableFunc(all, func(a, b candidate) int { return cmp.Compare(a.far, b.far) })
	for i := 0; i < len(all) && len(out) < routeTries; i += 1 + len(all)/(4*routeTries) {
		out = append(out, all[i].at)
	}
	return out
}

// webFrom is the web from one place of the sprue.
func (t *router) webFrom(at plane.Point, feet []Foot) (web, bool) {
	foot := r3.Vec{X: at[0], Y: at[1], Z: t.z}
	w := web{system: Comb, foot: foot}
	grown := []r3.Vec{foot} // places of the runners that are there
	left := slices.Clone(feet)
	for len(left) > 0 {
		which, mouth, way, ok := t.next(grown, left)
		if !ok {
			return w, false
		}
		if len(way) > 1 {
			w.add(Runner, Shared, t.f.Runner, way...)
			for i := 1; i < len(way); i++ {
				n := int(r3.Norm(r3.Sub(way[i], way[i-1]))/t.cell) + 1
				for k := 1; k <= n; k++ {
					grown = append(grown, r3.Add(way[i-1], r3.Scale(float64(k)/float64(n), r3.Sub(way[i], way[i-1]))))
				}
			}
		}
		w.add(Gate, left[which].Cavity, t.f.Gate, way[len(way)-1], mouth.At)
		left = slices.Delete(left, which, which+1)
	}
	return w, true
}

// next is the way from the runners that are there to the mouth that is nearest of
// all feet that are left, pulled straight.
func (t *router) next(grown []r3.Vec, left []Foot) (which int, mouth Mouth, way []r3.Vec, ok bool) {
	done := make([]float64, len(t.free))
	from := make([]int32, len(t.free))
	source := make(map[int32]r3.Vec, len(grown))
	for i := range done {
		done[i], from[i] = math.Inf(1), -1
	}
	open := &queue{}
	docks := map[int32][][2]int{} // mouths by the cells round them: foot, mouth
	for i, f := range left {
		for k, m := range f.Mouths {
			t.round(m.From, docking, func(c int32) { docks[c] = append(docks[c], [2]int{i, k}) })
		}
	}
	for _, p := range grown {
		t.round(p, 1, func(c int32) {
			if far := r3.Norm(r3.Sub(t.at(int(c)), p)); far < done[c] && t.straight(p, t.at(int(c))) {
				done[c], source[c] = far, p
				heap.Push(open, step{at: [3]int32{c}, done: far, guess: far})
			}
		})
	}
	for open.Len() > 0 {
		now := heap.Pop(open).(step)
		c := now.at[0]
		if now.done > done[c] {
			continue
		}
		for _, d := range docks[c] {
			m := left[d[0]].Mouths[d[1]]
			if !t.straight(t.at(int(c)), m.From) {
				continue
			}
			way = []r3.Vec{m.From}
			i := c
			for ; from[i] >= 0; i = from[i] {
				way = append(way, t.at(int(i)))
			}
			way = append(way, t.at(int(i)), source[i])
			slices.Reverse(way)
			return d[0], m, t.taut(way), true
		}
		x, y := int(c)%t.wide, int(c)/t.wide
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				nx, ny := x+dx, y+dy
				if nx < 0 || ny < 0 || nx >= t.wide || ny >= t.deep || !t.free[ny*t.wide+nx] {
					continue
				}
				n := int32(ny*t.wide + nx)
				if far := now.done + t.cell*math.Hypot(float64(dx), float64(dy)); far < done[n]-1e-9 {
					done[n], from[n] = far, c
					heap.Push(open, step{at: [3]int32{n}, done: far, guess: far})
				}
			}
		}
	}
	return 0, mouth, nil, false
}

// round calls use for the free places within so many cells of p.
func (t *router) round(p r3.Vec, cells float64, use func(c int32)) {
	reach := int(math.Ceil(cells))
	cx, cy := int(math.Round((p.X-t.from[0])/t.cell)), int(math.Round((p.Y-t.from[1])/t.cell))
	for y := max(0, cy-reach); y <= min(t.deep-1, cy+reach); y++ {
		for x := max(0, cx-reach); x <= min(t.wide-1, cx+reach); x++ {
			if i := y*t.wide + x; t.free[i] && r3.Norm(r3.Sub(t.at(i), p)) <= cells*t.cell {
				use(int32(i))
			}
		}
	}
}

// taut leaves out of a way what is not needed to go round things.
func (t *router) taut(way []r3.Vec) []r3.Vec {
	out := way[:1:1]
	for i := 0; i < len(way)-1; {
		j := len(way) - 1
		for j > i+1 && !t.straight(way[i], way[j]) {
			j--
		}
		out, i = append(out, way[j]), j
	}
	return out
}
