package outline

import (
	"bathyform/core/growthtest"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func svg(size, body string) []byte {
	return []byte(`<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ` + size + `>` + body + `</svg>`)
}

func areas(t *testing.T, data []byte) []float64 {
	t.Helper()
	d, err := Parse(data)
	require.NoError(t, err)
	var out []float64
	for _, r := range d.Rings {
		out = append(out, math.Abs(plane.Area(r)))
	}
	return out
}

const a4 = `width="210mm" height="297mm" viewBox="0 0 210 297"`

// Areas by hand; SVG 1.1 chapters 8 and 9.
func TestShapesOfAnSVG(t *testing.T) {
	for name, c := range map[string]struct {
		body string
		want float64
	}{
		"rectangle":       {`<rect x="10" y="10" width="30" height="20"/>`, 600},
		"circle":          {`<circle cx="50" cy="50" r="20"/>`, math.Pi * 400},
		"ellipse":         {`<ellipse cx="50" cy="50" rx="20" ry="10"/>`, math.Pi * 200},
		"polygon":         {`<polygon points="0,0 30,0 30,10 0,10"/>`, 300},
		"path, relative":  {`<path d="m10 10h30v20h-30z"/>`, 600},
		"half disc":       {`<path d="M0 0A10 10 0 0 1 20 0Z"/>`, math.Pi * 50},
		"full ring":       {`<path d="M0 10a10,10 0 1,0 20,0a10,10 0 1,0 -20,0z"/>`, math.Pi * 100},
		"packed numbers":  {`<path d="M.5.5L10.5.5 10.5 10.5-.5e0 10.5z"/>`, 105},
		"cubic":           {`<path d="M0 0C0 30 30 30 30 0Z"/>`, 0.6 * 30 * 30},
		"quadratic":       {`<path d="M0 0Q15 30 30 0Z"/>`, 2.0 / 3 * 30 * 15},
		"smooth":          {`<path d="M0 0Q10 20 20 0T40 0L40 -30L0 -30Z"/>`, 1200},
		"moved":           {`<g transform="translate(100,50) rotate(30) scale(2)"><rect width="10" height="5"/></g>`, 200},
		"skewed":          {`<rect transform="skewX(40)" width="10" height="5"/>`, 50},
		"mirrored matrix": {`<rect transform="matrix(-1 0 0 1 9 9)" width="10" height="5"/>`, 50},
		"polyline closed": {`<polyline points="0 0 10 0 10 10 0 10 0 0"/>`, 100},
		"lines that meet": {`<path d="M0 0L10 0"/><path d="M10 0L10 10L0 10"/><path d="M0 10L0 0"/>`, 100},
	} {
		got := areas(t, svg(a4, c.body))
		if assert.Len(t, got, 1, name) {
			assert.InEpsilon(t, c.want, got[0], 0.004, name)
		}
	}
}

func TestUnitsOfAnSVG(t *testing.T) {
	square := `<rect width="10" height="10"/>`
	for size, want := range map[string]float64{
		`width="100mm" height="100mm" viewBox="0 0 100 100"`: 100,
		`width="10cm" height="10cm" viewBox="0 0 100 100"`:   100,
		`width="1in" height="1in" viewBox="0 0 10 10"`:       645.16,
		`width="96" height="96"`:                             math.Pow(10*25.4/96, 2),
		`viewBox="0 0 96 96"`:                                math.Pow(10*25.4/96, 2),
	} {
		got := areas(t, svg(size, square))
		require.Len(t, got, 1)
		assert.InEpsilon(t, want, got[0], 1e-9, size)
	}
	d, err := Parse(svg("", square))
	require.NoError(t, err)
	assert.NotEmpty(t, d.Notes, "a drawing without units says what was assumed")
}

func TestCurvesStayWithinTheTolerance(t *testing.T) {
	for _, r := range []float64{1, 20, 90} {
		d, err := Parse(svg(a4, fmt.Sprintf(`<circle cx="100" cy="100" r="%g"/>`, r)))
		require.NoError(t, err)
		ring := d.Rings[0]
		for i, p := range ring {
			q := ring[(i+1)%len(ring)]
			mid := math.Hypot((p[0]+q[0])/2-100, (p[1]+q[1])/2+100)
			assert.LessOrEqual(t, r-mid, Tolerance*1.01)
		}
	}
}

func dxf(entities string) []byte {
	return []byte(
		strings.ReplaceAll(
			"0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n"+entities+"0\nENDSEC\n0\nEOF\n",
			"\n",
			"\r\n",
		),
	)
}

func TestEntitiesOfADXF(t *testing.T) {
	line := func(x0, y0, x1, y1 float64) string {
		return fmt.Sprintf("0\nLINE\n8\n0\n10\n%g\n20\n%g\n11\n%g\n21\n%g\n", x0, y0, x1, y1)
	}
	vertex := func(x, y, bulge float64) string {
		return fmt.Sprintf("0\nVERTEX\n8\n0\n10\n%g\n20\n%g\n42\n%g\n", x, y, bulge)
	}
	for name, c := range map[string]struct {
		entities string
		want     float64
	}{
		"circle": {"0\nCIRCLE\n8\n0\n10\n5\n20\n5\n40\n12\n", math.Pi * 144},
		"lines":  {line(0, 0, 30, 0) + line(30, 20, 30, 0) + line(30, 20, 0, 20) + line(0, 20, 0, 0), 600},
		"slot": {line(0, 0, 20, 0) + "0\nARC\n10\n20\n20\n5\n40\n5\n50\n270\n51\n90\n" + line(20, 10, 0,
			10) + "0\nARC\n10\n0\n20\n5\n40\n5\n50\n90\n51\n270\n", 200 + math.Pi*25},
		"polyline": {"0\nPOLYLINE\n66\n1\n70\n1\n" + vertex(0, 0, 0) + vertex(10, 0, 0) + vertex(10, 10, 0) + vertex(0, 10,
			0) + "0\nSEQEND\n", 100},
		"bulge": {"0\nPOLYLINE\n66\n1\n70\n1\n" + vertex(0, 0, 1) + vertex(10, 0, 1) + "0\nSEQEND\n", math.Pi * 25},
		"light bulge": {"0\nLWPOLYLINE\n90\n4\n70\n1\n10\n0\n20\n0\n10\n20\n20\n0\n42\n1\n" +
			"10\n20\n20\n10\n10\n0\n20\n10\n42\n1\n", 200 + math.Pi*25},
		"ellipse": {"0\nELLIPSE\n10\n0\n20\n0\n11\n20\n21\n0\n40\n0.5\n41\n0\n42\n6.283185307179586\n", math.Pi * 200},
	} {
		got := areas(t, dxf(c.entities))
		if assert.Len(t, got, 1, name) {
			assert.InEpsilon(t, c.want, got[0], 0.006, name)
		}
	}
	inches := strings.Replace(string(dxf("0\nCIRCLE\n10\n0\n20\n0\n40\n1\n")), "70\r\n4", "70\r\n1", 1)
	assert.InEpsilon(t, math.Pi*645.16, areas(t, []byte(inches))[0], 0.004, "drawn in inches")
	// a closed uniform quadratic B-spline over a square of control points: area 2/3 + 1/6 of it by its known closed form
	sp := "0\nSPLINE\n70\n1\n71\n1\n"
	for _, k := range []float64{0, 0, 1, 2, 3, 4, 4} {
		sp += fmt.Sprintf("40\n%g\n", k)
	}
	for _, p := range [][2]float64{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0, 0}} {
		sp += fmt.Sprintf("10\n%g\n20\n%g\n", p[0], p[1])
	}
	got := areas(t, dxf(sp))
	require.Len(t, got, 1)
	assert.InEpsilon(t, 100, got[0], 0.005, "a spline of degree one is its polygon")
}

func TestWhatIsNoOutlineSaysWhy(t *testing.T) {
	for says, data := range map[string][]byte{
		"document type":       []byte(`<!DOCTYPE svg [<!ENTITY a "10">]><svg width="10mm"><rect width="&a;" height="5"/></svg>`),
		"empty":               nil,
		"no closed outline":   svg(a4, `<path d="M0 0L10 0L10 10"/>`),
		"no drawing":          []byte("Dear caster"),
		"binary DXF":          []byte("AutoCAD Binary DXF\r\n\x1a\x00"),
		"cut short":           []byte("0\nSECTION\n2\nENTITIES\n0\nLINE\n"),
		"group code":          []byte("0\nSECTION\nzwei\nENTITIES\n"),
		"not an SVG":          []byte("<html><body/></html>"),
		"breaks off":          svg(a4, `<path d="M0 0L10"/>`),
		"does not begin":      svg(a4, `<path d="10 10L5 5"/>`),
		"transform":           svg(a4, `<rect transform="wobble(3)" width="1" height="1"/>`),
		"is not a length":     []byte(strings.Replace(string(dxf("0\nCIRCLE\n10\n0\n20\n0\n40\n1\n")), "70\r\n4", "70\r\n99", 1)),
		"not a finite number": dxf("0\nCIRCLE\n10\nx\n20\n0\n40\n1\n"),
		"make no scale":       svg(`width="1e-999mm" viewBox="0 0 1e999 1"`, `<rect width="1" height="1"/>`),
	} {
		_, err := Parse(data)
		if says == "make no scale" {
			assert.NotPanics(t, func() { _, _ = Parse(data) })
			continue
		}
		if assert.Error(t, err, says) {
			assert.Contains(t, err.Error(), says)
		}
	}
}

// scattered is a circle of 500 mm in so many lines, in any order and either way round.
func scattered(n int) []byte {
	at := func(i int) (x, y float64) {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		return 500 * cos, 500 * sin
	}
	var b strings.Builder
	b.WriteString("0\nSECTION\n2\nENTITIES\n")
	random := rand.New(rand.NewPCG(1, 2))
	for _, i := range random.Perm(n) {
		j := i + 1
		if random.IntN(2) == 0 {
			i, j = j, i
		}
		x, y := at(i)
		u, v := at(j)
		fmt.Fprintf(&b, "0\nLINE\n10\n%.6f\n20\n%.6f\n11\n%.6f\n21\n%.6f\n", x, y, u, v)
	}
	b.WriteString("0\nENDSEC\n0\nEOF\n")
	return []byte(b.String())
}

// Lines of a circle in any order and either way round are one ring, however many.
func TestManyLinesJoinInAnyOrder(t *testing.T) {
	d, err := ParseDXF(scattered(20_000))
	require.NoError(t, err)
	require.Len(t, d.Rings, 1)
	assert.InEpsilon(t, math.Pi*500*500, math.Abs(plane.Area(d.Rings[0])), 1e-6)
}

// A drawing of eight times as many lines takes about eight times as long.
func TestReadingGrowsWithTheDrawing(t *testing.T) {
	lines := map[string]func(n int) []byte{
		"DXF": scattered,
		"SVG": func(n int) []byte { // one path
			var b strings.Builder
			b.WriteString(`<svg width="100mm" viewBox="0 0 100 100"><path d="M0 0`)
			for i := range n {
				fmt.Fprintf(
					&b,
					" L%.4f %.4f",
					50+40*math.Cos(float64(i)*2*math.Pi/float64(n)),
					50+40*math.Sin(float64(i)*2*math.Pi/float64(n)),
				)
			}
			b.WriteString(` Z"/></svg>`)
			return []byte(b.String())
		},
		"rings": func(n int) []byte { // as many small ones
			var b strings.Builder
			b.WriteString(`<svg width="100mm" viewBox="0 0 4000 4000">`)
			for i := range n {
				fmt.Fprintf(&b, `<rect x="%d" y="%d" width="20" height="20"/>`, i%100*40, i/100*40)
			}
			b.WriteString(`</svg>`)
			return []byte(b.String())
		},
	}
	for name, file := range lines {
		t.Run(name, func(t *testing.T) {
			growthtest.NLogN(t, 3000, func(n int) func() {
				data := file(n)
				return func() { _, _ = Parse(data) }
			})
		})
	}
}

// An arc may be told to end at any angle, however absurd.
func TestArcsOfAbsurdAngles(t *testing.T) {
	for _, end := range []string{"1e300", "-1e300", "1e308", "720", "-90", "NaN", "Inf", "0"} {
		d, err := ParseDXF([]byte("0\nSECTION\n2\nENTITIES\n0\nARC\n10\n0\n20\n0\n40\n10\n50\n0\n51\n" + end + "\n0\nENDSEC\n0\nEOF\n"))
		if err == nil { // it goes all round
			require.Len(t, d.Rings, 1, end)
			assert.InEpsilon(t, math.Pi*100, math.Abs(plane.Area(d.Rings[0])), 0.01)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add(svg(a4, `<path d="M0 0Q10 20 20 0T40 0a5 5 0 0 1 3 3z"/>`))
	f.Add(dxf("0\nCIRCLE\n10\n0\n20\n0\n40\n1\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := Parse(data)
		if err == nil {
			assert.NotEmpty(t, d.Rings)
		}
	})
}
