package api_test

import (
	"maps"
	"slices"
	"testing"

	"bathyform/internal/api"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// unbounded names what a schema leaves without an end: numbers without a least
// and a most, words and lists of any length, objects that take any field.
func unbounded(at string, s *openapi3.SchemaRef, seen map[string]bool) (out []string) {
	if s == nil || s.Value == nil {
		return nil
	}
	if s.Ref != "" {
		if seen[s.Ref] {
			return nil
		}
		seen[s.Ref] = true
		at = s.Ref[len("#/components/schemas/"):]
	}
	v := s.Value
	for _, part := range slices.Concat(v.AllOf, v.OneOf, v.AnyOf) {
		out = append(out, unbounded(at, part, seen)...)
	}
	switch {
	case len(v.Enum) > 0, v.Type == nil, v.Type.Is("boolean"):
	case v.Type.Is("number"), v.Type.Is("integer"):
		if v.Min == nil || v.Max == nil {
			out = append(out, at+": a number")
		}
	case v.Type.Is("string"):
		if v.MaxLength == nil && !slices.Contains([]string{"uuid", "date", "date-time", "binary"}, v.Format) {
			out = append(out, at+": words")
		}
	case v.Type.Is("array"):
		if v.MaxItems == nil {
			out = append(out, at+": a list")
		}
		out = append(out, unbounded(at+"[]", v.Items, seen)...)
	case v.Type.Is("object"):
		extra := v.AdditionalProperties
		switch {
		case extra.Schema != nil:
			if v.MaxProps == nil {
				out = append(out, at+": a table")
			}
			out = append(out, unbounded(at+"{}", extra.Schema, seen)...)
		case extra.Has == nil || *extra.Has:
			out = append(out, at+": an object")
		}
		for _, name := range slices.Sorted(maps.Keys(v.Properties)) {
			out = append(out, unbounded(at+"."+name, v.Properties[name], seen)...)
		}
	}
	return out
}

// What may be sent has an end, and it stands in the contract.
func TestTheContractBoundsWhatIsSent(t *testing.T) {
	spec, err := api.GetSpec()
	require.NoError(t, err)
	seen := map[string]bool{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			for _, p := range slices.Concat(item.Parameters, op.Parameters) {
				assert.Empty(t, unbounded(p.Value.Name, p.Value.Schema, seen), "%s %s", method, path)
			}
			if op.RequestBody == nil {
				continue
			}
			for kind, content := range op.RequestBody.Value.Content {
				assert.Empty(t, unbounded("body", content.Schema, seen), "%s %s, %s", method, path, kind)
			}
		}
	}
}
