package study_test

import (
	"math"
	"testing"

	"bathyform/core/box"
	"bathyform/core/build"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/hours"
	"bathyform/core/kind"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/study"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func built(t *testing.T, p *study.Prepared, q study.BuildQuestion) study.Built {
	t.Helper()
	q.House = house
	b, err := p.Build(t.Context(), q, nil)
	require.NoError(t, err)
	return b
}

func started(t *testing.T, p *study.Prepared) study.Design {
	t.Helper()
	d, err := p.Start(house)
	require.NoError(t, err)
	return d
}

// ready holds a build against what a bench needs of every kind.
func ready(t *testing.T, b study.Built) {
	t.Helper()
	require.NotEmpty(t, b.Pours)
	for _, p := range b.Pours {
		assert.Positive(t, p.Volume.Value, p.Name)
		assert.Greater(t, p.Mixed.Value, p.Volume.Value, "something stays in the bucket")
		assert.GreaterOrEqual(t, p.Mixes.Value, 1.0)
		require.NotNil(t, p.Batch, p.Name)
		assert.InEpsilon(t, p.Mixed.Value*rubber.Density, p.Batch.Mass.Value, 1e-9)
	}
	assert.GreaterOrEqual(t, len(b.Steps), 7)
	last := 0.0
	slots, err := b.Schedule(hours.Shop{Open: 540, Close: 1020, Days: [7]bool{true, true, true, true, true}}, 600, 0)
	require.NoError(t, err)
	require.Len(t, slots, len(b.Steps))
	for _, s := range slots {
		assert.GreaterOrEqual(t, s.From, last-1e-9, "one after the other")
		last = s.To
	}
	assert.Greater(t, last, 600.0)
	assert.GreaterOrEqual(t, len(b.Attitudes), 2)
	for _, a := range b.Attitudes {
		assert.NotEmpty(t, a.Areas, a.Name)
		assert.Less(t, a.Low[0], a.High[0])
		assert.NotEmpty(t, a.Arrow)
	}
	assert.Positive(t, b.Finish.Value)
	assert.Positive(t, b.Weight.Value)
	assert.Positive(t, b.Effort.Value)
	for _, f := range b.Findings {
		assert.NotEmpty(t, f.Why, f.What)
		assert.NotEmpty(t, f.Source, f.What)
	}
}

func TestEveryDemoPartCanBeBuiltInTwoKindsAtLeast(t *testing.T) {
	for _, p := range parts.All() {
		t.Run(p.Key, func(t *testing.T) {
			prepared := demo(t, p.Key)
			d := started(t, prepared)
			given := study.Given{Rubber: &rubber, Resin: &resin}
			clay := built(t, prepared, study.BuildQuestion{Design: d, Given: given, Kind: kind.Clay, Wanted: 60})
			cut := built(t, prepared, study.BuildQuestion{Design: d, Given: given, Kind: kind.Cut, Wanted: 60})
			ready(t, clay)
			ready(t, cut)
			assert.Len(t, clay.Pours, 2)
			assert.Len(t, cut.Pours, 1)
			assert.NotNil(t, clay.Clay)
			assert.InEpsilon(t, clay.Pours[1].Volume.Value, clay.Clay.Value, 1e-9, "the bed takes the second half's place")
			require.NotNil(t, cut.Cut)
			assert.Positive(t, cut.Cut.First)
			assert.Less(t, cut.Cut.First, cut.Cut.Nearest)
			assert.InEpsilon(t, clay.Pours[0].Volume.Value+clay.Pours[1].Volume.Value, cut.Pours[0].Volume.Value, 2e-3, "the same rubber in one pour")
			assert.Less(t, cut.Waits.Value, clay.Waits.Value, "one cure instead of two")
			boxed := cut.Box.Volume.Value
			assert.InEpsilon(t, boxed, cut.Pours[0].Volume.Value+prepared.Master.Volume()/1000, 4e-3, "rubber and part fill the box")
		})
	}
}

func TestKindsOfTheirOwnSort(t *testing.T) {
	given := study.Given{Rubber: &rubber, Resin: &resin}
	extra := func(b study.Built, name string) float64 {
		for _, e := range b.Extras {
			if e.Name == name {
				return e.Number.Value
			}
		}
		require.Fail(t, "nothing is said of it", "%s in %v", name, b.Extras)
		return 0
	}

	bezel := demo(t, "instrument-bezel")
	d := started(t, bezel)
	squeezed := built(t, bezel, study.BuildQuestion{Design: d, Given: given, Kind: kind.Squeeze, Wanted: 60})
	ready(t, squeezed)
	assert.Positive(t, extra(squeezed, "Land"))
	assert.Less(t, extra(squeezed, "Flash at gel, at the least"), 0.5)
	assert.Positive(t, extra(squeezed, "Blind channel, half round"))

	require.GreaterOrEqual(t, len(squeezed.Lay.Areas), 2)
	assert.Len(t, squeezed.Lay.Areas[1].Rings, 2, "seen along the draw a ring has one outline and one hole")
	open := built(t, bezel, study.BuildQuestion{Design: d, Given: given, Kind: kind.OpenFace, Wanted: 60})
	ready(t, open)
	assert.Less(t, open.Pours[0].Volume.Value, squeezed.Pours[0].Volume.Value+squeezed.Pours[1].Volume.Value, "nothing under the part")
	assert.Len(t, open.Attitudes, 2)

	assert.Nil(t, saying(open.Findings, "no flat back"), "a ring lies flat on its board")
	assert.Nil(t, saying(squeezed.Findings, "filled through a sprue"), "and is thin")

	bulb := demo(t, "ballast-bulb")
	d = started(t, bulb)
	round := built(t, bulb, study.BuildQuestion{Design: d, Given: given, Kind: kind.OpenFace, Wanted: 20})
	assert.NotNil(t, saying(round.Findings, "no flat back"))
	thick := built(t, bulb, study.BuildQuestion{Design: d, Given: given, Kind: kind.Squeeze, Wanted: 20})
	assert.NotNil(t, saying(thick.Findings, "filled through a sprue"))
	shelled := built(t, bulb, study.BuildQuestion{Design: d, Given: given, Kind: kind.Shell, Wanted: 200})
	ready(t, shelled)
	assert.InEpsilon(t, shelled.Blanket.Volume/1000, shelled.Clay.Value, 1e-9, "the clay's place is the rubber's place")
	assert.Positive(t, extra(shelled, "Pays from so many castings"))
	taped := built(t, bulb, study.BuildQuestion{Design: d, Given: given, Kind: kind.Tape, Wanted: 20})
	assert.Greater(t, extra(taped, "Tape for the fins"), taped.Plan.Line)
	assert.NotNil(t, saying(taped.Findings, "cannot be seen"))
	stretched := built(t, bulb, study.BuildQuestion{Design: d, Given: given, Kind: kind.Stretch, Wanted: 20})
	assert.NotNil(t, saying(stretched.Findings, "does not peel"))

	hub := demo(t, "drogue-hub")
	d = started(t, hub)
	two := built(t, hub, study.BuildQuestion{Design: d, Given: study.Given{Rubber: &platinum20, Resin: &resin}, Kind: kind.Clay, Wanted: 60})
	stop := saying(two.Findings, "cannot be stripped out of")
	require.NotNil(t, stop)
	assert.Equal(t, finding.Stop, stop.Severity)
	in := built(t, hub, study.BuildQuestion{Design: d, Given: study.Given{Rubber: &platinum20, Resin: &resin}, Kind: kind.Pieces, Wanted: 60})
	require.Len(t, in.Pours, 3, "sides, half A, half B")
	assert.Len(t, in.Pours[0].Pieces, 6)
	assert.Nil(t, saying(in.Findings, "cannot be stripped out of"))
	assert.Greater(t, in.Hands.Value, two.Hands.Value)

	_, err := hub.Build(t.Context(), study.BuildQuestion{Design: d, Kind: kind.Pressed, House: house}, nil)
	assert.ErrorIs(t, err, build.ErrKind)
}

func TestAGangOfSixCleatsIsSound(t *testing.T) {
	p := demo(t, "deck-cleat")
	d := started(t, p)
	given := study.Given{Rubber: &rubber, Resin: &resin}
	one := built(t, p, study.BuildQuestion{Design: d, Given: given, Kind: kind.Clay, Wanted: 240})
	g, err := p.Lay(d, gang.Ask{Count: 6, Gap: 8, Edge: d.Mould.Clearance.Beside})
	require.NoError(t, err)
	require.Equal(t, "row", g.Kind, "the cleat's parting stands upright: each keeps its way up")
	d.Gang = g.Poses
	six := built(t, p, study.BuildQuestion{Design: d, Given: given, Kind: kind.Clay, Wanted: 240})
	ready(t, six)
	assert.Equal(t, 6, six.Cavities)
	assert.InEpsilon(t, 6*p.Master.Volume(), six.Plan.Part, 1e-3)
	assert.Less(t, six.Plan.Error(), 0.005)
	for _, q := range six.Plan.Pieces {
		_, r, err := mesh.Load(q.Mesh.WriteSTL(), 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, q.Name)
		assert.Less(t, q.Catches, 50.0, q.Name)
	}
	assert.Less(t, six.Rubber.Value, 6*one.Rubber.Value, "a shared block spares rubber")
	assert.Less(t, six.Moulds.Value, one.Moulds.Value)
	s, err := p.Work(d, given, house)
	require.NoError(t, err)
	alone := d
	alone.Gang = nil
	w, err := p.Work(alone, given, house)
	require.NoError(t, err)
	assert.InEpsilon(t, 6*w.Shot.Total.Value, s.Shot.Total.Value, 1e-9)
	assert.NotNil(t, saying(six.Findings, "does not go into the pressure pot"))

	d.Gang[1] = d.Gang[0]
	_, err = p.Place(d, d.Gang, 8, 12)
	assert.ErrorContains(t, err, "lie over one another")
}

func TestBoxFormsSpareRubber(t *testing.T) {
	p := demo(t, "collar-half")
	d := started(t, p)
	volume := map[box.Form]float64{}
	for _, f := range []box.Form{box.Rectangle, box.Sleeve, box.Contour, box.Round} {
		d.Box.Form = f
		b, err := p.BoxOf(d, house)
		require.NoError(t, err)
		volume[f] = b.Volume.Value
		assert.InDelta(t, volume[box.Rectangle]-b.Volume.Value, b.Saved.Value, 1e-6)
		assert.NotEmpty(t, b.Panels, f)
	}
	assert.Less(t, volume[box.Contour], volume[box.Rectangle])
	d.Box = study.BoxChoice{Form: box.Own, Wide: 10, Deep: 10}
	_, err := p.BoxOf(d, house)
	assert.ErrorIs(t, err, box.ErrTooSmall)
	d.Box = study.BoxChoice{Form: box.Round}
	given := study.Given{Rubber: &rubber, Resin: &resin}
	round := built(t, p, study.BuildQuestion{Design: d, Given: given, Kind: kind.Clay, Wanted: 30})
	assert.InEpsilon(t, volume[box.Round], round.Plan.Volume/1000, 2e-3, "the pieces are cut to the pipe")
	assert.Less(t, round.Plan.Error(), 0.005)
	d.Mould.Attitudes.RubberA = "+x"
	if d.Mould.Draw == "+x" {
		d.Mould.Attitudes.RubberA = "+y"
	}
	_, err = p.BoxOf(d, house)
	assert.ErrorContains(t, err, "draw upwards")
}

func TestWhatABuildWarnsOf(t *testing.T) {
	p := demo(t, "ballast-bulb")
	d := started(t, p)
	soft := mix.Material{Name: "soft", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1, Traits: mix.Traits{Family: "platinum", Shore: 10, Elongation: 500, PotLife: 12, Demould: 240}}
	cold := house
	cold.Celsius = 15
	cold.Bucket = 400
	d.Mould.Clearance.Beside = 4
	b, err := p.Build(t.Context(), study.BuildQuestion{Design: d, Given: study.Given{Rubber: &soft, Resin: &resin}, Kind: kind.Clay, Wanted: 30, House: cold}, nil)
	require.NoError(t, err)
	for _, words := range []string{"too cold", "mixes", "pot life"} {
		assert.NotNil(t, saying(b.Findings, words), words)
	}
	bulging := saying(b.Findings, "bulges")
	require.NotNil(t, bulging, "a thin wall of soft rubber")
	require.NotEmpty(t, bulging.Remedies)
	assert.Greater(t, bulging.Remedies[0].Value, 4.0)
	warm := house
	warm.Celsius = 35
	hot, err := p.Build(t.Context(), study.BuildQuestion{Design: d, Given: study.Given{Rubber: &soft, Resin: &resin}, Kind: kind.Clay, Wanted: 30, House: warm}, nil)
	require.NoError(t, err)
	assert.InEpsilon(t, 4*(hot.Waits.Value*60-15)+15, b.Waits.Value*60, 1e-9, "twenty degrees colder cure four times as long")
}

func TestKindsAreComparedOneByOne(t *testing.T) {
	p := demo(t, "ballast-bulb")
	d := started(t, p)
	var rows []study.KindRow
	err := p.CompareKinds(t.Context(), study.BuildQuestion{Design: d, Given: study.Given{Rubber: &rubber}, Wanted: 12, House: house}, []kind.Kind{kind.Cut, kind.Clay, kind.Pressed}, func(stage string, r *study.KindRow) {
		if r != nil {
			rows = append(rows, *r)
		}
	})
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.NotNil(t, rows[0].Built)
	assert.Nil(t, rows[2].Built)
	assert.Contains(t, rows[2].Err, "press")
	measured := study.Prepare(part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 30, Volume: 50, How: "displaced water"}})
	_, err = measured.Build(t.Context(), study.BuildQuestion{Kind: kind.Clay, House: house}, nil)
	assert.ErrorIs(t, err, study.ErrNoShape)
}

func TestHowFarOutOfLevelAMouldMayStand(t *testing.T) {
	p := demo(t, "ballast-bulb")
	d := started(t, p)
	b := built(t, p, study.BuildQuestion{Design: d, Given: study.Given{Rubber: &rubber, Resin: &resin}, Kind: kind.Clay, Wanted: 12})
	require.NotNil(t, b.Tilt)
	assert.GreaterOrEqual(t, b.Tilt.Value, 0.0)
	assert.LessOrEqual(t, b.Tilt.Value, 12.0)
	assert.False(t, math.IsNaN(b.Tilt.Value))
}
