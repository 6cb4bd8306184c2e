package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"math"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// The test binary stands in for the program when it is told to.
func TestMain(m *testing.M) {
	if os.Getenv("BATHYFORM_TEST_AS_PROGRAM") != "" {
		main()
		return
	}
	testkit.Main(m)
}

func run(t *testing.T, env []string, args ...string) (stdout, stderr string, status int) {
	t.Helper()
	cmd := exec.CommandContext(t.Context(), os.Args[0], args...)
	cmd.Env = append(append(os.Environ(), "BATHYFORM_TEST_AS_PROGRAM=1"), env...)
	var out, bad bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &bad
	err := cmd.Run()
	var exit *exec.ExitError
	if err != nil && !errors.As(err, &exit) {
		t.Fatal(err)
	}
	return out.String(), bad.String(), cmd.ProcessState.ExitCode()
}

func file(t *testing.T, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "part.stl")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	return path
}

func TestInspectPrintsTheFiguresOfAMesh(t *testing.T) {
	block := file(t, meshtest.Box(r3.Vec{X: 1, Y: 2, Z: 3}, r3.Vec{X: 11, Y: 22, Z: 33}).WriteSTL())
	out, _, status := run(t, nil, "inspect", block, "--json")
	require.Zero(t, status)
	var got map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.Equal(t, "stl-binary", got["format"])
	assert.Equal(t, 12.0, got["triangles"])
	assert.InEpsilon(t, 6000, got["volume_mm3"], 1e-12)
	assert.InEpsilon(t, 2200, got["area_mm2"], 1e-12)
	assert.Equal(t, map[string]any{"min": []any{1.0, 2.0, 3.0}, "max": []any{11.0, 22.0, 33.0}}, got["bbox_mm"])
	assert.Equal(t, true, got["closed"])
	assert.Equal(t, 0.0, got["open_edges"])
	assert.Equal(t, 0.0, got["nonmanifold_edges"])
	assert.Equal(t, 1.0, got["bodies"])
	assert.Equal(t, []any{}, got["warnings"])

	out, _, status = run(t, nil, "inspect", "--unit", "in", "--json", block)
	require.Zero(t, status)
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.InEpsilon(t, 6000*25.4*25.4*25.4, got["volume_mm3"], 1e-12)
	out, _, status = run(t, nil, "inspect", block)
	assert.Zero(t, status)
	assert.Contains(t, out, "6 mL")
}

type trapOutput struct {
	Cell    float64 `json:"cell_mm"`
	Trapped float64 `json:"trapped_mm3"`
	Pockets []struct {
		Volume   float64    `json:"volume_mm3"`
		Apex     [3]float64 `json:"apex_mm"`
		Seal     float64    `json:"seal_height_mm"`
		Isolated bool       `json:"isolated"`
	} `json:"pockets"`
}

func trapped(t *testing.T, args ...string) trapOutput {
	t.Helper()
	out, bad, status := run(t, nil, append([]string{"trap", "--json"}, args...)...)
	require.Zero(t, status, bad)
	var got trapOutput
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	return got
}

func TestTrapFindsTheCapOverALowVent(t *testing.T) {
	ball := file(t, meshtest.Moved(meshtest.Sphere(25, 200), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{Z: 100}).WriteSTL())
	got := trapped(t, ball, "--vent", "0,0,125")
	assert.Empty(t, got.Pockets)
	assert.Zero(t, got.Trapped)
	got = trapped(t, ball)
	require.Len(t, got.Pockets, 1)
	assert.InDelta(t, 75, got.Pockets[0].Seal, 1e-3)

	// a vent of 0.5 mm at 45 degrees: the upper rim of its mouth seals the cap
	x := 25 * math.Sqrt(0.5)
	got = trapped(t, ball, "--vent", "0,-17.6777,117.6777,0.5", "--cell", "0.5")
	require.Len(t, got.Pockets, 1)
	assert.Equal(t, 0.5, got.Cell)
	seal := 100 + math.Sqrt(625-(x-0.25)*(x-0.25))
	assert.InDelta(t, seal, got.Pockets[0].Seal, 0.02)
	h := 125 - seal
	assert.InEpsilon(t, math.Pi*h*h*(75-h)/3, got.Trapped, 0.01)
	assert.InDelta(t, 125, got.Pockets[0].Apex[2], 0.05)

	// turned over, heights are along up and points stay the mesh's own
	got = trapped(t, ball, "--up", "0,0,-1", "--vent", "0,0,75")
	assert.Empty(t, got.Pockets)
}

func TestTrapRoundAnUpturnedCup(t *testing.T) {
	cup := file(
		t,
		meshtest.Turned(96, [2]float64{0, 26}, [2]float64{16, 26}, [2]float64{16, 0}, [2]float64{20, 0}, [2]float64{20, 30},
			[2]float64{0, 30}).
			WriteSTL(),
	)
	got := trapped(t, cup, "--around", "--clearance", "12")
	require.Len(t, got.Pockets, 1)
	assert.True(t, got.Pockets[0].Isolated)
	assert.InEpsilon(t, 48*math.Sin(2*math.Pi/96)*256*26, got.Trapped, 1e-6)
	assert.Empty(t, trapped(t, cup, "--around", "--up", "0,0,-1").Pockets)
}

func TestWhatCannotBeReadEndsWithStatusTwoAndOneLine(t *testing.T) {
	block := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10}).WriteSTL())
	flat := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10}).WriteSTL())
	cut := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10}).WriteSTL()[:200])
	for says, args := range map[string][]string{
		"no such file":             {"inspect", "nowhere.stl"},
		"is a directory":           {"inspect", t.TempDir()},
		"empty":                    {"inspect", file(t, nil)},
		"no mesh that can be read": {"inspect", file(t, []byte(strings.Repeat("a letter ", 40)))},
		"cut short":                {"trap", cut},
		"furlong":                  {"inspect", block, "--unit", "furlong"},
		"encloses no volume":       {"trap", flat},
		"--up needs three":         {"trap", block, "--up", "0,1"},
		"way up needs":             {"trap", block, "--up", "0,0,0"},
		"--vent needs":             {"trap", block, "--vent", "here"},
		"outside the part":         {"trap", block, "--vent", "90,0,0"},
		"bore must be":             {"trap", block, "--vent", "5,5,10,0"},
		"--cell must be":           {"trap", block, "--cell", "-1"},
		"larger cell":              {"trap", block, "--cell", "0.0001"},
		"clearance over":           {"trap", block, "--around", "--clearance", "0"},
		"goes with --around":       {"trap", block, "--clearance", "5"},
		"unknown command":          {"cast", block},
		"DATABASE_URL is not":      {"serve"},
		"accepts 1 arg(s)":         {"inspect"},
		"unknown flag: --deep":     {"trap", block, "--deep"},
	} {
		out, bad, status := run(t, []string{"BATHYFORM_DATABASE_URL=", "BATHYFORM_ADDR="}, args...)
		assert.Equal(t, 2, status, "%v", args)
		assert.Empty(t, out, "%v: never a partial result", args)
		assert.Contains(t, bad, says, "%v", args)
		assert.Equal(t, 1, strings.Count(bad, "\n"), "%v: %s", args, bad)
		assert.NotContains(t, bad, "goroutine")
	}
}

func TestOccupiedAddressSaysWhatToDo(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	_, bad, status := run(t, []string{"BATHYFORM_ADDR=" + l.Addr().String()}, "demo")
	assert.Equal(t, 2, status)
	assert.Contains(t, bad, "in use by another program")
	assert.Contains(t, bad, "BATHYFORM_ADDR")
}

func TestOpenMeshStillGivesAVolume(t *testing.T) {
	ball := meshtest.Sphere(20, 48)
	holed := &mesh.Mesh{Vertices: ball.Vertices, Triangles: ball.Triangles[5:]}
	out, _, status := run(t, nil, "inspect", "--json", file(t, holed.WriteSTL()))
	require.Zero(t, status)
	var got map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.Equal(t, false, got["closed"])
	assert.Positive(t, got["open_edges"])
	assert.InDelta(t, ball.Volume(), got["volume_mm3"].(float64), got["volume_error_mm3"].(float64))
	assert.NotEmpty(t, got["warnings"])
}

func TestTheSchemaOfTheDesignDocumentIsPrinted(t *testing.T) {
	cmd := schemaCommand()
	var out bytes.Buffer
	cmd.SetOut(&out)
	cmd.SetArgs([]string{})
	require.NoError(t, cmd.Execute())
	var schema map[string]any
	require.NoError(t, json.Unmarshal(out.Bytes(), &schema))
	assert.Equal(t, "Bathyform design", schema["title"])
	assert.Contains(t, schema["required"], "design")
	assert.Contains(t, schema["$defs"], "Design")
	assert.NotContains(t, out.String(), "#/components/", "it stands by itself")
}
