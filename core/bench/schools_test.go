package bench_test

import (
	"fmt"
	"testing"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever a house answers to a school's question, it is heard: in the kind
// that is proposed, in the vents, in the steps at the bench or in a finding.
func TestEverySchoolActs(t *testing.T) {
	m := taken(t, meshtest.Turned(24, [2]float64{0, 0}, [2]float64{15, 0}, [2]float64{15, 8}, [2]float64{0, 20}))
	platinum := tin
	platinum.Name, platinum.Traits.Family = "platinum 30", "platinum"
	heard := func(h practice.House) string {
		q := asked(t, m)
		k, err := bench.Question{House: h}.KindOf()
		require.NoError(t, err)
		start, err := m.Start(t.Context(), h)
		require.NoError(t, err)
		out := fmt.Sprint(k.Key, len(start.Vents))
		q.House = h
		for _, kind := range []design.Kind{design.Clay, design.Squeeze, design.Cut} {
			q.Kind = kind
			for _, rubber := range []string{"tin", "platinum"} {
				q.Rubber = &tin
				if rubber == "platinum" {
					q.Rubber = &platinum
				}
				b, err := m.Build(t.Context(), q, nil)
				require.NoError(t, err)
				for _, s := range b.Steps {
					out += fmt.Sprintln(s.Do, s.Why, s.Minutes)
				}
				for _, f := range b.Findings {
					out += fmt.Sprintln(f.Code)
				}
			}
		}
		return out
	}
	house := practice.Usual()
	house.NoDegas = true // so that what wants degassing is told
	usual := heard(house)
	for _, s := range practice.Schools {
		answers := map[string]string{usual: s.Choices[0].Key}
		for _, c := range s.Choices[1:] {
			house.Schools = map[string]string{s.Key: c.Key}
			got := heard(house)
			assert.Empty(t, answers[got], "%s: %q is heard as %q", s.Key, c.Key, answers[got])
			answers[got] = c.Key
		}
	}
}
