package strip

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Worked figures of the bending and shear formulas: a skirt 10 thick and 30
// long pulled away by 3 is strained by 3.333 %; 300 % elongation and a factor
// of 4 allow 75 %.
func TestStrainAgainstWorkedFigures(t *testing.T) {
	soft := Rubber{Shore: 30, Elongation: 300}
	v := Judge(Undercut{Depth: 3, Wall: 10, Reach: 30, Opening: 100, Volume: 500}, soft, 20)
	assert.InEpsilon(t, 3.333, v.Strain.Value, 2e-4)
	assert.InEpsilon(t, 75, v.Allowed.Value, 1e-9)
	assert.Equal(t, Strips, v.Answer)
}

func TestAnswersInSteps(t *testing.T) {
	soft := Rubber{Shore: 20, Elongation: 400}
	firm := Rubber{Shore: 40, Elongation: 200}
	for _, c := range []struct {
		name   string
		u      Undercut
		rubber Rubber
		pulls  int
		want   Answer
	}{
		{"a shallow groove", Undercut{Depth: 1, Wall: 12, Reach: 10, Opening: 80, Volume: 200}, soft, 30, Strips},
		{"a deep groove in soft rubber", Undercut{Depth: 9, Wall: 12, Reach: 12, Opening: 600, Volume: 4000}, soft, 30, Strips},
		{"the same in firm rubber", Undercut{Depth: 9, Wall: 12, Reach: 12, Opening: 600, Volume: 4000}, firm, 30, Slit},
		{"a socket", Undercut{Depth: 18, Wall: 12, Reach: 9, Opening: 78, Volume: 1400}, firm, 30, SidePiece},
		{"a pinhole", Undercut{Depth: 12, Wall: 12, Reach: 9, Opening: 3, Volume: 30}, firm, 30, Fill},
		{"a socket, once only", Undercut{Depth: 18, Wall: 12, Reach: 9, Opening: 400, Volume: 1400}, soft, 1, Strips},
	} {
		assert.Equal(t, c.want, Judge(c.u, c.rubber, c.pulls).Answer, c.name)
	}
}

func TestDeeperIsNeverEasier(t *testing.T) {
	order := map[Answer]int{Strips: 0, Slit: 1, SidePiece: 2, Fill: 2}
	last := 0
	for depth := 0.0; depth < 40; depth += 0.5 {
		v := Judge(Undercut{Depth: depth, Wall: 12, Reach: 15, Opening: 1000, Volume: 5000}, Rubber{Elongation: 300}, 20)
		assert.GreaterOrEqual(t, order[v.Answer], last)
		last = order[v.Answer]
		if depth == 0 {
			assert.Zero(t, v.Strain.Value)
		}
	}
	assert.Equal(t, 2, last)
}
