package gate

import (
	"context"
	"math"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"
	"bathyform/core/quantity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var zUp = r3.Vec{Z: 1}

// stood is a master in a box with 10 mm beside and below and 20 above it.
type stood struct {
	*fill.Space
	Mould
	at r3.Vec // what its box was grown by
}

func space(t testing.TB, m *mesh.Mesh) stood {
	t.Helper()
	return standing(t, m, zUp)
}

// standing is a mould whose resin comes in with a direction of the mesh up; it
// stands out of level as well.
func standing(t testing.TB, m *mesh.Mesh, up r3.Vec) stood {
	t.Helper()
	s, err := fill.Prepare(m, up, fill.Options{Sound: true})
	require.NoError(t, err)
	b := m.Bounds()
	by := r3.Add(r3.Vec{X: 10, Y: 10, Z: 10}, r3.Scale(10, up))
	box := r3.Box{Min: r3.Sub(b.Min, r3.Vec{X: 10, Y: 10, Z: 10}), Max: r3.Add(b.Max, by)}
	return stood{Space: s, Mould: Mould{
		Master: channel.NewMaster(
			m,
		), Known: true, Places: []func(r3.Vec) r3.Vec{func(p r3.Vec) r3.Vec { return p }}, Grows: true, Up: up,
		Draw: zUp, Parted: true, Cavity: derive.Of(quantity.Volume, m.Volume()/1000, "given"),
		Clear: webs.Part, Between: webs.Apart, Wall: webs.Wall,
		Standing: func(_ context.Context, way r3.Vec) (*fill.Space, error) {
			if way == up {
				return s, nil
			}
			return fill.Prepare(m, way, fill.Options{Sound: true})
		},
	}.Boxed(box)}
}

// lay lays the channels, in a box that has grown for them.
func (s stood) lay(t testing.TB, c Choices) Layout {
	t.Helper()
	l, err := s.try(c)
	require.NoError(t, err)
	return l
}

func (s stood) try(c Choices) (Layout, error) {
	fed, err := s.Lead(context.Background(), c)
	if err != nil {
		return Layout{}, err
	}
	m := s.Mould
	for _, h := range fed.Holds() {
		m.Low = r3.Vec{X: min(m.Low.X, h.Min.X), Y: min(m.Low.Y, h.Min.Y), Z: min(m.Low.Z, h.Min.Z)}
		m.High = r3.Vec{X: max(m.High.X, h.Max.X), Y: max(m.High.Y, h.Max.Y), Z: m.High.Z}
	}
	return m.Lay(context.Background(), c, fed)
}

func of(l Layout, k channel.Kind) (out []Channel) {
	for _, c := range l.Channels {
		if c.Kind == k {
			out = append(out, c)
		}
	}
	return out
}

// horns has two separate high spots, the left one lower.
func horns() *mesh.Mesh {
	m := meshtest.Blocks(2, "########...", "...#####...", "...#####...", "...........")
	return m.Scaled(5)
}

func low(vents ...Vent) Choices {
	return Choices{
		Feed:      practice.FeedLow,
		SprueBore: 6,
		WellWidth: 20,
		WellDepth: 8,
		Vents:     vents,
		Webs:      webs,
		Stream:    practice.Usual().Stream,
	}
}

var webs = practice.Usual().Webs

func TestEveryHighSpotGetsOneVent(t *testing.T) {
	s := space(t, horns())
	vents := ProposeVents(s.Space, low(), 2)
	require.Len(t, vents, 2)
	assert.InDelta(t, 20, vents[0].At.Z, 1e-6, "the higher horn first")
	assert.InDelta(t, 15, vents[1].At.Z, 1e-6)
	assert.InDelta(t, 47.5, vents[0].At.X, 0.6, "in the middle of the level top")
	l := s.lay(t, low(vents...))
	assert.Empty(t, l.Trapped().Pockets)
	assert.InDelta(t, 20, l.PartHigh-l.PartLow, 1e-9)
	assert.InDelta(t, 20, l.Top-l.PartHigh, 1e-9)

	one := s.lay(t, low(vents[0]))
	require.Len(t, one.Trapped().Pockets, 1)
	assert.InEpsilon(t, 15*10*10, one.Trapped().Volume, 1e-9)
	plugged := vents[1]
	for state, left := range map[design.VentState]float64{"": 0, design.Weeps: 0, design.Plugged: 1500, design.Later: 1500} {
		plugged.State = state
		l := s.lay(t, low(vents[0], plugged))
		assert.InDelta(t, left, l.Trapped().Volume, 1e-6, "%q", state)
		there := 2
		if state == design.Later {
			there = 1
		}
		assert.Len(t, of(l, channel.Vent), there, "%q", state)
	}
	assert.Equal(t, vents, ProposeVents(s.Space, low(vents...), 2), "nothing is proposed where nothing is missing")
}

func TestFeedingFromTheTopVentsTheHighestSpotItself(t *testing.T) {
	s := space(t, horns())
	c := low()
	c.Feed, c.SprueBore = practice.FeedTop, 8
	l := s.lay(t, c)
	require.Len(t, l.Trapped().Pockets, 1, "the lower horn keeps its air")
	assert.Len(t, ProposeVents(s.Space, c, 2), 1)
	assert.InDelta(t, l.PartHigh, of(l, channel.Sprue)[0].Foot, 1e-9)
}

func TestLowFeedRunsUnderThePart(t *testing.T) {
	s := space(t, horns())
	s.Parted = false
	l := s.lay(t, low(Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2}))
	well, sprue, runner, gate, vent := of(l, channel.Well)[0], of(l, channel.Sprue)[0], of(l, channel.Runner)[0], of(l, channel.Gate)[0],
		of(l, channel.Vent)[0]
	assert.InDelta(t, l.PartLow-webs.Part-runner.Bore/2, runner.Foot, 1e-9, "clear of the part")
	assert.InDelta(t, webs.Wall, runner.Foot-runner.Bore/2, 1.3, "the box has grown for it; the sprue is wider")
	assert.InDelta(t, l.PartLow, gate.Top, 0.01, "the gate enters at the low end")
	assert.InDelta(t, l.Top-8, sprue.Foot, 1e-9, "up to the foot of the well")
	foot, b := sprue.Path[len(sprue.Path)-1], horns().Bounds()
	beside := math.Max(math.Max(b.Min.X-foot.X, foot.X-b.Max.X), math.Max(b.Min.Y-foot.Y, foot.Y-b.Max.Y))
	assert.GreaterOrEqual(t, beside, webs.Part+sprue.Bore/2-0.02, "rises beside the part")
	assert.InEpsilon(t, math.Pi/4*4*20/1000, vent.Volume.Value, 1e-9, "vent d 2 over 20 mm")
	assert.InEpsilon(t, math.Pi*8*(9+3*10+100)/3/1000, well.Volume.Value, 1e-9)
	assert.InEpsilon(t, math.Pi/400*(gate.Bore*gate.Bore+4), l.Scar().Value, 1e-9, "the mouths of gate and vent")
	for _, c := range l.Channels {
		assert.InEpsilon(t, c.Volume.Value*1000, c.VolumeBelow(l.Top), 1e-9, "%s is full at the top", c.Kind)
		last := 0.0
		for z := 0.0; z <= l.Top; z++ {
			v := c.VolumeBelow(z)
			assert.GreaterOrEqual(t, v, last)
			last = v
		}
	}
}

// A cone of 12 to 3 mm radius over 60 mm, and filled 40 mm from the thin end.
func TestAConeByItsLevel(t *testing.T) {
	body := channel.Body{Kind: channel.Well, Bore: 6, Rim: 24, Path: []r3.Vec{{}, {Z: 60}}}
	cone := Channel{Body: body, Foot: 0, Top: 60, Fills: true, Volume: derive.Of(quantity.Volume, body.Full()/1000, "given")}
	assert.InEpsilon(t, 11875, cone.VolumeBelow(60), 2e-4)
	assert.InEpsilon(t, 4900.9, cone.VolumeBelow(40), 2e-4)
}

func TestUprightPartingKeepsTheChannelsInIt(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	s.Draw, s.Parting = r3.Vec{Y: 1}, 10
	for _, c := range s.lay(t, low()).Channels {
		for _, p := range c.Path {
			assert.InDelta(t, 10, p.Y, 0.3, "%s", c.Kind)
		}
	}
}

// Four blocks stand in two rows over one another, with room for a rung between
// them: all hang on one sprue, in the parting, and what comes to the upper ones
// does not come through the lower.
func TestRowsOverOneAnotherAreFedByALadder(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	s.Draw, s.Parting, s.Places = r3.Vec{Y: 1}, 10, nil
	for _, by := range []r3.Vec{{}, {X: 60}, {Z: 30}, {X: 60, Z: 30}} {
		s.Places = append(s.Places, func(p r3.Vec) r3.Vec { return r3.Add(p, by) })
	}
	s.Mould.Low.X -= 3
	s.Mould.High = r3.Add(s.Mould.High, r3.Vec{X: 63, Z: 30})
	c := low(Vent{At: r3.Vec{X: 10, Y: 10, Z: 10}, Bore: 2})
	l := s.lay(t, c)
	assert.Equal(t, channel.Ladder, l.System)
	assert.Len(t, of(l, channel.Gate), 4)
	assert.Len(t, of(l, channel.Sprue), 1)
	assert.Len(t, of(l, channel.Vent), 4)
	assert.Empty(t, l.Faults)
	for _, c := range l.Channels {
		for i, p := range c.Path {
			if c.Kind != channel.Vent || i > 0 {
				assert.InDelta(t, 10, p.Y, 0.3, "%s in the parting", c.Kind)
			}
		}
	}
	assert.Greater(t, len(of(l, channel.Vent)[0].Path), 2, "led round the block that stands over it")
	assert.Zero(t, l.Air().Value, "every cavity is let out by its own vent")
	c.System = channel.Ring
	l = s.lay(t, c)
	require.NotEmpty(t, l.Faults)
	assert.ErrorIs(t, l.Faults[0].Err, channel.ErrSystem)
	assert.Equal(t, channel.Ladder, l.System, "and something is laid all the same")
}

// Four in a square: every way of a tree is as long, and of a comb it is not.
func TestATreeIsInBalance(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 10}))
	s.Places = nil
	for _, by := range []r3.Vec{{}, {X: 50}, {Y: 50}, {X: 50, Y: 50}} {
		s.Places = append(s.Places, func(p r3.Vec) r3.Vec { return r3.Add(p, by) })
	}
	s.Mould.High = r3.Add(s.Mould.High, r3.Vec{X: 50, Y: 50})
	c := low()
	c.System = channel.Tree
	l := s.lay(t, c)
	assert.Equal(t, channel.Tree, l.System)
	ways := map[int]float64{}
	for _, g := range of(l, channel.Gate) {
		at, sum := g.Path[0], 0.0 // back to the first halving
		for range 2 {
			for _, r := range of(l, channel.Runner) {
				if end := r.Path[len(r.Path)-1]; r3.Norm(r3.Sub(end, at)) < 1e-6 {
					sum, at = sum+r.Length(), r.Path[0]
					break
				}
			}
		}
		ways[g.Cavity] = sum
	}
	for i := range 4 {
		assert.InDelta(t, ways[0], ways[i], 0.5, "but for where the sprue stands beside the middle")
		assert.Greater(t, ways[i], 50.0)
	}
	c.System = channel.Each
	each := s.lay(t, c)
	assert.Len(t, of(each, channel.Well), 4)
	assert.Greater(t, volumes(each), volumes(s.lay(t, low())), "four wells take more than one")
}

func volumes(l Layout) (sum float64) {
	for _, c := range l.Channels {
		sum += c.Volume.Value
	}
	return sum
}

func TestVentOutsideThePartIsAProblemAndNotAnEnd(t *testing.T) {
	s := space(t, horns())
	l := s.lay(t, low(Vent{At: r3.Vec{X: -40}, Bore: 2}, Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2}))
	require.Len(t, l.Problems, 1)
	assert.Equal(t, 0, l.Problems[0].Vent)
	assert.ErrorContains(t, l.Problems[0].Err, "outside the part")
	assert.Len(t, l.Trapped().Pockets, 1)
}

// Where the caster puts the foot or the sprue it stays, and what is wrong with
// it is told with a way back.
func TestTheHandMayPutTheSprue(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 20}))
	at := func(p r3.Vec) *r3.Vec { return &p }
	for name, c := range map[string]struct {
		foot, shaft *r3.Vec
		code        string
	}{
		"as proposed":           {nil, nil, ""},
		"a foot near the end":   {at(r3.Vec{X: 35, Y: 10}), nil, ""},
		"the sprue farther off": {nil, at(r3.Vec{X: 60, Y: 10}), ""},
		"the sprue close by":    {nil, at(r3.Vec{X: 44.5, Y: 10}), "channel-near-part"},
		"through the part":      {nil, at(r3.Vec{X: 20, Y: 10}), "channel-through-part"},
		"a foot on the top":     {at(r3.Vec{X: 20, Y: 10, Z: 20}), nil, "channel-through-part"},
		"a foot in the air":     {at(r3.Vec{X: 200}), nil, "foot-beside-part"},
	} {
		choices := low()
		choices.Foot, choices.Shaft = c.foot, c.shaft
		l := s.lay(t, choices)
		code := ""
		for _, f := range l.Findings(s.Mould, choices) {
			if f.Stage == finding.Gates && f.Code != "no-vent" {
				code = f.Code
				require.NotEmpty(t, f.Remedies, name)
				assert.Equal(t, finding.ResetSprue, f.Remedies[0].Action)
				break
			}
		}
		assert.Equal(t, c.code, code, name)
		if c.shaft != nil {
			foot := of(l, channel.Sprue)[0].Path[0]
			assert.InDelta(t, c.shaft.X, foot.X, 1e-9, name)
		}
	}
}

func TestBoresThatCannotBe(t *testing.T) {
	s := space(t, horns())
	for says, c := range map[string]Choices{
		"sprue bore":     {Feed: practice.FeedLow, WellWidth: 20},
		"well width":     {Feed: practice.FeedLow, SprueBore: 6, WellWidth: -1},
		"bore of vent 1": low(Vent{Bore: 0}),
		"feed":           {Feed: "sideways"},
	} {
		_, err := s.try(c)
		assert.ErrorContains(t, err, says)
	}
}

func TestWellNeverReachesIntoThePart(t *testing.T) {
	s := space(t, horns())
	c := low()
	c.Feed, c.SprueBore, c.WellDepth = practice.FeedTop, 8, 100
	l := s.lay(t, c)
	well := of(l, channel.Well)[0]
	assert.Greater(t, well.Foot, l.PartHigh, "however deep it is asked to be")
	assert.InDelta(t, l.Top, well.Top, 1e-9)
	c.WellDepth = 0
	assert.Empty(t, of(s.lay(t, c), channel.Well), "no depth, no well")
}

func TestMeasuredMasterGetsASprueAndAWell(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 30}))
	s.Known = false
	for _, feed := range []practice.Feed{practice.FeedLow, practice.FeedTop} {
		c := low(Vent{At: r3.Vec{Z: 30}, Bore: 2})
		c.Feed = feed
		l := s.lay(t, c)
		assert.False(t, l.Known)
		assert.Empty(t, of(l, channel.Vent), "vents cannot be placed on an unknown shape")
		assert.InDelta(t, 30, l.PartHigh-l.PartLow, 1e-9)
		assert.Positive(t, of(l, channel.Sprue)[0].Volume.Value)
	}
}

func TestProposalStopsAtABoundedNumberOfVents(t *testing.T) {
	// a comb with more teeth than anyone would vent
	rows := []string{"", "", ""}
	for range 2 * (MostVents + 10) {
		rows[0] += ".#"
		rows[1] += ".#"
		rows[2] += ".."
	}
	s, err := fill.Prepare(meshtest.Blocks(2, rows...).Scaled(3), zUp, fill.Options{Sound: true, Cell: 1})
	require.NoError(t, err)
	assert.Len(t, ProposeVents(s, low(), 1), MostVents)
}

// In a box of the shop's own, which does not grow, the sprue may have no room:
// that is told, and something is shown.
func TestABoxThatDoesNotGrow(t *testing.T) {
	s := space(t, horns())
	s.Grows = false
	l := s.lay(t, low())
	require.Len(t, l.Faults, 1)
	assert.ErrorIs(t, l.Faults[0].Err, channel.ErrNoShaft)
	assert.NotEmpty(t, of(l, channel.Sprue))
	found := l.Findings(s.Mould, low())
	assert.Equal(t, "no-room-for-sprue", found[0].Code)
	assert.Equal(t, finding.Stop, found[0].Severity)
}

func TestMouldsWithoutASprue(t *testing.T) {
	s := space(t, horns())
	vented := low(Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2})
	open := s
	open.Resin = kinds.Poured
	l := open.lay(t, vented)
	assert.Empty(t, l.Channels, "an open face has neither sprue nor vents")
	require.Len(t, l.Trapped().Pockets, 1, "what lies under an overhang keeps its air all the same")
	for _, f := range l.Findings(open.Mould, vented) {
		assert.Empty(t, f.Remedies, "and no vent is offered that it cannot have")
	}

	pressed := s
	pressed.Resin, pressed.Cavity = kinds.Pressed, derive.Of(quantity.Volume, 20, "given")
	l = pressed.lay(t, low())
	require.Len(t, l.Channels, 1)
	blind := l.Channels[0]
	assert.Equal(t, channel.Blind, blind.Kind)
	assert.InEpsilon(t, 2, blind.Volume.Value, 0.02, "a tenth of the cavity")
	b := horns().Bounds()
	for _, p := range blind.Path {
		off := math.Hypot(max(0, b.Min.X-p.X, p.X-b.Max.X), max(0, b.Min.Y-p.Y, p.Y-b.Max.Y))
		assert.InDelta(t, kinds.Land+blind.Bore/2, off, 0.3, "outside the land, all round")
	}
	pressed.Known = false
	assert.Len(t, pressed.lay(t, low()).Findings(pressed.Mould, low()), 1, "of air nobody knows")
}

func TestVentsThatOpenNothingAreOfferedToGo(t *testing.T) {
	s := space(t, horns())
	c := low(Vent{At: r3.Vec{X: -40}, Bore: 2})
	l := s.lay(t, c)
	found := l.Findings(s.Mould, c)
	require.NotEmpty(t, found)
	assert.Equal(t, finding.Stop, found[0].Severity)
	assert.Equal(t, []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent}}, found[0].Remedies)
	volume := 0.0
	for _, f := range found[1:] {
		if f.Figure != nil && f.Figure.Kind == quantity.Volume {
			volume += f.Figure.Value
		}
	}
	assert.InEpsilon(t, l.Air().Value, volume, 1e-9, "all the air is accounted for")
}

// Through an opening the air must have as much room to come up as the stream
// takes that goes down, there or in vents.
func TestAnOpeningLetsResinDownAndAirUp(t *testing.T) {
	s := space(t, horns())
	vent := Vent{At: ProposeVents(s.Space, low(), 2)[1].At, Bore: 6}
	for name, c := range map[string]struct {
		bore   float64
		vents  []Vent
		chokes bool
	}{
		"as wide as the stream":  {6, nil, true},
		"twice its area":         {8.5, nil, false},
		"with a vent as wide":    {6, []Vent{vent}, false},
		"a vent that is plugged": {6, []Vent{{At: vent.At, Bore: 6, State: design.Plugged}}, true},
	} {
		choices := low(c.vents...)
		choices.Feed, choices.SprueBore = practice.FeedTop, c.bore
		told := false
		for _, f := range s.lay(t, choices).Findings(s.Mould, choices) {
			if f.Code == "opening-chokes" {
				told = true
				assert.GreaterOrEqual(
					t,
					math.Pi/4*f.Remedies[0].Value*f.Remedies[0].Value,
					2*math.Pi*9-0.1,
					"twice the stream's area",
				)
			}
		}
		assert.Equal(t, c.chokes, told, name)
	}
}

// A vent that is led round something is told where it leaves the parting.
func TestABentVentIsTold(t *testing.T) {
	m := meshtest.Extruded([][2]float64{{0, 0}, {40, 0}, {40, 10}, {10, 10}, {10, 40}, {40, 40}, {40, 50}, {0, 50}}, 12)
	for name, c := range map[string]struct {
		draw    r3.Vec
		parting float64
		told    bool
	}{
		"in an upright parting": {r3.Vec{Y: 1}, 6, false},
		"over a level one":      {r3.Vec{Z: 1}, 25, true},
	} {
		s := space(t, m)
		s.Draw, s.Parting = c.draw, c.parting
		s.Mould.High.X += 10
		choices := low(Vent{At: r3.Vec{X: 30, Y: 6, Z: 10}, Bore: 2})
		choices.Shaft = &r3.Vec{X: -12, Y: 6} // out of its way
		l := s.lay(t, choices)
		assert.Greater(t, len(of(l, channel.Vent)[0].Path), 2, name)
		told := false
		for _, f := range l.Findings(s.Mould, choices) {
			told = told || f.Code == "vent-is-bent"
		}
		assert.Equal(t, c.told, told, name)
	}
}

// A well that holds more than the part is told, with both figures.
func TestChannelsThatTakeMoreThanTheCastings(t *testing.T) {
	s := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20}))
	for width, told := range map[float64]bool{10: false, 90: true} {
		c := low()
		c.WellWidth = width
		l := s.lay(t, c)
		found := false
		for _, f := range l.Findings(s.Mould, c) {
			if f.Code == "channels-hold-more" {
				found = true
				assert.InDelta(t, volumes(l), f.Figure.Value, 1e-9)
				assert.InDelta(t, 8, f.Limit.Value, 1e-9)
			}
		}
		assert.Equal(t, told, found, "%g mm", width)
	}
}
