package thick

import (
	"cmp"
	"math"
	"slices"

	"bathyform/core/forest"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Narrow gathers the triangles that are thinner than limit into places that
// hang together over corners or face one another, the largest first. Specks smaller than a
// limit's own square are left out: they are the rims of facets.
func (out Map) Narrow(m *mesh.Mesh, limit float64) []Place {
	joined := forest.New(len(m.Vertices))
	for t, tri := range m.Triangles {
		if out.Face[t] < limit {
			joined.Join(tri[0], tri[1])
			joined.Join(tri[1], tri[2])
			if stop := out.stop[t]; stop >= 0 { // both walls of a slot are one place
				joined.Join(tri[0], m.Triangles[stop][0])
			}
		}
	}
	places := make(map[int32]*Place)
	for t, tri := range m.Triangles {
		h := out.Face[t]
		if h >= limit {
			continue
		}
		root := joined.Root(tri[0])
		p := places[root]
		if p == nil {
			p = &Place{Thickness: math.Inf(1)}
			places[root] = p
		}
		p.Area += out.Area[t]
		if h < p.Thickness {
			a, b, c := m.Corners(t)
			p.Thickness, p.At = h, r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
		}
	}
	var list []Place
	for _, p := range places {
		if p.Area >= limit*limit {
			list = append(list, *p)
		}
	}
	slices.SortFunc(list, func(a, b Place) int {
		return cmp.Or(cmp.Compare(b.Area, a.Area), cmp.Compare(a.At.X, b.At.X), cmp.Compare(a.At.Y, b.At.Y), cmp.Compare(a.At.Z, b.At.Z))
	})
	return list
}
