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

// Every limit of the judgement, from both sides.
func TestTheLimitsOfStripping(t *testing.T) {
	// 300 % and a factor of 4: 75 %. Sheared, an undercut as deep as 0.75 of its wall.
	r := Rubber{Shore: 30, Elongation: 300, Source: "a sheet"}
	sheared := func(depth, opening, volume float64) Undercut {
		return Undercut{Depth: depth, Wall: 10, Reach: 1, Opening: opening, Volume: volume}
	}
	for _, c := range []struct {
		name  string
		u     Undercut
		pulls int
		want  Answer
	}{
		{"at the limit", sheared(7.5, 400, 900), 20, Strips},
		{"over it", sheared(7.6, 400, 900), 20, Slit},
		{"twice the limit", sheared(15, 400, 900), 20, Slit},
		{"over twice", sheared(15.1, 400, 900), 20, SidePiece},
		{"a peg: deeper than 1.2 of its mouth", sheared(12.1, 100, 900), 20, SidePiece},
		{"no peg yet", sheared(12, 100, 900), 20, Slit},
		{"small enough to fill", sheared(40, 2000, 60), 20, Fill},
		{"too large to fill", sheared(40, 2000, 61), 20, SidePiece},
		{"a pull or two allow twice as much", sheared(15, 400, 900), 2, Strips},
		{"a third pull does not", sheared(15, 400, 900), 3, Slit},
	} {
		assert.Equal(t, c.want, Judge(c.u, r, c.pulls).Answer, c.name)
	}
	allowed := func(u Undercut, pulls int) float64 { return Judge(u, r, pulls).Allowed.Value }
	assert.InDelta(t, 75, allowed(sheared(5, 400, 900), 20), 1e-9)
	assert.InDelta(t, 150, allowed(sheared(5, 400, 900), 2), 1e-9)
	assert.InDelta(t, 50, allowed(sheared(10, 49.9, 900), 2), 1e-9, "notched: a mouth of less than half its depth squared")
	assert.InDelta(t, 75, allowed(sheared(10, 50, 900), 20), 1e-9)
}

// The easier of two ways to give is taken: a thin wall is pulled away, a thick
// one shears.
func TestAWallGivesTheEasierWay(t *testing.T) {
	r := Rubber{Elongation: 300}
	bent := Judge(Undercut{Depth: 4, Wall: 6, Reach: 40, Opening: 200, Volume: 900}, r, 20)
	assert.InEpsilon(t, 100*6*4/1600.0, bent.Strain.Value, 1e-12)
	assert.Contains(t, bent.Strain.Formula, "arc")
	sheared := Judge(Undercut{Depth: 4, Wall: 20, Reach: 8, Opening: 200, Volume: 900}, r, 20)
	assert.InEpsilon(t, 100*4/20.0, sheared.Strain.Value, 1e-12)
	assert.Contains(t, sheared.Strain.Formula, "sheared")
	// the thickest wall that still strips, fed back in, just does
	v := Judge(Undercut{Depth: 9, Wall: 12, Reach: 14, Opening: 600, Volume: 4000}, r, 20)
	again := Judge(Undercut{Depth: 9, Wall: 0.999 * v.Wall, Reach: 14, Opening: 600, Volume: 4000}, r, 20)
	assert.Equal(t, Strips, again.Answer)
}
