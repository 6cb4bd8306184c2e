package e2e

import (
	"encoding/json"
	"net/http"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// line is the way to the server: cut, no question is answered, and the page
// itself can still be had.
type line struct {
	cut  atomic.Bool
	only string       // such changes do not get through when it is cut; empty for nothing at all
	page atomic.Value // the name of the page that the server hands out
}

func (l *line) through(h http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if l.cut.Load() && strings.HasPrefix(r.URL.Path, "/api/") &&
			(l.only == "" || r.Method != http.MethodGet && strings.HasSuffix(r.URL.Path, l.only)) {
			panic(http.ErrAbortHandler)
		}
		if name, ok := l.page.Load().(string); ok {
			w = renamed{w, name}
		}
		h.ServeHTTP(w, r)
	})
}

// renamed answers as a server with another page would.
type renamed struct {
	http.ResponseWriter
	name string
}

func (r renamed) WriteHeader(status int) {
	r.Header().Set("Bathyform-Page", r.name)
	r.ResponseWriter.WriteHeader(status)
}

// Unwrap lets the handler reach the connection.
func (r renamed) Unwrap() http.ResponseWriter { return r.ResponseWriter }

func TestAPullIsKeptWhileTheServerIsAwayAndSentOnce(t *testing.T) {
	var l line
	p, _ := serveThrough(t, l.through)
	openCleat(t, p, "Pulls")
	steps(t, p.See("16 pulls, 30 good"))
	l.cut.Store(true)
	steps(t, p.Fill("Weight of A", "44"), p.Fill("Weight of B", "39,5"), p.Click("button", "Log the pull"),
		p.See("Kept here for now"), p.See("The server does not answer."), p.See("1 change waits"), p.See("not counted yet"))
	here, err := browser.Eval[string](p, `location.pathname`)
	require.NoError(t, err)
	steps(t, p.Go(here), p.See("The server does not answer.")) // the tab was closed and opened again
	steps(t, p.See("1 change waits"), p.Click("button", "1 change waits"), p.See("A pull from FL-14"), p.Key(kb.Escape))
	l.cut.Store(false)
	steps(t, p.See("Sent now"), p.Gone("1 change waits"), p.Gone("The server does not answer."), p.See("17 pulls, 32 good"))
}

// The mould was retired in another window before the pull that waited could
// be sent: it is told, and kept until a person decides.
func TestWhatIsRefusedLaterIsToldAndKept(t *testing.T) {
	l := line{only: "/pulls"}
	p, url := serveThrough(t, l.through)
	openCleat(t, p, "Pulls")
	steps(t, p.See("16 pulls, 30 good"))
	l.cut.Store(true)
	steps(t, p.Click("button", "Log the pull"), p.See("1 change waits"))
	retire := func(day string) {
		var rack struct{ Moulds []struct{ ID, Number string } }
		ask(t, "GET", url+"/api/moulds", "", &rack)
		for _, m := range rack.Moulds {
			if m.Number == "FL-14" {
				ask(t, "PUT", url+"/api/moulds/"+m.ID+"/retirement", `{"retired":`+day+`,"ended":"worn"}`, nil)
			}
		}
	}
	retire(`"2026-11-25"`)
	l.cut.Store(false)
	steps(t, p.See("This mould is retired"), p.Click("button", "◆ 1 change waits"), p.See("Give it up"))
	retire("null")
	steps(t, p.Click("button", "Send it again"), p.See("Everything was sent"))
}

// ask is a question of another browser.
func ask(t *testing.T, method, url, body string, into any) {
	t.Helper()
	req, err := http.NewRequestWithContext(t.Context(), method, url, strings.NewReader(body))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	resp, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer resp.Body.Close()
	require.Less(t, resp.StatusCode, 300)
	if into != nil {
		require.NoError(t, json.NewDecoder(resp.Body).Decode(into))
	}
}

func TestWhatIsTypedIsNeverDropped(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/"), p.Click("button", "New job"), p.Fill("Name", "Lamp foot"), p.Fill("Quantity", "x"), p.Key(kb.Escape),
		p.Gone("Take it on"), p.Click("button", "New job"))
	typed := func(label, want string) {
		t.Helper()
		got, err := p.Value(label)
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
	typed("Name", "Lamp foot")
	steps(t, p.Go("/"), p.Click("button", "New job")) // a reload
	typed("Name", "Lamp foot")
	steps(t, p.Click("button", "Take it on"), p.See("A whole number of at least 1"), p.Fill("Quantity", "7"),
		p.Click("button", "Take it on"), p.See("Drop the master"), p.Go("/"), p.Click("button", "New job"))
	typed("Name", "")
	quiet(t, p)
}

// Weights that are still being read when the form is sent go with it.
func TestAWeightTypedLastGoesWithThePull(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Pulls")
	steps(t, p.Fill("Weight of A", "41"), p.Type("Weight of B", "36.5"), p.Key(kb.Enter), p.See("Pull logged"), p.See("36.5g"))
	quiet(t, p)
}

func TestEntriesAreStruckPutRightAndCounted(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Pulls")
	steps(t, p.See("16 pulls, 30 good"), p.Click("button", "Strike the pull"), p.See("count it again"), p.See("15 pulls, 28 good"),
		p.Click("button", "Count it again"), p.Gone("count it again"), p.See("16 pulls, 30 good"),
		p.Click("button", "Correct the pull"), p.See("Correct a pull"))
	_, err := browser.Eval[bool](p, `(() => {
		document.querySelector('[role=dialog] [aria-label="Result of cavity 2"] input[value=scrap]').click()
		return true })()`)
	require.NoError(t, err)
	steps(t, p.Click("button", "Correct it"), p.See("16 pulls, 29 good"), p.Click("button", "Corrected"), p.See("until"))
	steps(t, p.Click("button", "Correct mould FL-14"), p.See("Correct mould FL-14"), p.Fill("Number", "FL-15"),
		p.Click("button", "Correct it"), p.See("FL-15 "))
	quiet(t, p)
}

func TestAMouldIsNoOlderThanItsPulls(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Pulls")
	steps(t, p.SetDate("Day", "2020-01-01"), p.Click("button", "Log the pull"))
	text, err := p.Text()
	require.NoError(t, err)
	assert.NotContains(t, text, "Pull logged")
	steps(t, p.SetDate("Day", time.Now().Format("2006-01-02")), p.Fill("Weight of A", "200"), p.Fill("Weight of B", "20"),
		p.Click("button", "Log the pull"), p.See("That is not the ratio of the sheet"), p.Click("button", "Log it as it was weighed"),
		p.See("Pull logged"))
}

func TestAnotherMasterCanBeTakenBack(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Master")
	steps(t, p.Click("tab", "Demo part"), p.Click("button", "Drogue hub"), p.See("Demo part taken"),
		p.See("1 earlier version"))
	_, err := browser.Eval[bool](p, `(() => { [...document.querySelectorAll('summary')].find((s) => s.textContent.includes('earlier')).click()
		return true })()`)
	require.NoError(t, err)
	steps(t, p.Click("button", "Go back to Deck cleat"), p.See("Deck cleat is the master again"))
	quiet(t, p)
}

// A change is on its way when the job is left and opened again at once: it
// is shown, and the next one is kept as well.
func TestLeavingAtOnceAndComingBackShowsTheChange(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"), p.Click("tab", "Box"))
	for n, wide := range []string{"13", "14", "15"} {
		steps(t, p.Fill("Clear beside", wide))
		time.Sleep(time.Duration(60*n) * time.Millisecond)
		steps(t, p.Click("link", "Jobs"), p.See("Ballast bulb"))
		openCleat(t, p, "Mould")
		steps(t, p.See("BOX, INSIDE"))
		waitFor(t, func() bool { v, err := p.Value("Clear beside"); return err == nil && v == wide })
	}
	steps(t, p.See("kept"), p.Gone("another window"))
	quiet(t, p)
}

func TestUndoReachesOverStagesAndReloads(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"))
	before, err := p.Value("Clear beside")
	require.NoError(t, err)
	steps(t, p.Fill("Clear beside", "17"), p.See("kept"))
	time.Sleep(700 * time.Millisecond)
	again := func() { steps(t, p.Go("/")); openCleat(t, p, "Mould"); steps(t, p.See("BOX, INSIDE")) }
	again()
	waitFor(t, func() bool { v, err := p.Value("Clear beside"); return err == nil && v == "17" })
	steps(t, p.Click("button", "Undo"))
	waitFor(t, func() bool { v, err := p.Value("Clear beside"); return err == nil && v == before })
	quiet(t, p)
}

func TestAnOlderPageOffersToReload(t *testing.T) {
	var l line
	p, _ := serveThrough(t, l.through)
	steps(t, p.Go("/"), p.See("Deck cleat"))
	l.page.Store("the next one")
	steps(t, p.Click("link", "Rack"), p.See("The server is newer than this page."), p.Click("button", "Reload the page"),
		p.Gone("newer than this page"), p.See("FL-14"))
	quiet(t, p)
}
