package bench_test

import (
	"strings"
	"testing"

	"bathyform/core/design"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The hub's six side pieces are one shape but for the one that the sprue runs
// through: that is walled off by itself, and the others come from one little box.
func TestTheSidePieceWithTheSprueIsNotLikeTheOthers(t *testing.T) {
	m := demo(t, "drogue-hub")
	q := asked(t, m)
	q.Kind = design.Pieces
	b := built(t, m, q)
	names, alike := b.Plan.Sides(), b.Plan.Alike()
	require.Len(t, names, 6)
	require.Equal(t, 5, alike)
	own := names[5]
	for _, piece := range b.Plan.Division.Pieces {
		if piece.Name == own {
			assert.Empty(t, piece.Like)
		}
		assert.NotEqual(t, own, piece.Like, "nothing is cast after it")
	}
	var text []string
	for _, s := range b.Steps {
		text = append(text, s.Do)
	}
	assert.Contains(t, strings.Join(text, "\n"), "Wall off the place of "+strings.ToLower(own)+".")
}
