package thick

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

func fine(m *mesh.Mesh, edge float64) *mesh.Mesh {
	out, _ := m.Refined(edge)
	return out
}

// must is a map that nobody left.
func must(m Map, err error) Map {
	if err != nil {
		panic(err)
	}
	return m
}

func TestPlateIsAsThickAsItsWall(t *testing.T) {
	plate := fine(meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 3}), 2)
	got := must(Measure(t.Context(), plate))
	assert.InDelta(t, 3, got.Thinnest.Thickness, 1e-3)
	assert.InDelta(t, 3, got.Median, 1e-3)
	assert.InDelta(t, 3, got.Thickest.Thickness, 3e-3, "no larger ball goes in, whatever the rim sees")
	assert.InEpsilon(t, 2*60*40+2*60*3+2*40*3, got.AreaBetween(2.9, 3.1), 1e-6, "all of it, up to its edges and round them")
}

func TestTubeAndShell(t *testing.T) {
	tube := fine(meshtest.Turned(120, [2]float64{12, 0}, [2]float64{15, 0}, [2]float64{15, 40}, [2]float64{12, 40}), 2)
	got := must(Measure(t.Context(), tube))
	assert.InDelta(t, 3, got.Median, 0.03, "its wall")
	assert.InDelta(t, 3, got.Thinnest.Thickness, 0.05)

	shell := meshtest.Sphere(20, 96)
	inner := meshtest.Sphere(16.5, 96)
	for i, tri := range inner.Triangles {
		inner.Triangles[i] = [3]int32{tri[0], tri[2], tri[1]}
	}
	shell.Append(inner)
	assert.InDelta(t, 3.5, must(Measure(t.Context(), shell)).Median, 0.06)
}

func TestRoundThingsAreAsThickAsTheirDiameter(t *testing.T) {
	assert.InEpsilon(t, 24, must(Measure(t.Context(), meshtest.Sphere(12, 96))).Median, 0.015)
	bar := fine(meshtest.Cylinder(5, 60, 96), 2)
	assert.InEpsilon(t, 10, must(Measure(t.Context(), bar)).Median, 0.015)
}

// The ball between two planes at angle a that touches one at distance x from
// their line has the diameter 2 x tan(a/2).
func TestWedge(t *testing.T) {
	angle := 20 * math.Pi / 180
	wedge := fine(meshtest.Extruded([][2]float64{{0, 0}, {50, 0}, {50, 50 * math.Tan(angle)}}, 60), 1.5)
	got := must(Measure(t.Context(), wedge))
	seen := 0
	for i := range wedge.Triangles {
		a, b, c := wedge.Corners(i)
		p := r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
		if p.Z != 0 || p.X > 30 || p.X < 3 {
			continue
		}
		seen++
		assert.InEpsilon(t, 2*p.X*math.Tan(angle/2), got.Face[i], 0.01)
	}
	assert.Greater(t, seen, 100)
}

// The tree's answer against every triangle asked in turn.
func TestBallAgainstBruteForce(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	lump := grid.Net(func(p r3.Vec) float64 {
		return r3.Norm(r3.Vec{X: p.X, Y: 1.5 * p.Y, Z: 2 * p.Z}) - 20 - 2*math.Sin(p.X/2)*math.Cos(p.Y/3)
	}, r3.Box{Min: r3.Vec{X: -26, Y: -20, Z: -16}, Max: r3.Vec{X: 26, Y: 20, Z: 16}}, 2)
	got := must(Measure(t.Context(), lump))
	normal := func(i int) r3.Vec {
		a, b, c := lump.Corners(i)
		return r3.Unit(r3.Cross(r3.Sub(b, a), r3.Sub(c, a)))
	}
	for range 200 {
		i := rng.IntN(len(lump.Triangles))
		a, b, c := lump.Corners(i)
		p, n := r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c))), normal(i)
		if got.stop[i] < 0 || got.Face[i] >= got.Thickest.Thickness {
			continue
		}
		r := got.Face[i] / 2
		centre := r3.Sub(p, r3.Scale(r, n))
		nearest := math.Inf(1)
		for k := range lump.Triangles {
			if r3.Dot(normal(k), n) < facing {
				a, b, c := lump.Corners(k)
				nearest = min(nearest, r3.Norm(r3.Sub(centre, mesh.NearestOnTriangle(centre, a, b, c))))
			}
		}
		assert.InEpsilon(t, r, nearest, 1.2*slack, "the ball is stopped by a facing surface and by none before")
	}
}

func TestTurningAndScaling(t *testing.T) {
	m := fine(meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 4}), 2)
	turned := must(Measure(t.Context(), meshtest.Moved(m, r3.NewRotation(1.1, r3.Vec{X: 1, Y: 3, Z: 2}), r3.Vec{X: 200})))
	want := must(Measure(t.Context(), m))
	scaled := must(Measure(t.Context(), m.Scaled(25.4)))
	for i := range want.Face {
		if math.IsInf(want.Face[i], 1) {
			continue
		}
		assert.InEpsilon(t, want.Face[i], turned.Face[i], 2*slack)
		assert.InEpsilon(t, 25.4*want.Face[i], scaled.Face[i], 2*slack)
	}
	var shares float64
	for _, b := range want.Distribution(8) {
		shares += b.Share
	}
	assert.InDelta(t, 1, shares, 1e-9)
}

func TestNarrowPlaces(t *testing.T) {
	// a block with two slots, 1 and 2 wide, and a rib 1.5 thick on top
	m := fine(meshtest.Extruded([][2]float64{
		{0, 0}, {40, 0}, {40, 20}, {31, 20}, {31, 12}, {30, 12}, {30, 20}, {22, 20}, {22, 12}, {20, 12}, {20, 20},
		{11.5, 20}, {11.5, 28}, {10, 28}, {10, 20}, {0, 20}}, 30), 1.5)
	gaps := must(Gaps(t.Context(), m, 5)).Narrow(m, 3)
	if assert.Len(t, gaps, 2, "two slots") {
		narrowest := min(gaps[0].Thickness, gaps[1].Thickness)
		assert.InDelta(t, 1, narrowest, 0.03)
		assert.InDelta(t, 2, max(gaps[0].Thickness, gaps[1].Thickness), 0.05)
		assert.InEpsilon(t, 2*8*30, gaps[0].Area, 0.15, "both walls of a slot")
	}
	ribs := must(Measure(t.Context(), m)).Narrow(m, 1.7)
	if assert.Len(t, ribs, 1, "one rib") {
		assert.InDelta(t, 1.5, ribs[0].Thickness, 0.03)
		assert.Greater(t, ribs[0].At.Z, 20.0)
	}
	assert.Empty(t, must(Gaps(t.Context(), meshtest.Sphere(10, 48), 5)).Narrow(meshtest.Sphere(10, 48), 3))
}

func TestOpenSheetHasNoThickness(t *testing.T) {
	sheet := &mesh.Mesh{Vertices: []r3.Vec{{}, {X: 10}, {Y: 10}}, Triangles: [][3]int32{{0, 1, 2}}}
	got := must(Measure(t.Context(), sheet))
	assert.True(t, math.IsInf(got.Face[0], 1))
	assert.Empty(t, got.Distribution(5))
}

// A part of about 70,000 triangles.
func TestMeasuringCanBeLeft(t *testing.T) {
	ctx, leave := context.WithCancel(t.Context())
	leave()
	_, err := Measure(ctx, meshtest.Sphere(10, 48))
	assert.ErrorIs(t, err, context.Canceled)
}

func BenchmarkMeasure(b *testing.B) {
	f := func(p r3.Vec) float64 {
		return r3.Norm(r3.Vec{X: p.X, Y: p.Y * 1.4, Z: p.Z * 1.8}) - 42 - 3.5*math.Sin(p.X/4.1)*math.Cos(p.Y/4.7+1) - 2*math.Sin(p.Z/5.3)
	}
	m := grid.Net(f, r3.Box{Min: r3.Vec{X: -55, Y: -55, Z: -55}, Max: r3.Vec{X: 55, Y: 55, Z: 55}}, 0.755)
	b.Logf("%d triangles", len(m.Triangles))
	for b.Loop() {
		_, _ = Measure(b.Context(), m)
	}
}

func TestBallsOfManyFacetsAreMeasuredWell(t *testing.T) {
	// every facet of a ball is about equally far from its middle, where the search is cut short
	got := must(Measure(t.Context(), meshtest.Sphere(30, 150)))
	assert.InEpsilon(t, 60, got.Median, 0.02)
	assert.InEpsilon(t, 60, got.Thinnest.Thickness, 0.03)
	assert.InEpsilon(t, 60, got.Thickest.Thickness, 0.02)
}

func TestMirroringChangesNoThickness(t *testing.T) {
	m := fine(
		meshtest.Turned(48, [2]float64{0, 0}, [2]float64{14, 0}, [2]float64{14, 4}, [2]float64{5, 9}, [2]float64{5, 30}, [2]float64{0, 30}),
		3,
	)
	mirrored := &mesh.Mesh{}
	for _, v := range m.Vertices {
		mirrored.Vertices = append(mirrored.Vertices, r3.Vec{X: v.X, Y: -v.Y, Z: v.Z})
	}
	for _, tri := range m.Triangles {
		mirrored.Triangles = append(mirrored.Triangles, [3]int32{tri[0], tri[2], tri[1]})
	}
	want, got := must(Measure(t.Context(), m)), must(Measure(t.Context(), mirrored))
	assert.InEpsilon(t, want.Median, got.Median, 0.02)
	assert.InEpsilon(t, want.Thinnest.Thickness, got.Thinnest.Thickness, 0.02)
	for i, h := range want.Face {
		if !math.IsInf(h, 1) {
			assert.InEpsilon(t, h, got.Face[i], 0.12, "triangle %d", i)
		}
	}
}

// A frustum, a wedge and a plate: their edges, sharp or blunt, say nothing of
// how thick they are. Closed forms: 20 high and nowhere wider than it is thick;
// the ball at the thin end of a wedge; the plate's own thickness.
func TestSharpEdgesAreNotThin(t *testing.T) {
	cone := meshtest.Turned(96, [2]float64{0, 0}, [2]float64{30, 0}, [2]float64{25, 20}, [2]float64{0, 20})
	frustum := must(Measure(t.Context(), fine(cone, 3)))
	assert.InEpsilon(t, 20, frustum.Thinnest.Thickness, 0.02)
	assert.InEpsilon(t, 20, frustum.Thickest.Thickness, 0.002)

	wedge := must(Measure(t.Context(), fine(meshtest.Extruded([][2]float64{{0, 0}, {60, 0}, {60, 12}, {0, 4}}, 40), 2)))
	assert.InEpsilon(t, 4, wedge.Thinnest.Thickness, 0.06)
	assert.InEpsilon(t, 11.3, wedge.Thickest.Thickness, 0.06, "the circle between both faces and the thick end")

	plate := must(Measure(t.Context(), fine(meshtest.Box(r3.Vec{}, r3.Vec{X: 70, Y: 70, Z: 2}), 3)))
	assert.InEpsilon(t, 2, plate.Thickest.Thickness, 1e-3)
	assert.InEpsilon(t, 2, plate.Thinnest.Thickness, 1e-3)

	tri := must(Measure(t.Context(), fine(meshtest.Extruded([][2]float64{{0, 0}, {30, 0}, {15, 15 * math.Sqrt(3)}}, 80), 2)))
	in := 30 / math.Sqrt(3) // of the circle in a triangle of side 30
	assert.InEpsilon(t, in, tri.Thickest.Thickness, 2e-3)
	assert.InEpsilon(t, in, tri.Median, 0.02, "nothing faces its sides; the ball lies between them")
}

// However short a neck, it is where the part breaks.
func TestNecksAreThin(t *testing.T) {
	for _, c := range []struct {
		name  string
		waist [][2]float64 // radius and height, between two heads of 10
		want  float64
	}{
		{"as long as wide", [][2]float64{{6, 20}, {6, 32}}, 12},
		{"short", [][2]float64{{6, 20}, {6, 24}}, 12},
		{"short and slim", [][2]float64{{1.5, 20}, {1.5, 22}}, 3},
		{"a rounded waist", [][2]float64{{8, 20}, {6.6, 21.5}, {6, 24}, {6.6, 26.5}, {8, 28}}, 12},
	} {
		t.Run(c.name, func(t *testing.T) {
			top := c.waist[len(c.waist)-1][1]
			profile := append([][2]float64{{0, 0}, {10, 0}, {10, 20}}, c.waist...)
			profile = append(profile, [2]float64{10, top}, [2]float64{10, top + 20}, [2]float64{0, top + 20})
			got := must(Of(t.Context(), meshtest.Turned(96, profile...))).Thinnest
			assert.InEpsilon(t, c.want, got.Thickness, 0.05)
			assert.InDelta(t, (20+top)/2, got.At.Z, (top-20)/2)
		})
	}
}

// The thickness at single places: in the middle of a face, beside an edge and
// on it, it is the same wall.
func TestAWallAtSinglePlaces(t *testing.T) {
	for _, c := range []struct {
		name string
		m    *mesh.Mesh
		at   map[r3.Vec]float64
	}{
		{"plate", meshtest.Box(r3.Vec{}, r3.Vec{X: 70, Y: 70, Z: 2}), map[r3.Vec]float64{
			{}: 2, {X: 70, Y: 70, Z: 2}: 2, {X: 35, Y: 35, Z: 2}: 2, {X: 0.1, Y: 35, Z: 2}: 2,
			{X: 0, Y: 35, Z: 1}: 2, {X: 0.3, Y: 0.2, Z: 0}: 2}},
		{"frustum", meshtest.Turned(96, [2]float64{0, 0}, [2]float64{30, 0}, [2]float64{25, 20}, [2]float64{0, 20}), map[r3.Vec]float64{
			{Z: 20}: 20, {X: 29.5, Z: 0}: 20, {X: 27.5, Z: 10}: 20}},
		{"wedge", meshtest.Extruded([][2]float64{{0, 0}, {60, 0}, {60, 12}, {0, 4}}, 40), map[r3.Vec]float64{
			{X: 60, Y: 20, Z: 6}: 11.3, {X: 59.8, Y: 20, Z: 0}: 11.3, {X: 30, Y: 20, Z: 0}: 7.95}},
	} {
		s := Sound(c.m, must(Measure(t.Context(), fine(c.m, 2))))
		for p, want := range c.at {
			assert.InEpsilon(t, want, s.At(p).Thickness, 0.06, "%s at %v", c.name, p)
		}
	}
}

// A tube of a thousand slender triangles is not cut into hundreds of thousands.
func TestATubeStaysATube(t *testing.T) {
	tube := meshtest.Turned(125, [2]float64{20, 0}, [2]float64{22, 0}, [2]float64{22, 200}, [2]float64{20, 200})
	assert.Len(t, tube.Triangles, 1000)
	cut := fine(tube, 200.0/36)
	assert.LessOrEqual(t, len(cut.Triangles), 60_000)
	got := must(Measure(t.Context(), cut))
	assert.InEpsilon(t, 2, got.Thinnest.Thickness, 0.03, "between facets")
	assert.InEpsilon(t, 2, got.Thickest.Thickness, 0.01)
}

func BenchmarkMeasure100k(b *testing.B) {
	f := func(p r3.Vec) float64 {
		return max(r3.Norm(p)-40, 30-r3.Norm(p)) + math.Sin(p.X/3)
	}
	m := grid.Net(f, r3.Box{Min: r3.Vec{X: -46, Y: -46, Z: -46}, Max: r3.Vec{X: 46, Y: 46, Z: 46}}, 0.9)
	b.ReportMetric(float64(len(m.Triangles)), "triangles")
	for b.Loop() {
		_, _ = Measure(b.Context(), m)
	}
}
