package hold

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Ground is what of a part tells how it stands some way up, whatever box it
// stands in.
type Ground struct {
	Up     r3.Vec
	Middle r3.Vec   // of its mass, taken to be solid
	Pins   []r3.Vec // where three pins hold it best; none where it has no underside

	frame grid.Frame
	tree  *mesh.Tree
}

const (
	pinBore   = 2.0 // mm; common practice, no source
	underside = 0.5 // of a facet's normal that looks down, for a pin to stand on
	buckets   = 28  // across the plan, that places for pins are looked for in
	offered   = 36  // places that three are chosen of
	mostRows  = 12  // of places on one facet
)

// On looks at a closed mesh standing a way up.
func On(m *mesh.Mesh, up r3.Vec) (Ground, error) {
	f, err := grid.NewFrame(up)
	if err != nil {
		return Ground{}, err
	}
	g := Ground{Up: r3.Unit(up), frame: f, tree: mesh.NewTree(m), Middle: middle(m)}
	g.Pins = g.three(g.places(m))
	return g, nil
}

// middle is the middle of a solid's volume: the sum over its surface's
// tetrahedra with the origin.
func middle(m *mesh.Mesh) r3.Vec {
	b := m.Bounds()
	o := r3.Scale(0.5, r3.Add(b.Min, b.Max))
	var sum r3.Vec
	total := 0.0
	for _, t := range m.Triangles {
		p, q, r := r3.Sub(m.Vertices[t[0]], o), r3.Sub(m.Vertices[t[1]], o), r3.Sub(m.Vertices[t[2]], o)
		v := r3.Dot(p, r3.Cross(q, r))
		total += v
		sum = r3.Add(sum, r3.Scale(v/4, r3.Add(p, r3.Add(q, r))))
	}
	if total == 0 {
		return o
	}
	return r3.Add(o, r3.Scale(1/total, sum))
}

// places are spots on the underside with nothing beneath them: the lowest of
// each bucket of the plan.
func (g Ground) places(m *mesh.Mesh) []r3.Vec {
	b := m.Bounds()
	span := max(r3.Norm(r3.Sub(b.Max, b.Min)), 1e-9)
	mid := g.frame.In(g.Middle)
	lowest := map[[2]int]r3.Vec{}
	for _, t := range m.Triangles {
		p, q, r := m.Vertices[t[0]], m.Vertices[t[1]], m.Vertices[t[2]]
		n := r3.Cross(r3.Sub(q, p), r3.Sub(r, p))
		if size := r3.Norm(n); size == 0 || r3.Dot(n, g.Up) > -underside*size {
			continue
		}
		// a large facet has many places
		size := max(r3.Norm(r3.Sub(q, p)), r3.Norm(r3.Sub(r, p)), r3.Norm(r3.Sub(r, q)))
		rows := min(mostRows, 1+int(buckets*size/span))
		for i := range rows {
			for k := range rows - i {
				u, v := (float64(i)+1./3)/float64(rows), (float64(k)+1./3)/float64(rows)
				at := r3.Add(p, r3.Add(r3.Scale(u, r3.Sub(q, p)), r3.Scale(v, r3.Sub(r, p))))
				in := g.frame.In(at)
				cell := [2]int{int(math.Floor(buckets * (in.X - mid.X) / span)), int(math.Floor(buckets * (in.Y - mid.Y) / span))}
				if old, ok := lowest[cell]; !ok || r3.Dot(at, g.Up) < r3.Dot(old, g.Up)-1e-9 {
					lowest[cell] = at
				}
			}
		}
	}
	// the farthest on every side of the middle are enough to choose from
	best := make([]r3.Vec, offered)
	far := make([]float64, offered)
	for _, cell := range slices.SortedFunc(maps.Keys(lowest), func(a, b [2]int) int { return cmp.Or(a[0]-b[0], a[1]-b[1]) }) {
		at := lowest[cell]
		in := g.frame.In(at)
		x, y := in.X-mid.X, in.Y-mid.Y
		side := int(offered*(math.Atan2(y, x)/(2*math.Pi)+1)) % offered
		if d := math.Hypot(x, y); d > far[side]+1e-9 && g.clear(at, r3.Scale(-1, g.Up)) {
			far[side], best[side] = d, at
		}
	}
	var out []r3.Vec
	for k, at := range best {
		if far[k] > 0 {
			out = append(out, at)
		}
	}
	return out
}

// three are the places between which the middle lies deepest.
func (g Ground) three(places []r3.Vec) []r3.Vec {
	b := Body{Ground: g}
	most := 0.0
	var out []r3.Vec
	for i := range places {
		for j := range i {
			for k := range j {
				at := []Point{{At: places[i]}, {At: places[j]}, {At: places[k]}}
				if d := b.margin(at); d > most+1e-9 {
					most, out = d, []r3.Vec{places[i], places[j], places[k]}
				}
			}
		}
	}
	return out
}

// clear reports whether nothing of the part lies on the way from a place on it.
func (g Ground) clear(at, way r3.Vec) bool {
	long := r3.Norm(way)
	if long == 0 {
		return true
	}
	dir := r3.Scale(1/long, way)
	_, hit := g.tree.Ray(r3.Add(at, r3.Scale(1e-3, dir)), dir, nil)
	return hit < 0
}
