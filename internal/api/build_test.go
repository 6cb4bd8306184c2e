package api_test

import (
	"bytes"
	"encoding/json"
	"net/http"
	"os"
	"testing"
	"time"

	"bathyform/core/box"
	"bathyform/core/design"
	"bathyform/core/mesh"
	"bathyform/internal/api"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// last reads a search to its end.
func last[T any](t *testing.T, all []json.RawMessage) (out T) {
	t.Helper()
	require.NotEmpty(t, all)
	require.NoError(t, json.Unmarshal(all[len(all)-1], &out))
	return out
}

// redesign keeps a design with changes.
func (s shop) redesign(j api.Job, change func(map[string]any)) api.KeptDesign {
	s.t.Helper()
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	doc, err := json.Marshal(kept.Design)
	require.NoError(s.t, err)
	var design map[string]any
	require.NoError(s.t, json.Unmarshal(doc, &design))
	change(design)
	s.send("PUT", s.path(j, "/design"), kept.Version, design).into(&kept)
	return kept
}

func TestFromMasterToBuildSheet(t *testing.T) {
	s := open(t)
	j := s.take("collar-half")
	rubber := s.rubber("Tin-cure silicone 30 A, 10:1")
	s.redesign(j, func(d map[string]any) { d["rubber"] = rubber })

	search := last[api.BuildSearch](t, s.events(t.Context(), s.path(j, "/searches/build?kind=clayed-up"), -1))
	require.True(t, search.Finished)
	b := search.Build
	require.NotNil(t, b)
	n := figures(b.Numbers)
	require.Len(t, b.Mould.Pours, 2)
	assert.NotNil(t, b.Mould.Pours[0].Batch)
	assert.NotEmpty(t, n[b.Mould.Rubber.N].Formula)
	assert.Len(t, b.Attitudes, 3)
	for _, a := range b.Attitudes {
		assert.NotEmpty(t, a.Areas)
		assert.NotEmpty(t, a.Arrow)
	}
	assert.GreaterOrEqual(t, len(b.Keys), 3)
	assert.True(t, b.FirstPull.After(time.Now().Add(24*time.Hour)), "two cures of sixteen hours")
	for i, st := range b.Steps[1:] {
		assert.False(t, st.From.Before(b.Steps[i].From), "in order")
	}
	for _, sheet := range b.Sheets {
		for _, form := range []string{"svg", "dxf", "pdf"} {
			a := s.send("GET", s.path(j, "/templates/"+sheet.Sheet+"/"+form+"?kind=clayed-up"), -1, nil)
			assert.Equal(t, http.StatusOK, a.Status, "%s as %s: %s", sheet.Sheet, form, a.Body)
		}
	}
	for _, body := range b.Bodies {
		a := s.send("GET", s.path(j, "/bodies/"+body.Body+"/stl?kind=clayed-up"), -1, nil)
		require.Equal(t, http.StatusOK, a.Status, string(a.Body))
		_, r, err := mesh.Load(a.Body, 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, body.Body)
		_, err = mesh.Parse(s.send("GET", s.path(j, "/bodies/"+body.Body+"/3mf?kind=clayed-up"), -1, nil).Body)
		assert.NoError(t, err)
	}
	pdf := s.send("GET", s.path(j, "/build-sheet.pdf?kind=cut&paper=letter"), -1, nil)
	require.Equal(t, http.StatusOK, pdf.Status, string(pdf.Body))
	assert.True(t, bytes.HasPrefix(pdf.Body, []byte("%PDF-")))
	assert.Contains(t, pdf.Header.Get("Content-Disposition"), "bracket-build-sheet-v2.pdf")

	shelled := last[api.BuildSearch](t, s.events(t.Context(), s.path(j, "/searches/build?kind=shell"), -1))
	require.NotNil(t, shelled.Build)
	for _, body := range shelled.Build.Bodies {
		a := s.send("GET", s.path(j, "/bodies/"+body.Body+"/stl?kind=shell"), -1, nil)
		_, r, err := mesh.Load(a.Body, 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, body.Body)
	}
}

func TestKindsAndPartingsAreCompared(t *testing.T) {
	s := open(t)
	j := s.take("instrument-bezel")
	var rows []api.KindRow
	for _, e := range s.events(t.Context(), s.path(j, "/searches/kinds"), -1) {
		var k api.KindSearch
		require.NoError(t, json.Unmarshal(e, &k))
		if k.Row != nil {
			rows = append(rows, *k.Row)
		}
	}
	require.Len(t, rows, 10, "every kind that can be built")
	able := 0
	for _, r := range rows {
		assert.NotEmpty(t, r.Name)
		if r.Rubber != nil {
			able++
			assert.Positive(t, figures(r.Numbers).of(*r.Rubber), r.Name)
			assert.Positive(t, figures(r.Numbers).of(*r.Effort))
			assert.NotNil(t, r.FirstPull)
		}
	}
	assert.GreaterOrEqual(t, able, 5)

	j = s.take("deck-cleat")
	var partings []api.PartingRow
	for _, e := range s.events(t.Context(), s.path(j, "/searches/partings"), -1) {
		var p api.PartingSearch
		require.NoError(t, json.Unmarshal(e, &p))
		if p.Row != nil {
			partings = append(partings, *p.Row)
		}
	}
	require.Len(t, partings, 3)
	assert.Greater(t, partings[1].Level, partings[2].Level, "the upper edges lie over the lower ones")
	assert.Greater(
		t,
		figures(partings[0].Numbers).of(partings[0].Open),
		figures(partings[1].Numbers).of(partings[1].Open),
		"along an edge the seam hides",
	)
}

func TestAGangIsKeptInTheDesign(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	var g api.Gang
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"count": 6, "gap": 8, "edge": 12}).into(&g)
	var one, six api.Study
	kept := s.redesign(j, func(d map[string]any) {})
	s.send("POST", s.path(j, "/study"), -1, kept.Design).into(&one)
	kept = s.redesign(j, func(d map[string]any) { d["gang"], d["gap"] = g.Poses, 8 })
	assert.Len(t, kept.Design.Gang, 6)
	s.send("POST", s.path(j, "/study"), -1, kept.Design).into(&six)
	assert.InEpsilon(t, 6*figures(one.Numbers).of(one.Shot.Cavity), figures(six.Numbers).of(six.Shot.Cavity), 1e-6)
	assert.Less(t, figures(six.Numbers).of(six.Shot.Channels), 6*figures(one.Numbers).of(one.Shot.Channels), "one well for all")
	assert.Equal(t, 6, six.Mould.Cavities)
	assert.Len(t, six.Mould.Places, 6)
	assert.Greater(t, figures(six.Numbers).of(six.Mould.Box.Volume), 3*figures(one.Numbers).of(one.Mould.Box.Volume))

	laid := g.Poses
	moved := append([]api.Point{}, laid...)
	moved[1] = moved[0]
	var over api.Gang
	s.send("POST", s.path(j, "/gang/place"), -1, map[string]any{"poses": moved, "gap": 8, "edge": 12}).into(&over)
	require.NotNil(t, over.Overlap)
	assert.Contains(t, *over.Overlap, "lie over one another")
	s.send("POST", s.path(j, "/gang/place"), -1, map[string]any{"poses": laid, "gap": 8, "edge": 12}).into(&g)
	assert.Len(t, g.Poses, 6)
	assert.Nil(t, g.Overlap)

	// a form of box that does not go round is said in words
	tight := kept.Design
	tight.Box = design.Box{Form: string(box.Own), Wide: 20, Deep: 20}
	s.send("POST", s.path(j, "/study"), -1, tight).problem(http.StatusUnprocessableEntity, "does not go into that box")
}

func TestADesignIsCarriedInADocument(t *testing.T) {
	s := open(t)
	j := s.take("drogue-hub")
	rubber := s.rubber("Tin-cure silicone 30 A, 10:1")
	kept := s.redesign(j, func(d map[string]any) {
		d["rubber"], d["kind"], d["seam"], d["skin"] = rubber, "three-piece", "top", 9
		d["box"] = map[string]any{"form": "round"}
		d["keys"] = map[string]any{"kind": "bars", "size": 4}
		d["sides"] = []any{
			map[string]any{"at": []float64{30, 0, 12}, "strip": true},
			map[string]any{"at": []float64{-30, 0, 12}, "strip": false, "draw": []float64{-1, 0, 0.1}},
		}
		d["gang"] = []any{[]float64{0, 0, 0}, []float64{140, 0, 30}}
	})
	doc := s.send("GET", s.path(j, "/design/file"), -1, nil)
	require.Equal(t, http.StatusOK, doc.Status, string(doc.Body))

	// the document keeps to its published schema, by a validator that is not ours
	raw, err := json.Marshal(must(api.DesignSchema()))
	require.NoError(t, err)
	schema, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("design.json", schema))
	compiled, err := c.Compile("design.json")
	require.NoError(t, err)
	inst, err := jsonschema.UnmarshalJSON(bytes.NewReader(doc.Body))
	require.NoError(t, err)
	require.NoError(t, compiled.Validate(inst))
	require.Error(t, compiled.Validate(map[string]any{"format": "another"}))
	assert.JSONEq(t, string(raw), string(s.send("GET", "/api/schemas/design.json", -1, nil).Body))
	published, err := os.ReadFile("../../docs/design.schema.json")
	require.NoError(t, err)
	assert.JSONEq(t, string(raw), string(published), "go run ./cmd/bathyform schema > docs/design.schema.json")

	// another job takes it over without loss
	other := s.take("drogue-hub")
	var whole map[string]any
	require.NoError(t, json.Unmarshal(doc.Body, &whole))
	var read api.ReadDesign
	var proposal api.KeptDesign
	s.send("GET", s.path(other, "/design"), -1, nil).into(&proposal)
	s.send("PUT", s.path(other, "/design/file"), proposal.Version, whole).into(&read)
	assert.Empty(t, read.Notes)
	var again api.KeptDesign
	s.send("GET", s.path(other, "/design"), -1, nil).into(&again)
	assert.Equal(t, kept.Design, again.Design)
	back := s.send("GET", s.path(other, "/design/file"), -1, nil)
	assert.JSONEq(t, string(doc.Body), string(back.Body))

	whole["rubber"].(map[string]any)["name"] = "A rubber of another shop"
	whole["part"].(map[string]any)["mesh"] = "0000"
	read = api.ReadDesign{}
	s.send("PUT", s.path(other, "/design/file"), again.Version, whole).into(&read)
	require.Len(t, read.Notes, 2)
	assert.Contains(t, read.Notes[0], "not on the shelf")
	assert.Empty(t, read.Design.Rubber)
	whole["version"] = 2
	s.send("PUT", s.path(other, "/design/file"), read.Version, whole).problem(http.StatusUnprocessableEntity, "")
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// What cannot be built is said in words, with what to do about it.
func TestMouldsThatCannotBeBuilt(t *testing.T) {
	s := open(t)
	j := s.take("collar-half")
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	doc, err := json.Marshal(kept.Design)
	require.NoError(t, err)
	with := func(change func(map[string]any)) map[string]any {
		var d map[string]any
		require.NoError(t, json.Unmarshal(doc, &d))
		change(d)
		return d
	}
	for name, c := range map[string]struct {
		change func(map[string]any)
		status int
		says   string
	}{
		"no clearance": {func(d map[string]any) {
			d["clearance"] = map[string]any{"beside": 0, "below": 13,
				"above": 20}
		}, 422, "clearance beside"},
		"a parting outside":    {func(d map[string]any) { d["parting"] = 4000 }, 422, "outside the box"},
		"no draw of the six":   {func(d map[string]any) { d["draw"] = "up" }, 400, ""},
		"sixty-one cavities":   {func(d map[string]any) { d["gang"] = make([][3]float64, 61) }, 422, ""},
		"a kind of nobody's":   {func(d map[string]any) { d["kind"] = "injection" }, 422, "kind"},
		"a form of nobody's":   {func(d map[string]any) { d["box"] = map[string]any{"form": "star"} }, 400, ""},
		"an absurd allowance":  {func(d map[string]any) { d["rubberOver"] = 900 }, 422, "rubber allowance"},
		"keys of nobody's":     {func(d map[string]any) { d["keys"] = map[string]any{"kind": "hooks"} }, 400, ""},
		"a cavity that is not": {func(d map[string]any) { d["gang"] = [][]float64{{1, 2}} }, 422, ""},
	} {
		t.Run(name, func(t *testing.T) {
			a := s.send("PUT", s.path(j, "/design"), kept.Version, with(c.change))
			a.problem(c.status, c.says)
		})
	}
	assert.Contains(t, string(s.send("GET", s.path(j, "/searches/build?kind=injection"), -1, nil).Body), "There is no kind of mould")
	s.send("GET", s.path(j, "/templates/star/svg"), -1, nil).problem(http.StatusUnprocessableEntity, "no such sheet")
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"count": 200, "pot": 240, "gap": 8, "edge": 12}).into(&api.Gang{})
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"count": 5000, "gap": 8, "edge": 12}).problem(http.StatusUnprocessableEntity, "")

	// a piece that cannot leave is told by the search that divides
	hub := s.take("drogue-hub")
	s.redesign(hub, func(d map[string]any) {
		d["sides"] = []any{map[string]any{"at": []float64{30, 0, 12}, "strip": false, "draw": []float64{-1, 0, 0}}}
	})
	a := s.send("GET", s.path(hub, "/searches/build?kind=three-piece"), -1, nil)
	assert.Contains(t, string(a.Body), "cannot leave")
	assert.Contains(t, string(a.Body), "turn its draw")

	measured := s.newJob()
	s.send("PUT", s.path(measured, "/master"), measured.Version,
		map[string]any{"measured": map[string]any{"length": 40.0, "width": 30.0, "height": 20.0, "volume": 12.0}}).
		into(&measured)
	for _, path := range []string{"/searches/partings", "/rubber/all/3mf"} {
		s.send("GET", s.path(measured, path), -1, nil).problem(http.StatusConflict, "")
	}
	end := last[api.BuildSearch](t, s.events(t.Context(), s.path(measured, "/searches/build"), -1))
	require.NotNil(t, end.Build, "a master by measure is built like any other")
	assert.NotEmpty(t, end.Build.Steps)
	assert.Equal(t, http.StatusOK, s.send("GET", s.path(measured, "/build-sheet.pdf"), -1, nil).Status)
	assert.Equal(
		t,
		http.StatusOK,
		s.send("GET", s.path(measured, "/design/file"), -1, nil).Status,
		"its design can be carried all the same",
	)
}
