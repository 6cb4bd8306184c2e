// Package layers holds the rules of the structure: which way knowledge flows.
package layers

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// order is the chain of the trade; no package knows one that comes later.
var order = []string{"quantity", "batch", "derive", "practice", "mesh", "grid", "blockout", "outline", "finding", "mix", "part", "draw", "thick", "picture", "strip", "gap", "fill", "attitude", "drawing", "box", "bulge", "squeeze", "shell", "hours", "finish", "key", "pieces", "gang", "slit", "mould", "inhibit", "kind", "prep", "suit", "gate", "shot", "life", "build", "template", "study"}

type pkg struct {
	ImportPath string
	Imports    []string
}

func packages(t *testing.T) []pkg {
	t.Helper()
	cmd := exec.Command("go", "list", "-json=ImportPath,Imports", "bathyform/...")
	cmd.Stderr = os.Stderr
	out, err := cmd.Output()
	require.NoError(t, err)
	var all []pkg
	dec := json.NewDecoder(strings.NewReader(string(out)))
	for dec.More() {
		var p pkg
		require.NoError(t, dec.Decode(&p))
		all = append(all, p)
	}
	require.NotEmpty(t, all)
	return all
}

func TestCoreKnowsOnlyWhatComesBeforeIt(t *testing.T) {
	rank := map[string]int{}
	for i, name := range order {
		rank["bathyform/core/"+name] = i
	}
	seen := 0
	for _, p := range packages(t) {
		if !strings.HasPrefix(p.ImportPath, "bathyform/core/") || strings.HasSuffix(p.ImportPath, "/meshtest") {
			continue
		}
		mine, ok := rank[p.ImportPath]
		require.True(t, ok, "%s has no place in the chain", p.ImportPath)
		seen++
		for _, i := range p.Imports {
			switch {
			case strings.HasPrefix(i, "bathyform/core/"):
				assert.Less(t, rank[i], mine, "%s must not know %s", p.ImportPath, i)
			case strings.HasPrefix(i, "bathyform/"):
				t.Errorf("%s must not know %s", p.ImportPath, i)
			case strings.Contains(strings.Split(i, "/")[0], "."):
				assert.True(t, strings.HasPrefix(i, "gonum.org/"), "%s imports %s: core keeps to the standard library and gonum", p.ImportPath, i)
			default:
				assert.NotContains(t, []string{"database/sql", "net/http", "os", "time", "math/rand", "math/rand/v2"}, i, "%s imports %s: core is pure", p.ImportPath, i)
			}
		}
	}
	assert.Equal(t, len(order), seen, "a package of the chain is gone")
}

func TestGeneratedCodeIsCurrent(t *testing.T) {
	before, err := os.ReadFile("../api/openapi.gen.go")
	require.NoError(t, err)
	tool, err := exec.Command("go", "tool", "-n", "oapi-codegen").Output()
	require.NoError(t, err)
	root, err := filepath.Abs("../..")
	require.NoError(t, err)
	cmd := exec.Command(strings.TrimSpace(string(tool)), "-config", root+"/api/config.yaml", root+"/api/openapi.yaml")
	cmd.Dir = t.TempDir() // where the output goes
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, string(out))
	after, err := os.ReadFile(filepath.Join(cmd.Dir, "openapi.gen.go"))
	require.NoError(t, err)
	assert.Equal(t, string(before), string(after), "run `make generate` after changing api/openapi.yaml")
}
