// Package sheet draws a mould on paper: pictures of its section in every way
// up that it is poured in, and templates of what is cut and marked for it at
// its true size, as SVG and as DXF (R12) with layers for cutting, scoring and
// marking.
//
// All lengths are in mm, y upwards.
package sheet

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"math"
	"slices"

	"bathyform/core/plane"
	"bathyform/core/quantity"
	"bathyform/core/tone"
)

// Layers in the order that they are worked: marked before anything is loose.
var Layers = []tone.Tone{tone.Mark, tone.Score, tone.Cut}

// Line is a run of straight stretches.
type Line struct {
	Tone   tone.Tone
	Points []plane.Point
	Closed bool
	Dashed bool
}

func line(as tone.Tone, points []plane.Point, closed bool) Line {
	return Line{Tone: as, Points: points, Closed: closed}
}

// Text begins at a place, or is centred on it.
type Text struct {
	At     plane.Point
	Size   float64 // height of capitals, mm; 0 for the page's own
	Words  string
	Centre bool
}

// Sheet is a drawing at true size.
type Sheet struct {
	Name  string
	Lines []Line
	Texts []Text
}

// Told is the sheet with its texts in the shop's own units; what is drawn is
// at true size whatever they are.
func (s Sheet) Told(in quantity.Units) Sheet {
	s.Texts = slices.Clone(s.Texts)
	for i := range s.Texts {
		s.Texts[i].Words = in.Told(s.Texts[i].Words)
	}
	return s
}

// rulerLength is that of the ruler by which a print is checked, mm.
const rulerLength = 100

// margin is left free round a sheet, mm.
const margin = 5

func rectangle(layer tone.Tone, x, y, w, h float64) Line {
	return line(layer, []plane.Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true)
}

func (s *Sheet) write(x, y, size float64, words string) {
	s.Texts = append(s.Texts, Text{At: plane.Point{x, y}, Size: size, Words: words})
}

// ruled adds the check ruler under the drawing.
func (s *Sheet) ruled() {
	low, _ := s.bounds()
	y := low[1] - 12
	s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{low[0], y}, {low[0] + rulerLength, y}}, false))
	for i := 0; i <= 10; i++ {
		x := low[0] + rulerLength*float64(i)/10
		tall := 2.0
		if i%5 == 0 {
			tall = 4
		}
		s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{x, y}, {x, y + tall}}, false))
	}
	s.write(low[0], y-5, 3, fmt.Sprintf("%s: this line is %d mm long", s.Name, rulerLength))
}

func (s Sheet) bounds() (low, high plane.Point) {
	low, high = plane.Point{math.Inf(1), math.Inf(1)}, plane.Point{math.Inf(-1), math.Inf(-1)}
	add := func(x, y float64) {
		low = plane.Point{min(low[0], x), min(low[1], y)}
		high = plane.Point{max(high[0], x), max(high[1], y)}
	}
	for _, l := range s.Lines {
		for _, p := range l.Points {
			add(p[0], p[1])
		}
	}
	for _, t := range s.Texts {
		add(t.At[0], t.At[1])
		add(t.At[0]+0.62*t.Size*float64(len([]rune(t.Words))), t.At[1]+t.Size)
	}
	return low, high
}

// strokes tell the layers apart on a screen and to a cutter.
var strokes = map[tone.Tone]string{tone.Cut: "#c00000", tone.Score: "#0000c0", tone.Mark: "#008000"}

// SVG writes the sheet in millimetres.
func (s Sheet) SVG() []byte {
	low, high := s.bounds()
	w, h := high[0]-low[0]+2*margin, high[1]-low[1]+2*margin
	x := func(p plane.Point) float64 { return p[0] - low[0] + margin }
	y := func(p plane.Point) float64 { return high[1] - p[1] + margin }
	var b bytes.Buffer
	fmt.Fprintf(
		&b,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%.3fmm" height="%.3fmm" viewBox="0 0 %.3f %.3f">`+"\n<title>",
		w,
		h,
		w,
		h,
	)
	_ = xml.EscapeText(&b, []byte(s.Name))
	b.WriteString("</title>\n")
	for _, layer := range Layers {
		fmt.Fprintf(&b, `<g id="%s" fill="none" stroke="%s" stroke-width="0.1">`+"\n", layer, strokes[layer])
		for _, l := range s.Lines {
			if l.Tone != layer {
				continue
			}
			b.WriteString(`<path d="`)
			for i, p := range l.Points {
				step := "L"
				if i == 0 {
					step = "M"
				}
				fmt.Fprintf(&b, "%s%.3f %.3f", step, x(p), y(p))
			}
			if l.Closed {
				b.WriteString("Z")
			}
			b.WriteString("\"/>\n")
		}
		if layer == tone.Mark {
			for _, t := range s.Texts {
				fmt.Fprintf(
					&b,
					`<text x="%.3f" y="%.3f" font-family="sans-serif" font-size="%.3f" fill="%s" stroke="none">`,
					x(t.At),
					y(t.At),
					t.Size*1.4,
					strokes[tone.Mark],
				)
				_ = xml.EscapeText(&b, []byte(t.Words))
				b.WriteString("</text>\n")
			}
		}
		b.WriteString("</g>\n")
	}
	b.WriteString("</svg>\n")
	return b.Bytes()
}

// colours of the layers in DXF: red, blue, green.
var colours = map[tone.Tone]int{tone.Cut: 1, tone.Score: 5, tone.Mark: 3}

// DXF writes the sheet as DXF R12: polylines and texts, millimetres.
func (s Sheet) DXF() []byte {
	var b bytes.Buffer
	pair := func(code int, value any) { fmt.Fprintf(&b, "%d\n%v\n", code, value) }
	number := func(v float64) string { return fmt.Sprintf("%.4f", v) }
	low, high := s.bounds()
	pair(0, "SECTION")
	pair(2, "HEADER")
	pair(9, "$ACADVER")
	pair(1, "AC1009")
	pair(9, "$EXTMIN")
	pair(10, number(low[0]))
	pair(20, number(low[1]))
	pair(9, "$EXTMAX")
	pair(10, number(high[0]))
	pair(20, number(high[1]))
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "TABLES")
	pair(0, "TABLE")
	pair(2, "LAYER")
	pair(70, len(Layers))
	for _, layer := range Layers {
		pair(0, "LAYER")
		pair(2, layer)
		pair(70, 0)
		pair(62, colours[layer])
		pair(6, "CONTINUOUS")
	}
	pair(0, "ENDTAB")
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "ENTITIES")
	for _, l := range s.Lines {
		pair(0, "POLYLINE")
		pair(8, l.Tone)
		pair(66, 1)
		pair(70, map[bool]int{true: 1}[l.Closed])
		for _, p := range l.Points {
			pair(0, "VERTEX")
			pair(8, l.Tone)
			pair(10, number(p[0]))
			pair(20, number(p[1]))
		}
		pair(0, "SEQEND")
	}
	for _, t := range s.Texts {
		pair(0, "TEXT")
		pair(8, tone.Mark)
		pair(10, number(t.At[0]))
		pair(20, number(t.At[1]))
		pair(40, number(t.Size))
		pair(1, t.Words)
	}
	pair(0, "ENDSEC")
	pair(0, "EOF")
	return b.Bytes()
}
