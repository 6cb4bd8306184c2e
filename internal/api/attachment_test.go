package api

import (
	"mime"
	"testing"

	"bathyform/internal/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAFileIsNamedByJobKindAndVersion(t *testing.T) {
	for _, c := range []struct {
		job, what string
		want      string
	}{
		{"Deck cleat", "Half A", "deck-cleat-half-a-v3.stl"},
		{`../..\"x"`, "mould", "x-mould-v3.stl"},
		{"مشبك السطح", "mould", "مشبك-السطح-mould-v3.stl"},
		{"Schäkel, groß", "plan", "schäkel-groß-plan-v3.stl"},
	} {
		kind, params, err := mime.ParseMediaType(attachment(store.Job{Order: store.Order{Name: c.job}, DesignVersion: 3}, c.what, "stl"))
		require.NoError(t, err)
		assert.Equal(t, "attachment", kind)
		assert.Equal(t, c.want, params["filename"])
	}
}
