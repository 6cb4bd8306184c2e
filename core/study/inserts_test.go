package study_test

import (
	"testing"

	"bathyform/core/finding"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/study"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestInsertsAskSomethingOfTheMould(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20})
	p := prepared(t, m)
	d, err := p.Start(practice.Usual())
	require.NoError(t, err)
	plain, err := p.Work(d, study.Given{}, practice.Usual())
	require.NoError(t, err)

	top := r3.Vec{X: 20, Y: 15, Z: 20}
	side := r3.Vec{X: 0, Y: 15, Z: plain.Mould.Parting}
	for _, c := range []struct {
		in       study.Insert
		says     string
		severity finding.Severity
	}{
		{study.Insert{Insert: prep.Insert{Kind: prep.Thread, Note: "M4"}, At: &top}, "Half A holds the threaded insert (M4) on a pin.", finding.Note},
		{study.Insert{Insert: prep.Insert{Kind: prep.Hole}, At: &top}, "The through hole is plugged from half A.", finding.Note},
		{study.Insert{Insert: prep.Insert{Kind: prep.Core, Volume: 2000}, At: &side}, "The metal core lies in the parting, its ends in prints on half A.", finding.Note},
		{study.Insert{Insert: prep.Insert{Kind: prep.Core}, At: &r3.Vec{X: 20, Y: 15, Z: plain.Mould.Parting - 9}}, "The metal core sits away from the parting.", finding.Watch},
		{study.Insert{Insert: prep.Insert{Kind: prep.Magnet}}, "Nobody has said where the magnet sits.", finding.Watch},
	} {
		st, err := p.Work(d, study.Given{Inserts: []study.Insert{c.in}}, practice.Usual())
		require.NoError(t, err)
		found := map[string]finding.Severity{}
		for _, f := range st.Findings {
			found[f.What] = f.Severity
		}
		assert.Equal(t, c.severity, found[c.says], "%s in %v", c.says, found)
		assert.InDelta(t, plain.Shot.Total.Value-c.in.Volume/1000*1.08, st.Shot.Total.Value, 1e-9, "the resin that it takes the place of, with the allowance on it")
	}
}
