package pieces

import (
	"math"
	"slices"

	"bathyform/core/draw"
	"bathyform/core/grid"
	"bathyform/core/plane"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// What side pieces are made by; common practice, no source.
const (
	seat      = 1.5  // mm that a side piece is wider than the undercut it fills
	taper     = 0.07 // as a tangent, 4 degrees: how its sides open on the way out
	freedFrom = 0.9  // share of a space that a direction must free to free it
	asFree    = 0.01 // share of a space within which two directions free as much
	mostCuts  = 4    // directions that one space may be divided between
	farOff    = 5.0  // mm outside a piece, from which nobody asks how far exactly
	turns     = 24   // directions tried all round the draw
	shoulder  = 4.0  // mm outside the undercut where the step begins that locates a side piece
	step      = 2.5  // mm that the step stands out all round, square so that the piece cannot turn
	stepLeast = 5.0  // mm of wall that a step needs outside its shoulder
)

// space is a body of lattice points that are locked along the draw.
type space struct {
	points []int
	at     []r3.Vec // of each point, in the frame
	centre r3.Vec
	split  bool    // each half keeps its own end of it
	kept   []int16 // of each point: the half that holds it where no side piece does; nil for as the sheet cuts it
}

// whole leaves all of a space to one half.
func (s *space) whole(h strip.Half) {
	s.kept = make([]int16, len(s.points))
	for i := range s.kept {
		s.kept[i] = upper + int16(h)
	}
}

// shared divides a hole between the halves, each by its own end of it; it
// reports whether the parting lets each have one.
func (s *space) shared(known draw.Space, frame grid.Frame, sheet *sheet) bool {
	a, b := known.Mouths[0], known.Mouths[1]
	upperA, lowerA := sheet.held(a)
	upperB, lowerB := sheet.held(b)
	switch {
	case upperA && lowerB:
	case upperB && lowerA:
		a, b = b, a
	default:
		return false
	}
	s.split = true
	high, low := frame.In(a.Centre), frame.In(b.Centre)
	for i, at := range s.at {
		s.kept[i] = upper
		if r3.Norm2(r3.Sub(at, low)) < r3.Norm2(r3.Sub(at, high)) {
			s.kept[i] = lower
		}
	}
	return true
}

// side is a piece that fills undercuts and leaves sideways, before the halves.
type side struct {
	dir    r3.Vec        // its draw, in the frame
	across [2]r3.Vec     // axes of its outline
	planes [][3]float64  // half planes of its hull: x, y of the normal, and its distance
	region *plane.Region // its outline, hollows followed; nil where it is the hull
	off    plane.Point   // by which the outline's own x and y are moved
	back   float64       // along dir, where it begins
	mouth  float64       // along dir, from where its sides open
	step   float64       // along dir, from where it is a square step; infinite where the wall is too thin for one
	shared []shared      // where a neighbour out of the same space takes over
	points []int         // locked points that it fills
	like   int           // from 1: the piece that this one is, turned
	steps  int           // by so many of the part's own
	bored  bool          // a channel runs through it
}

type shared struct {
	normal r3.Vec
	at     float64
}

// lockedBy gives every point with part above and below it to the space of a
// draw that it lies in.
func (b *block) lockedBy(a draw.Analysis) []space {
	out := make([]space, len(a.Spaces))
	for c, line := range b.lines[2] {
		for g := 1; g+1 < len(line); g += 2 {
			from := max(0, int(math.Ceil((line[g].at-b.Low.Z)/b.Cell)))
			to := min(b.NZ-1, int(math.Floor((line[g+1].at-b.Low.Z)/b.Cell)))
			for k := from; k <= to; k++ {
				p := c*b.NZ + k
				if b.part[p] {
					continue
				}
				q := b.point(p)
				if at := a.SpaceAt(q); at >= 0 {
					sp := &out[at]
					sp.points, sp.at = append(sp.points, p), append(sp.at, q)
					sp.centre = r3.Add(sp.centre, q)
				}
			}
		}
	}
	for i := range out {
		if n := len(out[i].points); n > 0 {
			out[i].centre = r3.Scale(1/float64(n), out[i].centre)
		}
	}
	return out
}

// point is where a lattice point is.
func (b *block) point(p int) r3.Vec {
	c := p / b.NZ
	return b.At(c%b.NX, c/b.NX, p%b.NZ)
}

// sides proposes pieces for the spaces that want one: directions that free
// most of them first, so that few pieces do. Hints are ways out that are
// known already; they are tried beside those all round the draw.
func (b *block) sides(spaces []space, hints []r3.Vec) []side {
	dirs := slices.Clone(hints)
	for i := range turns {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / turns)
		dirs = append(dirs, r3.Vec{X: cos, Y: sin})
	}
	w := waysOut{b, b.eroded(func(p int) bool { return b.part[p] })}
	left := make([]int, 0, len(spaces))
	for i := range spaces {
		left = append(left, i)
	}
	out, left := w.alone(spaces, left, dirs)
	if len(left) > 0 { // what no way straight across frees may leave on the slant
		var slanted []side
		slanted, left = w.alone(spaces, left, oblique())
		out = append(out, slanted...)
	}
	for _, i := range left {
		branches, ok := w.branches(spaces[i], dirs)
		if !ok {
			branches = w.divided(spaces[i], dirs)
		}
		out = append(out, branches...)
	}
	return out
}

// waysOut asks for the ways out of a block between what of its part is more
// than skin deep.
type waysOut struct {
	*block
	solid []bool
}

// freed are those of points that leave straight along a way.
func (b waysOut) freed(points []int, dir r3.Vec) (out []int) {
	for _, p := range points {
		if b.leaves(b.point(p), dir, b.solid) {
			out = append(out, p)
		}
	}
	return out
}

// caught is how many points of a piece's rubber do not leave along its draw.
func (b waysOut) caught(s *side) (points int) {
	const every = 2 // along each axis
	for i := 0; i < b.NX; i += every {
		for j := 0; j < b.NY; j += every {
			for k := 0; k < b.NZ; k += every {
				p := (j*b.NX+i)*b.NZ + k
				if at := b.At(i, j, k); !b.part[p] && s.depth(at) < 0 && !b.leaves(at, s.dir, b.solid) {
					points += every * every * every
				}
			}
		}
	}
	return points
}

// slants are the angles to the plane across the draw at which side pieces are
// drawn obliquely, degrees.
var slants = [4]float64{30, -30, 55, -55}

// oblique are ways out on the slant, all round.
func oblique() (out []r3.Vec) {
	for _, slant := range slants {
		up, flat := math.Sincos(slant * math.Pi / 180)
		for i := range turns {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / turns)
			out = append(out, r3.Vec{X: flat * cos, Y: flat * sin, Z: up})
		}
	}
	return out
}

// alone gives spaces that one way frees a piece each, or one for several
// together, and returns those that none does.
func (b waysOut) alone(spaces []space, left []int, dirs []r3.Vec) (out []side, remain []int) {
	table := make([][]float64, len(spaces)) // share of each space that each direction frees
	for _, i := range left {
		s := spaces[i]
		table[i] = make([]float64, len(dirs))
		sample := thinned(s.points, 800)
		for d, dir := range dirs {
			table[i][d] = float64(len(b.freed(sample, dir))) / float64(len(sample))
		}
	}
	outward := func(d int, of []int) (sum float64) { // of two directions that free the same, the one that leads straight out
		middle := r3.Scale(0.5, r3.Add(b.box.Min, b.box.Max))
		for _, i := range of {
			sum += r3.Dot(dirs[d], r3.Sub(spaces[i].centre, middle))
		}
		return sum
	}
	frees := func(d int, of []int) (sum float64) {
		for _, i := range of {
			sum += table[i][d]
		}
		return sum
	}
	shaped := func(d int, of []int) (out []side, locked int) {
		for _, group := range b.together(spaces, of, dirs[d]) {
			var points []int
			for _, i := range group {
				free := b.freed(spaces[i].points, dirs[d])
				points, locked = append(points, free...), locked+len(spaces[i].points)-len(free)
			}
			s := b.shape(points, dirs[d], nil)
			out, locked = append(out, s), locked+b.caught(&s)
		}
		return out, locked
	}
	for len(left) > 0 {
		var leave []int
		most, straight := -1, -1 // of ways that as many leave by, what frees most of them, and what leads straight out
		for d := range dirs {
			var now []int
			for _, i := range left {
				if table[i][d] >= freedFrom {
					now = append(now, i)
				}
			}
			switch {
			case len(now) == 0 || len(now) < len(leave):
				continue
			case len(now) > len(leave):
				most, straight = d, d
			}
			leave = now
			if more := frees(d, now) - frees(most, now); more > asFree*float64(len(now)) ||
				more > -asFree*float64(len(now)) && outward(d, now) > outward(most, now)+1e-9 {
				most = d
			}
			if outward(d, now) > outward(straight, now)+1e-9 {
				straight = d
			}
		}
		if most < 0 {
			break
		}
		bodies, locked := shaped(most, leave)
		if straight != most {
			if others, less := shaped(straight, leave); less < locked {
				bodies = others
			}
		}
		out = append(out, bodies...)
		left = slices.DeleteFunc(left, func(i int) bool { return slices.Contains(leave, i) })
	}
	return out, left
}

// branches takes a space apart that is made of bores which run into one
// another: the way that frees most of it has its bore to itself, and what is
// left falls into stubs that each have a way of their own. It is not ok for a
// space that is one all round, of which two ways free much the same.
func (b waysOut) branches(s space, dirs []r3.Vec) (out []side, ok bool) {
	sample := thinned(s.points, 1500)
	var first r3.Vec
	most := 0
	for _, d := range dirs {
		if n := len(b.freed(sample, d)); n > most+len(sample)/100 {
			first, most = d, n
		}
	}
	if most < len(sample)/10 {
		return nil, false
	}
	taken := make(map[int]bool)
	// along a face of the part, what lies in its mouth leaves sideways too; that is none of it
	mine := slices.MaxFunc(b.bodies(b.freed(s.points, first)), func(a, b []int) int { return len(a) - len(b) })
	for _, p := range mine {
		taken[p] = true
	}
	stubs := b.bodies(slices.DeleteFunc(slices.Clone(s.points), func(p int) bool { return taken[p] }))
	stubs = slices.DeleteFunc(stubs, func(points []int) bool { return len(points) < max(least, len(s.points)/100) })
	if len(stubs) == 0 {
		return nil, false
	}
	out = []side{b.shape(mine, first, nil)}
	const distinct = 0.4 // of what one way frees that another may free as well
	blocked := b.eroded(func(p int) bool { return b.part[p] || taken[p] })
	for _, points := range stubs {
		sample := thinned(points, 600)
		var dir r3.Vec
		frees := 0
		for _, d := range dirs {
			n := 0
			for _, p := range sample {
				if b.leaves(b.point(p), d, blocked) {
					n++
				}
			}
			if n > frees {
				dir, frees = d, n
			}
		}
		if float64(frees) < freedFrom*float64(len(sample)) ||
			float64(len(b.freed(thinned(mine, 600), dir))) > distinct*float64(len(thinned(mine, 600))) {
			return nil, false
		}
		out = append(out, b.shape(points, dir, nil))
	}
	return out, true
}

// bodies sorts points into those that hang together, in the order they come.
func (b *block) bodies(points []int) (out [][]int) {
	left := make(map[int]bool, len(points))
	for _, p := range points {
		left[p] = true
	}
	steps := b.steps()
	for _, start := range points {
		if !left[start] {
			continue
		}
		delete(left, start)
		body := []int{start}
		for n := 0; n < len(body); n++ {
			for _, s := range steps {
				if q := body[n] + s; left[q] {
					delete(left, q)
					body = append(body, q)
				}
			}
		}
		out = append(out, body)
	}
	return out
}

// thinned keeps about n of many points, evenly.
func thinned(points []int, n int) []int {
	step := max(1, len(points)/n)
	out := make([]int, 0, n+1)
	for i := 0; i < len(points); i += step {
		out = append(out, points[i])
	}
	return out
}

// together groups spaces that leave the same way so near one another that one
// piece carries them.
func (b *block) together(spaces []space, which []int, dir r3.Vec) [][]int {
	u, v := across(dir)
	rect := func(i int) (r [4]float64) {
		r = [4]float64{math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)}
		for _, p := range spaces[i].points {
			x, y := r3.Dot(b.point(p), u), r3.Dot(b.point(p), v)
			r = [4]float64{min(r[0], x), max(r[1], x), min(r[2], y), max(r[3], y)}
		}
		return r
	}
	const near = 4 * seat
	var groups [][]int
	var rects [][][4]float64
	for _, i := range which {
		mine := rect(i)
		found := -1
		for g := range groups {
			if slices.ContainsFunc(rects[g], func(o [4]float64) bool {
				return mine[0] < o[1]+near && o[0] < mine[1]+near && mine[2] < o[3]+near && o[2] < mine[3]+near
			}) {
				found = g
			}
		}
		if found < 0 {
			groups, rects = append(groups, nil), append(rects, nil)
			found = len(groups) - 1
		}
		groups[found], rects[found] = append(groups[found], i), append(rects[found], mine)
	}
	return groups
}

// divided splits a space that no single direction frees, such as a groove all
// round, between the few directions that free it together.
func (b waysOut) divided(s space, dirs []r3.Vec) []side {
	rest := thinned(s.points, 1500)
	whole := len(rest)
	var chosen []r3.Vec
	for len(chosen) < mostCuts && float64(len(rest)) > (1-freedFrom)*float64(whole) {
		var best r3.Vec
		most := []int(nil)
		facing := func(d r3.Vec) (sum float64) { // of ways that free about as much, that which looks away from the others
			for _, c := range chosen {
				sum += r3.Dot(c, d)
			}
			return sum
		}
		for _, d := range dirs {
			now := b.freed(rest, d)
			if more := len(now) - len(most); more > whole/100 || most != nil && more >= -whole/100 && facing(d) < facing(best)-1e-9 {
				best, most = d, now
			}
		}
		if len(most) < whole/20 {
			break
		}
		chosen = append(chosen, best)
		rest = slices.DeleteFunc(rest, func(p int) bool { return slices.Contains(most, p) })
	}
	var out []side
	for n, dir := range chosen {
		var limits []shared
		for m, other := range chosen {
			if m != n {
				away := r3.Sub(other, dir)
				limits = append(limits, shared{r3.Unit(away), r3.Dot(r3.Unit(away), s.centre)})
			}
		}
		var points []int
		for _, p := range b.freed(s.points, dir) {
			at := b.point(p)
			if !slices.ContainsFunc(limits, func(l shared) bool { return r3.Dot(l.normal, at) > l.at }) {
				points = append(points, p)
			}
		}
		if len(points) > 0 {
			out = append(out, b.shape(points, dir, limits))
		}
	}
	return out
}

func across(dir r3.Vec) (u, v r3.Vec) {
	v = r3.Vec{Z: 1}
	if math.Abs(dir.Z) > 0.9 {
		v = r3.Vec{Y: 1}
	}
	u = r3.Unit(r3.Cross(v, dir))
	return u, r3.Cross(dir, u)
}

// shape gives a piece its body: the outline of its points seen along its
// draw, a seat wider, opening outwards, with a square step towards the wall.
func (b *block) shape(points []int, dir r3.Vec, limits []shared) side {
	s := side{dir: dir, shared: limits, points: points, back: math.Inf(1), mouth: math.Inf(-1)}
	s.across[0], s.across[1] = across(dir)
	var seen []plane.Point
	for _, p := range points {
		at := b.point(p)
		along := r3.Dot(dir, at)
		s.back, s.mouth = min(s.back, along), max(s.mouth, along)
		seen = append(seen, [2]float64{r3.Dot(s.across[0], at), r3.Dot(s.across[1], at)})
	}
	s.back -= 0.618 * b.Cell // between two planes of points
	s.step = s.mouth + shoulder
	if wall := b.wallAlong(dir); wall-s.step < stepLeast {
		s.step = math.Inf(1)
	}
	s.region = b.socket(seen)
	hull := plane.Hull(seen)
	const sides = 24
	for i := range sides { // the hull, wider by the seat, as the half planes that touch it
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / sides)
		reach := math.Inf(-1)
		for _, p := range hull {
			reach = max(reach, p[0]*cos+p[1]*sin)
		}
		s.planes = append(s.planes, [3]float64{cos, sin, reach + seat})
	}
	return s
}

// wallAlong is how far along a direction the nearest wall of the box that
// faces it lies.
func (b *block) wallAlong(dir r3.Vec) float64 {
	middle := r3.Scale(0.5, r3.Add(b.box.Min, b.box.Max))
	half := r3.Scale(0.5, r3.Sub(b.box.Max, b.box.Min))
	out := math.Inf(1)
	for _, v := range [3][2]float64{{dir.X, half.X}, {dir.Y, half.Y}, {dir.Z, half.Z}} {
		if math.Abs(v[0]) > 1e-9 {
			out = min(out, v[1]/math.Abs(v[0]))
		}
	}
	return r3.Dot(dir, middle) + out
}

// depth is how far a place is outside a piece, negative inside; what of it is
// part is for others to say.
func (s *side) depth(p r3.Vec) float64 {
	along := r3.Dot(s.dir, p)
	d := s.back - along
	for _, l := range s.shared {
		d = max(d, r3.Dot(l.normal, p)-l.at)
	}
	if d > farOff {
		return d
	}
	x, y := r3.Dot(s.across[0], p), r3.Dot(s.across[1], p)
	open := taper * max(0, along-s.mouth)
	reach := func(every int) (far float64) {
		far = math.Inf(-1)
		for n := 0; n < len(s.planes); n += every {
			h := &s.planes[n]
			far = max(far, h[0]*x+h[1]*y-h[2])
		}
		return far - open
	}
	sides := func() float64 {
		if s.region != nil {
			return s.region.Beyond(plane.Point{x - s.off[0], y - s.off[1]}) - open
		}
		return reach(1)
	}
	if along > s.step-farOff { // square, wider, out to the wall
		square := max(s.step-along, reach(len(s.planes)/4)-step)
		if square > d {
			square = min(square, max(d, sides()))
		}
		return max(d, square)
	}
	return max(d, sides())
}
