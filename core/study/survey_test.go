package study_test

import (
	"testing"

	"bathyform/core/finding"
	"bathyform/core/inhibit"
	"bathyform/core/kind"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/strip"
	"bathyform/core/study"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var platinum20 = mix.Material{Name: "Platinum 20 A", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1, Traits: mix.Traits{Family: "platinum", Shore: 20, Elongation: 400, Demould: 240}}
var urethane3 = mix.Material{Name: "Rigid urethane", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.05, Traits: mix.Traits{Viscosity: 0.1, PotLife: 3, MinSection: 1.5, MaxSection: 15}}

func surveyed(t *testing.T, key string, draw r3.Vec, brief study.Brief) (study.Survey, []finding.Finding) {
	t.Helper()
	p := demo(t, key)
	q := study.Question{Draw: draw, Rubber: &platinum20, Resin: &urethane3, Brief: brief, Wanted: 40}
	h := practice.Usual()
	s, err := p.Survey(q, h)
	require.NoError(t, err)
	return s, p.SurveyFindings(s, q, h)
}

func says(found []finding.Finding, severity finding.Severity, words string) bool {
	f := saying(found, words)
	return f != nil && f.Severity == severity
}

// Each demo part shows its own difficulty.
func TestEveryDemoPartShowsItsDifficulty(t *testing.T) {
	z := r3.Vec{Z: 1}
	hub, found := surveyed(t, "drogue-hub", z, study.Brief{})
	sockets := 0
	for _, u := range hub.Undercuts {
		if u.Verdict.Answer == strip.SidePiece {
			sockets++
		}
	}
	assert.Equal(t, 6, sockets, "six sockets lock the rubber")
	assert.True(t, says(found, finding.Stop, "6 undercuts"))
	assert.Equal(t, kind.Pieces, hub.Kinds.Entries[0].Kind)

	guard, found := surveyed(t, "sensor-guard", z, study.Brief{})
	assert.Less(t, guard.Thickness.Thinnest.Thickness, 5.0, "thin legs")
	_ = found

	bulb, found := surveyed(t, "ballast-bulb", z, study.Brief{})
	assert.InEpsilon(t, 44, bulb.Thickness.Thickest.Thickness, 0.08, "as thick as its ball")
	assert.True(t, says(found, finding.Watch, "Thicker than Rigid urethane"))

	bezel, _ := surveyed(t, "instrument-bezel", z, study.Brief{})
	assert.Equal(t, kind.Squeeze, bezel.Kinds.Entries[0].Kind)
	assert.Less(t, bezel.Thickness.Median, 4.0)

	cleat, _ := surveyed(t, "deck-cleat", r3.Vec{Y: 1}, study.Brief{})
	for _, u := range cleat.Undercuts {
		assert.NotEqual(t, strip.SidePiece, u.Verdict.Answer, "drawn across its horns nothing holds it")
	}
}

func TestWhatTheCasterSaysIsHeldAgainstTheMesh(t *testing.T) {
	_, found := surveyed(t, "ballast-bulb", r3.Vec{X: 1}, study.Brief{Surface: inhibit.PrintResin, Check: &part.Check{Kind: "length", Value: 140}})
	assert.True(t, says(found, finding.Stop, "do not agree"))
	assert.True(t, says(found, finding.Stop, "stays uncured on a resin print"))

	p := demo(t, "ballast-bulb")
	q := study.Question{Draw: r3.Vec{X: 1}, Rubber: &platinum20, Brief: study.Brief{Surface: inhibit.PrintResin}, Wanted: 12, Tested: true}
	s, err := p.Survey(q, practice.Usual())
	require.NoError(t, err)
	assert.False(t, says(p.SurveyFindings(s, q, practice.Usual()), finding.Stop, "stays uncured"), "a test that cured clears it")
}

func TestSizeAgainstTheShop(t *testing.T) {
	p := demo(t, "ballast-bulb")
	h := practice.Usual()
	h.PotWide, h.PotTall, h.ScaleMost = 60, 50, 20
	q := study.Question{Draw: r3.Vec{Z: 1}, Resin: &urethane3, Wanted: 12}
	s, err := p.Survey(q, h)
	require.NoError(t, err)
	found := p.SurveyFindings(s, q, h)
	assert.True(t, says(found, finding.Watch, "does not fit the pressure pot"))
	assert.True(t, says(found, finding.Watch, "taller than the pressure pot"))
	assert.True(t, says(found, finding.Watch, "weighs more than the shop's scale"))
}

// A demo part looked over for the first time.
func BenchmarkSurvey(b *testing.B) {
	demo, _ := parts.ByKey("deck-cleat")
	m, r, err := mesh.Load(demo.Mesh().WriteSTL(), 1)
	require.NoError(b, err)
	for b.Loop() {
		p := study.Prepare(partOf(m, r))
		if _, err := p.Survey(study.Question{Draw: r3.Vec{Y: 1}, Rubber: &platinum20, Resin: &urethane3, Wanted: 40}, practice.Usual()); err != nil {
			b.Fatal(err)
		}
	}
}

func partOf(m *mesh.Mesh, r mesh.Report) part.Master { return part.Master{Mesh: m, Report: r} }

func TestTheFiguresOfASurveyAreItsOwn(t *testing.T) {
	s, _ := surveyed(t, "drogue-hub", r3.Vec{Z: 1}, study.Brief{})
	f := s.Figures
	assert.InEpsilon(t, s.Draw.Volume/1000, f.Locked.Value, 1e-12)
	var spaces float64
	for _, in := range f.Locked.Inputs {
		if in.Name == "space" {
			spaces += in.Value
		}
	}
	assert.InEpsilon(t, f.Locked.Value, spaces, 1e-9, "the sum names every socket")
	assert.Equal(t, s.Thickness.Thinnest.Thickness, f.Thinnest.Value)
	assert.Equal(t, s.Thickness.Median, f.Median.Value)
	assert.LessOrEqual(t, f.Thinnest.Value, f.Median.Value)
	assert.LessOrEqual(t, f.Median.Value, f.Thickest.Value)
	assert.InEpsilon(t, s.Draw.Faces.Up/100, f.DrawnUp.Value, 1e-12)
	assert.InEpsilon(t, f.DrawnUp.Value, f.DrawnDown.Value, 0.05, "above and below the hub is alike")
	for _, n := range []string{f.Seam.Formula, f.SeamOff.Formula, f.Steep.Formula, f.Thinnest.Formula, f.LockedFor.Formula} {
		assert.NotEmpty(t, n)
	}
	for _, u := range s.Undercuts {
		assert.Contains(t, u.Verdict.Allowed.Inputs[0].Source, "data sheet of Platinum 20 A", "where the elongation comes from")
	}
}
