package paper

import (
	"strings"
	"sync"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
)

// document is a PDF whose words may hold anything that a caster has typed:
// what the font has no sign for, such as a smiling face, is printed as a
// question mark.
type document struct{ *fpdf.Fpdf }

// Text prints words at a place.
func (d *document) Text(x, y float64, words string) { d.Fpdf.Text(x, y, printable(words)) }

// CellFormat prints words into a box; see [fpdf.Fpdf.CellFormat].
func (d *document) CellFormat(w, h float64, words, border string, ln int, align string, fill bool, link int, linkStr string) {
	d.Fpdf.CellFormat(w, h, printable(words), border, ln, align, fill, link, linkStr)
}

// MultiCell prints words over several lines.
func (d *document) MultiCell(w, h float64, words, border, align string, fill bool) {
	d.Fpdf.MultiCell(w, h, printable(words), border, align, fill)
}

// GetStringWidth is how wide words are printed.
func (d *document) GetStringWidth(words string) float64 {
	return d.Fpdf.GetStringWidth(printable(words))
}

var signs = sync.OnceValue(func() *sfnt.Font {
	font, err := sfnt.Parse(goregular.TTF)
	if err != nil {
		panic(err) // it is part of the program
	}
	return font
})

// printable is words as far as the font has signs for them.
func printable(words string) string {
	font := signs()
	var buf sfnt.Buffer
	return strings.Map(func(r rune) rune {
		if r == '\n' {
			return r
		}
		if glyph, err := font.GlyphIndex(&buf, r); err != nil || glyph == 0 || r > 0xffff {
			return '?'
		}
		return r
	}, words)
}
