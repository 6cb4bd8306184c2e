package api_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"
	"net/http"
	"strings"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/outline"
	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// washer is a scan of one at 100 dots an inch, 50.8 mm across.
func washer(t *testing.T, contrast uint8) []byte {
	t.Helper()
	img := image.NewGray(image.Rect(0, 0, 260, 260))
	for y := range 260 {
		for x := range 260 {
			r := math.Hypot(float64(x)-130, float64(y)-130)
			img.SetGray(x, y, color.Gray{Y: 240})
			if r < 100 && r > 40 {
				img.SetGray(x, y, color.Gray{Y: 240 - contrast})
			}
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.Bytes()
}

func TestAFlatScanBecomesAMaster(t *testing.T) {
	s := open(t)
	var got api.Outline
	s.send("POST", "/api/scans?dpi=100", -1, washer(t, 200)).into(&got)
	require.Len(t, got.Rings, 2, "outer edge and hole")
	assert.InDelta(t, 50.8, got.Width, 0.6)

	j := s.newJob()
	prism := map[string]any{
		"kind":  "prism",
		"cut":   false,
		"at":    []float64{0, 0, 0},
		"axis":  "z",
		"a":     1,
		"b":     1,
		"c":     4,
		"rings": got.Rings,
	}
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"blockout": map[string]any{"solids": []any{prism}}}).into(&j)
	ring := math.Pi / 4 * (50.8*50.8 - 20.32*20.32) * 4 / 1000
	assert.InEpsilon(t, ring, figures(j.Numbers).of(j.Master.Volume), 0.03, "a ring, four millimetres thick")

	s.send("POST", "/api/scans?dpi=3", -1, washer(t, 200)).problem(http.StatusUnprocessableEntity, "dots an inch")
	s.send("POST", "/api/scans?dpi=100", -1, []byte("solid nothing")).problem(http.StatusUnprocessableEntity, "PNG or JPEG")
	s.send("POST", "/api/scans?dpi=100", -1, washer(t, 0)).problem(http.StatusUnprocessableEntity, "scan")
	s.send("POST", "/api/scans?dpi=100", -1, bytes.NewReader(make([]byte, 31<<20))).problem(http.StatusRequestEntityTooLarge, "large")
}

func TestABlockOutIsHeldAgainstTheWaterItShouldDisplace(t *testing.T) {
	s := open(t)
	box := map[string]any{"kind": "box", "cut": false, "at": []float64{0, 0, 0}, "axis": "z", "a": 40, "b": 30, "c": 20}
	figures := func(displaced any) []float64 {
		body := map[string]any{"solids": []any{box}}
		if displaced != nil {
			body["displaced"] = displaced
		}
		a := s.send("POST", "/api/blockout", -1, body)
		require.Equal(t, http.StatusOK, a.Status)
		out := make([]float64, 4)
		for i := range out {
			out[i] = math.Float64frombits(le64(a.Body[8*i:]))
		}
		return out
	}
	got := figures(30)
	assert.InEpsilon(t, 24, got[0], 0.012)
	assert.InDelta(t, -0.2, got[2], 0.012)
	assert.Zero(t, got[3])
	assert.Equal(t, 1.0, figures(24.5)[3])
	assert.True(t, math.IsNaN(figures(nil)[2]))
}

func le64(b []byte) (v uint64) {
	for i := 7; i >= 0; i-- {
		v = v<<8 | uint64(b[i])
	}
	return v
}

func TestOfferedDrawsComeAsPictures(t *testing.T) {
	s := open(t)
	j := s.take("drogue-hub")
	a := s.send("GET", s.path(j, "/pictures/draw?x=0&y=0.3&z=1"), -1, nil)
	assert.Equal(t, "image/png", a.Header.Get("Content-Type"))
	img, err := png.Decode(bytes.NewReader(a.Body))
	require.NoError(t, err)
	locked, solid := 0, 0
	for y := range img.Bounds().Dy() {
		for x := range img.Bounds().Dx() {
			r, g, _, alpha := img.At(x, y).RGBA()
			if alpha > 0x8000 {
				solid++
				if r > 2*g {
					locked++
				}
			}
		}
	}
	assert.Greater(t, solid, 5000)
	assert.Greater(t, locked, 50, "the sockets show in the colour of what is locked")
	s.send("GET", s.path(j, "/pictures/draw?x=0&y=0&z=0"), -1, nil).problem(http.StatusUnprocessableEntity, "direction")
}

func TestASetIsSeveralMastersOfOneOrder(t *testing.T) {
	s := open(t)
	var jobs []api.Job
	s.send("GET", "/api/jobs", -1, nil).into(&jobs)
	var set api.JobSet
	for _, j := range jobs {
		if j.Order.Name == "Drogue hub" {
			s.send("GET", s.path(j, "/set"), -1, nil).into(&set)
		}
	}
	require.Len(t, set.Members, 2)
	assert.Equal(t, "Drifter kit", set.Name)
	assert.Zero(t, set.Complete, "no hub is cast yet")
	assert.Empty(t, set.Notes, "240 cleats, four a kit, and 60 hubs go together")

	alone := s.newJob()
	s.send("GET", s.path(alone, "/set"), -1, nil).into(&set)
	assert.Empty(t, set.Name)
	s.send("PUT", s.path(alone, ""), alone.Version, map[string]any{"name": "Bracket", "quantity": 12, "set": "Drifter kit", "perSet": 2}).
		into(&alone)
	s.send("GET", s.path(alone, "/set"), -1, nil).into(&set)
	require.Len(t, set.Members, 3)
	require.Len(t, set.Notes, 1)
	assert.Contains(t, set.Notes[0], "6 sets of one part and for 60")
}

func TestInsertsStayAtTheirPlaceAndGoWithTheShape(t *testing.T) {
	s := open(t)
	j := s.take("ballast-bulb")
	at := []float64{10, 4, 2}
	s.send("PUT", s.path(j, "/brief"), j.Version,
		map[string]any{"quality": "", "surface": "", "generation": 1, "wants": []string{}, "done": []string{"wipe"},
			"inserts": []map[string]any{{"kind": "core", "note": "rod", "volume": 5.0, "at": at}}}).
		into(&j)

	var st api.Study
	design := func() (d api.KeptDesign) { s.send("GET", s.path(j, "/design"), -1, nil).into(&d); return d }
	s.send("POST", s.path(j, "/study"), -1, design().Design).into(&st)
	assert.Equal(t, "Laid in", st.Shot.Lines[1].Name)
	assert.InDelta(t, -5, figures(st.Numbers).of(st.Shot.Lines[1].Volume), 1e-9)

	s.send("PUT", s.path(j, "/master/turn"), j.Version, map[string]any{"up": []float64{1, 0, 0}, "purpose": "pour"}).into(&j)
	turned := *j.Brief.Inserts[0].At
	assert.InDelta(t, 10, turned[2], 1e-9, "what was along x now stands up")
	assert.InDelta(t, math.Hypot(4, 2), math.Hypot(turned[0], turned[1]), 1e-9)

	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"demoPart": "deck-cleat"})
	j = api.Job{Id: j.Id}
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	require.Len(t, j.Brief.Inserts, 1, "it is still wanted")
	assert.Nil(t, j.Brief.Inserts[0].At, "but nobody knows where on another shape")
	assert.Empty(t, j.Brief.Done)
}

func TestTheHubIsDividedIntoPiecesThatComeAway(t *testing.T) {
	s := open(t)
	j := s.take("drogue-hub")
	s.redesign(j, func(d map[string]any) {
		d["kind"], d["rubber"] = "three-piece", s.rubber("Tin-cure silicone 30 A, 10:1")
	})
	all := s.events(t.Context(), s.path(j, "/searches/build"), -1)
	require.Greater(t, len(all), 3, "its stages are told")
	end := last[api.BuildSearch](t, all)
	require.True(t, end.Finished)
	m := *end.Build
	n := figures(m.Numbers)
	assert.Len(t, m.Pieces, 8)
	assert.Less(t, m.Error, 0.005, "of the part, its channels on a lattice of a millimetre among it")
	require.NotNil(t, m.Seam)
	assert.InDelta(t, 300, n.of(m.Seam.Line), 15, "round the hub and its bore")
	assert.Less(t, n.of(m.Seam.Off), 1.5, "its wall lets the parting lie level, but for its rounded edge")
	assert.NotEmpty(t, n[m.Seam.Steep.N].Formula)
	var sum float64
	for _, p := range m.Pieces {
		assert.Less(t, p.Catches, 0.001, p.Name)
		assert.NotEmpty(t, n[p.Volume.N].Formula)
		sum += n.of(p.Volume)
	}
	assert.InEpsilon(t, n.of(*m.Mould.Rubber), sum, 1e-6, "the pieces are the rubber")
	assert.True(t, saysFinding(m.Findings, "6 side pieces spare the rubber"))

	stl := s.send("GET", s.path(j, "/rubber/0/stl"), -1, nil)
	assert.Contains(
		t,
		stl.Header.Get("Content-Disposition"),
		"bracket-"+strings.ToLower(strings.ReplaceAll(m.Pieces[0].Name, " ", "-"))+"-v2.stl",
	)
	_, r, err := mesh.Load(stl.Body, 1)
	require.NoError(t, err)
	assert.InEpsilon(t, n.of(m.Pieces[0].Volume)*1000, r.Volume, 0.01, "the file holds what was said")
	assert.Equal(t, http.StatusOK, s.send("GET", s.path(j, "/rubber/7/geometry"), -1, nil).Status)
	whole := s.send("GET", s.path(j, "/rubber/all/3mf"), -1, nil)
	assert.Contains(t, whole.Header.Get("Content-Disposition"), "bracket-mould-v2.3mf")
	file, err := mesh.Parse(whole.Body)
	require.NoError(t, err)
	assert.InEpsilon(t, sum*1000, file.Mesh.Volume(), 0.003, "all eight are in it")
	s.send("GET", s.path(j, "/rubber/9/stl"), -1, nil).problem(http.StatusNotFound, "build the mould again")

	// as another kind, without keeping it: two halves that are stripped
	end = last[api.BuildSearch](t, s.events(t.Context(), s.path(j, "/searches/build?kind=clayed-up"), -1))
	require.NotNil(t, end.Build)
	assert.Len(t, end.Build.Pieces, 2)
	require.NotNil(t, end.Build.Mould.Pours[0].Batch)
	assert.True(t, saysFinding(end.Build.Findings, "until it is stripped off"))
}

func TestGangsAreLaidAndCompared(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	var g api.Gang
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"count": 6, "gap": 8, "edge": 12}).into(&g)
	assert.Len(t, g.Poses, 6)
	assert.False(t, g.Short)
	assert.InEpsilon(t, figures(g.Numbers).of(g.Rubber)/6, figures(g.Numbers).of(g.Each), 1e-6)
	g = api.Gang{}
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"count": 90, "pot": 240, "gap": 8, "edge": 12}).into(&g)
	assert.True(t, g.Short)
	assert.Equal(t, "rows over one another", g.Kind, "the cleat's parting stands upright, so each keeps its way up")
	for _, p := range g.Poses {
		assert.Zero(t, p[2], "none is turned")
	}
	assert.LessOrEqual(t, math.Hypot(g.Deep, 50), 240.0, "a row goes into the pot, with its sprue")
	assert.LessOrEqual(t, g.Wide, 250.0, "and the rows under its lid")
	var compared api.GangCases
	s.send("POST", s.path(j, "/gang/compare"), -1, map[string]any{"gap": 8, "edge": 12}).into(&compared)
	cases := compared.Cases
	require.Len(t, cases, 12)
	assert.Greater(t, cases[0].Each, cases[3].Each, "rubber for each cavity falls with their number")
	assert.Equal(t, 3, cases[3].Pulls, "12 wanted, four a pull")
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"gap": 8, "edge": 12}).problem(http.StatusUnprocessableEntity, "Say how many")
	s.send("POST", s.path(j, "/gang"), -1, map[string]any{"pot": 30, "gap": 8, "edge": 12}).
		problem(http.StatusUnprocessableEntity, "Not one cavity")
	s.send("POST", s.path(j, "/gang/compare"), -1, map[string]any{"gap": -8, "edge": 12}).
		problem(http.StatusUnprocessableEntity, "not negative")

	m := s.newJob()
	s.send("PUT", s.path(m, "/master"), m.Version,
		map[string]any{"measured": map[string]any{"length": 40.0, "width": 30.0, "height": 20.0, "volume": 12.0}}).
		into(&m)
	s.send("POST", s.path(m, "/gang"), -1, map[string]any{"count": 2, "gap": 8, "edge": 12}).into(&g)
	assert.Len(t, g.Poses, 2, "its length and width are shape enough")
}

func TestTemplatesAreGivenAtTrueSize(t *testing.T) {
	s := open(t)
	j := s.take("instrument-bezel")
	for sheet, kind := range map[string]string{"boards": "clayed-up", "jointed": "clayed-up", "folded": "clayed-up",
		"plates": "squeeze", "wrap": "cut",
		"fins": "tape-parted", "flange": "shell", "parting-board": "parting-board", "gang": "clayed-up"} {
		for _, form := range []string{"svg", "dxf"} {
			a := s.send("GET", s.path(j, "/templates/"+sheet+"/"+form+"?count=3&gap=8&edge=12&kind="+kind), -1, nil)
			require.Equal(t, http.StatusOK, a.Status, string(a.Body))
			assert.Contains(t, a.Header.Get("Content-Disposition"), "bracket-"+sheet+"-v1."+form)
			d, err := outline.Parse(a.Body)
			require.NoError(t, err, "%s as %s", sheet, form)
			assert.NotEmpty(t, d.Rings)
		}
	}
	s.send("GET", s.path(j, "/templates/gang/svg"), -1, nil).problem(http.StatusUnprocessableEntity, "no such sheet")
	s.send("GET", s.path(j, "/templates/bent/svg"), -1, nil).problem(http.StatusUnprocessableEntity, "no such sheet")
	for _, paper := range []string{"a4", "letter"} {
		a := s.send("GET", s.path(j, "/templates/wrap/pdf?kind=cut&paper="+paper), -1, nil)
		require.Equal(t, http.StatusOK, a.Status)
		assert.True(t, bytes.HasPrefix(a.Body, []byte("%PDF-")))
	}

	m := s.newJob()
	s.send("GET", s.path(m, "/templates/boards/svg"), -1, nil).problem(http.StatusConflict, "no master")
	s.send("PUT", s.path(m, "/master"), m.Version,
		map[string]any{"measured": map[string]any{"length": 40.0, "width": 30.0, "height": 20.0, "volume": 12.0}}).
		into(&m)
	assert.Equal(t, http.StatusOK, s.send("GET", s.path(m, "/templates/boards/dxf"), -1, nil).Status, "a box needs no shape")
	s.send("GET", s.path(m, "/templates/parting-board/dxf?kind=parting-board"), -1, nil).
		problem(http.StatusUnprocessableEntity, "no such sheet")
}
