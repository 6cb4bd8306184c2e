package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"bathyform/core/mesh/meshtest"
	"bathyform/internal/api"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// oddities are values that nobody means, for any field at all.
var oddities = []string{
	`0`, `-1`, `1`, `2`, `9`, `60`, `100`, `1e3`, `1e4`, `-1e4`, `1e5`, `1e7`, `-1e7`, `1e308`, `-1e308`, `5e-324`, `1e-300`, `1e-9`,
	`1e18`, `0.1`, `9007199254740993`, `null`, `true`, `""`, `"   "`, `"a"`, `"🐙"`, `"\u202e"`, `"` + strings.Repeat("x", 5000) + `"`,
	`"0001-01-01"`, `"9999-12-31"`, `"+z"`, `"5ea11e00-0000-4000-8000-000000000001"`, `[]`, `[0, 0, 0]`, `[0, 0, 1]`, `[1e7, 1e7, 1e7]`,
	`[1e308, 1e308, 1e308]`, `[5e-324, 0, 0]`, `[null]`, `{}`, `{"x": 1}`,
}

// plain is a value that a schema lets through, as ordinary as it can be.
func plain(s *openapi3.SchemaRef, depth int) any {
	if s == nil || s.Value == nil || depth > 8 {
		return nil
	}
	v := s.Value
	switch {
	case len(v.Enum) > 0:
		return v.Enum[0]
	case v.Type.Is("object"):
		out := map[string]any{}
		for name, p := range v.Properties {
			if slices.Contains(v.Required, name) || depth < 2 {
				out[name] = plain(p, depth+1)
			}
		}
		return out
	case v.Type.Is("array"):
		out := make([]any, max(1, int(v.MinItems)))
		for i := range out {
			out[i] = plain(v.Items, depth+1)
		}
		return out
	case v.Type.Is("boolean"):
		return true
	case v.Type.Is("number"), v.Type.Is("integer"):
		return 1
	}
	switch v.Format {
	case "uuid":
		return "5ea11e00-0000-4000-8000-000000000001"
	case "date":
		return "2026-11-26"
	}
	return "a"
}

// places are all that is said in a document: each a way to set it.
func places(doc any) (out []func(any)) {
	switch d := doc.(type) {
	case map[string]any:
		for _, k := range slices.Sorted(maps.Keys(d)) {
			out = append(out, func(v any) { d[k] = v })
			out = append(out, places(d[k])...)
		}
	case []any:
		for i := range d {
			out = append(out, func(v any) { d[i] = v })
			out = append(out, places(d[i])...)
		}
	}
	return out
}

// sender makes up requests to operations of the contract.
type sender struct {
	shop
	random *rand.Rand
	ids    map[string]string // that there are, by the name of the parameter
	bodies map[string]any    // of operations that take a whole document that is there
}

func (s sender) odd() (v any) {
	require.NoError(s.t, json.Unmarshal([]byte(oddities[s.random.IntN(len(oddities))]), &v))
	return v
}

// address fills in an operation's path and query.
func (s sender) address(path string, parameters openapi3.Parameters) string {
	query := url.Values{}
	for _, p := range parameters {
		said := fmt.Sprint(plain(p.Value.Schema, 2))
		if s.random.IntN(3) == 0 {
			said = fmt.Sprint(s.odd())
		}
		switch p.Value.In {
		case "path":
			if id, ok := s.ids[p.Value.Name]; ok && s.random.IntN(6) > 0 {
				said = id
			}
			path = strings.ReplaceAll(path, "{"+p.Value.Name+"}", url.PathEscape(said))
		case "query":
			if p.Value.Required || s.random.IntN(2) == 0 {
				query.Set(p.Value.Name, said)
			}
		}
	}
	return "/api" + path + "?" + query.Encode()
}

// body is what an operation takes, with something odd in it.
func (s sender) body(op *openapi3.Operation) (body any, kind string) {
	if op.RequestBody == nil {
		return nil, ""
	}
	for kind = range op.RequestBody.Value.Content {
		if kind != "application/json" {
			return s.odd(), kind
		}
	}
	whole, ok := s.bodies[op.OperationID]
	if !ok {
		whole = plain(op.RequestBody.Value.Content.Get(kind).Schema, 0)
	}
	data, err := json.Marshal(whole)
	require.NoError(s.t, err)
	require.NoError(s.t, json.Unmarshal(data, &body))
	if object, ok := body.(map[string]any); ok && op.OperationID == "PutMaster" { // takes exactly one
		keys := slices.Sorted(maps.Keys(object))
		body = map[string]any{keys[s.random.IntN(len(keys))]: object[keys[s.random.IntN(len(keys))]]}
		for k := range body.(map[string]any) { //nolint:errcheck // as above
			body.(map[string]any)[k] = object[k] //nolint:errcheck // as above
		}
	}
	for range 1 + s.random.IntN(2) {
		if all := places(body); len(all) > 0 {
			all[s.random.IntN(len(all))](s.odd())
		}
	}
	return body, kind
}

// status is how a request is answered; 0 when it was not within the time.
func (s sender) status(method, to, kind string, body any, within time.Duration) (status int, words string) {
	ctx, cancel := context.WithTimeout(s.t.Context(), within)
	defer cancel()
	data, err := json.Marshal(body)
	require.NoError(s.t, err)
	req, err := http.NewRequestWithContext(ctx, method, s.base+to, strings.NewReader(string(data)))
	require.NoError(s.t, err)
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	req.Header.Set("If-Match", fmt.Sprintf("%q", fmt.Sprint(s.random.IntN(3))))
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return 0, err.Error()
	}
	defer resp.Body.Close()
	answered, _ := io.ReadAll(resp.Body) //nolint:errcheck // a search goes on after its time
	return resp.StatusCode, string(answered)
}

// Whatever is sent to whichever operation of the contract, it is answered or
// refused in words within its time, and never fails.
func TestNothingThatIsSentMakesTheServerFail(t *testing.T) {
	t.Parallel()
	tries, seed := 6, uint64(11)
	if n, err := strconv.Atoi(os.Getenv("BOUNDARY_TRIES")); err == nil { // make fuzz asks for more, and others each time
		tries, seed = n, uint64(time.Now().UnixNano()) //nolint:gosec // any will do
		t.Logf("seed %d", seed)
	}
	const patience = 20 * time.Second
	s := sender{shop: open(t), random: rand.New(rand.NewPCG(7, seed))}
	spec, err := api.GetSpec()
	require.NoError(t, err)
	j := s.take("deck-cleat")
	moulds := s.rack("")
	var shelf []api.Material
	s.send("GET", "/api/materials", -1, nil).into(&shelf)
	s.ids = map[string]string{"jobId": j.Id.String(), "mouldId": moulds[0].Id.String(), "materialId": shelf[0].Id.String(),
		"pullId": moulds[0].Id.String()}
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	s.bodies = map[string]any{"PutDesign": kept.Design, "StudyDesign": kept.Design, "ProposeVents": kept.Design}
	for _, path := range spec.Paths.InMatchingOrder() {
		item := spec.Paths.Value(path)
		for _, method := range slices.Sorted(maps.Keys(item.Operations())) {
			op := item.Operations()[method]
			if method == "DELETE" && strings.Contains(path, "jobs") {
				continue // the others need it
			}
			t.Run(op.OperationID, func(t *testing.T) {
				within := patience
				if strings.Contains(path, "/searches/") || strings.HasSuffix(path, "/live") {
					within = 150 * time.Millisecond
				}
				for range tries {
					to := s.address(path, slices.Concat(item.Parameters, op.Parameters))
					body, kind := s.body(op)
					status, words := s.status(method, to, kind, body, within)
					said, err := json.Marshal(body)
					require.NoError(t, err)
					if within == patience {
						assert.NotZero(t, status, "%s %s: %s\n%.600s", method, to, words, said)
					}
					if !assert.Less(t, status, 500, "%s %s: %s\n%.600s", method, to, words, said) {
						return
					}
				}
			})
		}
	}
}

// What that law has found once.
func TestWhatIsNextToNothingIsAnswered(t *testing.T) {
	t.Parallel()
	s := open(t)
	var shelf []api.Material
	s.send("GET", "/api/materials", -1, nil).into(&shelf)
	var b api.Counterpart
	s.send("POST", "/api/materials/"+shelf[0].Id.String()+"/weighed", -1,
		map[string]any{"grams": 10, "part": "a", "needed": 5e-324}).into(&b)
	require.NotNil(t, b.Over)
	j := s.take("deck-cleat")
	s.send("POST", s.path(j, "/attitude"), -1, map[string]any{"up": []float64{0, 5e-324, 0}, "fine": false}).into(&api.Attitude{})
	s.send("POST", s.path(j, "/vents"), -1, map[string]any{"kind": "a"}).problem(400, "")
}

func TestWhatNobodyCanMeanIsToldInWords(t *testing.T) {
	t.Parallel()
	s := open(t)
	j := s.newJob()
	sheet := func(name string, a float64) map[string]any {
		return map[string]any{"kind": "resin", "name": name, "partsA": a, "partsB": 1, "byVolume": false, "density": 1.1}
	}
	drop := map[string]any{"length": 1, "width": 1, "height": 1, "volume": 1e-300}
	for _, c := range []struct {
		method, path string
		body         any
		status       int
		says         string
	}{
		{"POST", "/api/jobs", map[string]any{"name": " ", "quantity": 3}, 422, "needs a name"},
		{"POST", "/api/jobs", map[string]any{"name": "a", "quantity": 3, "colour": "red"}, 400, `does not know "colour"`},
		{"POST", "/api/materials", sheet("  ", 1), 422, "Name must not be blank"},
		{"POST", "/api/materials", sheet("thin", 1e-9), 422, "a ratio is written in parts"},
		{"POST", "/api/materials", sheet("endless", 1e308), 422, "must be at most 10000"},
		{"PUT", s.path(j, "/master"), map[string]any{"demoPart": "deck-cleat", "unit": "mm"}, 422, "Exactly one is meant"},
		{"PUT", s.path(j, "/master"), map[string]any{"measured": drop}, 422, "less than anyone casts"},
	} {
		s.send(c.method, c.path, j.Version, c.body).problem(c.status, c.says)
	}
	tiny := meshtest.Box(r3.Vec{}, r3.Vec{X: 1e-17, Y: 1e-17, Z: 1e-17})
	s.upload(j, tiny.WriteSTL()).problem(422, "in another unit")
}
