package build_test

import (
	"slices"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/hours"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/sheet"
	"bathyform/core/tone"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var (
	tin = mix.Material{
		Name:    "tin",
		Ratio:   mix.Ratio{A: 10, B: 1},
		Density: 1.2,
		Traits:  mix.Traits{Family: "tin", Shore: 30, Elongation: 300, Viscosity: 25, PotLife: 40, Demould: 960},
	}
	cast = mix.Material{Name: "cast", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1, Traits: mix.Traits{PotLife: 6, Demould: 30}}
)

// slab is a part of 60 by 40 by 20 mm, to be built as a kind.
func slab(t *testing.T, kind design.Kind) (*bench.Master, bench.Question) {
	t.Helper()
	m, r, err := mesh.Load(meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}).WriteSTL(), 1)
	require.NoError(t, err)
	b := bench.Take(part.Master{Name: "slab", Mesh: m, Report: r})
	d, err := b.Start(t.Context(), practice.Usual())
	require.NoError(t, err)
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusX
	d.RubberOver = 5
	return b, bench.Question{Design: d, Kind: kind, Rubber: &tin, Resin: &cast, Wanted: 60, House: practice.Usual()}
}

func made(t *testing.T, m *bench.Master, q bench.Question) build.Build {
	t.Helper()
	b, err := m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	return b.Build
}

func words(b build.Build) string {
	var all []string
	for _, s := range b.Steps {
		all = append(all, s.Do)
	}
	return strings.Join(all, "\n")
}

func coded(b build.Build, code string) *finding.Finding {
	for _, f := range b.Findings {
		if f.Code == code {
			return &f
		}
	}
	return nil
}

func TestEveryKindHasItsOwnWork(t *testing.T) {
	for kind, want := range map[design.Kind][]string{
		design.Clay:     {"Bed the master", "clay off", "Press in", "Release dries", "sprue rod", "Open: half A"},
		design.Board:    {"parting board", "board off", "sprue rod"},
		design.Cut:      {"Hold the master by the sprue rod", "Wrap the guide round"},
		design.Tape:     {"tape fins", "Wrap the guide round"},
		design.Stretch:  {"Peel the rubber off"},
		design.OpenFace: {"flat back", "turn the block over"},
		design.Squeeze:  {"blind channel"},
		design.Shell:    {"Lay clay 11 mm", "first half of the shell", "take the clay out"},
	} {
		t.Run(string(kind), func(t *testing.T) {
			m, q := slab(t, kind)
			b := made(t, m, q)
			for _, w := range want {
				assert.Contains(t, words(b), w)
			}
			hands, waits, first := 0.0, 0.0, 0.0
			pours := map[int]bool{}
			for i, s := range b.Steps {
				assert.GreaterOrEqual(t, s.Minutes, 0.0, s.Do)
				switch {
				case s.Casting:
					first += s.Minutes
				case s.Wait:
					waits += s.Minutes
				default:
					hands += s.Minutes
				}
				if s.Pour >= 0 {
					pours[s.Pour] = true
				}
				if s.With {
					assert.False(t, s.Wait)
					assert.Positive(t, i, "what cannot wait follows something")
				}
			}
			assert.Len(t, pours, len(b.Plan.Pours), "every pour is mixed once")
			assert.InEpsilon(t, hands/60, b.Hands.Value, 1e-12)
			assert.InEpsilon(t, waits/60, b.Waits.Value, 1e-12)
			assert.InEpsilon(t, (hands+waits+first)/60, b.First.Value, 1e-12)
			assert.Contains(t, b.Steps[len(b.Steps)-1].Do, "first casting", "the sheet goes on to the first casting")
			life := b.Plan.Life.Value
			want := 0.0
			for want*life < 60 {
				want++
			}
			assert.Equal(t, want, b.Moulds.Value, "sixty castings at %g a mould", life)
		})
	}
	m, q := slab(t, design.Pressed)
	_, err := m.Build(t.Context(), q, nil)
	assert.ErrorContains(t, err, "another kind")
}

// By hand: 84 by 64 by 53 in the box, parted 23 mm over its floor. The opening
// lies in the parting and leaves half of itself in each half.
func TestThePoursOfTwoHalvesByHand(t *testing.T) {
	m, q := slab(t, design.Clay)
	ten := 10.0
	q.Design.Parting, q.Design.Feed = &ten, practice.FeedTop
	b := made(t, m, q)
	require.Len(t, b.Plan.Pours, 2)
	a, low := b.Plan.Pours[0], b.Plan.Pours[1]
	assert.InDelta(t, 23, a.Bed, 0.1, "13 mm under the part and half of its 20")
	assert.InDelta(t, 53, a.Level, 1e-9)
	assert.InDelta(t, 30, low.Bed, 0.1, "turned over, the first half stands 30 mm high; opening and vents are all above")
	keys := 0.0
	for _, k := range b.Plan.Division.Keys.Keys {
		keys += k.Volume() / 1000
	}
	assert.InEpsilon(t, (84.0*64*30-60*40*10)/1000-keys-b.Plan.Channels.Value/2, a.Volume.Value, 5e-3)
	assert.InEpsilon(t, (84.0*64*23-60*40*10)/1000+keys-b.Plan.Channels.Value/2, low.Volume.Value, 5e-3)
	assert.InEpsilon(t, a.Volume.Value*1.08, a.Mixed.Value, 1e-9, "five per cent, and three more for thick rubber")
	assert.InEpsilon(t, a.Mixed.Value*1.2, a.Batch.Mass.Value, 1e-9)
	assert.InEpsilon(t, low.Volume.Value, b.Plan.Clay.Value, 1e-9, "the bed takes the second half's place")
	assert.Greater(t, b.Plan.ClayMass().Value, b.Plan.Clay.Value, "clay is heavier than water")
}

func TestBucketsAndScalesDivideAPour(t *testing.T) {
	m, q := slab(t, design.Cut)
	mixes := func() float64 { return made(t, m, q).Plan.Pours[0].Mixes.Value }
	assert.Equal(t, 1.0, mixes(), "a quarter of five litres is enough")
	q.House.Bucket = 500
	assert.Equal(t, 3.0, mixes(), "rubber rises to four times its height: 125 mL a bucket")
	q.House.NoDegas = true
	assert.Equal(t, 1.0, mixes(), "undegassed it may fill the bucket")
	q.House.Bucket, q.House.ScaleMost = 5000, 250
	assert.Equal(t, 2.0, mixes(), "the scale takes 250 g at once")
}

func TestThePicturesStandTheWayTheMouldDoes(t *testing.T) {
	m, q := slab(t, design.Clay)
	q.Design.Feed = practice.FeedTop
	b := made(t, m, q)
	require.Len(t, b.Attitudes, 3)
	size := func(d sheet.Drawing) (w, h float64) { return d.High[0] - d.Low[0], d.High[1] - d.Low[1] }
	w, h := size(b.Attitudes[0])
	assert.InDelta(t, 84+6, w, 1e-6)
	assert.InDelta(t, 53+6, h, 1e-6)
	w, h = size(b.Attitudes[2])
	assert.InDelta(t, 53+6, w, 1e-6, "stood on its edge for the resin")
	assert.InDelta(t, 84+6, h, 1e-6)
	assert.Equal(t, "+x", b.Attitudes[2].Arrow)
	middle := func(d sheet.Drawing, tone tone.Tone) float64 {
		for _, a := range d.Areas {
			if a.Tone == tone {
				sum := 0.0
				for _, p := range a.Rings[0] {
					sum += p[1]
				}
				return sum / float64(len(a.Rings[0]))
			}
		}
		require.Fail(t, "not drawn", "%s", tone)
		return 0
	}
	assert.Greater(t, middle(b.Attitudes[0], tone.RubberA), middle(b.Attitudes[0], tone.Clay), "half A lies above the bed at first")
	assert.Less(t, middle(b.Attitudes[1], tone.RubberA), middle(b.Attitudes[1], tone.RubberB), "and under half B once it is turned")
	assert.NotEmpty(t, b.Lay.Areas)
}

func TestWhatABuildWarnsOf(t *testing.T) {
	m, q := slab(t, design.Cut)
	assert.NotNil(t, coded(made(t, m, q), "wires-bend"), "a vent of two millimetres")
	for i := range q.Design.Vents {
		q.Design.Vents[i].Bore = 3
	}
	assert.Nil(t, coded(made(t, m, q), "wires-bend"))

	soft := mix.Material{
		Name:    "soft",
		Ratio:   mix.Ratio{A: 1, B: 1},
		Density: 1.1,
		Traits:  mix.Traits{Family: "platinum", Shore: 10, Elongation: 500, PotLife: 4, Demould: 240},
	}
	q.Rubber = &soft
	q.House.Celsius, q.House.Bucket, q.House.PotWide, q.House.PotTall = 15, 400, 60, 50
	q.Design.Clearance.Beside = 4
	b := made(t, m, q)
	for _, code := range []string{"too-cold", "several-mixes", "pot-too-narrow"} {
		assert.NotNil(t, coded(b, code), code)
	}
	bulging := coded(b, "wall-bulges")
	require.NotNil(t, bulging, "a thin wall of soft rubber")
	require.NotEmpty(t, bulging.Remedies)
	assert.Greater(t, bulging.Remedies[0].Value, 4.0)
	q.House.PotWide = 600
	assert.NotNil(t, coded(made(t, m, q), "pot-too-low"))
	warm := q
	warm.House.Celsius = 35
	assert.InEpsilon(t, 4*made(t, m, warm).Waits.Value, b.Waits.Value, 1e-9, "twenty degrees colder cure four times as long")
	assert.Nil(t, coded(made(t, m, warm), "too-cold"))
}

// What touches rubber and resin beside the part, and the heat of the shot.
func TestCupsGlueAndHeat(t *testing.T) {
	m, q := slab(t, design.Cut)
	resin := mix.Material{Name: "fast", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.05, Traits: mix.Traits{Demould: 15}}
	rubber := mix.Material{Name: "soft", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1, Traits: mix.Traits{Family: "platinum", Heat: 30}}
	q.Resin, q.Rubber = &resin, &rubber
	b := made(t, m, q)
	assert.Nil(t, coded(b, "cups-dissolve"))
	assert.Nil(t, coded(b, "glue-inhibits"))
	hot := coded(b, "section-runs-hot")
	require.NotNil(t, hot, "a rubber that stands 30 °C")
	assert.Greater(t, hot.Figure.Value, 30.0)
	rubber.Traits.Heat = 0
	assert.Nil(t, coded(made(t, m, q), "section-runs-hot"), "a usual one stands it")

	q.House.Schools = map[string]string{practice.Cups: practice.ThinCups, practice.Fixing: practice.HotGlue}
	q.Design.Powder = &design.Powder{Name: "bronze"}
	b = made(t, m, q)
	for _, code := range []string{"cups-dissolve", "glue-inhibits", "powder-and-seam"} {
		assert.NotNil(t, coded(b, code), code)
	}
	dusted := slices.IndexFunc(b.Steps, func(s kinds.Step) bool { return strings.Contains(s.Do, "bronze") })
	require.Positive(t, dusted)
	assert.Contains(t, b.Steps[dusted].Caution, "mask")
	assert.Contains(t, b.Steps[dusted+1].Do, "Close", "powder goes in before the mould is closed")
	rubber.Traits.Family = "tin"
	assert.Nil(t, coded(made(t, m, q), "glue-inhibits"))
	q.Kind = design.Stretch
	assert.Nil(t, coded(made(t, m, q), "powder-and-seam"), "a sock has no seam")
}

// The shop's hours: nothing is begun at night, what cures cures on.
func TestTheStepsAreLaidIntoTheShopsHours(t *testing.T) {
	m, q := slab(t, design.Clay)
	b := made(t, m, q)
	slots, err := b.Schedule(hours.Shop{Open: 540, Close: 1020, Days: [7]bool{true, true, true, true, true}}, 600, 0)
	require.NoError(t, err)
	require.Len(t, slots, len(b.Steps))
	last := 600.0
	for i, s := range slots {
		assert.GreaterOrEqual(t, s.From, last-1e-9, "one after the other")
		assert.InDelta(t, b.Steps[i].Minutes, s.To-s.From, 1e-6)
		last = s.To
	}
}

// What fits comes first, the least score first; what cannot be built comes last.
func TestKindsAreRanked(t *testing.T) {
	m, q := slab(t, "")
	rows, err := m.Rank(t.Context(), q, func(string, *build.Row) {})
	require.NoError(t, err)
	require.Len(t, rows, len(kinds.All))
	for i, r := range rows[1:] {
		before := rows[i]
		assert.False(t, r.Fits && !before.Fits, "%s fits and stands after %s", r.Kind.Name, before.Kind.Name)
		if r.Fits == before.Fits && r.Build != nil && before.Build != nil {
			assert.LessOrEqual(t, before.Build.Score.Value, r.Build.Score.Value)
		}
	}
	assert.Nil(t, rows[len(rows)-1].Build)
	assert.Equal(t, kinds.Hot, rows[len(rows)-1].Kind)
	for _, r := range rows {
		assert.NotEmpty(t, r.Why, r.Kind.Name)
		assert.NotEmpty(t, r.Kind.What)
	}
}
