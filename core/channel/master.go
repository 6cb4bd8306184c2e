package channel

import (
	"context"
	"math"
	"sync"

	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/memo"
	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Master is what channels keep clear of and lead to: a closed mesh. It may be
// used from several goroutines.
type Master struct {
	mesh   *mesh.Mesh
	solid  func() mesh.Enclosure // made when somebody asks what lies inside
	tree   *mesh.Tree
	middle r3.Vec
	reach  float64 // from its middle, mm
	views  memo.Memo[r3.Vec, *view]
}

// view is a master seen from above.
type view struct {
	frame     grid.Frame
	shape     gang.Shape
	shadow    *plane.Region
	low, high float64 // along the way up
}

// mostViews is how many ways up are remembered.
const mostViews = 12

// NewMaster takes a closed mesh.
func NewMaster(m *mesh.Mesh) *Master {
	b := m.Bounds()
	out := &Master{mesh: m, tree: mesh.NewTree(m), middle: b.Center(), reach: r3.Norm(r3.Sub(b.Max, b.Min)) / 2}
	out.solid = sync.OnceValue(func() mesh.Enclosure { return mesh.NewEnclosure(m) })
	out.views.Most = mostViews
	return out
}

// from is the master as it is seen from above with a way up.
func (m *Master) from(up r3.Vec) (*view, error) {
	key := grained(r3.Unit(up))
	return m.views.Get(context.Background(), key, func(context.Context) (*view, error) {
		frame, err := grid.NewFrame(key)
		if err != nil {
			return nil, err
		}
		v := &view{frame: frame, low: math.Inf(1), high: math.Inf(-1)}
		if v.shape, err = gang.Seen(m.mesh, key); err != nil {
			return nil, err
		}
		for _, p := range m.mesh.Vertices {
			z := r3.Dot(frame.Up, p)
			v.low, v.high = min(v.low, z), max(v.high, z)
		}
		v.shadow = plane.NewRegion(v.shape.Ring, v.shape.Radius)
		return v, nil
	})
}

// Nearest is the triangle of the surface that is nearest to a place.
func (m *Master) Nearest(p r3.Vec) int32 {
	_, t := m.tree.Nearest(p, math.Inf(1), nil)
	return t
}

// Distance is how far the surface is from a place, mm.
func (m *Master) Distance(p r3.Vec) float64 {
	at, t := m.tree.Nearest(p, math.Inf(1), nil)
	if t < 0 {
		return math.Inf(1)
	}
	return r3.Norm(r3.Sub(at, p))
}

// Near is whether the surface is nearer to a place than a distance, mm.
func (m *Master) Near(p r3.Vec, distance float64) bool { return m.tree.Within(p, distance) >= 0 }

// Holds is whether a place lies inside.
func (m *Master) Holds(p r3.Vec) bool { return m.solid().Holds(p) }

// Section is the master cut across a direction, see [mesh.Mesh.Section].
func (m *Master) Section(normal r3.Vec, offset float64) [][]r3.Vec {
	return m.mesh.Section(normal, offset)
}

// Face is the face of the surface at a place, see [mesh.Mesh.Face].
func (m *Master) Face(p r3.Vec, bend, turned float64) []int32 {
	return m.mesh.Face(m.Nearest(p), bend, turned)
}

// grained is a direction without the dust of its rounding.
func grained(v r3.Vec) r3.Vec {
	const grain = 1e9
	return r3.Vec{X: math.Round(v.X*grain) / grain, Y: math.Round(v.Y*grain) / grain, Z: math.Round(v.Z*grain) / grain}
}
