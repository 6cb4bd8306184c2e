// Package paper puts a mould on paper: templates at their true size on pages
// that are glued together, and the build sheet that goes to the bench.
package paper

import (
	"bytes"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"bathyform/core/quantity"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/goregular"
)

// Size is that of a page.
type Size string

// The papers of a shop's printer.
const (
	A4     Size = "a4"
	Letter Size = "letter"
)

func (s Size) mm() (wide, tall float64) {
	if s == Letter {
		return 215.9, 279.4
	}
	return 210, 297
}

const family = "Go"

// begin starts a document whose bytes depend on nothing but what is drawn.
func begin(s Size, landscape bool, title string) *document {
	w, h := s.mm()
	way := "P"
	if landscape {
		way = "L"
	}
	pdf := &document{fpdf.NewCustom(&fpdf.InitType{OrientationStr: way, UnitStr: "mm", Size: fpdf.SizeType{Wd: w, Ht: h}})}
	pdf.SetCatalogSort(true)
	pdf.SetCreationDate(time.Unix(0, 0).UTC())
	pdf.SetModificationDate(time.Unix(0, 0).UTC())
	pdf.SetTitle(printable(title), true)
	pdf.SetCreator("Bathyform", true)
	pdf.AddUTF8FontFromBytes(family, "", goregular.TTF)
	pdf.AddUTF8FontFromBytes(family, "B", gobold.TTF)
	pdf.AddUTF8FontFromBytes(family, "I", goitalic.TTF)
	return pdf
}

func finish(pdf *document) ([]byte, error) {
	var b bytes.Buffer
	if err := pdf.Output(&b); err != nil {
		return nil, fmt.Errorf("write the PDF: %w", err)
	}
	return b.Bytes(), nil
}

// ink sets the colour of lines and words: a blue-black.
func ink(pdf *document) {
	pdf.SetDrawColor(22, 34, 46)
	pdf.SetTextColor(22, 34, 46)
}

// written is a kept value in a system's unit, with as many figures as can be used.
func written(value float64, k quantity.Kind, u quantity.Units) string {
	unit := u.Unit(k)
	v := value
	if unit != "" {
		if in, err := quantity.In(value, unit); err == nil {
			v = in
		}
	}
	digits := 0
	if v != 0 {
		digits = max(0, min(2, 3-int(math.Floor(math.Log10(math.Abs(v))))))
		if u.Of(k) == quantity.Metric || k == quantity.Time {
			digits = min(digits, 1)
		}
	}
	if k == quantity.Number && v == math.Trunc(v) {
		digits = 0 // a count
	}
	if unit != "" {
		unit = " " + unit
	}
	return u.Decimal(strconv.FormatFloat(v, 'f', digits, 64)) + unit
}

// Sides are lengths in mm, written one times the other.
func Sides(u quantity.Units, all ...float64) string {
	out := ""
	for i, v := range all {
		words := written(v, quantity.Length, u)
		if i < len(all)-1 {
			words = strings.TrimSuffix(words, " "+u.Unit(quantity.Length)) + " × "
		}
		out += words
	}
	return out
}
