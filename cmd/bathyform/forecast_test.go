package main

import (
	"encoding/json"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// answered is what a command prints as JSON for what it reads.
func answered(t *testing.T, cmd *cobra.Command, in string, into any) error {
	t.Helper()
	out, err := answer(cmd, in, "--json")
	if err == nil {
		require.NoError(t, json.Unmarshal([]byte(out), into))
	}
	return err
}

// The posterior of the project's reference sheet, through the command.
func TestLifeOnTheCommandLine(t *testing.T) {
	var got lifeJSON
	require.NoError(t, answered(t, lifeCommand(),
		`{"prior":{"median":40,"low":20,"high":80},"retired":[32,41,28],"living":[15,36],"accidents":0}`,
		&got))
	assert.InDelta(t, 3.59722, got.LnMedian, 5e-4)
	assert.InDelta(t, 3.11365, got.Beta, 5e-4)
	assert.Equal(t, bandJSON{18, 36, 62}, got.New)
	require.Len(t, got.Living, 2)
	assert.Equal(t, bandJSON{7, 23, 49}, got.Living[0].bandJSON)
	assert.InDelta(t, 0.82880, got.Living[0].MoreThanTen, 1e-4)
	require.NotEmpty(t, got.Survival)
	assert.Equal(t, 28, got.Survival[0].N)
	assert.Equal(t, 4, got.Survival[0].AtRisk)
	assert.InDelta(t, 0.75, got.Survival[0].S, 1e-12)

	var none lifeJSON
	require.NoError(t, answered(t, lifeCommand(), `{}`, &none))
	assert.Equal(t, bandJSON{12, 39, 107}, none.New)
	for _, wrong := range []string{
		"", "[", `{"retired":[0]}`, `{"living":[-1]}`, `{"prior":{"median":5,"low":9,"high":80}}`, `{"accidents":-1}`,
	} {
		assert.Error(t, answered(t, lifeCommand(), wrong, &none), wrong)
	}
}

func TestEnoughOnTheCommandLine(t *testing.T) {
	var got enoughJSON
	require.NoError(t, answered(t, enoughCommand(), `{"wanted":50,"yield":0.9,"cavities":4,"moulds":[]}`, &got))
	assert.Equal(t, 15, got.Pulls)
	assert.Equal(t, 60, got.Castings)
	assert.Zero(t, got.Finish)
	require.NoError(t, answered(t, enoughCommand(), `{"wanted":50,"yield":0.9,"cavities":4,"together":true,"moulds":[]}`, &got))
	assert.Equal(t, 17, got.Pulls)
	require.NoError(t, answered(t, enoughCommand(), `{"wanted":100,"yield":1,"cavities":1,"moulds":[],"retired":[32,41,28]}`, &got))
	require.NotNil(t, got.Moulds)
	var history enoughJSON
	require.NoError(t, answered(t, enoughCommand(), `{"wanted":50,"history":{"good":18,"bad":2},"moulds":[{"pulls":3}]}`, &history))
	assert.Equal(t, 66, history.Pulls)
	assert.Positive(t, history.Finish)
	for _, wrong := range []string{`{"wanted":5}`, `{"wanted":5,"yield":0}`, `{"wanted":-5,"yield":0.5}`, `{"wanted":5,"yield":2}`,
		`{"wanted":5,"yield":0.9,"cavities":-1}`, `{"wanted":5,"yield":0.9,"moulds":[{"pulls":-3}]}`} {
		assert.Error(t, answered(t, enoughCommand(), wrong, &got), wrong)
	}
}

func TestWatchOnTheCommandLine(t *testing.T) {
	alarms := func(in string) (out [][]int) {
		t.Helper()
		var got watchedJSON
		require.NoError(t, answered(t, watchCommand(), in, &got))
		for _, c := range got.Charts {
			out = append(out, c.Alarms)
		}
		return out
	}
	assert.Equal(t, [][]int{{6}}, alarms(`[[0,0,1,0,1,1]]`), "a row is a cavity")
	assert.Equal(t, [][]int{{6}}, alarms(`[0,0,1,0,1,1]`))
	assert.Equal(t, [][]int{{6}}, alarms(`[[0],[0],[1],[0],[1],[1]]`), "the longer way is the pulls")
	assert.Equal(t, [][]int{{6}, {}}, alarms(`[[0,0],[0,0],[1,0],[0,0],[1,0],[1,1]]`))
	assert.Equal(t, [][]int{{6}, {}}, alarms(`{"pulls":[[0,0],[0,0],[1,0],[0,0],[1,0],[1,1]]}`))
	assert.Equal(t, [][]int{{6}, {}}, alarms(`{"cavities":[[0,0,1,0,1,1],[0]]}`))
	assert.Equal(t, [][]int{{3}, {}}, alarms(`[[1,1,1],[0]]`), "rows of different length are cavities")
	var got watchedJSON
	require.NoError(t, answered(t, watchCommand(), `{"pulls":[[0,0],[1,1]]}`, &got))
	assert.Equal(t, []int{2}, got.All, "the mix")
	for _, wrong := range []string{"", `{"rows":1}`, `[[2]]`, `"x"`} {
		assert.Error(t, answered(t, watchCommand(), wrong, &got), wrong)
	}
}
