package template

import (
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strings"
	"testing"

	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var house = practice.Usual()

func planned(t *testing.T, m *mesh.Mesh) mould.Plan {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	p, err := mould.Make(part.Master{Mesh: m, Report: r}, mould.Choices{Draw: "+z", Clearance: house.Clearance,
		Attitudes: mould.Attitudes{RubberA: "+z", RubberB: "-z", Resin: "+z"}}, house)
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
		areas = append(areas, math.Abs(outline.Area(r)))
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
	s := Boards(p, house.PanelThick, 23)
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
	s, err := PartingBoard(p, r3.Vec{Z: 1}, m.Section(r3.Vec{Z: 1}, p.Parting))
	require.NoError(t, err)
	for _, data := range [][]byte{s.SVG(), s.DXF()} {
		areas := rings(t, data)
		contains(t, areas, 64*64)
		contains(t, areas, 90*400*math.Sin(2*math.Pi/180))
	}
	_, err = PartingBoard(p, r3.Vec{}, nil)
	assert.Error(t, err)
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
	s := Sheet{Name: `5 < 6 & "so"`, Lines: []Line{rectangle(Score, 0, 0, 10, 10)}, Texts: []Text{{outline.Point{1, 1}, 3, "<b>&"}}}
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
