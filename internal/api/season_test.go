package api_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A season out of a spreadsheet: every line is said beforehand, it is taken once
// however often it is sent, and what comes out goes back in without loss.
func TestASeasonIsReadFromASpreadsheet(t *testing.T) {
	s := open(t)
	j, _ := s.cleats("S-1", "S-2")
	file := strings.Join(
		[]string{
			"Date;Mould;A, g;B, g;Cavity;Result;Defect;Notes;°C;Lot;Who",
			"4.3.2026;S-1;44,5;39;1;good;;=2+2;21,5;L-7;Ida",
			"5.3.2026;S-1;44,5;39;1;scrap;short fill;",
			"5.3.2026;S-9;;;1;good;;",
			"1.1.2020;S-2;;;1;good;;",
			"5.3.2026;S-2;;;3;good;;",
			"5.3.2026;S-2;;;1;scrap;;",
			"6.3.2026;S-2;1,5,3;;1;good;;",
		},
		"\r\n",
	)
	look := func(data string) (p api.LogPlan) {
		t.Helper()
		s.send("POST", "/api/log/preview?dayFirst=true", -1, []byte(data)).into(&p)
		return p
	}
	p := look(file)
	assert.Equal(t, [4]int{7, 2, 0, 5}, [4]int{p.Pulls, p.Adds, p.Known, p.Refused})
	var why []string
	for _, st := range p.Steps {
		if st.Why != nil {
			why = append(why, fmt.Sprint(st.Line, " ", *st.Why))
		}
	}
	for i, says := range []string{"4 There is no mould S-9", "5 S-2 was not poured by then", "6 S-2 has no cavity " +
		"3", "7 What was wrong", "8 \"1,5,3\""} {
		assert.Contains(t, why[i], says)
	}
	take := func(p api.LogPlan) (taken api.LogTaken) {
		t.Helper()
		s.send("POST", "/api/log/imports/"+p.Id.String(), -1, nil).into(&taken)
		return taken
	}
	assert.Equal(t, 2, take(p).Added)
	again := look(file)
	assert.Equal(t, [3]int{0, 2, 5}, [3]int{again.Adds, again.Known, again.Refused}, "the same file again")
	assert.Zero(t, take(p).Added, "pressed twice")

	var page api.PullPage
	s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&page)
	require.Equal(t, 2, page.Total)
	assert.Equal(t, "=2+2", *page.Pulls[1].Notes)
	assert.InDelta(t, 44.5, *page.Pulls[1].MassA, 1e-9)
	assert.InDelta(t, 21.5, *page.Pulls[1].Celsius, 1e-9)
	assert.Equal(t, "L-7", *page.Pulls[1].Lot)
	assert.Equal(t, "Ida", *page.Pulls[1].Who)
	moulds := s.rack("?job=" + j.Id.String())
	assert.Equal(t, [3]int{2, 1, 1}, [3]int{moulds[0].Pulls, moulds[0].Good, moulds[0].Scrap})

	s.send("DELETE", "/api/pulls/"+page.Pulls[0].Id.String(), -1, nil)
	for _, form := range []string{"csv", "json"} {
		out := s.send("GET", "/api/log/"+form, -1, nil)
		require.Equal(t, http.StatusOK, out.Status)
		back := look(string(out.Body))
		assert.Zero(t, back.Adds, "%s: all of it is known", form)
		assert.Zero(t, back.Refused, form)
		assert.Equal(t, back.Pulls, back.Known)
		if form == "csv" {
			assert.Contains(t, string(out.Body), "'=2+2", "no spreadsheet takes it for a sum")
		}
	}
	// into another shop that has the moulds: the same log, struck pulls as well
	data := s.send("GET", "/api/log/json", -1, nil).Body
	other := open(t)
	other.cleats("S-1", "S-2")
	var p2 api.LogPlan
	other.send("POST", "/api/log/preview", -1, data).into(&p2)
	var taken api.LogTaken
	other.send("POST", "/api/log/imports/"+p2.Id.String(), -1, nil).into(&taken)
	assert.GreaterOrEqual(t, taken.Added, 2)
	csvOf := func(s shop) (lines []string) {
		for _, l := range strings.Split(string(s.send("GET", "/api/log/csv", -1, nil).Body), "\r\n") {
			if strings.Contains(l, ",S-") {
				lines = append(lines, l)
			}
		}
		return lines
	}
	assert.Equal(t, csvOf(s), csvOf(other))

	s.send("POST", "/api/log/preview", -1, []byte("")).problem(http.StatusUnprocessableEntity, "nothing in this file")
	s.send("POST", "/api/log/preview", -1, []byte("a,b\n1,2")).problem(http.StatusUnprocessableEntity, "header")
	s.send("POST", "/api/log/preview", -1, []byte(`{"format":"x"}`)).problem(http.StatusUnprocessableEntity, "no log")
	s.send("POST", "/api/log/imports/5ea11e00-0000-4000-8000-00000000ffff", -1, nil).problem(http.StatusNotFound, "again")
}

// Ten thousand lines are looked at and taken.
func BenchmarkATenThousandLineSeason(b *testing.B) {
	s := open(b)
	_, _ = s.cleats("S-1")
	for b.Loop() {
		b.StopTimer()
		var file strings.Builder
		file.WriteString("Day,Mould,Cavity,Casting,Notes\n")
		for i := range 10_000 {
			fmt.Fprintf(&file, "2026-03-%02d,S-1,1,good,%d of %d\n", 1+i%28, i, b.N)
		}
		b.StartTimer()
		var p api.LogPlan
		s.send("POST", "/api/log/preview", -1, []byte(file.String())).into(&p)
		var taken api.LogTaken
		s.send("POST", "/api/log/imports/"+p.Id.String(), -1, nil).into(&taken)
	}
}
