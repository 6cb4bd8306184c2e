package outline

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	_ "image/jpeg" // scans come as either
	_ "image/png"
	"math"

	"bathyform/core/plane"
)

// Bounds on a scan.
const (
	mostPixels = 60_000_000
	mostSpecks = 100_000
	leastShare = 0.002 // of the largest outline's area: smaller ones are dust
	leastDPI   = 20
	mostDPI    = 4800
)

// Trace finds the outlines of a flat part on a scan: what stands out from the
// paper, dark on light or light on dark. Dpi is the scan's resolution.
func Trace(data []byte, dpi float64) (Drawing, error) {
	if !(dpi >= leastDPI && dpi <= mostDPI) {
		return Drawing{}, fmt.Errorf("a scan has %d to %d dots an inch, not %g", leastDPI, mostDPI, dpi)
	}
	config, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return Drawing{}, errors.New("this is no picture that can be read: save the scan as PNG or JPEG")
	}
	most := mostPixels
	switch config.ColorModel {
	case color.RGBA64Model, color.NRGBA64Model, color.Gray16Model:
		most /= 2
	}
	if config.Width > most || config.Height > most || config.Width*config.Height > most {
		return Drawing{}, fmt.Errorf(
			"the scan has %d by %d dots; scan at fewer dots an inch, with 8 bits a colour",
			config.Width,
			config.Height,
		)
	}
	picture, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return Drawing{}, errors.New("the picture is damaged or cut short; save it again")
	}
	mask, width, height, err := figure(picture)
	if err != nil {
		return Drawing{}, err
	}
	g := &gather{}
	mm := 25.4 / dpi
	seen := 0
	for loop := range plane.EachBorder(mask, width, height) {
		if seen++; seen > mostSpecks {
			return Drawing{}, errors.New("the scan is all specks; lay the part on plain paper, press it flat, and scan with more contrast")
		}
		ring := make([]plane.Point, len(loop))
		for i, p := range loop {
			ring[i] = plane.Point{float64(p[0]) * mm, -float64(p[1]) * mm}
		}
		ring = plane.Simplified(ring, 0.8*mm) // the steps of the dots
		g.ring(ring)
	}
	d, err := g.done()
	if err != nil {
		return d, errors.New("the scan shows no outline; more contrast between part and paper will help")
	}
	kept := d.Rings[:0]
	for _, r := range d.Rings {
		if math.Abs(plane.Area(r)) >= leastShare*math.Abs(plane.Area(d.Rings[0])) {
			kept = append(kept, r)
		}
	}
	if dust := len(d.Rings) - len(kept); dust > 0 {
		d.Notes = append(d.Notes, fmt.Sprintf("%d specks were left out", dust))
	}
	d.Rings = kept
	return d, nil
}

// figure parts a picture into part and paper at Otsu's threshold (1979); the
// side that most of the rim belongs to is paper.
func figure(p image.Image) (mask []bool, width, height int, err error) {
	b := p.Bounds()
	width, height = b.Dx(), b.Dy()
	grey := make([]uint8, width*height)
	var count [256]float64
	for y := range height {
		for x := range width {
			r, g, bl, a := p.At(b.Min.X+x, b.Min.Y+y).RGBA()
			v := (299*r + 587*g + 114*bl) / 1000
			v += (0xffff - a) // transparent is paper
			k := uint8(min(v, 0xffff) >> 8)
			grey[y*width+x] = k
			count[k]++
		}
	}
	threshold, contrast := otsu(count)
	if contrast < 24 {
		return nil, 0, 0, errors.New("the scan shows no outline; it is nearly the same grey all over")
	}
	mask = make([]bool, len(grey))
	dark, rim := 0, 0
	for y := range height {
		for x := range width {
			mask[y*width+x] = grey[y*width+x] <= threshold
			if x == 0 || y == 0 || x == width-1 || y == height-1 {
				rim++
				if mask[y*width+x] {
					dark++
				}
			}
		}
	}
	if 2*dark > rim { // light on dark
		for i := range mask {
			mask[i] = !mask[i]
		}
	}
	return mask, width, height, nil
}

// otsu returns the threshold that parts a histogram best, and the distance
// between the means of its two sides.
func otsu(count [256]float64) (threshold uint8, contrast float64) {
	var total, sum float64
	for v, n := range count {
		total += n
		sum += float64(v) * n
	}
	var below, sumBelow, best float64
	for v, n := range count {
		below += n
		sumBelow += float64(v) * n
		if below == 0 || below == total {
			continue
		}
		gap := (sum-sumBelow)/(total-below) - sumBelow/below
		if between := below * (total - below) * gap * gap; between > best {
			best, threshold, contrast = between, uint8(v), gap
		}
	}
	return threshold, contrast
}
