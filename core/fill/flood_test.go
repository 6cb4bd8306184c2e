package fill

import (
	"container/heap"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// The plain definition, cell by cell: a max-heap flood over unit cubes
// seeded with the openings (priority-flood, Barnes, Lehman & Mulla 2014). The
// surface tree must find the same air in random labyrinths.

type cube [3]int

type cubeHeap []struct {
	c   cube
	key int
}

func (h cubeHeap) Len() int           { return len(h) }
func (h cubeHeap) Less(i, j int) bool { return h[i].key > h[j].key }
func (h cubeHeap) Swap(i, j int)      { h[i], h[j] = h[j], h[i] }
func (h *cubeHeap) Push(x any)        { *h = append(*h, x.(cubeHeap)[0]) }
func (h *cubeHeap) Pop() any {
	last := (*h)[len(*h)-1]
	*h = (*h)[:len(*h)-1]
	return cubeHeap{last}
}

// floodTrapped counts the cubes whose top lies above their seal height.
func floodTrapped(solid map[cube]bool, seeds []cube, low int) int {
	seal := map[cube]int{}
	h := &cubeHeap{}
	for _, c := range seeds {
		heap.Push(h, cubeHeap{{c, c[2] + 1}})
	}
	for h.Len() > 0 {
		at := heap.Pop(h).(cubeHeap)[0]
		if _, done := seal[at.c]; done {
			continue
		}
		seal[at.c] = at.key
		for _, d := range [6]cube{{1}, {-1}, {0, 1}, {0, -1}, {0, 0, 1}, {0, 0, -1}} {
			n := cube{at.c[0] + d[0], at.c[1] + d[1], at.c[2] + d[2]}
			if _, done := seal[n]; solid[n] && !done {
				heap.Push(h, cubeHeap{{n, min(at.key, n[2]+1)}})
			}
		}
	}
	count := 0
	for c := range solid {
		s, reached := seal[c]
		if !reached {
			s = low
		}
		if c[2]+1 > s {
			count++
		}
	}
	return count
}

// labyrinth makes a random connected solid of cubes without cubes that touch
// over an edge or a corner alone.
func labyrinth(rng *rand.Rand, n int) map[cube]bool {
	solid := map[cube]bool{}
	for x := range n {
		for y := range n {
			for z := range n {
				if rng.Float64() < 0.55 {
					solid[cube{x, y, z}] = true
				}
			}
		}
	}
	for changed := true; changed; {
		changed = false
		for x := -1; x < n; x++ {
			for y := -1; y < n; y++ {
				for z := -1; z < n; z++ {
					var in, out []cube
					for i := range 8 {
						c := cube{x + i&1, y + i>>1&1, z + i>>2&1}
						if solid[c] {
							in = append(in, c)
						} else {
							out = append(out, c)
						}
					}
					if len(in) > 0 && len(out) > 0 && (!joined(in) || !joined(out)) {
						solid[out[rng.IntN(len(out))]] = true
						changed = true
					}
				}
			}
		}
	}
	// keep the largest piece
	seen := map[cube]bool{}
	var best []cube
	for x := -2; x < n+2; x++ {
		for y := -2; y < n+2; y++ {
			for z := -2; z < n+2; z++ {
				c := cube{x, y, z}
				if !solid[c] || seen[c] {
					continue
				}
				piece := []cube{c}
				seen[c] = true
				for i := 0; i < len(piece); i++ {
					for _, d := range [6]cube{{1}, {-1}, {0, 1}, {0, -1}, {0, 0, 1}, {0, 0, -1}} {
						m := cube{piece[i][0] + d[0], piece[i][1] + d[1], piece[i][2] + d[2]}
						if solid[m] && !seen[m] {
							seen[m] = true
							piece = append(piece, m)
						}
					}
				}
				if len(piece) > len(best) {
					best = piece
				}
			}
		}
	}
	out := map[cube]bool{}
	for _, c := range best {
		out[c] = true
	}
	return out
}

func joined(cubes []cube) bool {
	reached := []cube{cubes[0]}
	left := append([]cube(nil), cubes[1:]...)
	for i := 0; i < len(reached); i++ {
		for j := 0; j < len(left); {
			d := 0
			for k := range 3 {
				d += abs(reached[i][k] - left[j][k])
			}
			if d == 1 {
				reached = append(reached, left[j])
				left = append(left[:j], left[j+1:]...)
			} else {
				j++
			}
		}
	}
	return len(left) == 0
}

func abs(i int) int { return max(i, -i) }

func TestSurfaceTreeAgreesWithACellByCellFlood(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 13))
	const runs = 300
	withPockets := 0
	for run := range runs {
		solid := labyrinth(rng, 6)
		if len(solid) < 20 {
			continue
		}
		m := cubesMesh(solid)
		s, err := Prepare(m, zUp, Options{Sound: true, Cell: 0.25})
		require.NoError(t, err)
		require.True(t, s.Exact(), "run %d", run)
		require.InEpsilon(t, float64(len(solid)), m.Volume(), 1e-9)
		low := 1 << 30
		var tops []cube
		for c := range solid {
			low = min(low, c[2])
			if !solid[cube{c[0], c[1], c[2] + 1}] {
				tops = append(tops, c)
			}
		}
		var vents []Opening
		var seeds []cube
		for range rng.IntN(3) + 1 {
			c := tops[rng.IntN(len(tops))]
			vents = append(vents, Opening{r3.Vec{X: float64(c[0]) + 0.5, Y: float64(c[1]) + 0.5, Z: float64(c[2]) + 1}, 0.3})
			for z := c[2]; z < 12; z++ {
				if up := (cube{c[0], c[1], z}); solid[up] {
					seeds = append(seeds, up)
				}
			}
		}
		found, err := s.Trap(vents)
		require.NoError(t, err)
		want := floodTrapped(solid, seeds, low)
		if want > 0 {
			withPockets++
		}
		assert.InDelta(t, float64(want), found.Volume, 1e-6, "run %d", run)
	}
	assert.Greater(t, withPockets, runs/4, "too few labyrinths trap air to prove anything")
}

func cubesMesh(solid map[cube]bool) *mesh.Mesh {
	return meshtest.Cubes(func(x, y, z int) bool { return solid[cube{x, y, z}] }, [3]int{-3, -3, -3}, [3]int{10, 10, 10})
}
