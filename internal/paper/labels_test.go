package paper

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Labels are read by poppler: the number and what is under it, 24 on a page; the
// same labels are the same bytes.
func TestLabelsOfTheRack(t *testing.T) {
	var all []Label
	for i := range 26 {
		all = append(all, Label{Number: fmt.Sprintf("FL-%d", i+1), Says: []string{"Deck cleat", "tin-cure 30 A"},
			Opens: "http://127.0.0.1:8440/rack/1"})
	}
	data, err := Labels(A4, all)
	require.NoError(t, err)
	text := read(t, "pdftotext", data)
	assert.Contains(t, text, "FL-26")
	assert.Contains(t, text, "Deck cleat")
	assert.Contains(t, read(t, "pdfinfo", data), "Pages:           2")
	again, err := Labels(A4, all)
	require.NoError(t, err)
	assert.Equal(t, data, again)
	none, err := Labels(Letter, nil)
	require.NoError(t, err)
	assert.Contains(t, read(t, "pdftotext", none), "No mould is in use")
	_, err = Labels(A4, []Label{{Opens: string(make([]byte, 5000))}})
	assert.Error(t, err, "no code holds so much")
}
