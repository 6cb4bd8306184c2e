package api_test

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"testing/fstest"

	"bathyform/core/attitude"
	"bathyform/core/design"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/demo/parts"
	"bathyform/internal/api"
	"bathyform/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// shop is a client of a server on a database of its own.
type shop struct {
	t    testing.TB
	base string
	key  string // of what is to be added, where one is given along
}

func open(t testing.TB) shop {
	t.Helper()
	s := testkit.DemoStore(t)
	page := fstest.MapFS{"index.html": {Data: []byte("<title>Bathyform</title>")}, "assets/a.js": {Data: []byte("1")}}
	h, err := api.NewHandler(s, page)
	require.NoError(t, err)
	server := httptest.NewServer(h)
	t.Cleanup(server.Close)
	return shop{t: t, base: server.URL}
}

type answer struct {
	t      testing.TB
	Status int
	Header http.Header
	Body   []byte
}

// send makes a request; body may be nil, bytes, a reader, or anything that JSON can hold.
func (s shop) send(method, path string, version int, body any) answer {
	s.t.Helper()
	var r io.Reader
	contentType := "application/json"
	switch b := body.(type) {
	case nil:
	case []byte:
		r, contentType = bytes.NewReader(b), "application/octet-stream"
	case io.Reader:
		r, contentType = b, "application/octet-stream"
	default:
		data, err := json.Marshal(b)
		require.NoError(s.t, err)
		r = bytes.NewReader(data)
	}
	req, err := http.NewRequestWithContext(s.t.Context(), method, s.base+path, r)
	require.NoError(s.t, err)
	if body != nil {
		req.Header.Set("Content-Type", contentType)
	}
	if version >= 0 {
		req.Header.Set("If-Match", fmt.Sprintf("%q", fmt.Sprint(version)))
	}
	if s.key != "" {
		req.Header.Set("Idempotency-Key", s.key)
	}
	resp, err := http.DefaultClient.Do(req)
	require.NoError(s.t, err)
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	require.NoError(s.t, err)
	return answer{s.t, resp.StatusCode, resp.Header, data}
}

func (a answer) into(v any) {
	a.t.Helper()
	require.Less(a.t, a.Status, 300, string(a.Body))
	require.NoError(a.t, json.Unmarshal(a.Body, v))
}

// rack is a page of the rack.
func (s shop) rack(query string) []api.Mould {
	s.t.Helper()
	var page api.RackPage
	s.send("GET", "/api/moulds"+query, -1, nil).into(&page)
	return page.Moulds
}

// problem asserts a problem of RFC 9457 with words for people.
func (a answer) problem(status int, says string) {
	a.t.Helper()
	assert.Equal(a.t, status, a.Status, string(a.Body))
	assert.Equal(a.t, "application/problem+json", a.Header.Get("Content-Type"))
	var p api.Problem
	require.NoError(a.t, json.Unmarshal(a.Body, &p))
	assert.NotEmpty(a.t, p.Title)
	require.NotNil(a.t, p.Detail)
	assert.Contains(a.t, p.Title+". "+*p.Detail, says)
}

// figures are the numbers of a document.
type figures []api.NumberRow

func (f figures) of(n api.Number) float64 { return f[n.N].Value }

func (s shop) newJob() api.Job {
	var j api.Job
	s.send("POST", "/api/jobs", -1, map[string]any{"name": "Bracket", "quantity": 12}).into(&j)
	return j
}

func (s shop) path(j api.Job, rest string) string { return "/api/jobs/" + j.Id.String() + rest }

func (s shop) upload(j api.Job, data []byte) answer {
	return s.send("POST", s.path(j, "/master/mesh?filename=bracket.stl"), j.Version, data)
}

func cleat() []byte { p, _ := parts.ByKey("deck-cleat"); return p.Mesh().WriteSTL() }

func TestFromAnSTLToTheWeightsOfTheFirstPour(t *testing.T) {
	s := open(t)
	j := s.newJob()
	assert.Equal(t, "Add the master", j.Next.What)
	s.upload(j, cleat()).into(&j)
	require.NotNil(t, j.Master)
	assert.Equal(t, "bracket", j.Master.Name)
	assert.False(t, j.Master.UnitConfirmed)
	assert.EqualValues(t, "mm", *j.Master.UnitGuess)
	assert.NotEmpty(t, *j.Master.UnitWhy)
	assert.InDelta(t, 31.46, figures(j.Numbers).of(j.Master.Volume), 0.1)
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"unit": "mm"}).into(&j)
	assert.True(t, j.Master.UnitConfirmed)

	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	proposed := kept.Version
	assert.NotEmpty(t, kept.Design.Vents, "vents are proposed where air is found")
	var shelf []api.Material
	s.send("GET", "/api/materials", -1, nil).into(&shelf)
	for _, m := range shelf {
		if m.Kind == "rubber" && kept.Design.Rubber == "" {
			kept.Design.Rubber = m.Id.String()
		}
		if m.Kind == "resin" && kept.Design.Resin == "" {
			kept.Design.Resin = m.Id.String()
		}
	}
	var st api.Study
	s.send("POST", s.path(j, "/study"), -1, kept.Design).into(&st)
	n := figures(st.Numbers)
	b := st.Shot.Batch
	require.NotNil(t, b)
	assert.InEpsilon(t, n.of(b.Mass), n.of(b.A)+n.of(b.B), 1e-6)
	assert.NotEmpty(t, n[b.A.N].Formula)
	assert.Less(t, n.of(st.Gates.Trapped), attitude.Worthwhile/1000.0, "no pocket is left that is worth a vent")
	assert.NotEmpty(t, st.Gates.Rise.Heights)
	assert.NotEmpty(t, st.Cautions.Shot)

	s.send("PUT", s.path(j, "/design"), proposed, kept.Design).into(&kept)
	assert.Equal(t, proposed+1, kept.Version)
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	assert.Equal(t, "Pour the mould", j.Next.What)

	geometry := s.send("GET", s.path(j, "/geometry"), -1, nil)
	require.Equal(t, 200, geometry.Status)
	count := func(i int) int { return int(binary.LittleEndian.Uint32(geometry.Body[4*i:])) }
	assert.Len(t, geometry.Body, 16+12*count(0)+12*count(1)+8*count(2))
	assert.Positive(t, count(2), "its sharp edges are drawn")
	assert.Zero(t, count(3), "all its triangles are drawn")
	var cut api.Section
	s.send("GET", s.path(j, "/section?axis=%2By&offset=0.3"), -1, nil).into(&cut)
	assert.NotEmpty(t, cut.Loops)
}

func TestUploadsThatCannotBeUsed(t *testing.T) {
	s := open(t)
	j := s.newJob()
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20}).WriteSTL()
	nan := bytes.Clone(block)
	binary.LittleEndian.PutUint32(nan[84+12:], math.Float32bits(float32(math.Inf(1))))
	wrongCount := bytes.Clone(block)
	binary.LittleEndian.PutUint32(wrongCount[80:], 99)
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"empty":        {[]byte{}, ""},
		"blank":        {[]byte("  \n"), "The file is empty"},
		"text":         {[]byte(strings.Repeat("not a mesh at all, but prose. ", 30)), "no mesh that can be read"},
		"truncated":    {block[:400], "cut short"},
		"wrong count":  {wrongCount, "promises 99 triangles and it holds 12"},
		"not a number": {nan, "not a finite number"},
		"flat":         {meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20}).WriteSTL(), "encloses no volume"},
		"nothing":      {make([]byte, 84), "no triangles"},
	} {
		t.Run(name, func(t *testing.T) {
			a := s.upload(j, c.data)
			a.t = t
			if a.Status == http.StatusBadRequest { // an empty body never reaches the reader
				return
			}
			a.problem(http.StatusUnprocessableEntity, c.says)
		})
	}
	var after api.Job
	s.send("GET", s.path(j, ""), -1, nil).into(&after)
	assert.Nil(t, after.Master, "a refused file changes nothing")
}

// endless counts how much of it was read.
type endless struct{ read int64 }

func (e *endless) Read(p []byte) (int, error) {
	e.read += int64(len(p))
	return len(p), nil
}

func TestHugeUploadIsRefusedWithoutBeingRead(t *testing.T) {
	s := open(t)
	j := s.newJob()
	body := &endless{}
	req, err := http.NewRequestWithContext(t.Context(), "POST", s.base+s.path(j, "/master/mesh"), io.LimitReader(body, 500<<20))
	require.NoError(t, err)
	req.ContentLength = 500 << 20
	req.Header.Set("Content-Type", "application/octet-stream")
	req.Header.Set("If-Match", `"1"`)
	resp, err := http.DefaultClient.Do(req)
	if err == nil { // the server may hang up before the answer is read
		assert.Equal(t, http.StatusRequestEntityTooLarge, resp.StatusCode)
		resp.Body.Close()
	}
	assert.Less(t, body.read, int64(50<<20))
	// other requests are bounded as well
	big := s.send("POST", "/api/jobs", -1, map[string]any{"name": "x", "quantity": 1, "notes": strings.Repeat("n", 2<<20)})
	big.problem(http.StatusRequestEntityTooLarge, "too large")
}

func TestInsideOutAndHoledMeshesAreTakenWithAWord(t *testing.T) {
	s := open(t)
	j := s.newJob()
	ball := meshtest.Sphere(20, 48)
	inverted := &mesh.Mesh{Vertices: ball.Vertices}
	for _, tri := range ball.Triangles {
		inverted.Triangles = append(inverted.Triangles, [3]int32{tri[0], tri[2], tri[1]})
	}
	s.upload(j, inverted.WriteSTL()).into(&j)
	assert.InEpsilon(t, ball.Volume()/1000, figures(j.Numbers).of(j.Master.Volume), 1e-6)
	assert.Contains(t, j.Master.Mesh.Warnings[0], "inside out")
	holed := &mesh.Mesh{Vertices: ball.Vertices, Triangles: ball.Triangles[6:]}
	s.upload(j, holed.WriteSTL()).into(&j)
	assert.False(t, j.Master.Mesh.Closed)
	assert.Positive(t, j.Master.Mesh.VolumeError)
	var d api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&d)
	var st api.Study
	s.send("POST", s.path(j, "/study"), -1, d.Design).into(&st)
	assert.Contains(t, string(s.send("POST", s.path(j, "/study"), -1, d.Design).Body), "The mesh has holes")
}

func TestWrongUnitIsGuessedAndCanBeSetRight(t *testing.T) {
	for name, c := range map[string]struct {
		factor float64
		guess  string
	}{"inches": {1 / 25.4, "in"}, "metres": {1.0 / 1000, "m"}} {
		t.Run(name, func(t *testing.T) {
			s := open(t)
			s.t = t
			j := s.newJob()
			p, _ := parts.ByKey("deck-cleat")
			s.upload(j, p.Mesh().Scaled(c.factor).WriteSTL()).into(&j)
			assert.EqualValues(t, c.guess, *j.Master.UnitGuess)
			assert.InDelta(t, 31.46, figures(j.Numbers).of(j.Master.Volume), 0.1)
			s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"unit": "mm"}).into(&j)
			assert.InEpsilon(t, p.Mesh().Volume()*math.Pow(c.factor, 3)/1000, figures(j.Numbers).of(j.Master.Volume), 1e-4)
		})
	}
	s := open(t)
	j := s.newJob()
	s.upload(j, cleat()).into(&j)
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"unit": "m"}).problem(422, "99 m long")
}

func TestMeasuredMaster(t *testing.T) {
	s := open(t)
	j := s.newJob()
	put := func(m map[string]any) answer {
		return s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"measured": m})
	}
	put(map[string]any{"length": 0, "width": 40, "height": 30, "volume": 20}).problem(422, "length must be more than 0")
	put(map[string]any{"length": 60, "width": -4, "height": 30, "volume": 20}).problem(422, "width must be more than 0")
	put(map[string]any{"length": 60, "width": 40, "height": 30, "volume": 72.1}).problem(422, "does not go into a box")
	put(map[string]any{"length": 60, "width": 40, "height": 30}).problem(422, "volume is missing")
	put(map[string]any{"length": 60, "width": 40, "height": 30, "mass": 60, "density": 1.2}).into(&j)
	assert.InEpsilon(t, 50, figures(j.Numbers).of(j.Master.Volume), 1e-12)
	var d api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&d)
	var st api.Study
	s.send("POST", s.path(j, "/study"), -1, d.Design).into(&st)
	assert.Greater(t, figures(st.Numbers).of(st.Shot.Total), 50.0)
	assert.False(t, st.Gates.Known)
	assert.Equal(t, 200, s.send("GET", s.path(j, "/geometry"), -1, nil).Status, "the block of its measures is shown")
}

func TestDesignsThatCannotBeBuilt(t *testing.T) {
	s := open(t)
	j := s.newJob()
	s.upload(j, cleat()).into(&j)
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	doc, err := json.Marshal(kept.Design)
	require.NoError(t, err)
	for says, change := range map[string]func(d map[string]any){
		"clearance beside":         func(d map[string]any) { d["clearance"] = map[string]any{"beside": 0, "below": 13, "above": 20} },
		"clearance above":          func(d map[string]any) { d["clearance"] = map[string]any{"beside": 12, "below": 13, "above": -4} },
		"lies outside the box":     func(d map[string]any) { d["parting"] = 900 },
		"sprue bore":               func(d map[string]any) { d["sprueBore"] = 0 },
		"bore of vent 1":           func(d map[string]any) { d["vents"].([]any)[0].(map[string]any)["bore"] = -1 },
		"shot allowance":           func(d map[string]any) { d["shotOver"] = 5000 },
		"rubber allowance":         func(d map[string]any) { d["rubberOver"] = -1 },
		"Draw is none of +x, -x":   func(d map[string]any) { d["draw"] = "up" },
		"is not on the shelf":      func(d map[string]any) { d["rubber"] = j.Id.String() },
		"Feed is none of low, top": func(d map[string]any) { d["feed"] = "sideways" },
		"takes at least 3 items":   func(d map[string]any) { d["vents"].([]any)[0].(map[string]any)["at"] = []float64{1, 2} },
	} {
		var d map[string]any
		require.NoError(t, json.Unmarshal(doc, &d))
		change(d)
		a := s.send("PUT", s.path(j, "/design"), kept.Version, d)
		assert.GreaterOrEqual(t, a.Status, 400, says)
		assert.Less(t, a.Status, 500, says)
		a.problem(a.Status, says)
	}
	var again api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&again)
	assert.Equal(t, kept.Version, again.Version, "nothing of that was kept")

	// a vent outside the part is kept and named, so that it can be put right
	d := kept.Design
	d.Vents = append(append([]design.Vent(nil), d.Vents...), design.Vent{At: design.Place{500, 0, 0}, Bore: 2})
	var st api.Study
	s.send("POST", s.path(j, "/study"), -1, d).into(&st)
	found := false
	for _, f := range st.Findings {
		if strings.Contains(f.What, "outside the part") {
			found = true
			assert.EqualValues(t, "stop", f.Severity)
			assert.EqualValues(t, "remove-vent", f.Remedies[0].Action)
			assert.Equal(t, float64(len(d.Vents)-1), f.Remedies[0].Value)
		}
	}
	assert.True(t, found)
}

func TestTwoTabsOnOneDesign(t *testing.T) {
	s := open(t)
	j := s.newJob()
	s.upload(j, cleat()).into(&j)
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	d := kept.Design
	d.ShotOver = 11
	shown := kept.Version
	s.send("PUT", s.path(j, "/design"), shown, d).into(&kept)
	d.ShotOver = 22
	s.send("PUT", s.path(j, "/design"), shown, d).problem(http.StatusPreconditionFailed, "changed in another window")
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	assert.Equal(t, 11.0, kept.Design.ShotOver)
	s.send("PUT", s.path(j, "/design"), -1, d).problem(http.StatusPreconditionRequired, "version")
	s.send("PUT", s.path(j, ""), 0, map[string]any{"name": "B", "quantity": 3}).problem(412, "another window")
	s.send("POST", s.path(j, "/master/mesh"), 0, cleat()).problem(412, "another window")
}

func TestOrdersAndPracticeThatCannotBe(t *testing.T) {
	s := open(t)
	post := func(body map[string]any) answer { return s.send("POST", "/api/jobs", -1, body) }
	post(map[string]any{"name": "  ", "quantity": 3}).problem(422, "needs a name")
	post(map[string]any{"name": "x", "quantity": 0}).problem(422, "at least 1")
	post(map[string]any{"name": "x", "quantity": 99999999}).problem(422, "very large")
	post(map[string]any{"name": "x"}).problem(400, "quantity")
	post(map[string]any{"name": "x", "quantity": 3, "due": "soon"}).problem(400, "Due is not a date")

	var now api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&now)
	p := now.Practice
	p.Clearance.Beside = 0
	s.send("PUT", "/api/shop/practice", now.Version, p).problem(422, "clearance beside")
	p = now.Practice
	p.ScaleStep = -1
	s.send("PUT", "/api/shop/practice", now.Version, p).problem(422, "scale step")
	p = now.Practice
	p.Units = "us"
	s.send("PUT", "/api/shop/practice", now.Version, p).into(&now)
	s.send("PUT", "/api/shop/practice", 1, p).problem(412, "another window")
	var v struct{ Value float64 }
	s.send("POST", "/api/measures", -1, map[string]any{"kind": "length", "text": "3 7/8"}).into(&v)
	assert.InEpsilon(t, 98.425, v.Value, 1e-12)
	s.send("POST", "/api/measures", -1, map[string]any{"kind": "length", "text": "98,4"}).problem(422, "House practice")
	p = now.Practice
	p.Each = &map[string]string{"mass": "metric"} // inches with grams
	s.send("PUT", "/api/shop/practice", now.Version, p).into(&now)
	s.send("POST", "/api/measures", -1, map[string]any{"kind": "mass", "text": "80"}).into(&v)
	assert.InEpsilon(t, 80, v.Value, 1e-12)
	p.Each = &map[string]string{"mass": "stone"}
	s.send("PUT", "/api/shop/practice", now.Version, p).problem(422, "metric or us")
	p = now.Practice
	p.Schools = &map[string]string{"vents": "sideways"}
	s.send("PUT", "/api/shop/practice", now.Version, p).problem(422, "no answer")
	var schools []api.School
	s.send("GET", "/api/schools", -1, nil).into(&schools)
	assert.Greater(t, len(schools), 12)

	sheet := map[string]any{"kind": "resin", "name": "R", "partsA": 0, "partsB": 1, "byVolume": false, "density": 1.1}
	s.send("POST", "/api/materials", -1, sheet).problem(422, "ratio")
	sheet["partsA"], sheet["density"] = 1, 0
	s.send("POST", "/api/materials", -1, sheet).problem(422, "density")
	sheet["density"], sheet["byVolume"] = 1.1, true
	s.send("POST", "/api/materials", -1, sheet).problem(422, "densities of both parts")
	sheet["byVolume"] = false
	var m api.Material
	s.send("POST", "/api/materials", -1, sheet).into(&m)
	s.send("POST", "/api/materials", -1, sheet).problem(409, "on the shelf already")
	sheet["density"] = 1.2
	s.send("PUT", "/api/materials/"+m.Id.String(), m.Version, sheet).into(&m)
	assert.Equal(t, 2, m.Version)
	s.send("PUT", "/api/materials/"+m.Id.String(), 1, sheet).problem(412, "another window")
}

// What is typed or sent on a bad day is told in words; the server never fails on it.
func TestOddWordsAndNumbers(t *testing.T) {
	s := open(t)
	j := s.newJob()
	order := func(change map[string]any) map[string]any {
		o := map[string]any{"name": "A", "quantity": 3}
		maps.Copy(o, change)
		return o
	}
	s.send("POST", "/api/jobs", -1, order(map[string]any{"name": "a\x00b"})).problem(422, "cannot be kept")
	s.send("POST", "/api/jobs", -1, order(map[string]any{"notes": "a\x00"})).problem(422, "cannot be kept")
	s.send("GET", "/api/moulds?job=%00", -1, nil).problem(422, "cannot be kept")
	s.send("POST", "/api/jobs", -1, order(map[string]any{"due": "0001-01-01"})).problem(422, "cannot be right")
	s.send("POST", "/api/jobs", -1, order(map[string]any{"due": "9999-12-31"})).problem(422, "cannot be right")
	s.send("PUT", s.path(j, ""), 9_999_999_999, order(nil)).problem(412, "another window")
	var typed api.Job
	s.send("POST", "/api/jobs", -1, order(map[string]any{"name": `back\u0000slash`})).into(&typed)
	assert.Equal(t, `back\u0000slash`, typed.Order.Name, "the slash was typed")
	s.send("PUT", s.path(j, ""), j.Version, order(map[string]any{"name": "Deck 🐙 cleat"})).into(&j)
	assert.Equal(t, "Deck 🐙 cleat", j.Order.Name)
	s.upload(j, cleat()).into(&j)
	assert.Equal(t, 200, s.send("GET", s.path(j, "/build-sheet.pdf"), -1, nil).Status)
}

func TestPageAndItsGuards(t *testing.T) {
	s := open(t)
	for _, path := range []string{"/", "/rack", "/jobs/any/gates"} {
		a := s.send("GET", path, -1, nil)
		assert.Equal(t, 200, a.Status)
		assert.Contains(t, string(a.Body), "Bathyform")
		assert.Len(t, a.Header.Get("Bathyform-Page"), 16, "so that an older page knows that it is old")
		assert.Contains(t, a.Header.Get("Content-Security-Policy"), "default-src 'self'")
	}
	assert.Equal(t, "public, max-age=31536000, immutable", s.send("GET", "/assets/a.js", -1, nil).Header.Get("Cache-Control"))
	s.send("GET", "/api/nothing", -1, nil).problem(404, "no such address")
	req, err := http.NewRequestWithContext(t.Context(), "POST", s.base+"/api/jobs", strings.NewReader(`{"name":"x","quantity":1}`))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Origin", "https://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	resp, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer resp.Body.Close()
	assert.Equal(t, http.StatusForbidden, resp.StatusCode)
}

// More masters than are kept ready, asked about at once: every answer is that
// of its own master.
func TestManyMastersAtOnceDoNotMixUp(t *testing.T) {
	s := open(t)
	type known struct {
		job    api.Job
		design api.Design
		volume float64
	}
	var all []known
	for i := range 9 {
		side := 20 + 3*float64(i)
		j := s.newJob()
		s.upload(j, meshtest.Box(r3.Vec{}, r3.Vec{X: side, Y: 20, Z: 15}).WriteSTL()).into(&j)
		var d api.KeptDesign
		s.send("GET", s.path(j, "/design"), -1, nil).into(&d)
		all = append(all, known{j, d.Design, side * 20 * 15 / 1000})
	}
	var wg sync.WaitGroup
	for range 3 {
		for _, k := range all {
			wg.Go(func() {
				var st api.Study
				a := s.send("POST", s.path(k.job, "/study"), -1, k.design)
				if assert.Equal(t, 200, a.Status) && assert.NoError(t, json.Unmarshal(a.Body, &st)) {
					assert.InEpsilon(t, k.volume, figures(st.Numbers).of(st.Mould.Part), 1e-6)
				}
			})
		}
	}
	wg.Wait()
}

func TestAddressesThatLeadNowhere(t *testing.T) {
	s := open(t)
	j := s.newJob()
	s.send("GET", s.path(j, "/design"), -1, nil).problem(409, "no master yet")
	s.send("GET", s.path(j, "/geometry"), -1, nil).problem(409, "no master yet")
	s.send("GET", "/api/jobs/00000000-0000-4000-8000-000000000000", -1, nil).problem(404, "not here any more")
	s.send("GET", s.path(j, "/section?axis=up&offset=1"), -1, nil).problem(400, "could not be understood")
	s.send("GET", s.path(j, "/section?axis=%2Bx"), -1, nil).problem(400, "could not be understood")
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{}).problem(422, "Nothing was chosen")
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"demoPart": "anchor"}).problem(422, "no such demo part")
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"unit": "in"}).problem(409, "no mesh to scale")
	s.send(
		"PUT",
		"/api/materials/00000000-0000-4000-8000-000000000000",
		1,
		map[string]any{
			"kind":     "resin",
			"name":     "R",
			"partsA":   1,
			"partsB":   1,
			"byVolume": false,
			"density":  1.1,
		},
	).problem(412, "another window")
	s.send("POST", "/api/measures", -1, map[string]any{"kind": "weather", "text": "3"}).problem(400, "could not be understood")
	s.send("PATCH", s.path(j, ""), -1, nil).problem(405, "")
}
