package gate

import (
	"math"
	"slices"
	"strings"
	"testing"

	"bathyform/core/derive"
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

func space(t testing.TB, m *mesh.Mesh) (*fill.Space, r3.Box) {
	t.Helper()
	s, err := fill.Prepare(m, zUp, fill.Options{Sound: true})
	require.NoError(t, err)
	b := m.Bounds()
	return s, r3.Box{Min: r3.Sub(b.Min, r3.Vec{X: 10, Y: 10, Z: 10}), Max: r3.Add(b.Max, r3.Vec{X: 10, Y: 10, Z: 20})}
}

// into is a mould with a sprue.
func into(box r3.Box, draw r3.Vec, parting float64) Mould {
	return Mould{Box: box, Draw: draw, Parting: parting, Cavity: derive.Of(quantity.Volume, 20, "given")}
}

// horns has two separate high spots, the left one lower.
func horns() *mesh.Mesh {
	m := meshtest.Blocks(2, "########...", "...#####...", "...#####...", "...........")
	return m.Scaled(5)
}

func low(vents ...Vent) Choices {
	return Choices{Feed: practice.FeedLow, SprueBore: 6, WellWidth: 20, WellDepth: 8, Vents: vents}
}

func TestEveryHighSpotGetsOneVent(t *testing.T) {
	s, box := space(t, horns())
	vents := ProposeVents(s, low(), 2)
	require.Len(t, vents, 2)
	assert.InDelta(t, 20, vents[0].At.Z, 1e-6, "the higher horn first")
	assert.InDelta(t, 15, vents[1].At.Z, 1e-6)
	assert.InDelta(t, 47.5, vents[0].At.X, 0.6, "in the middle of the level top")
	l, err := Lay(s, into(box, zUp, 5), low(vents...))
	require.NoError(t, err)
	assert.Empty(t, l.Trapped.Pockets)
	assert.Equal(t, 30.0, l.PartHigh)
	assert.Equal(t, 50.0, l.Top)

	one, err := Lay(s, into(box, zUp, 5), low(vents[0]))
	require.NoError(t, err)
	require.Len(t, one.Trapped.Pockets, 1)
	assert.InEpsilon(t, 15*10*10, one.Trapped.Volume, 1e-9)
	assert.Equal(t, vents, ProposeVents(s, low(vents...), 2), "nothing is proposed where nothing is missing")
}

func TestFeedingFromTheTopVentsTheHighestSpotItself(t *testing.T) {
	s, box := space(t, horns())
	c := low()
	c.Feed, c.SprueBore = practice.FeedTop, 8
	l, err := Lay(s, into(box, zUp, 5), c)
	require.NoError(t, err)
	require.Len(t, l.Trapped.Pockets, 1, "the lower horn keeps its air")
	assert.Len(t, ProposeVents(s, c, 2), 1)
	assert.InDelta(t, 30, l.Channels[0].Foot, 1e-9)
}

func TestLowSpruePathAndVolumes(t *testing.T) {
	s, box := space(t, horns())
	l, err := Lay(s, into(box, zUp, 5), low(Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2}))
	require.NoError(t, err)
	require.Len(t, l.Channels, 3)
	sprue, well, vent := l.Channels[0], l.Channels[1], l.Channels[2]
	require.Len(t, sprue.Path, 4, "down, out and up")
	assert.InDelta(t, sprue.Foot-Off-sprue.Bore/2, sprue.Path[1].Z-l.Floor, 1e-9, "clear of the part")
	assert.InDelta(t, 10, sprue.Foot, 0.01, "enters at the low end")
	assert.InDelta(t, 42, sprue.Top, 1e-9, "up to the foot of the well")
	outside := sprue.Path[2]
	b := horns().Bounds()
	assert.True(t, outside.X < b.Min.X || outside.X > b.Max.X || outside.Y < b.Min.Y || outside.Y > b.Max.Y, "rises beside the part")
	assert.InEpsilon(t, math.Pi/4*4*20/1000, vent.Volume.Value, 1e-9, "vent d 2 over 20 mm")
	assert.InEpsilon(t, math.Pi*8*(9+3*10+100)/3/1000, well.Volume.Value, 1e-9)
	for _, c := range l.Channels {
		assert.InEpsilon(t, c.Volume.Value*1000, c.VolumeBelow(l.Top), 1e-9, "%s is full at the top", c.Kind)
		last := 0.0
		for z := 0.0; z <= l.Top; z++ {
			v := c.VolumeBelow(z)
			assert.GreaterOrEqual(t, v, last)
			last = v
		}
	}
	// frustum check: 12 to 3 mm radius over 60 mm, filled 40 mm from the thin end
	cone := Channel{Kind: WellKind, Bore: 6, Rim: 24, Foot: 0, Top: 60}
	assert.InEpsilon(t, 11875, cone.VolumeBelow(60), 2e-4)
	assert.InEpsilon(t, 4900.9, cone.VolumeBelow(40), 2e-4)
}

func TestUprightPartingKeepsTheSprueInIt(t *testing.T) {
	s, box := space(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	l, err := Lay(s, into(box, r3.Vec{Y: 1}, 10), low())
	require.NoError(t, err)
	for _, p := range l.Channels[0].Path {
		assert.InDelta(t, 10, p.Y, 0.3)
	}
}

func TestVentOutsideThePartIsAProblemAndNotAnEnd(t *testing.T) {
	s, box := space(t, horns())
	l, err := Lay(s, into(box, zUp, 5), low(Vent{At: r3.Vec{X: -40}, Bore: 2}, Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2}))
	require.NoError(t, err)
	require.Len(t, l.Problems, 1)
	assert.Equal(t, 0, l.Problems[0].Vent)
	assert.ErrorContains(t, l.Problems[0].Err, "outside the part")
	assert.Len(t, l.Trapped.Pockets, 1)
}

func TestBoresThatCannotBe(t *testing.T) {
	s, box := space(t, horns())
	for says, c := range map[string]Choices{
		"sprue bore":     {Feed: practice.FeedLow, WellWidth: 20},
		"well width":     {Feed: practice.FeedLow, SprueBore: 6, WellWidth: -1},
		"bore of vent 1": low(Vent{Bore: 0}),
		"feed":           {Feed: "sideways"},
	} {
		_, err := Lay(s, into(box, zUp, 5), c)
		assert.ErrorContains(t, err, says)
	}
}

func TestWellNeverReachesIntoThePart(t *testing.T) {
	s, box := space(t, horns())
	c := low()
	c.Feed, c.SprueBore, c.WellDepth = practice.FeedTop, 8, 100
	l, err := Lay(s, into(box, zUp, 5), c)
	require.NoError(t, err)
	well := l.Channels[1]
	assert.Equal(t, WellKind, well.Kind)
	assert.Greater(t, well.Foot, l.PartHigh, "however deep it is asked to be")
	assert.Equal(t, l.Top, well.Top)
	c.WellDepth = 0
	l, err = Lay(s, into(box, zUp, 5), c)
	require.NoError(t, err)
	assert.Len(t, l.Channels, 1, "no depth, no well")
}

func TestMeasuredMasterGetsASprueAndAWell(t *testing.T) {
	bounds := r3.Box{Max: r3.Vec{X: 60, Y: 40, Z: 30}}
	box := r3.Box{Min: r3.Vec{X: -12, Y: -12, Z: -13}, Max: r3.Vec{X: 72, Y: 52, Z: 50}}
	for _, feed := range []practice.Feed{practice.FeedLow, practice.FeedTop} {
		c := low(Vent{At: r3.Vec{Z: 30}, Bore: 2})
		c.Feed = feed
		l, err := LayByMeasure(bounds, into(box, zUp, 5), zUp, c)
		require.NoError(t, err)
		assert.False(t, l.Known)
		require.Len(t, l.Channels, 2, "vents cannot be placed on an unknown shape")
		assert.Equal(t, 63.0, l.Top)
		assert.Equal(t, 13.0, l.PartLow)
		assert.Equal(t, 43.0, l.PartHigh)
		assert.Positive(t, l.Channels[0].Volume.Value)
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

// A well of 16 mm on a clearance of 10 leans in over the part, where the box
// leaves it room; where it does not, that is said with what to do.
func TestTheWellLeansAwayFromTheWall(t *testing.T) {
	s, box := space(t, horns())
	c := low()
	c.WellWidth = 16
	l, err := Lay(s, into(box, zUp, 5), c)
	require.NoError(t, err)
	well := l.Channels[1]
	foot, top := well.Path[0], well.Path[1]
	inside := min(top.X-box.Min.X, box.Max.X-top.X, top.Y-box.Min.Y, box.Max.Y-top.Y)
	assert.GreaterOrEqual(t, inside+1e-9, 8+WellWall, "a wall of rubber all round its rim")
	assert.Less(
		t,
		min(foot.X-box.Min.X, box.Max.X-foot.X, foot.Y-box.Min.Y, box.Max.Y-foot.Y),
		inside,
		"and its foot stays where the sprue rises",
	)
	assert.InEpsilon(t, math.Pi*8*(9+3*8+64)/3/1000, well.Volume.Value, 1e-9, "leaning changes no volume (Cavalieri)")
	for _, f := range l.Findings(s, into(box, zUp, 5), zUp, c) {
		assert.NotContains(t, f.What, "well does not fit")
	}

	deep := c
	deep.WellDepth = 30 // down beside the part: there is no room to lean
	l, err = Lay(s, into(box, zUp, 5), deep)
	require.NoError(t, err)
	found := l.Findings(s, into(box, zUp, 5), zUp, deep)
	i := slices.IndexFunc(found, func(f finding.Finding) bool { return strings.Contains(f.What, "well does not fit") })
	require.GreaterOrEqual(t, i, 0)
	assert.Equal(t, finding.SetBeside, found[i].Remedies[0].Action)
	assert.Equal(t, 22.0, found[i].Remedies[0].Value)
}

func TestMouldsWithoutASprue(t *testing.T) {
	s, box := space(t, horns())
	vented := low(Vent{At: r3.Vec{X: 47, Y: 5, Z: 20}, Bore: 2})
	open := into(box, zUp, 5)
	open.Resin = kinds.Poured
	l, err := Lay(s, open, vented)
	require.NoError(t, err)
	assert.Empty(t, l.Channels, "an open face has neither sprue nor vents")
	assert.Nil(t, l.Blind)
	require.Len(t, l.Trapped.Pockets, 1, "what lies under an overhang keeps its air all the same")
	for _, f := range l.Findings(s, open, zUp, vented) {
		assert.Empty(t, f.Remedies, "and no vent is offered that it cannot have")
	}

	pressed := into(box, zUp, 5)
	pressed.Resin = kinds.Pressed
	l, err = Lay(s, pressed, low())
	require.NoError(t, err)
	assert.Empty(t, l.Channels)
	require.NotNil(t, l.Blind)
	assert.InEpsilon(t, 2, l.Blind.Value, 1e-9, "a tenth of the cavity")
	blind, err := LayByMeasure(r3.Box{Max: r3.Vec{X: 60, Y: 40, Z: 30}}, pressed, zUp, low())
	require.NoError(t, err)
	assert.InEpsilon(t, 2, blind.Blind.Value, 1e-9)
	assert.Len(t, blind.Findings(nil, pressed, zUp, low()), 1, "of air nobody knows")
}

func TestVentsThatOpenNothingAreOfferedToGo(t *testing.T) {
	s, box := space(t, horns())
	c := low(Vent{At: r3.Vec{X: -40}, Bore: 2})
	l, err := Lay(s, into(box, zUp, 5), c)
	require.NoError(t, err)
	found := l.Findings(s, into(box, zUp, 5), zUp, c)
	require.NotEmpty(t, found)
	assert.Equal(t, finding.Stop, found[0].Severity)
	assert.Equal(t, []finding.Remedy{{Label: "Remove it", Action: finding.RemoveVent}}, found[0].Remedies)
	volume := 0.0
	for _, f := range found[1:] {
		if f.Figure != nil && f.Figure.Kind == quantity.Volume {
			volume += f.Figure.Value
		}
	}
	assert.InEpsilon(t, l.Trapped.Volume/1000, volume, 1e-9, "all the air is accounted for")
}
