package gate

import (
	"math"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Three horns of different size on one beam: the ranking empties them from the
// largest to the least, and says what each leaves.
func TestVentsAreRankedByTheAirThatTheySpare(t *testing.T) {
	s := space(t, meshtest.Blocks(2, "####....###", "####....###", "####....#..", "####....#..", "..##....#..", "...........").Scaled(5))
	r, err := Rank(s.Space, low(), 2)
	require.NoError(t, err)
	require.Len(t, r.Vents, 3)
	assert.InEpsilon(t, 5*5*10*(11+20+6+2), r.Bare, 0.01, "without a way out all of it stays in")
	for i, left := range []float64{6 + 2, 2, 0} {
		assert.InDelta(t, left*5*5*10, r.Vents[i].Left, 1, "after vent %d", i+1)
	}
	for i, spares := range []float64{11 + 20, 6, 2} {
		assert.InDelta(t, spares*5*5*10, r.Vents[i].Spares, 1, "vent %d", i+1)
	}
	own, err := Rank(s.Space, low(r.Vents[1].Vent), 2)
	require.NoError(t, err)
	assert.Equal(t, r, own, "what the design has already is left aside")
}

// What the ranking says is left, the layout finds.
func TestARankingSaysWhatTheLayoutFinds(t *testing.T) {
	s := space(t, horns())
	for _, feed := range []practice.Feed{practice.FeedLow, practice.FeedTop} {
		c := low()
		c.Feed = feed
		r, err := Rank(s.Space, c, 2)
		require.NoError(t, err)
		last := r.Bare
		for i := range r.Vents {
			c.Vents = append(c.Vents, r.Vents[i].Vent)
			assert.InDelta(t, r.Vents[i].Left, s.lay(t, c).Trapped().Volume, 1e-6)
			assert.Less(t, r.Vents[i].Left, last)
			last = r.Vents[i].Left
		}
	}
}

// What a vent spares opens to its sum, and the scars are what was cut off.
func TestWhatAVentSparesAndLeaves(t *testing.T) {
	s := space(t, horns())
	ranking, err := Rank(s.Space, low(), 2)
	require.NoError(t, err)
	require.NotEmpty(t, ranking.Vents)
	left := ranking.Bare
	for _, v := range ranking.Vents {
		told := v.Told()
		assert.InDelta(t, told.Inputs[0].Value-told.Inputs[1].Value, told.Value, 1e-9)
		assert.InDelta(t, left/1000, told.Inputs[0].Value, 1e-6, "what those before it leave")
		left = v.Left
	}
	l := s.lay(t, low(ranking.Vents[0].Vent))
	gate := of(l, channel.Gate)[0].Bore
	assert.InDelta(t, math.Pi/4*(gate*gate+2*2)/100, l.Scar().Value, 1e-9, "the gate's mouth and the vent's")
}

func BenchmarkRank(b *testing.B) {
	s := space(b, meshtest.Blocks(2, ".#.#.#.#.#.", ".#.#.#.#.#.", "...........").Scaled(5))
	for b.Loop() {
		if _, err := Rank(s.Space, low(), 2); err != nil {
			b.Fatal(err)
		}
	}
}
