package api_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"math"
	"net/http"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (s shop) take(key string) api.Job {
	j := s.newJob()
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"demoPart": key}).into(&j)
	return j
}

func (s shop) rubber(name string) string {
	var all []api.Material
	s.send("GET", "/api/materials", -1, nil).into(&all)
	for _, m := range all {
		if m.Name == name {
			return m.Id.String()
		}
	}
	require.Fail(s.t, "not on the shelf", name)
	return ""
}

func (s shop) survey(j api.Job, ask map[string]any) (out api.Survey) {
	s.send("POST", s.path(j, "/survey"), -1, ask).into(&out)
	return out
}

func saysFinding(found []api.Finding, words string) bool {
	for _, f := range found {
		if strings.Contains(f.What, words) {
			return true
		}
	}
	return false
}

func TestSurveyOfTheHubNamesItsSockets(t *testing.T) {
	s := open(t)
	j := s.take("drogue-hub")
	got := s.survey(j, map[string]any{"draw": []float64{0, 0, 1}, "rubber": s.rubber("Tin-cure silicone 30 A, 10:1")})
	assert.Len(t, got.Undercuts, 6)
	for _, u := range got.Undercuts {
		assert.Equal(t, "side piece", u.Answer)
		assert.NotEmpty(t, got.Numbers[u.Strain.N].Formula, "the figure can be opened")
	}
	assert.True(t, saysFinding(got.Findings, "side piece"))
	assert.NotEmpty(t, got.Prep)
	var shares float64
	for _, b := range got.Shares {
		shares += b.Share
	}
	assert.InDelta(t, 1, shares, 1e-6)

	// the maps have one entry for every triangle of the drawing
	geometry := s.send("GET", s.path(j, "/geometry"), -1, nil)
	triangles := int(binary.LittleEndian.Uint32(geometry.Body[4:]))
	assert.Len(t, s.send("GET", s.path(j, "/maps/draw?x=0&y=0&z=1"), -1, nil).Body, triangles)
	thick := s.send("GET", s.path(j, "/maps/thickness"), -1, nil).Body
	assert.Len(t, thick, 4*triangles)
	assert.Positive(t, math.Float32frombits(binary.LittleEndian.Uint32(thick)))
}

func TestABriefIsKeptAndHeldAgainstTheMesh(t *testing.T) {
	s := open(t)
	j := s.take("ballast-bulb")
	ask := map[string]any{"draw": []float64{0, 0, 1}, "rubber": s.rubber("Platinum-cure silicone 20 A, 1:1")}
	brief := map[string]any{
		"quality":    "precision",
		"surface":    "resin print",
		"generation": 2,
		"done":       []string{"wipe"},
		"wants":      []string{"clear"},
		"inserts":    []map[string]any{{"kind": "thread", "note": "M5"}},
		"check":      map[string]any{"kind": "length", "value": 160.0},
	}
	s.send("PUT", s.path(j, "/brief"), j.Version, brief).into(&j)
	assert.EqualValues(t, "resin print", j.Brief.Surface)
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	require.Len(t, j.Brief.Inserts, 1)
	got := s.survey(j, ask)
	assert.True(t, saysFinding(got.Findings, "do not agree"))
	assert.Equal(t, "Slow clear epoxy, 40 min", got.Resins[0].Name, "the one that cures clear and takes a thick part")
	assert.True(t, got.Resins[0].Fits)
	assert.Contains(t, got.Rubbers[0].Name, "Tin", "platinum does not cure on a resin print")
	assert.True(t, saysFinding(got.Findings, "stays uncured"))
	ticked := map[string]bool{}
	for _, p := range got.Prep {
		ticked[p.Key] = p.Done
	}
	assert.True(t, ticked["wipe"])
	assert.Contains(t, ticked, "insert-0-thread")
	assert.Contains(t, ticked, "generation")
	assert.Contains(t, ticked, "inhibit")

	// a dab that cured clears the stop
	s.send(
		"POST",
		"/api/inhibition-tests",
		-1,
		map[string]any{"rubber": "Platinum-cure silicone 20 A, 1:1", "surface": "resin print", "tested": "2026-11-20", "cured": true},
	)
	got = s.survey(j, ask)
	assert.False(t, saysFinding(got.Findings, "stays uncured"))

	s.send("PUT", s.path(j, "/brief"), j.Version-1, brief).problem(http.StatusPreconditionFailed, "changed")
	brief["day"] = map[string]any{"celsius": 20.0, "humidity": 180.0}
	s.send("PUT", s.path(j, "/brief"), j.Version, brief).problem(http.StatusUnprocessableEntity, "humidity lies between")
	delete(brief, "day")
	brief["check"] = map[string]any{"kind": "mass", "value": 20.0}
	s.send("PUT", s.path(j, "/brief"), j.Version, brief).problem(http.StatusUnprocessableEntity, "density")
}

func TestTurningTheMasterKeepsItsVolumeAndComesBack(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	was, volume := *j.Master, figures(j.Numbers).of(j.Master.Volume)
	var next api.Job
	turn := func(up []float64, purpose string) {
		s.send("PUT", s.path(j, "/master/turn"), j.Version, map[string]any{"up": up, "purpose": purpose}).into(&next)
		j, next = next, api.Job{}
	}
	turn([]float64{1, 0, 0}, "pour")
	assert.True(t, *j.Master.Turned)
	assert.InDelta(t, was.Size[0], j.Master.Size[2], 1e-4, "its length stands upright")
	assert.InEpsilon(t, volume, figures(j.Numbers).of(j.Master.Volume), 1e-9)
	assert.NotEqual(t, was.Mesh.Key, j.Master.Mesh.Key, "the drawing is fetched anew")
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	assert.NotEmpty(t, kept.Design.Vents, "and it is vented where it now stands")
	turn([]float64{0, 1, 0.2}, "draw")
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	assert.Equal(t, axis.PlusZ, kept.Design.Draw)
	turn([]float64{0, 0, 1}, "back")
	assert.False(t, *j.Master.Turned)
	assert.Equal(t, was.Size, j.Master.Size)
	s.send("PUT", s.path(j, "/master/turn"), j.Version, map[string]any{"up": []float64{0, 0, 0}, "purpose": "pour"}).
		problem(http.StatusUnprocessableEntity, "no direction")
}

func TestOneWayUpIsAnsweredWhileAHandTurnsThePart(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	var coarse, fine api.Attitude
	s.send("POST", s.path(j, "/attitude"), -1, map[string]any{"up": []float64{0, 0, 1}, "fine": false}).into(&coarse)
	s.send("POST", s.path(j, "/attitude"), -1, map[string]any{"up": []float64{0, 0, 1}, "fine": true}).into(&fine)
	assert.GreaterOrEqual(t, fine.Vents, 2, "two horns")
	assert.GreaterOrEqual(t, len(fine.Pockets), fine.Vents-1, "the highest one is vented")
	assert.InDelta(t, fine.Air, coarse.Air, 0.05*fine.Air)
}

// events reads server-sent events until the stream ends or enough were seen.
func (s shop) events(ctx context.Context, path string, enough int) (out []json.RawMessage) {
	s.t.Helper()
	req, err := http.NewRequestWithContext(ctx, "GET", s.base+path, nil)
	require.NoError(s.t, err)
	resp, err := http.DefaultClient.Do(req)
	require.NoError(s.t, err)
	defer resp.Body.Close()
	require.Equal(s.t, "text/event-stream", resp.Header.Get("Content-Type"))
	lines := bufio.NewScanner(resp.Body)
	lines.Buffer(nil, 1<<22)
	for lines.Scan() {
		if data, ok := bytes.CutPrefix(lines.Bytes(), []byte("data: ")); ok {
			out = append(out, bytes.Clone(data))
			if len(out) == enough {
				break
			}
		}
	}
	return out
}

func TestSearchesTellTheirProgressAndCanBeLeft(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	all := s.events(t.Context(), s.path(j, "/searches/draws"), -1)
	require.Greater(t, len(all), 3)
	var first, last api.DrawSearch
	require.NoError(t, json.Unmarshal(all[0], &first))
	require.NoError(t, json.Unmarshal(all[len(all)-1], &last))
	assert.NotEmpty(t, first.Best, "there is something to show at once")
	assert.Less(t, first.Done, first.Total)
	assert.True(t, last.Finished)
	require.NotEmpty(t, last.Best)
	assert.Less(t, last.Best[0].Undercut, 0.05*figures(j.Numbers).of(j.Master.Volume))

	ctx, leave := context.WithCancel(t.Context())
	some := s.events(ctx, s.path(j, "/searches/attitudes"), 2)
	leave()
	assert.Len(t, some, 2)
}

func TestAMeasuredMasterSaysWhatItCannotTell(t *testing.T) {
	s := open(t)
	j := s.newJob()
	s.send("PUT", s.path(j, "/master"), j.Version,
		map[string]any{"measured": map[string]any{"length": 40.0, "width": 30.0, "height": 20.0, "volume": 12.0}}).
		into(&j)
	got := s.survey(j, map[string]any{"draw": []float64{0, 0, 1}})
	assert.False(t, got.Known)
	assert.Nil(t, got.Figures)
	assert.NotEmpty(t, got.Prep, "what is done to a master needs no shape")
	assert.NotEmpty(t, got.Rubbers)
	s.send("GET", s.path(j, "/searches/draws"), -1, nil).problem(http.StatusConflict, "measures alone")
}

func TestOBJIsTakenAsAMaster(t *testing.T) {
	s := open(t)
	j := s.newJob()
	obj := "v 0 0 0\nv 30 0 0\nv 30 20 0\nv 0 20 0\nv 0 0 10\nv 30 0 10\nv 30 20 10\nv 0 20 10\n" +
		"f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n"
	s.send("POST", s.path(j, "/master/mesh?filename=block.obj"), j.Version, []byte(obj)).into(&j)
	assert.Equal(t, "obj", j.Master.Mesh.Format)
	assert.InDelta(t, 6, figures(j.Numbers).of(j.Master.Volume), 1e-9)
}

func TestABlockOutBecomesAMaster(t *testing.T) {
	s := open(t)
	j := s.newJob()
	solids := []map[string]any{
		{"kind": "box", "cut": false, "at": []float64{0, 0, 0}, "axis": "z", "a": 60, "b": 40, "c": 10},
		{"kind": "cylinder", "cut": true, "at": []float64{0, 0, -5}, "axis": "z", "a": 10, "b": 0, "c": 20},
	}
	preview := s.send("POST", "/api/blockout", -1, map[string]any{"solids": solids})
	require.Equal(t, http.StatusOK, preview.Status)
	volume := math.Float64frombits(binary.LittleEndian.Uint64(preview.Body))
	assert.InEpsilon(t, 24-math.Pi*0.25, volume, 0.015)

	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"blockout": map[string]any{"solids": solids}}).into(&j)
	assert.InDelta(t, volume, figures(j.Numbers).of(j.Master.Volume), 1e-4)
	assert.True(t, j.Master.UnitConfirmed)
	require.NotNil(t, j.Master.Solids)
	assert.Len(t, *j.Master.Solids, 2, "it is kept as what it was built of")
	assert.True(t, s.survey(j, map[string]any{"draw": []float64{0, 0, 1}}).Known, "and can be looked over like any master")

	solids[1]["a"], solids[1]["kind"], solids[1]["b"], solids[1]["c"] = 100, "box", 100, 100
	solids[1]["at"] = []float64{0, 0, -50}
	s.send("POST", "/api/blockout", -1, map[string]any{"solids": solids}).problem(http.StatusUnprocessableEntity, "Nothing is left")
}

func TestADrawingIsReadAsAnOutline(t *testing.T) {
	s := open(t)
	var got api.Outline
	s.send("POST", "/api/outlines", -1, map[string]any{"text": `
		<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40">
		<rect width="60" height="40"/><circle cx="30" cy="20" r="8"/></svg>`}).
		into(&got)
	assert.Len(t, got.Rings, 2)
	assert.InDelta(t, 60, got.Width, 1e-9)
	solid := map[string]any{
		"kind":  "prism",
		"cut":   false,
		"at":    []float64{0, 0, 0},
		"axis":  "z",
		"a":     0,
		"b":     0,
		"c":     5,
		"rings": got.Rings,
	}
	preview := s.send("POST", "/api/blockout", -1, map[string]any{"solids": []any{solid}})
	require.Equal(t, http.StatusOK, preview.Status, string(preview.Body))
	assert.InEpsilon(t, (2400-math.Pi*64)*5/1000, math.Float64frombits(binary.LittleEndian.Uint64(preview.Body)), 0.015)
	s.send("POST", "/api/outlines", -1, map[string]any{"text": "no drawing"}).problem(http.StatusUnprocessableEntity, "SVG")
}
