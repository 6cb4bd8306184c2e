package rise_test

import (
	"math"
	"testing"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// poured is a block of 40 x 50 x 80 mm cast in a resin through a sprue of a bore.
func poured(t *testing.T, bore, viscosity, potLife float64) bench.Study {
	t.Helper()
	return pouredWithin(t, bore, viscosity, potLife, 0)
}

// pouredWithin is the same where the mould shall be full within so many minutes.
func pouredWithin(t *testing.T, bore, viscosity, potLife, within float64) bench.Study {
	t.Helper()
	m, r, err := mesh.Load(meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 50, Z: 80}).WriteSTL(), 1)
	require.NoError(t, err)
	b := bench.Take(part.Master{Name: "block", Mesh: m, Report: r})
	house := practice.Usual()
	d, err := b.Start(t.Context(), house)
	require.NoError(t, err)
	d.SprueBore, d.Within = bore, within
	resin := mix.Material{Name: "slow", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1,
		Traits: mix.Traits{Viscosity: viscosity, PotLife: potLife, Celsius: house.Celsius}}
	s, err := b.Study(t.Context(), bench.Question{Design: d, Kind: design.Clay, House: house, Resin: &resin})
	require.NoError(t, err)
	require.NotNil(t, s.Run)
	return s
}

// resists is what well, sprue, runner and gate resist one behind the other: 128
// η L / (π d⁴), and the mean of 1 / d⁴ along a cone by Simpson's rule.
func resists(s bench.Study, viscosity float64) (sum float64) {
	const n = 1000
	for _, c := range s.Gates.Channels {
		if c.Kind == "vent" {
			continue
		}
		thin, wide, mean := c.Bore/1000, max(c.Bore, c.Rim)/1000, 0.0
		for k := range n + 1 {
			w := 2.0 + 2*float64(k%2)
			if k == 0 || k == n {
				w = 1
			}
			mean += w / (3 * n) * math.Pow(thin+(wide-thin)*float64(k)/n, -4)
		}
		sum += 128 * viscosity * c.Length() / 1000 / math.Pi * mean
	}
	return sum
}

// A block is as wide below as above: up to its gate it fills under the head over
// that, A R g / (ρ g (H − g)), and then in the closed form A R ln((H − g) / (H −
// h)) / (ρ g), for the sprue and the well as they were laid.
func TestABlockRunsFullAsTheClosedFormSays(t *testing.T) {
	s := poured(t, 6, 1, 600)
	high, head := (s.Gates.PartHigh-s.Gates.PartLow)/1000, (s.Gates.Top-s.Gates.PartLow)/1000
	area := 40 * 50 * 80e-9 / high
	gate := 0.0
	for _, c := range s.Gates.Channels {
		if c.Kind == "gate" {
			gate = (c.Top - s.Gates.PartLow) / 1000
		}
	}
	assert.Positive(t, gate, "it comes in the parting")
	fresh := area * resists(s, 1) * (gate/(head-gate) + math.Log((head-gate)/(head-high))) / (1100 * 9.80665)
	mixed := -math.Expm1(-math.Ln2*90/36000) * 36000 / math.Ln2
	whole := -math.Log1p(-math.Ln2/36000*(mixed+fresh)) * 36000 / math.Ln2 / 60
	assert.InEpsilon(t, whole, s.Run.Full.Value, 0.01)
	assert.Empty(t, s.Run.Findings)
}

// A mould that shall be full within a time wants the wider sprue the sooner, and
// says so where it is not.
func TestAMouldIsFullWithinTheTimeThatIsWanted(t *testing.T) {
	last := poured(t, 6, 1, 20).Run.Narrowest.Value
	for _, within := range []float64{10, 5, 3} {
		s := pouredWithin(t, 6, 1, 20, within)
		assert.Greater(t, s.Run.Narrowest.Value, last, "%g min", within)
		last = s.Run.Narrowest.Value
		told := false
		for _, f := range s.Run.Findings {
			told = told || f.Code == "not-full-in-time"
		}
		assert.Equal(t, s.Run.Full.Value > within && s.Run.Full.Value <= 20, told, "%g min", within)
	}
}

// What mixing alone takes longer than is said to be so, and not that the pot life
// is over.
func TestATimeShorterThanMixingIsTold(t *testing.T) {
	var codes []string
	for _, f := range pouredWithin(t, 6, 1, 20, 1).Run.Findings {
		codes = append(codes, f.Code)
	}
	assert.Equal(t, []string{"not-full-in-time"}, codes)
}

// The narrowest sprue is one through which it is full as the pot life ends.
func TestTheNarrowestSprueJustFills(t *testing.T) {
	wide := poured(t, 8, 1, 20)
	just := poured(t, wide.Run.Narrowest.Value, 1, 20)
	assert.InEpsilon(t, 20, just.Run.Full.Value, 0.07, "the sprue lies a little otherwise as its bore changes")
	assert.InEpsilon(t, 16, wide.Run.Brim.Value/poured(t, 4, 1, 20).Run.Brim.Value, 1e-9, "half the bore carries a sixteenth")
}

// By a syringe of 30 mm, 50 N stand for 70.736 kPa (Pascal); what the sprue
// resists follows from Hagen and Poiseuille, as above.
func TestAHandPushesThickResinThroughAThinSprue(t *testing.T) {
	s := poured(t, 3, 5, 600)
	require.NotNil(t, s.Run.Push)
	pressure := resists(s, 5) * 160e-6 / 60
	assert.InEpsilon(t, pressure/70736*50, s.Run.Push.Value, 0.01)
	assert.InEpsilon(t, pressure*40*50e-6, s.Run.Opens.Value, 0.02, "on the block as it is seen along the draw, upwards")
	assert.Nil(t, poured(t, 12, 0.1, 600).Run.Push, "thin resin in a wide sprue is not felt")
}

func TestWhatIsSaidOfResinThatComesTooLate(t *testing.T) {
	for _, c := range []struct {
		name                  string
		bore, viscosity, life float64
		code                  string
		severity              finding.Severity
	}{
		{"thin, slow", 8, 0.3, 40, "", ""},
		{"gone as it is mixed", 8, 0.1, 1.2, "pot-life-gone", finding.Stop},
		{"thick through a straw", 3, 3, 10, "sets-before-full", finding.Stop},
		{"as water", 12, 0.01, 30, "rushes-in", finding.Note},
	} {
		found := poured(t, c.bore, c.viscosity, c.life).Run.Findings
		if c.code == "" {
			assert.Empty(t, found, c.name)
			continue
		}
		require.Len(t, found, 1, c.name)
		assert.Equal(t, c.code, found[0].Code, c.name)
		assert.Equal(t, c.severity, found[0].Severity, c.name)
	}
	late := poured(t, 3, 3, 10).Run.Findings[0]
	require.Equal(t, finding.SetSprue, late.Remedies[0].Action)
	assert.Empty(t, poured(t, late.Remedies[0].Value, 3, 10).Run.Findings, "what is proposed serves")
}
