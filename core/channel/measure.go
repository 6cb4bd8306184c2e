package channel

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// across is how many places are looked at over the width of a body, and along
// a way as long as it is wide.
const across = 8

// Volumes are what the bodies hold, mm³: where one meets another at a joint,
// the later leaves to the earlier what both hold.
func Volumes(bodies []Body) []float64 {
	out := make([]float64, len(bodies))
	for i, b := range bodies {
		var met []Body
		for _, earlier := range bodies[:i] {
			if _, ok := joint(b, earlier); ok {
				met = append(met, earlier)
			}
		}
		all, own := 0.0, 0.0
		if len(met) > 0 {
			b.fine(func(p r3.Vec, weight float64) {
				all += weight
				for _, other := range met {
					if other.beyond(p) < 0 {
						return
					}
				}
				own += weight
			})
		}
		out[i] = b.Full()
		if all > 0 {
			out[i] *= own / all
		}
	}
	return out
}

// fine calls use at places that fill the body evenly, each standing for a
// weight of it, mm³ or nearly so.
func (b Body) fine(use func(p r3.Vec, weight float64)) {
	length, gone, whole := b.Length(), 0.0, use
	for i := 1; i < len(b.Path); i++ {
		from, v := b.Path[i-1], r3.Sub(b.Path[i], b.Path[i-1])
		run := r3.Norm(v)
		if run == 0 {
			continue
		}
		along := r3.Scale(1/run, v)
		side := r3.Vec{X: 1}
		if math.Abs(along.X) > 0.7 {
			side = r3.Vec{Y: 1}
		}
		u := r3.Unit(r3.Cross(along, side))
		w := r3.Cross(along, u)
		if b.Half != (r3.Vec{}) { // twice as many places as are in it
			use = func(p r3.Vec, weight float64) {
				if b.off(p, from) < 0 {
					whole(p, weight)
				}
			}
		}
		if b.Flat != (r3.Vec{}) {
			b.strip(from, v, use)
			gone += run
			continue
		}
		n := max(4, int(math.Ceil(across*run/b.Bore)))
		for k := range n {
			t := (float64(k) + 0.5) / float64(n) * run
			r := b.radius(gone+t, length)
			at := r3.Add(from, r3.Scale(t, along))
			for ring := range across / 2 {
				// rings of the same area each
				reach := r * math.Sqrt((float64(ring)+0.5)*2/across)
				for turn := range 2 * across {
					sin, cos := math.Sincos((float64(turn) + 0.5*float64(ring%2)) * math.Pi / across)
					p := r3.Add(at, r3.Add(r3.Scale(reach*cos, u), r3.Scale(reach*sin, w)))
					use(p, math.Pi*r*r*run/float64(n)/(across*across))
				}
			}
		}
		gone += run
	}
}

// strip is fine for a run of a strip: places in its middle.
func (b Body) strip(from, v r3.Vec, use func(p r3.Vec, weight float64)) {
	run := r3.Norm(v)
	wide := r3.Unit(r3.Cross(v, b.Flat))
	n := max(4, int(math.Ceil(across*run/b.Bore)))
	weight := b.Section(b.Bore) * math.Pi / 4 * b.Bore * b.Bore * run / float64(n*across)
	for k := range n {
		at := r3.Add(from, r3.Scale((float64(k)+0.5)/float64(n), v))
		for j := range across {
			use(r3.Add(at, r3.Scale(((float64(j)+0.5)/across-0.5)*b.Bore, wide)), weight)
		}
	}
}

// jointed is how many widths of the wider body round a joint belong to it.
const jointed = 0.75

// Overlap is how much of the bodies lies inside parts or inside one another
// beyond their joints, mm³.
func (s *Stand) Overlap(bodies []Body) (sum float64) {
	for i, b := range bodies {
		lo, hi := b.Bounds()
		var others []int
		for j := range bodies[:i] {
			if l, h := bodies[j].Bounds(); apart(lo, hi, l, h) <= 0 {
				others = append(others, j)
			}
		}
		b.fine(func(p r3.Vec, weight float64) {
			for place := range s.Places {
				if place == b.Cavity && r3.Norm(r3.Sub(p, b.Mouth())) <= (jointed+0.5)*b.Bore {
					continue
				}
				if s.inside(place, p) {
					sum += weight
					return
				}
			}
			for _, j := range others {
				o := bodies[j]
				if o.beyond(p) >= 0 {
					continue
				}
				if at, ok := joint(b, o); ok && r3.Norm(r3.Sub(p, at)) <= jointed*max(b.Bore, b.Rim, o.Bore, o.Rim)+b.Bore/2 {
					continue
				}
				sum += weight
				return
			}
		})
	}
	return sum
}

// Bounds is the box round a body.
func (b Body) Bounds() (low, high r3.Vec) {
	r := max(b.Bore, b.Rim) / 2
	low, high = b.Path[0], b.Path[0]
	for _, p := range b.Path {
		low = r3.Vec{X: min(low.X, p.X), Y: min(low.Y, p.Y), Z: min(low.Z, p.Z)}
		high = r3.Vec{X: max(high.X, p.X), Y: max(high.Y, p.Y), Z: max(high.Z, p.Z)}
	}
	by := r3.Vec{X: r, Y: r, Z: r}
	return r3.Sub(low, by), r3.Add(high, by)
}

// apart is how far two boxes are from one another, 0 where they meet.
func apart(low, high, l, h r3.Vec) float64 {
	return r3.Norm(r3.Vec{
		X: max(0, l.X-high.X, low.X-h.X),
		Y: max(0, l.Y-high.Y, low.Y-h.Y),
		Z: max(0, l.Z-high.Z, low.Z-h.Z),
	})
}

// Clearance is the least distance between a body and a master that it does
// not lead to, mm, up to within. Where there is a single master, a body that
// leads to it counts too, as far as it is more than its width and off from its
// joint.
func (s *Stand) Clearance(bodies []Body, within, off float64) float64 {
	least := within
	for _, b := range bodies {
		for place := range s.Places {
			own := place == b.Cavity
			if own && len(s.Places) > 1 {
				continue
			}
			b.steps(b.Bore/6, func(at r3.Vec, _, radius float64) bool {
				if own && r3.Norm(r3.Sub(at, b.Mouth())) <= b.Bore+off {
					return true
				}
				least = min(least, s.distance(place, at, least+radius)-radius)
				return true
			})
		}
	}
	return least
}

// Mouth is the end of a body that meets its part.
func (b Body) Mouth() r3.Vec {
	if b.Kind == Gate {
		return b.Path[len(b.Path)-1]
	}
	return b.Path[0]
}

// Closest is the part that a body comes nearest to beside its own, where, and
// how much rubber is between them, negative inside; rubber over within is not
// looked at. Its own part counts as far as the body runs through it. Deep in a
// part it is told as deep as the body goes in.
func (s *Stand) Closest(b Body, within float64) (part int, at r3.Vec, gap float64) {
	gap, part = within, Shared
	for place := range s.Places {
		b.steps(b.Bore/4, func(p r3.Vec, along, radius float64) bool {
			own := place == b.Cavity
			if own && r3.Norm(r3.Sub(p, b.Mouth())) <= (jointed+0.5)*b.Bore {
				return true
			}
			d := s.distance(place, p, within+radius)
			if first := along == 0; d >= within+radius && !first {
				return true // nothing is near, as before
			}
			switch inside := s.inside(place, p); {
			case inside:
				d = -d
			case own:
				return true
			}
			if d-radius < gap {
				gap, part, at = d-radius, place, p
			}
			return true
		})
	}
	return part, at, gap
}
