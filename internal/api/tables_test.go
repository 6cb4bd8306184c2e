package api_test

import (
	"bytes"
	"encoding/csv"
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (s *shop) table(path string, comma rune) [][]string {
	s.t.Helper()
	got := s.send("GET", path, -1, nil)
	require.Equal(s.t, 200, got.Status, string(got.Body))
	assert.Contains(s.t, got.Header.Get("Content-Disposition"), ".csv")
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(got.Body, []byte("\ufeff"))))
	r.Comma = comma
	rows, err := r.ReadAll()
	require.NoError(s.t, err)
	return rows
}

func TestATableIsWrittenForASpreadsheet(t *testing.T) {
	s := open(t)
	jobs := s.table("/api/tables/jobs", ',')
	assert.Equal(t, []string{"Job", "Wanted", "Good", "Scrap", "Due", "Set", "In every set", "Notes"}, jobs[0])
	assert.Equal(t, "Deck cleat", jobs[1][0])
	var all []api.Job
	s.send("GET", "/api/jobs", -1, nil).into(&all)
	cleat := all[0].Id.String()
	var page struct{ Total int }
	s.send("GET", "/api/pulls?limit=1&job="+cleat, -1, nil).into(&page)
	log := s.table("/api/tables/log?job="+cleat, ',')
	days := map[string]bool{}
	for _, row := range log[1:] {
		days[row[0]+row[1]+row[2]+row[3]+row[8]] = true
	}
	assert.GreaterOrEqual(t, len(log)-1, page.Total, "a row a casting")
	assert.Greater(t, len(days), 5)
	assert.Len(t, s.table("/api/tables/rack", ',')[1], 15)
	s.send("GET", "/api/tables/log", -1, nil).problem(422, "Which job")

	// a name that a spreadsheet would take for a sum, in a shop that writes commas
	s.send("POST", "/api/jobs", -1, map[string]any{"name": "=HYPERLINK(\"x\")", "quantity": 1})
	var now api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&now)
	now.Practice.DecimalComma = true
	s.send("PUT", "/api/shop/practice", now.Version, now.Practice).into(&now)
	jobs = s.table("/api/tables/jobs", ';')
	assert.Equal(t, `'=HYPERLINK("x")`, jobs[len(jobs)-1][0])
	stock := s.table("/api/tables/stock", ';')
	assert.Contains(t, stock[1][5], ",")
}
