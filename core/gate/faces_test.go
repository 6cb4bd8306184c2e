package gate

import (
	"testing"

	"bathyform/core/channel"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A table on two blocks of the same height: gates and vents keep off the face
// that shows, and take the one to spare.
func TestScarsKeepOffTheFacesThatShow(t *testing.T) {
	m := meshtest.Extruded([][2]float64{{0, 0}, {20, 0}, {20, 10}, {40, 10}, {40, 0}, {60, 0}, {60, 30}, {40, 30}, {40, 20}, {20, 20},
		{20, 30}, {0, 30}}, 14)
	s := space(t, m)
	s.Parted = false
	left, right := r3.Vec{X: 10, Y: 7}, r3.Vec{X: 50, Y: 7} // the undersides of the feet
	for name, c := range map[string]struct {
		marks []Mark
		right bool
	}{
		"the left one shows":        {[]Mark{{At: left, Show: true}}, true},
		"the right one shows":       {[]Mark{{At: right, Show: true}}, false},
		"the right one to spare":    {[]Mark{{At: right}}, true},
		"spared, but it shows, too": {[]Mark{{At: left, Show: true}, {At: left}}, true},
	} {
		choices := low()
		choices.Marks = c.marks
		choices = choices.On(Marked(s.Master, c.marks))
		gate := of(s.lay(t, choices), channel.Gate)[0].Mouth()
		assert.Equal(t, c.right, gate.X > 30, "%s: at %v", name, gate)
	}

	choices := low(Vent{At: r3.Vec{X: 10, Y: 7, Z: 30}, Bore: 2})
	choices.Marks = []Mark{{At: r3.Vec{X: 10, Y: 7, Z: 30}, Show: true}, {At: left, Show: true}, {At: right, Show: true}}
	choices = choices.On(Marked(s.Master, choices.Marks))
	told := 0
	for _, f := range s.lay(t, choices).Findings(s.Mould, choices) {
		if f.Code == "scar-on-show-face" {
			told++
		}
	}
	assert.Equal(t, 2, told, "the vent's, and the gate's that has no other place")
	require.Nil(t, Marked(s.Master, nil))
}
