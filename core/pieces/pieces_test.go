package pieces

import (
	"context"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"bathyform/core/box"
	"bathyform/core/grid"
	"bathyform/core/grid/gridtest"
	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/strip"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var usual = Choices{
	Draw:      r3.Vec{Z: 1},
	Clearance: practice.Clearance{Beside: 12, Below: 13, Above: 20},
	Rubber:    strip.Rubber{Shore: 30, Elongation: 300},
	Wanted:    60,
}

func demo(t testing.TB, key string) *mesh.Mesh {
	t.Helper()
	p, ok := parts.ByKey(key)
	require.True(t, ok)
	return p.Mesh()
}

func made(t testing.TB, m *mesh.Mesh, c Choices) Plan {
	t.Helper()
	p, err := Make(t.Context(), m, c, nil)
	require.NoError(t, err)
	return p
}

// lawful holds a mould against what every mould must keep to.
func lawful(t *testing.T, p Plan, within float64) {
	t.Helper()
	sum := p.Part
	for i, q := range p.Pieces {
		sum += q.Volume
		assert.Equal(t, i+1, q.Order)
		_, r, err := mesh.Load(q.Mesh.WriteSTL(), 1)
		require.NoError(t, err, q.Name)
		assert.Zero(t, r.Edges.Open, "%s is closed", q.Name)
		assert.Positive(t, q.Volume, q.Name)
		assert.Less(t, q.Catches, 0.002*p.Part+1, "%s comes away", q.Name)
	}
	assert.InEpsilon(t, p.Volume, sum, within, "pieces and part fill the box")
}

func TestABallInABoxPartsInTwo(t *testing.T) {
	p := made(t, meshtest.Sphere(20, 64), usual)
	require.Len(t, p.Pieces, 2)
	lawful(t, p, 2e-4)
	assert.Zero(t, p.Off)
	assert.InDelta(t, 0, p.Level, 0.05, "parted at its widest")
	assert.InEpsilon(t, 64.0*64*73, p.Volume, 1e-9)
	half := 64*64*(20+20) - p.Part/2
	assert.GreaterOrEqual(t, len(p.Keys.Keys), 4)
	assert.InEpsilon(
		t,
		half,
		p.Pieces[0].Volume+p.Keys.Volume,
		1e-3,
		"half A stands 20 mm over the ball, less what the keys of half B take",
	)
	for _, q := range p.Pieces {
		assert.Less(t, q.Stripped, 0.001*p.Part)
	}
}

func TestABoxLeavesASharpMould(t *testing.T) {
	plain := usual
	plain.Keys.Kind = key.None
	p := made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20}), plain)
	lawful(t, p, 1e-4)
	assert.InEpsilon(t, p.Pieces[0].Volume, p.Pieces[1].Volume, 1e-4, "walls all the way: where the halves take the same rubber")
	assert.InEpsilon(t, (64.0*54*53-40*30*20)/2, p.Pieces[0].Volume, 1e-4, "box less part, corners and all")
	top := 19.0
	high := plain
	high.Parting = &top
	assert.InEpsilon(t, 64*54*21-40*30*1, made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20}), high).Pieces[0].Volume, 1e-4)
}

func TestKeysAreShapedIntoBothHalves(t *testing.T) {
	for _, kind := range []key.Kind{key.Dome, key.Bar, key.Pin, key.Strip, key.Bevel} {
		t.Run(string(kind), func(t *testing.T) {
			c := usual
			c.Keys.Kind, c.Cells = kind, 75
			p := made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 40, Z: 20}), c)
			lawful(t, p, 1e-3)
			c.Keys.Kind = key.None
			bare := made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 40, Z: 20}), c)
			assert.InEpsilon(
				t,
				p.Keys.Volume,
				bare.Pieces[0].Volume-p.Pieces[0].Volume,
				0.06,
				"half A loses them, on a lattice of about a millimetre",
			)
			assert.InEpsilon(t, p.Keys.Volume, p.Pieces[1].Volume-bare.Pieces[1].Volume, 0.06, "half B gains them")
		})
	}
}

func TestTheSeamFollowsTheEdgeThatTheCasterWants(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 90)
	c := usual
	c.Cells = 70
	mid := made(t, m, c)
	assert.InDelta(t, 1, mid.Open, 0.02, "half way up a wall it shows all round")
	c.Seam = TopEdge
	top := made(t, m, c)
	c.Seam = LowEdge
	low := made(t, m, c)
	assert.Less(t, low.Level+9, mid.Level)
	assert.Greater(t, top.Level, mid.Level+9)
	assert.Zero(t, top.Open, "along the edge it hides")
	assert.InEpsilon(t, 2*math.Pi*20, top.Line, 0.06)
	for _, p := range []Plan{mid, top, low} {
		lawful(t, p, 1e-3)
	}
}

// A box whose wall goes into the hollow of a U: its pieces are the box's
// rubber, and none of them reaches into the hollow.
func TestAWallWithHollowsHoldsItsPieces(t *testing.T) {
	u := []plane.Point{{0, 0}, {60, 0}, {60, 50}, {45, 50}, {45, 15}, {15, 15}, {15, 50}, {0, 50}}
	m := meshtest.Moved(meshtest.Extruded(u, 20), r3.NewRotation(-math.Pi/2, r3.Vec{X: 1}), r3.Vec{Z: 20})
	follow, err := box.Of(box.Follow, box.Ask{Hull: plane.Hull(u), Rings: [][]plane.Point{u}, Beside: 7})
	require.NoError(t, err)
	low, high := plane.Bounds(follow.Ring)
	c := usual
	c.Cells = 110
	c.Room = &Room{Box: r3.Box{Min: r3.Vec{X: low[0], Y: low[1], Z: -13}, Max: r3.Vec{X: high[0], Y: high[1], Z: 40}},
		Ring: follow.Ring, Wide: r3.Vec{X: 1}, Deep: r3.Vec{Y: 1}, Volume: follow.Area * 53}
	p := made(t, m, c)
	lawful(t, p, 3e-3)
	region := plane.NewRegion(follow.Ring, 5)
	for _, piece := range p.Pieces {
		for _, v := range piece.Mesh.Vertices {
			assert.Less(t, region.Beyond(plane.Point{v.X, v.Y}), 0.05, "%s stays within the wall", piece.Name)
		}
	}
	for _, k := range p.Keys.Keys {
		assert.Less(t, region.Beyond(plane.Point{k.X, k.Y}), -k.Radius, "keys too")
	}
}

func TestARoundBoxHoldsItsPieces(t *testing.T) {
	m := meshtest.Box(r3.Vec{X: -20, Y: -10}, r3.Vec{X: 20, Y: 10, Z: 20})
	round, err := box.Of(box.Round, box.Ask{Hull: []plane.Point{{-20, -10}, {20, -10}, {20, 10}, {-20, 10}}, Beside: 12})
	require.NoError(t, err)
	c := usual
	in := func(r []plane.Point, area float64) *Room {
		low, high := plane.Bounds(r)
		return &Room{
			Box: r3.Box{
				Min: r3.Vec{X: low[0], Y: low[1], Z: -usual.Clearance.Below},
				Max: r3.Vec{X: high[0], Y: high[1], Z: 20 + usual.Clearance.Above},
			},
			Walls:  Upright(r),
			Volume: area * (20 + usual.Clearance.Below + usual.Clearance.Above),
		}
	}
	c.Room, c.Cells = in(round.Ring, round.Area), 90
	p := made(t, m, c)
	assert.InEpsilon(t, round.Area*53, p.Volume, 1e-3)
	lawful(t, p, 2e-3)
	assert.NotEmpty(t, p.Keys.Keys)
	for _, k := range p.Keys.Keys {
		assert.Less(t, math.Hypot(k.X, k.Y)+k.Reach(), math.Hypot(20, 10)+12, "keys stay inside")
	}
	assert.InDelta(t, math.Hypot(20, 10)+12-20, p.Depth(math.Hypot(20, 10)+12, 0, -1, 0), p.Cell, "the part lies that deep behind the wall")
	assert.True(t, math.IsInf(p.Depth(0, math.Hypot(20, 10)+12, 0.9, -0.436), 1), "and beside it there is none")
	c.Keys.Kind = key.Bevel
	assert.Contains(t, made(t, m, c).Keys.Short, "straight walls")
	c.Room = in([]plane.Point{{-5, -5}, {5, -5}, {5, 5}, {-5, 5}}, 100)
	_, err = Make(t.Context(), m, c, nil)
	assert.ErrorContains(t, err, "does not go into that box")
}

func TestThePlugInAHoleEndsWhereTheCasterWants(t *testing.T) {
	m := demo(t, "instrument-bezel") // a ring
	c := usual
	c.Cells = 80
	plain := made(t, m, c)
	require.True(t, plain.Holes)
	for _, k := range plain.Keys.Keys {
		size := r3.Sub(plain.Box.Max, plain.Box.Min)
		assert.Greater(
			t,
			math.Hypot(k.X-(plain.Box.Min.X+size.X/2), k.Y-(plain.Box.Min.Y+size.Y/2)),
			size.X/2-12,
			"no key in the hole, only round the part",
		)
	}
	low, high := plain.Box.Min.Z+13, plain.Box.Max.Z-20 // the part, along the draw
	middle := r3.Scale(0.5, r3.Add(plain.Box.Min, plain.Box.Max))
	heights := map[Seam]float64{}
	for _, at := range []Seam{TopEdge, MidWall, LowEdge} {
		c.Holes = at
		p := made(t, m, c)
		lawful(t, p, 3e-3)
		heights[at] = p.Sheet(middle.X, middle.Y)
		assert.InDelta(t, plain.Level, p.Sheet(p.Box.Min.X+1, p.Box.Min.Y+1), 1.5, "outside the seam stays")
	}
	assert.Greater(t, heights[TopEdge], heights[MidWall]+1)
	assert.Greater(t, heights[MidWall], heights[LowEdge]+1)
	assert.Less(t, heights[TopEdge], high+1e-6)
	assert.Greater(t, heights[LowEdge], low-1e-6)
	assert.False(t, made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20}), usual).Holes)
}

func TestTheCeilingOfADome(t *testing.T) {
	p := made(t, meshtest.Sphere(20, 96), usual)
	// under a hemisphere of radius r to its pole's plane: a cylinder less half a ball
	assert.InEpsilon(t, math.Pi*8000*(1-2.0/3), p.Ceiling(), 0.02)
	assert.InDelta(t, 0, made(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20}), usual).Ceiling(), 1e-6, "a flat ceiling")
}

func TestTheCasterDecidesAboutSidePieces(t *testing.T) {
	m := demo(t, "drogue-hub")
	c := usual
	c.Cells = 80
	p := made(t, m, c)
	require.GreaterOrEqual(t, len(p.Locked), 6)
	one := p.Locked[0]
	assert.True(t, (one.Answer == strip.SidePiece))
	assert.Equal(t, strip.SidePiece, one.Answer)

	c.Sides = []Told{{At: one.At, Strip: true}}
	refused := made(t, m, c)
	assert.Len(t, refused.Pieces, len(p.Pieces)-1, "one refused")
	assert.True(t, refused.Locked[0].Decided)
	assert.False(t, (refused.Locked[0].Answer == strip.SidePiece))
	lawful(t, refused, 0.003)

	out := r3.Vec{X: one.At.X, Y: one.At.Y}
	sin, cos := math.Sincos(0.06)
	c.Sides = []Told{{At: one.At, Draw: r3.Vec{X: cos*out.X - sin*out.Y, Y: sin*out.X + cos*out.Y}}}
	turned := made(t, m, c)
	assert.Len(t, turned.Pieces, len(p.Pieces), "one turned a little")
	assert.InDelta(t, math.Cos(0.06), r3.Dot(r3.Unit(out), turned.Pieces[0].Draw), 1e-3)

	c.Sides = []Told{{At: one.At, Draw: r3.Scale(-1, out)}}
	_, err := Make(t.Context(), m, c, nil)
	assert.ErrorContains(t, err, "cannot leave")
}

func TestEveryDemoPartComesOutOfItsMould(t *testing.T) {
	for key, dir := range map[string]r3.Vec{
		"deck-cleat": {Y: 1}, "ballast-bulb": {Z: 1}, "collar-half": {Z: 1}, "sensor-guard": {X: 1, Z: 0.4}, "instrument-bezel": {Z: 1},
	} {
		t.Run(key, func(t *testing.T) {
			c := usual
			c.Draw = dir
			c.Cells = 90
			p := made(t, demo(t, key), c)
			lawful(t, p, 0.002)
			assert.InDelta(t, 1, r3.Norm(p.Pieces[len(p.Pieces)-1].Draw), 1e-9)
		})
	}
}

func TestTheHubsSocketsGetSidePieces(t *testing.T) {
	p := made(t, demo(t, "drogue-hub"), usual)
	require.Len(t, p.Pieces, 8, "six sides and two halves")
	for _, q := range p.Pieces[1:6] {
		assert.Equal(t, p.Pieces[0].Volume, q.Volume, "one shape, six times")
		assert.Equal(t, "Side 1", q.Like)
		assert.Less(t, q.Catches, 1.0)
	}
	assert.Empty(t, p.Left)
	var stripped float64
	for _, q := range p.Pieces {
		stripped += q.Stripped
	}
	assert.Less(t, stripped, 400.0, "hardly any of the 8.4 mL is left to stripping")

	two := usual
	two.HalvesOnly = true
	h := made(t, demo(t, "drogue-hub"), two)
	require.Len(t, h.Pieces, 2)
	assert.InEpsilon(t, 8400, h.Pieces[0].Stripped+h.Pieces[1].Stripped, 0.03, "without them it is all stripped")
}

// admesh is an independent reader and checker of STL (Debian package admesh).
func TestPiecesAreSoundForAdmesh(t *testing.T) {
	_, err := exec.LookPath("admesh")
	require.NoError(t, err, "make setup installs it")
	volume := regexp.MustCompile(`Volume\s+:\s+(-?[\d.]+)`)
	for _, q := range made(t, demo(t, "drogue-hub"), usual).Pieces {
		file := filepath.Join(t.TempDir(), "piece.stl")
		require.NoError(t, os.WriteFile(file, q.Mesh.WriteSTL(), 0o600))
		out, err := exec.Command("admesh", file).CombinedOutput()
		require.NoError(t, err, string(out))
		found := volume.FindSubmatch(out)
		require.NotNil(t, found, string(out))
		v, err := strconv.ParseFloat(string(found[1]), 64)
		require.NoError(t, err)
		assert.InEpsilon(t, v, q.Volume, 1e-3, q.Name)
		assert.Regexp(t, `Total disconnected facets\s+:\s+0 `, string(out))
		assert.Regexp(t, `Backwards edges\s+:\s+0`, string(out))
		assert.Regexp(t, `Number of parts\s+:\s+1 `, string(out), "no crumbs")
	}
}

func BenchmarkHub(b *testing.B) {
	m := demo(b, "drogue-hub")
	for b.Loop() {
		made(b, m, usual)
	}
}

func TestAGrooveAllRoundIsSharedBetweenSidePieces(t *testing.T) {
	spool := meshtest.Turned(
		96,
		[2]float64{0, 0},
		[2]float64{20, 0},
		[2]float64{20, 8},
		[2]float64{9, 8},
		[2]float64{9, 22},
		[2]float64{20, 22},
		[2]float64{20, 30},
		[2]float64{0, 30},
	)
	stretchy := usual
	stretchy.Rubber.Elongation = 700 // a neck of 18 behind a head of 40: 122 % and bending
	soft := made(t, spool, stretchy)
	assert.Len(t, soft.Pieces, 2, "a stretchy rubber strips out of it")
	assert.True(t, soft.Opens())
	assert.InEpsilon(t, 3.1416*(20*20-9*9)*14, soft.Pieces[0].Stripped+soft.Pieces[1].Stripped, 0.02)
	firm := usual
	p := made(t, spool, firm)
	lawful(t, p, 0.003)
	assert.GreaterOrEqual(t, len(p.Pieces), 4, "no single piece leaves it sideways")
	assert.LessOrEqual(t, len(p.Pieces), 6)
	var stripped float64
	for _, q := range p.Pieces {
		stripped += q.Stripped
	}
	groove := 3.1416 * (20*20 - 9*9) * 14
	assert.Less(t, stripped, 0.06*groove)
	lying := firm
	lying.Draw = r3.Vec{X: 1}
	assert.Len(t, made(t, spool, lying).Pieces, 2, "drawn across its axis two halves do")
}

func TestHowItIsTurnedChangesNothing(t *testing.T) {
	m := demo(t, "instrument-bezel")
	c := usual
	c.Clearance.Below, c.Clearance.Above = 15, 15
	c.Cells = 80
	want := made(t, m, c)
	turn := r3.NewRotation(1.1, r3.Vec{X: 1, Y: 2, Z: -0.5})
	c.Draw = turn.Rotate(c.Draw)
	got := made(t, meshtest.Moved(m, turn, r3.Vec{X: 300, Y: -40, Z: 7}), c)
	require.Len(t, got.Pieces, len(want.Pieces))
	assert.InDelta(t, 0, got.Off, 0.01)
	// the box turns about the draw with the frame, so that only what is kept is compared
	assert.InEpsilon(t, want.Part, got.Part, 1e-9)
	lawful(t, got, 0.002)
}

func TestMouldsThatCannotBeMadeSayWhy(t *testing.T) {
	ball := meshtest.Sphere(10, 24)
	far := 200.0
	for _, c := range []struct {
		with func(*Choices)
		says string
	}{
		{func(c *Choices) { c.Clearance.Beside = 0 }, "rubber has to stand all round"},
		{func(c *Choices) { c.Draw = r3.Vec{} }, "not all zero"},
		{func(c *Choices) { c.Parting = &far }, "outside the box"},
	} {
		k := usual
		c.with(&k)
		_, err := Make(t.Context(), ball, k, nil)
		assert.ErrorContains(t, err, c.says)
	}
	sheet := &mesh.Mesh{Vertices: []r3.Vec{{}, {X: 10}, {X: 10, Y: 10}}, Triangles: [][3]int32{{0, 1, 2}}}
	_, err := Make(t.Context(), sheet, usual, nil)
	assert.ErrorIs(t, err, ErrPlan)

	ctx, cancel := context.WithCancel(t.Context())
	_, err = Make(ctx, ball, usual, func(string) { cancel() })
	assert.ErrorIs(t, err, context.Canceled)
}

func TestLinesOfTheLatticeMeasureThePart(t *testing.T) {
	for key, m := range map[string]*mesh.Mesh{"hub": demo(t, "drogue-hub"), "guard": demo(t, "sensor-guard"),
		"two balls that overlap": twoBalls()} {
		box := m.Bounds()
		room := r3.Vec{X: 10, Y: 10, Z: 10}
		b, err := lay(t.Context(), m, m.Vertices, r3.Box{Min: r3.Sub(box.Min, room), Max: r3.Add(box.Max, room)}, 90)
		require.NoError(t, err)
		_, r, err := mesh.Load(m.WriteSTL(), 1)
		require.NoError(t, err)
		// along each axis the lines meet as much part as there is; overlapping bodies count once
		var along [3]float64
		for axis := range 3 {
			for _, line := range b.lines[axis] {
				require.Zero(t, len(line)%2, "a line that goes in comes out")
				for i := 0; i+1 < len(line); i += 2 {
					assert.LessOrEqual(t, line[i].at, line[i+1].at)
					along[axis] += (line[i+1].at - line[i].at) * b.Cell * b.Cell
				}
			}
			assert.InEpsilon(t, along[0], along[axis], 0.015, "%s: every axis sees the same part", key)
		}
		assert.InEpsilon(t, r.Volume, along[2], 0.01, key)
		inside := 0
		for _, in := range b.part {
			if in {
				inside++
			}
		}
		assert.InEpsilon(t, along[2], float64(inside)*b.Cell*b.Cell*b.Cell, 0.02, key)
	}
}

// twoBalls run into one another without being joined.
func twoBalls() *mesh.Mesh {
	m, other := meshtest.Sphere(12, 40), meshtest.Sphere(12, 40)
	n := int32(len(m.Vertices))
	for _, v := range other.Vertices {
		m.Vertices = append(m.Vertices, r3.Add(v, r3.Vec{X: 9}))
	}
	for _, tri := range other.Triangles {
		m.Triangles = append(m.Triangles, [3]int32{tri[0] + n, tri[1] + n, tri[2] + n})
	}
	return m
}

// A long thin hole across the draw: parted at its own height each half keeps
// its end of it, which bends out; parted elsewhere it wants a side piece; and
// crossed bores fall into a core and two stubs.
func TestHolesAcrossTheDraw(t *testing.T) {
	box := func(holes ...grid.Field) *mesh.Mesh {
		return gridtest.Mesh(gridtest.Less(gridtest.Block(gridtest.V(-20, -20, -20), gridtest.V(20, 20, 20)), holes...),
			gridtest.V(-20, -20, -20), gridtest.V(20, 20, 20), 60)
	}
	across := func(r float64, d r3.Vec) grid.Field { return gridtest.Drum(r3.Scale(-30, d), r3.Scale(30, d), r) }
	thin := box(across(2, r3.Vec{X: 1}))
	c := usual
	c.Cells = 100
	middle, higher := 0.0, 6.0
	c.Parting = &middle
	split := made(t, thin, c)
	lawful(t, split, 0.002)
	require.Len(t, split.Locked, 1)
	assert.Equal(t, strip.Threaded, split.Locked[0].Verdict.Mode)
	assert.Equal(t, strip.Split, split.Locked[0].Answer)
	assert.Len(t, split.Pieces, 2)
	assert.True(t, split.Opens())
	c.Parting = &higher
	side := made(t, thin, c)
	assert.Equal(t, strip.SidePiece, side.Locked[0].Answer)
	assert.Len(t, side.Pieces, 3)

	c.Parting = nil
	crossed := made(t, box(across(6, r3.Vec{X: 1}), across(6, r3.Vec{Y: 1})), c)
	lawful(t, crossed, 0.003)
	assert.True(t, crossed.Opens())
	assert.Len(t, crossed.Pieces, 5, "a core through one bore, a stub from either end of the other")

	slanted := made(t, box(gridtest.Drum(gridtest.V(6, 0, -2), gridtest.V(36, 0, 20), 4)), c)
	assert.True(t, slanted.Opens())
	require.Len(t, slanted.Pieces, 3)
	assert.Greater(t, slanted.Pieces[0].Draw.Z, 0.3, "drawn on the slant")

	// a hollow behind a narrow mouth cannot be opened by anything
	bulb := gridtest.Less(gridtest.Ball(gridtest.V(0, 0, 0), 20), gridtest.Ball(gridtest.V(0, 0, 0), 17),
		gridtest.Drum(gridtest.V(0, 0, 0), gridtest.V(0, 0, 30), 4))
	shut := made(t, gridtest.Mesh(bulb, gridtest.V(-20, -20, -20), gridtest.V(20, 20, 20), 60), c)
	assert.False(t, shut.Opens())
}
