package bench_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"bathyform/core/design"
	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// byAdmesh is the volume of a mesh as an independent reader of STL has it
// (Debian package admesh), mm³.
func byAdmesh(t *testing.T, m *mesh.Mesh) float64 {
	t.Helper()
	file := filepath.Join(t.TempDir(), "body.stl")
	require.NoError(t, os.WriteFile(file, m.WriteSTL(), 0o600))
	out, err := exec.Command("admesh", file).CombinedOutput()
	require.NoError(t, err, string(out))
	assert.Regexp(t, `Total disconnected facets\s+:\s+0 `, string(out))
	found := regexp.MustCompile(`Volume\s+:\s+(-?[\d.]+)`).FindSubmatch(out)
	require.NotNil(t, found, string(out))
	v, err := strconv.ParseFloat(string(found[1]), 64)
	require.NoError(t, err)
	return v
}

// The files of a mould fill its box: pieces, parts and what the rods leave, all
// of them but wires that are thinner than the lattice sees.
func TestTheFilesOfAMouldFillItsBox(t *testing.T) {
	_, err := exec.LookPath("admesh")
	require.NoError(t, err, "make setup installs it")
	for _, c := range []struct {
		part     string
		cavities int
		section  design.Section
		top      float64 // of the sprue, mm
		sump     float64 // under it, mm, and a blind channel of twice that
	}{
		{"deck-cleat", 1, "", 0, 0}, {"deck-cleat", 2, "", 0, 0}, {"ballast-bulb", 1, "", 14, 10},
		{"ballast-bulb", 1, design.HalfRound, 0, 0},
	} {
		m, cavities := demo(t, c.part), c.cavities
		q := asked(t, m)
		q.Kind, q.Design.Section, q.Design.SprueTop = design.Clay, c.section, c.top
		q.Design.Sump, q.Design.Blind = c.sump, 2*c.sump
		if cavities > 1 {
			q = ganged(t, m, q, cavities)
		}
		b := built(t, m, q)
		p := b.Plan
		sum := float64(cavities) * byAdmesh(t, m.Solid)
		for _, body := range p.Bodies() {
			sum += byAdmesh(t, body.Mesh)
		}
		wires, rods := 0.0, 0.0
		for _, r := range p.Rods {
			if body := r.Body(); body != nil { // of many sides, a little less than round; a half round one is of clay
				assert.InEpsilon(t, 1000*r.Volume.Value, byAdmesh(t, body), 0.25, "%s: but for what is counted at its joint", r.Name)
			}
			if rods += 1000 * r.Volume.Value; r.Bore.Wide < 3 {
				wires += 1000 * r.Volume.Value
			}
		}
		assert.InEpsilon(t, p.Channels.Value*1000, rods, 1e-9)
		box := p.Box.Volume.Value * 1000
		assert.InDelta(t, box, sum+rods, wires+0.001*box, "%+v", c)
		assert.InDelta(t, box, sum+p.Division.Bored, 0.001*box)
	}
}
