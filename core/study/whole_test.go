package study_test

import (
	"math"
	"testing"

	"bathyform/core/gang"
	"bathyform/core/kind"
	"bathyform/core/outline"
	"bathyform/core/pieces"
	"bathyform/core/study"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// ring is a gang of bezels, one of them turned a third of the way round.
func ring(t *testing.T) (*study.Prepared, study.Design) {
	t.Helper()
	p := demo(t, "instrument-bezel")
	d := started(t, p)
	d.Gang = []gang.Pose{{}, {X: 100, Y: 20, Turn: 120}}
	return p, d
}

func TestTheMasterIsCarriedIntoEveryCavity(t *testing.T) {
	p, d := ring(t)
	maps, err := p.Carried(d)
	require.NoError(t, err)
	require.Len(t, maps, 2)
	for _, m := range maps {
		// an affine map that keeps lengths and hands: its determinant is one
		x, y, z := r3.Vec{X: m[0], Y: m[4], Z: m[8]}, r3.Vec{X: m[1], Y: m[5], Z: m[9]}, r3.Vec{X: m[2], Y: m[6], Z: m[10]}
		assert.InDelta(t, 1, r3.Dot(x, r3.Cross(y, z)), 1e-9)
		assert.InDelta(t, 1, r3.Norm(x), 1e-9)
	}
	assert.InDelta(t, 1, maps[0][0], 1e-9, "the first lies where the master does")
	assert.InDelta(t, 0, maps[0][3], 1e-9)
	none, err := p.Carried(started(t, p))
	require.NoError(t, err)
	assert.Empty(t, none)
}

func TestEveryCavityIsCutAtTheParting(t *testing.T) {
	p, d := ring(t)
	low, high := p.Master.Span(r3.Vec{Z: 1})
	one, err := p.SectionAt(started(t, p), (low+high)/2)
	require.NoError(t, err)
	two, err := p.SectionAt(d, (low+high)/2)
	require.NoError(t, err)
	assert.Len(t, two, 2*len(one), "twice the loops")
	area := func(loops [][]r3.Vec) (sum float64) {
		for _, l := range loops {
			flat := make([]outline.Point, len(l))
			for i, v := range l {
				flat[i] = outline.Point{v.X, v.Y}
			}
			sum += outline.Area(flat)
		}
		return sum
	}
	assert.InEpsilon(t, 2*area(one), area(two), 1e-6, "and twice the area")
	rings, err := p.Outlines(d)
	require.NoError(t, err)
	require.Len(t, rings, 2)
	assert.InEpsilon(t, outline.Area(rings[0]), outline.Area(rings[1]), 1e-9)
}

func TestSeamsAreComparedOnTheSamePart(t *testing.T) {
	p := demo(t, "deck-cleat")
	rows := map[pieces.Seam]study.PartingRow{}
	err := p.ComparePartings(t.Context(), study.BuildQuestion{Design: started(t, p), Wanted: 30, House: house}, func(_ string, r *study.PartingRow) {
		if r != nil {
			rows[r.Seam] = *r
		}
	})
	require.NoError(t, err)
	require.Len(t, rows, 3)
	flat, top := rows[pieces.Flattest], rows[pieces.TopEdge]
	assert.Less(t, flat.Plan.Off, top.Plan.Off, "the flattest is nearest to level")
	assert.Less(t, top.Plan.Open, flat.Plan.Open, "along an edge it hides")
	assert.Less(t, top.Finish.Value/top.Plan.Line, flat.Finish.Value/flat.Plan.Line, "and is trimmed sooner, millimetre for millimetre")
	for _, r := range rows {
		assert.False(t, math.IsNaN(r.Finish.Value))
	}
}

func TestTheBoxIsThatOfThePiecesWhateverItsForm(t *testing.T) {
	p, d := ring(t)
	d.Gang = nil
	for _, k := range []kind.Kind{kind.Clay, kind.Cut} {
		b := built(t, p, study.BuildQuestion{Design: d, Given: study.Given{Rubber: &rubber, Resin: &resin}, Kind: k, Wanted: 30})
		assert.InEpsilon(t, b.Box.Volume.Value*1000, b.Plan.Volume, 1e-4, "one box, reckoned twice")
		size := r3.Sub(b.Plan.Box.Max, b.Plan.Box.Min)
		assert.InDelta(t, b.Box.Wide, size.X, 1e-6)
		assert.InDelta(t, b.Box.Deep, size.Y, 1e-6)
		assert.InDelta(t, b.Box.Height.Value, size.Z, 1e-6)
	}
}

func TestMovingSomethingElseKeepsWhatWasDivided(t *testing.T) {
	p := demo(t, "ballast-bulb")
	d := started(t, p)
	ask := func(change func(*study.PieceQuestion)) int {
		q := study.PieceQuestion{Design: d, Wanted: 12}
		change(&q)
		stages := 0
		_, err := p.Pieces(t.Context(), q, func(string) { stages++ })
		require.NoError(t, err)
		return stages
	}
	assert.Positive(t, ask(func(*study.PieceQuestion) {}))
	assert.Zero(t, ask(func(q *study.PieceQuestion) { q.Design.ShotOver++ }), "the shot does not divide rubber")
	assert.Zero(t, ask(func(q *study.PieceQuestion) { q.Design.RubberOver++ }))
	assert.Positive(t, ask(func(q *study.PieceQuestion) { q.Design.Mould.Clearance.Beside += 5 }), "the clearance does")
	assert.Positive(t, ask(func(q *study.PieceQuestion) { q.Design.Keys.Kind = "pins" }))
	assert.Zero(t, ask(func(*study.PieceQuestion) {}), "and the first is still at hand")
}
