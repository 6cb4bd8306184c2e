package gate

import (
	"math"

	"bathyform/core/fill"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

// plateau is how far below its highest point a pocket still counts as level,
// and above its lowest point a floor, in mm.
const plateau = 0.3

// topOpening is where a broad opening at the top meets the part: the middle
// of the highest ceiling.
func topOpening(space *fill.Space, bore float64) r3.Vec {
	found, err := space.Trap(nil)
	if err != nil || len(found.Pockets) == 0 {
		return r3.Vec{}
	}
	best := 0
	for i, p := range found.Pockets {
		if p.ApexHeight > found.Pockets[best].ApexHeight {
			best = i
		}
	}
	return VentSpot(space, found, best)
}

// VentSpot is where a vent empties a pocket best: the point of a pocket's top nearest to the middle of all
// that is as high, so that a vent in a level ceiling does not sit on its rim.
func VentSpot(space *fill.Space, found fill.Trapped, pocket int) r3.Vec {
	p := found.Pockets[pocket]
	reach := min(plateau, 0.05*(p.ApexHeight-p.SealHeight))
	var top []r3.Vec
	var sum r3.Vec
	for _, s := range space.Stretches(found, 1) {
		if s.Pocket == pocket && s.Hi >= p.ApexHeight-reach {
			at := r3.Vec{X: s.X, Y: s.Y, Z: s.Hi}
			top = append(top, at)
			sum = r3.Add(sum, at)
		}
	}
	if len(top) < 3 {
		return p.Apex
	}
	middle := r3.Scale(1/float64(len(top)), sum)
	best, dist := p.Apex, math.Inf(1)
	for _, at := range top {
		if d := math.Hypot(at.X-middle.X, at.Y-middle.Y); d < dist {
			best, dist = space.Frame.Out(at), d
		}
	}
	return best
}

// ProposeVents puts a vent at the top of every pocket until none is left that
// is worth one. Vents that are there already stay.
func ProposeVents(space *fill.Space, c Choices, bore float64) []Vent {
	vents := append([]Vent(nil), c.Vents...)
	for len(vents) < MostVents {
		found, err := space.Trap(openedBy(space, c, vents))
		if err != nil {
			return vents
		}
		before := len(vents)
		for i, p := range found.Pockets {
			if c.Fault.Matters(p.Volume) && len(vents) < MostVents && !ventAt(vents, p.Apex, bore) {
				vents = append(vents, Vent{At: VentSpot(space, found, i), Bore: bore})
			}
		}
		if len(vents) == before {
			break
		}
	}
	return vents
}

// ventAt reports whether a vent already stands at a point, so that a pocket
// which its mouth just misses is not vented again and again.
func ventAt(vents []Vent, at r3.Vec, bore float64) bool {
	for _, v := range vents {
		if r3.Norm(r3.Sub(v.At, at)) < bore/4 {
			return true
		}
	}
	return false
}

// Off is the rubber between a part and the sprue beside and under it, and Wall
// that between the sprue and the wall of the box, mm. Common practice, no
// source.
const (
	Off  = 5.0
	Wall = 4.0
)

// growing is what a mm of the side by which the box grows counts against one
// of the sprue's way. Common practice, no source.
const growing = 0.05

// lowPath leads a sprue from the low end of the cavity down, out under the
// part and up beside it, as far as the box may be told apart from the part: to
// where it rises. It leaves on the side where the way is shortest and, where
// the parting stands upright, keeps to the parting.
func lowPath(space *fill.Space, draw r3.Vec, parting, bore float64) []r3.Vec {
	f := space.Frame
	d := f.In(draw)
	upright := math.Abs(d.Z) < 0.5
	low, high := plan(space)
	aside := Off + bore/2
	type way struct {
		foot, out r3.Vec
		cost      float64
	}
	best := way{cost: math.Inf(1)}
	for _, foot := range space.Lowest(plateau, bore) {
		offset := 0.0
		if upright {
			offset = math.Abs(r3.Dot(d, foot) - parting)
		}
		for _, out := range [4]r3.Vec{{X: high.X + aside, Y: foot.Y}, {X: low.X - aside, Y: foot.Y}, {X: foot.X, Y: high.Y + aside},
			{X: foot.X, Y: low.Y - aside}} {
			out.Z = foot.Z
			if upright && math.Abs(r3.Dot(d, r3.Sub(out, foot))) > 1e-9 {
				continue // would leave the parting
			}
			beside := r3.Sub(out, foot)
			grows := high.Y - low.Y // the side by which the box grows
			if math.Abs(beside.Y) > math.Abs(beside.X) {
				grows = high.X - low.X
			}
			if cost := r3.Norm(beside) + 2*offset + growing*grows; cost < best.cost-1e-9 {
				best = way{foot, out, cost}
			}
		}
	}
	return sunk(f, best.foot, best.out, bore)
}

// sunk is the way from a foot down, out and, from its last point, up.
func sunk(f grid.Frame, foot, out r3.Vec, bore float64) []r3.Vec {
	under := foot
	under.Z -= Off + bore/2
	out.Z = under.Z
	return []r3.Vec{f.Out(foot), f.Out(under), f.Out(out)}
}

// Takes is the room that the sprue of a cavity takes that is fed from below,
// without any rubber: the boxes round its run under the part, its shaft as far
// up as the part reaches, and its gate; in mesh coordinates. It is nil where
// there is no such sprue. A nil space is a part of which no more than its bounds
// are known.
func Takes(space *fill.Space, bounds r3.Box, up, draw r3.Vec, parting float64, in kinds.Resin, c Choices) []r3.Box {
	if in != kinds.Sprued || c.Feed != practice.FeedLow || c.Check() != nil {
		return nil
	}
	f, err := grid.NewFrame(up)
	if err != nil {
		return nil
	}
	path := measuredPath(f, bounds, c.SprueBore)
	if space != nil {
		path = lowPath(space, draw, parting, c.SprueBore)
	}
	_, high := inFrame(bounds, f)
	foot, under, out := path[0], path[1], path[2]
	top := f.In(out)
	top.Z = high.Z
	r := c.SprueBore / 2
	return []r3.Box{round(under, out, r), round(out, f.Out(top), r), round(foot, under, r)}
}

// round is the box round two places and so much more.
func round(p, q r3.Vec, by float64) r3.Box {
	return Grown(r3.Box{
		Min: r3.Vec{X: min(p.X, q.X), Y: min(p.Y, q.Y), Z: min(p.Z, q.Z)},
		Max: r3.Vec{X: max(p.X, q.X), Y: max(p.Y, q.Y), Z: max(p.Z, q.Z)},
	}, by)
}

// Grown is a box with so much more on every side.
func Grown(b r3.Box, by float64) r3.Box {
	more := r3.Vec{X: by, Y: by, Z: by}
	return r3.Box{Min: r3.Sub(b.Min, more), Max: r3.Add(b.Max, more)}
}

// measuredPath is the sprue's way for a part of which no more than its bounds
// are known.
func measuredPath(f grid.Frame, bounds r3.Box, bore float64) []r3.Vec {
	low, high := inFrame(bounds, f)
	foot := r3.Scale(0.5, r3.Add(low, high))
	foot.Z = low.Z
	out := foot
	out.X = high.X + Off + bore/2
	return sunk(f, foot, out, bore)
}

func inFrame(b r3.Box, f grid.Frame) (low, high r3.Vec) {
	p, q := f.In(b.Min), f.In(b.Max)
	return r3.Vec{X: min(p.X, q.X), Y: min(p.Y, q.Y), Z: min(p.Z, q.Z)}, r3.Vec{X: max(p.X, q.X), Y: max(p.Y, q.Y), Z: max(p.Z, q.Z)}
}

func plan(space *fill.Space) (low, high r3.Vec) { return inFrame(space.Bounds(), space.Frame) }
