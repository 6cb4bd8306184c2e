package mesh

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The lesser half is the one that a full sort puts first.
func TestTheLesserHalfComesFirst(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for range 300 {
		n := 1 + rng.IntN(60)
		keys := make([]float64, n)
		part := make([]int32, n)
		for i := range part {
			keys[i], part[i] = float64(rng.IntN(12)), int32(i)
		}
		rng.Shuffle(n, func(i, j int) { part[i], part[j] = part[j], part[i] })
		sorted := slices.Clone(part)
		slices.SortFunc(sorted, func(a, b int32) int {
			if keys[a] != keys[b] {
				return int(keys[a] - keys[b])
			}
			return int(a - b)
		})
		halve(part, func(i int32) float64 { return keys[i] })
		assert.ElementsMatch(t, sorted[:n/2], part[:n/2])
		assert.ElementsMatch(t, sorted[n/2:], part[n/2:])
	}
}
