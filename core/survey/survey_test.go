package survey_test

import (
	"math"
	"strings"
	"testing"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/inhibit"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/strip"
	"bathyform/core/survey"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var platinum20 = mix.Material{
	Name:    "Platinum 20 A",
	Ratio:   mix.Ratio{A: 1, B: 1},
	Density: 1.1,
	Traits:  mix.Traits{Family: "platinum", Shore: 20, Elongation: 400, Demould: 240},
}

var urethane3 = mix.Material{
	Name:    "Rigid urethane",
	Ratio:   mix.Ratio{A: 1, B: 1},
	Density: 1.05,
	Traits:  mix.Traits{Viscosity: 0.1, PotLife: 3, MinSection: 1.5, MaxSection: 15},
}

func surveyed(t *testing.T, key string, draw r3.Vec, brief design.Brief) (survey.Survey, []finding.Finding) {
	t.Helper()
	p := demo(t, key)
	q := survey.Question{Master: p.Part, Draw: draw, Rubber: &platinum20, Resin: &urethane3, Brief: brief, Wanted: 40}
	h := practice.Usual()
	s, found, err := p.Survey(t.Context(), q, h)
	require.NoError(t, err)
	return s, found
}

func demo(t testing.TB, key string) *bench.Master {
	t.Helper()
	p, ok := parts.ByKey(key)
	require.True(t, ok)
	return taken(t, p.Mesh())
}

func taken(t testing.TB, m *mesh.Mesh) *bench.Master {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return bench.Take(part.Master{Mesh: m, Report: r})
}

func saying(findings []finding.Finding, words string) *finding.Finding {
	for _, f := range findings {
		if strings.Contains(f.What, words) {
			return &f
		}
	}
	return nil
}

func says(found []finding.Finding, severity finding.Severity, words string) bool {
	f := saying(found, words)
	return f != nil && f.Severity == severity
}

// Each demo part shows its own difficulty.
func TestEveryDemoPartShowsItsDifficulty(t *testing.T) {
	z := r3.Vec{Z: 1}
	hub, found := surveyed(t, "drogue-hub", z, design.Brief{})
	sockets := 0
	for _, u := range hub.Undercuts {
		if u.Verdict.Answer == strip.SidePiece {
			sockets++
		}
	}
	assert.Equal(t, 6, sockets, "six sockets lock the rubber")
	assert.True(t, says(found, finding.Stop, "6 undercuts"))

	guard, _ := surveyed(t, "sensor-guard", z, design.Brief{})
	assert.Less(t, guard.Thickness.Thinnest.Thickness, 5.0, "thin legs")

	bulb, found := surveyed(t, "ballast-bulb", z, design.Brief{})
	assert.InEpsilon(t, 44, bulb.Thickness.Thickest.Thickness, 0.08, "as thick as its ball")
	assert.True(t, says(found, finding.Watch, "Thicker than Rigid urethane"))

	bezel, _ := surveyed(t, "instrument-bezel", z, design.Brief{})
	assert.Less(t, bezel.Thickness.Median, 4.0)

	cleat, _ := surveyed(t, "deck-cleat", r3.Vec{Y: 1}, design.Brief{})
	threaded := 0
	for _, u := range cleat.Undercuts {
		if u.Verdict.Mode == strip.Threaded {
			threaded++
		} else {
			assert.Equal(t, strip.Strips, u.Verdict.Answer, "drawn across its horns nothing else holds it")
		}
	}
	assert.Equal(t, 2, threaded, "the rubber runs through both bolt holes")
}

func TestWhatTheCasterSaysIsHeldAgainstTheMesh(t *testing.T) {
	_, found := surveyed(
		t,
		"ballast-bulb",
		r3.Vec{X: 1},
		design.Brief{Surface: inhibit.PrintResin, Check: &part.Check{Kind: "length", Value: 140}},
	)
	assert.True(t, says(found, finding.Stop, "do not agree"))
	assert.True(t, says(found, finding.Stop, "stays uncured on a resin print"))

	p := demo(t, "ballast-bulb")
	q := survey.Question{
		Master: p.Part,
		Draw:   r3.Vec{X: 1},
		Rubber: &platinum20,
		Brief:  design.Brief{Surface: inhibit.PrintResin},
		Wanted: 12,
		Tested: true,
	}
	_, found, err := p.Survey(t.Context(), q, practice.Usual())
	require.NoError(t, err)
	assert.False(t, says(found, finding.Stop, "stays uncured"), "a test that cured clears it")
}

func TestSizeAgainstTheShop(t *testing.T) {
	p := demo(t, "ballast-bulb")
	h := practice.Usual()
	h.ScaleMost = 20
	q := survey.Question{Master: p.Part, Draw: r3.Vec{Z: 1}, Resin: &urethane3, Wanted: 12}
	_, found, err := p.Survey(t.Context(), q, h)
	require.NoError(t, err)
	assert.True(t, says(found, finding.Watch, "weighs more than the shop's scale"))
}

// A flat back is what lies at the end of the draw, level.
func TestTheFlatBackOfAPart(t *testing.T) {
	plaque := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 6})
	down := r3.Vec{Z: -1}
	assert.InDelta(t, 1200, survey.FlatBack(plaque, down), 1)
	assert.InDelta(t, 1, survey.BackShare(plaque, 1200, down).Value, 0.01)
	ball := meshtest.Sphere(20, 64)
	assert.Less(t, survey.BackShare(ball, math.Pi*400, down).Value, 0.1, "a ball stands on a point")
}

// What the caster has said of an undercut goes before what is judged.
func TestUndercutsAreJudgedByTheRubber(t *testing.T) {
	m := demo(t, "drogue-hub")
	a, err := m.Draw(t.Context(), r3.Vec{Z: 1}, false)
	require.NoError(t, err)
	usual := survey.Judge(a, nil, 40)
	require.Len(t, usual, 6)
	locks := survey.Locks(usual, nil)
	require.Len(t, locks, 6)
	for _, l := range locks {
		assert.Equal(t, strip.SidePiece, l.Answer)
		assert.False(t, l.Said)
		assert.Positive(t, l.Volume)
	}
	said := survey.Locks(usual, []design.Side{{At: design.At(locks[0].At), Strip: true}})
	assert.True(t, said[0].Said)
	assert.False(t, said[1].Said)
	assert.Equal(t, 300.0, survey.Strength(nil).Elongation, "a usual rubber's, and it says so")
	assert.Contains(t, survey.Strength(nil).Source, "usual rubber")
	assert.Contains(t, survey.Strength(&platinum20).Source, "data sheet of Platinum 20 A")
}

// Whoever measures a master by hand hears what can be said without its shape.
func TestAMasterByMeasureIsLookedOverAsFarAsItGoes(t *testing.T) {
	m := bench.Take(part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 20, Volume: 30, How: "displaced water"}})
	q := survey.Question{
		Master: m.Part,
		Draw:   r3.Vec{Z: 1},
		Rubber: &platinum20,
		Resin:  &urethane3,
		Wanted: 1,
		Brief:  design.Brief{Surface: inhibit.PrintResin},
	}
	s, found, err := m.Survey(t.Context(), q, practice.Usual())
	require.NoError(t, err)
	assert.False(t, s.Known)
	assert.Empty(t, s.Undercuts)
	assert.NotEmpty(t, s.Prep)
	assert.NotEmpty(t, s.NotWorth, "one piece")
	assert.True(t, says(found, finding.Stop, "stays uncured"))
	for _, f := range found {
		assert.NotContains(t, f.What, "undercut")
		assert.NotContains(t, f.What, "thin")
	}
}

func TestTheFiguresOfASurveyAreItsOwn(t *testing.T) {
	s, _ := surveyed(t, "drogue-hub", r3.Vec{Z: 1}, design.Brief{})
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
	assert.InEpsilon(t, f.DrawnUp.Value, f.DrawnDown.Value, 0.1, "above and below the hub is alike")
	for _, n := range []string{f.Seam.Formula, f.SeamOff.Formula, f.Steep.Formula, f.Thinnest.Formula, f.LockedFor.Formula} {
		assert.NotEmpty(t, n)
	}
	for _, u := range s.Undercuts {
		assert.Contains(t, u.Verdict.Allowed.Inputs[0].Source, "data sheet of Platinum 20 A", "where the elongation comes from")
	}
}
