package gate

import (
	"math"
	"slices"

	"bathyform/core/channel"
	"bathyform/core/fill"

	"gonum.org/v1/gonum/spatial/r3"
)

// feet are where gates meet a cavity from below: at the low end of each of its
// spaces, as near to an upright parting as that end comes. Off is how far a point
// of the mesh lies off that parting.
func feet(space *fill.Space, bore float64, off func(r3.Vec) float64, faces *Faces) (out [][]channel.Mouth) {
	rooms := space.Rooms(plateau)
	for _, room := range rooms {
		floor := faces.best(room.Floor, space.Frame.Out)
		if off != nil {
			floor = nearest(floor, bore/4, func(p r3.Vec) float64 { return off(space.Frame.Out(p)) })
		}
		out = append(out, straight(space.Frame.Out(middleOf(floor, bore))))
	}
	return out
}

// straight is the mouth of a gate that comes straight up.
func straight(at r3.Vec) []channel.Mouth { return []channel.Mouth{{At: at, From: at}} }

// led are ends of which the closest is led to where the caster has said; where
// that lies beside the part they stay. Those in a level parting stay in it: the
// mouth that lies next to what was said is taken, where one does within a bore or two.
func led(space *fill.Space, ends [][]channel.Mouth, to *r3.Vec, bore float64, level bool) ([][]channel.Mouth, error) {
	if to == nil {
		return ends, nil
	}
	foot, err := space.Foot(fill.Opening{At: *to, Bore: bore})
	if err != nil {
		return ends, err
	}
	best, which, near := 0, 0, math.Inf(1)
	for i, mouths := range ends {
		for k, m := range mouths {
			if d := r3.Norm(r3.Sub(m.At, foot)); d < near {
				best, which, near = i, k, d
			}
		}
	}
	out := slices.Clone(ends)
	switch {
	case len(ends) == 0:
	case !level:
		out[best] = straight(foot)
	case near > 2*bore:
		return nil, nil
	default:
		out[best] = ends[best][which : which+1]
	}
	return out, nil
}

// tops are where a cavity is opened from the top: at the high end of each of
// its spaces, or where the caster has said.
func tops(space *fill.Space, c Choices) (out []fill.Opening) {
	var at [][]channel.Mouth
	for _, room := range space.Rooms(plateau) {
		at = append(at, straight(space.Frame.Out(middleOf(c.faces.best(room.Ceiling, space.Frame.Out), c.SprueBore))))
	}
	at, _ = led(space, at, c.Foot, c.SprueBore, false) // beside the part it is told as the foot is looked at
	for _, mouths := range at {
		out = append(out, fill.Opening{At: mouths[0].At, Bore: c.SprueBore})
	}
	return out
}

// nearest are the places that lie off by no more than the nearest does and a
// little.
func nearest(of []r3.Vec, more float64, off func(r3.Vec) float64) (out []r3.Vec) {
	least := math.Inf(1)
	for _, p := range of {
		least = min(least, off(p))
	}
	for _, p := range of {
		if off(p) <= least+more {
			out = append(out, p)
		}
	}
	return out
}

// middleOf is the place of a floor or a ceiling where the most of a mouth of a
// bore is of it.
func middleOf(lows []r3.Vec, bore float64) r3.Vec {
	var middle r3.Vec
	for _, p := range lows {
		middle = r3.Add(middle, r3.Scale(1/float64(len(lows)), p))
	}
	best, most, far := lows[0], -1, 0.0
	thin := max(1, len(lows)/500) // a broad floor is looked at here and there
	for i := 0; i < len(lows); i += thin {
		p := lows[i]
		near := 0
		for _, q := range lows {
			if math.Hypot(q.X-p.X, q.Y-p.Y) <= bore/2 {
				near++
			}
		}
		d := math.Hypot(p.X-middle.X, p.Y-middle.Y)
		if near > most || near == most && d < far {
			best, most, far = p, near, d
		}
	}
	return best
}
