// Package layers holds the rules of the structure: which way knowledge flows.
package layers

import (
	"encoding/json"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// groups is the chain of the trade, from the ground up; no package knows one
// of a later group. Within a group the compiler sees to it that nothing goes
// in circles.
var groups = []struct{ name, packages string }{
	{"ground", "quantity derive practice finding axis parallel memo forest mix tone"},
	{"shape", "mesh grid plane outline blockout picture sketch fill"},
	{"part", "part draw thick symmetry attitude strip gap inhibit suit prep"},
	{"document", "design survey"},
	{"mould", "box key gang pieces shell slit bulge squeeze life hours finish kinds mould hold"},
	{"pour", "flow channel gate shot rise full exotherm"},
	{"shop", "build order sheet bench weigh session watch enough pattern logbook learnt stock"},
}

// makers are the packages that work a mould out. Only core reads them: what
// is shown of a mould is asked of bench.
const makers = "grid pieces shell slit bulge squeeze box key strip gap finish channel gate shot"

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
	for i, g := range groups {
		for name := range strings.FieldsSeq(g.packages) {
			rank["bathyform/core/"+name] = i
		}
	}
	seen := 0
	for _, p := range packages(t) {
		if !strings.HasPrefix(p.ImportPath, "bathyform/core/") || strings.HasSuffix(p.ImportPath, "test") {
			continue
		}
		mine, ok := rank[p.ImportPath]
		require.True(t, ok, "%s has no place in the chain", p.ImportPath)
		seen++
		for _, i := range p.Imports {
			switch {
			case strings.HasPrefix(i, "bathyform/core/"):
				assert.LessOrEqual(
					t,
					rank[i],
					mine,
					"%s (%s) must not know %s (%s)",
					p.ImportPath,
					groups[mine].name,
					i,
					groups[rank[i]].name,
				)
			case strings.HasPrefix(i, "bathyform/"):
				t.Errorf("%s must not know %s", p.ImportPath, i)
			case strings.Contains(strings.Split(i, "/")[0], "."):
				assert.True(
					t,
					strings.HasPrefix(i, "gonum.org/"),
					"%s imports %s: core keeps to the standard library and gonum",
					p.ImportPath,
					i,
				)
			default:
				assert.NotContains(
					t,
					[]string{"database/sql", "net/http", "os", "time", "math/rand", "math/rand/v2"},
					i,
					"%s imports %s: core is pure",
					p.ImportPath,
					i,
				)
			}
		}
	}
	assert.Len(t, rank, seen, "a package of the chain is gone")
}

func TestWhatIsRoundTheCoreKnowsNoMoreThanItNeeds(t *testing.T) {
	only := map[string]string{
		"bathyform/internal/store":  "design part practice mix mesh blockout session",
		"bathyform/internal/search": "",
		"bathyform/internal/paper":  "sheet tone finding plane quantity",
		"bathyform/internal/pg":     "",
		"bathyform/internal/serve":  "practice",
	}
	seen := 0
	for _, p := range packages(t) {
		allowed, ruled := only[p.ImportPath]
		if ruled {
			seen++
		}
		for _, i := range p.Imports {
			name, core := strings.CutPrefix(i, "bathyform/core/")
			if !core {
				assert.False(
					t,
					strings.HasPrefix(p.ImportPath, "bathyform/internal/store") && strings.HasPrefix(i, "bathyform/internal/"),
					"the store knows nothing of %s",
					i,
				)
				continue
			}
			if ruled {
				assert.Contains(t, strings.Fields(allowed), name, "%s has no business with %s", p.ImportPath, i)
			}
			if p.ImportPath == "bathyform/internal/api" {
				assert.NotContains(t, strings.Fields(makers), name, "the api maps what bench says; it must not work with %s itself", i)
			}
		}
	}
	assert.Len(t, only, seen, "a package that has a rule is gone")
}

// A new kind of mould is a file in core/kinds and its name in design: no other
// package asks which kind it has before it.
func TestNobodyAsksWhichKindItIs(t *testing.T) {
	names := regexp.MustCompile(`design\.(Board|Clay|Cut|Tape|Pieces|Squeeze|OpenFace|Stretch|Shell|Pressed)\b`)
	for _, dir := range []string{"../../core", "../../internal", "../../cmd"} {
		require.NoError(t, filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			if slices.Contains([]string{"kinds", "design"}, filepath.Base(filepath.Dir(path))) {
				return nil
			}
			text, err := os.ReadFile(path)
			assert.Empty(t, names.FindAllString(string(text), -1), path)
			return err
		}))
	}
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

// A reader's window is 140 columns wide; what stands in raw strings is another
// language's.
func TestLinesFitTheWindow(t *testing.T) {
	require.NoError(t, filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		if err == nil && d.IsDir() &&
			(d.Name() == "node_modules" || strings.HasPrefix(d.Name(), ".") && d.Name() != ".." && d.Name() != "../..") {
			return filepath.SkipDir
		}
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, ".gen.go") {
			return err
		}
		text, err := os.ReadFile(path)
		raw := false
		for i, line := range strings.Split(string(text), "\n") {
			quoted := strings.Contains(line, "`")
			if strings.Count(line, "`")%2 == 1 {
				raw = !raw
			}
			if !raw && !quoted {
				assert.LessOrEqual(t, utf8.RuneCountInString(strings.ReplaceAll(line, "\t", "    ")), 140, "%s:%d", path, i+1)
			}
		}
		return err
	}))
}
