package fill

import (
	"cmp"
	"container/heap"
	"math"
	"slices"

	"bathyform/core/forest"

	"gonum.org/v1/gonum/spatial/r3"
)

// Course is the order in which a space fills from where liquid comes in: a
// basin behind a sill only once the level stands at the sill. It is good to a
// column. The zero course is that of one level everywhere.
type Course struct {
	of   *Space
	pass []float64 // of each stretch, the level at which liquid comes into it
}

// Known is whether the course was followed.
func (c Course) Known() bool { return c.of != nil }

// Basin is a part of a space that fills over a sill.
type Basin struct {
	Volume float64 // mm³ up to the sill
	Sill   float64 // its height along up, mm
	Fall   float64 // from the sill to the basin's lowest place, mm
	At     r3.Vec  // that place, mesh coordinates
}

// reached is a stretch with the level at which liquid comes into it.
type reached struct {
	at   float64
	span int32
}

type coming []reached

func (q coming) Len() int           { return len(q) }
func (q coming) Less(i, j int) bool { return q[i].at < q[j].at }
func (q coming) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *coming) Push(x any)        { *q = append(*q, x.(reached)) }
func (q *coming) Pop() any {
	old := *q
	last := old[len(old)-1]
	*q = old[:len(old)-1]
	return last
}

// Course follows liquid from inlets, in mesh coordinates: down to where it
// gathers, and from there over the lowest sills into the whole space. The level
// at which each stretch is reached is the least, over all ways, of the highest
// floor on the way (Barnes, Lehman & Mulla 2014, turned upside down). What no
// inlet leads to counts as reached.
func (s *Space) Course(inlets []r3.Vec) Course {
	g := &s.grid
	c := Course{of: s, pass: make([]float64, len(g.spans))}
	for i := range c.pass {
		c.pass[i] = math.Inf(1)
	}
	var pools []int32
	for _, p := range inlets {
		if i := s.stretchAt(s.Frame.In(p)); i >= 0 {
			pools = append(pools, c.gathers(i))
		}
	}
	c.spread(pools, func(int32) bool { return true })
	for i := range c.pass {
		if math.IsInf(c.pass[i], 1) {
			c.pass[i] = g.spans[i].lo
		}
	}
	return c
}

// gathers is where liquid gathers that comes in at a stretch: it runs down, over
// sills of no more than a column's width, as long as it finds a lower place.
func (c Course) gathers(from int32) int32 {
	g := &c.of.grid
	for {
		lower := int32(-1)
		touched := c.spread([]int32{from}, func(i int32) bool {
			if g.spans[i].lo < g.spans[from].lo {
				lower = i
			}
			return lower < 0 && c.pass[i] <= g.spans[from].lo+g.Cell
		})
		for _, i := range touched {
			c.pass[i] = math.Inf(1)
		}
		if lower < 0 {
			return from
		}
		from = lower
	}
}

// spread notes the passes of all stretches from pools on, the lowest first, for
// as long as it is to go on, and says which it noted.
func (c Course) spread(pools []int32, on func(i int32) bool) (touched []int32) {
	g := &c.of.grid
	open := &coming{}
	come := func(i int32, at float64) {
		if at < c.pass[i] {
			c.pass[i] = at
			touched = append(touched, i)
			heap.Push(open, reached{at, i})
		}
	}
	for _, i := range pools {
		come(i, g.spans[i].lo)
	}
	for open.Len() > 0 {
		now := heap.Pop(open).(reached)
		if now.at > c.pass[now.span] {
			continue
		}
		if !on(now.span) {
			break
		}
		a := g.spans[now.span]
		x, y := int(a.column)%g.NX, int(a.column)/g.NX
		for _, next := range [4][2]int{{x + 1, y}, {x - 1, y}, {x, y + 1}, {x, y - 1}} {
			if next[0] < 0 || next[1] < 0 || next[0] >= g.NX || next[1] >= g.NY {
				continue
			}
			n := next[1]*g.NX + next[0]
			for j := g.start[n]; j < g.start[n+1]; j++ {
				if b := &g.spans[j]; a.lo < b.hi && b.lo < a.hi {
					come(j, max(now.at, b.lo))
				}
			}
		}
	}
	return touched
}

// stretchAt is the stretch of space that holds a place of the frame, or one
// beside it at that height; -1 for none.
func (s *Space) stretchAt(p r3.Vec) int32 {
	g := &s.grid
	best, far := int32(-1), math.Inf(1)
	cx, cy := g.CellX(p.X), g.CellY(p.Y)
	for dy := -1; dy <= 1; dy++ {
		for dx := -1; dx <= 1; dx++ {
			x, y := cx+dx, cy+dy
			if x < 0 || y < 0 || x >= g.NX || y >= g.NY {
				continue
			}
			n := y*g.NX + x
			mx, my := g.Centre(n)
			for j := g.start[n]; j < g.start[n+1]; j++ {
				span := &g.spans[j]
				off := math.Hypot(math.Hypot(mx-p.X, my-p.Y), max(0, span.lo-p.Z, p.Z-span.hi))
				if off < far {
					best, far = j, off
				}
			}
		}
	}
	return best
}

// Levels is the curve of the space as it fills in this course, see
// [Space.Levels].
func (c Course) Levels(low, high float64, n int) Curve { return c.of.levels(low, high, n, nil, c.pass) }

// Basins are what fills over sills, down to a least fall and volume, the largest
// first.
func (c Course) Basins(fall, volume float64) (out []Basin) {
	if c.of == nil {
		return nil
	}
	at, _ := c.basins()
	for _, b := range at {
		if b.Fall >= fall && b.Volume >= volume {
			out = append(out, *b)
		}
	}
	slices.SortFunc(out, func(a, b Basin) int {
		return cmp.Or(cmp.Compare(b.Volume, a.Volume), cmp.Compare(a.At.X, b.At.X), cmp.Compare(a.At.Y, b.At.Y))
	})
	return out
}

// Later is a stretch that stays dry until the level stands at a sill, in the frame:
// a square about X, Y from Lo to Hi.
type Later struct{ X, Y, Lo, Hi, Sill float64 }

// Dry are the stretches of the basins that fill over sills, for drawing.
func (c Course) Dry(fall, volume float64) (out []Later) {
	if c.of == nil {
		return nil
	}
	g := &c.of.grid
	at, joined := c.basins()
	for i := range g.spans {
		if span := &g.spans[i]; c.behind(int32(i)) {
			if b := at[joined.Root(int32(i))]; b.Fall >= fall && b.Volume >= volume {
				x, y := g.Centre(int(span.column))
				out = append(out, Later{x, y, span.lo, min(span.hi, b.Sill), b.Sill})
			}
		}
	}
	return out
}

// behind is whether a stretch fills over a sill.
func (c Course) behind(i int32) bool { return c.pass[i] > c.of.grid.spans[i].lo+1e-9 }

// basins are all that fill over sills, by the stretch that stands for each.
func (c Course) basins() (map[int32]*Basin, forest.Forest) {
	g := &c.of.grid
	joined := forest.New(len(g.spans))
	for i := range g.spans {
		a := &g.spans[i]
		if !c.behind(int32(i)) {
			continue
		}
		x, y := int(a.column)%g.NX, int(a.column)/g.NX
		for _, next := range [2][2]int{{x + 1, y}, {x, y + 1}} {
			if next[0] >= g.NX || next[1] >= g.NY {
				continue
			}
			n := next[1]*g.NX + next[0]
			for j := g.start[n]; j < g.start[n+1]; j++ {
				if b := &g.spans[j]; c.behind(j) && a.lo < b.hi && b.lo < a.hi && c.pass[i] == c.pass[j] {
					joined.Join(j, int32(i))
				}
			}
		}
	}
	at := map[int32]*Basin{}
	for i := range g.spans {
		span := &g.spans[i]
		if !c.behind(int32(i)) {
			continue
		}
		root := joined.Root(int32(i))
		b := at[root]
		if b == nil {
			b = &Basin{Sill: c.pass[i]}
			at[root] = b
		}
		b.Volume += (min(span.hi, b.Sill) - span.lo) * g.Cell * g.Cell
		if b.Sill-span.lo > b.Fall {
			b.Fall, b.At = b.Sill-span.lo, c.of.Frame.Out(c.of.plan(span, span.lo))
		}
	}
	return at, joined
}
