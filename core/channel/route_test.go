package channel

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bathyform/core/gang"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/graph/path"
	"gonum.org/v1/gonum/graph/simple"
	"gonum.org/v1/gonum/spatial/r3"
)

// A runner that is routed between masters is as long as the shortest way in the
// lattice that gonum's Dijkstra finds (gonum.org/v1/gonum/graph/path), but for
// what a lattice of eight neighbours is too long by: 1/cos 22.5° at the most. And
// it goes to the gate that is nearest by it.
func TestARunnerIsAsShortAsGonumSays(t *testing.T) {
	const lattice = 1.0824
	turned := rand.New(rand.NewPCG(7, 7))
	ways := 0
	for round := range 8 {
		m := NewMaster(meshtest.Box(r3.Vec{X: -15, Y: -8, Z: 0}, r3.Vec{X: 15, Y: 8, Z: 20}))
		s, err := NewStand(m, r3.Vec{Z: 1})
		require.NoError(t, err)
		var poses []gang.Pose
		for x := -1; x <= 1; x++ {
			for y := -1; y <= 1; y++ {
				poses = append(poses, gang.Pose{X: float64(x) * 52, Y: float64(y) * 46, Turn: turned.Float64() * 180})
			}
		}
		require.NoError(t, s.Lay(poses, 10))
		level := 20.0
		r := &Room{Stand: s, Low: r3.Vec{X: -85, Y: -80}, High: r3.Vec{X: 85, Y: 80, Z: 50}, Clear: 5, Wall: 6, Between: 2, Level: &level}
		f := Feed{Sprue: 8, Runner: 5, Gate: 3, Rim: 12, Depth: 8}
		router := r.router(f)
		var feet []Foot
		for i := range s.Places {
			sin, cos := math.Sincos(poses[i].Turn * math.Pi / 180)
			at := r3.Vec{X: poses[i].X + 15*cos, Y: poses[i].Y + 15*sin, Z: level}
			feet = append(feet, Foot{Cavity: i, Mouths: []Mouth{{At: at, From: r3.Add(at, r3.Vec{X: 8 * cos, Y: 8 * sin})}}})
		}
		from := r3.Vec{X: -26 + 4*float64(round), Y: -23, Z: level}
		if !router.clear(from, f.Sprue/2) {
			continue
		}
		free := simple.NewWeightedUndirectedGraph(0, math.Inf(1))
		for i, ok := range router.free {
			for _, by := range []int{1, router.wide - 1, router.wide, router.wide + 1} {
				o := i + by
				if ok && o < len(router.free) && router.free[o] && abs(o%router.wide-i%router.wide) <= 1 {
					far := r3.Norm(r3.Sub(router.at(i), router.at(o)))
					free.SetWeightedEdge(simple.WeightedEdge{F: simple.Node(i), T: simple.Node(o), W: far})
				}
			}
		}
		nearest := func(p r3.Vec) (best int64) {
			least := math.Inf(1)
			router.round(p, 4, func(c int32) {
				if far := r3.Norm(r3.Sub(p, router.at(int(c)))); far < least {
					least, best = far, int64(c)
				}
			})
			return best
		}
		ends := 5 * router.cell // to the lattice and off it
		shortest := path.DijkstraFrom(simple.Node(nearest(from)), free)
		least := math.Inf(1)
		for _, foot := range feet {
			least = min(least, shortest.WeightTo(nearest(foot.Mouths[0].From)))
		}
		for i, foot := range feet {
			_, _, way, ok := router.next([]r3.Vec{from}, []Foot{foot})
			byGonum := shortest.WeightTo(nearest(foot.Mouths[0].From))
			require.Equal(t, !math.IsInf(byGonum, 1), ok, "round %d, foot %d", round, i)
			if !ok {
				continue
			}
			ways++
			long := tubeOf(way).Length()
			assert.LessOrEqual(t, long, byGonum+ends, "round %d, foot %d", round, i)
			assert.GreaterOrEqual(t, long, byGonum/lattice-ends, "round %d, foot %d", round, i)
			for k := 1; k < len(way); k++ {
				assert.True(t, router.straight(way[k-1], way[k]), fmt.Sprint(way))
			}
		}
		which, _, _, ok := router.next([]r3.Vec{from}, feet)
		require.True(t, ok)
		assert.InDelta(t, least, shortest.WeightTo(nearest(feet[which].Mouths[0].From)), ends, "to the nearest first")

		feet = slices.DeleteFunc(feet, func(f Foot) bool { return math.IsInf(shortest.WeightTo(nearest(f.Mouths[0].From)), 1) })
		bodies, ok := router.webFrom(plane.Point{from.X, from.Y}, feet)
		require.True(t, ok)
		assert.True(t, r.keeps(bodies, f, 50), "and all of them keep clear of the parts")
	}
	assert.Greater(t, ways, 30)
}

func abs(i int) int { return max(i, -i) }

func tubeOf(way []r3.Vec) Body { return Body{Path: way} }
