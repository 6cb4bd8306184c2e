package flow

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mix"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// of is a round channel that resists as much as is asked for, at 1 Pa s.
func of(from, to string, resistance float64) Channel {
	return Channel{From: from, To: to, Bore: 5 * mm, Length: resistance / Tube(1, 5*mm, 1)}
}

func fillTimes(t *testing.T, n Network) []float64 {
	t.Helper()
	s, err := n.Solve()
	require.NoError(t, err)
	times := make([]float64, len(s.Cavities))
	for i, c := range s.Cavities {
		times[i] = c.At
	}
	return times
}

func gang(shared float64, branches ...float64) Network {
	n := Network{Viscosity: 1, Density: 1100, Pressure: 1000, Nodes: []string{"well", "foot"}}
	foot := "foot"
	if shared == 0 {
		foot = "well"
	} else {
		n.Channels = append(n.Channels, of("well", "foot", shared))
	}
	for i, r := range branches {
		name := fmt.Sprint(i + 1)
		n.Nodes = append(n.Nodes, name)
		n.Channels = append(n.Channels, of(foot, name, r))
		n.Cavities = append(n.Cavities, Cavity{Node: name, Volume: 5e-6})
	}
	return n
}

// Three cavities of 5 mL at 1 kPa: the exact times.
func TestASharedSprueNarrowsTheSpread(t *testing.T) {
	assert.InDeltaSlice(t, []float64{5, 10, 20}, fillTimes(t, gang(0, 1e9, 2e9, 4e9)), 1e-4)
	assert.InDeltaSlice(t, []float64{13.75, 22.50, 35.00}, fillTimes(t, gang(1e9, 1e9, 2e9, 4e9)), 1e-4)
	alone, _ := gang(0, 1e9, 2e9, 4e9).Solve()
	shared, _ := gang(1e9, 1e9, 2e9, 4e9).Solve()
	assert.InDelta(t, 4, alone.Spread(), 1e-6)
	assert.Less(t, shared.Spread(), alone.Spread())
	assert.InDelta(t, 4.0/7, shared.Runs[1].Share, 1e-5, "a share is as one over what the branch resists")
	assert.InDelta(t, 1, shared.Runs[0].Share, 1e-9)
}

// A cone and three branches of a runner and a gate in a row.
func TestResistancesInARowAndSideBySide(t *testing.T) {
	n := Network{Viscosity: 1, Density: 1100, Pressure: 1000, Nodes: []string{"well", "foot"},
		Channels: []Channel{{From: "well", To: "foot", Bore: 12 * mm, Rim: 6 * mm, Length: 60 * mm}}}
	for i := range 3 {
		runner, gate := fmt.Sprint("runner ", i), fmt.Sprint("cavity ", i)
		n.Nodes = append(n.Nodes, runner, gate)
		n.Channels = append(n.Channels, Channel{From: "foot", To: runner, Bore: 6 * mm, Length: 80 * mm},
			Channel{From: runner, To: gate, Bore: 3 * mm, Length: 4 * mm})
		n.Cavities = append(n.Cavities, Cavity{Node: gate, Volume: 5e-6})
	}
	s, err := n.Solve()
	require.NoError(t, err)
	near(t, 5.5017e8, s.Runs[0].Resistance)
	near(t, 2.5150e9, s.Runs[1].Resistance)
	near(t, 2.0120e9, s.Runs[2].Resistance)
	near(t, 1000/2.0592e9, s.Runs[0].Flow)
	for _, c := range s.Cavities {
		near(t, 15e-6*2.0592e9/1000, c.At, "equal branches fill together")
	}
}

// One cavity with a head is the prism of the closed form; and a rectangular
// runner is no different.
func TestResinInTheCavityPressesBack(t *testing.T) {
	n := Network{Viscosity: 1, Density: 1100, Pressure: Head(1100, 100*mm), Nodes: []string{"well", "cavity"},
		Channels: []Channel{{From: "well", To: "cavity", Bore: 6 * mm, Length: 100 * mm}},
		Cavities: []Cavity{{Node: "cavity", Volume: 160e-6, Height: 80 * mm}}}
	near(t, 938.09, fillTimes(t, n)[0])
	n.Growth = mix.Thickening(1800)
	near(t, 1164.0, fillTimes(t, n)[0])
	n.Growth = mix.Thickening(300)
	s, err := n.Solve()
	require.NoError(t, err)
	assert.Equal(t, Filled{math.Inf(1), Gels}, s.Cavities[0])
	n.Cavities[0].Height = 100 * mm
	s, _ = n.Solve()
	assert.Equal(t, TooHigh, s.Cavities[0].Never)
	assert.True(t, math.IsInf(s.Spread(), 1))
}

// With levels the cavities of a gang share a sprue and stand in each other's
// way: held against small steps in time.
func TestAGangWithLevelsAgainstSmallSteps(t *testing.T) {
	n := gang(0.6e9, 1e9, 2e9, 3e9)
	n.Pressure = Head(1100, 90*mm)
	for i, h := range []float64{70 * mm, 40 * mm, 60 * mm} {
		n.Cavities[i].Height, n.Cavities[i].Volume = h, float64(4+i)*1e-6
	}
	got := fillTimes(t, n)
	r := []float64{1e9, 2e9, 3e9}
	volume, done := []float64{0, 0, 0}, []float64{0, 0, 0}
	const dt = 2e-4
	for now := 0.0; done[0] == 0 || done[1] == 0 || done[2] == 0; now += dt {
		conduct, driven := 1/0.6e9, n.Pressure/0.6e9
		back := make([]float64, 3)
		for i, c := range n.Cavities {
			back[i] = Head(1100, c.Height*volume[i]/c.Volume)
			if done[i] == 0 {
				conduct, driven = conduct+1/r[i], driven+back[i]/r[i]
			}
		}
		foot := driven / conduct
		for i, c := range n.Cavities {
			if done[i] == 0 {
				if volume[i] += dt * (foot - back[i]) / r[i]; volume[i] >= c.Volume {
					done[i] = now
				}
			}
		}
	}
	for i := range done {
		assert.InEpsilon(t, done[i], got[i], 1e-4)
	}
}

// A cavity whose floor stands over the level that heads are counted from: its
// level rises as one does against the pressure that is left, t = R C ln((P − p₀) /
// (P − p)), with C = V / (ρ g h).
func TestACavityThatStandsHigher(t *testing.T) {
	n := Network{Viscosity: 1, Density: 1000, Pressure: Head(1000, 0.2), Nodes: []string{"well", "low", "high"},
		Channels: []Channel{of("well", "low", 1e9), of("well", "high", 1e9)},
		Cavities: []Cavity{{Node: "low", Volume: 5e-6, Height: 0.05}, {Node: "high", Volume: 5e-6, Height: 0.05, Base: 0.1}}}
	c := 5e-6 / Head(1000, 0.05)
	want := []float64{1e9 * c * math.Log(0.2/0.15), 1e9 * c * math.Log(0.1/0.05)}
	got := fillTimes(t, n)
	for i := range want {
		assert.InEpsilon(t, want[i], got[i], 1e-9)
	}
	n.Cavities[1].Base = 0.16
	s, err := n.Solve()
	require.NoError(t, err)
	assert.Equal(t, TooHigh, s.Cavities[1].Never, "its top stands over the well")
}

// Behind a narrow sprue nothing comes up to the higher cavity until the lower is
// full: it does not drain into it, and fills by itself afterwards.
func TestAHighCavityWaitsUntilTheLowOneIsFull(t *testing.T) {
	n := Network{Viscosity: 1, Density: 1000, Pressure: Head(1000, 0.2), Nodes: []string{"well", "foot", "low", "high"},
		Channels: []Channel{of("well", "foot", 9e9), of("foot", "low", 1e9), of("foot", "high", 1e9)},
		Cavities: []Cavity{{Node: "low", Volume: 5e-6, Height: 0.05}, {Node: "high", Volume: 5e-6, Height: 0.05, Base: 0.1}}}
	s, err := n.Solve()
	require.NoError(t, err)
	assert.InDelta(t, 0, s.Runs[2].Flow, 1e-15, "the head at the foot is 0.02 m, and its floor is at 0.1")
	c := 5e-6 / Head(1000, 0.05)
	low := 1e10 * c * math.Log(0.2/0.15)
	assert.InEpsilon(t, low, s.Cavities[0].At, 1e-9)
	assert.InEpsilon(t, low+1e10*c*math.Log(0.1/0.05), s.Cavities[1].At, 1e-9)
	n.Cavities[1].Base = -1
	assert.ErrorContains(t, n.Check(), "cavity 2")
}

// What has run in by the time that the last is full is what all of them hold.
func TestAGangTakesWhatItHolds(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	for range 40 {
		n := gang(1e8+1e9*rng.Float64(), 1e8+1e9*rng.Float64(), 1e8+1e9*rng.Float64(), 1e8+1e9*rng.Float64())
		first, err := n.Solve()
		require.NoError(t, err)
		total := 0.0
		for _, r := range first.Runs[1:] {
			total += r.Flow
		}
		assert.InEpsilon(t, first.Runs[0].Flow, total, 1e-9, "what comes down the sprue goes into the branches")
		thick := n
		thick.Viscosity = 2
		for i, at := range fillTimes(t, thick) {
			assert.InEpsilon(t, 2*first.Cavities[i].At, at, 1e-6, "twice as thick takes twice as long")
		}
		pressed := n
		pressed.Pressure *= 3
		for i, at := range fillTimes(t, pressed) {
			assert.InEpsilon(t, first.Cavities[i].At/3, at, 1e-6)
		}
	}
}

func TestNetworksThatCannotBe(t *testing.T) {
	for want, spoil := range map[string]func(*Network){
		"the viscosity must be more than 0":          func(n *Network) { n.Viscosity = 0 },
		"the pressure must be more than 0":           func(n *Network) { n.Pressure = math.NaN() },
		"its bore must be more than 0":               func(n *Network) { n.Channels[1].Bore = 0 },
		"either round or rectangular":                func(n *Network) { n.Channels[1].Width = 1 },
		"its sizes are not those of a channel":       func(n *Network) { n.Channels[1].Bore = 1e-12 },
		"its length must be more than 0":             func(n *Network) { n.Channels[1].Length = 0 },
		`there is no node "nowhere"`:                 func(n *Network) { n.Channels[1].To = "nowhere" },
		"its volume must be more than 0":             func(n *Network) { n.Cavities[0].Volume = 0 },
		"cavity 1 is the well itself":                func(n *Network) { n.Cavities[0].Node = "well" },
		"at one node: give each a gate of its own":   func(n *Network) { n.Cavities[0].Node = n.Cavities[1].Node },
		`node "foot" is there twice`:                 func(n *Network) { n.Nodes[2] = "foot" },
		"a network wants a well":                     func(n *Network) { n.Channels = nil },
		"201 cavities are more than":                 func(n *Network) { n.Cavities = make([]Cavity, 201) },
		"its height must be 0 or more":               func(n *Network) { n.Cavities[0].Height = -1 },
		"a rectangular channel wants a width and":    func(n *Network) { n.Channels[1].Bore, n.Channels[1].Width = 0, 1 },
		"it leads back to":                           func(n *Network) { n.Channels[1].To = n.Channels[1].From },
		"its sizes must be numbers of 0 and more":    func(n *Network) { n.Channels[1].Bore = -1 },
		"cavity 1: there is no node":                 func(n *Network) { n.Cavities[0].Node = "?" },
		"2001 nodes are more than the 2000 that can": func(n *Network) { n.Nodes = make([]string, 2001) },
	} {
		n := gang(1e9, 1e9, 2e9)
		spoil(&n)
		_, err := n.Solve()
		assert.ErrorContains(t, err, want)
	}
	n := gang(1e9, 1e9, 2e9)
	n.Nodes = append(n.Nodes, "far")
	n.Cavities = append(n.Cavities, Cavity{Node: "far", Volume: 1e-6})
	s, err := n.Solve()
	require.NoError(t, err)
	assert.Equal(t, CutOff, s.Cavities[2].Never)
	assert.False(t, math.IsInf(s.Cavities[0].At, 1), "the others fill all the same")
}

func BenchmarkAGangOfTwelve(b *testing.B) {
	n := gang(1e8, 1e9, 2e9, 3e9, 4e9, 1e9, 2e9, 3e9, 4e9, 5e9, 5e9, 6e9, 7e9)
	for i := range n.Cavities {
		n.Cavities[i].Height = 0.05
	}
	for b.Loop() {
		if _, err := n.Solve(); err != nil {
			b.Fatal(err)
		}
	}
}
