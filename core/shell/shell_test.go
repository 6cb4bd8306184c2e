package shell

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var up = r3.Vec{Z: 1}

func made(t testing.TB, m *mesh.Mesh, thick float64) Blanket {
	t.Helper()
	b, err := Make(t.Context(), m, up, thick, 0)
	require.NoError(t, err)
	return b
}

// Steiner's formula: a convex body of volume V, surface S and mean width
// integral M, widened by d, has V + S d + M d² + 4/3 π d³; for a box
// M = π (a + b + c), for a ball of radius r it is 4/3 π (r + d)³.
func TestBlanketsKeepToSteinersFormula(t *testing.T) {
	const d = 10.0
	box := made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}), d)
	want := 2*(60*40+60*20+40*20)*d + math.Pi*(60+40+20)*d*d + 4.0/3*math.Pi*d*d*d
	assert.InEpsilon(t, want, box.Volume, 0.005)
	assert.Zero(t, box.Bridged, "a box has no undercut")

	ball := meshtest.Sphere(25, 64)
	assert.InEpsilon(t, 4.0/3*math.Pi*(35*35*35)-ball.Volume(), made(t, ball, d).Volume, 0.005)
}

func TestTheShellDraws(t *testing.T) {
	// a dumb-bell lying down is undercut from above only when it stands
	m := &mesh.Mesh{}
	m.Append(meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 60, Z: 10}))
	m.Append(meshtest.Box(r3.Vec{X: 25, Y: 25, Z: 10}, r3.Vec{X: 35, Y: 35, Z: 70}))
	m.Append(meshtest.Box(r3.Vec{X: 0, Y: 0, Z: 70}, r3.Vec{X: 60, Y: 60, Z: 80}))
	b := made(t, m, 8)
	plates := 60*60 + 4*60*8 + math.Pi*64 // seen from above, with their skin
	assert.InEpsilon(t, (plates-26*26)*(60-16), b.Bridged, 0.1, "the waist is filled, but for the skin that is there")
	_, r, err := mesh.Load(b.Outer.WriteSTL(), 1)
	require.NoError(t, err)
	assert.Zero(t, r.Edges.Open)
	tree := mesh.NewTree(b.Outer)
	// every column along the draw is one piece
	for x := -5.3; x < 66; x += 7.1 {
		for y := -5.7; y < 66; y += 7.3 {
			hits := 0
			for at := (r3.Vec{X: x, Y: y, Z: -100}); ; hits++ {
				d, tri := tree.Ray(at, up, nil)
				if tri < 0 {
					break
				}
				at = r3.Add(at, r3.Scale(d+1e-6, up))
			}
			assert.LessOrEqual(t, hits, 2)
		}
	}
}

func TestBlanketsOfTheDemoPartsAreClosed(t *testing.T) {
	for _, key := range []string{"ballast-bulb", "drogue-hub"} {
		p, ok := parts.ByKey(key)
		require.True(t, ok)
		b := made(t, p.Mesh(), 11)
		_, r, err := mesh.Load(b.Body.WriteSTL(), 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, key)
		assert.InEpsilon(t, b.Volume, math.Abs(b.Body.Volume()), 1e-6, "the skin is what lies between")
		assert.Greater(t, b.Volume, p.Mesh().Area()*5)
	}
}

func TestSkinsThatCannotBe(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10})
	for _, thick := range []float64{0, -1, 1, 100, math.NaN()} {
		_, err := Make(t.Context(), box, up, thick, 0)
		assert.ErrorContains(t, err, "between 2 and 60 mm")
	}
	_, err := Make(t.Context(), box, r3.Vec{}, 10, 0)
	assert.Error(t, err)
	_, err = Make(t.Context(), &mesh.Mesh{}, up, 10, 0)
	assert.ErrorContains(t, err, "no volume")
}

func BenchmarkHubsBlanket(b *testing.B) {
	p, _ := parts.ByKey("drogue-hub")
	m := p.Mesh()
	for b.Loop() {
		made(b, m, 11)
	}
}
