package photo_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"bathyform/internal/photo"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// picture is red on the left and blue on the right.
func picture(wide, tall int) image.Image {
	img := image.NewRGBA(image.Rect(0, 0, wide, tall))
	for y := range tall {
		for x := range wide {
			c := color.RGBA{200, 0, 0, 255}
			if x >= wide/2 {
				c = color.RGBA{0, 0, 200, 255}
			}
			img.Set(x, y, c)
		}
	}
	return img
}

func asJPEG(t *testing.T, img image.Image) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, img, nil))
	return out.Bytes()
}

// withExif puts a head of a camera into a JPEG: which way it was held, and a place.
func withExif(data []byte, orientation uint16) []byte {
	var tiff bytes.Buffer
	tiff.WriteString("MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01")
	_ = binary.Write(&tiff, binary.BigEndian, orientation)
	tiff.WriteString("\x00\x00\x00\x00\x00\x00SECRET PLACE 54.1N")
	body := append([]byte("Exif\x00\x00"), tiff.Bytes()...)
	head := []byte{0xff, 0xe1, byte((len(body) + 2) >> 8), byte(len(body) + 2)}
	out := append([]byte{}, data[:2]...)
	return append(append(append(out, head...), body...), data[2:]...)
}

// Where the red side comes to lie for each way in which a camera was held (Exif 2.3).
func TestAPictureStandsUpright(t *testing.T) {
	for held, red := range map[uint16][2]int{1: {10, 50}, 2: {190, 50}, 3: {190, 50}, 4: {10, 50}, 5: {50, 10}, 6: {50, 10}, 7: {50, 190},
		8: {50, 190}} {
		got, err := photo.Make(withExif(asJPEG(t, picture(200, 100)), held))
		require.NoError(t, err)
		img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
		require.NoError(t, err)
		r, _, b, _ := img.At(red[0], red[1]).RGBA()
		assert.Greater(t, r, b, "held as %d", held)
	}
}

func TestAPictureIsMadeAnew(t *testing.T) {
	raw := withExif(asJPEG(t, picture(2400, 1200)), 6) // held upright: turned a quarter to the right
	got, err := photo.Make(raw)
	require.NoError(t, err)
	assert.Equal(t, []int{800, 1600}, []int{got.Wide, got.Tall}, "upright, and no larger than needed")
	assert.NotContains(t, string(got.JPEG), "SECRET")
	assert.NotContains(t, string(got.JPEG), "Exif")
	img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
	require.NoError(t, err)
	r, _, b, _ := img.At(400, 100).RGBA()
	assert.Greater(t, r, b, "what was left is above")
	small, err := jpeg.DecodeConfig(bytes.NewReader(got.Small))
	require.NoError(t, err)
	assert.Equal(t, []int{120, 240}, []int{small.Width, small.Height})
}

// Brought in again, a picture does not get worse.
func TestAKeptPictureStaysAsItIs(t *testing.T) {
	first, err := photo.Make(asJPEG(t, picture(2000, 900)))
	require.NoError(t, err)
	again, err := photo.Make(first.JPEG)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(first.JPEG, again.JPEG))
	hidden := append(append([]byte{}, first.JPEG...), "something else\xff\xd9"...)
	other, err := photo.Make(hidden)
	require.NoError(t, err)
	assert.NotContains(t, string(other.JPEG), "something else")
}

func TestSeeThroughIsWhite(t *testing.T) {
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, image.NewNRGBA(image.Rect(0, 0, 20, 20))))
	got, err := photo.Make(out.Bytes())
	require.NoError(t, err)
	img, err := jpeg.Decode(bytes.NewReader(got.JPEG))
	require.NoError(t, err)
	r, g, b, _ := img.At(10, 10).RGBA()
	assert.Greater(t, min(r, g, b), uint32(0xf000))
}

// huge is the head of a PNG of 60,000 × 60,000.
func huge() []byte {
	ihdr := []byte("IHDR\x00\x00\xea\x60\x00\x00\xea\x60\x08\x02\x00\x00\x00")
	out := []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x0d")
	out = append(out, ihdr...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(ihdr))
}

func TestWhatIsNoPicture(t *testing.T) {
	for name, data := range map[string][]byte{"nothing": nil, "words": []byte("no picture at all"),
		"half of one": asJPEG(t, picture(300, 300))[:900],
		"a shape":     []byte("solid x\nendsolid")} {
		_, err := photo.Make(data)
		assert.ErrorIs(t, err, photo.ErrNone, name)
	}
	_, err := photo.Make(huge())
	assert.Equal(t, photo.TooMany{Wide: 60000, Tall: 60000}, err)
	assert.ErrorContains(t, err, "take it smaller")
	_, err = photo.Make(make([]byte, 60<<20))
	assert.ErrorIs(t, err, photo.ErrLong)
}

func FuzzMake(f *testing.F) {
	f.Add([]byte("\xff\xd8\xff\xe0"))
	f.Add(huge())
	f.Fuzz(func(t *testing.T, data []byte) {
		got, err := photo.Make(data)
		if err != nil {
			return
		}
		head, _, err := image.DecodeConfig(bytes.NewReader(got.JPEG))
		require.NoError(t, err)
		assert.Equal(t, []int{got.Wide, got.Tall}, []int{head.Width, head.Height})
		assert.LessOrEqual(t, max(got.Wide, got.Tall), 1600)
	})
}
