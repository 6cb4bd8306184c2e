package shot

import (
	"testing"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func mL(v float64) derive.Number { return derive.Of(quantity.Volume, v, "given") }

var layout = gate.Layout{Channels: []gate.Channel{
	{Kind: gate.Sprue, Volume: mL(3), Vent: -1}, {Kind: gate.WellKind, Volume: mL(4), Vent: -1},
	{Kind: gate.VentKind, Volume: mL(0.2), Vent: 0}, {Kind: gate.VentKind, Volume: mL(0.3), Vent: 1},
}}

var resin = mix.Material{Name: "test", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.08}

func TestShotIsTheSumOfItsLines(t *testing.T) {
	p, err := Make(mL(50), nil, layout, 1, 10, &resin)
	require.NoError(t, err)
	var sum float64
	for _, l := range p.Lines {
		sum += l.Volume.Value
	}
	assert.InEpsilon(t, 57.5*1.1, sum, 1e-12)
	assert.InEpsilon(t, sum, p.Total.Value, 1e-12)
	assert.InEpsilon(t, sum*1.08, p.Batch.Mass.Value, 1e-12)
	assert.InEpsilon(t, p.Batch.Mass.Value/2, p.Batch.A.Value, 1e-12)
	names := []string{}
	for _, l := range p.Lines {
		names = append(names, l.Name)
	}
	assert.Equal(t, []string{"Cavity", "Sprue", "Well", "Vents", "Cup, flash and margin"}, names)

	six, err := Make(mL(50), nil, layout, 6, 10, &resin)
	require.NoError(t, err)
	assert.InEpsilon(t, 6*p.Total.Value, six.Total.Value, 1e-12, "every cavity of a gang with channels of its own")
	assert.Len(t, six.Lines, len(p.Lines)+1)
	without, err := Make(mL(50), nil, layout, 1, 0, nil)
	require.NoError(t, err)
	assert.Nil(t, without.Batch)
	assert.InEpsilon(t, 57.5, without.Total.Value, 1e-12)
	_, err = Make(mL(50), nil, layout, 1, -1, nil)
	assert.ErrorContains(t, err, "allowance")
}

func TestScaleFindingNamesTheSmallestBatch(t *testing.T) {
	h := practice.Usual()
	h.ScaleStep, h.RatioTolerance = 1, 5
	batch := func(m mix.Material, g float64) mix.Batch {
		b, err := mix.Split(m, mL(g/m.Density))
		require.NoError(t, err)
		return b
	}
	f := CheckScale(finding.Shot, "the shot", resin, batch(resin, 40), h)
	require.NotNil(t, f)
	assert.Equal(t, finding.Watch, f.Severity)
	assert.InEpsilon(t, 82.0, f.Limit.Value, 1e-6)
	assert.Nil(t, CheckScale(finding.Shot, "the shot", resin, batch(resin, 82.5), h))

	ten := mix.Material{Name: "ten", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.1}
	f = CheckScale(finding.Rubber, "half A", ten, batch(ten, 10), h)
	require.NotNil(t, f)
	assert.Equal(t, finding.Stop, f.Severity)
	assert.Contains(t, f.What, "cannot show part B")
	h.ScaleStep = 0.01
	assert.Nil(t, CheckScale(finding.Rubber, "half A", ten, batch(ten, 20), h))
}

func TestWhatIsLaidInTakesResinAway(t *testing.T) {
	bolt := []derive.Input{derive.From("metal core", quantity.Volume, 6, "the brief")}
	p, err := Make(mL(50), bolt, layout, 1, 0, nil)
	require.NoError(t, err)
	assert.InEpsilon(t, 57.5-6, p.Total.Value, 1e-12)
	_, err = Make(mL(5), bolt, layout, 1, 0, nil)
	assert.ErrorContains(t, err, "as large as the cavity")
}
