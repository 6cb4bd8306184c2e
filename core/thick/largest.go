package thick

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bathyform/core/mesh"
	"bathyform/core/parallel"

	"gonum.org/v1/gonum/spatial/r3"
)

// Ball is a ball inside a part.
type Ball struct {
	Centre  r3.Vec
	Radius  float64 // mm
	Touches r3.Vec  // a place of the surface that it touches
}

const (
	starts    = 2000 // balls over the surface that the largest is looked for from
	climbed   = 8    // of them that are moved to where they are largest
	steady    = 2e-4 // share of its radius that a ball still gains
	roughly   = 40   // moves, where the map asks
	closely   = 160  // and where one place does
	offEdge   = 0.01 // of the largest ball's radius
	unopposed = 40   // places that nothing faces, of which the ball is looked for one by one
)

// largestBall is the largest ball that goes into a closed part: twice its
// radius is the greatest thickness. It is looked for from balls that touch
// the surface, and moved to where it touches on all sides.
func largestBall(ctx context.Context, m *mesh.Mesh, tree *mesh.Tree, normals []r3.Vec, face []float64) Ball {
	box := m.Bounds()
	most := r3.Norm(r3.Sub(box.Max, box.Min))
	order := tree.Nearby()
	run := max(1, len(order)/starts)
	found := make([]Ball, (len(order)+run-1)/run)
	each(ctx, len(found), func(i int) {
		t := int(order[i*run])
		n := normals[t]
		if n == (r3.Vec{}) {
			return
		}
		a, b, c := m.Corners(t)
		p := r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
		across, _ := tree.Ray(p, r3.Scale(-1, n), func(o int32) bool { return r3.Dot(normals[o], n) < 0 })
		across = min(across, face[t])
		if math.IsInf(across, 1) {
			return
		}
		found[i] = grown(tree, r3.Sub(p, r3.Scale(across/2, n)), min(most, across/2*(1+steady)))
	})
	slices.SortStableFunc(found, func(a, b Ball) int { return cmp.Compare(b.Radius, a.Radius) })
	best := found[:min(climbed, len(found))]
	each(ctx, len(best), func(i int) { best[i] = climb(tree, best[i], most, closely, nil) })
	var largest Ball
	for _, b := range best {
		if b.Radius > largest.Radius {
			largest = b
		}
	}
	return largest
}

// each does work for 0 up to n, as far as ctx lets it.
func each(ctx context.Context, n int, work func(i int)) {
	batch := max(1, min(64, n/64))
	_ = parallel.Each(ctx, (n+batch-1)/batch, 1<<30, func(k int) error {
		for i := k * batch; i < min(n, (k+1)*batch) && ctx.Err() == nil; i++ {
			work(i)
		}
		return nil
	}, nil)
}

// grown is the largest ball about a place.
func grown(tree *mesh.Tree, c r3.Vec, most float64) Ball {
	at, t := tree.Near(c, most, steady/2, nil)
	if t < 0 {
		return Ball{}
	}
	return Ball{c, r3.Norm(r3.Sub(at, c)), at}
}

// ways are the directions that a ball is moved in, besides straight away from
// what it touches.
var ways = []r3.Vec{{X: 1}, {X: -1}, {Y: 1}, {Y: -1}, {Z: 1}, {Z: -1},
	{X: 1, Y: 1}, {X: -1, Y: -1}, {X: 1, Y: -1}, {X: -1, Y: 1}, {X: 1, Z: 1}, {X: -1, Z: -1}, {X: 1, Z: -1}, {X: -1, Z: 1},
	{Y: 1, Z: 1}, {Y: -1, Z: -1}, {Y: 1, Z: -1}, {Y: -1, Z: 1},
	{X: 1, Y: 1, Z: 1}, {X: -1, Y: 1, Z: 1}, {X: 1, Y: -1, Z: 1}, {X: 1, Y: 1, Z: -1},
	{X: -1, Y: -1, Z: 1}, {X: -1, Y: 1, Z: -1}, {X: 1, Y: -1, Z: -1}, {X: -1, Y: -1, Z: -1}}

// climb moves a ball to where it is largest, never through the surface, or
// until it is held.
func climb(tree *mesh.Tree, b Ball, most float64, moves int, held func(Ball) bool) Ball {
	step := b.Radius / 2 // as long as it gets better, longer ones
	in := make(hindrances, 0, fewHinder)
	for range moves {
		if held != nil && held(b) {
			return b
		}
		try := func(d r3.Vec) bool {
			n := r3.Norm(d)
			if n == 0 || step >= 0.9*b.Radius {
				return false
			}
			c := r3.Add(b.Centre, r3.Scale(step/n, d))
			if in.theWay(tree, c, b.Radius*(1+steady)) {
				return false
			}
			b = grown(tree, c, b.Radius+step+1e-9*most)
			return true
		}
		if try(r3.Sub(b.Centre, b.Touches)) || slices.ContainsFunc(ways, try) {
			step = min(1.5*step, b.Radius/2)
			continue
		}
		if step /= 2; step < steady*b.Radius {
			break
		}
	}
	return b
}

// hindrances are the triangles that a ball lately ran into, the latest last:
// it is the few that hold it which it runs into again.
type hindrances []int32

const fewHinder = 8

func (h *hindrances) theWay(tree *mesh.Tree, p r3.Vec, radius float64) bool {
	for i, t := range slices.Backward(*h) {
		if tree.Distance(p, t) < radius {
			*h = append(slices.Delete(*h, i, i+1), t)
			return true
		}
	}
	t := tree.Within(p, radius)
	if t < 0 {
		return false
	}
	if len(*h) == fewHinder {
		*h = slices.Delete(*h, 0, 1)
	}
	*h = append(*h, t)
	return true
}

// bounded holds the map to the largest ball, and gives what nothing faces,
// such as the sides of a point, the ball that lies next to it.
func (out *Map) bounded(ctx context.Context, m *mesh.Mesh, tree *mesh.Tree, normals []r3.Vec, order []int32, largest Ball) {
	var open []int32
	for _, t := range order {
		if math.IsInf(out.Face[t], 1) && normals[t] != (r3.Vec{}) {
			open = append(open, t)
		} else {
			out.Face[t] = min(out.Face[t], 2*largest.Radius)
		}
	}
	run := max(1, len(open)/unopposed)
	each(ctx, (len(open)+run-1)/run, func(i int) {
		t := int(open[i*run])
		a, b, c := m.Corners(t)
		h := nextTo(m, tree, normals, r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c))), normals[t], largest.Radius, roughly)
		for _, o := range open[i*run : min((i+1)*run, len(open))] {
			out.Face[o] = h
		}
	})
}

// nextTo is the thickness beside an edge: the ball that touches the surface
// at p and is stopped by anything is moved out of the edge, until surfaces
// that face one another hold it, or it is largest.
func nextTo(m *mesh.Mesh, tree *mesh.Tree, normals []r3.Vec, p, n r3.Vec, most float64, moves int) float64 {
	aside, _ := ballAt(m, tree, normals, p, n, most, math.Pi/2-0.2, false) // stopped by what leans in over it
	r := min(aside/2, most)
	b := grown(tree, r3.Sub(p, r3.Scale(0.98*r, n)), 4*most)
	b = climb(tree, b, 4*most, moves, func(b Ball) bool {
		out := r3.Sub(b.Touches, b.Centre)
		at, t := tree.Nearest(b.Centre, 1.02*b.Radius, func(i int32) bool { return r3.Dot(normals[i], out) < facing*b.Radius })
		return t >= 0 && r3.Dot(r3.Sub(at, b.Centre), out) < facing*b.Radius*b.Radius
	})
	return 2 * b.Radius
}

// At is the thickness at the place of the surface nearest to one, and that place.
func (s *Sounding) At(p r3.Vec) Place {
	at, t := s.tree.Nearest(p, math.Inf(1), nil)
	if t < 0 || s.largest == 0 {
		return Place{Thickness: math.Inf(1), At: at}
	}
	n := s.normals[t]
	// an edge has no ball of its own: it is asked a little inside its face
	a, b, c := s.mesh.Corners(int(t))
	in := r3.Sub(r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c))), at)
	from := at
	if far := r3.Norm(in); far > 0 {
		from = r3.Add(at, r3.Scale(min(1, offEdge*s.largest/far), in))
	}
	h, _ := ballAt(s.mesh, s.tree, s.normals, from, n, s.largest, math.Acos(facing), false)
	if aside, _ := ballAt(s.mesh, s.tree, s.normals, from, n, s.largest, math.Pi/2-0.2, false); aside < 0.95*min(h, 2*s.largest) {
		h = min(h, nextTo(s.mesh, s.tree, s.normals, from, n, s.largest, closely))
	}
	return Place{Thickness: min(h, 2*s.largest), At: at}
}

// Sounding asks for the thickness of a closed part at single places.
type Sounding struct {
	mesh    *mesh.Mesh
	tree    *mesh.Tree
	normals []r3.Vec
	largest float64 // radius, mm
}

// Sound makes a part ready to be asked; its map tells how thick it is at most.
func Sound(m *mesh.Mesh, of Map) *Sounding {
	s := &Sounding{mesh: m, tree: mesh.NewTree(m), normals: make([]r3.Vec, len(m.Triangles)), largest: of.Thickest.Thickness / 2}
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		if v := r3.Cross(r3.Sub(b, a), r3.Sub(c, a)); r3.Norm(v) > 0 {
			s.normals[t] = r3.Unit(v)
		}
	}
	return s
}
