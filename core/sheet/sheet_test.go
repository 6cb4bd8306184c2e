package sheet

import (
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strings"
	"testing"

	"bathyform/core/box"
	"bathyform/core/gang"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/slit"
	"bathyform/core/tone"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var house = practice.Usual()

// Rings reads a sheet back, as another program would, and returns the areas
// of its closed outlines.
func Rings(t *testing.T, data []byte) (areas []float64) {
	t.Helper()
	d, err := outline.Parse(data)
	require.NoError(t, err)
	for _, r := range d.Rings {
		areas = append(areas, math.Abs(plane.Area(r)))
	}
	return areas
}

// Contains holds an area against those on a sheet.
func Contains(t *testing.T, areas []float64, want float64) {
	t.Helper()
	for _, a := range areas {
		if math.Abs(a-want) <= 1e-3*want {
			return
		}
	}
	assert.Fail(t, "not on the sheet", "%.1f mm² among %v", want, areas)
}

func TestAGangIsSetOutByItsPlan(t *testing.T) {
	shape, err := gang.Seen(meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 10}), r3.Vec{Z: 1})
	require.NoError(t, err)
	l, err := gang.Lay(shape, gang.Ask{Count: 4, Gap: 8, Edge: 12})
	require.NoError(t, err)
	block := mould.InPlan{Low: plane.Point{-l.Wide / 2, -l.Deep / 2}, High: plane.Point{l.Wide/2 + 10, l.Deep / 2},
		Ways: []mould.Way{{Name: "runner", Wide: 6, Rim: 6, Points: []plane.Point{{0, 0}, {20, 0}, {20, 15}}},
			{Name: "sprue", Wide: 8, Rim: 8, Points: []plane.Point{{50, 0}, {50, 0}}}}}
	areas := Rings(t, GangPlan(l, shape, block).DXF())
	Contains(t, areas, 6*20)
	Contains(t, areas, 6*15)
	Contains(t, areas, 12*16*math.Sin(math.Pi/12)) // 24 corners round a rod that stands along the draw
	Contains(t, areas, (l.Wide+10)*l.Deep)         // with room for the sprue
	n := 0
	for _, a := range areas {
		if math.Abs(a-1200) < 2 {
			n++
		}
	}
	assert.Equal(t, 4, n)
	round, err := gang.Lay(shape, gang.Ask{Count: 3, Pot: 200, Gap: 8, Edge: 12})
	require.NoError(t, err)
	Contains(t, Rings(t, GangPlan(round, shape, mould.InPlan{}).SVG()), math.Pi/4*round.Diameter*round.Diameter)
}

// Rods are drawn stretched out: a cone as a trapezium, what is alike once.
func TestRodsAreCutByTheirSheet(t *testing.T) {
	rod := func(name string, wide, rim float64, path ...r3.Vec) mould.Rod {
		return mould.Rod{Name: name, Bore: pieces.Bore{Path: path, Wide: wide, Rim: rim}}
	}
	s := Rods([]mould.Rod{
		rod("well", 8, 16, r3.Vec{}, r3.Vec{Z: 12}),
		rod("vent 1", 2, 0, r3.Vec{}, r3.Vec{Z: 20}, r3.Vec{Y: 15, Z: 20}),
		rod("vent 2", 2, 0, r3.Vec{X: 9}, r3.Vec{X: 9, Z: 35}),
	})
	areas := Rings(t, s.DXF())
	Contains(t, areas, 12*12)
	Contains(t, areas, 2*35)
	var said []string
	for _, text := range s.Texts {
		said = append(said, text.Words)
	}
	assert.Contains(t, said, "2 × 2.0 mm, 35.0 mm: vent 1, vent 2", "as long stretched out")
	assert.Contains(t, said, "1 × 8.0 mm to 16.0 mm, 12.0 mm: well")
}

func TestSheetsAreSoundXML(t *testing.T) {
	s := Sheet{Name: `5 < 6 & "so"`, Lines: []Line{rectangle(tone.Score, 0, 0, 10, 10)},
		Texts: []Text{{At: plane.Point{1, 1}, Size: 3, Words: "<b>&"}}}
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
	areas := Rings(t, s.DXF())
	Contains(t, areas, 90*60) // the base
	// a wall with its first finger out and its neighbour with it in fill each other's edge
	long, end := fingered(90, 60, 5, 5, true), fingered(60, 60, 5, 5, false)
	assert.InDelta(t, 90*60-2*(2*12*5), plane.Area(long), 1e-9, "two notches of twelve on each side")
	assert.InDelta(t, 60*60-2*(3*12*5), plane.Area(end), 1e-9, "three of them on its neighbour")
	Contains(t, areas, math.Abs(plane.Area(long)))
	assert.Contains(t, string(s.SVG()), "20.0 mm")
}

func TestABoxIsFoldedFromOneSheet(t *testing.T) {
	s := Folded(80, 50, 40)
	require.Equal(t, tone.Cut, s.Lines[0].Tone)
	flaps := 4 * (15.0*(40-2*0.3*15) + 15*0.3*15)
	assert.InEpsilon(t, 80*50+2*80*40+2*50*40+flaps, math.Abs(plane.Area(s.Lines[0].Points)), 1e-9)
	scores := 0
	for _, l := range s.Lines {
		if l.Tone == tone.Score {
			scores++
		}
	}
	assert.Equal(t, 8, scores)
}

func TestAStripIsAsLongAsItsWall(t *testing.T) {
	b, err := box.Of(box.Sleeve, box.Ask{Hull: []plane.Point{{0, 0}, {60, 0}, {60, 20}, {0, 20}}, Beside: 12})
	require.NoError(t, err)
	s := Bent(b, 63, 25)
	Contains(t, Rings(t, s.SVG()), (b.Wall+25)*63)
	low, high := s.Bounds()
	assert.Greater(t, high[0]-low[0], b.Wall)
	Contains(t, Rings(t, BlankingEnd(b, 80, 40).DXF()), min(b.Wide, b.Deep)*40)
	Contains(t, Rings(t, Plates(b, 20).DXF()), (b.Wide+40)*(b.Deep+40))
}

func TestGuidesOfABlock(t *testing.T) {
	m := meshtest.Cylinder(20, 30, 90)
	p, err := pieces.Make(t.Context(), m, pieces.Choices{Draw: r3.Vec{Z: 1}, Clearance: house.Clearance, HalvesOnly: true, Cells: 60}, nil)
	require.NoError(t, err)
	walls := []plane.Point{{-32, -32}, {32, -32}, {32, 32}, {-32, 32}}
	g := slit.Lay(p, walls, true, nil)
	areas := Rings(t, Wrap(g).DXF())
	Contains(t, areas, 4*64*g.Height)
	assert.Contains(t, string(Wrap(g).SVG()), "hinge: do not cut")
	fins := Fins(p, 12)
	strips := Rings(t, fins.DXF())
	require.Len(t, strips, 1)
	assert.InEpsilon(t, 2*math.Pi*20, strips[0]/12, 0.06, "as long as the line round the part")
	keyed := Sheet{Name: "board"}.Keyed(p.Keys.Keys)
	assert.GreaterOrEqual(t, len(keyed.Lines), 4)
	assert.Len(t, keyed.Texts, 1, "the odd one is named")
	f, err := Flange(m, r3.Vec{Z: 1})
	require.NoError(t, err)
	Contains(t, Rings(t, f.DXF()), math.Pi*45*45)
}

func TestASheetSpeaksTheShopsUnits(t *testing.T) {
	s := Sheet{Texts: []Text{{Words: "stands at 25.4 mm"}, {Words: "half A"}}}
	told := s.Told(quantity.Units{Length: quantity.US, Volume: quantity.US, Mass: quantity.US})
	assert.Equal(t, "stands at 1 in", told.Texts[0].Words)
	assert.Equal(t, "half A", told.Texts[1].Words)
	assert.Equal(t, "stands at 25.4 mm", s.Texts[0].Words, "the sheet itself stays as it is")
	assert.Equal(t, "stands at 25,4 mm", s.Told(quantity.Units{Comma: true}).Texts[0].Words)
}
