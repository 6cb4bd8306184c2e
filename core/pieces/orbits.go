package pieces

import (
	"math"
	"slices"

	"bathyform/core/draw"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/strip"
	"bathyform/core/symmetry"

	"gonum.org/v1/gonum/spatial/r3"
)

// fold is how a part repeats itself about the draw, in the frame.
type fold struct {
	order  int
	centre r3.Vec
}

// foldOf finds it where several places want side pieces, which may then be
// the same piece several times.
func foldOf(m *mesh.Mesh, frame grid.Frame, a draw.Analysis, c Choices) fold {
	hard := 0
	for _, s := range a.Spaces {
		if v := strip.Judge(a, s, strip.Anyhow, c.Rubber, c.Wanted); v.Answer != strip.Strips {
			hard++
		}
	}
	if c.HalvesOnly || hard < 2 || len(c.Line) > 0 { // a line led by hand is not the same all round
		return fold{order: 1}
	}
	f := symmetry.About(m, frame.Up)
	return fold{f.Order, frame.In(f.Centre)}
}

func (f fold) angle(steps int) (sin, cos float64) {
	return math.Sincos(2 * math.Pi * float64(steps) / float64(f.order))
}

// turned is a place turned by so many steps.
func (f fold) turned(p r3.Vec, steps int) r3.Vec {
	d := f.around(r3.Sub(p, f.centre), steps)
	return r3.Add(f.centre, d)
}

// around is a direction turned by so many steps.
func (f fold) around(d r3.Vec, steps int) r3.Vec {
	sin, cos := f.angle(steps)
	return r3.Vec{X: cos*d.X - sin*d.Y, Y: sin*d.X + cos*d.Y, Z: d.Z}
}

// roundFrom is the order from which a box for side pieces that are all the
// same is round: each then ends at the same wall.
const (
	roundFrom  = 3
	roundSides = 72 // a multiple of most orders
)

// roundRoom is a round box with the clearances about a part that repeats itself.
func (f fold) roundRoom(c practice.Clearance, at []r3.Vec, low, high r3.Vec) *Room {
	far := 0.0
	for _, p := range at {
		far = max(far, math.Hypot(p.X-f.centre.X, p.Y-f.centre.Y))
	}
	// the flats lie at the clearance
	reach := (far + c.Beside) / math.Cos(math.Pi/roundSides)
	ring := make([]plane.Point, roundSides)
	for i := range ring {
		sin, cos := math.Sincos(2 * math.Pi * (float64(i) + 0.5) / roundSides)
		ring[i] = plane.Point{f.centre.X + reach*cos, f.centre.Y + reach*sin}
	}
	box := r3.Box{
		Min: r3.Vec{X: f.centre.X - reach, Y: f.centre.Y - reach, Z: low.Z - c.Below},
		Max: r3.Vec{X: f.centre.X + reach, Y: f.centre.Y + reach, Z: high.Z + c.Above},
	}
	return &Room{Box: box, Walls: Upright(ring), Volume: plane.Area(ring) * (box.Max.Z - box.Min.Z)}
}

// folds reports whether a box repeats itself as the part does.
func (b *block) folds(f fold) bool {
	const (
		looked = 90
		off    = 0.05 // mm
	)
	if f.order < 2 {
		return false
	}
	for i := range looked {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / looked)
		d := r3.Vec{X: cos, Y: sin}
		if math.Abs(b.exit(f.centre, d)-b.exit(f.centre, f.around(d, 1))) > off {
			return false
		}
	}
	return true
}

// exit is how far along a direction a place is from the wall that it meets.
func (b *block) exit(p, d r3.Vec) float64 {
	out := math.Inf(1)
	meet := func(n r3.Vec, reach float64) {
		if along := r3.Dot(n, d); along > 1e-9 {
			out = min(out, (reach-r3.Dot(n, p))/along)
		}
	}
	meet(r3.Vec{X: 1}, b.box.Max.X)
	meet(r3.Vec{X: -1}, -b.box.Min.X)
	meet(r3.Vec{Y: 1}, b.box.Max.Y)
	meet(r3.Vec{Y: -1}, -b.box.Min.Y)
	for _, w := range b.walls {
		meet(w.Out, w.Reach)
	}
	return out
}

// orbits gives spaces that are the same one turned the same piece turned, and
// returns the spaces that are left.
func (b *block) orbits(w wants, f fold) (out []side, left []space) {
	used := make([]bool, len(w.spaces))
	for i, s := range w.spaces {
		if used[i] {
			continue
		}
		members, ok := b.orbit(w.spaces, used, i, f)
		if !ok || len(members) < 2 {
			continue
		}
		one := b.sides([]space{s}, w.hints)
		if len(one) != 1 || len(one[0].shared) > 0 {
			continue
		}
		first := len(out)
		for _, m := range members {
			used[m.space] = true
			p := one[0].turned(f, m.steps, w.spaces[m.space].points)
			if m.steps > 0 {
				p.like, p.steps = first+1, m.steps
			}
			out = append(out, p)
		}
	}
	for i, s := range w.spaces {
		if !used[i] {
			left = append(left, s)
		}
	}
	return out, left
}

type member struct{ space, steps int }

// orbit finds the spaces that one goes over into as it is turned; not ok
// where one is missing.
func (b *block) orbit(spaces []space, used []bool, i int, f fold) (out []member, ok bool) {
	const alike = 0.1 // share by which the points of two may differ
	out = []member{{i, 0}}
	for k := 1; k < f.order; k++ {
		at := f.turned(spaces[i].centre, k)
		found := slices.IndexFunc(spaces, func(s space) bool {
			return r3.Norm(r3.Sub(s.centre, at)) < 2*b.Cell &&
				math.Abs(float64(len(s.points))/float64(len(spaces[i].points))-1) < alike
		})
		if found < 0 || used[found] {
			return nil, false
		}
		if !slices.ContainsFunc(out, func(m member) bool { return m.space == found }) {
			out = append(out, member{found, k})
		}
	}
	return out, true
}

// turned is a piece turned about the fold's axis, for other points.
func (s side) turned(f fold, steps int, points []int) side {
	out := s
	out.points = points
	out.dir = f.around(s.dir, steps)
	out.across = [2]r3.Vec{f.around(s.across[0], steps), f.around(s.across[1], steps)}
	along := r3.Dot(out.dir, f.centre) - r3.Dot(s.dir, f.centre)
	out.back, out.mouth, out.step = s.back+along, s.mouth+along, s.step+along
	dx := r3.Dot(out.across[0], f.centre) - r3.Dot(s.across[0], f.centre)
	dy := r3.Dot(out.across[1], f.centre) - r3.Dot(s.across[1], f.centre)
	out.off = plane.Point{s.off[0] + dx, s.off[1] + dy}
	out.planes = slices.Clone(s.planes)
	for i, h := range out.planes {
		out.planes[i][2] = h[2] + h[0]*dx + h[1]*dy
	}
	return out
}
