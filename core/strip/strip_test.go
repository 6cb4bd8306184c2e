package strip_test

import (
	"math/rand/v2"
	"testing"

	"bathyform/core/draw"
	"bathyform/core/grid"
	. "bathyform/core/grid/gridtest"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var usual = strip.Rubber{Shore: 30, Elongation: 300, Source: "a sheet"}

// judged are the verdicts on all that a part locks along a draw.
func judged(t *testing.T, m *mesh.Mesh, dir r3.Vec) (out []strip.Verdict) {
	t.Helper()
	a, err := draw.Analyse(t.Context(), m, dir, draw.Options{})
	require.NoError(t, err)
	for _, s := range a.Spaces {
		v := strip.Judge(a, s, strip.Anyhow, usual, 40)
		out = append(out, v)
	}
	return out
}

var (
	alongX = V(1, 0, 0)
	alongY = V(0, 1, 0)
	alongZ = V(0, 0, 1)
)

// What is locked, and how, in ordinary things. Largest first.
func TestOrdinaryThings(t *testing.T) {
	for _, c := range []struct {
		name      string
		solid     grid.Field
		low, high r3.Vec
		draw      r3.Vec
		want      []strip.Mode
	}{
		{"ring lying", Ring(V(0, 0, 0), alongZ, 20, 5), V(-25, -25, -5), V(25, 25, 5), alongZ, nil},
		{"ring upright", Ring(V(0, 0, 0), alongZ, 20, 5), V(-25, -25, -5), V(25, 25, 5), alongX, []strip.Mode{strip.Threaded}},
		{"mug standing", Mug(30, 80, 5), V(-30, -30, 0), V(60, 30, 80), alongZ, []strip.Mode{strip.Threaded}},
		{"mug on its side", Mug(30, 80, 5), V(-30, -30, 0), V(60, 30, 80), alongY, []strip.Mode{strip.Core}},
		{"block with a hole across", Less(Block(V(-20, -20, -20), V(20, 20, 20)), Drum(V(-30, 0, 0), V(30, 0, 0), 6)), V(-20, -20, -20),
			V(20, 20, 20), alongZ, []strip.Mode{strip.Threaded}},
		{"block with crossed holes", Less(Block(V(-20, -20, -20), V(20, 20, 20)), Drum(V(-30, 0, 0), V(30, 0, 0), 6),
			Drum(V(0, -30, 0), V(0, 30, 0), 6)), V(-20, -20, -20), V(20, 20, 20), alongZ, []strip.Mode{strip.Threaded}},
		{"spool", Spool(20, 10, 6, 12), V(-20, -20, 0), V(20, 20, 24), alongZ, []strip.Mode{strip.Collar}},
		{"table of two legs on a plate", All(Block(V(-30, -20, 0), V(30, 20, 4)), Block(V(-30, -20, 24), V(30, 20, 28)),
			Drum(V(-15, 0, 0), V(-15, 0, 28), 4), Drum(V(15, 0, 0), V(15, 0, 28), 4)), V(-30, -20, 0), V(30, 20, 28), alongZ,
			[]strip.Mode{strip.Threaded}},
		{"pipe with a groove inside", Less(Drum(V(0, 0, 0), V(0, 0, 40), 20), Drum(V(0, 0, -1), V(0, 0, 41), 10),
			Drum(V(0, 0, 15), V(0, 0, 25), 13)), V(-20, -20, 0), V(20, 20, 40), alongZ, []strip.Mode{strip.Collar}},
		{"block with a slot in a side", Less(Block(V(-20, -20, -20), V(20, 20, 20)), Block(V(17, -30, -5), V(30, 30, 5))), V(-20, -20, -20),
			V(20, 20, 20), alongZ, []strip.Mode{strip.Lip}},
		{"cup on its side", Less(Drum(V(0, 0, 0), V(0, 0, 40), 20), Drum(V(0, 0, 4), V(0, 0, 41), 17)), V(-20, -20, 0), V(20, 20, 40),
			alongX, []strip.Mode{strip.Core}},
		{"block with a deep thin bore", Less(Block(V(-20, -20, -20), V(20, 20, 20)), Drum(V(-5, 0, 0), V(30, 0, 0), 2)), V(-20, -20, -20),
			V(20, 20, 20), alongZ, []strip.Mode{strip.Core}},
		{"chain link upright", All(Rod(V(-10, 0, -12), V(10, 0, -12), 4), Rod(V(-10, 0, 12), V(10, 0, 12), 4),
			Rod(V(-10, 0, -12), V(-10, 0, 12), 4),
			Rod(V(10, 0, -12), V(10, 0, 12), 4)), V(-14, -4, -16), V(14, 4, 16), alongZ, []strip.Mode{strip.Threaded}},
		{"hook upright", All(Rod(V(0, 0, -30), V(0, 0, 0), 4), Less(Ring(V(12, 0, 0), alongY, 12, 4), Block(V(12, -9, -30), V(40, 9, 0)))),
			V(-4, -4, -34), V(28, 4, 16), alongX, []strip.Mode{strip.Lip, strip.Lip}},
	} {
		t.Run(c.name, func(t *testing.T) {
			m := Mesh(c.solid, c.low, c.high, 90)
			got := judged(t, m, c.draw)
			var modes []strip.Mode
			for _, v := range got {
				modes = append(modes, v.Mode)
			}
			assert.Equal(t, c.want, modes)
		})
	}
}

// A bowl whose mouth draws in by a hair: the ripples that its facets make of
// that ring are no pockets, and every one strips.
func TestRipplesStrip(t *testing.T) {
	bowl := Less(Drum(V(0, 0, 0), V(0, 0, 50), 24), Ball(V(0, 0, 46), 19))
	got := judged(t, Mesh(bowl, V(-24, -24, 0), V(24, 24, 50), 70), alongZ)
	require.NotEmpty(t, got)
	for _, v := range got {
		assert.Equal(t, strip.Strips, v.Answer, "%v, %v %%", v.Mode, v.Strain.Value)
	}
}

// Collars of five ratios against the ratio of the radii: a ring that passes a
// head is stretched by R/r - 1 (models of stripping, closed form).
func TestCollarsStretchByTheRatioOfTheRadii(t *testing.T) {
	for _, c := range []struct {
		neck   float64
		strips bool
	}{{18, true}, {15, true}, {10.6, false}, {6, false}, {1.5, false}} {
		m := meshtest.Turned(180, [2]float64{0, 0}, [2]float64{20, 0}, [2]float64{20, 6}, [2]float64{c.neck, 6}, [2]float64{c.neck, 26},
			[2]float64{20, 26}, [2]float64{20, 32}, [2]float64{0, 32})
		got := judged(t, m, alongZ)
		require.Len(t, got, 1)
		v := got[0]
		assert.Equal(t, strip.Collar, v.Mode)
		stretch := 20/c.neck - 1
		u := 20 - c.neck
		assert.InDelta(t, 100*(stretch+u*u/26/26), v.Strain.Value, 1+0.5*stretch, "neck %g", c.neck)
		assert.Equal(t, c.strips, v.Answer == strip.Strips, "neck %g: %v", c.neck, v.Strain.Value)
	}
}

// Cores of three depths: 3 w u / (2 d²) while they can swing, and hopeless
// from there.
func TestCoresSwingOrAreDragged(t *testing.T) {
	for _, c := range []struct{ r, depth, want float64 }{
		{2, 30, 100 * 3 * 16 / (2 * 900.0)},
		{3, 24, 100 * 3 * 36 / (2 * 576.0)},
		{17, 36, 100 * 3 * 34 * 34 / (2 * 1296.0)},
	} {
		outer := c.r + 6
		m := meshtest.Turned(128, [2]float64{0, 0}, [2]float64{outer, 0}, [2]float64{outer, c.depth + 6}, [2]float64{c.r, c.depth + 6},
			[2]float64{c.r, 6}, [2]float64{0, 6})
		got := judged(t, m, alongX)
		require.Len(t, got, 1)
		assert.Equal(t, strip.Core, got[0].Mode)
		assert.InEpsilon(t, c.want, got[0].Strain.Value, 0.12, "r %g depth %g", c.r, c.depth)
	}
}

// However a part is turned in space, and mirrored, it is held the same way.
func TestTurningAndMirroringChangesNoJudgement(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 3))
	mug := Mesh(Mug(30, 80, 5), V(-30, -30, 0), V(60, 30, 80), 80)
	spool := meshtest.Turned(96, [2]float64{0, 0}, [2]float64{20, 0}, [2]float64{20, 6}, [2]float64{12, 6}, [2]float64{12, 20},
		[2]float64{20, 20}, [2]float64{20, 26}, [2]float64{0, 26})
	bored := Mesh(Less(Block(V(-20, -20, -20), V(20, 20, 20)), Drum(V(-5, 0, 0), V(30, 0, 0), 2.5)), V(-20, -20, -20), V(20, 20, 20), 80)
	for name, m := range map[string]*mesh.Mesh{"mug": mug, "spool": spool, "bored block": bored} {
		want := judged(t, m, alongZ)
		require.Len(t, want, 1, name)
		for k := range 5 {
			axis := meshtest.RandomUp(rng)
			rot := r3.NewRotation(rng.Float64()*6, axis)
			turned := meshtest.Moved(m, rot, V(3, -50, 20))
			dir := rot.Rotate(alongZ)
			if k%2 == 1 { // mirrored
				for i := range turned.Vertices {
					turned.Vertices[i].X = -turned.Vertices[i].X
				}
				flipped := &mesh.Mesh{Vertices: turned.Vertices}
				for _, tri := range turned.Triangles {
					flipped.Triangles = append(flipped.Triangles, [3]int32{tri[0], tri[2], tri[1]})
				}
				turned, dir = flipped, V(-dir.X, dir.Y, dir.Z)
			}
			got := judged(t, turned, dir)
			require.NotEmpty(t, got, name)
			for _, crumb := range got[1:] { // of where solids meet, on another lattice
				assert.Equal(t, strip.Strips, crumb.Answer, name)
			}
			assert.Equal(t, want[0].Mode, got[0].Mode, name)
			assert.Equal(t, want[0].Answer, got[0].Answer, name)
			assert.InEpsilon(t, want[0].Strain.Value, got[0].Strain.Value, 0.3, name)
		}
	}
}
