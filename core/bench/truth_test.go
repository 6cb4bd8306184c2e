package bench_test

import (
	"math"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/box"
	"bathyform/core/build"
	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gate"
	"bathyform/core/kinds"
	"bathyform/core/life"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/tone"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// demo takes a demo part in hand.
func demo(t testing.TB, key string) *bench.Master {
	t.Helper()
	p, ok := parts.ByKey(key)
	require.True(t, ok)
	return taken(t, p.Mesh())
}

func built(t testing.TB, m *bench.Master, q bench.Question) bench.Built {
	t.Helper()
	b, err := m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	return b
}

func studied(t testing.TB, m *bench.Master, q bench.Question) bench.Study {
	t.Helper()
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	return s
}

// coded is the finding of a code; nil where nothing says so.
func coded(all []finding.Finding, code string) *finding.Finding {
	for _, f := range all {
		if f.Code == code {
			return &f
		}
	}
	return nil
}

func steps(b bench.Built) string {
	var all []string
	for _, s := range b.Steps {
		all = append(all, s.Do)
	}
	return strings.Join(all, "\n")
}

// A part that no rubber strips out of is no stretch block in one place and the
// best stretch block in another: what rules a kind out is asked once.
func TestAKindIsRuledOutForGood(t *testing.T) {
	m := demo(t, "drogue-hub")
	q := asked(t, m)
	q.Kind = design.Stretch
	s, b := studied(t, m, q), built(t, m, q)
	row := build.RowOf(kinds.Stretch, b.Build, nil)
	assert.False(t, row.Fits)
	require.NotEmpty(t, b.Stops())
	assert.Equal(t, b.Stops()[0].What, row.Why[0], "the row says what the board says")
	stops := 0
	for _, f := range s.Findings {
		if f.Severity == finding.Stop {
			stops++
		}
	}
	assert.Positive(t, stops, "and so does the page while a hand drags")
}

// Kinds are held against one another with this design's own clearances.
func TestTheClearanceOfADesignIsThatOfItsRanking(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 30, Z: 20}))
	q := asked(t, m)
	q.Design.Clearance.Beside = 22
	q.Kind = design.Cut
	want := (94*74*(20+13+20.0) - 50*30*20) / 1000 // the sprue has room beside it, and its gate comes in the parting
	for _, p := range []mould.Plan{built(t, m, q).Plan, studied(t, m, q).Plan} {
		assert.InEpsilon(t, want, p.Rubber.Value+p.Channels.Value, 1e-9)
	}
}

// The section shows the mould that is poured: its pieces and all its cavities.
func TestTheSectionCutsTheMouldThatIsPoured(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 10}))
	for kind, pieces := range map[design.Kind]int{design.Clay: 2, design.OpenFace: 1, design.Cut: 2} {
		q := ganged(t, m, asked(t, m), 2)
		q.Kind = kind
		q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB, q.Design.ResinUp = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusZ
		b := built(t, m, q)
		middle := r3.Scale(0.5, r3.Add(b.Plan.Box.Bounds.Min, b.Plan.Box.Bounds.Max))
		along := r3.Vec{X: 1}
		if g := q.Design.Gang; math.Abs(g[0][1]-g[1][1]) > math.Abs(g[0][0]-g[1][0]) {
			along = r3.Vec{Y: 1} // across both cavities
		}
		normal := r3.Cross(r3.Vec{Z: 1}, along)
		cut, err := m.Section(t.Context(), q, normal, r3.Dot(middle, normal)+0.01, true)
		require.NoError(t, err)
		assert.Len(t, cut.Cavities, 2, kind)
		assert.Len(t, cut.Pieces, pieces, kind)
		sum := area(cut.Cavities, normal)
		for _, p := range cut.Pieces {
			assert.NotEqual(t, tone.Master, p.Tone)
			sum += area(p.Loops, normal)
		}
		sum += bored(studied(t, m, q).Gates, m.Part.Bounds(), r3.Unit(along), middle)
		assert.InEpsilon(t, area(cut.Block, normal), sum, 0.02, "%s: rubber, channels and cavities fill the block", kind)
	}
}

// bored is what channels take of an upright plane through a place, by counting
// places half a millimetre apart.
func bored(l gate.Layout, b r3.Box, along, through r3.Vec) (area float64) {
	const step = 0.5
	for u := -200.0; u <= 200; u += step {
		for z := b.Min.Z - 60; z <= b.Max.Z+60; z += step {
			p := r3.Add(through, r3.Scale(u, along))
			p.Z = z
			for _, c := range l.Channels {
				at, off := c.Along(p)
				r := c.Bore / 2
				if c.Rim > 0 {
					r += (c.Rim - c.Bore) / 2 * at / c.Length()
				}
				if off < r && at > 0 && at < c.Length() {
					area += step * step
					break
				}
			}
		}
	}
	return area
}

// area is what loops of a section enclose.
func area(loops [][]r3.Vec, normal r3.Vec) float64 {
	var sum float64
	for _, loop := range loops {
		for i, p := range loop {
			sum += r3.Dot(normal, r3.Cross(p, loop[(i+1)%len(loop)])) / 2
		}
	}
	return math.Abs(sum)
}

// What the shop has logged reaches the plan: its moulds, its hours, its score.
func TestTheShopsOwnMouldsReachThePlan(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 30, Z: 20}))
	q := asked(t, m)
	q.Kind, q.Wanted = design.Clay, 200
	before := built(t, m, q)
	for range 12 {
		q.Log = append(q.Log, life.Record{Pulls: 10, WornOut: true})
	}
	after := built(t, m, q)
	assert.Greater(t, before.Plan.Life.Value, 30.0)
	assert.InDelta(t, 11, after.Plan.Life.Value, 3, "twelve of them died at ten pulls")
	assert.Equal(t, math.Ceil(200/after.Plan.Life.Value), after.Moulds.Value)
	assert.Greater(t, after.Effort.Value, before.Effort.Value)
	assert.Equal(t, after.Plan.Life, studied(t, m, q).Plan.Life)
	soft := tin
	soft.Traits.Shore = 5
	q.Log, q.Rubber = nil, &soft
	assert.Less(t, studied(t, m, q).Plan.Life.Value, before.Plan.Life.Value, "a 5 A skin is not a 30 A block")
}

// An open face has no sprue, no vents and no second half; a squeeze mould has
// its channel in the shot.
func TestResinComesInTheWayOfTheKind(t *testing.T) {
	for name, m := range map[string]*bench.Master{
		"mesh": taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 50, Y: 40, Z: 6})),
		"hand": bench.Take(part.Master{Measured: &part.Measured{Length: 50, Width: 40, Height: 6, Volume: 12, How: "displaced water"}}),
	} {
		q := asked(t, m)
		q.Kind = design.OpenFace
		open := built(t, m, q)
		assert.Empty(t, open.Study.Gates.Channels, name)
		assert.Zero(t, open.Study.Shot.Channels.Value, name)
		assert.Len(t, open.Plan.Pours, 1, name)
		assert.False(t, open.Plan.Parted(), name)
		assert.InEpsilon(t, open.Plan.Box.Volume.Value-12, open.Plan.Rubber.Value, 1e-6, name)
		assert.InDelta(t, 6+house.Clearance.Above, open.Plan.Box.Height.Value, 1e-6, "%s: no rubber under it", name)
		for _, f := range open.Findings {
			assert.NotContains(t, f.What, "half", name)
		}

		q.Kind = design.Squeeze
		pressed := built(t, m, q)
		require.Len(t, pressed.Study.Gates.Channels, 1, "%s: a blind channel, no sprue, no well", name)
		assert.Equal(t, channel.Blind, pressed.Study.Gates.Channels[0].Kind)
		assert.InEpsilon(t, pressed.Study.Gates.Channels[0].Volume.Value, pressed.Study.Shot.Channels.Value, 1e-9,
			"%s: the channel is in the shot", name)
	}
}

// An open face looks up while it is filled, whatever the design says of a
// pour through a sprue: the bumps of a plate are its deepest places then, and
// keep no air.
func TestAnOpenFaceLooksUp(t *testing.T) {
	plate := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 5})
	for _, x := range []float64{15, 45} {
		plate.Append(meshtest.Box(r3.Vec{X: x - 5, Y: 10, Z: 4}, r3.Vec{X: x + 5, Y: 20, Z: 15 + x/10}))
	}
	m := taken(t, plate)
	q := asked(t, m)
	q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB, q.Design.ResinUp = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusZ
	q.Design.Vents, q.Kind = nil, design.OpenFace
	open := built(t, m, q)
	assert.Equal(t, axis.MinusZ, open.Study.Resin.Up)
	assert.Equal(t, axis.MinusZ, open.Plan.Design.ResinUp)
	assert.Nil(t, coded(open.Findings, "air-trapped"))
	assert.Zero(t, open.Study.Gates.Trapped().Volume)
	q.Kind = design.Squeeze
	assert.Equal(t, axis.PlusZ, studied(t, m, q).Resin.Up, "other kinds stand as they are said to")
}

// A master by measure is a mould of any kind that can do without its shape,
// and nobody claims what nobody knows.
func TestAMeasuredMasterHasKindsPrepBuildAndGang(t *testing.T) {
	m := bench.Take(part.Master{Measured: &part.Measured{Length: 50, Width: 40, Height: 20, Volume: 25, How: "displaced water"}})
	q := asked(t, m)
	rows, err := m.Rank(t.Context(), q, func(string, *build.Row) {})
	require.NoError(t, err)
	fits := 0
	for _, r := range rows {
		if r.Fits {
			fits++
			assert.NotNil(t, coded(r.Build.Suit.Against, "undercuts-unknown"), "%s: it is said what is not known", r.Kind.Name)
		}
		for _, why := range r.Why {
			assert.NotContains(t, why, "reaches everywhere")
		}
	}
	assert.GreaterOrEqual(t, fits, 4)
	four := built(t, m, ganged(t, m, q, 4))
	assert.Equal(t, 4, four.Plan.Design.Cavities())
	assert.NotEmpty(t, four.Steps)
	assert.InEpsilon(t, four.Plan.Box.Volume.Value-100, four.Plan.Rubber.Value+four.Plan.Channels.Value, 1e-9)
}

// The scale is held against what is weighed: every pour, and none that is not
// poured.
func TestTheScaleIsHeldAgainstThePoursThatThereAre(t *testing.T) {
	coarse := house
	coarse.ScaleStep = 1
	scaled := func(b bench.Built) (out []string) {
		for _, f := range b.Findings {
			if strings.HasPrefix(f.Code, "scale-") && f.Stage == finding.Rubber {
				out = append(out, f.What)
			}
		}
		return out
	}
	small := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 12}))
	q := asked(t, small)
	q.House = coarse
	q.Kind = design.Cut
	for _, what := range scaled(built(t, small, q)) {
		assert.Contains(t, what, "block", "a cut block is one batch")
	}
	q.Kind = design.Clay
	halves := scaled(built(t, small, q))
	require.Len(t, halves, 2)
	assert.Contains(t, halves[0], "half A")

	hub := demo(t, "drogue-hub")
	q = asked(t, hub)
	q.House, q.Kind = coarse, design.Pieces
	b := built(t, hub, q)
	sides := b.Plan.Pours[0]
	require.Greater(t, mix.RatioError(1, sides.Batch.A.Value, sides.Batch.B.Value), coarse.RatioTolerance/100, "the side pieces are little")
	found := false
	for _, what := range scaled(b) {
		found = found || strings.Contains(what, kinds.Small(sides.Name))
	}
	assert.True(t, found, "and that is judged: %v", scaled(b))
}

// The proposal for a master carries no fault of its own.
func TestTheDemoJobsOpenWithoutASelfMadeFinding(t *testing.T) {
	own := []string{
		"well-does-not-fit",
		"little-rubber-beside",
		"well-deeper-than-rubber",
		"parting-misses",
		"upright-parting-in-bent-box",
		"vent-opens-nothing",
		"no-vent",
		"air-trapped",
		"air-trapped-more",
	}
	for _, p := range parts.All() {
		m := demo(t, p.Key)
		q := asked(t, m)
		for _, f := range studied(t, m, q).Findings {
			assert.NotContains(t, own, f.Code, "%s: %s", p.Key, f.What)
		}
	}
}

// A cut block may stand upright in any box.
func TestACutThatStandsUprightTakesEveryBox(t *testing.T) {
	m := taken(t, meshtest.Turned(64, [2]float64{0, 0}, [2]float64{18, 0}, [2]float64{12, 60}, [2]float64{0, 60}))
	q := asked(t, m)
	q.Kind = design.Cut
	q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB, q.Design.ResinUp = axis.PlusY, axis.PlusZ, axis.PlusZ, axis.PlusZ
	rectangle := built(t, m, q)
	for _, form := range []design.Box{{Form: string(box.Sleeve)}, {Form: string(box.Round)}, {Form: string(box.Contour)},
		{Form: string(box.Own), Wide: 90, Deep: 70}} {
		q.Design.Box = form
		b := built(t, m, q)
		assert.InEpsilon(t, b.Plan.Box.Volume.Value-b.Plan.Part.Value, b.Plan.Rubber.Value+b.Plan.Channels.Value, 1e-9, form.Form)
		assert.True(t, b.Plan.Box.Stands.Along(axis.PlusZ), "%s: it stands for its pour", form.Form)
		var sheets []string
		for _, s := range b.Plan.Sheets() {
			sheets = append(sheets, s.Key)
		}
		if form.Form == string(box.Own) {
			assert.Contains(t, sheets, "blanking")
			continue
		}
		assert.Contains(t, sheets, "bent", form.Form)
		assert.NotContains(t, sheets, "boards", form.Form)
		if form.Form != string(box.Sleeve) {
			assert.Less(t, b.Plan.Rubber.Value, rectangle.Plan.Rubber.Value, "%s spares rubber", form.Form)
		}
	}
}

// A figure that stands on its foot, with the sprue at the floor, is not hung
// from it.
func TestAPartIsHeldWhereItsSprueIs(t *testing.T) {
	m := taken(t, meshtest.Turned(64, [2]float64{0, 0}, [2]float64{18, 0}, [2]float64{12, 60}, [2]float64{0, 60}))
	q := asked(t, m)
	q.Kind = design.Cut
	q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB = axis.PlusY, axis.PlusZ, axis.PlusZ
	q.Design.Feed, q.Design.ResinUp = practice.FeedTop, axis.MinusZ
	var err error
	q.Design.Vents, err = m.ProposeVents(t.Context(), q)
	require.NoError(t, err)
	assert.NotContains(t, steps(built(t, m, q)), "Hang", "upside down for the resin, it stands on its opening for the rubber")
	q.Design.ResinUp = axis.PlusZ
	assert.Contains(t, steps(built(t, m, q)), "Hang", "its opening is on top: it hangs from the rod")
}

// Minutes at the bucket follow what is in it.
func TestThePotLifeIsHeldAgainstTheBatchThatIsPoured(t *testing.T) {
	fast := mix.Material{
		Name:    "fast",
		Ratio:   mix.Ratio{A: 1, B: 1},
		Density: 1.1,
		Traits:  mix.Traits{Family: "tin", Shore: 25, Elongation: 350, Viscosity: 8, PotLife: 7, Demould: 60},
	}
	small, large := taken(
		t,
		meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 12}),
	), taken(
		t,
		meshtest.Box(r3.Vec{}, r3.Vec{X: 200, Y: 150, Z: 60}),
	)
	for m, late := range map[*bench.Master]bool{small: false, large: true} {
		q := asked(t, m)
		q.Rubber, q.Kind = &fast, design.Cut
		b := built(t, m, q)
		f := coded(b.Findings, "pot-life-short")
		if late {
			require.NotNil(t, f)
			assert.Greater(t, f.Figure.Value, f.Limit.Value)
		} else {
			assert.Nil(t, f, "a cup of rubber is mixed and poured in no time")
		}
		q.House.MixMinutes, q.House.DegasMinutes, q.House.PourMinutes = 4, 6, 5
		assert.NotNil(t, coded(built(t, m, q).Findings, "pot-life-short"), "a shop that takes fifteen minutes is told")
	}
}

// Findings carry a figure of the same kind as its limit.
func TestFiguresAndLimitsCanBeCompared(t *testing.T) {
	for _, key := range []string{"deck-cleat", "instrument-bezel"} {
		m := demo(t, key)
		q := asked(t, m)
		q.Design.Clearance.Beside, q.Design.WellDepth, q.Design.Vents = 4, 40, nil
		q.Kind = design.Squeeze
		for _, f := range built(t, m, q).Findings {
			if f.Limit != nil {
				require.NotNil(t, f.Figure, f.Code)
				assert.Equal(t, f.Figure.Kind, f.Limit.Kind, f.Code)
			}
			for _, r := range f.Remedies {
				assert.NotEmpty(t, r.Label, f.Code)
			}
		}
	}
}
