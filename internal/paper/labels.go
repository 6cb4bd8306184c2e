package paper

import (
	"fmt"

	"github.com/skip2/go-qrcode"
)

// Label is what is stuck onto a mould.
type Label struct {
	Number string
	Says   []string // under it: the part, the rubber, the day it was poured
	Opens  string   // the address that its code leads to
}

// Labels in a sheet, mm: three by eight, as common sheets of labels are cut.
const (
	labelsAcross, labelsDown = 3, 8
	labelMargin, labelGap    = 8.0, 2.0
	codeSize                 = 24.0
)

// Labels sets a sheet of labels, each with an arrow for this way up and a code that
// opens the mould's page.
func Labels(s Size, all []Label) ([]byte, error) {
	pdf := begin(s, false, "Labels")
	pdf.SetAutoPageBreak(false, 0)
	pageWide, pageTall := s.mm()
	wide := (pageWide - 2*labelMargin - (labelsAcross-1)*labelGap) / labelsAcross
	tall := (pageTall - 2*labelMargin - (labelsDown-1)*labelGap) / labelsDown
	for i, l := range all {
		if i%(labelsAcross*labelsDown) == 0 {
			pdf.AddPage()
		}
		at := i % (labelsAcross * labelsDown)
		x := labelMargin + float64(at%labelsAcross)*(wide+labelGap)
		y := labelMargin + float64(at/labelsAcross)*(tall+labelGap)
		pdf.SetLineWidth(0.1)
		pdf.Rect(x, y, wide, tall, "D")
		if err := code(pdf, x+wide-codeSize-2, y+(tall-codeSize)/2, codeSize, l.Opens); err != nil {
			return nil, err
		}
		arrow(pdf, x+5, y+4, 11)
		pdf.SetFont(family, "B", 17)
		pdf.SetXY(x+10, y+4)
		pdf.CellFormat(wide-codeSize-14, 9, l.Number, "", 0, "L", false, 0, "")
		pdf.SetFont(family, "", 7)
		for k, says := range l.Says {
			pdf.SetXY(x+3, y+17+4*float64(k))
			pdf.CellFormat(wide-codeSize-7, 4, says, "", 0, "L", false, 0, "")
		}
	}
	if len(all) == 0 {
		pdf.AddPage()
		pdf.SetFont(family, "", 12)
		pdf.Text(labelMargin, labelMargin+6, "No mould is in use.")
	}
	return finish(pdf)
}

// arrow says which way is up.
func arrow(pdf *document, x, y, tall float64) {
	pdf.SetLineWidth(0.8)
	pdf.Line(x, y, x, y+tall)
	pdf.Line(x, y, x-2, y+3)
	pdf.Line(x, y, x+2, y+3)
}

// code draws a QR code as squares, so that it is sharp at any size.
func code(pdf *document, x, y, size float64, text string) error {
	q, err := qrcode.New(text, qrcode.Medium)
	if err != nil {
		return fmt.Errorf("draw the code of a label: %w", err)
	}
	dots := q.Bitmap()
	each := size / float64(len(dots))
	for r, row := range dots {
		for c := 0; c < len(row); {
			from := c
			for c < len(row) && row[c] {
				c++
			}
			if c > from {
				pdf.Rect(x+float64(from)*each, y+float64(r)*each, float64(c-from)*each, each, "F")
			}
			for c < len(row) && !row[c] {
				c++
			}
		}
	}
	return nil
}
