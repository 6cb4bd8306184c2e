package design

import (
	"encoding/json"
	"flag"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write the golden files anew")

func read(t *testing.T, name string) []byte {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("testdata", name))
	require.NoError(t, err)
	return data
}

// golden holds a document against the file that an earlier run wrote.
func golden(t *testing.T, name string, doc []byte) {
	t.Helper()
	if *update {
		var pretty any
		require.NoError(t, json.Unmarshal(doc, &pretty))
		out, err := json.MarshalIndent(pretty, "", "  ")
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join("testdata", name), append(out, '\n'), 0o644))
	}
	assert.JSONEq(t, string(read(t, name)), string(doc))
}

// What the database held before documents had a version.
func TestOldDesignsAreBroughtUpToDate(t *testing.T) {
	for _, name := range []string{"plain", "full"} {
		doc, err := Decode(read(t, "design-v0-"+name+".json"))
		require.NoError(t, err)
		now, err := doc.Encode()
		require.NoError(t, err)
		golden(t, "design-v1-"+name+".json", now)
		again, err := Decode(now)
		require.NoError(t, err)
		assert.Equal(t, doc, again, "nothing is lost on the way")
	}
	full, err := Decode(read(t, "design-v0-full.json"))
	require.NoError(t, err)
	d := full.Design
	assert.Equal(t, axis.PlusY, d.Draw)
	assert.Equal(t, 21.5, *d.Parting)
	assert.Equal(t, []Pose{{}, {60, 5, 90}}, d.Gang)
	assert.Equal(t, Pieces, d.Kind)
	assert.Nil(t, d.Sides[0].Draw)
	assert.Equal(t, Place{1, 0, 0}, *d.Sides[1].Draw)
	assert.Equal(t, Place{43.25, 0, 43.5}, d.Vents[0].At)
	assert.Equal(t, 2, d.Cavities())
	assert.Equal(t, 1, d.Single().Cavities())
}

func TestOldBriefsAreBroughtUpToDate(t *testing.T) {
	b, err := DecodeBrief(read(t, "brief-v0.json"))
	require.NoError(t, err)
	now, err := EncodeBrief(b)
	require.NoError(t, err)
	golden(t, "brief-v1.json", now)
	again, err := DecodeBrief(now)
	require.NoError(t, err)
	assert.Equal(t, b, again)
	assert.Equal(t, 2.5, b.Inserts[0].Volume, "millilitres from now on")
	assert.Equal(t, Place{7, 8, 9}, *b.Inserts[0].At)
	assert.Nil(t, b.Inserts[1].At)
	assert.Equal(t, "metal core (steel pin)", b.Inserts[0].Named())

	other := b.OtherShape()
	assert.Nil(t, other.Inserts[0].At, "said of another shape")
	assert.Nil(t, other.Check)
	assert.NotNil(t, b.Inserts[0].At, "the old brief is left alone")
	assert.Equal(t, b.Quality, other.Quality)
}

func TestDocumentsAreReadStrictly(t *testing.T) {
	good := string(read(t, "design-v1-plain.json"))
	for why, doc := range map[string]string{
		"unknown field":  strings.Replace(good, `"draw"`, `"grow": 1, "draw"`, 1),
		"what follows":   good + "{}",
		"another format": strings.Replace(good, Format, "someone-elses", 1),
		"no version":     strings.Replace(good, `"version": 1`, `"version": 0`, 1),
		"no axis":        strings.Replace(good, `"+y"`, `"up"`, 1),
		"a bare object":  `{}`,
		"a list":         `[1]`,
		"nothing":        ``,
		"too far":        strings.Replace(good, `43.25`, `4e9`, 1),
		"no bore":        strings.Replace(good, `"bore": 2`, `"bore": 0`, 1),
		"no clearance":   strings.Replace(good, `"beside": 22`, `"beside": 0`, 1),
	} {
		require.NotEqual(t, good, doc, why)
		_, err := Decode([]byte(doc))
		assert.Error(t, err, why)
	}
	_, err := Decode([]byte(strings.Replace(good, `"version": 1`, `"version": 2`, 1)))
	assert.ErrorIs(t, err, ErrNewer)
}

func TestWhatNobodyCanBuildIsRefused(t *testing.T) {
	doc, err := Decode(read(t, "design-v1-full.json"))
	require.NoError(t, err)
	require.NoError(t, doc.Design.Check())
	nan := math.NaN()
	for says, change := range map[string]func(*Design){
		"clearance above": func(d *Design) { d.Clearance.Above = 9999 },
		"feed":            func(d *Design) { d.Feed = "sideways" },
		"parting":         func(d *Design) { d.Parting = &nan },
		"61 cavities":     func(d *Design) { d.Gang = make([]Pose, 61) },
		"61 vents":        func(d *Design) { d.Vents = make([]Vent, 61) },
		"cavity 2":        func(d *Design) { d.Gang[1] = Pose{nan} },
		"skin":            func(d *Design) { d.Skin = -1 },
		"ladder":          func(d *Design) { d.Runners = "spider" },
		"a vent is open":  func(d *Design) { d.Vents = []Vent{{Bore: 2, State: "shut"}} },
		"foot of the":     func(d *Design) { d.Foot = &Place{nan} },
		"the sprue":       func(d *Design) { d.Shaft = &Place{0, 1e9} },
		"marked face 1":   func(d *Design) { d.Faces = []Face{{At: Place{nan}}} },
		"41 marked faces": func(d *Design) { d.Faces = make([]Face, 41) },
	} {
		changed, err := Decode(read(t, "design-v1-full.json"))
		require.NoError(t, err)
		change(&changed.Design)
		assert.ErrorContains(t, changed.Design.Check(), says)
	}
}

func TestAnEmptyBriefIsWrittenWhole(t *testing.T) {
	doc, err := json.Marshal(Brief{})
	require.NoError(t, err)
	assert.JSONEq(t, `{"quality":"","surface":"","generation":1,"inserts":[],"wants":[],"done":[]}`, string(doc))
	for says, b := range map[string]Brief{"quality": {Quality: "superb"}, "ticks": {Done: make([]string, 81)}} {
		assert.ErrorContains(t, b.Validate(), says)
	}
	assert.NoError(t, Brief{}.Validate())
}

func FuzzDecode(f *testing.F) {
	for _, name := range []string{"design-v0-full.json", "design-v1-full.json"} {
		data, err := os.ReadFile(filepath.Join("testdata", name))
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		doc, err := Decode(data)
		if err != nil {
			return
		}
		out, err := doc.Encode()
		require.NoError(t, err)
		again, err := Decode(out)
		require.NoError(t, err)
		assert.Equal(t, doc.Design.Clearance, again.Design.Clearance)
		assert.Equal(t, practice.Feed(doc.Design.Feed), again.Design.Feed)
	})
}
