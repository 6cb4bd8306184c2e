package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Tree finds the nearest triangles of a mesh: boxes within boxes.
type Tree struct {
	mesh  *Mesh
	order []int32 // triangles, those of a leaf together
	nodes []treeNode

	normals []r3.Vec
}

type treeNode struct {
	box         r3.Box
	left, right int32 // children; a leaf has left < 0 and holds order[first:last]
	first, last int32

	axis     r3.Vec  // mean of the normals
	cos, sin float64 // of the greatest angle of a normal to it
}

const leafTriangles = 6

// NewTree sorts a mesh's triangles. The mesh must not change afterwards.
func NewTree(m *Mesh) *Tree {
	t := &Tree{mesh: m, order: make([]int32, len(m.Triangles))}
	mid := make([]r3.Vec, len(m.Triangles))
	t.normals = make([]r3.Vec, len(m.Triangles))
	for i := range t.order {
		t.order[i] = int32(i)
		a, b, c := m.Corners(i)
		if n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a)); n != (r3.Vec{}) {
			t.normals[i] = r3.Unit(n)
		}
		mid[i] = r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
	}
	if len(t.order) > 0 {
		t.build(mid, 0, int32(len(t.order)))
	}
	return t
}

func (t *Tree) build(mid []r3.Vec, first, last int32) int32 {
	inf := math.Inf(1)
	n := treeNode{
		box:   r3.Box{Min: r3.Vec{X: inf, Y: inf, Z: inf}, Max: r3.Vec{X: -inf, Y: -inf, Z: -inf}},
		left:  -1,
		first: first,
		last:  last,
	}
	for _, i := range t.order[first:last] {
		a, b, c := t.mesh.Corners(int(i))
		n.box = grow(grow(grow(n.box, a), b), c)
		n.axis = r3.Add(n.axis, t.normals[i])
	}
	n.cos = -1
	if l := r3.Norm(n.axis); l > 1e-9 {
		n.axis = r3.Scale(1/l, n.axis)
		least := 1.0
		for _, i := range t.order[first:last] {
			if t.normals[i] != (r3.Vec{}) {
				least = min(least, r3.Dot(n.axis, t.normals[i]))
			}
		}
		n.cos = max(-1, least)
		n.sin = math.Sqrt(1 - n.cos*n.cos)
	}
	at := int32(len(t.nodes))
	t.nodes = append(t.nodes, n)
	if last-first <= leafTriangles {
		return at
	}
	size := r3.Sub(n.box.Max, n.box.Min)
	along := func(v r3.Vec) float64 { return v.X }
	if size.Y > size.X && size.Y >= size.Z {
		along = func(v r3.Vec) float64 { return v.Y }
	} else if size.Z > size.X && size.Z > size.Y {
		along = func(v r3.Vec) float64 { return v.Z }
	}
	part := t.order[first:last]
	halve(part, func(i int32) float64 { return along(mid[i]) })
	half := first + (last-first)/2
	left := t.build(mid, first, half)
	right := t.build(mid, half, last)
	t.nodes[at].left, t.nodes[at].right = left, right
	return at
}

func grow(b r3.Box, p r3.Vec) r3.Box {
	b.Min = r3.Vec{X: min(b.Min.X, p.X), Y: min(b.Min.Y, p.Y), Z: min(b.Min.Z, p.Z)}
	b.Max = r3.Vec{X: max(b.Max.X, p.X), Y: max(b.Max.Y, p.Y), Z: max(b.Max.Z, p.Z)}
	return b
}

// Nearest returns the point of the surface nearest to p among the triangles
// that use lets pass, and its triangle; -1 when none is nearer than within.
func (t *Tree) Nearest(p r3.Vec, within float64, use func(triangle int32) bool) (at r3.Vec, triangle int32) {
	return t.Near(p, within, 0, use)
}

// Near is Nearest to within a share of the distance, for a place that many
// triangles are about as near to: it does not look into the difference.
func (t *Tree) Near(p r3.Vec, within, slack float64, use func(triangle int32) bool) (at r3.Vec, triangle int32) {
	return t.near(p, within, slack, use, false)
}

// Within returns a triangle that is nearer to p than a distance, whichever it
// comes upon; -1 where there is none.
func (t *Tree) Within(p r3.Vec, distance float64) (triangle int32) {
	_, triangle = t.near(p, distance, 0, nil, true)
	return triangle
}

func (t *Tree) near(p r3.Vec, within, slack float64, use func(triangle int32) bool, whichever bool) (at r3.Vec, triangle int32) {
	share := (1 - slack) * (1 - slack)
	triangle = -1
	if len(t.nodes) == 0 {
		return at, triangle
	}
	limit := within * within
	var stack [64]int32
	n := 1
	for n > 0 {
		n--
		node := &t.nodes[stack[n]]
		if boxDist2(&node.box, p) >= share*limit {
			continue
		}
		if node.left < 0 {
			for _, i := range t.order[node.first:node.last] {
				if use != nil && !use(i) {
					continue
				}
				a, b, c := t.mesh.Corners(int(i))
				q := NearestOnTriangle(p, a, b, c)
				if d := r3.Norm2(r3.Sub(p, q)); d < limit {
					limit, at, triangle = d, q, i
					if whichever {
						return at, triangle
					}
				}
			}
			continue
		}
		l, r := node.left, node.right
		if boxDist2(&t.nodes[l].box, p) < boxDist2(&t.nodes[r].box, p) {
			l, r = r, l
		}
		stack[n], stack[n+1] = l, r // the nearer on top
		n += 2
	}
	return at, triangle
}

// Distance is how far a triangle is from p.
func (t *Tree) Distance(p r3.Vec, triangle int32) float64 {
	a, b, c := t.mesh.Corners(int(triangle))
	return r3.Norm(r3.Sub(p, NearestOnTriangle(p, a, b, c)))
}

// Least grows its slack by this at every box, after some two hundred of them to mostSlack.
const (
	tiring    = 1.01
	mostSlack = 0.09
)

// Least returns the least value over the triangles whose normal stands at
// more than an angle from a direction, or start where none is less. Bound
// must be no more than the value of any triangle in a box; differences of
// less than slack, a share, are not looked into. Where very many triangles
// come to about the same value, as round the middle of a ball, the share
// grows with the search, up to mostSlack.
func (t *Tree) Least(
	start, slack float64,
	from r3.Vec,
	angle float64,
	bound func(b *r3.Box) float64,
	value func(triangle int32, best float64) float64,
) float64 {
	far, near := math.Sincos(angle)
	look := func(i int32) float64 {
		n := &t.nodes[i]
		if n.cos > near && r3.Dot(n.axis, from) > near*n.cos+far*n.sin { // the cosine of what the angle leaves
			return math.Inf(1)
		}
		return bound(&n.box)
	}
	type visit struct {
		node int32
		at   float64
	}
	best := start
	if len(t.nodes) == 0 {
		return best
	}
	var stack [64]visit
	stack[0] = visit{0, look(0)}
	n := 1
	for n > 0 {
		n--
		if stack[n].at >= best*(1-slack) {
			continue
		}
		slack = max(slack, min(mostSlack, slack*tiring))
		node := &t.nodes[stack[n].node]
		if node.left < 0 {
			for _, i := range t.order[node.first:node.last] {
				if r3.Dot(t.normals[i], from) < near {
					best = min(best, value(i, best))
				}
			}
			continue
		}
		l, r := visit{node.left, look(node.left)}, visit{node.right, look(node.right)}
		if l.at < r.at {
			l, r = r, l
		}
		stack[n], stack[n+1] = l, r // the more promising on top
		n += 2
	}
	return best
}

// Nearby returns the triangles in an order in which neighbours stand close together.
func (t *Tree) Nearby() []int32 { return t.order }

// Ray returns how far along dir, a unit vector, a ray from p first meets one
// of the triangles that use lets pass, and which; +Inf and -1 where it meets none.
func (t *Tree) Ray(p, dir r3.Vec, use func(triangle int32) bool) (best float64, triangle int32) {
	best, triangle = math.Inf(1), -1
	if len(t.nodes) == 0 {
		return best, triangle
	}
	inv := r3.Vec{X: 1 / dir.X, Y: 1 / dir.Y, Z: 1 / dir.Z}
	var stack [64]int32
	n := 1
	for n > 0 {
		n--
		node := &t.nodes[stack[n]]
		if !meetsBox(&node.box, p, inv, best) {
			continue
		}
		if node.left < 0 {
			for _, i := range t.order[node.first:node.last] {
				if use != nil && !use(i) {
					continue
				}
				a, b, c := t.mesh.Corners(int(i))
				if d := meetsTriangle(p, dir, a, b, c); d > 0 && d < best {
					best, triangle = d, i
				}
			}
			continue
		}
		stack[n], stack[n+1] = node.left, node.right
		n += 2
	}
	return best, triangle
}

func meetsBox(b *r3.Box, p, inv r3.Vec, within float64) bool {
	x0, x1 := (b.Min.X-p.X)*inv.X, (b.Max.X-p.X)*inv.X
	y0, y1 := (b.Min.Y-p.Y)*inv.Y, (b.Max.Y-p.Y)*inv.Y
	z0, z1 := (b.Min.Z-p.Z)*inv.Z, (b.Max.Z-p.Z)*inv.Z
	// a ray in the plane of a side gives 0 times infinity there; comparisons with NaN are false, so it passes
	near, far := 0.0, within
	for _, s := range [3][2]float64{{x0, x1}, {y0, y1}, {z0, z1}} {
		lo, hi := s[0], s[1]
		if lo > hi {
			lo, hi = hi, lo
		}
		if lo > near {
			near = lo
		}
		if hi < far {
			far = hi
		}
	}
	return near <= far*(1+1e-12)
}

// meetsTriangle returns how far along dir the ray from p meets a triangle, -1
// where it does not (Möller and Trumbore 1997, from memory).
func meetsTriangle(p, dir, a, b, c r3.Vec) float64 {
	u, v := r3.Sub(b, a), r3.Sub(c, a)
	h := r3.Cross(dir, v)
	det := r3.Dot(u, h)
	if det == 0 {
		return -1
	}
	s := r3.Sub(p, a)
	f := r3.Dot(s, h) / det
	if f < 0 || f > 1 {
		return -1
	}
	q := r3.Cross(s, u)
	if g := r3.Dot(dir, q) / det; g < 0 || f+g > 1 {
		return -1
	}
	return r3.Dot(v, q) / det
}

func boxDist2(b *r3.Box, p r3.Vec) float64 {
	dx := max(b.Min.X-p.X, 0, p.X-b.Max.X)
	dy := max(b.Min.Y-p.Y, 0, p.Y-b.Max.Y)
	dz := max(b.Min.Z-p.Z, 0, p.Z-b.Max.Z)
	return dx*dx + dy*dy + dz*dz
}

// NearestOnTriangle returns the point of triangle abc nearest to p
// (Ericson, Real-Time Collision Detection, 2005, section 5.1.5; from memory).
func NearestOnTriangle(p, a, b, c r3.Vec) r3.Vec {
	ab, ac, ap := r3.Sub(b, a), r3.Sub(c, a), r3.Sub(p, a)
	d1, d2 := r3.Dot(ab, ap), r3.Dot(ac, ap)
	if d1 <= 0 && d2 <= 0 {
		return a
	}
	bp := r3.Sub(p, b)
	d3, d4 := r3.Dot(ab, bp), r3.Dot(ac, bp)
	if d3 >= 0 && d4 <= d3 {
		return b
	}
	if vc := d1*d4 - d3*d2; vc <= 0 && d1 >= 0 && d3 <= 0 {
		return r3.Add(a, r3.Scale(d1/(d1-d3), ab))
	}
	cp := r3.Sub(p, c)
	d5, d6 := r3.Dot(ab, cp), r3.Dot(ac, cp)
	if d6 >= 0 && d5 <= d6 {
		return c
	}
	if vb := d5*d2 - d1*d6; vb <= 0 && d2 >= 0 && d6 <= 0 {
		return r3.Add(a, r3.Scale(d2/(d2-d6), ac))
	}
	va := d3*d6 - d5*d4
	if va <= 0 && d4-d3 >= 0 && d5-d6 >= 0 {
		return r3.Add(b, r3.Scale((d4-d3)/((d4-d3)+(d5-d6)), r3.Sub(c, b)))
	}
	vb, vc := d5*d2-d1*d6, d1*d4-d3*d2
	if sum := va + vb + vc; sum != 0 {
		return r3.Add(a, r3.Add(r3.Scale(vb/sum, ab), r3.Scale(vc/sum, ac)))
	}
	return a
}
