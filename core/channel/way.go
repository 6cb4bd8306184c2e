package channel

import (
	"container/heap"
	"errors"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Room is where channels may run: in the box, clear of the masters and of the
// channels that are there.
type Room struct {
	*Stand
	Low, High r3.Vec   // of the box, mm
	Round     float64  // the box's diameter about its middle, 0 where it is square
	Clear     float64  // mm of rubber between a channel and a part
	Wall      float64  // mm of rubber between a channel and the wall
	Grows     bool     // the box may grow for what does not fit
	Sheet     *Sheet   // the parting, where it stands upright; else nil
	Level     *float64 // height of the parting, where it lies level and runners lie in it; else nil
	Between   float64  // mm of rubber between two channels
	Sweeps    []Sweep
	Bodies    []Body

	boxes []r3.Box // round the bodies, as far as they were asked for
}

// leaving is how fast a channel must get away from the part that it leaves:
// so much clear of it for every mm of its way.
const leaving = 0.5

// clears is whether a place of a body is clear of everything. The part that
// the body leaves at its foot lets it, the farther the less.
func (r *Room) clears(b Body, at r3.Vec, radius, own float64) bool {
	if !r.walled(at, radius) {
		return false
	}
	for i := range r.Bodies {
		o := &r.Bodies[i]
		if o.Kind == Gate && o.Cavity == b.Cavity {
			continue // the part itself is between them
		}
		if r.beside(i, at, radius+r.Between) && o.beyond(at) < radius+r.Between {
			if _, ok := joint(b, *o); !ok {
				return false
			}
		}
	}
	for place := range r.Places {
		clear := radius + r.Clear
		if place == b.Cavity {
			clear = min(radius+own, leaving*norm(r3.Sub(at, b.Path[0])))
		}
		if clear > 1e-6 && r.near(place, at, clear-1e-6) {
			return false
		}
	}
	return true
}

// beside is whether a place may be nearer to a body than a distance: it lies in
// the box round it, and so much more.
func (r *Room) beside(body int, at r3.Vec, distance float64) bool {
	for i := len(r.boxes); i < len(r.Bodies); i++ {
		low, high := r.Bodies[i].Bounds()
		r.boxes = append(r.boxes, r3.Box{Min: low, Max: high})
	}
	b := &r.boxes[body]
	return at.X > b.Min.X-distance && at.Y > b.Min.Y-distance && at.Z > b.Min.Z-distance &&
		at.X < b.Max.X+distance && at.Y < b.Max.Y+distance && at.Z < b.Max.Z+distance
}

// walled is whether a place keeps its wall of rubber beside and below; above
// the channel may be open.
func (r *Room) walled(at r3.Vec, radius float64) bool {
	keep := radius + r.Wall - 1e-6
	if at.Z > r.High.Z+1e-6 || at.Z < r.Low.Z+keep {
		return false
	}
	if r.Round > 0 {
		x, y := at.X-(r.Low.X+r.High.X)/2, at.Y-(r.Low.Y+r.High.Y)/2
		return math.Hypot(x, y) <= r.Round/2-keep
	}
	return at.X >= r.Low.X+keep && at.X <= r.High.X-keep && at.Y >= r.Low.Y+keep && at.Y <= r.High.Y-keep
}

// Free is whether a body has room, with at least a quarter as much rubber to its
// own part as to others.
func (r *Room) Free(b Body) bool { return r.free(b, r.Clear/4) }

func (r *Room) free(b Body, own float64) bool {
	return b.steps(b.Bore/4, func(at r3.Vec, _, radius float64) bool { return r.clears(b, at, radius, own) })
}

// ErrNoWay says that a channel cannot be led anywhere.
var ErrNoWay = errors.New("there is no way out for it that keeps clear of parts, walls and other channels: " +
	"leave more room between the cavities, take a thinner channel, or turn the part")

// Rise leads a channel from its foot at a part to the top of the box: straight
// up where that is free, else round what stands over it, and never down again,
// so that no air stays in it. What is led round something keeps to an upright
// parting as long as there is a way in it. Where the part itself leaves less
// room than elsewhere, the channel keeps half as clear of it, or a quarter.
func (r *Room) Rise(kind Kind, cavity int, foot r3.Vec, bore float64) (Body, error) {
	top := foot
	top.Z = r.High.Z
	b := Body{Kind: kind, Cavity: cavity, Bore: bore, Path: []r3.Vec{foot, top}}
	for _, own := range []float64{r.Clear, r.Clear / 2, r.Clear / 4} {
		if r.free(b, own) {
			return b, nil
		}
		if path, ok := r.inSheet(b, own); ok {
			b.Path = path
			return b, nil
		}
		for _, margin := range []float64{0.3, 0.8} {
			if path, ok := r.around(b, foot, own, margin, false); ok {
				b.Path = path
				return b, nil
			}
		}
	}
	return b, ErrNoWay
}

// inSheet leads a channel into the upright parting, rising as it goes, and up
// in it.
func (r *Room) inSheet(b Body, own float64) ([]r3.Vec, bool) {
	if r.Sheet == nil {
		return nil, false
	}
	foot := b.Path[0]
	on := r.Sheet.onto(foot)
	on.Z += r.Sheet.Off(foot)
	first := b
	first.Path = []r3.Vec{foot, on}
	if first.Length() < 1e-6 {
		return r.around(b, foot, own, 0.3, true)
	}
	if on.Z >= r.High.Z || !r.free(first, own) {
		return nil, false
	}
	path, ok := r.around(b, on, own, 0.3, true)
	return append([]r3.Vec{foot}, path...), ok
}

// Steps of the search for a way.
const (
	mostSteps = 40_000 // places that are looked at
	eager     = 1.3    // by how much what is left to go counts more than what is done: a way may be that much longer
	finest    = 0.8    // mm between two of them
	coarsest  = 2.5
)

type step struct {
	at    [3]int32
	done  float64
	guess float64
}

type queue []step

func (q queue) Len() int           { return len(q) }
func (q queue) Less(i, j int) bool { return q[i].guess < q[j].guess }
func (q queue) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)        { *q = append(*q, x.(step)) }
func (q *queue) Pop() any {
	old := *q
	last := old[len(old)-1]
	*q = old[:len(old)-1]
	return last
}

// around is the shortest way up from a place on a lattice (Hart, Nilsson &
// Raphael 1968), in the upright parting alone where that is asked for, pulled
// straight. Margin is the share of the lattice's step by which a place
// must be clearer than the channel, since the way leads between places.
func (r *Room) around(b Body, foot r3.Vec, own, margin float64, inSheet bool) ([]r3.Vec, bool) {
	cell := min(coarsest, max(finest, (b.Bore+r.Clear)/5))
	place := func(at [3]int32) r3.Vec {
		return r3.Add(foot, r3.Scale(cell, r3.Vec{X: float64(at[0]), Y: float64(at[1]), Z: float64(at[2])}))
	}
	left := func(p r3.Vec) float64 { return max(0, r.High.Z-p.Z) }
	known := map[[3]int32]bool{}
	clear := func(at [3]int32) bool {
		ok, seen := known[at]
		if !seen {
			p := place(at)
			p.Z = min(p.Z, r.High.Z)
			ok = r.clears(b, p, b.Bore/2+margin*cell, own)
			if near := r3.Norm(r3.Sub(p, foot)); !ok && near < 2*b.Bore { // close to the foot the margin is too much
				ok = r.clears(b, p, b.Bore/2, own)
			}
			known[at] = ok
		}
		return ok
	}
	best := map[[3]int32]float64{{}: 0}
	from := map[[3]int32][3]int32{}
	open := &queue{{guess: left(foot)}}
	for open.Len() > 0 && len(known) < mostSteps {
		now := heap.Pop(open).(step)
		if now.done > best[now.at] {
			continue
		}
		if p := place(now.at); p.Z >= r.High.Z-1e-9 {
			var way []r3.Vec
			for at := now.at; ; at = from[at] {
				p := place(at)
				p.Z = min(p.Z, r.High.Z)
				way = append([]r3.Vec{p}, way...)
				if at == ([3]int32{}) {
					break
				}
			}
			return r.pulled(b, way, own)
		}
		for dz := range int32(2) {
			for dx := int32(-1); dx <= 1; dx++ {
				for dy := int32(-1); dy <= 1; dy++ {
					next := [3]int32{now.at[0] + dx, now.at[1] + dy, now.at[2] + dz}
					if next == now.at || inSheet && (r.Sheet.AlongX && dy != 0 || !r.Sheet.AlongX && dx != 0) || !clear(next) {
						continue
					}
					far := cell * math.Sqrt(float64(dx*dx+dy*dy+dz*dz))
					done := now.done + far
					if dz == 0 {
						done += 0.3 * far // a rising way lets air go more readily
					}
					if was, ok := best[next]; !ok || done < was-1e-9 {
						best[next], from[next] = done, now.at
						heap.Push(open, step{next, done, done + eager*left(place(next))})
					}
				}
			}
		}
	}
	return nil, false
}

// pulled leaves out of a way what is not needed to go round things; not ok
// where the way is not free after all.
func (r *Room) pulled(b Body, way []r3.Vec, own float64) ([]r3.Vec, bool) {
	straight := func(i, j int) bool {
		run := b
		run.Path = []r3.Vec{way[i], way[j]}
		ok := true
		run.steps(b.Bore/4, func(at r3.Vec, _, radius float64) bool {
			ok = r.clears(b, at, radius, own)
			return ok
		})
		return ok
	}
	out := []r3.Vec{way[0]}
	for i := 0; i < len(way)-1; {
		j := len(way) - 1
		for ; j > i+1; j-- {
			if straight(i, j) {
				break
			}
		}
		if j == i+1 && !straight(i, j) {
			return nil, false
		}
		out = append(out, way[j])
		i = j
	}
	return out, true
}
