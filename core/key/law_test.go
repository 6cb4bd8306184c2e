package key

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Distances on the lattice are those that a patient search finds.
func TestClearingMeasuresTheNearestTakenPlace(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 8))
	const nx, ny, cell = 40, 30, 1.5
	for range 6 {
		taken := make([]bool, nx*ny)
		for range 1 + rng.IntN(30) {
			taken[rng.IntN(nx*ny)] = true
		}
		box := [4]float64{-1e3, 1e3, -1e3, 1e3}
		r := Clearing(0, 0, cell, nx, ny, taken, box, nil)
		for range 200 {
			i, j := rng.IntN(nx), rng.IntN(ny)
			least := math.Inf(1)
			for c, is := range taken {
				if is {
					least = min(least, math.Hypot(float64(c%nx-i), float64(c/nx-j)))
				}
			}
			assert.InDelta(t, (least-1)*cell, r.Away[j*nx+i], 1e-6)
		}
	}
}

func TestKeysMoveWithTheBlock(t *testing.T) {
	place := func(x, y float64) []Key {
		const nx, ny = 101, 81
		taken := make([]bool, nx*ny)
		for c := range taken {
			taken[c] = math.Hypot(float64(c%nx-50), float64(c/nx-40)) < 22
		}
		p, err := Place(Clearing(x, y, 1, nx, ny, taken, [4]float64{x, x + 100, y, y + 80}, nil), Choices{})
		require.NoError(t, err)
		return p.Keys
	}
	at, moved := place(0, 0), place(512, -256) // whole powers of two, so that nothing is rounded
	require.Equal(t, len(at), len(moved))
	for i := range at {
		assert.InDelta(t, at[i].X+512, moved[i].X, 1e-9)
		assert.InDelta(t, at[i].Y-256, moved[i].Y, 1e-9)
		assert.Equal(t, at[i].Radius, moved[i].Radius)
	}
}

func TestABiggerBlockGetsMoreKeysButNotEndless(t *testing.T) {
	count := func(side int) int {
		n := side + 1
		taken := make([]bool, n*n)
		for c := range taken {
			x, y := c%n, c/n
			taken[c] = x > side/3 && x < 2*side/3 && y > side/3 && y < 2*side/3
		}
		p, err := Place(Clearing(0, 0, 1, n, n, taken, [4]float64{0, float64(side), 0, float64(side)}, nil), Choices{})
		require.NoError(t, err)
		return len(p.Keys)
	}
	assert.Equal(t, 4, count(90))
	assert.Greater(t, count(240), 4)
	assert.LessOrEqual(t, count(500), most)
}
