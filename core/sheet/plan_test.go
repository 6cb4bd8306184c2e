package sheet_test

import (
	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mould"
	"bathyform/core/part"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/sheet"
	"bathyform/core/tone"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var house = practice.Usual()

func planned(t *testing.T, m *mesh.Mesh) mould.Plan {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	b := bench.Take(part.Master{Mesh: m, Report: r})
	d, err := b.Start(t.Context(), house)
	require.NoError(t, err)
	d.Draw, d.RubberUpA, d.RubberUpB, d.Feed = axis.PlusZ, axis.PlusZ, axis.MinusZ, practice.FeedTop
	p, err := b.Lay(t.Context(), bench.Question{House: house, Design: d, Kind: design.Board})
	require.NoError(t, err)
	return p
}

func TestBoardsComeOutAtTheirTrueSize(t *testing.T) {
	p := planned(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	s := sheet.Boards(p.Box.Panels, house.PanelThick, 23, p.Box.Height.Value)
	for form, data := range map[string][]byte{"SVG": s.SVG(), "DXF": s.DXF()} {
		areas := sheet.Rings(t, data)
		sheet.Contains(t, areas, 84*63) // long wall: 60 + 2 × 12 by 20 + 13 + 20 and 10 of freeboard
		sheet.Contains(t, areas, 74*63) // end wall, over the long ones
		sheet.Contains(t, areas, 94*74) // base
		assert.NotEmpty(t, areas, form)
	}
	assert.Contains(t, string(s.DXF()), "AC1009")
	assert.Contains(t, string(s.SVG()), "this line is 100 mm long")
}

func TestThePartingBoardHasThePartsOutline(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 180)
	p := planned(t, m)
	frame, err := grid.NewFrame(r3.Vec{Z: 1})
	require.NoError(t, err)
	s := sheet.PartingBoard([]plane.Point{{-32, -32}, {32, -32}, {32, 32}, {-32, 32}}, frame, m.Section(r3.Vec{Z: 1}, p.Parting.Height))
	for _, data := range [][]byte{s.SVG(), s.DXF()} {
		areas := sheet.Rings(t, data)
		sheet.Contains(t, areas, 64*64)
		sheet.Contains(t, areas, 90*400*math.Sin(2*math.Pi/180))
	}
}

func TestMarksSayWhichWayIsUpAndHowHighToPour(t *testing.T) {
	p := planned(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	for _, s := range []sheet.Sheet{sheet.Boards(p.Box.Panels, 5, 23, 53), sheet.Jointed(84, 64, 63, 5, 23, 53)} {
		arrows, pours := 0, 0
		for _, l := range s.Lines {
			if l.Tone == tone.Mark && len(l.Points) == 3 && !l.Closed {
				assert.Greater(t, l.Points[1][1], l.Points[0][1], "the arrow points up")
				arrows++
			}
		}
		for _, text := range s.Texts {
			if text.Words == "23.0 mm" || text.Words == "53.0 mm" {
				pours++
			}
		}
		assert.Equal(t, 4, arrows, s.Name)
		assert.Equal(t, 8, pours, "bed and rubber on every wall")
	}
}
