package gate

import (
	"container/heap"
	"math"
	"testing"

	"bathyform/core/channel"
	"bathyform/core/design"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// The plain definition, over a whole gang with its channels: cube by cube, a
// flood from the open tops downwards, in the order of the lowest place on the
// way out (priority-flood, Barnes, Lehman & Mulla 2014). What lies above that
// place keeps its air.

type wet struct {
	at   [3]int
	seal int
}

type wets []wet

func (h wets) Len() int           { return len(h) }
func (h wets) Less(i, j int) bool { return h[i].seal > h[j].seal }
func (h wets) Swap(i, j int)      { h[i], h[j] = h[j], h[i] }
func (h *wets) Push(x any)        { *h = append(*h, x.(wet)) }
func (h *wets) Pop() any {
	last := (*h)[len(*h)-1]
	*h = (*h)[:len(*h)-1]
	return last
}

// flooded is the air in mm³ that stays in cavities, by cubes of a millimetre.
func flooded(l Layout, inPart func(r3.Vec) bool, low, high r3.Vec) float64 {
	top := int(math.Floor(high.Z))
	part, space, seal := map[[3]int]bool{}, map[[3]int]bool{}, map[[3]int]int{}
	open := &wets{}
	within := func(low, high r3.Vec, holds func(p r3.Vec) bool, into map[[3]int]bool) {
		for x := int(math.Floor(low.X)); x <= int(high.X); x++ {
			for y := int(math.Floor(low.Y)); y <= int(high.Y); y++ {
				for z := int(math.Floor(low.Z)); z < min(top, int(high.Z)+1); z++ {
					if holds(r3.Vec{X: float64(x) + 0.5, Y: float64(y) + 0.5, Z: float64(z) + 0.5}) {
						into[[3]int{x, y, z}] = true
					}
				}
			}
		}
	}
	within(low, high, inPart, part)
	within(low, high, inPart, space)
	for _, c := range l.Channels {
		from, to := c.Bounds()
		within(from, to, func(p r3.Vec) bool {
			along, off := c.Along(p)
			r := c.Bore/2 + (max(c.Rim, c.Bore)-c.Bore)/2*along/c.Length()
			return c.Fills && off < max(r, 0.9)
		}, space)
	}
	for at := range space {
		if at[2] == top-1 {
			*open = append(*open, wet{at, top})
		}
	}
	heap.Init(open)
	for open.Len() > 0 {
		now := heap.Pop(open).(wet)
		if _, done := seal[now.at]; done {
			continue
		}
		seal[now.at] = now.seal
		for _, d := range [6][3]int{{1}, {-1}, {0, 1}, {0, -1}, {0, 0, 1}, {0, 0, -1}} {
			next := [3]int{now.at[0] + d[0], now.at[1] + d[1], now.at[2] + d[2]}
			if _, done := seal[next]; space[next] && !done {
				heap.Push(open, wet{next, min(now.seal, next[2]+1)})
			}
		}
	}
	air := 0.0
	for at := range space {
		if s, reached := seal[at]; part[at] && (!reached || at[2]+1 > s) {
			air++
		}
	}
	return air
}

func TestTheAirOfAWholeGangIsWhatAFloodFinds(t *testing.T) {
	rows := []string{"########...", "...#####...", "...#####...", "..........."}
	places := []r3.Vec{{}, {X: 78}, {Z: 45}, {X: 78, Z: 45}}
	inPart := func(p r3.Vec) bool {
		for _, by := range places {
			q := r3.Sub(p, by)
			x, z := int(math.Floor(q.X/5)), int(math.Floor(q.Z/5))
			if q.Y > 0 && q.Y < 10 && x >= 0 && x < 11 && z >= 0 && z < 4 && rows[3-z][x] != '#' {
				return true
			}
		}
		return false
	}
	s := space(t, horns())
	s.Draw, s.Parting, s.Places = r3.Vec{Y: 1}, 5, nil
	for _, by := range places {
		s.Places = append(s.Places, func(p r3.Vec) r3.Vec { return r3.Add(p, by) })
	}
	s.Mould.Low = r3.Sub(s.Mould.Low, r3.Vec{X: 6, Y: 6})
	s.Mould.High = r3.Add(s.Mould.High, r3.Vec{X: 84, Y: 6, Z: 45})
	both := ProposeVents(s.Space, low(), 2)
	plugged := both[1]
	plugged.State = design.Plugged
	for name, vents := range map[string][]Vent{"both horns": both, "one horn": both[:1], "one is plugged": {both[0], plugged}} {
		l := s.lay(t, low(vents...))
		assert.Equal(t, channel.Ladder, l.System)
		for _, c := range l.Cavities {
			assert.Empty(t, c.Lost, "every vent has a way")
		}
		found := flooded(l, inPart, s.Mould.Low, s.Mould.High)
		assert.InDelta(t, 1000*l.Air().Value, found, 0.03*found+60, name)
		if name != "both horns" {
			assert.InEpsilon(t, 4*15*10*10, found, 0.03, "four times the shut horn")
		}
	}
}
