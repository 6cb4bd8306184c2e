// Package photo takes the pictures that casters take of castings: small, upright,
// and with nothing in them but what is seen. Where and with what a picture was
// taken is nobody's business and is left out.
package photo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // pictures of screens

	"github.com/disintegration/imaging"
	"github.com/rwcarlsen/goexif/exif"
	_ "golang.org/x/image/webp" // pictures of some telephones
)

// Limits of a picture.
const (
	MostBytes  = 25 << 20
	mostPixels = 64_000_000
	side       = 1600 // the longer, as it is kept
	smallSide  = 240
	quality    = 82
)

// Errors of a picture.
var (
	ErrNone = errors.New("this is no picture that can be read: take a JPEG, PNG or WebP")
	ErrLong = fmt.Errorf("this file is larger than %d MB: take the picture smaller", MostBytes>>20)
)

// TooMany says that a picture has more pixels than anybody needs.
type TooMany struct{ Wide, Tall int }

func (e TooMany) Error() string {
	return fmt.Sprintf("this picture is %d × %d, more than %d million pixels: take it smaller", e.Wide, e.Tall, mostPixels/1_000_000)
}

// Photo is a picture as it is kept.
type Photo struct {
	JPEG, Small []byte
	Wide, Tall  int
}

// Make makes a picture anew from a file. What has too many pixels is refused by its
// head, before anything is unpacked.
func Make(data []byte) (Photo, error) {
	if len(data) > MostBytes {
		return Photo{}, ErrLong
	}
	head, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || head.Width < 1 || head.Height < 1 {
		return Photo{}, ErrNone
	}
	if head.Width > mostPixels/head.Height {
		return Photo{}, TooMany{head.Width, head.Height}
	}
	whole, err := imaging.Decode(bytes.NewReader(data))
	if err != nil {
		return Photo{}, ErrNone
	}
	kept := upright(imaging.Fit(whole, side, side, imaging.Lanczos), data) // a small one turns in less memory
	size := kept.Bounds().Size()
	out := Photo{Wide: size.X, Tall: size.Y}
	if isKept(data, head) { // made by us: it would only get worse
		out.JPEG = data
	} else if out.JPEG, err = encoded(kept); err != nil {
		return Photo{}, err
	}
	out.Small, err = encoded(imaging.Fit(kept, smallSide, smallSide, imaging.Lanczos))
	return out, err
}

// upright turns a picture as the camera says that it was held.
func upright(img *image.NRGBA, data []byte) *image.NRGBA {
	head, err := exif.Decode(bytes.NewReader(data))
	if err != nil {
		return img
	}
	tag, err := head.Get(exif.Orientation)
	if err != nil {
		return img
	}
	held, err := tag.Int(0)
	if turn, ok := turns[held]; ok && err == nil {
		return turn(img)
	}
	return img
}

// turns are what the orientations of Exif 2.3 ask for, beside the first.
var turns = map[int]func(image.Image) *image.NRGBA{2: imaging.FlipH, 3: imaging.Rotate180, 4: imaging.FlipV, 5: imaging.Transpose,
	6: imaging.Rotate270, 7: imaging.Transverse, 8: imaging.Rotate90}

func encoded(img image.Image) ([]byte, error) {
	size := img.Bounds().Size()
	onWhite := imaging.OverlayCenter(imaging.New(size.X, size.Y, color.White), img, 1)
	var out bytes.Buffer
	err := jpeg.Encode(&out, onWhite, &jpeg.Options{Quality: quality})
	return out.Bytes(), err
}

// isKept is whether a file is a picture as it is kept: a JPEG of no more than the
// size, with no head but the picture's own and nothing behind its end.
func isKept(data []byte, head image.Config) bool {
	if max(head.Width, head.Height) > side || !bytes.HasSuffix(data, []byte{0xff, 0xd9}) {
		return false
	}
	for at := 2; at+4 <= len(data) && data[0] == 0xff && data[1] == 0xd8 && data[at] == 0xff; {
		kind := data[at+1]
		if kind == 0xda { // the picture itself begins, up to the only end
			return bytes.Count(data[at:], []byte{0xff, 0xd9}) == 1
		}
		if kind >= 0xe0 { // of programs, or a remark
			return false
		}
		at += 2 + int(data[at+2])<<8 + int(data[at+3])
	}
	return false
}
