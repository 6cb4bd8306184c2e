package api_test

import (
	"testing"

	"bathyform/internal/api"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
)

func TestTheSampleJobComesAfreshOnce(t *testing.T) {
	s := open(t)
	count := func() int {
		var all []api.Job
		s.send("GET", "/api/jobs", -1, nil).into(&all)
		return len(all)
	}
	before := count()
	s.key = uuid.NewString()
	var first, again api.Job
	s.send("POST", "/api/sample", -1, nil).into(&first)
	s.send("POST", "/api/sample", -1, nil).into(&again)
	assert.Equal(t, first.Id, again.Id, "an answer that was lost adds no second one")
	assert.Equal(t, before+1, count())
	s.key = ""
	assert.Equal(t, "Deck cleat", first.Order.Name)
	assert.Zero(t, first.Good)
	var kept api.KeptDesign
	s.send("GET", s.path(first, "/design"), -1, nil).into(&kept)
	assert.Len(t, kept.Design.Vents, 2, "one horn has no vent, as at first")
	assert.NotEmpty(t, kept.Design.Rubber)
}
