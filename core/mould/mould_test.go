package mould_test

import (
	"math"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/box"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/part"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/prep"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var house = practice.Usual()

func taken(t *testing.T, m *mesh.Mesh) *bench.Master {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return bench.Take(part.Master{Name: "part", Mesh: m, Report: r})
}

// drawn is a question about a design that is drawn along a way, the first half
// poured that way up and the other turned over. It is fed from the top, so that
// the box has its clearances and no more.
func drawn(t *testing.T, m *bench.Master, draw axis.Axis, kind design.Kind) bench.Question {
	t.Helper()
	d, err := m.Start(t.Context(), house)
	require.NoError(t, err)
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp = draw, draw, draw.Opposite(), axis.PlusZ
	d.Clearance = practice.Clearance{Beside: 10, Below: 12, Above: 20}
	d.Feed = practice.FeedTop
	return bench.Question{Design: d, Kind: kind, House: house}
}

func lay(t *testing.T, m *bench.Master, q bench.Question) mould.Plan {
	t.Helper()
	p, err := m.Lay(t.Context(), q)
	require.NoError(t, err)
	return p
}

func TestABallIsPartedAtItsEquator(t *testing.T) {
	m := taken(t, meshtest.Moved(meshtest.Sphere(20, 96), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{X: 7, Y: 8, Z: 9}))
	for _, draw := range axis.All {
		p := lay(t, m, drawn(t, m, draw, design.Clay))
		assert.InDelta(t, draw.Of(r3.Vec{X: 7, Y: 8, Z: 9}), p.Parting.Height, 0.6, "draw %s", draw)
		assert.InDelta(t, 60, p.Box.Wide, 0.01)
		assert.InDelta(t, 72, p.Box.Height.Value, 0.01)
	}
}

// By hand: a block of 80 by 60 by 50 in 10 beside, 12 below and 20 above.
func TestTheBoxOfABlockByHand(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 80, Y: 60, Z: 50}))
	p := lay(t, m, drawn(t, m, axis.PlusZ, design.Cut))
	assert.InDelta(t, 100*80*82/1000.0, p.Box.Volume.Value, 1e-9)
	assert.InDelta(t, (100*80*82-80*60*50)/1000.0, p.Rubber.Value+p.Channels.Value, 1e-9)
	assert.InDelta(t, 82, p.Box.Depth(axis.PlusZ), 1e-9)
	assert.InDelta(t, 100, p.Box.Depth(axis.MinusX), 1e-9)
	across, tall := p.Box.Footprint(axis.PlusZ)
	assert.InDelta(t, math.Hypot(100, 80), across, 1e-6)
	assert.InDelta(t, 82, tall, 1e-9)
	var sides [][2]float64
	for _, panel := range p.Box.Panels {
		sides = append(sides, [2]float64{panel.A.Value, panel.B.Value})
	}
	assert.Contains(t, sides, [2]float64{100, 92}, "long walls, with 10 mm of freeboard")
	assert.InDelta(t, 12, p.Under(), 1e-9)
	assert.InDelta(t, p.Box.Volume.Value, p.Box.Block().Volume()/1000, 1e-9, "the block that is drawn")
	assert.InDelta(t, 80*60.0, p.Shadow(), 60*80*0.02)
}

// By hand: a sprue of 8 mm beside a block has 5 mm of rubber to the block, and
// the well of 16 over it 4 to the wall: 21 from block to wall, 11 more than there
// are beside. The gate comes in the parting. Led to the underside of the block, a
// runner of 6 lies under it, and the sprue that it grows out of is wider: 5 + 3 +
// 4 + 4 make 16, 4 more than there are below. It stands on a narrow side, where
// the box grows least.
func TestTheBoxMakesRoomForItsSprue(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 80, Y: 60, Z: 50}))
	for _, form := range []string{"", "in the parting", "contour", "follow", "round", "sleeve"} {
		q := drawn(t, m, axis.PlusZ, design.Cut)
		q.Design.Foot = &design.Place{40, 30, 0}
		below := 16.0
		if form == "in the parting" {
			form, q.Design.Foot, below = "", nil, 12
		}
		q.Design.Feed, q.Design.SprueBore, q.Design.WellWidth = practice.FeedLow, 8, 16
		q.Design.Box.Form = form
		p := lay(t, m, q)
		assert.InDelta(t, below, p.Under(), 1e-6)
		assert.InDelta(t, 50+below+20, p.Box.Height.Value, 1e-6)
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		for _, c := range s.Gates.Channels {
			for _, at := range c.Path {
				in := p.Box.Frame.In(at)
				for k := range 16 {
					sin, cos := math.Sincos(float64(k) * math.Pi / 8)
					rim := plane.Point{in.X + (c.Bore/2+3.5)*cos, in.Y + (c.Bore/2+3.5)*sin}
					assert.True(t, plane.Inside(p.Box.Ring, rim), "%s: the %s has no wall", form, c.Kind)
				}
			}
		}
		for _, f := range s.Findings {
			assert.NotEqual(t, "well-does-not-fit", f.Code)
		}
		if form == "" {
			assert.InDelta(t, 111*80*(70+below)/1000.0, p.Box.Volume.Value, 1e-3)
		}
	}
}

// The clearances follow the way up: what is under the part at the pour is
// under it, whichever way it is drawn.
func TestClearancesFollowTheWayUp(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}))
	for _, up := range axis.All {
		q := drawn(t, m, up, design.Cut)
		p := lay(t, m, q)
		low, high := up.Span(p.Box.Bounds)
		partLow, partHigh := up.Span(m.Part.Bounds())
		assert.InDelta(t, 12, partLow-low, 1e-9, "below, %s up", up)
		assert.InDelta(t, 20, high-partHigh, 1e-9, "above, %s up", up)
	}
	q := drawn(t, m, axis.PlusZ, design.OpenFace)
	p := lay(t, m, q)
	low, _ := axis.PlusZ.Span(p.Box.Bounds)
	assert.InDelta(t, 0, low, 1e-9, "a part on its board has no rubber under it")
}

// Law: whatever kind, the rubber of a plan, its parts and its channels fill the box; its
// pours and pieces are that rubber.
func TestRubberAndPartsFillTheBox(t *testing.T) {
	tapered := meshtest.Turned(48, [2]float64{0, 0}, [2]float64{16, 0}, [2]float64{10, 24}, [2]float64{0, 24})
	m := taken(t, tapered)
	for _, k := range kinds.Built {
		if k.Shelled {
			continue
		}
		for _, form := range []box.Form{box.Rectangle, box.Sleeve, box.Round, box.Contour, box.Follow} {
			q := drawn(t, m, axis.PlusZ, k.Key)
			q.Design.Box.Form = string(form)
			p := lay(t, m, q)
			assert.InEpsilon(t, p.Box.Volume.Value, p.Rubber.Value+p.Parts.Value+p.Channels.Value, 1e-9, "%s in %s", k.Name, form)
			assert.InDelta(t, tapered.Volume()/1000, p.Parts.Value, 1e-6)
			if form != box.Rectangle {
				assert.Positive(t, p.Box.Strip.Value)
			}
		}
	}
}

// A pipe that stands while the parting stands upright: the parting is as wide
// as the pipe's chord there, and as tall as the pipe.
func TestAnUprightPartingInAPipe(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 24}))
	q := drawn(t, m, axis.PlusY, design.Cut)
	q.Design.RubberUpA, q.Design.RubberUpB, q.Design.Box.Form = axis.PlusZ, axis.PlusZ, string(box.Round)
	q.Design.Feed = practice.FeedTop // no sprue beside the part that the pipe would be wider for
	radius := math.Hypot(15, 10) + 10
	for _, off := range []float64{0, 6, -9} {
		at := 10 + off
		q.Design.Parting = &at
		p := lay(t, m, q)
		ring := p.Across()
		wide, tall := 0.0, 0.0
		for i, a := range ring {
			b := ring[(i+1)%len(ring)]
			d := math.Hypot(b[0]-a[0], b[1]-a[1])
			wide, tall = max(wide, d), d
			if i > 0 {
				tall = min(tall, math.Hypot(ring[0][0]-ring[1][0], ring[0][1]-ring[1][1]))
			}
		}
		assert.InEpsilon(t, max(56, 2*math.Sqrt(radius*radius-off*off)), wide, 2e-3, "%v mm beside the middle", off)
		assert.InEpsilon(t, min(56, 2*math.Sqrt(radius*radius-off*off)), tall, 2e-3)
	}
}

// A wall that follows a U goes into its hollow, whichever way the mould
// stands, and the block that it holds is closed and as large as it says.
func TestAWallThatFollowsThePart(t *testing.T) {
	outline := [][2]float64{{0, 0}, {60, 0}, {60, 50}, {45, 50}, {45, 15}, {15, 15}, {15, 50}, {0, 50}}
	flat := r3.NewRotation(-math.Pi/2, r3.Vec{X: 1}) // the outline lies level
	m := taken(t, meshtest.Moved(meshtest.Extruded(outline, 20), flat, r3.Vec{Z: 20}))
	for _, draw := range []axis.Axis{axis.PlusZ, axis.MinusZ, axis.PlusX} {
		q := drawn(t, m, draw, design.Cut)
		q.Design.Clearance.Beside = 7
		q.Design.RubberUpA = axis.PlusZ
		q.Design.Box.Form = string(box.Contour)
		round := lay(t, m, q)
		q.Design.Box.Form = string(box.Follow)
		p := lay(t, m, q)
		assert.Less(t, p.Box.Volume.Value, round.Box.Volume.Value-10, "draw %s", draw)
		assert.Greater(t, p.Box.Saved.Value, round.Box.Saved.Value)
		assert.InDelta(t, 7, p.Box.Nearest, 0.3)
		block := p.Box.Block()
		_, r, err := mesh.Load(block.WriteSTL(), 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open)
		assert.InEpsilon(t, p.Box.Volume.Value*1000, math.Abs(block.Volume()), 1e-6)
		b, err := m.Build(t.Context(), q, nil)
		require.NoError(t, err, "draw %s", draw)
		assert.InEpsilon(t, p.Rubber.Value, b.Plan.Rubber.Value, 1e-9)
		assert.NotNil(t, b.Plan.Cut)
	}
}

// Filled with water or rice, a box holds what it holds: what is mixed follows
// from that, and a box that is far off its sides is told.
func TestABoxThatWasFilledWithWater(t *testing.T) {
	ball := meshtest.Sphere(15, 48)
	m := taken(t, ball)
	q := drawn(t, m, axis.PlusZ, design.Clay)
	part := ball.Volume() / 1000
	sized := lay(t, m, q).Box.Sized.Value
	for _, c := range []struct {
		filled float64
		empty  bool
		box    float64
		code   string
	}{
		{sized, true, sized, ""},
		{sized - part, false, sized, ""},
		{1.04 * sized, true, 1.04 * sized, ""},
		{1.2 * sized, true, 1.2 * sized, "box-measured-off"},
		{0.8 * sized, false, 0.8*sized + part, "box-measured-off"},
		{0.5 * part, true, 0.5 * part, "box-holds-less-than-part"},
	} {
		q.Design.Box.Filled, q.Design.Box.Empty = c.filled, c.empty
		p := lay(t, m, q)
		assert.InEpsilon(t, c.box, p.Box.Volume.Value, 1e-6)
		assert.InEpsilon(t, c.box-part, p.Rubber.Value+p.Channels.Value, 1e-6)
		codes := ""
		for _, f := range p.Findings() {
			if f.Code == "box-measured-off" || f.Code == "box-holds-less-than-part" {
				codes += f.Code
			}
		}
		assert.Equal(t, c.code, codes, "%v mL", c.filled)
	}
	q.Design.Box.Filled = -1
	_, err := m.Lay(t.Context(), q)
	assert.ErrorContains(t, err, "fills the box")
}

func TestAGangIsOneBoxRoundAllCavities(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	q := drawn(t, m, axis.PlusZ, design.Clay)
	q.Design.Gang = []design.Pose{{0, 0, 0}, {38, 0, 0}, {0, 28, 180}}
	p := lay(t, m, q)
	assert.Equal(t, 3, p.Design.Cavities())
	assert.InDelta(t, 18, p.Parts.Value, 1e-9)
	assert.InDelta(t, (68+20)*(48+20)*42/1000.0, p.Box.Volume.Value, 1e-6, "two by two places, one of them free")
	assert.Len(t, p.Above(), 3)
	maps := p.Cavities.Carried()
	require.Len(t, maps, 3)
	for _, c := range maps { // an affine map that keeps lengths and hands
		x, y, z := r3.Vec{X: c[0], Y: c[4], Z: c[8]}, r3.Vec{X: c[1], Y: c[5], Z: c[9]}, r3.Vec{X: c[2], Y: c[6], Z: c[10]}
		assert.InDelta(t, 1, r3.Dot(x, r3.Cross(y, z)), 1e-9)
		assert.InDelta(t, 1, r3.Norm(x), 1e-9)
	}
	var sheets []string
	for _, s := range p.Sheets() {
		sheets = append(sheets, s.Key)
	}
	assert.Contains(t, sheets, "gang")
}

func TestCavitiesThatCrowdAreTold(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	q := drawn(t, m, axis.PlusZ, design.Clay)
	for apart, code := range map[float64]string{38: "", 33: "little-rubber-between", 29: "cavities-overlap", 0: "cavities-overlap"} {
		q.Design.Gang = []design.Pose{{}, {apart, 0, 0}}
		var said string
		for _, f := range lay(t, m, q).Findings() {
			if f.Code == "little-rubber-between" || f.Code == "cavities-overlap" {
				said = f.Code
				assert.Equal(t, said == "cavities-overlap", f.Severity == finding.Stop)
			}
		}
		assert.Equal(t, code, said, "%g mm apart", apart)
	}
}

// A house choice that cannot be is refused with what to do about it.
func TestMouldsThatCannotBe(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}))
	for says, change := range map[string]func(*design.Design){
		"clearance beside":      func(d *design.Design) { d.Clearance.Beside = 0 },
		"clearance below":       func(d *design.Design) { d.Clearance.Below = math.NaN() },
		"outside the box":       func(d *design.Design) { far := 4000.0; d.Parting = &far },
		"does not go into that": func(d *design.Design) { d.Box = design.Box{Form: string(box.Own), Wide: 10, Deep: 10} },
		"say how wide and deep": func(d *design.Design) { d.Box = design.Box{Form: string(box.Own)} },
		"rubber allowance":      func(d *design.Design) { d.RubberOver = math.Inf(1) },
		"a box is a rectangle":  func(d *design.Design) { d.Box.Form = "star" },
		"the skin":              func(d *design.Design) { d.Skin = -3 },
		"more than the 60":      func(d *design.Design) { d.Gang = make([]design.Pose, 61) },
	} {
		q := drawn(t, m, axis.PlusZ, design.Clay)
		change(&q.Design)
		_, err := m.Lay(t.Context(), q)
		assert.ErrorContains(t, err, says)
	}
}

func TestInsertsAreHeldByTheHalfTheySitIn(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	p := lay(t, m, drawn(t, m, axis.PlusZ, design.Clay))
	at := func(z float64) *design.Place { v := design.Place{30, 20, z}; return &v }
	codes := func(in design.Insert) string {
		f := p.InsertFindings([]design.Insert{in})
		require.Len(t, f, 1)
		assert.Equal(t, finding.Mould, f[0].Stage)
		return f[0].Code + ": " + f[0].What
	}
	assert.Contains(t, codes(design.Insert{Kind: prep.Thread, Note: "M4"}), "insert-unplaced: Nobody has said where the")
	assert.Contains(t, codes(design.Insert{Kind: prep.Thread, Note: "M4", At: at(19)}), "insert-on-a-pin: Half A holds the")
	assert.Contains(t, codes(design.Insert{Kind: prep.Thread, Note: "M4", At: at(1)}), "insert-on-a-pin: Half B holds the")
}

// A kind without halves names none.
func TestWhatIsSaidFitsTheKind(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	for _, k := range kinds.Built {
		q := drawn(t, m, axis.PlusZ, k.Key)
		q.Rubber = &mix.Material{Name: "r", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.2, Traits: mix.UsualRubber}
		q.Design.Clearance = practice.Clearance{Beside: 2, Below: 2, Above: 2}
		p, err := m.Plan(t.Context(), q, nil)
		require.NoError(t, err)
		assert.Equal(t, !k.OnBoard && !k.Peeled, p.Parted(), k.Name)
		for _, f := range p.Findings() {
			if !k.Halves && !k.Cut && !k.Shelled {
				assert.NotContains(t, f.What, "half", k.Name)
				assert.NotContains(t, f.What, "parting", k.Name)
			}
		}
		for _, s := range p.Prints() {
			assert.NotEmpty(t, s.Label)
		}
		if k.Halves {
			assert.Positive(t, p.Level())
			require.Len(t, p.Bodies(), 2)
		}
	}
}
