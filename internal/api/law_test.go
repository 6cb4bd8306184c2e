package api_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// sheetWords is the build sheet as text.
func sheetWords(t *testing.T, pdf []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "sheet.pdf")
	require.NoError(t, os.WriteFile(path, pdf, 0o600))
	out, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", path, "-").Output()
	require.NoError(t, err)
	return string(out)
}

// The table of kinds, the board, the page while a hand drags, the pieces and
// the printed sheet say the same of a mould.
func TestThePageAndThePaperSayTheSame(t *testing.T) {
	s := open(t)
	meshed := s.take("collar-half")
	measured := s.newJob()
	s.send("PUT", s.path(measured, "/master"), measured.Version,
		map[string]any{"measured": map[string]any{"length": 60.0, "width": 40.0, "height": 14.0, "volume": 20.0}}).
		into(&measured)
	for _, j := range []api.Job{meshed, measured} {
		var shelf []api.Material
		s.send("GET", "/api/materials", -1, nil).into(&shelf)
		s.redesign(j, func(d map[string]any) {
			d["rubber"] = s.rubber("Tin-cure silicone 30 A, 10:1")
			for _, m := range shelf {
				if m.Kind == "resin" {
					d["resin"] = m.Id
				}
			}
		})
		rows := map[string]api.KindRow{}
		for _, e := range s.events(t.Context(), s.path(j, "/searches/kinds"), -1) {
			var k api.KindSearch
			require.NoError(t, json.Unmarshal(e, &k))
			if k.Row != nil {
				rows[k.Row.Kind] = *k.Row
			}
		}
		require.Len(t, rows, 10)
		for kind, row := range rows {
			if row.Rubber == nil {
				continue
			}
			t.Run(string(j.Master.Kind)+"/"+kind, func(t *testing.T) {
				kept := s.redesign(j, func(d map[string]any) { d["kind"] = kind })
				var st api.Study
				s.send("POST", s.path(j, "/study"), -1, kept.Design).into(&st)
				end := last[api.BuildSearch](t, s.events(t.Context(), s.path(j, "/searches/build"), -1))
				require.NotNil(t, end.Build)
				b := *end.Build
				in, of, on := figures(st.Numbers), figures(b.Numbers), figures(row.Numbers)
				assert.Equal(t, kind, b.Mould.Kind)
				assert.Equal(t, kind, st.Mould.Kind)
				for what, pair := range map[string][2]float64{
					"box": {in.of(st.Mould.Box.Volume), of.of(b.Mould.Box.Volume)}, "part": {in.of(st.Mould.Part), of.of(b.Mould.Part)},
					"life": {in.of(st.Mould.Life), of.of(b.Mould.Life)}, "rubber": {on.of(*row.Rubber), of.of(*b.Mould.Rubber)},
					"to mix": {on.of(*row.Mixed), of.of(*b.Mould.Mixed)},
					"first":  {on.of(*row.First), of.of(b.First)}, "work": {on.of(*row.Hands), of.of(b.Hands)},
					"moulds": {on.of(*row.Moulds), of.of(b.Moulds)},
					"score":  {on.of(*row.Score), of.of(b.Score)}, "finishing": {on.of(*row.Finish), of.of(b.Finish)},
				} {
					assert.Equal(t, pair[0], pair[1], what)
				}
				if st.Mould.Rubber != nil {
					assert.InEpsilon(t, in.of(*st.Mould.Rubber), of.of(*b.Mould.Rubber), 1e-7)
				}
				assert.Equal(t, row.Fits, b.Fits)
				assert.Equal(t, row.Why, b.Why)
				if row.Pieces != nil && len(b.Pieces) > 0 {
					assert.Len(t, b.Pieces, *row.Pieces)
				}
				require.Len(t, st.Mould.Pours, len(b.Mould.Pours))
				poured, pieces := 0.0, 0.0
				pdf := s.send("GET", s.path(j, "/build-sheet.pdf"), -1, nil)
				require.Equal(t, http.StatusOK, pdf.Status)
				words := sheetWords(t, pdf.Body)
				for i, p := range b.Mould.Pours {
					assert.Equal(t, st.Mould.Pours[i].Name, p.Name)
					assert.Equal(t, st.Mould.Pours[i].Level, p.Level)
					if p.Volume == nil {
						continue
					}
					poured += of.of(*p.Volume)
					assert.Contains(t, words, fmt.Sprintf("%.1f", of.of(p.Batch.A)), "%s is weighed as the board says: part A", p.Name)
				}
				for _, p := range b.Pieces {
					pieces += of.of(p.Volume)
				}
				if poured > 0 {
					assert.InEpsilon(t, of.of(*b.Mould.Rubber), poured, 1e-6)
				}
				if pieces > 0 {
					assert.InEpsilon(t, poured, pieces, 1e-6, "the pieces are what is poured")
				}
				assert.Contains(t, strings.ToLower(words), strings.ToLower(b.Mould.Name))
				for _, step := range b.Steps {
					assert.NotEmpty(t, step.Do)
				}
				numbered := regexp.MustCompile(`(?:^|\W)(\d+)\. [A-Z]`).FindAllStringSubmatch(words, -1)
				most := 0
				for _, n := range numbered {
					v, err := strconv.Atoi(n[1])
					require.NoError(t, err)
					most = max(most, v)
				}
				assert.Equal(t, len(b.Steps), most, "the sheet has every step of the board")
			})
		}
	}
}

// A hand that drags must not wait for the wire.
func TestTheStudyOfTheCleatIsShort(t *testing.T) {
	s := open(t)
	var jobs []api.Job
	s.send("GET", "/api/jobs", -1, nil).into(&jobs)
	j := jobs[0]
	require.Equal(t, "Deck cleat", j.Order.Name)
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	a := s.send("POST", s.path(j, "/study"), -1, kept.Design)
	assert.LessOrEqual(t, len(a.Body), 60_000)
	var st api.Study
	a.into(&st)
	seen := map[string]bool{}
	for _, n := range st.Numbers {
		row, err := json.Marshal(n)
		require.NoError(t, err)
		assert.False(t, seen[string(row)], "each derivation is sent once: %s", row)
		seen[string(row)] = true
		assert.False(t, math.IsNaN(n.Value))
		for _, in := range n.Inputs {
			if in.Number != nil {
				assert.Less(t, *in.Number, len(st.Numbers))
			}
		}
	}
}

// Whoever shows the proposal for the old master cannot keep it for the new one.
func TestANewMasterIsToldToWhoeverShowsTheOldDesign(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	var shown api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&shown)
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"demoPart": "collar-half"}).into(&j)
	s.send("PUT", s.path(j, "/design"), shown.Version, shown.Design).problem(http.StatusPreconditionFailed, "another window")
	var now api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&now)
	s.send("PUT", s.path(j, "/design"), now.Version, now.Design).into(&now)
}
