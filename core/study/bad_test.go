package study_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/attitude"
	"bathyform/core/draw"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"
	"bathyform/core/study"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func join(all ...*mesh.Mesh) *mesh.Mesh {
	out := &mesh.Mesh{}
	for _, m := range all {
		n := int32(len(out.Vertices))
		out.Vertices = append(out.Vertices, m.Vertices...)
		for _, t := range m.Triangles {
			out.Triangles = append(out.Triangles, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
	}
	return out
}

// insideOut turns a mesh's surface the wrong way round.
func insideOut(m *mesh.Mesh) *mesh.Mesh {
	out := &mesh.Mesh{Vertices: m.Vertices}
	for _, t := range m.Triangles {
		out.Triangles = append(out.Triangles, [3]int32{t[0], t[2], t[1]})
	}
	return out
}

// needled adds splinters of no area between the corners of a mesh.
func needled(m *mesh.Mesh) *mesh.Mesh {
	out := join(m)
	for i := 0; i+2 < len(m.Vertices); i += 2 {
		a, b := m.Vertices[i], m.Vertices[i+2]
		mid := r3.Add(r3.Scale(0.5, r3.Add(a, b)), r3.Vec{X: 1e-9})
		n := int32(len(out.Vertices))
		out.Vertices = append(out.Vertices, mid)
		out.Triangles = append(out.Triangles, [3]int32{int32(i), int32(i + 2), n})
	}
	return out
}

// crumbs is a thousand loose balls in a crate.
func crumbs() *mesh.Mesh {
	rng := rand.New(rand.NewPCG(4, 4))
	var all []*mesh.Mesh
	for range 1000 {
		at := r3.Vec{X: 60 * rng.Float64(), Y: 60 * rng.Float64(), Z: 60 * rng.Float64()}
		all = append(all, meshtest.Moved(meshtest.Sphere(0.6, 6), r3.NewRotation(0, r3.Vec{Z: 1}), at))
	}
	return join(all...)
}

// A mesh that is wrong in itself still gets an answer, without a figure that
// cannot be, and never takes the shop down.
func TestBrokenMeshesAreLookedOverLikeAnyOther(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20})
	for name, m := range map[string]*mesh.Mesh{
		"crosses itself":         join(box, meshtest.Moved(box, r3.NewRotation(0.7, r3.Vec{X: 1, Y: 2}), r3.Vec{X: 12, Y: 5, Z: 6})),
		"inside out":             insideOut(box),
		"needles":                needled(meshtest.Sphere(15, 24)),
		"coplanar doubles":       join(box, box),
		"a thousand loose balls": crumbs(),
		"a sheet":                {Vertices: []r3.Vec{{}, {X: 40}, {X: 40, Y: 30}, {Y: 30}}, Triangles: [][3]int32{{0, 1, 2}, {0, 2, 3}}},
	} {
		t.Run(name, func(t *testing.T) {
			read, report, err := mesh.Load(m.WriteSTL(), 1)
			if err != nil {
				assert.NotEmpty(t, err.Error(), "refused with a word")
				return
			}
			p := study.Prepare(partOf(read, report))
			h := practice.Usual()
			s, err := p.Survey(study.Question{Draw: r3.Vec{Z: 1}, Wanted: 20}, h)
			if err != nil {
				assert.NotEmpty(t, err.Error())
				return
			}
			for what, v := range map[string]float64{
				"locked": s.Figures.Locked.Value, "seam": s.Figures.Seam.Value, "thinnest": s.Figures.Thinnest.Value,
				"median": s.Figures.Median.Value, "thickest": s.Figures.Thickest.Value, "plan": s.Draw.Plan,
			} {
				assert.False(t, math.IsNaN(v) || math.IsInf(v, 0) || v < 0, "%s is %v", what, v)
			}
			size := r3.Norm(r3.Sub(read.Bounds().Max, read.Bounds().Min))
			assert.LessOrEqual(t, s.Figures.Thickest.Value, size)
			p.SurveyFindings(s, study.Question{Wanted: 20}, h)

			offers, err := draw.Search(t.Context(), read, 12, nil)
			if assert.NoError(t, err) {
				assert.NotEmpty(t, offers)
			}
			_, _, err = attitude.Look(read, report.Sound, r3.Vec{X: 0.2, Z: 1}, attitude.CoarseCells)
			assert.NoError(t, err)
			if d, err := p.Start(h); err == nil {
				_, err = p.Work(d, study.Given{}, h)
				assert.NoError(t, err)
			}
		})
	}
	_, _, err := mesh.Load(insideOut(box).WriteSTL(), 1)
	require.NoError(t, err, "turned right on reading")
}
