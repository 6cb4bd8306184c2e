package channel_test

import (
	"math"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func tube(bore float64, path ...r3.Vec) channel.Body {
	return channel.Body{Kind: channel.Runner, Cavity: channel.Shared, Bore: bore, Path: path}
}

// A tube and a cut-off cone by their formulas; models of fluids put the cone
// from 6 to 1.5 mm over 60 mm at 11.875 mL for radii of 12 and 3 mm.
func TestWhatABodyHolds(t *testing.T) {
	cone := tube(24, r3.Vec{}, r3.Vec{Z: 60})
	cone.Rim = 6
	for name, c := range map[string]struct {
		body channel.Body
		mm3  float64
	}{
		"a tube":          {tube(10, r3.Vec{}, r3.Vec{X: 60}), math.Pi * 25 * 60},
		"bent, mitred":    {tube(10, r3.Vec{}, r3.Vec{X: 30}, r3.Vec{X: 30, Z: 30}), math.Pi * 25 * 60},
		"a cone, cut off": {cone, 11_875},
	} {
		assert.InDelta(t, c.mm3, c.body.Full(), c.mm3*1e-4, name)
		assert.InDelta(t, c.mm3, channel.Volumes([]channel.Body{c.body})[0], c.mm3*1e-4, name)
	}
}

// Two cylinders of radius r that cross at right angles share 16 r³/3
// (Archimedes, Method, proposition 15): a tube that grows out of the other's
// axis leaves it half of that.
func TestWhatTwoHoldAtTheirJointCountsOnce(t *testing.T) {
	trunk, tooth := tube(6, r3.Vec{X: -30}, r3.Vec{X: 30}), tube(6, r3.Vec{}, r3.Vec{Y: 40})
	got := channel.Volumes([]channel.Body{trunk, tooth})
	assert.InDelta(t, math.Pi*9*60, got[0], 1e-6)
	assert.InDelta(t, math.Pi*9*40-8.0/3*27, got[1], 3)

	s := standing(t, meshtest.Box(r3.Vec{X: 200}, r3.Vec{X: 210, Y: 10, Z: 10}))
	assert.Zero(t, s.Overlap([]channel.Body{trunk, tooth}), "a joint is none")
	crossing := tube(6, r3.Vec{X: 12, Y: -20}, r3.Vec{X: 12, Y: 20})
	assert.InDelta(t, 16.0/3*27, s.Overlap([]channel.Body{trunk, crossing}), 4, "no joint: they run through one another")
}

func standing(t *testing.T, m *mesh.Mesh) *channel.Stand {
	t.Helper()
	s, err := channel.NewStand(channel.NewMaster(m), r3.Vec{Z: 1})
	require.NoError(t, err)
	shape, err := s.Shape()
	require.NoError(t, err)
	require.NoError(t, s.Lay([]gang.Pose{{X: shape.At[0], Y: shape.At[1]}}, m.Bounds().Min.Z))
	return s
}

// roofed is a block with a roof over it that reaches so far beside it.
func roofed(beside float64) *mesh.Mesh {
	m := meshtest.Box(r3.Vec{X: -10, Y: -10, Z: 20}, r3.Vec{X: 10, Y: 10, Z: 30})
	m.Append(meshtest.Box(r3.Vec{X: -10 - beside, Y: -10 - beside, Z: 44}, r3.Vec{X: 10 + beside, Y: 10 + beside, Z: 48}))
	return m
}

func TestAVentIsLedRoundWhatStandsOverIt(t *testing.T) {
	s := standing(t, roofed(4))
	r := channel.Room{Stand: s, Low: r3.Vec{X: -40, Y: -40}, High: r3.Vec{X: 40, Y: 40, Z: 60}, Clear: 4, Wall: 4, Between: 1}
	foot := r3.Vec{Z: 30}
	b, err := r.Rise(channel.Vent, 0, foot, 2)
	require.NoError(t, err)
	require.Greater(t, len(b.Path), 2, "the roof is in the way")
	assert.Equal(t, foot, b.Path[0])
	assert.Equal(t, 60.0, b.Path[len(b.Path)-1].Z)
	for i := 1; i < len(b.Path); i++ {
		assert.GreaterOrEqual(t, b.Path[i].Z, b.Path[i-1].Z-1e-9, "what rises and falls keeps air")
	}
	assert.Zero(t, s.Overlap([]channel.Body{b}))
	assert.GreaterOrEqual(t, s.Clearance([]channel.Body{b}, 50, 8), 3.9, "clear of the roof, and of the block once it is off it")
	// round the roof's edge it is no shorter than the two straight lines there
	assert.Greater(t, b.Length(), 2*math.Hypot(14, 15)-6)
	assert.Less(t, b.Length(), 75.0)
}

func TestAVentWithNoWayOutSaysSo(t *testing.T) {
	s := standing(t, roofed(29))
	r := channel.Room{Stand: s, Low: r3.Vec{X: -40, Y: -40}, High: r3.Vec{X: 40, Y: 40, Z: 60}, Clear: 4, Wall: 4, Between: 1}
	_, err := r.Rise(channel.Vent, 0, r3.Vec{Z: 30}, 2)
	assert.ErrorIs(t, err, channel.ErrNoWay)
}

func TestASecondVentKeepsOffTheFirst(t *testing.T) {
	s := standing(t, meshtest.Box(r3.Vec{X: -10, Y: -10, Z: 20}, r3.Vec{X: 10, Y: 10, Z: 30}))
	r := channel.Room{Stand: s, Low: r3.Vec{X: -30, Y: -30}, High: r3.Vec{X: 30, Y: 30, Z: 60}, Clear: 3, Wall: 4, Between: 2}
	one, err := r.Rise(channel.Vent, 0, r3.Vec{Z: 30}, 2)
	require.NoError(t, err)
	r.Bodies = append(r.Bodies, one)
	_, err = r.Rise(channel.Vent, 0, r3.Vec{X: 1, Z: 30}, 2)
	assert.ErrorIs(t, err, channel.ErrNoWay, "it begins inside the first")
	other, err := r.Rise(channel.Vent, 0, r3.Vec{X: 5, Z: 30}, 2)
	require.NoError(t, err)
	assert.Zero(t, s.Overlap([]channel.Body{one, other}))
}

func TestNothingLeavesRoomForASprue(t *testing.T) {
	s := standing(t, meshtest.Box(r3.Vec{X: -18, Y: -18, Z: 20}, r3.Vec{X: 18, Y: 18, Z: 30}))
	r := channel.Room{Stand: s, Low: r3.Vec{X: -20, Y: -20}, High: r3.Vec{X: 20, Y: 20, Z: 60}, Clear: 3, Wall: 4, Between: 2}
	f := channel.Feed{Sprue: 8, Runner: 6, Gate: 4, Rim: 16, Depth: 10}
	feet := []channel.Foot{{Mouths: []channel.Mouth{{At: r3.Vec{Z: 20}, From: r3.Vec{Z: 20}}}}}
	_, _, err := r.Under(f, feet)
	assert.ErrorIs(t, err, channel.ErrNoShaft)
	r.Grows = true
	bodies, _, err := r.Under(f, feet)
	require.NoError(t, err, "but the box may grow")
	assert.Zero(t, s.Overlap(bodies))
}
