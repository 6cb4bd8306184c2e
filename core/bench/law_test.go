package bench_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/sheet"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var (
	house = practice.Usual()
	tin   = mix.Material{Name: "tin 30", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.18,
		Traits: mix.Traits{Family: "tin", Shore: 30, Elongation: 350, Viscosity: 20, PotLife: 40, Demould: 960}}
	quick = mix.Material{
		Name:    "quick",
		Ratio:   mix.Ratio{A: 1, B: 1},
		Density: 1.05,
		Traits:  mix.Traits{PotLife: 6, Demould: 30, MinSection: 1, MaxSection: 60},
	}
)

// taken takes a mesh in hand as it would come from a file.
func taken(t testing.TB, m *mesh.Mesh) *bench.Master {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return bench.Take(part.Master{Name: "part", Mesh: m, Report: r})
}

// asked is the question about the proposed design of a master.
func asked(t testing.TB, m *bench.Master) bench.Question {
	t.Helper()
	d, err := m.Start(t.Context(), house)
	require.NoError(t, err)
	return bench.Question{Design: d, Rubber: &tin, Resin: &quick, Wanted: 60, House: house}
}

// ganged has so many cavities.
func ganged(t testing.TB, m *bench.Master, q bench.Question, n int) bench.Question {
	t.Helper()
	g, err := m.Gang(t.Context(), q, gang.Ask{Count: n, Gap: 8, Edge: q.Design.Clearance.Beside})
	require.NoError(t, err)
	require.Len(t, g.Poses, n)
	q.Design.Gap = 8
	q.Design.Gang = nil
	for _, p := range g.Poses {
		q.Design.Gang = append(q.Design.Gang, design.Pose{p.X, p.Y, p.Turn})
	}
	return q
}

// bracket is an L with a boss: it draws along z, and its foot is flat.
func bracket() *mesh.Mesh {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 46, Y: 30, Z: 9})
	m.Append(meshtest.Box(r3.Vec{X: 3, Y: 3, Z: 7}, r3.Vec{X: 15, Y: 27, Z: 26}))
	return m
}

// Whatever is shown in two places is the same figure, for every kind, one
// cavity and several, a mesh and measures.
func TestEveryFigureIsTheSameWhereverItIsShown(t *testing.T) {
	masters := map[string]*bench.Master{
		"mesh": taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 46, Y: 30, Z: 14})),
		"knob": taken(t, meshtest.Sphere(14, 24)),
		"measured": bench.Take(
			part.Master{Name: "by hand", Measured: &part.Measured{Length: 50, Width: 30, Height: 20, Volume: 18, How: "displaced water"}},
		),
	}
	for name, m := range masters {
		for _, cavities := range []int{1, 3} {
			if cavities > 1 && name == "knob" {
				continue // it tells nothing new, and takes its time
			}
			q := asked(t, m)
			if cavities > 1 {
				q = ganged(t, m, q, cavities)
			}
			t.Run(fmt.Sprintf("%s, %d", name, cavities), func(t *testing.T) {
				t.Parallel()
				ranked, err := m.Rank(t.Context(), q, func(string, *build.Row) {})
				require.NoError(t, err)
				require.Len(t, ranked, len(kinds.All))
				for _, row := range ranked {
					if row.Build == nil {
						assert.NotEmpty(t, row.Why, row.Kind.Name)
						assert.False(t, row.Fits)
						continue
					}
					t.Run(string(row.Kind.Key), func(t *testing.T) { agrees(t, m, q, row) })
				}
			})
			assert.Len(t, kinds.Built, 9)
		}
	}
}

// agrees holds all that is said of one mould against each other.
func agrees(t *testing.T, m *bench.Master, q bench.Question, row build.Row) {
	q.Kind = row.Kind.Key
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	b, err := m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	p := b.Plan
	n := float64(q.Design.Cavities())

	// the row of the ranking is the build of the board
	for what, pair := range map[string][2]derive.Number{
		"rubber": {row.Build.Plan.Rubber, p.Rubber}, "to mix": {row.Build.Plan.Mixed, p.Mixed},
		"work": {row.Build.Hands, b.Hands}, "curing": {row.Build.Waits, b.Waits},
		"first pull": {row.Build.First, b.First}, "finishing": {row.Build.Finish, b.Finish}, "moulds": {row.Build.Moulds, b.Moulds},
		"hours": {row.Build.Effort, b.Effort}, "score": {row.Build.Score, b.Score}, "pulls": {row.Build.Plan.Life, p.Life},
		// what was said while a hand dragged stays true
		"box": {s.Plan.Box.Volume, p.Box.Volume}, "height": {s.Plan.Box.Height, p.Box.Height}, "part": {s.Plan.Part, p.Part},
		"parts": {s.Plan.Parts, p.Parts},
		"life":  {s.Plan.Life, p.Life}, "shot": {s.Shot.Total, b.Study.Shot.Total}, "cavity": {s.Shot.Cavity, b.Study.Shot.Cavity},
	} {
		assert.Equal(t, pair[0].Value, pair[1].Value, what)
	}
	assert.Equal(t, row.Fits, len(b.Stops()) == 0, "a row fits when its board shows no stop")
	if s.Plan.Rubber.Value > 0 {
		assert.InEpsilon(t, s.Plan.Rubber.Value, p.Rubber.Value, 1e-9, "rubber before and after dividing it")
	}

	// rubber: the box less the parts, the pours, the pieces, the rail, the file
	require.True(t, p.Divided || !p.Known)
	if p.Rubber.Value > 0 && !row.Kind.Shelled {
		assert.InEpsilon(t, p.Box.Volume.Value-p.Parts.Value, p.Rubber.Value+p.Channels.Value, 1e-9, "box less parts, less channels")
		channels := 0.0
		for _, c := range s.Gates.Channels {
			channels += c.Volume.Value
		}
		assert.InDelta(t, channels, p.Channels.Value, 1e-9, "rods and channels are the same bodies")
	}
	assert.InEpsilon(t, n*p.Part.Value, p.Parts.Value, 1e-12)
	known, sum, mixed, pieces := true, 0.0, 0.0, 0.0
	for i, pour := range p.Pours {
		known = known && pour.Known
		sum, mixed = sum+pour.Volume.Value, mixed+pour.Mixed.Value
		if !pour.Known {
			continue
		}
		if pour.Batch != nil {
			assert.InEpsilon(t, pour.Mixed.Value, pour.Batch.Volume.Value, 1e-9, "%s is weighed as it is mixed", pour.Name)
			assert.InEpsilon(t, pour.Batch.Mass.Value, pour.Batch.A.Value+pour.Batch.B.Value, 1e-9)
		}
		if r := b.Study.Pours[i]; len(r.Volumes) > 0 {
			assert.InEpsilon(t, 1000*pour.Volume.Value, r.Volumes[len(r.Volumes)-1], 1e-6, "the rail of %s holds what is poured", pour.Name)
			if pour.Level > 0 && pour.Bed == 0 {
				assert.InDelta(t, pour.Level, r.Heights[len(r.Heights)-1], 1e-6, "and reaches as high")
			}
		}
	}
	if known {
		assert.InEpsilon(t, p.Rubber.Value, sum, 1e-9, "the pours are the rubber")
		assert.InEpsilon(t, p.Mixed.Value, mixed, 1e-9)
	}
	if bodies := p.Bodies(); len(bodies) > 0 {
		var mesh float64
		for _, body := range bodies {
			pieces += body.Volume.Value
			mesh += body.Mesh.Volume() / 1000
		}
		assert.InEpsilon(t, p.Rubber.Value, pieces, 1e-9, "the pieces are the rubber")
		assert.InEpsilon(t, p.Rubber.Value, mesh, 0.006, "and so are their files")
	}
	if b.Weight != nil && known && p.Rubber.Value > 0 {
		assert.InEpsilon(t, p.Rubber.Value*tin.Density, p.Weight, 1e-9)
		assert.Greater(t, b.Weight.Value, p.Weight, "a shot comes on top")
	}

	// the shot is its lines, and has the channels that the gates have
	var lines, channels float64
	for _, l := range s.Shot.Lines {
		lines += l.Volume.Value
	}
	assert.InEpsilon(t, s.Shot.Total.Value, lines, 1e-9)
	for _, c := range s.Gates.Channels {
		channels += c.Volume.Value
	}
	assert.InDelta(t, channels, s.Shot.Channels.Value, 1e-9)
	assert.InEpsilon(t, n*p.Part.Value, s.Shot.Cavity.Value, 1e-9)
	assert.Equal(t, row.Kind.Resin == kinds.Sprued, has(s.Gates, channel.Sprue), "a sprue where resin comes in through one")
	assert.Equal(t, row.Kind.Resin == kinds.Pressed, has(s.Gates, channel.Blind))
	assert.InEpsilon(t, s.Shot.Cavity.Value+s.Shot.Channels.Value+s.Shot.Margin.Value, s.Shot.Total.Value, 1e-9)

	// the steps do for every channel and pour what there is to do, and go on to the first casting
	var text, casting []string
	var minutes float64
	pours := map[int]bool{}
	for _, st := range b.Steps {
		minutes += st.Minutes
		if st.Pour >= 0 {
			pours[st.Pour] = true
		}
		if st.Casting {
			casting = append(casting, st.Do)
		} else {
			text = append(text, st.Do)
		}
	}
	assert.InDelta(t, b.First.Value, minutes/60, 1e-9, "the hours are those of the steps")
	assert.Len(t, pours, len(p.Pours), "each pour has its step")
	require.NotEmpty(t, casting, "the sheet goes on to the first casting")
	making := strings.Join(text, "\n")
	if row.Kind.Resin == kinds.Sprued {
		assert.Regexp(t, "sprue", making, "somebody makes the sprue that is cleaned later")
	} else {
		assert.NotRegexp(t, "sprue|vents", making+strings.Join(casting, "\n"), "nobody makes or cleans what there is not")
	}
	for _, pour := range p.Pours {
		if pour.Level > 0 {
			assert.Contains(t, making, fmt.Sprintf("to %.1f mm", pour.Level), "the step pours as high as the plan says")
		}
	}

	// every sheet can be drawn, and none but those that are listed
	for _, s := range p.Sheets() {
		drawn, err := sheet.Of(p, s.Key, m.Solid, house.PanelThick)
		require.NoError(t, err, s.Key)
		assert.NotEmpty(t, drawn.Lines, s.Key)
	}
	_, err = sheet.Of(p, "star", m.Solid, house.PanelThick)
	assert.ErrorIs(t, err, sheet.ErrNone)

	// findings have a name each, and no two say the same
	code := regexp.MustCompile(`^[a-z]+(-[a-z]+)*$`)
	said := map[string]bool{}
	for _, f := range append(append([]finding.Finding{}, b.Findings...), s.Findings...) {
		assert.Regexp(t, code, f.Code, f.What)
		assert.NotEmpty(t, f.Why, f.Code)
	}
	for _, f := range b.Findings {
		assert.False(t, said[f.What], "said twice: %s", f.What)
		said[f.What] = true
	}
}

func has(l gate.Layout, kind channel.Kind) bool {
	for _, c := range l.Channels {
		if c.Kind == kind {
			return true
		}
	}
	return false
}

// What a gang costs on its tab is what its build costs.
func TestAGangCostsTheSameOnItsTabAndOnTheBoard(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 10}))
	for _, n := range []int{2, 4} {
		q := asked(t, m)
		g, err := m.Gang(t.Context(), q, gang.Ask{Count: n, Gap: 8, Edge: q.Design.Clearance.Beside})
		require.NoError(t, err)
		for _, kind := range []design.Kind{design.Clay, design.Cut, design.OpenFace} {
			q := ganged(t, m, q, n)
			q.Kind = kind
			g, err := m.Place(t.Context(), q, g.Poses, 8, q.Design.Clearance.Beside)
			require.NoError(t, err)
			b, err := m.Build(t.Context(), q, nil)
			require.NoError(t, err)
			assert.InEpsilon(t, b.Plan.Rubber.Value, g.Rubber.Value, 1e-9, "%d as %s", n, kind)
			assert.InEpsilon(t, g.Rubber.Value/float64(n), g.Each.Value, 1e-12)
		}
	}
}

// Turning a part on the bench changes none of its figures.
func TestATurnedMasterIsTheSameMould(t *testing.T) {
	m := taken(t, bracket())
	q := asked(t, m)
	q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB, q.Design.ResinUp = axis.PlusZ, axis.PlusZ, axis.MinusZ, axis.PlusZ
	var err error
	q.Design.Vents, err = m.ProposeVents(t.Context(), q)
	require.NoError(t, err)
	upright, err := part.Turn{}.Upright(r3.Vec{X: 1})
	require.NoError(t, err)
	lying := taken(t, bracket().Turned(upright.Rotation()))
	turned := q
	z := upright.Rotation().Rotate(r3.Vec{Z: 1})
	for _, a := range axis.All {
		if r3.Dot(a.Dir(), z) > 0.9 {
			turned.Design.Draw, turned.Design.RubberUpA, turned.Design.RubberUpB, turned.Design.ResinUp = a, a, a.Opposite(), a
		}
	}
	turned.Design.Vents, err = lying.ProposeVents(t.Context(), turned)
	require.NoError(t, err)
	for _, k := range kinds.Built {
		q.Kind, turned.Kind = k.Key, k.Key
		one, err := m.Build(t.Context(), q, nil)
		require.NoError(t, err)
		other, err := lying.Build(t.Context(), turned, nil)
		require.NoError(t, err)
		tolerance := 1e-3 // the sprue is placed to a twentieth of a millimetre, a channel round the part follows a raster
		if k.Shelled {
			tolerance = 0.01 // a skin is laid on a grid
		}
		assert.InEpsilon(t, one.Plan.Rubber.Value, other.Plan.Rubber.Value, tolerance, k.Name)
		assert.InEpsilon(t, one.Plan.Box.Volume.Value, other.Plan.Box.Volume.Value, 1e-3, k.Name)
		assert.InDelta(t, one.First.Value, other.First.Value, 0.05, k.Name)
	}
}
