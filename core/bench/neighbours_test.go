package bench_test

import (
	"math"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/mould"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A block of 40 by 20 by 30 that is drawn sideways and poured upright, several
// times: what leads to one keeps off the others, or it is told.
func TestNoChannelRunsThroughANeighbour(t *testing.T) {
	m, q := upright(t, r3.Vec{X: 40, Y: 20, Z: 30})
	d := &q.Design
	d.Vents = []design.Vent{{At: design.Place{20, 10, 30}, Bore: 2}}
	beside, over := side(t, d.Draw)
	for name, c := range map[string]struct {
		others []design.Pose
		system channel.System
		codes  []string
	}{
		"alone":                       {nil, channel.Each, nil},
		"side by side":                {[]design.Pose{beside(52)}, channel.Comb, nil},
		"over one another":            {[]design.Pose{over(50)}, channel.Ladder, nil},
		"four":                        {[]design.Pose{beside(60), over(50), both(beside(60), over(50))}, channel.Ladder, nil},
		"so close that no rung is in": {[]design.Pose{over(36)}, channel.Ladder, []string{"no-room-for-sprue", "vent-has-no-way"}},
	} {
		q.Design.Gang = nil
		if c.others != nil {
			q.Design.Gang = append([]design.Pose{{}}, c.others...)
		}
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		told := map[string]bool{}
		for _, f := range s.Findings {
			if f.Severity == finding.Stop && f.Stage == finding.Gates {
				told[f.Code] = true
			}
		}
		if c.codes != nil {
			assert.True(t, told[c.codes[0]] || told[c.codes[1]], "%s: %v", name, told)
			continue
		}
		assert.Equal(t, c.system, s.Gates.System, name)
		assert.Empty(t, told, name)
		for _, ch := range s.Gates.Channels {
			for i, pose := range s.Plan.Cavities.Poses {
				if i != ch.Cavity {
					assert.GreaterOrEqual(
						t,
						rubber(ch, func(p r3.Vec) r3.Vec { return back(s.Plan.Cavities, p, pose) }),
						4.9,
						"%s: %s to cavity %d",
						name,
						ch.Named(9),
						i+1,
					)
				}
			}
		}
	}

	l, err := m.Gang(t.Context(), q, gang.Ask{Count: 6, Gap: 6, Edge: 12})
	require.NoError(t, err)
	q.Design.Gang = nil
	for _, p := range l.Poses {
		q.Design.Gang = append(q.Design.Gang, design.Pose{p.X, p.Y, p.Turn})
	}
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	for _, f := range s.Findings {
		assert.False(t, f.Severity == finding.Stop && f.Stage == finding.Gates, "what is proposed can be fed: %s", f.What)
	}
}

// rubber is how much is between a channel and a block of 40 by 20 by 30, its
// places taken back to where that stands.
func rubber(ch gate.Channel, at func(r3.Vec) r3.Vec) float64 {
	least := math.Inf(1)
	for along := 0.0; along <= ch.Length(); along += 0.5 {
		p := at(ch.At(along))
		d := r3.Vec{X: max(0, -p.X, p.X-40), Y: max(0, -p.Y, p.Y-20), Z: max(0, -p.Z, p.Z-30)}
		wide := ch.Bore
		if ch.Rim > 0 {
			wide += (ch.Rim - ch.Bore) * along / ch.Length()
		}
		least = min(least, r3.Norm(d)-wide/2)
	}
	return least
}

// back is where a place of a cavity lies on the master, none being turned.
func back(c mould.Cavities, p r3.Vec, pose gang.Pose) r3.Vec {
	return r3.Sub(p, r3.Sub(c.Place(r3.Vec{}, pose), r3.Vec{}))
}

func both(a, b design.Pose) design.Pose { return design.Pose{a[0] + b[0], a[1] + b[1], 0} }

// side is a pose so far beside, or over, the first one.
func side(t *testing.T, draw axis.Axis) (beside, over func(by float64) design.Pose) {
	t.Helper()
	frame, err := grid.NewFrame(draw.Dir())
	require.NoError(t, err)
	pose := func(along r3.Vec) func(float64) design.Pose {
		in := frame.In(along)
		return func(by float64) design.Pose { return design.Pose{by * in.X, by * in.Y, 0} }
	}
	return pose(r3.Vec{X: 1}), pose(r3.Vec{Z: 1})
}
