package fill

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var zUp = r3.Vec{Z: 1}

func trap(t *testing.T, m *mesh.Mesh, up r3.Vec, opt Options, vents ...Opening) Trapped {
	t.Helper()
	s, err := Prepare(m, up, opt)
	require.NoError(t, err)
	require.Equal(t, opt.Sound, s.Exact())
	found, err := s.Trap(vents)
	require.NoError(t, err)
	return found
}

var (
	cavity = Options{Sound: true}
	coarse = Options{}
	round  = Options{Sound: true, Around: true, Headroom: 10}
	roundC = Options{Around: true, Headroom: 10}
)

// The worked example of the definition: two towers beside a vented shaft.
// Heights of the passes and the nine trapped cells are worked out by hand.
func TestTwoTowersBesideAVentedShaft(t *testing.T) {
	m := meshtest.Blocks(3,
		"#####V####",
		"#..##.##.#",
		"#..##.##.#",
		"#..##.##.#",
		"#........#",
		"#........#",
		"####I#####")
	for name, opt := range map[string]Options{"surface": cavity, "columns": {Cell: 0.1}} {
		t.Run(name, func(t *testing.T) {
			found := trap(t, m, zUp, opt, Opening{At: r3.Vec{X: 5.5, Y: 1.5, Z: 7}, Bore: 0.4})
			require.Len(t, found.Pockets, 2)
			// a cell counts as trapped above the top of the pass, at height 3
			assert.InEpsilon(t, 6*3, found.Pockets[0].Volume, 0.01)
			assert.InEpsilon(t, 3*3, found.Pockets[1].Volume, 0.01)
			for _, p := range found.Pockets {
				assert.InDelta(t, 3, p.SealHeight, 1e-9)
				assert.InDelta(t, 6, p.ApexHeight, 1e-9)
				assert.False(t, p.Isolated)
			}
			found = trap(t, m, zUp, opt, Opening{At: r3.Vec{X: 5.5, Y: 1.5, Z: 7}, Bore: 0.4},
				Opening{At: r3.Vec{X: 2, Y: 1.5, Z: 6}, Bore: 0.4}, Opening{At: r3.Vec{X: 8.5, Y: 1.5, Z: 6}, Bore: 0.4})
			assert.Empty(t, found.Pockets)
		})
	}
}

func TestCavityWithoutVentKeepsAllItsAir(t *testing.T) {
	m := meshtest.Box(r3.Vec{X: -1, Y: 2, Z: 3}, r3.Vec{X: 9, Y: 7, Z: 5})
	found := trap(t, m, zUp, cavity)
	require.Len(t, found.Pockets, 1)
	assert.InEpsilon(t, 100, found.Pockets[0].Volume, 1e-12)
	assert.InDelta(t, 3, found.Pockets[0].SealHeight, 1e-12)
	assert.InDelta(t, 5, found.Pockets[0].ApexHeight, 1e-12)
	assert.False(t, found.Pockets[0].Isolated, "the feed is a way in, though it lets no air out above itself")
}

// A vent at height h on a ball leaves the cap above it: V = pi c² (3R - c)/3.
func TestVentBelowTheTopOfABallLeavesACap(t *testing.T) {
	const radius, bore = 25.0, 0.5
	m := meshtest.Sphere(radius, 256)
	for _, polar := range []float64{20, 40, 70} {
		a := polar * math.Pi / 180
		at := r3.Vec{X: radius * math.Sin(a), Z: radius * math.Cos(a)}
		seal := at.Z + bore/2*math.Sin(a)/math.Cos(a) // upper rim of the mouth, on the tangent
		if polar == 70 {
			seal = math.Sqrt(radius*radius - math.Pow(at.X-bore/2, 2))
		}
		c := radius - seal
		want := math.Pi * c * c * (3*radius - c) / 3
		found := trap(t, m, zUp, cavity, Opening{at, bore})
		require.Len(t, found.Pockets, 1)
		assert.InEpsilon(t, want, found.Pockets[0].Volume, 0.02, "vent %g degrees from the top", polar)
		assert.InDelta(t, seal, found.Pockets[0].SealHeight, 0.05)
	}
}

func TestVentedShapesKeepNothingWhicheverWayUp(t *testing.T) {
	shapes := map[string]*mesh.Mesh{
		"ball, fine":   meshtest.Sphere(25, 96),
		"ball, coarse": meshtest.Sphere(25, 24),
		"plate":        meshtest.Box(r3.Vec{X: -40, Y: -30, Z: -1.5}, r3.Vec{X: 40, Y: 30, Z: 1.5}),
		"rod":          meshtest.Cylinder(6, 80, 48),
		"stepped turned": meshtest.Turned(
			64,
			[2]float64{0, 0},
			[2]float64{20, 0},
			[2]float64{20, 10},
			[2]float64{9, 10},
			[2]float64{9, 40},
			[2]float64{0, 40},
		),
	}
	rng := rand.New(rand.NewPCG(1, 2))
	for name, m := range shapes {
		for _, opt := range []Options{cavity, coarse} {
			t.Run(fmt.Sprintf("%s, sound %v", name, opt.Sound), func(t *testing.T) {
				for range 50 {
					up := meshtest.RandomUp(rng)
					top, best := r3.Vec{}, math.Inf(-1)
					for _, v := range m.Vertices {
						if h := r3.Dot(up, v); h > best {
							top, best = v, h
						}
					}
					if name == "stepped turned" { // its shoulder catches air as well
						found := trap(t, m, up, opt, Opening{top, 2})
						for _, p := range found.Pockets[min(1, len(found.Pockets)):] {
							assert.Less(t, p.Volume, 0.0005*m.Volume(), "up %v", up)
						}
						continue
					}
					found := trap(t, m, up, opt, Opening{top, 2})
					for _, p := range found.Pockets {
						assert.Less(t, p.Volume, 0.0005*m.Volume(), "up %v", up)
					}
				}
			})
		}
	}
}

func TestLevelCeilingVentsFromAnyPartOfIt(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 10})
	for _, at := range []r3.Vec{{X: 1, Y: 1, Z: 10}, {X: 30, Y: 20, Z: 10}, {X: 59, Y: 3, Z: 10}} {
		assert.Empty(t, trap(t, m, zUp, cavity, Opening{at, 2}).Pockets)
		assert.Empty(t, trap(t, m, zUp, coarse, Opening{at, 2}).Pockets)
	}
}

// cup has its rim down: outer radius 20, inner radius 16, 30 high, 26 deep.
func cup(lift float64) *mesh.Mesh {
	m := meshtest.Turned(
		128,
		[2]float64{0, 26},
		[2]float64{16, 26},
		[2]float64{16, 0},
		[2]float64{20, 0},
		[2]float64{20, 30},
		[2]float64{0, 30},
	)
	if lift > 0 {
		m.Append(meshtest.Box(r3.Vec{X: 18, Y: -1, Z: -lift}, r3.Vec{X: 19, Y: 1, Z: -lift / 2}))
	}
	return m
}

func TestRubberRisingRoundAnUpturnedCup(t *testing.T) {
	polygon := 128.0 / 2 * math.Sin(2*math.Pi/128) // area of the facetted unit circle
	inside := polygon * 16 * 16 * 26
	t.Run("rim on the floor", func(t *testing.T) {
		for name, opt := range map[string]Options{"surface": round, "columns": roundC} {
			found := trap(t, cup(0), zUp, opt)
			require.Len(t, found.Pockets, 1, name)
			assert.InEpsilon(t, inside, found.Pockets[0].Volume, 0.003, name)
			assert.True(t, found.Pockets[0].Isolated, name)
			assert.InDelta(t, 0, found.Pockets[0].SealHeight, 1e-9)
		}
	})
	t.Run("held over the floor", func(t *testing.T) {
		for name, opt := range map[string]Options{"surface": round, "columns": roundC} {
			found := trap(t, cup(5), zUp, opt)
			require.Len(t, found.Pockets, 1, name)
			assert.InEpsilon(t, inside, found.Pockets[0].Volume, 0.003, name)
			assert.False(t, found.Pockets[0].Isolated, name)
			assert.InDelta(t, 0, found.Pockets[0].SealHeight, 1e-9)
			assert.InDelta(t, 26, found.Pockets[0].ApexHeight, 1e-9)
		}
	})
	t.Run("rim up", func(t *testing.T) {
		found := trap(t, cup(0), r3.Vec{Z: -1}, round)
		assert.Empty(t, found.Pockets)
	})
}

func TestClosedHollowIsAPocketWithoutAWayOut(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20})
	hollow := meshtest.Box(r3.Vec{X: 5, Y: 5, Z: 5}, r3.Vec{X: 15, Y: 15, Z: 12})
	for i, tri := range hollow.Triangles {
		hollow.Triangles[i] = [3]int32{tri[0], tri[2], tri[1]}
	}
	m.Append(hollow)
	found := trap(t, m, zUp, round)
	require.Len(t, found.Pockets, 1)
	assert.InEpsilon(t, 700, found.Pockets[0].Volume, 1e-9)
	assert.True(t, found.Pockets[0].Isolated)
	assert.InDelta(t, 5, found.Pockets[0].SealHeight, 1e-9)
	// as a cavity the hollow is rubber: the resin goes round it
	vented := trap(t, m, zUp, cavity, Opening{r3.Vec{X: 10, Y: 10, Z: 20}, 2})
	assert.Empty(t, vented.Pockets)
}

// A bulkhead far thinner than a cell hangs from the ceiling of a box; the
// far side keeps its air down to the bulkhead's lower edge.
func TestThinBulkheadIsNotLeakedThrough(t *testing.T) {
	const gap = 0.02 // mm, in a box of 60 mm with cells of about half a millimetre
	profile := [][2]float64{{0, 0}, {60, 0}, {60, 20}, {30 + gap, 20}, {30 + gap, 8}, {30, 8}, {30, 20}, {0, 20}}
	m := meshtest.Extruded(profile, 40)
	found := trap(t, m, zUp, cavity, Opening{r3.Vec{X: 10, Y: 20, Z: 20}, 2})
	require.Len(t, found.Pockets, 1)
	assert.InEpsilon(t, (30-gap)*40*12, found.Pockets[0].Volume, 1e-9)
	assert.InDelta(t, 8, found.Pockets[0].SealHeight, 1e-9)
}

// A dish on a stem inside a box: air under the dish must go down to its rim
// and then rises freely; the rim is higher than the dish's middle, which a
// search over column centres alone gets wrong.
func TestAirUnderADishLeavesOverItsRim(t *testing.T) {
	m := meshtest.Turned(
		96,
		[2]float64{0, 0},
		[2]float64{4, 0},
		[2]float64{4, 10},
		[2]float64{20, 18},
		[2]float64{20, 18.5},
		[2]float64{0, 12},
	)
	found := trap(t, m, zUp, round)
	assert.Empty(t, found.Pockets, "the underside climbs to the rim")
	// turned over, with the stem up, the bowl is the pocket
	found = trap(t, m, r3.Vec{Z: -1}, round)
	require.Len(t, found.Pockets, 1)
	cone := math.Pi * 20 * 20 * 6.5 / 3
	assert.InEpsilon(t, cone, found.Pockets[0].Volume, 0.01)
	assert.True(t, found.Pockets[0].Isolated, "its rim stands on the floor")
}

func TestOpeningsThatCannotBe(t *testing.T) {
	s, err := Prepare(meshtest.Sphere(10, 32), zUp, cavity)
	require.NoError(t, err)
	for name, o := range map[string]Opening{
		"outside":       {r3.Vec{X: 30}, 2},
		"above":         {r3.Vec{Z: 14}, 2},
		"no bore":       {r3.Vec{Z: 10}, 0},
		"negative bore": {r3.Vec{Z: 10}, -1},
		"not a number":  {r3.Vec{Z: math.NaN()}, 2},
	} {
		_, err := s.Trap([]Opening{o})
		assert.Error(t, err, name)
	}
	var outside OutsideError
	_, err = s.Trap([]Opening{{r3.Vec{X: 30}, 2}})
	require.ErrorAs(t, err, &outside)
	assert.InDelta(t, 20, outside.Distance, 0.1)
}

func TestPrepareRefusesNonsense(t *testing.T) {
	m := meshtest.Sphere(10, 32)
	for name, f := range map[string]func() error{
		"no up":         func() error { _, err := Prepare(m, r3.Vec{}, cavity); return err },
		"tiny cell":     func() error { _, err := Prepare(m, zUp, Options{Cell: 1e-6}); return err },
		"negative cell": func() error { _, err := Prepare(m, zUp, Options{Cell: -1}); return err },
		"no headroom":   func() error { _, err := Prepare(m, zUp, Options{Around: true}); return err },
		"empty":         func() error { _, err := Prepare(&mesh.Mesh{}, zUp, cavity); return err },
	} {
		assert.Error(t, f(), name)
	}
}

// Turning part, up and vents together changes nothing; scaling scales volumes by the cube.
func TestTrappedAirTurnsAndScalesWithThePart(t *testing.T) {
	m := meshtest.Blocks(2, "..##..", "..##..", "......", "......")
	vent := Opening{r3.Vec{X: 1, Y: 1, Z: 4}, 0.5}
	want := trap(t, m, zUp, cavity, vent)
	require.Len(t, want.Pockets, 1)
	require.InEpsilon(t, 8, want.Volume, 1e-9)
	rng := rand.New(rand.NewPCG(7, 7))
	for range 20 {
		rot := r3.NewRotation(rng.Float64()*6, meshtest.RandomUp(rng))
		by := r3.Vec{X: 1000 * rng.NormFloat64(), Y: 1000 * rng.NormFloat64(), Z: 50}
		turned := meshtest.Moved(m, rot, by)
		got := trap(t, turned, rot.Rotate(zUp), cavity, Opening{r3.Add(rot.Rotate(vent.At), by), 0.5})
		require.Len(t, got.Pockets, 1)
		assert.InEpsilon(t, want.Volume, got.Volume, 1e-6)
	}
	scaled := m.Scaled(12)
	got := trap(t, scaled, zUp, cavity, Opening{r3.Scale(12, vent.At), 6})
	assert.InEpsilon(t, 12*12*12*want.Volume, got.Volume, 1e-9)
}

func TestAddingAVentNeverTrapsMore(t *testing.T) {
	m := meshtest.Blocks(1, "..#..#..#..", "..#..#..#..", "..#.....#..", "...........")
	s, err := Prepare(m, r3.Unit(r3.Vec{X: 0.2, Y: 0.1, Z: 1}), cavity)
	require.NoError(t, err)
	rng := rand.New(rand.NewPCG(3, 4))
	for range 30 {
		var vents []Opening
		last := math.Inf(1)
		for range 6 {
			vents = append(vents, Opening{m.Vertices[rng.IntN(len(m.Vertices))], 0.3})
			found, err := s.Trap(vents)
			require.NoError(t, err)
			assert.LessOrEqual(t, found.Volume, last+1e-9)
			last = found.Volume
		}
	}
}

func TestLevelCurveOfABallIsTheCapFormula(t *testing.T) {
	const radius = 20.0
	m := meshtest.Sphere(radius, 200)
	s, err := Prepare(m, r3.Vec{X: 1, Y: 2, Z: 3}, cavity)
	require.NoError(t, err)
	c := s.Levels(-25, 30, 55, nil)
	for i, z := range c.Height {
		h := max(0, min(z+radius, 2*radius))
		assert.InDelta(t, math.Pi*h*h*(3*radius-h)/3, c.Volume[i], 0.003*m.Volume(), "level %g", z)
	}
	assert.InEpsilon(t, m.Volume(), c.Volume[55], 1e-9)
	half := s.Levels(-25, 30, 55, func(x, _ float64) bool { return x > 0 })
	assert.InEpsilon(t, m.Volume()/2, half.Volume[55], 0.01)
}

func TestStretchesAddUpToThePocket(t *testing.T) {
	m := meshtest.Sphere(25, 128)
	s, err := Prepare(m, zUp, cavity)
	require.NoError(t, err)
	found, err := s.Trap([]Opening{{r3.Vec{X: 25}, 1}})
	require.NoError(t, err)
	var sum float64
	for _, st := range s.Stretches(found, 1) {
		require.Less(t, st.Lo, st.Hi)
		sum += (st.Hi - st.Lo) * s.Cell() * s.Cell()
	}
	assert.InEpsilon(t, found.Volume, sum, 0.01)
}

// Two towers on a level bridge that is vented: air is shut in above it in
// each tower by itself, and neither pocket is the other's.
func TestALevelBridgeBetweenTwoTowers(t *testing.T) {
	m := meshtest.Blocks(3,
		"..######..",
		"..........",
		"..######..",
		"..######..")
	for _, up := range []r3.Vec{{Z: 1}, {X: 1e-7, Z: 1}, {Y: 1e-7, Z: 1}} {
		s, err := Prepare(m, up, Options{Sound: true})
		require.NoError(t, err)
		got, err := s.Trap([]Opening{{At: r3.Vec{X: 5, Y: 1.5, Z: 3}, Bore: 0.5}})
		require.NoError(t, err)
		require.Len(t, got.Pockets, 2)
		for _, p := range got.Pockets {
			assert.InDelta(t, 6, p.Volume, 1e-3)
			assert.InDelta(t, 3, p.SealHeight, 1e-3)
		}
	}
}

// A vent whose line runs exactly through a vertex, as over the point of a
// cone, stands inside all the same.
func TestAVentThroughAVertex(t *testing.T) {
	cone := meshtest.Turned(48, [2]float64{0, 0}, [2]float64{20, 0}, [2]float64{0, 30})
	for _, rot := range []r3.Rotation{r3.NewRotation(0, r3.Vec{Z: 1}), r3.NewRotation(0.7, r3.Vec{Z: 1})} {
		m := meshtest.Moved(cone, rot, r3.Vec{X: 3, Y: -2})
		s, err := Prepare(m, r3.Vec{Z: 1}, Options{Sound: true})
		require.NoError(t, err)
		got, err := s.Trap([]Opening{{At: r3.Vec{X: 3, Y: -2, Z: 10}, Bore: 1.5}})
		require.NoError(t, err)
		assert.Empty(t, got.Pockets)
	}
}

// Two blocks that stand apart are two spaces, two that run into one another are one.
func TestSpacesThatAreCutOffAreToldApart(t *testing.T) {
	two := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10})
	two.Append(meshtest.Box(r3.Vec{X: 20, Z: 3}, r3.Vec{X: 40, Y: 10, Z: 25}))
	space, err := Prepare(two, r3.Vec{Z: 1}, Options{Sound: true})
	require.NoError(t, err)
	rooms := space.Rooms(0.1)
	require.Len(t, rooms, 2)
	for i, want := range []struct{ low, high, left float64 }{{3, 25, 20}, {0, 10, 0}} {
		require.NotEmpty(t, rooms[i].Floor)
		require.NotEmpty(t, rooms[i].Ceiling)
		assert.InDelta(t, want.low, rooms[i].Floor[0].Z, 1e-9, "the larger first")
		assert.InDelta(t, want.high, rooms[i].Ceiling[0].Z, 1e-9)
		assert.GreaterOrEqual(t, space.Frame.Out(rooms[i].Floor[0]).X, want.left)
	}
	two.Append(meshtest.Box(r3.Vec{X: 5, Y: 2, Z: 5}, r3.Vec{X: 30, Y: 8, Z: 8}))
	space, err = Prepare(two, r3.Vec{Z: 1}, Options{Sound: true})
	require.NoError(t, err)
	assert.Len(t, space.Rooms(0.1), 1, "a bridge joins them")
}

// A mouth has its whole rim on the floor: none at the edge of a block, and where
// the floor is narrower than the mouth, all of it.
func TestTheLowestPlacesThatTakeAMouth(t *testing.T) {
	space, err := Prepare(meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 10}), r3.Vec{Z: 1}, Options{Sound: true})
	require.NoError(t, err)
	for _, p := range space.Lowest(0.1, 8) {
		assert.InDelta(t, 20, p.X, 16.3)
		assert.InDelta(t, 10, p.Y, 6.3)
	}
	all := space.Lowest(0.1, 25)
	far := 0.0
	for _, p := range all {
		far = max(far, p.X)
	}
	assert.Greater(t, far, 39.0, "there is no room for so wide a mouth: any place will do")
}
