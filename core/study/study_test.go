package study_test

import (
	"testing"

	"bathyform/core/finding"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/study"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	house  = practice.Usual()
	rubber = mix.Material{Name: "tin", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.18}
	resin  = mix.Material{Name: "urethane", Ratio: mix.Ratio{A: 1, B: 1, ByVolume: true}, Density: 1.08, DensityA: 1.1, DensityB: 1.06}
)

func demo(t testing.TB, key string) *study.Prepared {
	t.Helper()
	p, ok := parts.ByKey(key)
	require.True(t, ok)
	m, r, err := mesh.Load(p.Mesh().WriteSTL(), 1)
	require.NoError(t, err)
	return study.Prepare(part.Master{Name: p.Name, Mesh: m, Report: r})
}

func of(findings []finding.Finding, stage finding.Stage, severity finding.Severity) (out []finding.Finding) {
	for _, f := range findings {
		if f.Stage == stage && f.Severity == severity {
			out = append(out, f)
		}
	}
	return out
}

func TestDeckCleatFromMeshToShot(t *testing.T) {
	p := demo(t, "deck-cleat")
	d, err := p.Start(house)
	require.NoError(t, err)
	d.Gates.Vents = nil
	bare, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, house)
	require.NoError(t, err)
	require.NotEmpty(t, of(bare.Findings, finding.Gates, finding.Stop), "no vents: all the air stays in")
	assert.InEpsilon(t, p.Master.Volume(), bare.Gates.Trapped.Volume, 1e-6)

	d.Gates.Vents, err = p.ProposeVents(d)
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(d.Gates.Vents), 2, "two horns")
	s, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, house)
	require.NoError(t, err)
	assert.Empty(t, of(s.Findings, finding.Gates, finding.Stop))

	left, right := false, false
	for _, v := range d.Gates.Vents {
		left = left || v.At.X < -35 && v.At.Z > 38
		right = right || v.At.X > 35 && v.At.Z > 38
	}
	assert.True(t, left && right, "one on each horn: %v", d.Gates.Vents)

	// the sums hold together
	assert.InEpsilon(t, s.Mould.BoxVolume.Value, s.Mould.PartVolume.Value+s.Mould.Halves[0].Volume.Value+s.Mould.Halves[1].Volume.Value, 1e-9)
	for i, b := range s.Rubber {
		assert.InEpsilon(t, s.Mould.Halves[i].Volume.Value*1.05*1.18, b.A.Value+b.B.Value, 1e-9)
		assert.InEpsilon(t, 10*b.B.Value, b.A.Value, 1e-9)
	}
	last := s.Resin.Curve.Volume[len(s.Resin.Curve.Volume)-1] / 1000
	assert.InEpsilon(t, s.Shot.Total.Value/1.08, last, 1e-6, "the curve ends at the shot less its allowance of 8 per cent")
	for i, pour := range s.Pours {
		assert.InEpsilon(t, s.Mould.Halves[i].Volume.Value*1000, pour.Curve.Volume[len(pour.Curve.Volume)-1], 1e-3, "the box of half %d is full at its top", i)
	}
	assert.InEpsilon(t, 1, s.Shot.Batch.VolumeA.Value/s.Shot.Batch.VolumeB.Value, 1e-9)
	for i := 1; i < len(s.Resin.Curve.Volume); i++ {
		assert.GreaterOrEqual(t, s.Resin.Curve.Volume[i], s.Resin.Curve.Volume[i-1])
	}
}

func TestTakingAwayAVentShowsItsPocketAtItsPlace(t *testing.T) {
	p := demo(t, "deck-cleat")
	d, err := p.Start(house)
	require.NoError(t, err)
	d.Gates.Vents, err = p.ProposeVents(d)
	require.NoError(t, err)
	gone := d.Gates.Vents[0].At
	d.Gates.Vents = d.Gates.Vents[1:]
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	stops := of(s.Findings, finding.Gates, finding.Stop)
	require.Len(t, stops, 1)
	assert.InDelta(t, gone.X, stops[0].Where.X, 3)
	require.NotEmpty(t, stops[0].Remedies)
	assert.Equal(t, finding.AddVent, stops[0].Remedies[0].Action)
	assert.NotEmpty(t, s.Resin.Air)
	// carrying out the remedy clears the finding
	v := d.Gates.Vents[0]
	v.At = *stops[0].Remedies[0].At
	d.Gates.Vents = append(d.Gates.Vents, v)
	s, err = p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	assert.Empty(t, of(s.Findings, finding.Gates, finding.Stop))
}

func TestEveryDemoPartCanBeVented(t *testing.T) {
	for _, demoPart := range parts.All() {
		t.Run(demoPart.Key, func(t *testing.T) {
			p := demo(t, demoPart.Key)
			d, err := p.Start(house)
			require.NoError(t, err)
			d.Gates.Vents, err = p.ProposeVents(d)
			require.NoError(t, err)
			s, err := p.Work(d, study.Given{}, house)
			require.NoError(t, err)
			assert.Empty(t, of(s.Findings, finding.Gates, finding.Stop))
			t.Logf("draw %s, parting %.1f, %d vents", d.Mould.Draw, s.Mould.Parting, len(d.Gates.Vents))
			for _, f := range s.Findings {
				t.Logf("%s %s: %s", f.Severity, f.Stage, f.What)
			}
		})
	}
}

func TestDrogueHubSaysThatItsSocketsLock(t *testing.T) {
	p := demo(t, "drogue-hub")
	d, err := p.Start(house)
	require.NoError(t, err)
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	locked := append(of(s.Findings, finding.Mould, finding.Watch), of(s.Findings, finding.Mould, finding.Stop)...)
	require.NotEmpty(t, locked)
	assert.Contains(t, locked[0].What, "reaches under the part")
}

func TestRubberPoursWithTheirOwnWaysUp(t *testing.T) {
	p := demo(t, "collar-half")
	for _, ways := range [][2]part.Axis{{"+z", "-z"}, {"+x", "+x"}, {"+y", "-y"}, {"+y", "+y"}} {
		d, err := p.Start(house)
		require.NoError(t, err)
		d.Mould.Draw = "+z"
		d.Mould.Attitudes.RubberA, d.Mould.Attitudes.RubberB = ways[0], ways[1]
		s, err := p.Work(d, study.Given{}, house)
		require.NoError(t, err)
		for i, pour := range s.Pours {
			assert.Equal(t, ways[i], pour.Up)
			last := -1.0
			for k, v := range pour.Curve.Volume {
				assert.GreaterOrEqual(t, v, last-1e-6*s.Mould.Halves[i].Volume.Value*1000, "%v half %d step %d", ways, i, k)
				last = v
			}
			assert.InEpsilon(t, s.Mould.Halves[i].Volume.Value*1000, last, 0.01, "%v half %d", ways, i)
		}
	}
}

func TestMeasuredMasterGoesThroughToTheShot(t *testing.T) {
	p := study.Prepare(part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 30, Volume: 50, How: "displaced water"}})
	for _, feed := range []practice.Feed{practice.FeedLow, practice.FeedTop} {
		h := house
		h.Feed = feed
		d, err := p.Start(h)
		require.NoError(t, err)
		s, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, h)
		require.NoError(t, err)
		assert.Greater(t, s.Shot.Total.Value, 50.0)
		assert.NotNil(t, s.Rubber[0])
		assert.Contains(t, of(s.Findings, finding.Gates, finding.Watch)[0].What, "shape is not known")
		vents, err := p.ProposeVents(d)
		require.NoError(t, err)
		assert.Empty(t, vents)
	}
}

func BenchmarkMovedVentToWholeStudy(b *testing.B) {
	p := demo(b, "sensor-guard")
	d, err := p.Start(house)
	require.NoError(b, err)
	d.Gates.Vents, err = p.ProposeVents(d)
	require.NoError(b, err)
	for b.Loop() {
		if _, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, house); err != nil {
			b.Fatal(err)
		}
	}
}
