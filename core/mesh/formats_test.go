package mesh_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A cube of side 2 as quads, in two groups, with all three ways to name a vertex.
const cubeOBJ = `# a cube
mtllib none.mtl
o cube
v 0 0 0
v 2 0 0
v 2 2 0
v 0 2 0
v 0 0 2
v 2 0 2
v 2 2 2 1.0
v 0 2 2
vn 0 0 1
g bottom
f 4/1 3/1 2/1 1/1
g rest
f 5//1 6//1 7//1 8//1
f 1/1/1 2/1/1 6/1/1 5/1/1
f -7 -6 -2 \
  -3
f 3 4 8 7
f 4 1 5 8
`

func TestOBJ(t *testing.T) {
	m, r, err := mesh.Load([]byte(cubeOBJ), 1)
	require.NoError(t, err)
	assert.Equal(t, mesh.OBJ, r.Format)
	assert.Equal(t, 12, r.Triangles)
	assert.True(t, r.Edges.Closed())
	assert.InDelta(t, 8, m.Volume(), 1e-12)

	// a face with a dent: an L of area 3
	dent := "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\nf 1 2 3 4 5 6\n"
	f, err := mesh.Parse([]byte(dent))
	require.NoError(t, err)
	assert.InDelta(t, 3, f.Mesh.Area(), 1e-12)
}

func TestBadOBJ(t *testing.T) {
	for name, text := range map[string]string{
		"no faces":       "v 0 0 0\nv 1 0 0\n",
		"no such vertex": "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n",
		"not a number":   "v 0 0 zero\n",
		"two corners":    "v 0 0 0\nv 1 0 0\nf 1 2\n",
		"infinite":       "v 0 0 1e999\n",
		"short vertex":   "v 0 0 0\nv 1 2\n",
	} {
		_, err := mesh.Parse([]byte(text))
		assert.Error(t, err, name)
	}
}

func archive(t *testing.T, files map[string]string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, name := range []string{"[Content_Types].xml", "_rels/.rels", "3D/3dmodel.model", "3D/other.model"} {
		if text, ok := files[name]; ok {
			f, err := w.Create(name)
			require.NoError(t, err)
			_, err = f.Write([]byte(text))
			require.NoError(t, err)
		}
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

const rels = `<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`

// box3mf is the mesh element of a box with its corner at the origin.
func box3mf(x, y, z float64) string {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: x, Y: y, Z: z})
	var s strings.Builder
	s.WriteString("<mesh><vertices>")
	for _, v := range m.Vertices {
		fmt.Fprintf(&s, `<vertex x="%g" y="%g" z="%g"/>`, v.X, v.Y, v.Z)
	}
	s.WriteString("</vertices><triangles>")
	for _, t := range m.Triangles {
		fmt.Fprintf(&s, `<triangle v1="%d" v2="%d" v3="%d"/>`, t[0], t[1], t[2])
	}
	s.WriteString("</triangles></mesh>")
	return s.String()
}

func model3mf(unit, resources, build string) string {
	return fmt.Sprintf(
		`<?xml version="1.0" encoding="UTF-8"?><model unit=%q xml:lang="en-GB"
			xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources>%s</resources><build>%s</build></model>`,
		unit,
		resources,
		build,
	)
}

// Rules of the 3MF Core Specification 1.3: the unit attribute (3.4), row
// vector transforms (3.3), components of components (4.2), the build (3.4.3).
func Test3MFUnitsObjectsAndComponents(t *testing.T) {
	file := archive(t, map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("inch",
		`<object id="1" type="model">`+box3mf(1, 1, 1)+`</object>
		 <object id="2" type="model"><components><component objectid="1"/>
		 	<component objectid="1" transform="2 0 0 0 1 0 0 0 1 5 0 0"/></components></object>
		 <object id="3" type="support">`+box3mf(9, 9, 9)+`</object>`,
		`<item objectid="2" transform="0 1 0 -1 0 0 0 0 1 0 0 10"/><item objectid="3"/>`)})
	f, err := mesh.Parse(file)
	require.NoError(t, err)
	assert.Equal(t, mesh.Millimetre, f.Unit)
	m, r, err := mesh.Load(file, 1)
	require.NoError(t, err)
	assert.Equal(t, 2, r.Bodies)
	assert.InEpsilon(t, 3*25.4*25.4*25.4, m.Volume(), 1e-9, "a cube and one stretched to twice its length, in inches")
	// (5..7, 0..1, 0..1) turned by x -> y, y -> -x and lifted by 10
	assert.InDelta(t, 7*25.4, r.Bounds.Max.Y, 1e-9)
	assert.InDelta(t, -25.4, r.Bounds.Min.X, 1e-9)
	assert.InDelta(t, 10*25.4, r.Bounds.Min.Z, 1e-9)
}

func Test3MFMirroredObjectKeepsItsInside(t *testing.T) {
	file := archive(t, map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("millimeter",
		`<object id="1">`+box3mf(2, 3, 4)+`</object>`, `<item objectid="1" transform="-1 0 0 0 1 0 0 0 1 0 0 0"/>`)})
	m, r, err := mesh.Load(file, 1)
	require.NoError(t, err)
	assert.InDelta(t, 24, m.Volume(), 1e-9)
	assert.Empty(t, r.Warnings)
}

func TestBad3MF(t *testing.T) {
	good := `<object id="1">` + box3mf(1, 1, 1) + `</object>`
	item := `<item objectid="1"/>`
	for name, c := range map[string]struct {
		files map[string]string
		says  string
	}{
		"no relationships": {map[string]string{"3D/3dmodel.model": model3mf("inch", good, item)}, "no 3MF file"},
		"a missing part":   {map[string]string{"_rels/.rels": rels}, "missing"},
		"no build":         {map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("inch", good, "")}, "builds nothing"},
		"an unknown unit":  {map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("cubit", good, item)}, "cubit"},
		"no such object": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": model3mf("inch", good, `<item objectid="7"/>`)}, "not in the file"},
		"a cyclic component": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": model3mf("inch", `<object id="1"><components><component objectid="1"/></components></object>`,
				item)}, "component of itself"},
		"an external entity": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": `<!DOCTYPE model [<!ENTITY x SYSTEM "file:///etc/passwd">]>` + model3mf("inch", good, item)}, "entities"},
		"a doubled cycle": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": model3mf("inch",
				`<object id="1"><components><component objectid="1"/><component objectid="1"/></components></object>`, item)},
			"component of itself"},
		"a wrong transform": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": model3mf("inch", good, `<item objectid="1" transform="1 0 0"/>`)}, "twelve numbers"},
		"a wrong index": {map[string]string{"_rels/.rels": rels,
			"3D/3dmodel.model": model3mf("inch",
				`<object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/></vertices>
					<triangles><triangle v1="0" v2="1" v3="2"/></triangles></mesh></object>`, item)}, "not there"},
		"broken XML": {map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": "<model"}, "cannot be read"},
	} {
		_, err := mesh.Parse(archive(t, c.files))
		if assert.Error(t, err, name) {
			assert.Contains(t, err.Error(), c.says, name)
		}
	}
	whole := archive(t, map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("inch", good, item)})
	_, err := mesh.Parse(whole[:len(whole)/2])
	assert.ErrorContains(t, err, "cut short")
}

// A part that would unpack to far more than it is worth is not unpacked.
func TestZipBombIsRefused(t *testing.T) {
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	f, err := w.Create("_rels/.rels")
	require.NoError(t, err)
	_, err = f.Write([]byte(rels))
	require.NoError(t, err)
	f, err = w.Create("3D/3dmodel.model")
	require.NoError(t, err)
	blank := bytes.Repeat([]byte(" "), 1<<20)
	for range 20 { // one endless word
		_, err = f.Write(blank)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	assert.Less(t, out.Len(), 2<<20)
	_, err = mesh.Parse(out.Bytes())
	assert.ErrorContains(t, err, "no sensible mesh")
}

// Twelve parts that each unpack to much: the file has one budget, not each
// part its own. Neither does one object placed again and again get by it.
func TestThe3MFBudgetIsTheFiles(t *testing.T) {
	many := strings.Repeat(`<vertex x="1" y="2" z="3"/>`, 20_000)
	object := `<object id="1"><mesh><vertices>` + many + `</vertices><triangles/></mesh></object>`
	file := archive(t, map[string]string{"_rels/.rels": rels,
		"3D/3dmodel.model": model3mf("millimeter", object, strings.Repeat(`<item objectid="1"/>`, 9000))})
	_, err := mesh.Parse(file)
	assert.ErrorContains(t, err, "placed so often")

	blank := `<model unit="millimeter"><resources><object id="1"/>` + strings.Repeat("<!--"+strings.Repeat(" ", 1<<20)+"-->", 60) +
		`</resources></model>`
	one := archive(t, map[string]string{"_rels/.rels": rels, "3D/3dmodel.model": model3mf("millimeter", "", ""), "3D/other.model": blank})
	z, err := zip.NewReader(bytes.NewReader(one), int64(len(one)))
	require.NoError(t, err)
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, f := range z.File {
		copies := 1
		if f.Name == "3D/other.model" {
			copies = 12
		}
		for n := range copies {
			raw, err := f.OpenRaw()
			require.NoError(t, err)
			header := f.FileHeader
			header.Name = strings.ReplaceAll(f.Name, "other", fmt.Sprint("other", n))
			to, err := w.CreateRaw(&header)
			require.NoError(t, err)
			_, err = io.Copy(to, raw)
			require.NoError(t, err)
		}
	}
	require.NoError(t, w.Close())
	_, err = mesh.Parse(out.Bytes())
	assert.ErrorContains(t, err, "no sensible mesh")
}

// star is a cone over a star of so many corners: its outline, and its faces,
// the whole bottom one of them.
func star(corners int) (obj string, area float64) {
	var b strings.Builder
	at := func(i int) (x, y float64) {
		a, r := 2*math.Pi*float64(i)/float64(corners), 30+10*math.Sin(2*math.Pi*float64(i)/40)
		return r * math.Cos(a), r * math.Sin(a)
	}
	for i := range corners {
		x, y := at(i)
		nx, ny := at(i + 1)
		area += (x*ny - nx*y) / 2
		fmt.Fprintf(&b, "v %.9f %.9f 0\n", x, y)
	}
	b.WriteString("v 0 0 40\nf")
	for i := corners; i > 0; i-- {
		fmt.Fprintf(&b, " %d", i)
	}
	for i := range corners {
		fmt.Fprintf(&b, "\nf %d %d %d", i+1, (i+1)%corners+1, corners+1)
	}
	return b.String() + "\n", area
}

// One face of very many corners is cut as exactly as one of four, or told to
// be too much; it never takes the machine.
func TestFacesOfManyCorners(t *testing.T) {
	obj, area := star(4000)
	m, r, err := mesh.Load([]byte(obj), 1)
	require.NoError(t, err)
	assert.True(t, r.Edges.Closed())
	assert.InEpsilon(t, area*40/3, m.Volume(), 1e-6)
	obj, _ = star(100_000)
	_, err = mesh.Parse([]byte(obj))
	assert.NoError(t, err)

	rng := rand.New(rand.NewPCG(1, 2))
	var tangle, face strings.Builder
	face.WriteString("f")
	for i := range 20_000 {
		fmt.Fprintf(&tangle, "v %.6f %.6f 0\n", rng.Float64(), rng.Float64())
		fmt.Fprintf(&face, " %d", i+1)
	}
	_, err = mesh.Parse([]byte(tangle.String() + face.String() + "\n"))
	assert.ErrorContains(t, err, "triangulate")
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(cubeOBJ))
	f.Add([]byte("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3 2 1"))
	f.Fuzz(func(t *testing.T, data []byte) {
		m, r, err := mesh.Load(data, 1)
		if err == nil {
			assert.NotEmpty(t, m.Triangles)
			assert.False(t, r.Volume != r.Volume, "not a number")
		}
	})
}

func TestA3MFThatIsWrittenIsReadBackTheSame(t *testing.T) {
	ball, box := meshtest.Sphere(10, 40), meshtest.Box(r3.Vec{X: 30, Y: -4, Z: 2}, r3.Vec{X: 41, Y: 8, Z: 9})
	data, err := mesh.Write3MF([]mesh.Named{{Name: `Half "A" & <B>`, Mesh: ball}, {Name: "Side 1", Mesh: box}})
	require.NoError(t, err)
	m, r, err := mesh.Load(data, 1)
	require.NoError(t, err)
	assert.Equal(t, mesh.ThreeMF, r.Format)
	assert.Equal(t, mesh.Millimetre, r.Unit)
	assert.Equal(t, 2, r.Bodies)
	assert.True(t, r.Edges.Closed())
	assert.InEpsilon(t, ball.Volume()+box.Volume(), m.Volume(), 1e-6)
	assert.InDelta(t, 41, m.Bounds().Max.X, 1e-6, "each at its own place")

	// the package has the three parts that the core specification asks for
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
	}
	assert.ElementsMatch(t, []string{"[Content_Types].xml", "_rels/.rels", "3D/3dmodel.model"}, names)
}
