package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"bathyform/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The demo's log goes out and back in without anything being added twice; what
// cannot be taken is said line by line.
func TestTheLogGoesOutAndIn(t *testing.T) {
	t.Setenv("BATHYFORM_DATABASE_URL", testkit.DemoURL(t))
	dir := t.TempDir()
	for _, name := range []string{"log.csv", "log.json"} {
		file := filepath.Join(dir, name)
		_, err := answer(logCommand(), "", "export", file)
		require.NoError(t, err)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.Contains(t, string(data), "FL-14")
		said, err := answer(logCommand(), "", "import", file)
		require.NoError(t, err)
		assert.Contains(t, said, "0 pulls added", name)
		assert.Contains(t, said, "0 refused", name)
	}
	paper := filepath.Join(dir, "paper.csv")
	rows := "Day,Mould,Cavity,Casting,Defect\n2099-01-01,FL-14,1,good,\n2020-01-01,FL-99,1,good,\n"
	require.NoError(t, os.WriteFile(paper, []byte(rows), 0o600))
	said, err := answer(logCommand(), "", "import", "--look", paper)
	require.NoError(t, err)
	assert.Equal(t, 2, strings.Count(said, "line "))
	assert.Contains(t, said, "There is no mould FL-99")
	assert.Contains(t, said, "0 pulls to be added")
	_, err = answer(logCommand(), "", "export", filepath.Join(dir, "log.txt"))
	require.Error(t, err)
	_, err = answer(logCommand(), "", "import", filepath.Join(dir, "none.csv"))
	require.Error(t, err)
	t.Setenv("BATHYFORM_DATABASE_URL", "")
	t.Setenv("BATHYFORM_DATA", filepath.Join(dir, "nothing"))
	_, err = answer(logCommand(), "", "export", filepath.Join(dir, "log.csv"))
	assert.ErrorContains(t, err, "there is no demo here")
}
