package api_test

import (
	"fmt"
	"net/url"
	"slices"
	"testing"
	"time"

	"bathyform/internal/api"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func uuidOf(t testing.TB, s string) uuid.UUID {
	t.Helper()
	id, err := uuid.Parse(s)
	require.NoError(t, err)
	return id
}

func (s shop) mouldPage(id string) (page api.MouldPage) {
	s.t.Helper()
	s.send("GET", "/api/moulds/"+id+"/page", -1, nil).into(&page)
	return page
}

// From the pour to the end: what it was born with stands apart from its wear, and an
// accident is none.
func TestAMouldFromItsBirthToItsEnd(t *testing.T) {
	s := open(t)
	j, _ := s.cleats()
	const rubber = "Tin-cure silicone 30 A, 10:1"
	today := time.Now().Format(time.DateOnly)
	add := func(number string, more map[string]any) (m api.Mould) {
		t.Helper()
		body := map[string]any{"number": number, "rubber": rubber, "poured": today, "cavities": 1}
		for k, v := range more {
			body[k] = v
		}
		s.send("POST", s.path(j, "/moulds"), -1, body).into(&m)
		return m
	}
	fresh := add("B-1", map[string]any{"place": "shelf 2", "pieces": 2, "lot": "R-3"})
	page := s.mouldPage(fresh.Id.String())
	assert.Equal(t, api.MouldState("curing"), page.State)
	assert.Contains(t, page.Findings[0].What, "Nobody has looked at it")
	assert.Equal(t, []any{"shelf 2", 2, "R-3"}, []any{*page.Mould.Place, *page.Mould.Pieces, *page.Mould.Lot})
	assert.NotEmpty(t, *page.Up)
	assert.Contains(t, page.Story[len(page.Story)-1].Says, "lot R-3")

	body := map[string]any{
		"number":   "B-1",
		"rubber":   rubber,
		"poured":   "2026-01-05",
		"cavities": 1,
		"birth":    []string{"bubbles", "torn edge"},
		"place":    "shelf 3",
	}
	require.Equal(t, 200, s.send("PUT", "/api/moulds/"+fresh.Id.String(), 1, body).Status)
	page = s.mouldPage(fresh.Id.String())
	assert.Equal(t, api.MouldState("ready"), page.State)
	assert.Contains(t, page.Findings[0].What, "Born with bubbles, torn edge")
	assert.Contains(t, page.Findings[0].Why, "not against its wear")
	clean := add("B-2", map[string]any{"birth": []string{}, "poured": "2026-01-05"})
	assert.Empty(t, s.mouldPage(clean.Id.String()).Findings)

	mishaps := func() (n, pulls float64) {
		p := s.mouldPage(fresh.Id.String())
		row := p.Numbers[p.Accidents.N]
		return row.Inputs[0].Value, row.Inputs[1].Value
	}
	was, _ := mishaps()
	end := func(m api.Mould, how string) answer {
		body := map[string]any{"retired": today}
		if how != "" {
			body["ended"] = how
		}
		return s.send("PUT", "/api/moulds/"+m.Id.String()+"/retirement", -1, body)
	}
	end(clean, "").problem(422, "How did it end")
	worn := s.mouldPage(fresh.Id.String()).Mould.WornMoulds
	require.Equal(t, 200, end(clean, "torn").Status)
	now, _ := mishaps()
	assert.InDelta(t, was+1, now, 1e-9)
	assert.Equal(t, worn, s.mouldPage(fresh.Id.String()).Mould.WornMoulds, "an accident is no wear")
	assert.Contains(t, s.mouldPage(clean.Id.String()).Story[0].Says, "Torn by hand")
	require.Equal(t, 200, end(clean, "done").Status)
	now, _ = mishaps()
	assert.InDelta(t, was, now, 1e-9, "no longer wanted is no accident")
}

// What release does is said with its interval, and that nothing can be told yet.
func TestWhatReleaseDoesIsNotToldTooSoon(t *testing.T) {
	s := open(t)
	_, ids := s.cleats("R-1", "R-2")
	for i, id := range ids {
		for range 4 + i {
			s.aPull(
				id,
				map[string]any{
					"pulled":  "2026-01-10",
					"celsius": 20 + 5*i,
					"results": []any{map[string]any{"cavity": 1, "good": true}},
				},
			)
		}
	}
	require.Equal(
		t,
		204,
		s.send("POST", "/api/moulds/"+ids[0]+"/care", -1, map[string]any{"day": "2026-01-11", "what": "released"}).Status,
	)
	page := s.mouldPage(ids[0])
	require.Len(t, *page.Compared, 3)
	with := func(p api.MouldPage) int { return (*p.Compared)[0].Moulds }
	was := with(page)
	s.aPull(ids[0], map[string]any{"pulled": "2026-01-12", "celsius": 20, "results": []any{map[string]any{"cavity": 1, "good": true}}})
	page = s.mouldPage(ids[0])
	assert.Equal(t, was+1, with(page), "it counts as released from its first pull after that on")
	for _, c := range *page.Compared {
		assert.False(t, c.Tells, c.What)
		assert.Contains(t, c.Says, "yet", c.What)
	}
}

func TestTheRackInPages(t *testing.T) {
	s := open(t)
	var names []string
	for i := range 7 {
		names = append(names, fmt.Sprintf("Z_%d", i))
	}
	s.cleats(names...)
	var first, second api.RackPage
	s.send("GET", "/api/moulds?text=z_&limit=4", -1, nil).into(&first)
	s.send("GET", "/api/moulds?text=z_&limit=4&skip=4", -1, nil).into(&second)
	assert.Equal(t, [3]int{7, 4, 3}, [3]int{first.Total, len(first.Moulds), len(second.Moulds)})
	assert.Equal(t, "Z_4", second.Moulds[0].Number)
	assert.Equal(t, api.MouldState("ready"), *first.Moulds[0].State)
	var none api.RackPage
	s.send("GET", "/api/moulds?text=zx_", -1, nil).into(&none)
	assert.Zero(t, none.Total, "what was typed is no pattern")
}

// The order wants more than the rack gives: when to pour, and what a firmer rubber
// would change.
func TestWhenToPourTheNextMould(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("N-1")
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	require.Equal(
		t,
		200,
		s.send("PUT", s.path(j, ""), j.Version, map[string]any{"name": "Deck cleat, more", "quantity": 200}).Status,
	)
	for day := range 6 {
		for range 4 {
			s.aPull(ids[0], map[string]any{"pulled": time.Now().AddDate(0, 0, -6+day).Format(time.DateOnly),
				"results": []any{map[string]any{"cavity": 1, "good": true}}})
		}
	}
	var got api.Taught
	s.send("GET", s.path(j, "/taught"), -1, nil).into(&got)
	require.NotNil(t, got.Enough)
	require.NotNil(t, got.Enough.Next)
	pace := got.Numbers[got.Enough.Next.Pace.N]
	assert.InDelta(t, 4, pace.Value, 0.01)
	lasts := got.Numbers[got.Enough.Next.Lasts.N].Value
	assert.Positive(t, lasts)
	assert.False(t, got.Enough.Next.By.After(time.Now().AddDate(0, 0, int(lasts/4))), "before the rack is at its end")
	require.NotNil(t, got.Enough.Rubbers)
	for _, r := range *got.Enough.Rubbers {
		assert.Greater(t, r.Shore, 30.0)
		assert.NotNil(t, r.Life)
	}
}

// What was said of a mould is held against what came: when it was new, and after every
// ten pulls, as it stood then.
func TestHowGoodTheForecastsWere(t *testing.T) {
	s := open(t)
	const rubber = "Tin-cure silicone 30 A, 10:1"
	before := s.forecasts("?limit=200&rubber=" + url.QueryEscape(rubber))
	_, ids := s.cleats("F-1", "F-2")
	for day := range 26 {
		s.aPull(ids[0], map[string]any{"pulled": time.Date(2026, 1, 10+day, 0, 0, 0, 0, time.UTC).Format(time.DateOnly),
			"results": []any{map[string]any{"cavity": 1, "good": true}}})
	}
	page := s.mouldPage(ids[0])
	left := page.Numbers[page.Left.N]
	assert.InDelta(t, page.Mould.Remaining.Middle, left.Value, 1e-9, "the same figure, opened")
	assert.InDelta(t, 26, left.Inputs[0].Value, 1e-9)
	require.Len(t, *page.Came, 3)
	for i, c := range *page.Came {
		assert.Equal(t, []any{"F-1", 10 * i, 26 - 10*i, false}, []any{c.Mould, c.At, c.Gave, c.WornOut})
		assert.Less(t, c.Low, c.High)
	}
	assert.Equal(t, api.ForecastCameFateOpen, (*page.Came)[2].Fate, "6 more, and it goes on")
	said := (*page.Came)[2]
	assert.Equal(t, "2026-01-19", (*page.Came)[1].Day.Format(time.DateOnly), "the day of its tenth pull")

	end := map[string]any{"retired": "2026-02-10", "ended": "worn"}
	require.Equal(t, 200, s.send("PUT", "/api/moulds/"+ids[0]+"/retirement", -1, end).Status)
	assert.Nil(t, s.mouldPage(ids[0]).Left, "nothing more of one that is retired")
	after := s.forecasts("?limit=200&rubber=" + url.QueryEscape(rubber))
	assert.Equal(t, before.Total+3, after.Total, "one that gave nothing yet tells nothing")
	assert.Equal(t, rubber, after.Rubber)
	at := slices.IndexFunc(after.Forecasts, func(c api.ForecastCame) bool { return c.MouldId == said.MouldId })
	require.GreaterOrEqual(t, at, 0)
	now := after.Forecasts[at]
	assert.True(t, slices.IsSortedFunc(after.Forecasts, func(a, b api.ForecastCame) int { return b.Day.Compare(a.Day.Time) }),
		"the latest first")
	assert.Equal(t, [4]int{said.At, said.Low, said.Middle, said.High}, [4]int{now.At, now.Low, now.Middle, now.High},
		"what came later changes nothing of what was said")
	assert.True(t, now.WornOut)
	assert.NotEqual(t, api.ForecastCameFateOpen, now.Fate)
	decided := func(f api.Forecasts, at int) int {
		return f.Ages[at/10].Less + f.Ages[at/10].Inside + f.Ages[at/10].More
	}
	assert.Equal(t, decided(before, 20)+1, decided(after, 20))
	require.NotNil(t, after.Ages[2].Share)
	assert.Contains(t, after.Numbers[after.Ages[2].Share.N].Formula, "Kaplan")

	second := s.forecasts("?limit=2&skip=1&rubber=" + url.QueryEscape(rubber))
	assert.Equal(t, after.Forecasts[1:3], second.Forecasts)
	assert.Empty(t, s.forecasts("?rubber=nobody+has+it").Forecasts)
	assert.Contains(t, s.forecasts("").Rubbers, rubber)
}

func (s shop) forecasts(query string) (out api.Forecasts) {
	s.t.Helper()
	s.send("GET", "/api/forecasts"+query, -1, nil).into(&out)
	return out
}
