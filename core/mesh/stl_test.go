package mesh_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func ascii(m *mesh.Mesh) string {
	var b strings.Builder
	b.WriteString("solid part\n")
	for t := range m.Triangles {
		x, y, z := m.Corners(t)
		b.WriteString("facet normal 0 0 0\nouter loop\n")
		for _, p := range []r3.Vec{x, y, z} {
			fmt.Fprintf(&b, "vertex %v %v %v\n", p.X, p.Y, p.Z)
		}
		b.WriteString("endloop\nendfacet\n")
	}
	b.WriteString("endsolid part\n")
	return b.String()
}

var block = meshtest.Box(r3.Vec{X: 1, Y: 2, Z: 3}, r3.Vec{X: 11, Y: 22, Z: 33})

func TestBothFormsOfSTLReadTheSame(t *testing.T) {
	text, binaryForm := ascii(block), block.WriteSTL()
	solidHeader := bytes.Clone(binaryForm)
	copy(solidHeader, "solid a binary file that calls itself text")
	noCount := bytes.Clone(binaryForm)
	binary.LittleEndian.PutUint32(noCount[80:], 0)
	wrongNormals := bytes.Clone(binaryForm)
	for i := range 12 {
		copy(wrongNormals[84+50*i:], "\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff")
	}
	for name, data := range map[string]string{
		"ascii":            text,
		"ascii, upper":     strings.ToUpper(text),
		"ascii, crlf":      strings.ReplaceAll(text, "\n", "\r\n"),
		"ascii, no end":    strings.TrimSuffix(text, "endsolid part\n"),
		"ascii, no name":   strings.Replace(text, "solid part", "solid", 1),
		"binary":           string(binaryForm),
		"binary, solid":    string(solidHeader),
		"binary, trailing": string(binaryForm) + "made by hand",
		"binary, no count": string(noCount),
		"binary, normals":  string(wrongNormals),
	} {
		t.Run(name, func(t *testing.T) {
			_, r, err := mesh.Load([]byte(data), 1)
			require.NoError(t, err)
			assert.Equal(t, 12, r.Triangles)
			assert.InEpsilon(t, 6000, r.Volume, 1e-12)
			assert.InEpsilon(t, 2200, r.Area, 1e-12)
			assert.True(t, r.Edges.Closed())
			assert.Equal(t, 1, r.Bodies)
			assert.Equal(t, r3.Box{Min: r3.Vec{X: 1, Y: 2, Z: 3}, Max: r3.Vec{X: 11, Y: 22, Z: 33}}, r.Bounds)
		})
	}
}

func TestFilesThatAreNoMeshSayWhy(t *testing.T) {
	bin := block.WriteSTL()
	nan := bytes.Clone(bin)
	binary.LittleEndian.PutUint32(nan[84+12:], math.Float32bits(float32(math.NaN())))
	inf := bytes.Clone(bin)
	binary.LittleEndian.PutUint32(inf[84+50*3+12:], math.Float32bits(float32(math.Inf(-1))))
	tooMany := bytes.Clone(bin)
	binary.LittleEndian.PutUint32(tooMany[80:], 13)
	text := ascii(block)
	point := meshtest.Box(r3.Vec{}, r3.Vec{})
	for name, c := range map[string]struct{ data, says string }{
		"empty":              {"", "empty"},
		"blank":              {" \n\t ", "empty"},
		"prose":              {strings.Repeat("Dear caster, please find the part attached. ", 9), "no mesh that can be read"},
		"picture":            {"\x89PNG\r\n\x1a\n" + strings.Repeat("\x00\x01\xfe\x7f", 60), "no mesh that can be read"},
		"short binary":       {"\x00\x01\x02", "no mesh that can be read"},
		"binary, cut":        {string(bin[:300]), "cut short"},
		"binary, wrong":      {string(tooMany), "cut short: its header promises 13 triangles and it holds 12"},
		"binary, none":       {string(make([]byte, 84)), "no triangles"},
		"binary, nan":        {string(nan), "triangle 1 has a coordinate that is not a finite number"},
		"binary, inf":        {string(inf), "triangle 4 has"},
		"text, cut":          {text[:len(text)/2+20], "cut short"},
		"text, nan":          {strings.Replace(text, "vertex 1 ", "vertex nan ", 1), "not a finite number"},
		"text, huge":         {strings.Replace(text, "vertex 1 ", "vertex 1e300 ", 1), "not a finite number"},
		"text, comma":        {strings.Replace(text, "vertex 1 ", "vertex 1,5 ", 1), `has "1,5" where a number should stand`},
		"text, two corners":  {strings.Replace(text, "vertex 1 2 3\n", "", 1), "corners"},
		"text, four corners": {strings.Replace(text, "vertex 1 2 3\n", "vertex 1 2 3\nvertex 4 4 4\n", 1), "three corners"},
		"text, none":         {"solid x\nendsolid x\n", "no triangles"},
		"all one point":      {string(point.WriteSTL()), "without area"},
	} {
		t.Run(name, func(t *testing.T) {
			_, _, err := mesh.Load([]byte(c.data), 1)
			require.Error(t, err)
			assert.Contains(t, err.Error(), c.says)
			assert.NotContains(t, err.Error(), "\n")
		})
	}
}

func FuzzParseSTL(f *testing.F) {
	f.Add(block.WriteSTL())
	f.Add([]byte(ascii(block)))
	f.Add([]byte("solid\nfacet normal 0 0 1\nvertex 1 2 3\nvertex 1e9 2 nan"))
	f.Add(make([]byte, 134))
	f.Fuzz(func(t *testing.T, data []byte) {
		m, r, err := mesh.Load(data, 1)
		if err != nil {
			assert.NotContains(t, err.Error(), "\n")
			return
		}
		assert.False(t, math.IsNaN(r.Volume) || math.IsInf(r.Volume, 0))
		assert.GreaterOrEqual(t, r.Triangles, 1)
		for _, tri := range m.Triangles {
			for _, i := range tri {
				require.Less(t, int(i), len(m.Vertices))
			}
		}
	})
}

// admesh is a general-purpose STL checker from Debian. Its sums are in single
// precision, so volumes are compared at 1e-4; closed forms are held tighter
// elsewhere.
func TestVolumeAndClosednessAgreeWithAdmesh(t *testing.T) {
	path, err := exec.LookPath("admesh")
	require.NoError(t, err, "install admesh; `make test` does")
	holed := meshtest.Sphere(20, 64)
	holed.Triangles = holed.Triangles[:len(holed.Triangles)-9]
	for name, m := range map[string]*mesh.Mesh{
		"block": block, "ball": meshtest.Sphere(25, 96), "rod": meshtest.Cylinder(6, 80, 48), "holed ball": holed,
	} {
		t.Run(name, func(t *testing.T) {
			file := filepath.Join(t.TempDir(), "m.stl")
			require.NoError(t, os.WriteFile(file, m.WriteSTL(), 0o600))
			out, err := exec.Command(path, "--exact", "--no-check", file).CombinedOutput()
			require.NoError(t, err, string(out))
			number := func(label string) float64 {
				match := regexp.MustCompile(label + `\s*:\s*(-?[\d.]+)`).FindSubmatch(out)
				require.NotNil(t, match, "%s in\n%s", label, out)
				x, err := strconv.ParseFloat(string(match[1]), 64)
				require.NoError(t, err)
				return x
			}
			data, err := os.ReadFile(file)
			require.NoError(t, err)
			_, r, err := mesh.Load(data, 1)
			require.NoError(t, err)
			assert.InDelta(t, number("Number of facets"), float64(r.Triangles), 0)
			if r.Edges.Closed() {
				assert.InEpsilon(t, number("Volume"), r.Volume, 1e-4)
			}
			out, err = exec.Command(path, "--exact", "--nearby", "--tolerance=0", "--iterations=0", file).CombinedOutput()
			require.NoError(t, err)
			disconnected := regexp.MustCompile(`Total disconnected facets\s*:\s*(\d+)`).FindSubmatch(out)
			require.NotNil(t, disconnected, string(out))
			assert.Equal(t, string(disconnected[1]) == "0", r.Edges.Closed())
		})
	}
}
