package gate_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/gate"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func block(t testing.TB, m *mesh.Mesh, a gate.Block) (gate.Laid, gate.Sums) {
	t.Helper()
	if a.Up == (r3.Vec{}) {
		a.Up = r3.Vec{Z: 1}
	}
	if a.Feed == "" {
		a.Feed = practice.FeedLow
	}
	if a.Clear == 0 {
		a.Clear = 5
	}
	a.House = practice.Usual()
	l, err := gate.LayBlock(context.Background(), m, true, m.Volume(), a)
	require.NoError(t, err)
	return l, l.Sums()
}

func count(l gate.Laid, k channel.Kind) (n int) {
	for _, b := range l.Bodies {
		if b.Kind == k {
			n++
		}
	}
	return n
}

// Things of the house, made for this test alone.
func ordinary() map[string]*mesh.Mesh {
	hook := meshtest.Extruded([][2]float64{{0, 0}, {30, 0}, {30, 30}, {22, 30}, {22, 8}, {8, 8}, {8, 50}, {0, 50}}, 8)
	two := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10})
	two.Append(meshtest.Box(r3.Vec{X: 20}, r3.Vec{X: 30, Y: 10, Z: 25}))
	return map[string]*mesh.Mesh{
		"ball": meshtest.Sphere(12, 24),
		"ring": meshtest.Turned(40, [2]float64{8, 0}, [2]float64{10, 0}, [2]float64{10, 4}, [2]float64{8, 4}),
		"mug": meshtest.Turned(40, [2]float64{0, 0}, [2]float64{30, 0}, [2]float64{30, 70}, [2]float64{27, 70}, [2]float64{27, 4},
			[2]float64{0, 4}),
		"card": meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 1.2, Z: 40}),
		"hook": hook,
		"two":  two,
	}
}

// sound holds a block to what every block must be.
func sound(t *testing.T, l gate.Laid, s gate.Sums, clear float64) {
	t.Helper()
	assert.Less(t, s.Overlap, 0.5, "channels run through parts or one another")
	if len(l.Stand.Places) > 1 {
		assert.GreaterOrEqual(t, s.Clearance, clear-0.02, "a channel comes too near to a part that it does not lead to")
	}
	sum := l.Cavity
	for i, b := range l.Bodies {
		sum += l.Volumes[i]
		assert.Positive(t, l.Volumes[i])
		low, high := b.Bounds()
		for _, v := range [][3]float64{{low.X, high.X, l.Size.X}, {low.Y, high.Y, l.Size.Y}} {
			assert.GreaterOrEqual(t, v[0], 3.9, "%s leaves no wall", b.Kind)
			assert.LessOrEqual(t, v[1], v[2]-3.9, "%s leaves no wall", b.Kind)
		}
		if b.Kind == channel.Runner { // nothing lies lower
			assert.GreaterOrEqual(t, low.Z, 3.9)
		}
		assert.LessOrEqual(t, b.Path[len(b.Path)-1].Z, l.Size.Z+1e-6)
	}
	assert.InDelta(t, sum, s.Shot, 1e-6*sum)
	joined(t, l)
}

// joined follows the resin from the well on: it comes to every gate.
func joined(t *testing.T, l gate.Laid) {
	t.Helper()
	meets := func(a, b channel.Body) bool {
		for _, p := range []r3.Vec{a.Path[0], a.Path[len(a.Path)-1]} {
			for i := 1; i < len(b.Path); i++ {
				v, w := r3.Sub(b.Path[i], b.Path[i-1]), r3.Sub(p, b.Path[i-1])
				k := max(0, min(1, r3.Dot(v, w)/r3.Norm2(v)))
				if r3.Norm(r3.Sub(w, r3.Scale(k, v))) < 1e-6 {
					return true
				}
			}
		}
		return false
	}
	wet := map[int]bool{}
	for i, b := range l.Bodies {
		if b.Kind == channel.Well {
			wet[i] = true
		}
	}
	for range l.Bodies {
		for i, b := range l.Bodies {
			for j := range wet {
				if !wet[i] && b.Kind != channel.Vent && (meets(b, l.Bodies[j]) || meets(l.Bodies[j], b)) {
					wet[i] = true
				}
			}
		}
	}
	for i, b := range l.Bodies {
		assert.True(t, wet[i] || b.Kind == channel.Vent, "no resin comes to the %s of cavity %d", b.Kind, b.Cavity)
	}
}

func TestOrdinaryThingsAreGated(t *testing.T) {
	for name, m := range ordinary() {
		for _, n := range []int{1, 2, 5} {
			t.Run(fmt.Sprint(name, " x ", n), func(t *testing.T) {
				l, s := block(t, m, gate.Block{Count: n, Vents: gate.AllVents})
				require.Len(t, l.Stand.Places, n)
				sound(t, l, s, 5)
				gates := n
				if name == "two" {
					gates = 2 * n // each body has one of its own
				}
				assert.Equal(t, gates, count(l, channel.Gate))
				assert.Equal(t, 1, count(l, channel.Sprue), "all are fed by one")
				assert.Zero(t, l.Lost)
				for _, p := range l.Air {
					assert.False(t, gate.Fault(0).Matters(p.Volume), "what matters is vented")
				}
			})
		}
	}
}

// However a part is turned in its file, standing the same way up it is gated
// the same: as much in its channels and as much air, nearly.
func TestHowAPartLiesInItsFileDoesNotMatter(t *testing.T) {
	rng := rand.New(rand.NewPCG(12, 3))
	m := ordinary()["hook"]
	_, want := block(t, m, gate.Block{Count: 3, Vents: gate.AllVents})
	for range 3 {
		rot := r3.NewRotation(rng.Float64()*6, meshtest.RandomUp(rng))
		turned := meshtest.Moved(m, rot, r3.Vec{X: 50 * rng.Float64(), Y: -30, Z: 12})
		l, got := block(t, turned, gate.Block{Up: rot.Rotate(r3.Vec{Z: 1}), Count: 3, Vents: gate.AllVents})
		sound(t, l, got, 5)
		assert.InDelta(t, want.Channels, got.Channels, 0.25*want.Channels)
		assert.Equal(t, 6, count(l, channel.Vent))
	}
}

func TestAPotAndAFloorHoldWhatTheyCan(t *testing.T) {
	m := ordinary()["ball"]
	l, s := block(t, m, gate.Block{Pot: 130, Vents: gate.AllVents})
	sound(t, l, s, 5)
	assert.True(t, l.Round)
	assert.LessOrEqual(t, l.Size.X, 130.0)
	assert.GreaterOrEqual(t, len(l.Stand.Places), 4, "and one place for the sprue")
	for _, b := range l.Bodies {
		low, high := b.Bounds()
		for _, x := range []float64{low.X, high.X} {
			for _, y := range []float64{low.Y, high.Y} {
				assert.LessOrEqual(t, math.Hypot(x-l.Size.X/2, y-l.Size.Y/2), l.Size.X/2, "%s reaches out of the round", b.Kind)
			}
		}
	}
	l, s = block(t, m, gate.Block{Wide: 120, Deep: 90, Vents: gate.AllVents})
	sound(t, l, s, 5)
	assert.LessOrEqual(t, l.Size.X, 120.0)
	assert.LessOrEqual(t, l.Size.Y, 90.0)
	l, _ = block(t, m, gate.Block{Wide: 120, Deep: 90, Count: 30, Vents: 0})
	assert.True(t, l.Short, "thirty have no room there")
	_, err := gate.LayBlock(context.Background(), m, true, m.Volume(), gate.Block{Up: r3.Vec{Z: 1}, Feed: practice.FeedLow, Clear: 5,
		Pot: 40, House: practice.Usual()})
	assert.Error(t, err, "nor has one in a cup")
}

func TestVentsAreAllFewOrSoMany(t *testing.T) {
	m := ordinary()["hook"]
	for vents, want := range map[int]int{gate.AllVents: 2, gate.FewVents: 2, 0: 0, 1: 1, 9: 2} {
		l, _ := block(t, m, gate.Block{Vents: vents})
		assert.Equal(t, want, count(l, channel.Vent), "%d", vents)
	}
	one, _ := block(t, m, gate.Block{Vents: 1})
	two, _ := block(t, m, gate.Block{Vents: 2})
	none, _ := block(t, m, gate.Block{})
	assert.InDelta(t, m.Volume(), none.Left, 1e-3*m.Volume(), "without a vent all the air stays")
	assert.Greater(t, one.Left, 1000.0, "the tip of the hook keeps its own")
	assert.Less(t, two.Left, 1.0)
}

func TestFromTheTopEachHasItsOwnOpening(t *testing.T) {
	l, s := block(t, ordinary()["mug"], gate.Block{Feed: practice.FeedTop, Count: 3, Vents: gate.AllVents})
	sound(t, l, s, 5)
	assert.Equal(t, 3, count(l, channel.Sprue))
	assert.Equal(t, 3, count(l, channel.Well))
	assert.Zero(t, count(l, channel.Runner))
	assert.Less(t, l.Left, 1.0)
	l, _ = block(t, ordinary()["two"], gate.Block{Feed: practice.FeedTop})
	assert.Equal(t, 2, count(l, channel.Sprue), "each body of a part has one")
	assert.Less(t, l.Left, 1.0)
}

func TestWhatNoBlockCanBeLaidBy(t *testing.T) {
	m := ordinary()["ball"]
	for name, change := range map[string]func(*gate.Block){
		"clearance": func(a *gate.Block) { a.Clear = 0 },
		"feed":      func(a *gate.Block) { a.Feed = "side" },
		"vents":     func(a *gate.Block) { a.Vents = -3 },
		"cavities":  func(a *gate.Block) { a.Count = 201 },
	} {
		a := gate.Block{Up: r3.Vec{Z: 1}, Feed: practice.FeedLow, Clear: 5, House: practice.Usual()}
		change(&a)
		_, err := gate.LayBlock(context.Background(), m, true, m.Volume(), a)
		assert.ErrorContains(t, err, name)
	}
}

func TestDemoPartsInGangsOfSix(t *testing.T) {
	for i, p := range parts.All() {
		if i%2 == 1 && os.Getenv("LAWS") == "" { // each second one: make laws has all
			continue
		}
		l, s := block(t, p.Mesh(), gate.Block{Count: 6, Vents: gate.AllVents})
		t.Run(p.Name, func(t *testing.T) {
			sound(t, l, s, 5)
			assert.Less(t, max(l.Size.X, l.Size.Y)/min(l.Size.X, l.Size.Y), 3.5, "no row that bends")
			assert.Zero(t, l.Lost)
		})
	}
}

func BenchmarkSixCleats(b *testing.B) {
	p, ok := parts.ByKey("deck-cleat")
	require.True(b, ok)
	m := p.Mesh()
	for b.Loop() {
		block(b, m, gate.Block{Count: 6, Vents: gate.AllVents})
	}
}
