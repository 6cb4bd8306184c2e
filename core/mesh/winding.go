package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// solidAngle is the signed solid angle of triangle abc seen from the origin
// (Van Oosterom & Strackee, IEEE Trans. Biomed. Eng. 30 (1983) 125).
func solidAngle(a, b, c r3.Vec) float64 {
	la, lb, lc := long(a), long(b), long(c)
	det := r3.Dot(a, r3.Cross(b, c))
	den := la*lb*lc + r3.Dot(a, b)*lc + r3.Dot(b, c)*la + r3.Dot(c, a)*lb
	return 2 * math.Atan2(det, den)
}

// long is the length of a vector whose square is in reach of a float64; r3.Norm
// takes five times as long to be right beyond.
func long(v r3.Vec) float64 { return math.Sqrt(r3.Norm2(v)) }

// windingTree answers how often a point is enclosed by a mesh that need not
// be closed: the generalised winding number (Jacobson, Kavan &
// Sorkine-Hornung 2013), with far groups of triangles taken as one dipole
// (Barill et al. 2018).
type windingTree struct {
	mesh  *Mesh
	order []int32 // triangles, grouped by leaf
	nodes []windingNode
}

type windingNode struct {
	centre      r3.Vec  // area-weighted middle
	dipole      r3.Vec  // sum of area vectors
	radius      float64 // no corner lies farther from centre
	first, last int32   // span of order
	left        int32   // index of the first child, the second follows; 0 for a leaf
}

const (
	windingLeaf = 12  // triangles summed one by one
	windingFar  = 2.5 // distance in radii from which a dipole will do: about 1e-3 of a turn
)

func newWindingTree(m *Mesh) *windingTree {
	w := &windingTree{mesh: m, order: make([]int32, len(m.Triangles))}
	for i := range w.order {
		w.order[i] = int32(i)
	}
	w.nodes = append(w.nodes, windingNode{last: int32(len(w.order))})
	for i := 0; i < len(w.nodes); i++ {
		w.measure(i)
		if w.nodes[i].last-w.nodes[i].first > windingLeaf {
			w.split(i)
		}
	}
	return w
}

func (w *windingTree) middle(t int32) r3.Vec {
	a, b, c := w.mesh.Corners(int(t))
	return r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
}

func (w *windingTree) measure(i int) {
	n := &w.nodes[i]
	var area float64
	for _, t := range w.order[n.first:n.last] {
		a, b, c := w.mesh.Corners(int(t))
		v := r3.Scale(0.5, r3.Cross(r3.Sub(b, a), r3.Sub(c, a)))
		s := r3.Norm(v)
		n.dipole = r3.Add(n.dipole, v)
		n.centre = r3.Add(n.centre, r3.Scale(s, w.middle(t)))
		area += s
	}
	if area > 0 {
		n.centre = r3.Scale(1/area, n.centre)
	} else {
		n.centre = w.middle(w.order[n.first])
	}
	for _, t := range w.order[n.first:n.last] {
		a, b, c := w.mesh.Corners(int(t))
		for _, p := range [3]r3.Vec{a, b, c} {
			n.radius = max(n.radius, r3.Norm(r3.Sub(p, n.centre)))
		}
	}
}

// split halves a node at the median of its longest side.
func (w *windingTree) split(i int) {
	first, last := w.nodes[i].first, w.nodes[i].last
	part := w.order[first:last]
	lo, hi := w.middle(part[0]), w.middle(part[0])
	for _, t := range part {
		p := w.middle(t)
		lo = r3.Vec{X: min(lo.X, p.X), Y: min(lo.Y, p.Y), Z: min(lo.Z, p.Z)}
		hi = r3.Vec{X: max(hi.X, p.X), Y: max(hi.Y, p.Y), Z: max(hi.Z, p.Z)}
	}
	size := r3.Sub(hi, lo)
	key := func(p r3.Vec) float64 { return p.X }
	if size.Y > size.X && size.Y >= size.Z {
		key = func(p r3.Vec) float64 { return p.Y }
	} else if size.Z > size.X {
		key = func(p r3.Vec) float64 { return p.Z }
	}
	halve(part, func(t int32) float64 { return key(w.middle(t)) })
	half := first + (last-first)/2
	w.nodes[i].left = int32(len(w.nodes))
	w.nodes = append(w.nodes, windingNode{first: first, last: half}, windingNode{first: half, last: last})
}

// at returns the winding number at p: 1 inside a closed mesh, 0 outside,
// between the two near a hole.
func (w *windingTree) at(p r3.Vec) float64 {
	var stack [64]int32
	depth, sum := 1, 0.0
	for depth > 0 {
		depth--
		n := &w.nodes[stack[depth]]
		d := r3.Sub(n.centre, p)
		dist := long(d)
		switch {
		case dist > windingFar*n.radius:
			sum += r3.Dot(n.dipole, d) / (dist * dist * dist)
		case n.left == 0:
			for _, t := range w.order[n.first:n.last] {
				a, b, c := w.mesh.Corners(int(t))
				sum += solidAngle(r3.Sub(a, p), r3.Sub(b, p), r3.Sub(c, p))
			}
		default:
			stack[depth], stack[depth+1] = n.left, n.left+1
			depth += 2
		}
	}
	return sum / (4 * math.Pi)
}

// mostLarge is how many large facets are looked at one by one from every point.
const mostLarge = 500

// largerThan counts the triangles with an edge longer than so much.
func (m *Mesh) largerThan(edge float64) (n int) {
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		if max(r3.Norm2(r3.Sub(b, a)), r3.Norm2(r3.Sub(c, b)), r3.Norm2(r3.Sub(a, c))) > edge*edge {
			n++
		}
	}
	return n
}

// OpenVolume returns the most likely volume in mm³ of a mesh with holes and
// how far off it may be. The volume is that of the mesh with its holes
// closed flat; the bound is the largest of how far the generalised winding
// number disagrees with it, how much the answer depends on the threshold of
// that number (0.4 to 0.6), and how far the rims are from flat.
func (m *Mesh) OpenVolume() (volume, bound float64) {
	capped, _ := m.Capped()
	volume = capped.Volume()
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	longest := max(size.X, size.Y, size.Z)
	if longest == 0 {
		return 0, 0
	}
	cell := longest / 44
	if large := m.largerThan(4 * cell); large > mostLarge { // the tree cannot take them together
		cell = longest / max(12, 44*math.Cbrt(mostLarge/float64(large)))
	}
	margin := 2 * cell // room for the bulge of the field in front of a hole
	low := r3.Sub(box.Min, r3.Vec{X: margin, Y: margin, Z: margin})
	nx, ny, nz := int((size.X+2*margin)/cell)+1, int((size.Y+2*margin)/cell)+1, int((size.Z+2*margin)/cell)+1
	tree := newWindingTree(m)
	counts := make([][3]int, nx) // of each plane, over 0.4, 0.5 and 0.6
	inChunks(nx, func(i int) {
		for j := range ny {
			for k := range nz {
				p := r3.Add(low, r3.Scale(cell, r3.Vec{X: float64(i) + 0.5, Y: float64(j) + 0.5, Z: float64(k) + 0.5}))
				w := tree.at(p)
				for n, threshold := range [3]float64{0.4, 0.5, 0.6} {
					if w > threshold {
						counts[i][n]++
					}
				}
			}
		}
	})
	var loose, middle, strict int
	for _, n := range counts {
		loose, middle, strict = loose+n[0], middle+n[1], strict+n[2]
	}
	each := cell * cell * cell
	bound = max(math.Abs(volume-float64(middle)*each), float64(loose-strict)*each/2, rimSpread(m, capped))
	return volume, bound
}

// Enclosure tells what lies inside a mesh, for many places.
type Enclosure struct{ tree *windingTree }

// NewEnclosure makes one of a mesh that closes, or nearly so.
func NewEnclosure(m *Mesh) Enclosure { return Enclosure{newWindingTree(m)} }

// Holds reports whether a place lies inside.
func (e Enclosure) Holds(p r3.Vec) bool { return e.tree.at(p) > 0.5 }
