package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// answer is what a command says to what is put into it.
func answer(cmd *cobra.Command, in string, args ...string) (string, error) {
	var out bytes.Buffer
	cmd.SetIn(bytes.NewBufferString(in))
	cmd.SetOut(&out)
	cmd.SetErr(&out)
	cmd.SetArgs(args)
	cmd.SilenceUsage, cmd.SilenceErrors = true, true
	err := cmd.Execute()
	return out.String(), err
}

// three cavities of 5 mL behind 1, 2 and 4e9 Pa s/m³ of bore 5 mm, and a sprue of 1e9.
const threeCavities = `{"viscosity_pas": 1, "density_gml": 1.1, %s, "nodes": ["c1", "foot", "well", "c2", "c3"],
	"channels": [{"from": "well", "to": "foot", "bore_mm": 5, "length_mm": 15.33981},
		{"from": "foot", "to": "c1", "bore_mm": 5, "length_mm": 15.33981},
		{"from": "foot", "to": "c2", "bore_mm": 5, "length_mm": 30.67962},
		{"from": "foot", "to": "c3", "bore_mm": 5, "length_mm": 61.35923}],
	"cavities": [{"node": "c1", "volume_ml": 5}, {"node": "c2", "volume_ml": 5}, {"node": "c3", "volume_ml": 5}]}`

func TestFlowTellsWhenEachCavityIsFull(t *testing.T) {
	out, err := answer(flowCommand(), fmt.Sprintf(threeCavities, `"pressure_pa": 1000`), "--json")
	require.NoError(t, err)
	var got flowing
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	require.Len(t, got.Channels, 4)
	assert.InEpsilon(t, 1e9, got.Channels[0].Resistance, 1e-5)
	assert.InDelta(t, 1, got.Channels[0].Share, 1e-9)
	assert.InEpsilon(t, 4.0/7, got.Channels[1].Share, 1e-5)
	for i, want := range []float64{13.75, 22.50, 35.00} {
		assert.InEpsilon(t, want, *got.Cavities[i].At, 1e-5)
	}
	out, err = answer(flowCommand(), fmt.Sprintf(threeCavities, `"pressure_pa": 1000`))
	require.NoError(t, err)
	assert.Contains(t, out, "cavity at c3 is full after 35 s")
}

func TestFlowSaysWhatNeverFills(t *testing.T) {
	out, err := answer(flowCommand(), fmt.Sprintf(threeCavities, `"pressure_pa": 1000, "doubling_s": 20`), "--json")
	require.NoError(t, err)
	var got flowing
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.InDelta(t, 18.67, *got.Cavities[0].At, 0.02)
	assert.True(t, got.Cavities[2].Never)
	assert.Nil(t, got.Cavities[2].At)
	assert.Contains(t, got.Cavities[2].Why, "sets before")
}

func TestFlowReadsNodesByNumberOrNotAtAll(t *testing.T) {
	for _, nodes := range []string{`"nodes": ["pot", "gate"], `, `"nodes": [{"name": "pot"}, {"id": 7}], `, ``} {
		out, err := answer(flowCommand(), `{"viscosity_pas": 1, "head_mm": 100, `+nodes+`
			"channels": [{"from": 0, "to": 1, "bore_mm": 6, "length_mm": 100}],
			"cavities": [{"node": 1, "volume_ml": 160, "height_mm": 80}]}`, "--json")
		require.NoError(t, err, nodes)
		var got flowing
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		assert.InEpsilon(t, 938.09, *got.Cavities[0].At, 1e-4)
	}
}

func TestFlowRefusesWhatCannotBe(t *testing.T) {
	for in, want := range map[string]string{
		``:                                    "the network cannot be read",
		`{}`:                                  "give either pressure_pa or head_mm",
		`{"head_mm":1,"nodes":[[]]}`:          "a node is a name or a number",
		`{"viscosity_pas":0,"pressure_pa":1}`: "the viscosity must be more than 0",
		`{"viscosity_pas":1,"pressure_pa":1,"doubling_s":-1}`: "doubling_s must be more than 0",
		fmt.Sprintf(threeCavities, `"pressure_pa": -5`):       "the pressure must be more than 0",
	} {
		_, err := answer(flowCommand(), in)
		assert.ErrorContains(t, err, want)
	}
}

// Whatever is read is answered or refused.
func FuzzFlow(f *testing.F) {
	f.Add(fmt.Sprintf(threeCavities, `"pressure_pa": 1000`))
	f.Add(fmt.Sprintf(threeCavities, `"head_mm": 1e-9, "doubling_s": 1e9`))
	f.Add(`{"viscosity_pas":1,"pressure_pa":1,"channels":[
		{"from":0,"to":1,"width_mm":1,"height_mm":1e-9,"length_mm":1}],"cavities":[{"node":1,"volume_ml":1e9,"height_mm":1e-9}]}`)
	f.Fuzz(func(t *testing.T, in string) {
		n, err := readNetwork(strings.NewReader(in))
		if err != nil {
			return
		}
		s, err := n.Solve()
		if err != nil {
			return
		}
		for i, c := range s.Cavities {
			assert.False(t, c.At < 0, "cavity %d is full before it is poured", i+1)
		}
	})
}
