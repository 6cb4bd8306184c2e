package study_test

import (
	"strings"
	"testing"

	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/study"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func prepared(t *testing.T, m *mesh.Mesh) *study.Prepared {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return study.Prepare(part.Master{Name: "test", Mesh: m, Report: r})
}

var plate = meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 12})

// carry does what the page does at the press of a remedy.
func carry(t *testing.T, p *study.Prepared, d study.Design, r finding.Remedy) study.Design {
	t.Helper()
	d.Gates.Vents = append([]gate.Vent(nil), d.Gates.Vents...)
	switch r.Action {
	case finding.AddVent:
		d.Gates.Vents = append(d.Gates.Vents, gate.Vent{At: *r.At, Bore: d.VentBore})
	case finding.RemoveVent:
		i := int(r.Value)
		d.Gates.Vents = append(d.Gates.Vents[:i], d.Gates.Vents[i+1:]...)
	case finding.ProposeVents:
		var err error
		d.Gates.Vents, err = p.ProposeVents(d)
		require.NoError(t, err)
	case finding.SetParting:
		d.Mould.Parting = nil
	case finding.SetHeadroom:
		d.Mould.Clearance.Above = r.Value
	case finding.SetBeside:
		d.Mould.Clearance.Beside = r.Value
	case finding.SetWell:
		d.Gates.WellWidth = r.Value
	default:
		t.Fatalf("%s leads elsewhere", r.Action)
	}
	return d
}

func saying(findings []finding.Finding, words string) *finding.Finding {
	for _, f := range findings {
		if strings.Contains(f.What, words) {
			return &f
		}
	}
	return nil
}

// Every rule speaks when it should, is silent when it should not, and each of
// its remedies takes its reason away.
func TestEveryRemedyTakesItsReasonAway(t *testing.T) {
	off := 30.0
	cases := map[string]struct {
		change   func(*study.Design)
		says     string
		severity finding.Severity
		remedies int
	}{
		"thin wall":        {func(d *study.Design) { d.Mould.Clearance.Beside = 4 }, "of rubber stand beside the part", finding.Watch, 1},
		"deep well":        {func(d *study.Design) { d.Gates.WellDepth = 25 }, "less rubber over the part than the well is deep", finding.Watch, 1},
		"wide well":        {func(d *study.Design) { d.Mould.Clearance.Beside = 18 }, "well does not fit", finding.Watch, 2},
		"parting misses":   {func(d *study.Design) { d.Mould.Parting = &off }, "misses the part", finding.Watch, 1},
		"no vents":         {func(d *study.Design) { d.Gates.Vents = nil }, "There is no vent", finding.Stop, 1},
		"vent beside part": {func(d *study.Design) { d.Gates.Vents = append(d.Gates.Vents, gate.Vent{At: r3.Vec{X: 400}, Bore: 2}) }, "opens nothing", finding.Stop, 1},
		"vent on the floor": {func(d *study.Design) {
			d.Gates.Feed = practice.FeedLow
			d.Gates.Vents = []gate.Vent{{At: r3.Vec{X: 60, Y: 20, Z: 6}, Bore: 2}}
		}, "", "", 0},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			p := prepared(t, plate)
			d, err := p.Start(house)
			require.NoError(t, err)
			d.Mould.Clearance.Beside = 24
			good, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, house)
			require.NoError(t, err)
			if c.says == "" {
				c.change(&d)
				s, err := p.Work(d, study.Given{}, house)
				require.NoError(t, err)
				assert.Empty(t, of(s.Findings, finding.Gates, finding.Stop), "a vent cut up a wall opens at the wall's top")
				return
			}
			assert.Nil(t, saying(good.Findings, c.says), "nothing to say of a good design")
			c.change(&d)
			bad, err := p.Work(d, study.Given{Rubber: &rubber, Resin: &resin}, house)
			require.NoError(t, err)
			f := saying(bad.Findings, c.says)
			require.NotNil(t, f)
			assert.Equal(t, c.severity, f.Severity)
			assert.NotEmpty(t, f.Why)
			assert.NotEmpty(t, f.Source)
			require.Len(t, f.Remedies, c.remedies)
			for _, r := range f.Remedies {
				mended, err := p.Work(carry(t, p, d, r), study.Given{Rubber: &rubber, Resin: &resin}, house)
				require.NoError(t, err)
				assert.Nil(t, saying(mended.Findings, c.says), r.Label)
			}
		})
	}
}

func TestLevelCeilingIsVentedButGetsANote(t *testing.T) {
	p := prepared(t, plate)
	d, err := p.Start(house)
	require.NoError(t, err)
	require.Len(t, d.Gates.Vents, 1)
	assert.InDelta(t, 30, d.Gates.Vents[0].At.X, 1, "in the middle of it")
	assert.InDelta(t, 20, d.Gates.Vents[0].At.Y, 1)
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	note := saying(s.Findings, "is level over 2")
	require.NotNil(t, note)
	assert.Equal(t, finding.Note, note.Severity)
}

func TestRubberShutsInAirUnderACup(t *testing.T) {
	cup := meshtest.Turned(96, [2]float64{0, 20}, [2]float64{15, 20}, [2]float64{15, 0}, [2]float64{18, 0}, [2]float64{18, 24}, [2]float64{0, 24})
	p := prepared(t, cup)
	d, err := p.Start(house)
	require.NoError(t, err)
	d.Mould.Draw = "+z"
	d.Mould.Attitudes.RubberA, d.Mould.Attitudes.RubberB = "+z", "-z"
	under := -0.0 - 1e-3
	d.Mould.Parting = &under // the cup stands rim down on the bed
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	f := saying(s.Findings, "The rubber of half A shuts in air")
	require.NotNil(t, f)
	assert.InEpsilon(t, 706.86*20/1000, f.Figure.Value, 0.01)
	require.NotEmpty(t, s.Pours[0].Pockets)
	assert.InDelta(t, s.Pours[0].PartLow, s.Pours[0].Pockets[0].SealHeight, 0.01)

	d.Mould.Attitudes.RubberA, d.Mould.Attitudes.RubberB = "-z", "+z" // turned over, it fills like a bowl
	d.Mould.Draw = "-z"
	over := -24.0 - 1e-3
	d.Mould.Parting = &over
	s, err = p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	assert.Nil(t, saying(s.Findings, "The rubber of half A shuts in air"))
}

func TestUndercutsAreCountedFromTheParting(t *testing.T) {
	// a mushroom: the cap overhangs the stem by 12 mm all round
	mushroom := meshtest.Turned(96, [2]float64{0, 0}, [2]float64{8, 0}, [2]float64{8, 20}, [2]float64{20, 20}, [2]float64{20, 28}, [2]float64{0, 28})
	p := prepared(t, mushroom)
	d, err := p.Start(house)
	require.NoError(t, err)
	d.Mould.Draw, d.Mould.Parting = "+z", nil
	low := 10.0
	d.Mould.Parting = &low
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	f := saying(s.Findings, "Half A reaches under the part")
	require.NotNil(t, f)
	assert.Equal(t, finding.Stop, f.Severity)
	ring := 3.1416 * (400 - 64) * 10 / 1000 // from the parting up to the cap
	assert.InEpsilon(t, ring, f.Figure.Value, 0.02)
	d = carry(t, p, d, f.Remedies[0])
	s, err = p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	assert.Nil(t, saying(s.Findings, "reaches under the part"), "parted at the cap nothing is locked")
}

func TestMeshTroublesAreSaidOnTheMasterStage(t *testing.T) {
	ball := meshtest.Sphere(20, 48)
	holed := &mesh.Mesh{Vertices: ball.Vertices, Triangles: ball.Triangles[40:]}
	p := prepared(t, holed)
	d, err := p.Start(house)
	require.NoError(t, err)
	s, err := p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	f := saying(s.Findings, "The mesh has holes")
	require.NotNil(t, f)
	assert.Equal(t, finding.Master, f.Stage)
	assert.InDelta(t, ball.Volume()/1000, f.Figure.Value, f.Limit.Value, "right to within the bound that it states")

	crossing := meshtest.Sphere(20, 48)
	crossing.Append(meshtest.Moved(meshtest.Sphere(20, 48), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{X: 15}))
	p = prepared(t, crossing)
	d, err = p.Start(house)
	require.NoError(t, err)
	s, err = p.Work(d, study.Given{}, house)
	require.NoError(t, err)
	assert.Empty(t, of(s.Findings, finding.Gates, finding.Stop), "two balls that run into one another are vented as one space")
}
