package paper

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"bathyform/core/finding"
	"bathyform/core/plane"
	"bathyform/core/quantity"
	"bathyform/core/sheet"
	"bathyform/core/tone"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read runs poppler, a reader of PDF that knows nothing of this one's writer.
func read(t *testing.T, tool string, data []byte, args ...string) string {
	t.Helper()
	path, err := exec.LookPath(tool)
	require.NoError(t, err, "make setup installs it")
	file := filepath.Join(t.TempDir(), "sheet.pdf")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	args = append(args, file)
	if tool == "pdftotext" {
		args = append(args, "-") // to standard output
	}
	out, err := exec.Command(path, args...).CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

func board(w, h float64) sheet.Sheet {
	return sheet.Sheet{
		Name:  "Board",
		Lines: []sheet.Line{{Tone: tone.Cut, Closed: true, Points: []plane.Point{{0, 0}, {w, 0}, {w, h}, {0, h}}}},
	}
}

func TestATemplateIsSpreadOverPagesAtItsTrueSize(t *testing.T) {
	inches := quantity.Units{Length: quantity.US}
	for _, c := range []struct {
		size  Size
		in    quantity.Units
		w, h  float64
		pages string
		page  string
		says  []string
	}{
		{A4, quantity.Units{}, 150, 200, "1", "595.28 x 841.89", []string{"column 1 of 1", "100 mm long", "overlap 8.00 mm"}},
		{A4, quantity.Units{}, 350, 200, "2", "595.28 x 841.89", []string{"column 2 of 2"}},
		{Letter, inches, 250, 150, "1", "792 x 612", []string{"column 1 of 1", "4 in long", "overlap 0.31 in"}},
		{Letter, inches, 350, 450, "4", "", []string{"row 2 of 2"}},
	} {
		data, err := Tiled(board(c.w, c.h), c.size, c.in)
		require.NoError(t, err)
		info := read(t, "pdfinfo", data)
		assert.Regexp(t, `Pages:\s+`+c.pages+`\b`, info)
		assert.Contains(t, strings.Join(strings.Fields(info), " "), c.page)
		words := read(t, "pdftotext", data, "-layout")
		for _, says := range c.says {
			assert.Contains(t, words, says)
		}
		if c.in.Length == quantity.US {
			assert.NotContains(t, words, "mm")
		}
		again, err := Tiled(board(c.w, c.h), c.size, c.in)
		require.NoError(t, err)
		assert.Equal(t, data, again, "the same to the byte")
	}
	_, err := Tiled(board(9000, 9000), A4, quantity.Units{})
	assert.ErrorContains(t, err, "pages")
}

// The ruler's ends, read back from the page's own drawing commands, are as far
// apart as it says.
func TestTheRulerIsTrue(t *testing.T) {
	number := func(b []byte) float64 {
		v, err := quantity.Reader{System: quantity.Metric}.Parse(quantity.Number, string(b))
		require.NoError(t, err)
		return v
	}
	for in, long := range map[quantity.Units]float64{{}: 100, {Length: quantity.US}: 101.6} {
		pdf := begin(A4, false, "ruler")
		pdf.SetCompression(false)
		pdf.AddPage()
		rulerIn(in).draw(pdf, 20, 50)
		data, err := finish(pdf)
		require.NoError(t, err)
		found := regexp.MustCompile(`([\d.]+) [\d.]+ m ([\d.]+) [\d.]+ l S`).FindSubmatch(data)
		require.NotNil(t, found)
		assert.InDelta(t, long, (number(found[2])-number(found[1]))*25.4/72, 0.02)
	}
}

func printed() BuildSheet {
	ring := sheet.Rectangle(plane.Point{0, 0}, plane.Point{60, 40})
	d := sheet.Drawing{
		Name:  "1. First half",
		Arrow: "+z",
		Areas: []sheet.Area{{Tone: tone.RubberA, Rings: [][]plane.Point{ring}}},
		Lines: []sheet.Line{{Tone: tone.Seam, Points: ring, Closed: true}},
	}
	d.Fit(3)
	return BuildSheet{
		Shop:    "Fathom Lane Workshop",
		Part:    "Deck cleat",
		Kind:    "Cut block",
		Printed: "24 November 2026",
		In:      metric,
		Facts: []Fact{
			{Name: "Rubber", Value: 412.3, Kind: quantity.Volume},
			{Name: "First pull", Words: "Wednesday 9:30"},
		},
		Pictures: []sheet.Drawing{d},
		Plan:     d,
		Pours:    []Pour{{Name: "Block", Volume: 412, A: 440, B: 44, Mixes: 1, Level: 62.5, Up: "+z"}},
		Steps: []Step{
			{When: "Mon 9:00", Do: "Hang the master.", Why: "Every support leaves a hole."},
			{Do: "It cures.", Wait: true},
			{Do: "Cut the block open.", Caution: "The blade away from you."},
		},
		Findings: []finding.Finding{
			{Severity: finding.Watch, What: "A wall bulges.", Why: "Thin.", Source: finding.CommonPractice},
			{Severity: finding.Note, What: "Not worth the paper."},
		},
		Cautions: []string{"Gloves."},
	}
}

func TestTheBuildSheetSaysWhatTheBenchNeeds(t *testing.T) {
	data, err := printed().PDF(A4)
	require.NoError(t, err)
	words := read(t, "pdftotext", data, "-layout")
	for _, want := range []string{"Deck cleat", "Build sheet: cut block, Fathom Lane Workshop", "412.3 mL", "Wednesday 9:30",
		"440.0 g", "62.5 mm", "1. Hang the master.", "2. It cures.", "! The blade away from you.", "watch: A wall bulges.", "page 1"} {
		assert.Contains(t, words, want)
	}
	assert.NotContains(t, words, "Not worth the paper")
	us := printed()
	us.In = inches
	data, err = us.PDF(Letter)
	require.NoError(t, err)
	words = read(t, "pdftotext", data, "-layout")
	assert.Contains(t, words, "13.94 fl oz")
	assert.Contains(t, words, "2.46 in")
}

var (
	metric = quantity.Units{Length: quantity.Metric, Volume: quantity.Metric, Mass: quantity.Metric}
	inches = quantity.Units{Length: quantity.US, Volume: quantity.US, Mass: quantity.US}
)

// A caster may call a part what he likes.
func TestNamesMayHoldAnything(t *testing.T) {
	for _, name := range []string{"Deck 🐙 cleat", "\U0010ffff", "Ωж", "中文", "a\x00b", "\xff", "é ß", strings.Repeat("W", 400)} {
		b := printed()
		b.Part, b.Shop = name, name
		data, err := b.PDF(A4)
		require.NoError(t, err, "%q", name)
		assert.True(t, bytes.HasPrefix(data, []byte("%PDF")))
	}
	assert.Equal(t, "Deck ? cleat", printable("Deck 🐙 cleat"))
	assert.Equal(t, "é ß Ω ж", printable("é ß Ω ж"))
}

func TestSidesAreWrittenTogether(t *testing.T) {
	assert.Equal(t, "84.8 × 143.2 × 59.0 mm", Sides(metric, 84.8, 143.2, 59))
	assert.Equal(t, "1.00 × 2.00 in", Sides(inches, 25.4, 50.8))
	comma := metric
	comma.Comma = true
	assert.Equal(t, "84,8 × 143,2 × 59,0 mm", Sides(comma, 84.8, 143.2, 59))
	assert.Equal(t, "5", written(5, quantity.Number, metric), "a count is a whole number")
}

func TestManyStepsTakeMorePages(t *testing.T) {
	b := printed()
	for range 60 {
		b.Steps = append(b.Steps, Step{Do: "Wall off the place of another side piece.", Why: "With its step at the wall."})
	}
	data, err := b.PDF(A4)
	require.NoError(t, err)
	assert.Regexp(t, `Pages:\s+[3-9]`, read(t, "pdfinfo", data))
	assert.Contains(t, read(t, "pdftotext", data, "-layout"), "63. Wall off")
}
