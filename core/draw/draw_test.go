package draw

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var (
	alongX = r3.Vec{X: 1}
	alongY = r3.Vec{Y: 1}
	alongZ = r3.Vec{Z: 1}
)

func look2(t *testing.T, m *mesh.Mesh, dir r3.Vec) Analysis {
	t.Helper()
	a, err := Analyse(t.Context(), m, dir, Options{})
	require.NoError(t, err)
	return a
}

// disc is the area of the regular polygon that stands for a circle.
func disc(r float64, n int) float64 { return float64(n) / 2 * r * r * math.Sin(2*math.Pi/float64(n)) }

// bored is a bar of length 40 along z, with a blind bore of radius r and depth l in its top.
func bored(r, l float64) *mesh.Mesh {
	return meshtest.Turned(
		96,
		[2]float64{0, 0},
		[2]float64{15, 0},
		[2]float64{15, 40},
		[2]float64{r, 40},
		[2]float64{r, 40 - l},
		[2]float64{0, 40 - l},
	)
}

func spool(r, neck float64) *mesh.Mesh {
	return meshtest.Turned(
		120,
		[2]float64{0, 0},
		[2]float64{r, 0},
		[2]float64{r, 8},
		[2]float64{neck, 8},
		[2]float64{neck, 22},
		[2]float64{r, 22},
		[2]float64{r, 30},
		[2]float64{0, 30},
	)
}

func TestSideHoleLocksItsOwnVolume(t *testing.T) {
	for _, c := range []struct{ r, l float64 }{{4, 25}, {2, 10}, {7, 32}} {
		a := look2(t, bored(c.r, c.l), alongX)
		require.Len(t, a.Spaces, 1)
		s := a.Spaces[0]
		assert.InEpsilon(t, disc(c.r, 96)*c.l, s.Volume, 0.01, "pi r^2 L")
		assert.InDelta(t, c.l, s.Depth, 0.1, "the rubber must be drawn out of all of it")
		assert.InEpsilon(t, disc(c.r, 96), s.Opening, 0.1)
		assert.InDelta(t, 1, s.Out.Z, 0.06, "out of its mouth")
		assert.InDelta(t, 0, r3.Norm(r3.Sub(s.Centre, r3.Vec{Z: 40 - c.l/2})), 0.4)
		assert.InEpsilon(t, 2*math.Pi*c.r*c.l+disc(c.r, 96), a.Faces.Locked, 0.05, "its wall and floor come away neither way")
		assert.Empty(t, look2(t, bored(c.r, c.l), alongZ).Spaces, "along the bore it draws")
	}
}

func TestGrooveOfASpool(t *testing.T) {
	a := look2(t, spool(20, 13), alongZ)
	require.Len(t, a.Spaces, 1)
	assert.InEpsilon(t, (disc(20, 120)-disc(13, 120))*14, a.Spaces[0].Volume, 0.01)
	assert.InDelta(t, 7, a.Spaces[0].Depth, 0.1)
	assert.InDelta(t, 14, a.Spaces[0].Height, 1e-6)
	assert.InEpsilon(t, 2*math.Pi*20*14, a.Spaces[0].Opening, 0.1)
	assert.Empty(t, look2(t, spool(20, 13), alongX).Spaces, "across its axis it draws")
}

func TestDovetail(t *testing.T) {
	// a slot 10 wide at the mouth and 18 at the floor, 8 deep, in a block 40 x 20
	slot := meshtest.Extruded([][2]float64{{-20, 0}, {20, 0}, {20, 20}, {5, 20}, {9, 12}, {-9, 12}, {-5, 20}, {-20, 20}}, 30)
	a := look2(t, slot, alongZ)
	require.Len(t, a.Spaces, 2, "one under each lip")
	for _, s := range a.Spaces {
		assert.InEpsilon(t, 4*8/2*30, s.Volume, 0.01)
		assert.InDelta(t, 4, s.Depth, 0.2, "from under the lip")
	}
	assert.Empty(t, look2(t, slot, alongY).Spaces, "it slides out along the slot")
}

func TestTorusBothWays(t *testing.T) {
	const ring, tube, n = 20.0, 6.0, 96
	var profile [][2]float64
	for i := range n {
		angle := 2 * math.Pi * float64(i) / n
		profile = append(profile, [2]float64{ring + tube*math.Cos(angle), tube * math.Sin(angle)})
	}
	m := meshtest.Turned(n, profile...)
	assert.Empty(t, look2(t, m, alongZ).Spaces, "along its axis")

	a := look2(t, m, alongX)
	require.Len(t, a.Spaces, 1, "the hole, across its axis")
	// integral of the hole's chord at y over the heights |z| at which the ring closes it on both sides:
	// for |y| <= ring - tube the ring's inner wall at height z stands at radius ring - sqrt(tube² - z²)
	want := 0.0
	const steps = 4000
	for i := range steps {
		z := tube * (2*(float64(i)+0.5)/steps - 1)
		inner := ring - math.Sqrt(tube*tube-z*z)
		want += math.Pi * inner * inner * 2 * tube / steps
	}
	assert.InEpsilon(t, want, a.Spaces[0].Volume, 0.01)
	assert.InDelta(t, tube, a.Spaces[0].Depth, 0.4, "out along the axis")
}

// Convex parts, prisms along their axis and turned parts across theirs lock nothing, whatever their facets.
func TestPartsThatLockNothing(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 1))
	egg := meshtest.Turned(
		23,
		[2]float64{0, 0},
		[2]float64{6, 1},
		[2]float64{11, 6},
		[2]float64{12, 13},
		[2]float64{7, 22},
		[2]float64{0, 25},
	)
	star := [][2]float64{{10, 0}, {4, 3}, {3, 10}, {-3, 4}, {-10, 3}, {-4, -3}, {-2, -10}, {4, -4}}
	prism := meshtest.Extruded(star, 17)
	vase := meshtest.Turned(
		31,
		[2]float64{0, 0},
		[2]float64{8, 0},
		[2]float64{3, 6},
		[2]float64{11, 14},
		[2]float64{2, 20},
		[2]float64{0, 26},
	)
	for range 40 {
		up := meshtest.RandomUp(rng)
		assert.Empty(t, look2(t, egg, up).Spaces)
		turn := r3.NewRotation(rng.Float64()*6, meshtest.RandomUp(rng))
		moved := r3.Vec{X: rng.Float64() * 500, Y: -300 * rng.Float64(), Z: 90}
		assert.Empty(t, look2(t, meshtest.Moved(prism, turn, moved), turn.Rotate(alongY)).Spaces)
		a := rng.Float64() * 6
		across := turn.Rotate(r3.Vec{X: math.Cos(a), Y: math.Sin(a)})
		assert.Empty(t, look2(t, meshtest.Moved(vase, turn, moved), across).Spaces)
	}
}

func TestTurningAndMirroringChangesNothing(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 9))
	m := spool(20, 12)
	want := look2(t, m, alongZ)
	for range 4 {
		turn := r3.NewRotation(rng.Float64()*6, meshtest.RandomUp(rng))
		got := look2(t, meshtest.Moved(m, turn, r3.Vec{X: 40}), turn.Rotate(alongZ))
		assert.InEpsilon(t, want.Volume, got.Volume, 0.01)
		assert.InDelta(t, want.Spaces[0].Depth, got.Spaces[0].Depth, 0.15)
		assert.InEpsilon(t, want.Faces.Locked, got.Faces.Locked, 0.03)
		back := look2(t, meshtest.Moved(m, turn, r3.Vec{X: 40}), r3.Scale(-1, turn.Rotate(alongZ)))
		assert.InEpsilon(t, want.Volume, back.Volume, 0.01, "the opposite draw locks the same")
		assert.InEpsilon(t, got.Faces.Up+got.Faces.Down, back.Faces.Up+back.Faces.Down, 0.01)
	}
	mirrored := &mesh.Mesh{}
	for _, p := range bored(4, 25).Vertices {
		mirrored.Vertices = append(mirrored.Vertices, r3.Vec{X: -p.X, Y: p.Y, Z: p.Z})
	}
	for _, tri := range bored(4, 25).Triangles {
		mirrored.Triangles = append(mirrored.Triangles, [3]int32{tri[0], tri[2], tri[1]})
	}
	assert.InEpsilon(t, look2(t, bored(4, 25), alongX).Volume, look2(t, mirrored, alongX).Volume, 0.01)
}

func TestCapOnAStemLeavesOneWayOnly(t *testing.T) {
	mushroom := meshtest.Turned(
		90,
		[2]float64{0, 0},
		[2]float64{5, 0},
		[2]float64{5, 20},
		[2]float64{12, 20},
		[2]float64{12, 28},
		[2]float64{0, 28},
	)
	assert.Empty(t, look2(t, mushroom, alongX).Spaces, "in two halves it draws")

	stemFirst, err := Analyse(t.Context(), mushroom, r3.Vec{Z: -1}, Options{OneSided: true})
	require.NoError(t, err)
	require.Len(t, stemFirst.Spaces, 1, "leaving by the stem, the rubber round the stem holds the cap")
	assert.InEpsilon(t, (disc(12, 90)-disc(5, 90))*20, stemFirst.Spaces[0].Volume, 0.01)
	assert.InDelta(t, 7, stemFirst.Spaces[0].Depth, 0.15)
	assert.InEpsilon(t, disc(12, 90)-disc(5, 90)+2*math.Pi*5*20, stemFirst.Faces.Locked, 0.05, "the cap's underside and the stem")

	capFirst, err := Analyse(t.Context(), mushroom, alongZ, Options{OneSided: true})
	require.NoError(t, err)
	assert.Empty(t, capFirst.Spaces, "leaving cap first, nothing holds it")
}

func TestBubbleInsideLocksNoRubber(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 30, Z: 30})
	hollow := meshtest.Box(r3.Vec{X: 10, Y: 10, Z: 10}, r3.Vec{X: 20, Y: 20, Z: 20})
	for i, tri := range hollow.Triangles {
		hollow.Triangles[i] = [3]int32{tri[0], tri[2], tri[1]}
	}
	m.Append(hollow)
	a := look2(t, m, alongZ)
	assert.Empty(t, a.Spaces)
	assert.InEpsilon(t, 1000, a.Sealed, 0.05)
}

func TestFacesOfABlock(t *testing.T) {
	a := look2(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}), alongZ)
	assert.InDelta(t, 600, a.Faces.Up, 1e-6)
	assert.InDelta(t, 600, a.Faces.Down, 1e-6)
	assert.InDelta(t, 1000, a.Faces.Wall, 1e-6)
	assert.InDelta(t, 1000, a.Draft.Under1, 1e-6, "upright walls have no draft")
	assert.InEpsilon(t, 100, a.Outline.Length*4/math.Pi, 0.03, "a line along the grid is counted straight")
	assert.Zero(t, a.Outline.Off, "the line can run level round the walls")
}

func TestLookingCanBeLeft(t *testing.T) {
	ctx, leave := context.WithCancel(t.Context())
	leave()
	_, err := Analyse(ctx, meshtest.Sphere(10, 48), alongZ, Options{})
	assert.ErrorIs(t, err, context.Canceled)
}

func TestBadDirections(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 1, Y: 1, Z: 1})
	for name, f := range map[string]func() error{
		"no direction": func() error { _, err := Analyse(t.Context(), box, r3.Vec{}, Options{}); return err },
		"NaN":          func() error { _, err := Analyse(t.Context(), box, r3.Vec{X: math.NaN()}, Options{}); return err },
		"cell":         func() error { _, err := Analyse(t.Context(), box, alongZ, Options{Cell: -1}); return err },
		"tiny cell":    func() error { _, err := Analyse(t.Context(), box, alongZ, Options{Cell: 1e-9}); return err },
		"empty":        func() error { _, err := Analyse(t.Context(), &mesh.Mesh{}, alongZ, Options{}); return err },
	} {
		assert.Error(t, f(), name)
	}
}

// A hub as it lies: its own axis, not one that coarse cells take for a hair better.
func TestSearchKeepsToTheAxisOfAHub(t *testing.T) {
	hub, _ := parts.ByKey("drogue-hub")
	offers, err := Search(t.Context(), hub.Mesh(), 400, nil)
	require.NoError(t, err)
	assert.Equal(t, alongZ, offers[0].Dir)
}

func TestSearchFindsTheWayASpoolDraws(t *testing.T) {
	turn := r3.NewRotation(0.7, r3.Vec{X: 1, Y: 2, Z: 0.5})
	m := meshtest.Moved(spool(20, 12), turn, r3.Vec{})
	told := 0
	offers, err := Search(t.Context(), m, 200, func(p Progress) {
		told++
		assert.LessOrEqual(t, p.Done, p.Total)
		assert.NotEmpty(t, p.Best)
	})
	require.NoError(t, err)
	assert.Greater(t, told, 5)
	require.NotEmpty(t, offers)
	axis := turn.Rotate(alongZ)
	assert.Less(t, math.Abs(r3.Dot(offers[0].Dir, axis)), 0.05, "across its axis")
	assert.Less(t, offers[0].Undercut, 0.01*m.Volume())
	again, err := Search(t.Context(), m, 200, nil)
	require.NoError(t, err)
	assert.Equal(t, offers, again, "the answer does not depend on who finished first")
}
