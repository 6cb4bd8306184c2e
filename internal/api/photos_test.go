package api_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/jpeg"
	"testing"

	"bathyform/internal/api"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// aPhoto is a picture as a telephone takes it.
func aPhoto(t testing.TB) []byte { t.Helper(); return aPicture(t, 2000, 1500) }

func aPicture(t testing.TB, wide, tall int) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, image.NewRGBA(image.Rect(0, 0, wide, tall)), nil))
	return out.Bytes()
}

// aPull logs one from a mould.
func (s shop) aPull(mould string, body map[string]any) (p api.Pull) {
	s.t.Helper()
	s.send("POST", "/api/moulds/"+mould+"/pulls", -1, body).into(&p)
	return p
}

func TestPicturesOfAPull(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("P-1")
	p := s.aPull(ids[0], map[string]any{"pulled": "2026-01-10", "results": []any{map[string]any{"cavity": 1, "good": true}}})
	to := "/api/pulls/" + p.Id.String() + "/photos"
	var kept api.Photo
	s.key = uuid.NewString()
	for range 2 { // sent again after the answer was lost
		s.send("POST", to+"?cavity=1", -1, aPhoto(t)).into(&kept)
	}
	s.key = ""
	assert.Equal(t, [2]int{1600, 1200}, [2]int{kept.Wide, kept.Tall})
	list := func() []api.Photo {
		t.Helper()
		var page api.PullPage
		s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&page)
		return *page.Pulls[0].Photos
	}
	assert.Equal(t, []api.Photo{kept}, list())
	whole := s.send("GET", "/api/photos/"+kept.Id.String(), -1, nil)
	require.Equal(t, 200, whole.Status)
	assert.Equal(t, "image/jpeg", whole.Header.Get("Content-Type"))
	small := s.send("GET", "/api/photos/"+kept.Id.String()+"?small=true", -1, nil)
	assert.Less(t, len(small.Body), len(whole.Body))
	s.send("POST", to+"?cavity=9", -1, aPhoto(t)).problem(422, "fewer cavities")

	require.Equal(t, 204, s.send("DELETE", "/api/photos/"+kept.Id.String(), -1, nil).Status)
	assert.Empty(t, list())
	require.Equal(t, 204, s.send("DELETE", "/api/photos/"+kept.Id.String()+"/struck", -1, nil).Status)
	assert.Len(t, list(), 1)
	s.send("GET", "/api/photos/"+uuid.NewString(), -1, nil).problem(404, "")
	s.send("POST", "/api/pulls/"+uuid.NewString()+"/photos", -1, aPhoto(t)).problem(404, "")

	// out of the log and into an empty one they come without loss
	doc := s.send("GET", "/api/log/json", -1, nil).Body
	other := open(t)
	other.cleats("P-1")
	var plan api.LogPlan
	other.send("POST", "/api/log/preview", -1, doc).into(&plan)
	require.Equal(t, 1, plan.Adds)
	var taken api.LogTaken
	other.send("POST", "/api/log/imports/"+plan.Id.String(), -1, nil).into(&taken)
	assert.Equal(t, whole.Body, other.send("GET", "/api/photos/"+kept.Id.String(), -1, nil).Body, "the very same picture")
}

func TestWhatIsNoPictureIsRefused(t *testing.T) {
	s := open(t)
	_, ids := s.cleats("P-1")
	p := s.aPull(ids[0], map[string]any{"pulled": "2026-01-10", "results": []any{map[string]any{"cavity": 1, "good": true}}})
	to := "/api/pulls/" + p.Id.String() + "/photos"
	s.send("POST", to, -1, []byte("no picture")).problem(422, "no picture that can be read")
	s.send("POST", to, -1, make([]byte, 60<<20)).problem(413, "too large")
	ihdr := []byte("IHDR\x00\x00\xea\x60\x00\x00\xea\x60\x08\x02\x00\x00\x00")
	huge := binary.BigEndian.AppendUint32(append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x0d"), ihdr...), crc32.ChecksumIEEE(ihdr))
	s.send("POST", to, -1, huge).problem(422, "60000 × 60000")
	for range 24 {
		require.Equal(t, 201, s.send("POST", to, -1, aPicture(t, 40, 30)).Status)
	}
	s.send("POST", to, -1, aPicture(t, 40, 30)).problem(409, "pictures enough")
}
