package shot

import (
	"testing"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/gate"
	"bathyform/core/mix"
	"bathyform/core/prep"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func fills(kind channel.Kind, volume float64) gate.Channel {
	return gate.Channel{Body: channel.Body{Kind: kind, Cavity: channel.Shared}, Volume: mL(volume), Fills: true}
}

func mL(v float64) derive.Number { return derive.Of(quantity.Volume, v, "given") }

var layout = gate.Layout{Channels: []gate.Channel{
	fills(channel.Sprue, 3), fills(channel.Well, 4),
	fills(channel.Vent, 0.2), fills(channel.Vent, 0.3),
}}

var resin = mix.Material{Name: "test", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.08}

func TestShotIsTheSumOfItsLines(t *testing.T) {
	p, err := Make(Ask{Part: mL(50), Gates: layout, Cavities: 1, Over: 10, Resin: &resin})
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
	assert.Equal(t, []string{"Cavity", "Well", "Sprue", "Vents", "Cup, flash and margin"}, names)

	six, err := Make(Ask{Part: mL(50), Gates: layout, Cavities: 6, Over: 10, Resin: &resin})
	require.NoError(t, err)
	assert.InEpsilon(t, 1.1*(6*50+7.5), six.Total.Value, 1e-12, "the channels are those of the whole gang")
	assert.Len(t, six.Lines, len(p.Lines)+1)
	plugged := gate.Layout{Channels: append([]gate.Channel(nil), layout.Channels...)}
	plugged.Channels[3].Fills = false
	less, err := Make(Ask{Part: mL(50), Gates: plugged, Cavities: 1, Over: 0})
	require.NoError(t, err)
	assert.InEpsilon(t, 57.2, less.Total.Value, 1e-12, "no resin comes into a vent that is plugged beforehand")
	without, err := Make(Ask{Part: mL(50), Gates: layout, Cavities: 1, Over: 0, Resin: nil})
	require.NoError(t, err)
	assert.Nil(t, without.Batch)
	assert.InEpsilon(t, 57.5, without.Total.Value, 1e-12)
	_, err = Make(Ask{Part: mL(50), Gates: layout, Cavities: 1, Over: -1, Resin: nil})
	assert.ErrorContains(t, err, "allowance")
}

func TestWhatIsLaidInTakesResinsPlace(t *testing.T) {
	inserts := []design.Insert{{Kind: prep.Core, Volume: 5}, {Kind: prep.Hole, Volume: 3}, {Kind: prep.Magnet, Volume: 1, Note: "north up"}}
	laid := LaidIn(inserts)
	require.Len(t, laid, 2, "a hole is in the mesh already")
	assert.Equal(t, "magnet (north up)", laid[1].Name)
	p, err := Make(Ask{Part: mL(50), LaidIn: laid, Gates: layout, Cavities: 2, Over: 10})
	require.NoError(t, err)
	assert.InEpsilon(t, 2*44, p.Cavity.Value, 1e-12)
	assert.InEpsilon(t, 7.5, p.Channels.Value, 1e-12)
	assert.InEpsilon(t, 0.1*(88+7.5), p.Margin.Value, 1e-12)
	assert.InEpsilon(t, 1.1*(88+7.5), p.Total.Value, 1e-12)
	sum := 0.0
	for _, l := range p.Lines {
		sum += l.Volume.Value
	}
	assert.InEpsilon(t, p.Total.Value, sum, 1e-12, "the lines make up the shot")
	_, err = Make(Ask{Part: mL(6), LaidIn: laid, Cavities: 1})
	assert.ErrorContains(t, err, "as large as the cavity")
}

// Powder is what was brushed in less what came back out; pigments are scaled
// to the batch that is mixed, and to the order.
func TestPowderAndColourOfAShot(t *testing.T) {
	resin := mix.Material{Name: "fast", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.08}
	p, err := Make(Ask{Part: mL(50), Gates: layout, Cavities: 1, Resin: &resin, Pulls: 20, ScaleStep: 0.1,
		Powder: &design.Powder{Name: "bronze", Dusted: 6, Back: 4.5},
		Colour: &mix.Recipe{Batch: 100, Pigments: []mix.Pigment{{Name: "umber", Grams: 2}}}})
	require.NoError(t, err)
	assert.InDelta(t, 1.5, p.Powder.Stays.Value, 1e-12)
	assert.InDelta(t, 30, p.Powder.Order.Value, 1e-12)
	assert.InEpsilon(t, 0.02*p.Batch.Mass.Value, p.Doses[0].Amount.Value, 1e-12)
	assert.InEpsilon(t, 0.4*p.Batch.Mass.Value, p.Doses[0].Order.Value, 1e-12)

	unweighed, err := Make(Ask{Part: mL(50), Gates: layout, Cavities: 1, Powder: &design.Powder{Name: "bronze"},
		Colour: &mix.Recipe{Batch: 100, Pigments: []mix.Pigment{{Name: "umber", Grams: 2}}}})
	require.NoError(t, err)
	assert.Nil(t, unweighed.Powder, "nobody has weighed it yet")
	assert.Empty(t, unweighed.Doses, "there is no batch without a resin")
	assert.ErrorContains(t, design.Powder{Name: "bronze", Dusted: 2, Back: 3}.Check(), "poured back")
	assert.ErrorContains(t, design.Powder{Dusted: 2}.Check(), "what the powder is")
}

func TestASqueezeMouldHasItsBlindChannelAndNoSprue(t *testing.T) {
	p, err := Make(Ask{Part: mL(50), Gates: gate.Layout{Channels: []gate.Channel{fills(channel.Blind, 5)}}, Cavities: 1, Over: 0})
	require.NoError(t, err)
	assert.InEpsilon(t, 55, p.Total.Value, 1e-12)
	assert.Equal(t, "Blind channel", p.Lines[1].Name)
	open, err := Make(Ask{Part: mL(50), Cavities: 1})
	require.NoError(t, err)
	assert.InEpsilon(t, 50, open.Total.Value, 1e-12, "an open face takes its cavity and no more")
}
