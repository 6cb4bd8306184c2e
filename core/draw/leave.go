package draw

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Leave is the straightest way for all of a locked body to come free across
// the draw at once.
type Leave struct {
	Way    r3.Vec  // unit vector, mesh coordinates; nil where nothing leads out
	Travel float64 // mm until all of it that leaves is free
	Share  float64 // of the body that leaves that way without dragging rubber behind it through the part

	Side    r3.Vec  // the way a piece that fills it is drawn out of the mould sideways
	Sideway float64 // share of the body that leaves by it
}

const (
	directions = 24  // tried all round the draw, beside those that its mouths face
	rim        = 0.5 // of the usual height of its columns, below which one is at its rim
	asked      = 240 // places in a body that are moved out
	most       = 0.9 // of a body that leaves: what remains is the lattice's
	trailing   = 0.5 // cosine, from which a mouth faces back
	dragged    = 0.1 // share of the mouths that may face back
)

// drags reports whether a body that moves a way off drags rubber through the
// part that it hangs together with behind.
func drags(mouths []Mouth, d r3.Vec) bool {
	back, all := 0.0, 0.0
	for _, m := range mouths {
		for _, s := range m.sides {
			all += s.area
			if r3.Dot(s.out, d) < -trailing {
				back += s.area
			}
		}
	}
	return back > dragged*all
}

// leave moves a body's places out straight across the draw.
func (v *view) leave(gaps []int32, mouths []Mouth, hints []r3.Vec) Leave {
	type place struct{ x, y, z float64 }
	var places []place
	heights := make([]float64, len(gaps))
	for i, g := range gaps {
		heights[i] = v.gaps[g].hi - v.gaps[g].lo
	}
	slices.Sort(heights)
	low := rim * heights[len(heights)/2]
	step := max(1, 2*len(gaps)/asked)
	for n := step / 2; n < len(gaps); n += step {
		a := v.gaps[gaps[n]]
		if a.hi-a.lo < low { // at the body's rim, where the lattice's steps would stop it
			continue
		}
		x, y := v.cols.Centre(int(a.column))
		for _, f := range [2]float64{0.3, 0.7} {
			places = append(places, place{x, y, a.lo + f*(a.hi-a.lo)})
		}
	}
	dirs := make([]r3.Vec, 0, directions+len(hints))
	for _, h := range hints {
		if h.Z = 0; r3.Norm(h) > 0 {
			dirs = append(dirs, r3.Unit(h))
		}
	}
	for i := range directions {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / directions)
		dirs = append(dirs, r3.Vec{X: cos, Y: sin})
	}
	var out Leave
	best := math.Inf(-1)
	for _, d := range dirs {
		freed, left, travel := 0, 0, 0.0
		for _, p := range places {
			far, all := v.carried(p.x, p.y, p.z, d)
			if !math.IsInf(far, 1) {
				freed++
				travel = max(travel, far)
			}
			if all {
				left++
			}
		}
		share, side := float64(freed)/float64(len(places)), float64(left)/float64(len(places))
		// of the ways that free it, the shortest; where none does, that which frees the most
		if drags(mouths, d) {
			share = 0
		}
		if rank := min(share, most)*1e6 - travel; freed > 0 && rank > best {
			best = rank
			out.Way, out.Travel, out.Share = v.frame.Out(d), travel, share
		}
		if side > out.Sideway+0.02 {
			out.Side, out.Sideway = v.frame.Out(d), side
		}
	}
	return out
}

// carried moves a place that is locked along a direction across the draw: how
// far until it is free, infinite where the part is in the way, and whether
// nothing is in its way to the outside.
func (v *view) carried(x, y, z float64, d r3.Vec) (far float64, outside bool) {
	g := v.cols
	far = math.Inf(1)
	step := 0.7 * g.Cell
	for t := step; ; t += step {
		px, py := x+t*d.X, y+t*d.Y
		cx, cy := int(math.Floor((px-g.X0)/g.Cell)), int(math.Floor((py-g.Y0)/g.Cell))
		if cx < 0 || cy < 0 || cx >= g.NX || cy >= g.NY {
			return min(far, t), true
		}
		c := cy*g.NX + cx
		if z < v.first[c] || !v.oneSided && z > v.last[c] || math.IsInf(v.first[c], 1) {
			far = min(far, t)
			continue
		}
		if !v.hollow(c, z) {
			return far, false
		}
	}
}

// hollow tells whether a height in a column lies in a locked stretch.
func (v *view) hollow(c int, z float64) bool {
	for i := v.start[c]; i < v.start[c+1]; i++ {
		if z > v.gaps[i].lo && z < v.gaps[i].hi {
			return true
		}
	}
	return false
}
