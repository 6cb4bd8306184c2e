package pattern_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bathyform/core/grid"
	. "bathyform/core/grid/gridtest"
	"bathyform/core/mesh"
	"bathyform/core/pattern"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// ordinary are parts as people cast them, thin and thick, hollow and in several bodies.
var ordinary = []struct {
	name      string
	solid     grid.Field
	low, high r3.Vec
}{
	{"mug", Mug(20, 45, 4), V(-20, -20, 0), V(38, 20, 45)},
	{"ring", Ring(V(0, 0, 0), V(0, 0, 1), 20, 4), V(-24, -24, -4), V(24, 24, 4)},
	{"hook", All(Rod(V(0, 0, 0), V(0, 0, 40), 4), Rod(V(0, 0, 0), V(18, 0, -8), 4), Rod(V(18, 0, -8), V(26, 0, 6), 3)),
		V(-4, -4, -12), V(29, 4, 44)},
	{"shell", Less(Ball(V(0, 0, 0), 22), Ball(V(0, 0, 0), 18), Block(V(-30, -30, -30), V(30, 30, -4))), V(-22, -22, -4), V(22, 22, 22)},
	{"figure", All(Ball(V(0, 0, 46), 8), Rod(V(0, 0, 16), V(0, 0, 34), 9), Rod(V(-9, 0, 30), V(-22, 0, 18), 3.5),
		Rod(V(9, 0, 30), V(20, 6, 42), 3.5), Rod(V(-5, 0, 14), V(-8, 0, 0), 4.5), Rod(V(5, 0, 14), V(8, 0, 0), 4.5)),
		V(-26, -9, -5), V(24, 10, 54)},
	{"pair of knobs", All(Ball(V(-25, 0, 0), 10), Ball(V(25, 0, 0), 12)), V(-35, -12, -12), V(37, 12, 12)},
	{"plate with a slot", Less(Block(V(0, 0, 0), V(60, 30, 3)), Block(V(10, 12, -1), V(50, 18, 4))), V(0, 0, 0), V(60, 30, 3)},
}

// anywhere is a place on the surface, every square millimetre as likely as another.
func anywhere(m *mesh.Mesh, r *rand.Rand) func() r3.Vec {
	sums := make([]float64, len(m.Triangles))
	sum := 0.0
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		sum += r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
		sums[t] = sum
	}
	return func() r3.Vec {
		t, _ := slices.BinarySearch(sums, r.Float64()*sum)
		a, b, c := m.Corners(min(t, len(sums)-1))
		u, v := math.Sqrt(r.Float64()), r.Float64()
		return r3.Add(r3.Scale(1-u, a), r3.Add(r3.Scale(u*(1-v), b), r3.Scale(u*v, c)))
	}
}

// On ordinary parts, defects that lie anywhere are not told to gather, those at a spot
// are, and a part that is turned is the same part.
func TestWhereDefectsGatherOnOrdinaryParts(t *testing.T) {
	const logs = 30
	told, all := 0, 0
	for k, part := range ordinary {
		t.Run(part.name, func(t *testing.T) {
			r := rand.New(rand.NewPCG(11, uint64(k)))
			m := Mesh(part.solid, part.low, part.high, 26)
			radius := max(3, 0.06*r3.Norm(m.Bounds().Size()))
			share := func(m *mesh.Mesh) func(r3.Vec, float64) float64 {
				whole := m.Area()
				return func(at r3.Vec, radius float64) float64 { return m.AreaWithin(at, radius) / whole }
			}
			point := anywhere(m, r)
			for range logs {
				var marks []pattern.Marked
				for range 10 {
					marks = append(marks, pattern.Marked{At: point(), Mould: "FL-1", Cavity: 1, Defect: "void"})
				}
				all++
				if len(pattern.Places(marks, radius, share(m))) > 0 {
					told++
				}
			}
			spot := point()
			var marks []pattern.Marked
			for len(marks) < 5 { // as a hand shows the same spot: within half of what counts as the same
				if p := point(); r3.Norm(r3.Sub(p, spot)) < radius/2 {
					marks = append(marks, pattern.Marked{At: p, Mould: "FL-1", Cavity: len(marks)%2 + 1, Defect: "void"})
				}
			}
			for range 5 {
				marks = append(marks, pattern.Marked{At: point(), Mould: "FL-1", Cavity: 1, Defect: "pinholes"})
			}
			got := pattern.Places(marks, radius, share(m))
			require.Len(t, got, 1)
			assert.Less(t, r3.Norm(r3.Sub(got[0].At, spot)), radius)
			assert.GreaterOrEqual(t, got[0].Defects, 5)

			turn := r3.NewRotation(2*math.Pi*r.Float64(), onBall(r))
			turned := *m
			turned.Vertices = slices.Clone(m.Vertices)
			for i, v := range turned.Vertices {
				turned.Vertices[i] = turn.Rotate(v)
			}
			for i := range marks {
				marks[i].At = turn.Rotate(marks[i].At)
			}
			again := pattern.Places(marks, radius, share(&turned))
			require.Len(t, again, 1)
			assert.InEpsilon(t, got[0].Chance, again[0].Chance, 0.1)
			assert.Less(t, r3.Norm(r3.Sub(turn.Rotate(got[0].At), again[0].At)), 1e-6)
		})
	}
	t.Logf("%d of %d", told, all)
	assert.Less(t, float64(told)/float64(all), 0.05+3*math.Sqrt(0.05*0.95/float64(all)), "%d of %d", told, all)
}
