package template

import (
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/box"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/slit"

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
	d, err := b.Start(house)
	require.NoError(t, err)
	d.Draw, d.RubberUpA, d.RubberUpB = axis.PlusZ, axis.PlusZ, axis.MinusZ
	p, err := b.Lay(bench.Question{House: house, Design: d, Kind: design.Board})
	require.NoError(t, err)
	return p
}

// rings reads a sheet back, as another program would, and returns the areas
// of its closed outlines.
func rings(t *testing.T, data []byte) (areas []float64) {
	t.Helper()
	d, err := outline.Parse(data)
	require.NoError(t, err)
	for _, r := range d.Rings {
		areas = append(areas, math.Abs(plane.Area(r)))
	}
	return areas
}

func contains(t *testing.T, areas []float64, want float64) {
	t.Helper()
	for _, a := range areas {
		if math.Abs(a-want) <= 1e-3*want {
			return
		}
	}
	assert.Fail(t, "not on the sheet", "%.1f mm² among %v", want, areas)
}

func TestBoardsComeOutAtTheirTrueSize(t *testing.T) {
	p := planned(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	s := Boards(p.Box.Panels, house.PanelThick, 23, p.Box.Height.Value)
	for form, data := range map[string][]byte{"SVG": s.SVG(), "DXF": s.DXF()} {
		areas := rings(t, data)
		contains(t, areas, 84*63) // long wall: 60 + 2 × 12 by 20 + 13 + 20 and 10 of freeboard
		contains(t, areas, 74*63) // end wall, over the long ones
		contains(t, areas, 94*74) // base
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
	s := PartingBoard([]plane.Point{{-32, -32}, {32, -32}, {32, 32}, {-32, 32}}, frame, m.Section(r3.Vec{Z: 1}, p.Parting.Height))
	for _, data := range [][]byte{s.SVG(), s.DXF()} {
		areas := rings(t, data)
		contains(t, areas, 64*64)
		contains(t, areas, 90*400*math.Sin(2*math.Pi/180))
	}
}

func TestAGangIsSetOutByItsPlan(t *testing.T) {
	shape, err := gang.Seen(meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 10}), r3.Vec{Z: 1})
	require.NoError(t, err)
	l, err := gang.Lay(shape, gang.Ask{Count: 4, Gap: 8, Edge: 12})
	require.NoError(t, err)
	areas := rings(t, GangPlan(l, shape).DXF())
	contains(t, areas, l.Wide*l.Deep)
	n := 0
	for _, a := range areas {
		if math.Abs(a-1200) < 2 {
			n++
		}
	}
	assert.Equal(t, 4, n)
	round, err := gang.Lay(shape, gang.Ask{Count: 3, Pot: 200, Gap: 8, Edge: 12})
	require.NoError(t, err)
	contains(t, rings(t, GangPlan(round, shape).SVG()), math.Pi/4*round.Diameter*round.Diameter)
}

func TestSheetsAreSoundXML(t *testing.T) {
	s := Sheet{Name: `5 < 6 & "so"`, Lines: []Line{rectangle(Score, 0, 0, 10, 10)}, Texts: []Text{{plane.Point{1, 1}, 3, "<b>&"}}}
	dec := xml.NewDecoder(strings.NewReader(string(s.SVG())))
	for {
		_, err := dec.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		require.NoError(t, err)
	}
	// every code of a DXF has its value
	lines := strings.Split(strings.TrimSuffix(string(s.DXF()), "\n"), "\n")
	require.Zero(t, len(lines)%2)
	for i := 0; i < len(lines); i += 2 {
		assert.Regexp(t, `^\d+$`, lines[i])
	}
}

func TestFingersOfNeighbouringWallsInterlock(t *testing.T) {
	s := Jointed(80, 50, 60, 5, 20, 53)
	areas := rings(t, s.DXF())
	contains(t, areas, 90*60) // the base
	// a wall with its first finger out and its neighbour with it in fill each other's edge
	long, end := fingered(90, 60, 5, 5, true), fingered(60, 60, 5, 5, false)
	assert.InDelta(t, 90*60-2*(2*12*5), plane.Area(long), 1e-9, "two notches of twelve on each side")
	assert.InDelta(t, 60*60-2*(3*12*5), plane.Area(end), 1e-9, "three of them on its neighbour")
	contains(t, areas, math.Abs(plane.Area(long)))
	assert.Contains(t, string(s.SVG()), "20.0 mm")
}

func TestABoxIsFoldedFromOneSheet(t *testing.T) {
	s := Folded(80, 50, 40)
	require.Equal(t, Cut, s.Lines[0].Layer)
	flaps := 4 * (15.0*(40-2*0.3*15) + 15*0.3*15)
	assert.InEpsilon(t, 80*50+2*80*40+2*50*40+flaps, math.Abs(plane.Area(s.Lines[0].Points)), 1e-9)
	scores := 0
	for _, l := range s.Lines {
		if l.Layer == Score {
			scores++
		}
	}
	assert.Equal(t, 8, scores)
}

func TestAStripIsAsLongAsItsWall(t *testing.T) {
	b, err := box.Of(box.Sleeve, box.Ask{Hull: []plane.Point{{0, 0}, {60, 0}, {60, 20}, {0, 20}}, Beside: 12})
	require.NoError(t, err)
	s := Bent(b, 63, 25)
	contains(t, rings(t, s.SVG()), (b.Wall+25)*63)
	low, high := s.Bounds()
	assert.Greater(t, high[0]-low[0], b.Wall)
	contains(t, rings(t, BlankingEnd(b, 80, 40).DXF()), min(b.Wide, b.Deep)*40)
	contains(t, rings(t, Plates(b, 20).DXF()), (b.Wide+40)*(b.Deep+40))
}

func TestGuidesOfABlock(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 90)
	p, err := pieces.Make(t.Context(), m, pieces.Choices{Draw: r3.Vec{Z: 1}, Clearance: house.Clearance, HalvesOnly: true, Cells: 60}, nil)
	require.NoError(t, err)
	walls := []plane.Point{{-32, -32}, {32, -32}, {32, 32}, {-32, 32}}
	g := slit.Lay(p, walls, true)
	areas := rings(t, Wrap(g).DXF())
	contains(t, areas, 4*64*g.Height)
	assert.Contains(t, string(Wrap(g).SVG()), "hinge: do not cut")
	fins := Fins(p, 12)
	strips := rings(t, fins.DXF())
	require.Len(t, strips, 1)
	assert.InEpsilon(t, 2*math.Pi*20, strips[0]/12, 0.06, "as long as the line round the part")
	keyed := Sheet{Name: "board"}.Keyed(p.Keys.Keys)
	assert.GreaterOrEqual(t, len(keyed.Lines), 4)
	assert.Len(t, keyed.Texts, 1, "the odd one is named")
	f, err := Flange(m, r3.Vec{Z: 1})
	require.NoError(t, err)
	contains(t, rings(t, f.DXF()), math.Pi*45*45)
}

func TestMarksSayWhichWayIsUpAndHowHighToPour(t *testing.T) {
	p := planned(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}))
	for _, s := range []Sheet{Boards(p.Box.Panels, 5, 23, 53), Jointed(84, 64, 63, 5, 23, 53)} {
		arrows, pours := 0, 0
		for _, l := range s.Lines {
			if l.Layer == Mark && len(l.Points) == 3 && !l.Closed {
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
