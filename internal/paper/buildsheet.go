package paper

import (
	"fmt"
	"strings"

	"bathyform/core/finding"
	"bathyform/core/plane"
	"bathyform/core/quantity"
	"bathyform/core/sheet"
	"bathyform/core/tone"

	"codeberg.org/go-pdf/fpdf"
)

// Fact is a named value at the head of a build sheet or in its list of quantities.
type Fact struct {
	Name  string
	Value float64
	Kind  quantity.Kind
	Words string // instead of a value
}

// Pour is a row of the table of pours.
type Pour struct {
	Name         string
	Volume       float64 // mL, mixed
	A, B         float64 // g; 0 where no rubber is chosen
	Mixes        int
	Bed, Level   float64 // mm
	Up           string
	Spot, Degas  string
	PartA, PartB string // what the parts are called
}

// Step is one thing to do.
type Step struct {
	When    string
	Do      string
	Why     string
	Caution string
	Wait    bool
}

// BuildSheet is all that the bench needs.
type BuildSheet struct {
	Shop, Part, Kind string
	Printed          string
	In               quantity.Units
	Facts            []Fact
	Pictures         []sheet.Drawing
	Plan             sheet.Drawing
	Pours            []Pour
	Quantities       []Fact
	Steps            []Step
	Findings         []finding.Finding
	Cautions         []string
}

const (
	lineTall = 4.6
	body     = 9.0
	small    = 7.5
)

// PDF sets the sheet.
func (b BuildSheet) PDF(size Size) ([]byte, error) {
	pdf := begin(size, false, "Build sheet, "+b.Part)
	w, h := size.mm()
	pdf.SetMargins(edge+4, edge+2, edge+4)
	pdf.SetAutoPageBreak(true, edge+6)
	inner := w - 2*(edge+4)
	pdf.SetFooterFunc(func() {
		ink(pdf)
		pdf.SetFont(family, "", small)
		pdf.Text(edge+4, h-edge+1, fmt.Sprintf("%s, %s   %s   page %d", b.Part, strings.ToLower(b.Kind), b.Printed, pdf.PageNo()))
	})
	pdf.AddPage()
	ink(pdf)
	pdf.SetFont(family, "B", 17)
	pdf.CellFormat(inner, 8, b.Part, "", 1, "L", false, 0, "")
	pdf.SetFont(family, "", 11)
	pdf.CellFormat(inner, 6, "Build sheet: "+strings.ToLower(b.Kind)+", "+b.Shop, "", 1, "L", false, 0, "")
	pdf.Ln(1)
	b.facts(pdf, b.Facts, inner)
	b.pictures(pdf, inner)
	b.pours(pdf, inner)
	if len(b.Quantities) > 0 {
		heading(pdf, "Also wanted", inner)
		b.facts(pdf, b.Quantities, inner)
	}
	if len(b.Cautions) > 0 {
		heading(pdf, "Take care", inner)
		pdf.SetFont(family, "", small+0.5)
		for _, c := range b.Cautions {
			pdf.MultiCell(inner, lineTall-0.6, "! "+c, "", "L", false)
		}
	}
	b.steps(pdf, inner)
	b.found(pdf, inner)
	return finish(pdf)
}

func heading(pdf *document, words string, inner float64) {
	if _, tall := pdf.GetPageSize(); pdf.GetY() > tall-40 {
		pdf.AddPage()
	}
	pdf.Ln(2)
	pdf.SetLineWidth(0.2)
	x, y := pdf.GetXY()
	pdf.Line(x, y, x+inner, y)
	pdf.SetFont(family, "B", 10)
	pdf.CellFormat(inner, 6, words, "", 1, "L", false, 0, "")
}

// facts stand in three columns.
func (b BuildSheet) facts(pdf *document, all []Fact, inner float64) {
	const cols = 3
	col := inner / cols
	x0 := pdf.GetX()
	for i, f := range all {
		words := f.Words
		if words == "" {
			words = written(f.Value, f.Kind, b.In)
		}
		pdf.SetX(x0 + float64(i%cols)*col)
		pdf.SetFont(family, "", small)
		name := f.Name + "  "
		pdf.Text(pdf.GetX(), pdf.GetY()+3.4, name)
		at := pdf.GetX() + pdf.GetStringWidth(name)
		pdf.SetFont(family, "B", body)
		pdf.Text(at, pdf.GetY()+3.4, words)
		if i%cols == cols-1 || i == len(all)-1 {
			pdf.Ln(lineTall)
			pdf.SetX(x0)
		}
	}
}

// pictures are the ways up in a strip, and the plan beside them.
func (b BuildSheet) pictures(pdf *document, inner float64) {
	all := b.Pictures
	if len(b.Plan.Areas) > 0 {
		all = append(append([]sheet.Drawing{}, all...), b.Plan)
	}
	if len(all) == 0 {
		return
	}
	heading(pdf, "Ways up, and seen along the draw", inner)
	const tall = 44.0
	each := inner / float64(len(all))
	x0, y0 := pdf.GetXY()
	for i, d := range all {
		x := x0 + float64(i)*each
		pdf.SetFont(family, "", small)
		pdf.SetXY(x, y0)
		pdf.MultiCell(each-3, 3.4, d.Name, "", "L", false)
		picture(pdf, d, x, y0+8, each-9, tall-8)
		if d.Arrow != "" {
			upArrow(pdf, x+each-5, y0+10, tall-14)
			pdf.SetFont(family, "", small-1)
			pdf.Text(x+each-8, y0+tall+1.5, d.Arrow)
		}
	}
	pdf.SetXY(x0, y0+tall+3)
}

func upArrow(pdf *document, x, y, long float64) {
	pdf.SetLineWidth(0.35)
	pdf.Line(x, y, x, y+long)
	pdf.Line(x, y, x-1.4, y+2.6)
	pdf.Line(x, y, x+1.4, y+2.6)
}

// tints of the tones on paper; hatched ones carry lines as well.
var tints = map[tone.Tone]struct {
	r, g, b int
	hatch   float64 // mm between lines, 0 for none
}{
	tone.RubberA: {
		244,
		232,
		208,
		1.6,
	}, tone.RubberB: {247, 239, 222, 0}, tone.Clay: {219, 208, 190, 0.9}, tone.Board: {214, 196, 160, 2.6},
	tone.Master: {
		168,
		170,
		172,
		0,
	}, tone.Resin: {150, 196, 214, 0}, tone.Shell: {120, 120, 120, 0}, tone.Side: {205, 226, 233, 1.2},
	tone.Block: {255, 255, 255, 0},
}

func picture(pdf *document, d sheet.Drawing, x, y, w, h float64) {
	scale := min(w/(d.High[0]-d.Low[0]), h/(d.High[1]-d.Low[1]))
	at := func(p plane.Point) fpdf.PointType {
		return fpdf.PointType{X: x + scale*(p[0]-d.Low[0]), Y: y + scale*(d.High[1]-p[1])}
	}
	trace := func(r []plane.Point, closed bool) {
		for i, p := range r {
			q := at(p)
			if i == 0 {
				pdf.MoveTo(q.X, q.Y)
			} else {
				pdf.LineTo(q.X, q.Y)
			}
		}
		if closed {
			pdf.ClosePath()
		}
	}
	for _, a := range d.Areas {
		if len(a.Rings) == 0 {
			continue
		}
		t := tints[a.Tone]
		pdf.SetFillColor(t.r, t.g, t.b)
		for _, r := range a.Rings {
			trace(r, true)
		}
		pdf.DrawPath("f*")
		if t.hatch > 0 && len(a.Rings) == 1 {
			ring := make([]fpdf.PointType, len(a.Rings[0]))
			for i, p := range a.Rings[0] {
				ring[i] = at(p)
			}
			pdf.ClipPolygon(ring, false)
			pdf.SetLineWidth(0.08)
			for s := 0.0; s < w+h; s += t.hatch {
				pdf.Line(x+s, y, x+s-h, y+h)
			}
			pdf.ClipEnd()
		}
	}
	for _, l := range d.Lines {
		pdf.SetLineWidth(0.18)
		if l.Tone == tone.Seam {
			pdf.SetLineWidth(0.4)
		}
		trace(l.Points, l.Closed)
		pdf.DrawPath("D")
	}
	pdf.SetFont(family, "B", small)
	for _, t := range d.Texts {
		p := at(t.At)
		if t.Centre {
			p.X -= pdf.GetStringWidth(t.Words) / 2
		}
		pdf.Text(p.X, p.Y+1, t.Words)
	}
}

func (b BuildSheet) pours(pdf *document, inner float64) {
	heading(pdf, "Rubber, in the order it is poured", inner)
	cols := []struct {
		name  string
		share float64
	}{{"pour", 0.22}, {"to mix", 0.13}, {"part A", 0.13}, {"part B", 0.13}, {"mixes", 0.08}, {"stands up to", 0.13}, {"pour to",
		0.12}, {"up", 0.06}}
	pdf.SetFont(family, "", small)
	for _, c := range cols {
		pdf.CellFormat(c.share*inner, lineTall, c.name, "B", 0, "L", false, 0, "")
	}
	pdf.Ln(lineTall)
	pdf.SetFont(family, "B", body)
	mass := func(g float64) string {
		if g == 0 {
			return "choose a rubber"
		}
		return written(g, quantity.Mass, b.In)
	}
	length := func(mm float64) string {
		if mm == 0 {
			return "–"
		}
		return written(mm, quantity.Length, b.In)
	}
	for _, p := range b.Pours {
		for i, v := range []string{p.Name, written(p.Volume, quantity.Volume, b.In), mass(p.A), mass(p.B),
			fmt.Sprint(p.Mixes), length(p.Bed), length(p.Level), p.Up} {
			pdf.CellFormat(cols[i].share*inner, lineTall+0.8, v, "", 0, "L", false, 0, "")
		}
		pdf.Ln(lineTall + 0.8)
	}
}

func (b BuildSheet) steps(pdf *document, inner float64) {
	heading(pdf, "Steps", inner)
	x0 := pdf.GetX()
	const box, when = 4.0, 30.0
	_, tall := pdf.GetPageSize()
	for i, s := range b.Steps {
		if pdf.GetY() > tall-32 {
			pdf.AddPage()
		}
		y := pdf.GetY()
		if !s.Wait {
			pdf.SetLineWidth(0.25)
			pdf.Rect(x0, y+0.6, box-0.6, box-0.6, "D")
		}
		pdf.SetFont(family, "", small)
		pdf.Text(x0+box+1, y+3.6, s.When)
		pdf.SetXY(x0+box+when, y)
		style := "B"
		if s.Wait {
			style = "I"
		}
		pdf.SetFont(family, style, body)
		width := inner - box - when
		pdf.MultiCell(width, lineTall, fmt.Sprintf("%d. %s", i+1, s.Do), "", "L", false)
		pdf.SetFont(family, "", small)
		for _, words := range []string{s.Why, caution(s.Caution)} {
			if words != "" {
				pdf.SetX(x0 + box + when)
				pdf.MultiCell(width, 3.5, words, "", "L", false)
			}
		}
		pdf.SetXY(x0, pdf.GetY()+0.8)
	}
}

func caution(words string) string {
	if words == "" {
		return ""
	}
	return "! " + words
}

func (b BuildSheet) found(pdf *document, inner float64) {
	var worth []finding.Finding
	for _, f := range b.Findings {
		if f.Severity != finding.Note {
			worth = append(worth, f)
		}
	}
	if len(worth) == 0 {
		return
	}
	heading(pdf, "What was said of this design", inner)
	for _, f := range worth {
		pdf.SetFont(family, "B", body-0.5)
		pdf.MultiCell(inner, lineTall-0.4, string(f.Severity)+": "+f.What, "", "L", false)
		pdf.SetFont(family, "", small)
		pdf.MultiCell(inner, 3.5, f.Why+" ("+f.Source+")", "", "L", false)
	}
}
