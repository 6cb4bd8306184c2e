package gate

import (
	"cmp"
	"math"
	"slices"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A half-round channel takes half of a round one, in the half that holds the
// most of the part; a strip as much as its slice of the round, which for a thin one
// is width times thickness.
func TestChannelsAreCutIntoTheParting(t *testing.T) {
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16})
	whole := func(l Layout) (sum float64) {
		for _, c := range append(of(l, channel.Runner), of(l, channel.Gate)...) {
			sum += c.Full()
		}
		return sum
	}
	round := partedAt(t, block, 6).lay(t, low())
	c := low()
	c.Section = design.HalfRound
	half := partedAt(t, block, 6).lay(t, c)
	assert.InEpsilon(t, whole(round)/2, whole(half), 1e-9)
	assert.Equal(t, r3.Vec{Z: 1}, of(half, channel.Gate)[0].Half, "most of it lies over the parting")
	assert.Equal(t, r3.Vec{Z: -1}, of(partedAt(t, block, 12).lay(t, c), channel.Gate)[0].Half)
	assert.InEpsilon(t, of(round, channel.Gate)[0].Body.Scar()/2, of(half, channel.Gate)[0].Body.Scar(), 1e-9)

	c.Section, c.Strip = design.Strip, 0.3
	strip := partedAt(t, block, 6).lay(t, c)
	gate := of(strip, channel.Gate)[0]
	assert.InEpsilon(t, gate.Bore*0.3*gate.Length(), gate.Full(), 0.01)
	assert.Equal(t, design.Strip, gate.Sectioned())
	for _, l := range []Layout{round, half, strip} {
		assert.Empty(t, l.Faults)
		for _, ch := range l.Channels {
			assert.InEpsilon(t, ch.Volume.Value*1000, ch.VolumeBelow(l.Top), 1e-9, "%s is full at the top", ch.Kind)
		}
	}

	s := space(t, block)
	s.Parted = false
	told := false
	for _, f := range s.lay(t, c).Findings(s.Mould, c) {
		told = told || f.Code == "section-off-parting"
	}
	assert.True(t, told, "under the part there is no face to cut it into")
}

// A sprue that shall be a cone is one, and stands off the part as its width wants.
// A box that does not grow lets it be as wide as it has room.
func TestASprueIsAConeAsWideAsThereIsRoom(t *testing.T) {
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16})
	s := partedAt(t, block, 8)
	straight := s.lay(t, low())
	for _, want := range []float64{5, 9, 12, 60} {
		c := low()
		c.SprueTop = want
		l := s.lay(t, c)
		sprue, well := of(l, channel.Sprue)[0], of(l, channel.Well)[0]
		if want <= 6 {
			assert.Equal(t, straight.Channels, l.Channels, "it is wider than that anyway")
			continue
		}
		assert.LessOrEqual(t, sprue.Bore, want)
		assert.InDelta(t, want, sprue.Bore, 1e-9, "the box grows for it")
		assert.InDelta(t, 6, sprue.Rim, 1e-9, "its foot")
		assert.Equal(t, sprue.Bore, well.Bore)
		assert.GreaterOrEqual(t, well.Rim, well.Bore)
		for _, p := range []float64{0, 0.3, 0.6, 1} {
			at := sprue.At(p * sprue.Length())
			assert.GreaterOrEqual(t, s.Master.Distance(at)-sprue.Wide(p*sprue.Length())/2, webs.Part-0.1, "rubber to the part")
		}
		assert.InEpsilon(t, sprue.Volume.Value*1000, sprue.VolumeBelow(l.Top), 1e-9)
		half := (sprue.Foot + sprue.Top) / 2
		assert.Less(t, sprue.VolumeBelow(half), sprue.VolumeBelow(l.Top)/2, "it is narrow below")
	}
	s.Grows = false
	s.Mould.Low.X -= 20
	c := low()
	c.SprueTop = 60
	l := s.lay(t, c)
	sprue := of(l, channel.Sprue)[0]
	assert.Greater(t, sprue.Bore, 20.0, "what there is")
	assert.Less(t, sprue.Bore, 30.0)
	assert.InDelta(t, s.Mould.Low.X+webs.Wall+sprue.Bore/2, sprue.Path[0].X, 0.6, "up to the wall")
}

// The foot under the sprue and the blind channel are bodies too: they grow out of
// what is there, keep clear of the part, hold what they are drawn with, and the
// box makes room. Where there is none, that is told.
func TestFirstResinRunsIntoPockets(t *testing.T) {
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16})
	moulds := map[string]stood{"level": partedAt(t, block, 8), "from below": space(t, block), "upright": uprightAt(t, block, 10)}
	for name, s := range moulds {
		plain := s.lay(t, low())
		c := low()
		c.Sump, c.Blind = 9, 18
		l := s.lay(t, c)
		require.Empty(t, l.Faults, name)
		sump, blind := of(l, channel.Sump), of(l, channel.Blind)
		require.Len(t, sump, 1, name)
		require.Len(t, blind, 1, name)
		assert.InDelta(t, 9, sump[0].Length(), 1e-9, name)
		assert.InDelta(t, 18, blind[0].Length(), 1e-9, name)
		sprue := of(l, channel.Sprue)[0]
		assert.Equal(t, sprue.Path[len(sprue.Path)-1], sump[0].Path[0], "under the sprue")
		assert.Less(t, sump[0].Path[1].Z, sump[0].Path[0].Z)
		for _, p := range []Channel{sump[0], blind[0]} {
			assert.Positive(t, p.Volume.Value, name)
			assert.LessOrEqual(t, p.Volume.Value*1000, p.Full()+1e-9, name)
			assert.Greater(t, p.Volume.Value*1000, 0.5*p.Full(), name)
			for _, share := range []float64{0.3, 0.7, 1} {
				assert.GreaterOrEqual(t, s.Master.Distance(p.At(share*p.Length()))-p.Bore/2, webs.Part-0.1, "%s: %s", name, p.Kind)
			}
			assert.Zero(t, p.Body.Scar(), "nothing of it meets the part")
		}
		if name == "upright" {
			assert.InDelta(t, 10, blind[0].Path[1].Y, 1e-9, "in the parting")
		}
		assert.Zero(t, s.Master.Distance(of(l, channel.Gate)[0].Mouth()), "the gate meets the part as before")
		assert.Equal(t, len(plain.Channels)+2, len(l.Channels), name)
		last := l.Channels[len(l.Channels)-1]
		assert.InEpsilon(t, last.Volume.Value*1000, last.VolumeBelow(l.Top), 1e-9)
	}
	s := partedAt(t, block, 8)
	s.Grows = false
	c := low()
	c.Sump, c.Blind = 60, 250
	codes := map[string]int{}
	for _, f := range s.lay(t, c).Findings(s.Mould, c) {
		codes[f.Code]++
	}
	assert.Equal(t, 2, codes["no-room-for-pocket"], "%v", codes)
}

// uprightAt is a mould whose parting stands upright, across y.
func uprightAt(t testing.TB, m *mesh.Mesh, at float64) stood {
	t.Helper()
	s := space(t, m)
	s.Parted, s.Parting, s.Draw = true, at, r3.Vec{Y: 1}
	return s
}

// Vents end at the top, at the rim of the well and never at its floor, or in a cup.
func TestVentsEndAsTheyAreAskedTo(t *testing.T) {
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16})
	s := partedAt(t, block, 8)
	at := r3.Vec{X: 8, Y: 10, Z: 16}
	top := s.lay(t, low(Vent{At: at, Bore: 2}))
	rim := s.lay(t, low(Vent{At: at, Bore: 2, Rim: true}))
	well, vent := of(rim, channel.Well)[0], of(rim, channel.Vent)[0]
	end := vent.Path[len(vent.Path)-1]
	assert.Greater(t, len(vent.Path), 2)
	assert.Zero(t, well.Body.Path[0].X-end.X+well.Path[0].Y-end.Y, "into the well")
	assert.Greater(t, end.Z, well.Path[0].Z+0.6*(well.Path[1].Z-well.Path[0].Z), "near its rim")
	for i := 1; i < len(vent.Path); i++ {
		assert.Greater(t, vent.Path[i].Z, vent.Path[i-1].Z, "rising all the way")
	}
	assert.Less(t, vent.Volume.Value*1000, vent.Full(), "what is in the well counts there")
	assert.InDelta(t, top.Trapped().Volume, rim.Trapped().Volume, 1e-9, "it lets as much out")

	cup := s.lay(t, low(Vent{At: r3.Vec{X: 25, Y: 10, Z: 16}, Bore: 2, Cup: 10}))
	over := of(cup, channel.Overflow)
	require.Len(t, over, 1)
	assert.InEpsilon(t, math.Pi*5*(4+2*10+100)/12, over[0].Volume.Value*1000, 1e-9)
	assert.InDelta(t, cup.Top-5, of(cup, channel.Vent)[0].Top, 1e-9, "the vent ends under it")

	c := low(Vent{At: at, Bore: 2, Cup: 90}, Vent{At: r3.Vec{X: 30, Y: 10, Z: 16}, Bore: 2, Cut: true})
	l := s.lay(t, c)
	assert.Empty(t, of(l, channel.Overflow))
	told := 0
	for _, f := range l.Findings(s.Mould, c) {
		if f.Code == "vent-ends-otherwise" {
			told++
		}
	}
	assert.Equal(t, 1, told, "the cup has no room")
	assert.Len(t, l.Rods(), len(l.Channels)-1, "no wire for what is cut afterwards")
}

// Two horns whose tips stand apart want two vents level, and one where the block
// lies so that all air goes up one of them. Tilted by hand the air is that of the
// tilted mould, and heights are told in the mould as it is built.
func TestATiltMovesHighSpotsTogether(t *testing.T) {
	wedge := meshtest.Extruded([][2]float64{{0, 0}, {60, 0}, {60, 8}, {40, 12}, {20, 8}, {0, 12}}, 20)
	up := zUp
	s := standing(t, wedge, up)
	level := s.lay(t, low())
	require.Len(t, level.Trapped().Pockets, 1, "all of it, without a vent")
	vents := ProposeVents(s.Space, low(), 1)
	require.GreaterOrEqual(t, len(vents), 2)
	slices.SortFunc(vents, func(a, b Vent) int { return cmp.Compare(a.At.X, b.At.X) })

	c := low(vents[0])
	tilt := design.Tilt{Degrees: 15, High: design.Place{-1}}
	c.Tilt = tilt.Up(up)
	l, other := s.lay(t, c), s.lay(t, low(vents[0]))
	assert.Greater(t, other.Trapped().Volume, 100.0)
	assert.Less(t, l.Trapped().Volume, other.Trapped().Volume/4)
	for _, p := range other.Cavities[0].Trapped.Pockets {
		told := other.Cavities[0].Over(p)
		assert.InDelta(t, p.ApexHeight-s.Space.Low()+other.Cavities[0].Low, told.ApexHeight, 1e-9)
	}
	for _, p := range l.Cavities[0].Trapped.Pockets {
		assert.InDelta(t, r3.Dot(up, p.Apex)-s.Space.Low()+l.Cavities[0].Low, l.Cavities[0].Over(p).ApexHeight, 1e-9)
	}
}
