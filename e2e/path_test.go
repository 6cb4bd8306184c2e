// Package e2e drives the built application in headless Chromium through the
// whole path of a job, and fails on anything the console complains about.
package e2e

import (
	"errors"
	"fmt"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"bathyform/demo/parts"
	"bathyform/e2e/browser"
	"bathyform/internal/api"
	"bathyform/internal/testkit"
	"bathyform/web"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var chromium *browser.Browser

func TestMain(m *testing.M) {
	var err error
	if chromium, err = browser.Start(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	defer chromium.Close()
	chromium.Dots = 0.5
	testkit.Main(m)
}

// serve runs the built page on a database of its own and opens a tab on it.
func serve(t *testing.T) (*browser.Page, string) {
	t.Helper()
	return serveThrough(t, func(h http.Handler) http.Handler { return h })
}

// serveThrough is serve with something between the browser and the server.
func serveThrough(t *testing.T, between func(http.Handler) http.Handler) (*browser.Page, string) {
	t.Helper()
	t.Parallel() // one is looked at while the other loads
	s := testkit.DemoStore(t)
	page, err := web.Page()
	require.NoError(t, err)
	_, err = page.Open("index.html")
	require.NoError(t, err, "the page is not built; run `make build`")
	h, err := api.NewHandler(s, page)
	require.NoError(t, err)
	server := httptest.NewServer(between(h))
	t.Cleanup(server.Close)
	return tab(t, server.URL, 1280, 800), server.URL
}

func tab(t *testing.T, url string, width, height int64) *browser.Page {
	t.Helper()
	p, err := chromium.Open(url, width, height)
	require.NoError(t, err)
	t.Cleanup(p.Close)
	require.NoError(t, p.Scheme("light"))
	require.NoError(t, p.Early(`try { localStorage.setItem('bathyform tour', '"done"') } catch {}`))
	return p
}

func steps(t *testing.T, errs ...error) {
	t.Helper()
	for i, err := range errs {
		require.NoError(t, err, "step %d", i+1)
	}
}

func quiet(t *testing.T, p *browser.Page) {
	t.Helper()
	assert.Empty(t, p.Complaints(), "the console complains")
}

// named asserts that all that can be used has a name that can be heard.
func named(t *testing.T, p *browser.Page, where string) {
	t.Helper()
	unnamed, err := browser.Eval[[]string](p, `
		[...document.querySelectorAll('button,a,input,select,textarea,[role=slider],[role=button]')]
			.filter((e) => e.getClientRects().length && !e.closest('[aria-hidden=true]'))
			.filter((e) => !(e.getAttribute('aria-label') || (e.labels && e.labels.length) || e.textContent.trim() || e.title))
			.map((e) => e.outerHTML.slice(0, 120))`)
	require.NoError(t, err)
	assert.Empty(t, unnamed, "%s has controls without a name", where)
}

// takeOn takes a job on and waits at its master.
func takeOn(p *browser.Page, name string) error {
	return errors.Join(p.Go("/"), p.Click("button", "New job"), p.Fill("Name", name), p.Fill("Quantity", "12"),
		p.Click("button", "Take it on"), p.See("Drop the master"))
}

func stl(t *testing.T, key string) string {
	t.Helper()
	p, ok := parts.ByKey(key)
	require.True(t, ok)
	path := filepath.Join(t.TempDir(), key+".stl")
	require.NoError(t, os.WriteFile(path, p.Mesh().WriteSTL(), 0o600))
	return path
}

const (
	tin  = "Tin-cure silicone 30 A, 10:1"
	fast = "Rigid urethane, 3 min"
)

// The whole job as a newcomer does it: order, mesh, unit, rubber, weights,
// vents, shot, mould, pull.
func TestFromAnOrderToALoggedPull(t *testing.T) {
	p, _ := serve(t)
	steps(t,
		p.Go("/"),
		p.See("Deck cleat"), p.See("88 of 240"), p.See("Ballast bulb"),
		p.Click("button", "New job"),
		p.Fill("Name", "Collar half"),
		p.Fill("Quantity", "40"),
		p.SetDate("Due", "2027-01-15"),
		p.Click("button", "Take it on"),
		p.See("Drop the master’s mesh here"),
		p.Upload(stl(t, "collar-half")),
		p.See("The unit is a guess: mm"),
		p.Drawn(),
		p.Click("button", "Yes, it is in mm"),
		p.See("Unit confirmed"),
		p.Click("button", "On to the mould"),
		p.See("choose a rubber"),
		p.Choose("Rubber", tin),
		p.See("Mass to mix"),
		p.See("kept"),
	)
	weight, err := p.TextOf("button", "Part A for Half A")
	require.NoError(t, err)
	assert.Regexp(t, `^\d+(\.\d)?g$`, weight)

	steps(t,
		p.Click("button", "Part A for Half A"),
		p.See("= mass × parts A / (parts A + parts B)"), p.See("data sheet of "+tin),
		p.Key("\x1b"),
		p.Click("link", "Gates"),
		p.See("WHAT FOLLOWS"),
		p.Drawn(),
		p.Click("button", "Remove vent 1"),
		p.See("Air stays in a high spot"),
		p.Click("button", "Vent here"),
		p.Gone("Air stays in a high spot"),
		p.Click("link", "Shot"),
		p.Choose("Resin", fast),
		p.See("1:1 by volume"),
		p.See("On a scale that reads 1 g"), // the scale's resolution makes the ratio uncertain
		p.Click("button", "why"),
		p.See("From 82"),
		p.Click("link", "Pulls"),
		p.See("No mould is in use"),
		p.Fill("Number", "FL-20"),
		p.Fill("Cavities", "2"),
		p.Click("button", "Put it on the rack"),
		p.See("about 34 more"), // learnt from the worn-out mould of the same rubber
		p.Fill("Weight of A", "20.5"),
		p.Fill("Weight of B", "18 g"),
		p.ClickWithin("group", "Cavity 2", 0.51, 0.5),
		p.Choose("Defect of cavity 2", "short fill"),
		p.Click("button", "Log the pull"),
		p.See("1 good of 40, 1 scrap"),
		p.See("short fill"),
		p.Click("link", "Rack"),
		p.See("FL-20"),
		p.Go("/"), // everything is there again
		p.See("1 of 40"), p.See("Pull: 39 to go"),
	)
	quiet(t, p)
}

func openCleat(t *testing.T, p *browser.Page, stage string) {
	t.Helper()
	steps(t, p.Go("/"), p.See("Deck cleat"), p.Click("link", "Deck cleat"), p.See("good of 240"), p.Click("link", stage))
}

func TestPocketLightsUpWhenTheLevelShutsItIn(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air stays in a high spot"), p.Drawn())
	airs := func() int {
		n, err := browser.Eval[int](p, `document.querySelectorAll('svg rect[shape-rendering=crispEdges]').length`)
		require.NoError(t, err)
		return n
	}
	assert.Positive(t, airs())
	low, err := browser.Eval[bool](p, `(() => { document.querySelector('[role=slider]').focus(); return true })()`)
	require.NoError(t, err)
	require.True(t, low)
	steps(t, p.Key(kb.Home)) // the level goes to the floor
	deadline := time.Now().Add(5 * time.Second)
	for airs() > 0 && time.Now().Before(deadline) {
		time.Sleep(30 * time.Millisecond)
	}
	assert.Zero(t, airs(), "no air is shut in yet")
	steps(t, p.Click("button", "Vent every high spot"), p.Gone("Air stays in a high spot"))
	quiet(t, p)
}

func TestDraggingAVentShowsItsPocketsAtOnce(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.Drawn(), p.Click("button", "Vent here"), p.Gone("Air stays in a high spot"), p.Click("button", "Front"), p.Drawn())
	// from the front the foot of the vent on the right horn stands at a known share of the view
	steps(t, p.Click("button", "Fit"), p.Drawn())
	before, err := p.Text()
	require.NoError(t, err)
	feet := strings.Count(before, "foot at")
	require.GreaterOrEqual(t, feet, 3)
	x, y, err := footOnScreen(p)
	require.NoError(t, err)
	steps(t, p.Drag("image", "", x, y, x-0.12, y+0.1))
	steps(t, p.See("Air stays in a high spot"))
	steps(t, p.Click("button", "Undo"), p.Gone("Air stays in a high spot"))
	steps(t, p.Click("button", "Redo"), p.See("Air stays in a high spot"))
	quiet(t, p)
}

func TestPressingThePartAddsAVentThere(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air stays in a high spot"), p.Drawn(), p.Gone("3 foot at"),
		p.Click("button", "Add vent"), p.See("press on the part where the vent shall be"))
	// the middle of the foot is in the middle of the view from below
	steps(t, p.Click("button", "Below"), p.Drawn(), p.ClickWithin("image", "", 0.5, 0.5), p.See("3 foot at"),
		p.Click("button", "Remove vent 3"), p.Gone("3 foot at"))
	quiet(t, p)
}

func TestThePageIsLight(t *testing.T) {
	page, err := web.Page()
	require.NoError(t, err)
	files, err := fs.Glob(page, "assets/index-*.js.gz")
	require.NoError(t, err)
	require.Len(t, files, 1)
	info, err := fs.Stat(page, files[0])
	require.NoError(t, err)
	assert.Less(t, info.Size(), int64(350_000), "script before the 3D view's own chunk")
}

// footOnScreen is where the highest vent foot is drawn, as shares of the canvas.
func footOnScreen(p *browser.Page) (x, y float64, err error) {
	type spot struct{ X, Y float64 }
	s, err := browser.Eval[spot](
		p,
		`(() => { const c = document.querySelector('canvas'); return {X: Number(c.dataset.footX), Y: Number(c.dataset.footY)} })()`,
	)
	return s.X, s.Y, err
}

func TestSecondTabIsToldAndNothingIsOverwritten(t *testing.T) {
	p, url := serve(t)
	openCleat(t, p, "Shot")
	q := tab(t, url, 1280, 800)
	openCleat(t, q, "Shot")
	steps(t, p.See("Cup, flash and margin"), q.See("Cup, flash and margin"),
		p.Fill("Cup, flash and margin", "12"), p.See("kept"))
	time.Sleep(600 * time.Millisecond) // the change is kept after a pause
	steps(t, q.Fill("Cup, flash and margin", "20"), q.See("This design was changed in another window"),
		q.Click("button", "Load the newest"), q.Gone("changed in another window"))
	value, err := q.Value("Cup, flash and margin")
	require.NoError(t, err)
	assert.Equal(t, "12", value)
	quiet(t, p)
	for _, c := range q.Complaints() {
		assert.Contains(t, c, "412", "the refused save is logged by the browser, nothing else")
	}
}

func TestMeasuredMasterInInches(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/practice"), p.See("House practice"), p.Click("button", "in, oz, US fl oz"), p.See("House practice kept"),
		p.Go("/"), p.Click("button", "New job"), p.Fill("Name", "Paperweight"), p.Fill("Quantity", "3"), p.Click("button", "Take it on"),
		p.Click("tab", "By measure"),
		p.Fill("Length (x)", "3 7/8"), p.Fill("Width (y)", `2 1/2"`), p.Fill("Height (z)", "1"),
		p.Fill("Volume", "5 fl oz"),
		p.Click("button", "Take these measures"),
		p.See("3.875"), p.See("The shape of this master is not known"), p.Click("button", "On to the mould"),
		p.See("the block that it goes into stands for it"),
		p.Choose("Rubber", tin), p.See("Mass to mix"),
		p.Click("link", "Shot"), p.Choose("Resin", fast), p.See("1:1 by volume"),
		p.Click("link", "Gates"), p.See("nobody can say where air is caught"),
		p.Click("link", "Mould"), p.Fill("Clear beside", "98,4"), p.See("switch on the decimal comma in House practice"),
		p.Fill("Clear beside", "0"), p.See("clearance beside"))
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "422", "refused values are logged by the browser, nothing else")
	}
}

// Inches with grams, and what the house answers where casters differ, reach
// the sum, the words and the steps.
func TestTheHousesWaysReachTheBench(t *testing.T) {
	p, url := serve(t)
	steps(t, p.Go("/practice"), p.See("A mould is held closed"), p.Choose("Lengths", "inches"), p.Choose("Temperature", "°F"),
		p.Choose("A mould is held closed", "between plates with ties"), p.See("For large faces that bands would bow"))
	inside, err := p.Value("In the shop")
	require.NoError(t, err)
	assert.Equal(t, "71.6", inside)
	require.Eventually(t, func() bool { // what is worked out afterwards is asked for after it was kept
		var shop struct{ Practice struct{ Schools map[string]string } }
		ask(t, "GET", url+"/api/shop", "", &shop)
		return shop.Practice.Schools["closing"] == "plates"
	}, time.Minute, 100*time.Millisecond)
	openCleat(t, p, "Mould")
	steps(t, p.Click("tab", "Build"), p.See("close the mould between plates and tie them"), p.See("71.6 °F"), p.See(" in over the floor"))
	quiet(t, p)
}

// At the scale: what was weighed is answered for, a colour is scaled and says
// how sure it is, powder is what does not come back out.
func TestWhatIsWeighedColouredAndDusted(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Shot")
	steps(t, p.See("Part A"), p.Click("disclosure", "What is in the cup decides"),
		p.Fill("In the cup, resin", "20"), p.See("In all"),
		p.See("Short of what it takes"), p.Fill("In the cup, resin", "60"), p.See("More than it takes"),
		p.Fill("Matched in a batch of", "95"), p.Fill("Pigment scale shows steps of", "0.1"),
		p.Fill("Pigment", "ochre"), p.Fill("By weight", "0.2"), p.Click("button", "Add"),
		p.See("ochre was matched to within 25 to 50 %"), p.See("tinted in one pot"),
		p.Fill("Metal or stone, dusted in", "bronze"), p.Fill("Brushed in", "6"),
		p.Fill("Poured back", "4.5"), p.See("that stays on a pull"))
	quiet(t, p)
	steps(t, p.Fill("Poured back", "9"), p.See("were poured back, more than"))
}

func TestFilesThatAreNoMeshAreRefusedInPlainWords(t *testing.T) {
	p, _ := serve(t)
	path := filepath.Join(t.TempDir(), "letter.stl")
	require.NoError(t, os.WriteFile(path, []byte(strings.Repeat("Dear caster, the part is attached. ", 20)), 0o600))
	steps(
		t,
		p.Go("/"),
		p.Click("button", "New job"),
		p.Click("button", "Take it on"),
		p.See("Name it after the part"),
		p.See("A whole number of at least 1"),
		p.Fill("Name", "Letter"),
		p.Fill("Quantity", "1"),
		p.Click("button", "Take it on"),
		p.See("Drop the master’s mesh here"),
		p.Upload(path),
		p.See("This file cannot be used as a master"),
		p.Click("tab", "Demo part"),
		p.Click("button", "Instrument bezel"),
		p.See("Demo part taken"),
		p.Drawn(),
		p.Click("link", "Mould"),
		p.Drawn(),
		p.See("BOX, INSIDE"),
	)
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "422")
	}
}

func TestKeyboardReachesStagesPaletteAndHelp(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.Drawn(),
		p.Key("3", chromedp.KeyModifiers(chromedp.ModifierAlt)), p.See("BOX, INSIDE"),
		p.Key("k", chromedp.KeyModifiers(chromedp.ModifierCtrl)), p.Fill("Find", "Ballast"), p.See("Settle the mould"),
		p.Fill("Find", "FL-14"), p.See("Deck cleat, in use"), p.Fill("Find", "Tin-cure"), p.See("rubber in stock"),
		p.Key("\x1b"), p.Key("?"), p.See("level down and up"), p.Key("\x1b"), p.Gone("level down and up"))
	quiet(t, p)
}

func TestAChangeIsKeptWhenThePageIsLeftAtOnce(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Shot")
	steps(t, p.See("Cup, flash and margin"), p.Fill("Cup, flash and margin", "17"), p.See("6.42"))
	here, err := browser.Eval[string](p, `location.pathname`)
	require.NoError(t, err)
	steps(t, p.Go("/rack"), p.See("FL-14"), p.Go(here), p.See("Cup, flash and margin"))
	value, err := p.Value("Cup, flash and margin")
	require.NoError(t, err)
	assert.Equal(t, "17", value)
	quiet(t, p)
}

// The cable is pulled, a change is made, and the cable is put back.
func TestALostConnectionLosesNothing(t *testing.T) {
	var cut atomic.Bool
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if cut.Load() {
				conn, _, err := http.NewResponseController(w).Hijack()
				if err == nil {
					conn.Close()
				}
				return
			}
			h.ServeHTTP(w, r)
		})
	})
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"), p.Drawn())
	cut.Store(true)
	steps(
		t,
		p.Click("button", "Draw of half A"),
		p.Click("button", "Draw of half A: +z"),
		p.See("not kept yet: the server does not answer"),
	)
	cut.Store(false)
	steps(t, p.See("kept Undo"), p.See("nearest to the whole outline"))
	here, err := browser.Eval[string](p, `location.pathname`)
	require.NoError(t, err)
	steps(t, p.Go(here), p.See("BOX, INSIDE"))
	draw, err := p.TextOf("button", "Draw of half A")
	require.NoError(t, err)
	assert.Equal(t, "+z", draw)
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "ERR_", "the browser logs the broken connection, the page nothing")
	}
}
