package api_test

import (
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
)

// What is refused is refused in what the shop measures in; so is the limit.
func TestARefusalIsInTheShopsUnits(t *testing.T) {
	s := open(t)
	var all []api.Job
	s.send("GET", "/api/jobs", -1, nil).into(&all)
	var kept api.KeptDesign
	s.send("GET", s.path(all[0], "/design"), -1, nil).into(&kept)
	kept.Design.Clearance.Beside = 600
	refused := func(want string) {
		t.Helper()
		assert.Contains(t, string(s.send("POST", s.path(all[0], "/study"), -1, kept.Design).Body), want)
	}
	refused("between 0.5 mm and 500 mm, not 600 mm")
	var now api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&now)
	now.Practice.Each = &map[string]string{"length": "us"}
	now.Practice.DecimalComma = true
	s.send("PUT", "/api/shop/practice", now.Version, now.Practice).into(&now)
	refused("between 0,0197 in and 19,7 in, not 23,6 in")
}
