package paper

import (
	"fmt"
	"math"

	"bathyform/core/quantity"
	"bathyform/core/sheet"
	"bathyform/core/tone"
)

// How a template is spread over pages, mm.
const (
	edge    = 10.0 // that no printer reaches
	footing = 12.0 // for the ruler and the page's place
	overlap = 8.0  // glued over the next page
	cross   = 4.0  // arms of a registration mark
)

// mostPages bounds a template; beyond that nobody glues it together.
const mostPages = 120

// Tiled spreads a template over pages at its true size: registration marks at
// the corners of every tile, and a ruler in the shop's unit to check the printer by.
func Tiled(s sheet.Sheet, size Size, in quantity.Units) ([]byte, error) {
	ruler := rulerIn(in)
	low, high := s.Bounds()
	wide, tall := high[0]-low[0], high[1]-low[1]
	w, h := size.mm()
	count := func(w, h float64) (cols, rows int) {
		net := func(long, page float64) int { return max(1, int(math.Ceil((long-overlap)/(page-overlap)-1e-9))) }
		return net(wide, w-2*edge), net(tall, h-2*edge-footing)
	}
	cols, rows := count(w, h)
	landscape := false
	if c, r := count(h, w); c*r < cols*rows {
		cols, rows, landscape = c, r, true
		w, h = h, w
	}
	if cols*rows > mostPages {
		return nil, fmt.Errorf("at its true size the template takes %d pages; take the SVG or DXF to a cutter instead", cols*rows)
	}
	pdf := begin(size, landscape, s.Name)
	pdf.SetAutoPageBreak(false, 0)
	tileW, tileH := w-2*edge, h-2*edge-footing
	for r := range rows {
		for c := range cols {
			pdf.AddPage()
			ink(pdf)
			x0 := low[0] + float64(c)*(tileW-overlap)
			y0 := high[1] - float64(r)*(tileH-overlap) // upper edge of the tile on the sheet
			at := func(x, y float64) (float64, float64) { return edge + x - x0, edge + y0 - y }
			pdf.ClipRect(edge, edge, tileW, tileH, false)
			drawSheet(pdf, s, at)
			pdf.ClipEnd()
			marks(pdf, tileW, tileH)
			pdf.SetFont(family, "", 8)
			pdf.Text(
				edge,
				h-edge-1,
				fmt.Sprintf(
					"%s   page %d of %d: column %d of %d, row %d of %d; overlap %s, crosses over crosses",
					s.Name,
					r*cols+c+1,
					rows*cols,
					c+1,
					cols,
					r+1,
					rows,
					written(overlap, quantity.Length, in),
				),
			)
			ruler.draw(pdf, w-edge-ruler.long, h-edge-footing+5)
		}
	}
	return finish(pdf)
}

func drawSheet(pdf *document, s sheet.Sheet, at func(x, y float64) (float64, float64)) {
	for _, l := range s.Lines {
		switch l.Tone {
		case tone.Cut:
			pdf.SetLineWidth(0.25)
			pdf.SetDashPattern(nil, 0)
		case tone.Score:
			pdf.SetLineWidth(0.2)
			pdf.SetDashPattern([]float64{3, 1.5}, 0)
		default:
			pdf.SetLineWidth(0.12)
			pdf.SetDashPattern([]float64{0.6, 1}, 0)
		}
		for i, p := range l.Points {
			x, y := at(p[0], p[1])
			if i == 0 {
				pdf.MoveTo(x, y)
			} else {
				pdf.LineTo(x, y)
			}
		}
		if l.Closed {
			pdf.ClosePath()
		}
		pdf.DrawPath("D")
	}
	pdf.SetDashPattern(nil, 0)
	for _, t := range s.Texts {
		x, y := at(t.At[0], t.At[1])
		pdf.SetFont(family, "", t.Size*1.4*72/25.4)
		pdf.Text(x, y, t.Words)
	}
}

// marks are crosses at the corners of a tile and in the middle of its overlaps.
func marks(pdf *document, w, h float64) {
	pdf.SetLineWidth(0.15)
	for _, x := range []float64{edge + overlap/2, edge + w - overlap/2} {
		for _, y := range []float64{edge + overlap/2, edge + h - overlap/2} {
			pdf.Line(x-cross, y, x+cross, y)
			pdf.Line(x, y-cross, x, y+cross)
		}
	}
}

// ruler is a line of a known length.
type ruler struct {
	long  float64 // mm
	ticks int
	says  string
}

func rulerIn(in quantity.Units) ruler {
	if in.Length == quantity.US {
		return ruler{long: 4 * quantity.MillimetrePerInch, ticks: 8, says: "this line is 4 in long"}
	}
	return ruler{long: 100, ticks: 10, says: "this line is 100 mm long"}
}

func (r ruler) draw(pdf *document, x, y float64) {
	pdf.SetLineWidth(0.2)
	pdf.Line(x, y, x+r.long, y)
	for i := range r.ticks + 1 {
		tick := 1.2
		if i%(r.ticks/2) == 0 {
			tick = 2.4
		}
		along := x + r.long*float64(i)/float64(r.ticks)
		pdf.Line(along, y, along, y-tick)
	}
	pdf.SetFont(family, "", 7)
	pdf.Text(x+2, y-3, r.says)
}
