package study_test

import (
	"math"
	"testing"

	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/study"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestWhatAMouldInPiecesTakes(t *testing.T) {
	p := demo(t, "drogue-hub")
	d, err := p.Start(practice.Usual())
	require.NoError(t, err)
	d.Mould.Draw = "+z"
	d.Mould.Parting = nil
	q := study.PieceQuestion{Design: d, Rubber: &platinum20, Wanted: 60}
	var stages []string
	plan, err := p.Pieces(t.Context(), q, func(s string) { stages = append(stages, s) })
	require.NoError(t, err)
	assert.Contains(t, stages, "looking for side pieces")
	assert.Less(t, plan.Error(), 0.003)

	batches, err := study.Batches(plan, q)
	require.NoError(t, err)
	var sum float64
	for i, b := range batches {
		require.NotNil(t, b.Batch)
		assert.InEpsilon(t, plan.Pieces[i].Volume/1000*(1+d.RubberOver/100)*1.1, b.Batch.Mass.Value, 1e-9, "volume with what stays in the bucket, times density")
		sum += b.Volume.Value
	}
	assert.InEpsilon(t, (plan.Volume-plan.Part)/1000, sum, 0.003)

	told := len(stages)
	_, err = p.Pieces(t.Context(), q, func(s string) { stages = append(stages, s) })
	require.NoError(t, err)
	assert.Len(t, stages, told, "what was divided is at hand")

	found := study.PieceFindings(plan, q)
	require.NotEmpty(t, found)
	last := found[len(found)-1]
	assert.Contains(t, last.What, "6 side pieces")
	assert.InDelta(t, 240.0/60+6*0.4, last.Figure.Value, 1e-9, "one more cure, and the work of six")

	q.HalvesOnly = true
	plan, err = p.Pieces(t.Context(), q, nil)
	require.NoError(t, err)
	stripped := saying(study.PieceFindings(plan, q), "until it is stripped off")
	require.NotNil(t, stripped)
	assert.Equal(t, finding.Watch, stripped.Severity)
}

func TestAGangSaysWhatEachCavityCosts(t *testing.T) {
	p := demo(t, "collar-half")
	h := practice.Usual()
	d, err := p.Start(h)
	require.NoError(t, err)
	g, err := p.Lay(d, gang.Ask{Count: 4, Gap: 8, Edge: 12})
	require.NoError(t, err)
	height := g.Shape.Height + d.Mould.Clearance.Below + d.Mould.Clearance.Above
	assert.InEpsilon(t, (g.Wide*g.Deep*height-4*p.Master.Volume())/1000, g.Rubber.Value, 1e-9)
	assert.InEpsilon(t, g.Rubber.Value/4, g.Each.Value, 1e-12)

	cases, err := p.CompareGangs(d, 8, 12, 30, &resin, h)
	require.NoError(t, err)
	require.Len(t, cases, 12)
	for i, c := range cases {
		assert.Equal(t, i+1, c.Count)
		assert.Equal(t, int(math.Ceil(30/float64(c.Count))), c.Pulls)
		assert.Equal(t, math.Hypot(c.Wide, c.Deep) <= h.PotWide, c.FitsPot)
	}
	assert.Less(t, cases[3].Each, cases[0].Each)
	assert.Greater(t, cases[0].Work.Value, cases[5].Work.Value, "one demoulding for many")

	quick := resin
	quick.Traits.PotLife = 3
	cases, err = p.CompareGangs(d, 8, 12, 30, &quick, h)
	require.NoError(t, err)
	assert.True(t, cases[2].InLife, "three cavities in three minutes")
	assert.False(t, cases[9].InLife, "ten cavities do not work with a three-minute resin")

	round, err := p.Lay(d, gang.Ask{Pot: 240, Gap: 8, Edge: 12})
	require.NoError(t, err)
	assert.Greater(t, len(round.Poses), 1)
	assert.InEpsilon(t, (math.Pi/4*round.Diameter*round.Diameter*height-float64(len(round.Poses))*p.Master.Volume())/1000, round.Rubber.Value, 1e-9)
}

func TestAMeasuredMasterHasNoPieces(t *testing.T) {
	p := study.Prepare(part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 30, Volume: 50, How: "displaced water"}})
	_, err := p.Pieces(t.Context(), study.PieceQuestion{}, nil)
	assert.ErrorIs(t, err, study.ErrNoShape)
	_, err = p.Lay(study.Design{}, gang.Ask{Count: 2})
	assert.ErrorIs(t, err, study.ErrNoShape)
}

func TestWhatIsSaidOfAMouldInPieces(t *testing.T) {
	at := r3.Vec{X: 1, Y: 2, Z: 3}
	sound := pieces.Plan{Volume: 1000, Part: 100, Pieces: []pieces.Piece{{Name: "Half A", Volume: 450}, {Name: "Half B", Volume: 450}}}
	assert.Empty(t, study.PieceFindings(sound, study.PieceQuestion{}), "two halves that come away need no word")
	assert.Zero(t, sound.Error())

	for says, change := range map[string]struct {
		with     func(*pieces.Plan)
		severity finding.Severity
	}{
		"Half A does not come away":                {func(p *pieces.Plan) { p.Pieces[0].Catches = 50 }, finding.Stop},
		"Half B holds the part until it is strip":  {func(p *pieces.Plan) { p.Pieces[1].Stripped = 20 }, finding.Watch},
		"No side piece frees this undercut":        {func(p *pieces.Plan) { p.Left = []r3.Vec{at} }, finding.Watch},
		"The parting climbs like a wall":           {func(p *pieces.Plan) { p.Steep = 80 }, finding.Watch},
		"1 side piece spares the rubber: 1 more p": {func(p *pieces.Plan) { p.Pieces = append([]pieces.Piece{{Name: "Side 1", Volume: 10}}, p.Pieces...) }, finding.Note},
	} {
		p := sound
		p.Pieces = append([]pieces.Piece(nil), sound.Pieces...)
		change.with(&p)
		found := study.PieceFindings(p, study.PieceQuestion{})
		require.Len(t, found, 1, says)
		assert.Contains(t, found[0].What, says)
		assert.Equal(t, change.severity, found[0].Severity, says)
		assert.Equal(t, finding.Mould, found[0].Stage)
		assert.NotEmpty(t, found[0].Why)
		assert.NotEmpty(t, found[0].Source)
	}
	gap := sound
	gap.Pieces = gap.Pieces[:1]
	assert.InDelta(t, 0.45, gap.Error(), 1e-12, "a piece is missing")
}
