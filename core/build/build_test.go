package build

import (
	"strings"
	"testing"

	"bathyform/core/box"
	"bathyform/core/drawing"
	"bathyform/core/kind"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/shell"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var tin = mix.Material{Name: "tin", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.2, Traits: mix.Traits{Family: "tin", Shore: 30, Elongation: 300, Viscosity: 25, PotLife: 40, Demould: 960}}

// slab is a part of 60 by 40 by 20 mm in its box.
func slab(t *testing.T, k kind.Kind) Case {
	t.Helper()
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20})
	house := practice.Usual()
	p, err := pieces.Make(t.Context(), m, pieces.Choices{Draw: r3.Vec{Z: 1}, Clearance: house.Clearance, Rubber: strip.Rubber{Shore: 30, Elongation: 300}, Wanted: 60, Cells: 70}, nil)
	require.NoError(t, err)
	b, err := box.Of(box.Rectangle, box.Ask{Hull: []outline.Point{{0, 0}, {60, 0}, {60, 40}, {0, 40}}, Beside: house.Clearance.Beside})
	require.NoError(t, err)
	c := Case{Kind: k, Name: "slab", Wanted: 60, Life: 30, LifeFrom: "a guess", Cavities: 1, Draw: "+z", Ups: mould.Attitudes{RubberA: "+z", RubberB: "-z", Resin: "+x"},
		Plan: p, Box: b, Body: m.Bounds(), Part: 48_000, Section: m.Section(r3.Vec{Y: 1}, 20), View: drawing.View{Right: r3.Vec{X: 1}, Up: r3.Vec{Z: 1}},
		Scars: []float64{8, 2}, Shot: 60, Rubber: &tin, Over: 5, Quality: "good", House: house, Skin: 11, Brush: []int{0, 2}}
	if k == kind.Shell {
		blanket, err := shell.Make(t.Context(), m, r3.Vec{Z: 1}, 11, 40)
		require.NoError(t, err)
		c.Blanket = &blanket
	}
	return c
}

func words(b Build) string {
	var all []string
	for _, s := range b.Steps {
		all = append(all, s.Do)
	}
	return strings.Join(all, "\n")
}

func TestEveryKindHasItsOwnWork(t *testing.T) {
	for k, want := range map[kind.Kind][]string{
		kind.Clay:     {"Bed the master", "clay off", "Press in", "Release dries", "Brush rubber into the 2 places"},
		kind.Board:    {"parting board", "board off"},
		kind.Cut:      {"Hang the master", "Wrap the guide round", "its own box or sleeve"},
		kind.Tape:     {"tape fins", "Wrap the guide round"},
		kind.Stretch:  {"Peel the rubber off"},
		kind.OpenFace: {"flat back", "turn the block over"},
		kind.Squeeze:  {"blind channel"},
		kind.Shell:    {"Lay clay 11 mm", "first half of the shell", "take the clay out"},
	} {
		t.Run(string(k), func(t *testing.T) {
			b, err := Make(slab(t, k))
			require.NoError(t, err)
			for _, w := range want {
				assert.Contains(t, words(b), w)
			}
			hands, waits := 0.0, 0.0
			pours := map[int]bool{}
			for i, s := range b.Steps {
				if s.Wait {
					waits += s.Minutes
				} else {
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
			assert.Len(t, pours, len(b.Pours), "every pour is mixed once")
			assert.InEpsilon(t, hands/60, b.Hands.Value, 1e-12)
			assert.InEpsilon(t, waits/60, b.Waits.Value, 1e-12)
			assert.Equal(t, 2.0, b.Moulds.Value, "sixty castings at thirty a mould")
		})
	}
	_, err := Make(slab(t, kind.Pressed))
	assert.ErrorIs(t, err, ErrKind)
	c := slab(t, kind.Shell)
	c.Blanket = nil
	_, err = Make(c)
	assert.ErrorContains(t, err, "blanket")
}

func TestThePoursOfTwoHalves(t *testing.T) {
	b, err := Make(slab(t, kind.Clay))
	require.NoError(t, err)
	require.Len(t, b.Pours, 2)
	a, low := b.Pours[0], b.Pours[1]
	assert.InDelta(t, 23, a.Bed, 0.1, "13 mm under the part and half of its 20")
	assert.InDelta(t, 53, a.Level, 1e-9)
	assert.InDelta(t, 30, low.Bed, 0.1, "turned over, the first half stands 30 mm high")
	keys := 0.0
	for _, k := range slab(t, kind.Clay).Plan.Keys.Keys {
		keys += k.Volume() / 1000
	}
	assert.InEpsilon(t, (84.0*64*30-60*40*10)/1000-keys, a.Volume.Value, 5e-3)
	assert.InEpsilon(t, (84.0*64*23-60*40*10)/1000+keys, low.Volume.Value, 5e-3)
	assert.InEpsilon(t, a.Volume.Value*1.08, a.Mixed.Value, 1e-9, "five per cent, and three more for thick rubber")
	assert.InEpsilon(t, a.Mixed.Value*1.2, a.Batch.Mass.Value, 1e-9)
	assert.InEpsilon(t, low.Volume.Value, b.Clay.Value, 1e-9)
	assert.InEpsilon(t, b.Clay.Value*clayDensity, b.ClayMass.Value, 1e-9)
	assert.InEpsilon(t, (a.Volume.Value+low.Volume.Value)*1.2+60*resinDensity, b.Weight.Value, 1e-9)
}

func TestBucketsAndScalesDivideAPour(t *testing.T) {
	c := slab(t, kind.Cut)
	mixes := func() float64 {
		b, err := Make(c)
		require.NoError(t, err)
		return b.Pours[0].Mixes.Value
	}
	assert.Equal(t, 1.0, mixes(), "a quarter of five litres is enough")
	c.House.Bucket = 500
	assert.Equal(t, 3.0, mixes(), "rubber rises to four times its height: 125 mL a bucket")
	c.House.NoDegas = true
	assert.Equal(t, 1.0, mixes(), "undegassed it may fill the bucket")
	c.House.Bucket, c.House.ScaleMost = 5000, 200
	assert.Equal(t, 2.0, mixes(), "the scale takes 200 g at once")
}

// Shell against blocks: 20 + 70 for every 40 castings, 160 + 25 for every 40.
// They stand 230 to 235 at 120 castings and 300 to 260 at 121.
func TestWhenAShellPays(t *testing.T) {
	assert.Equal(t, 121, Even(20, 70, 160, 25, 40))
	assert.Zero(t, Even(20, 70, 160, 70, 40), "no cheaper mould, no paying back")
	assert.Zero(t, Even(20, 25, 160, 70, 40))
	assert.Equal(t, 1, Even(20, 70, 20, 25, 40), "at once")
	for q := 1; q < 400; q++ { // against the staircase itself
		n := float64((q + 39) / 40)
		assert.Equal(t, q >= 121, 160+25*n <= 20+70*n, "at %d", q)
	}
}

func TestThePicturesStandTheWayTheMouldDoes(t *testing.T) {
	b, err := Make(slab(t, kind.Clay))
	require.NoError(t, err)
	require.Len(t, b.Attitudes, 3)
	size := func(d drawing.Drawing) (w, h float64) { return d.High[0] - d.Low[0], d.High[1] - d.Low[1] }
	w, h := size(b.Attitudes[0])
	assert.InDelta(t, 84+6, w, 1e-6)
	assert.InDelta(t, 53+6, h, 1e-6)
	w, h = size(b.Attitudes[2])
	assert.InDelta(t, 53+6, w, 1e-6, "stood on its edge for the resin")
	assert.InDelta(t, 84+6, h, 1e-6)
	assert.Equal(t, "+x", b.Attitudes[2].Arrow)
	// half A lies above the bed at first, and below half B once it is turned
	middle := func(d drawing.Drawing, tone drawing.Tone) float64 {
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
	assert.Greater(t, middle(b.Attitudes[0], drawing.RubberA), middle(b.Attitudes[0], drawing.Clay))
	assert.Less(t, middle(b.Attitudes[1], drawing.RubberA), middle(b.Attitudes[1], drawing.RubberB))
	assert.NotEmpty(t, b.Lay.Areas)
}

func TestWiresThatTheStreamBends(t *testing.T) {
	thin := func(c Case) bool {
		b, err := Make(c)
		require.NoError(t, err)
		for _, f := range b.Findings {
			if strings.Contains(f.What, "stream of rubber bends") {
				return true
			}
		}
		return false
	}
	c := slab(t, kind.Cut)
	assert.True(t, thin(c), "a vent of two millimetres")
	c.Scars = []float64{8, 3}
	assert.False(t, thin(c))
}
