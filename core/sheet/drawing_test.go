package sheet

import (
	"testing"

	"bathyform/core/plane"
	"bathyform/core/tone"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestADrawingKnowsItsBoundsAndTurnsItsPathOver(t *testing.T) {
	d := Drawing{
		Areas: []Area{{tone.Master, [][]plane.Point{Rectangle(plane.Point{2, 3}, plane.Point{12, 8})}}},
		Lines: []Line{{tone.Seam, []plane.Point{{0, 4}, {14, 4}}, false, true}},
	}
	d.Fit(1)
	assert.Equal(t, plane.Point{-1, 2}, d.Low)
	assert.Equal(t, plane.Point{15, 9}, d.High)
	assert.Equal(t, "M3.00 6.00L13.00 6.00L13.00 1.00L3.00 1.00Z", d.Path(d.Areas[0].Rings, true))
	assert.Equal(t, "M1.00 5.00L15.00 5.00", d.Path([][]plane.Point{d.Lines[0].Points}, false))
	var empty Drawing
	empty.Fit(0)
	assert.Less(t, empty.Low[0], empty.High[0], "even of nothing")
}

func TestAViewLooksAcross(t *testing.T) {
	v := View{Right: r3.Vec{Y: 1}, Up: r3.Vec{Z: 1}}
	assert.Equal(t, plane.Point{2, 3}, v.On(r3.Vec{X: 1, Y: 2, Z: 3}))
	assert.Len(t, v.Rings([][]r3.Vec{{{X: 1}, {Y: 1}, {Z: 1}}, {{X: 1}}}), 1, "a loop of one point is none")
}

func TestADrawingLaidOnItsSide(t *testing.T) {
	d := Drawing{Areas: []Area{{tone.Master, [][]plane.Point{Rectangle(plane.Point{0, 0}, plane.Point{10, 40})}}},
		Lines: []Line{{tone.Ink, []plane.Point{{0, 0}, {10, 40}}, false, false}}, Texts: []Text{{At: plane.Point{5, 40}, Words: "1"}}}
	area := plane.Area(d.Areas[0].Rings[0])
	d.Turn()
	d.Fit(0)
	assert.Equal(t, plane.Point{-40, 0}, d.Low)
	assert.Equal(t, plane.Point{0, 10}, d.High)
	assert.InDelta(t, area, plane.Area(d.Areas[0].Rings[0]), 1e-9, "turned, not mirrored")
	assert.Equal(t, plane.Point{-40, 5}, d.Texts[0].At, "what pointed up points left")
	assert.Equal(t, plane.Point{-40, 10}, d.Lines[0].Points[1])
}
