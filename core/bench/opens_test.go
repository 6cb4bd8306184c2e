package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A sprue under a part lies in the parting where that stands upright; where it
// lies level the run is a tunnel in the lower half, unless the block is cut
// open or fed from the top.
func TestASprueOffThePartingHoldsAHalfFast(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 30}))
	for name, c := range map[string]struct {
		kind design.Kind
		draw axis.Axis
		feed practice.Feed
		told bool
	}{
		"upright parting": {design.Clay, axis.PlusY, practice.FeedLow, false},
		"level parting":   {design.Clay, axis.PlusZ, practice.FeedLow, true},
		"from the top":    {design.Clay, axis.PlusZ, practice.FeedTop, false},
		"cut open":        {design.Cut, axis.PlusZ, practice.FeedLow, false},
		"on a board":      {design.Board, axis.PlusZ, practice.FeedLow, true},
	} {
		q := asked(t, m)
		q.Kind = c.kind
		d := &q.Design
		d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Feed = c.draw, c.draw, c.draw.Opposite(), axis.PlusZ, c.feed
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		told := false
		for _, f := range s.Findings {
			if f.Code == "sprue-off-parting" {
				told = true
				require.NotEmpty(t, f.Remedies, name)
				assert.Equal(t, finding.FeedTop, f.Remedies[0].Action)
				assert.Positive(t, f.Remedies[0].Value)
			}
		}
		assert.Equal(t, c.told, told, name)
	}
}
