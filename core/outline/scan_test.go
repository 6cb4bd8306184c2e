package outline

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scan draws where inside is true in one grey on another, with some noise.
func scan(width, height int, part, paper uint8, inside func(x, y float64) bool) image.Image {
	rng := rand.New(rand.NewPCG(1, 2))
	img := image.NewGray(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			v := paper
			if inside(float64(x)+0.5, float64(y)+0.5) {
				v = part
			}
			img.SetGray(x, y, color.Gray{v + uint8(rng.IntN(9))})
		}
	}
	return img
}

func asPNG(t *testing.T, img image.Image) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.Bytes()
}

// A washer of 20 mm with a hole of 8 mm at 200 dots an inch.
func washer(x, y float64) bool {
	r := math.Hypot(x-150, y-120) * 25.4 / 200
	return r < 10 && r > 4
}

func TestScanOfAWasher(t *testing.T) {
	var asJPEG bytes.Buffer
	require.NoError(t, jpeg.Encode(&asJPEG, scan(300, 240, 40, 230, washer), &jpeg.Options{Quality: 80}))
	for name, data := range map[string][]byte{
		"dark on light": asPNG(t, scan(300, 240, 40, 230, washer)),
		"light on dark": asPNG(t, scan(300, 240, 200, 10, washer)),
		"as JPEG":       asJPEG.Bytes(),
	} {
		d, err := Trace(data, 200)
		require.NoError(t, err, name)
		require.Len(t, d.Rings, 2, name)
		assert.InEpsilon(t, math.Pi*100, math.Abs(plane.Area(d.Rings[0])), 0.015, name)
		assert.InEpsilon(t, math.Pi*16, math.Abs(plane.Area(d.Rings[1])), 0.03, name)
		assert.Less(t, len(d.Rings[0]), 120, "%s: dots are not kept as steps", name)
	}
}

func TestDustIsLeftOut(t *testing.T) {
	d, err := Trace(asPNG(t, scan(300, 240, 40, 230, func(x, y float64) bool {
		return washer(x, y) || math.Hypot(x-20, y-20) < 2 || math.Hypot(x-280, y-30) < 1.5
	})), 200)
	require.NoError(t, err)
	assert.Len(t, d.Rings, 2)
	assert.NotEmpty(t, d.Notes)
}

func TestScansThatShowNothing(t *testing.T) {
	blank := asPNG(t, scan(100, 100, 0, 200, func(float64, float64) bool { return false }))
	good := asPNG(t, scan(300, 240, 40, 230, washer))
	for says, try := range map[string]func() error{
		"no outline":   func() error { _, err := Trace(blank, 200); return err },
		"no picture":   func() error { _, err := Trace([]byte("Dear caster"), 200); return err },
		"dots an inch": func() error { _, err := Trace(good, 0); return err },
		"cut short":    func() error { _, err := Trace(good[:len(good)/2], 200); return err },
		"4800 dots":    func() error { _, err := Trace(good, 1e9); return err },
	} {
		if err := try(); assert.Error(t, err, says) && says != "4800 dots" {
			assert.Contains(t, err.Error(), says)
		}
	}
}

// A picture that is small as a file and endless as a drawing is told so before
// it fills the memory.
func TestScansThatAreTooMuch(t *testing.T) {
	specks := scan(1000, 1000, 20, 230, func(x, y float64) bool { return (int(x)+int(y))%2 == 0 })
	_, err := Trace(asPNG(t, specks), 300)
	assert.ErrorContains(t, err, "all specks")

	var head bytes.Buffer // as it says of itself
	require.NoError(t, png.Encode(&head, image.NewGray16(image.Rect(0, 0, 1, 1))))
	for _, c := range []struct {
		wide, tall uint32
		says       string
	}{{1 << 15, 1 << 15, "32768 by 32768 dots"}, {1, 70_000_000, "by 70000000 dots"}, {6000, 6000, "8 bits a colour"}} {
		data := bytes.Clone(head.Bytes())
		binary.BigEndian.PutUint32(data[16:], c.wide)
		binary.BigEndian.PutUint32(data[20:], c.tall)
		binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
		_, err := Trace(data, 300)
		assert.ErrorContains(t, err, c.says)
	}
}

func FuzzTrace(f *testing.F) {
	img := scan(60, 48, 40, 230, func(x, y float64) bool { return washer(5*x, 5*y) })
	var asPNG, asJPEG bytes.Buffer
	require.NoError(f, png.Encode(&asPNG, img))
	require.NoError(f, jpeg.Encode(&asJPEG, img, nil))
	f.Add(asPNG.Bytes(), 40.0)
	f.Add(asJPEG.Bytes(), 40.0)
	f.Fuzz(func(t *testing.T, data []byte, dpi float64) {
		d, err := Trace(data, dpi)
		if err != nil {
			return
		}
		for _, r := range d.Rings {
			assert.Greater(t, math.Abs(plane.Area(r)), 0.0)
		}
	})
}
