package bench_test

import (
	"math"
	"testing"

	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/derive/derivetest"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/survey"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// Every figure that says how it was worked out comes to its own value when
// its formula is worked out again.
func TestDerivationsGiveTheirOwnNumbers(t *testing.T) {
	masters := map[string]*bench.Master{
		"block": taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 46, Y: 30, Z: 14})),
		"measured": bench.Take(
			part.Master{Name: "by hand", Measured: &part.Measured{Length: 50, Width: 30, Height: 20, Volume: 18, How: "displaced water"}},
		),
	}
	for _, key := range []string{"deck-cleat", "instrument-bezel"} {
		p, _ := parts.ByKey(key)
		masters[key] = taken(t, p.Mesh())
	}
	sums, words := map[string]bool{}, map[string]bool{}
	for name, m := range masters {
		q := asked(t, m)
		ranked, err := m.Rank(t.Context(), q, func(string, *build.Row) {})
		require.NoError(t, err)
		study, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		shown := []any{study}
		for _, row := range ranked {
			shown = append(shown, row)
		}
		if m.Known() {
			of := survey.Question{Draw: q.Design.Draw.Dir(), Rubber: &tin, Resin: &quick, Wanted: 60}
			seen, _, err := m.Survey(t.Context(), of, house)
			require.NoError(t, err)
			shown = append(shown, seen)
		}
		for _, n := range derivetest.All(shown) {
			v, ok := derivetest.Eval(n)
			if !ok {
				words[n.Formula] = true
				continue
			}
			sums[n.Formula] = true
			assert.InDelta(t, n.Value, v, 2e-3*math.Abs(n.Value)+1e-9, "%s: %q in %s", name, n.Formula, n.Kind)
		}
	}
	assert.Greater(t, len(sums), 45)
	assert.Less(t, len(words), 30, "most figures are sums: %v", words)
}
