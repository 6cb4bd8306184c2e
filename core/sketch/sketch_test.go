package sketch

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/growthtest"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

const sharp = math.Pi / 3

func TestASmallMeshIsDrawnAsItIs(t *testing.T) {
	m := meshtest.Sphere(20, 40)
	s := Draw(m, len(m.Triangles), Near{}, sharp)
	assert.Same(t, m, s.Mesh)
	assert.Nil(t, s.Of)
	assert.Empty(t, s.Creases)
}

// What a sketch may be off by is half a per cent of the part: less than two
// pixels of a view 400 wide.
func TestASketchLooksLikeItsMesh(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 2))
	for name, m := range map[string]*mesh.Mesh{
		"ball":      meshtest.Sphere(20, 500),
		"drum":      drum(3000),
		"thin cup":  cup(20, 0.25, 400),
		"cut block": carved(),
	} {
		t.Run(name, func(t *testing.T) {
			turned := meshtest.Moved(m, r3.NewRotation(rng.Float64(), meshtest.RandomUp(rng)), r3.Vec{X: 7, Y: -3})
			const most = 6000
			s := Draw(turned, most, Near{}, sharp)
			assert.Greater(t, len(turned.Triangles), 2*most, "not worth thinning")
			assert.LessOrEqual(t, len(s.Mesh.Triangles), most*9/8)
			assert.Greater(t, len(s.Mesh.Triangles), most/10, "thinned more than asked for")
			size := turned.Bounds()
			wide := r3.Norm(r3.Sub(size.Max, size.Min))
			tree := mesh.NewTree(turned)
			for _, v := range s.Mesh.Vertices {
				at, _ := tree.Nearest(v, wide, func(int32) bool { return true })
				assert.LessOrEqual(t, r3.Norm(r3.Sub(at, v)), 0.005*wide)
			}
			assert.InEpsilon(t, turned.Volume(), s.Mesh.Volume(), 0.03)
			assert.InEpsilon(t, turned.Area(), s.Mesh.Area(), 0.04)
			for i, of := range s.Of {
				a, b, c := s.Mesh.Corners(i)
				p, _, _ := turned.Corners(int(of))
				assert.Less(t, r3.Norm(r3.Sub(p, r3.Scale(1./3, r3.Add(a, r3.Add(b, c))))), 0.2*wide)
			}
		})
	}
}

func TestWhatIsLookedAtCloselyIsDrawnFinely(t *testing.T) {
	m := meshtest.Sphere(20, 500)
	at := r3.Vec{X: 20}
	near := Near{At: at, Radius: 6}
	count := func(s Sketch) (n int) {
		for t := range s.Mesh.Triangles {
			if a, _, _ := s.Mesh.Corners(t); r3.Norm(r3.Sub(a, at)) < 5 {
				n++
			}
		}
		return n
	}
	all, closely := Draw(m, 6000, Near{}, sharp), Draw(m, 6000, near, sharp)
	assert.LessOrEqual(t, len(closely.Mesh.Triangles), 6000*9/8)
	assert.Greater(t, count(closely), 5*count(all))
	assert.InEpsilon(t, m.Volume(), closely.Mesh.Volume(), 0.02)
}

func TestASketchKeepsTheCreasesOfItsMesh(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 30_000)
	s := Draw(m, 20_000, Near{}, sharp)
	var length float64
	for _, e := range s.Creases {
		length += r3.Norm(r3.Sub(s.Mesh.Vertices[e[0]], s.Mesh.Vertices[e[1]]))
	}
	assert.InEpsilon(t, 2*2*math.Pi*20, length, 0.02, "two rims")
}

func TestThinningGrowsWithTheMesh(t *testing.T) {
	growthtest.NLogN(t, 30_000, func(n int) func() {
		m := meshtest.Sphere(20, int(math.Sqrt(float64(n))))
		return func() { Draw(m, 2000, Near{}, sharp) }
	})
}

func BenchmarkDrawAMillion(b *testing.B) {
	m := meshtest.Sphere(50, 1000)
	for b.Loop() {
		Draw(m, 120_000, Near{}, sharp)
	}
	b.ReportMetric(float64(len(m.Triangles)), "triangles")
}

// cup is a bowl of even wall, its faces of many small triangles.
func cup(radius, wall float64, n int) *mesh.Mesh {
	var profile [][2]float64
	side := func(r float64, from, to int) {
		for i := from; i != to; i += (to - from) / max(from-to, to-from) {
			a := math.Pi / 2 * float64(i) / float64(n/4)
			profile = append(profile, [2]float64{r * math.Sin(a), radius - r*math.Cos(a)})
		}
	}
	side(radius, 0, n/4+1)
	side(radius-wall, n/4, -1)
	profile[0][0], profile[len(profile)-1][0] = 0, 0
	return meshtest.Turned(n, profile...)
}

// drum is a stepped drum whose faces are long slivers.
func drum(n int) *mesh.Mesh {
	step := [][2]float64{{0, 0}, {20, 0}, {20, 10}, {12, 10}, {12, 30}, {0, 30}}
	return meshtest.Turned(n, step...)
}

// carved is a block with steps and a hole, cut into many small triangles.
func carved() *mesh.Mesh {
	m := meshtest.Blocks(2, "....##", "....##", ".##...", ".##...", "......")
	fine, _ := m.Refined(0.05)
	return fine
}
