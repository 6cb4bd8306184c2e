package e2e

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestADrawingThatTheBrowserTakesAwayComesBack(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air left in"), p.Drawn())
	_, err := browser.Eval[bool](
		p,
		`(document.querySelector('canvas').getContext('webgl2').getExtension('WEBGL_lose_context').loseContext(), true)`,
	)
	require.NoError(t, err)
	steps(t, p.See("The browser took the drawing away"), p.See("Air left in"))
	assert.True(t, pictured(t, p))
	steps(t, p.Click("button", "Draw it again"), p.Gone("took the drawing away"), p.Drawn())
	quiet(t, p)
}

// What somebody else changes in between, over and over, is told each time, and
// neither hand's work is lost.
func TestEverySecondChangeMeetsSomebodyElses(t *testing.T) {
	var puts atomic.Int32
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodPut && strings.HasSuffix(r.URL.Path, "/design") && puts.Add(1)%2 == 0 {
				body, _ := io.ReadAll(r.Body)
				other := r.Clone(r.Context())
				other.Header.Set("Idempotency-Key", fmt.Sprintf("00000000-0000-4000-8000-%012d", puts.Load()))
				other.Body = io.NopCloser(bytes.NewReader(bytes.Replace(body, []byte(`"ventBore":2`), []byte(`"ventBore":3`), 1)))
				h.ServeHTTP(httptest.NewRecorder(), other) // somebody else is a moment sooner
				r.Body = io.NopCloser(bytes.NewReader(body))
			}
			h.ServeHTTP(w, r)
		})
	})
	openCleat(t, p, "Gates")
	told := 0
	for _, bore := range []string{"6", "7", "6.5", "7.5"} {
		steps(t, p.Fill("Sprue bore", bore))
		require.Eventually(t, func() bool {
			words, err := p.Text()
			if err == nil && strings.Contains(words, "changed in another window") {
				told++
				steps(t, p.Click("button", "Keep mine"), p.Gone("changed in another window"))
			}
			return err == nil && strings.Contains(words, " kept ") && puts.Load() > 0
		}, 20*time.Second, 300*time.Millisecond)
		time.Sleep(600 * time.Millisecond) // the change is sent after a pause
	}
	steps(t, p.See(" kept "))
	assert.Positive(t, told)
	steps(t, p.Go("/"), p.See("Deck cleat"))
	openCleat(t, p, "Gates")
	bore, err := p.Value("Sprue bore")
	require.NoError(t, err)
	assert.Equal(t, "7.5", bore)
}

// The first question is answered last; the page shows what follows from the last.
func TestAnswersThatComeOutOfOrder(t *testing.T) {
	var asked atomic.Int32
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.HasSuffix(r.URL.Path, "/study") && asked.Add(1)%2 == 0 {
				own := httptest.NewRecorder()
				h.ServeHTTP(own, r)
				time.Sleep(1500 * time.Millisecond)
				for k, v := range own.Header() {
					w.Header()[k] = v
				}
				w.WriteHeader(own.Code)
				_, _ = w.Write(own.Body.Bytes())
				return
			}
			h.ServeHTTP(w, r)
		})
	})
	openCleat(t, p, "Gates")
	steps(t, p.See("Air left in"))
	steps(t, p.Fill("Sprue bore", "5"), p.Fill("Sprue bore", "10"))
	time.Sleep(3 * time.Second)
	shown, err := p.TextOf("button", "Sprue:")
	require.NoError(t, err)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air left in"))
	again, err := p.TextOf("button", "Sprue:")
	require.NoError(t, err)
	assert.Equal(t, again, shown)
}

func TestAFileWhoseWayIsCutIsSentAgain(t *testing.T) {
	var dead atomic.Bool
	dead.Store(true)
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.HasSuffix(r.URL.Path, "/master/mesh") && dead.Load() {
				_, _ = io.CopyN(io.Discard, r.Body, 4096)
				panic(http.ErrAbortHandler) // the server dies
			}
			h.ServeHTTP(w, r)
		})
	})
	steps(
		t,
		takeOn(p, "Bulb again"),
	)
	steps(t, p.Upload(stl(t, "ballast-bulb")), p.See("The master is as it was"))
	dead.Store(false)
	steps(t, p.Click("button", "Try it again"), p.See("Surface closes"))
}

func TestNamesOfAnyScriptAndLength(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		takeOn(p, "مشبك السطح"),
	)
	steps(
		t,
		p.See("مشبك السطح"),
		p.Click("tab", "Demo part"),
		p.Click("button", "Ballast bulb"),
		p.See("Surface closes"),
		p.Click("link", "Mould"),
		p.Click("tab", "Build"),
		p.See("Build sheet"),
	)
	name, err := browser.Eval[string](
		p,
		`fetch(document.querySelector('a[href*="build-sheet"]').href).then((r) => r.headers.get('content-disposition'))`,
	)
	require.NoError(t, err)
	assert.Contains(t, name, "%D9%85%D8%B4%D8%A8%D9%83", "the file is named by the job")
	steps(t, p.Go("/"), p.Click("button", "New job"), p.Fill("Name", strings.Repeat("long ", 60)),
		p.Fill("Quantity", "12"), p.Click("button", "Take it on"), p.See("At most"))
	over, err := browser.Eval[int](p, `document.documentElement.scrollWidth - innerWidth`)
	require.NoError(t, err)
	assert.LessOrEqual(t, over, 0)
}

// A tablet whose clock is two days ahead takes the day from the server.
func TestAClockThatIsTwoDaysOff(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Early(`{ const Own = Date, off = 2 * 86400e3
		window.Date = class extends Own {
			constructor(...a) { if (a.length) super(...a); else super(Own.now() + off) }
			static now() { return Own.now() + off }
		} }`))
	openCleat(t, p, "Pulls")
	steps(t, p.See("LOG A PULL"))
	var day string
	require.Eventually(t, func() bool {
		day, _ = p.Value("Day")
		return day == time.Now().Format(time.DateOnly)
	}, 10*time.Second, 100*time.Millisecond, "the form says %s", day)
}

func TestThousandsOfJobsAreFoundAmong(t *testing.T) {
	p, url := serve(t)
	for i := range 150 {
		body := fmt.Sprintf(`{"name":"Fitting %03d","quantity":10}`, i)
		req, err := http.NewRequestWithContext(t.Context(), http.MethodPost, url+"/api/jobs", strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Idempotency-Key", fmt.Sprintf("00000000-0000-4000-8000-%012d", i))
		resp, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		require.NoError(t, resp.Body.Close())
		require.Less(t, resp.StatusCode, 300)
	}
	rows := func() int {
		n, err := browser.Eval[int](p, `document.querySelectorAll('main ul a').length`)
		require.NoError(t, err)
		return n
	}
	steps(t, p.Go("/"), p.See("Show more"))
	assert.Equal(t, 100, rows(), "a long list begins with its first")
	steps(t, p.Type("Find among the jobs", "fitting 149"), p.Gone("Show more"), p.See("Fitting 149"))
	assert.Equal(t, 1, rows())
	steps(t, p.Type("Find among the jobs", " "), p.See("Show more"))
	_, err := browser.Eval[bool](p, `(window.dispatchEvent(new Event('beforeprint')), true)`)
	require.NoError(t, err)
	assert.Greater(t, rows(), 150, "printed, it is whole")
}

// Vents are placed, led and taken away without a mouse, in 3D and in the section.
func TestVentsAreLedByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air left in"), p.Drawn(), p.Drawn())
	vents := func(n int) func() bool {
		return func() bool {
			got, err := browser.Eval[int](p, `document.querySelectorAll('ul[aria-label=Vents] li button[aria-label^=Remove]').length`)
			return err == nil && got == n
		}
	}
	require.Eventually(t, vents(2), 10*time.Second, 100*time.Millisecond)
	steps(t, p.Focus("group", "Deck cleat in its mould"), p.Key("v"), p.See("Enter presses the part there"), p.Key(kb.Enter))
	require.Eventually(t, vents(3), 10*time.Second, 100*time.Millisecond, "the part lies under the middle of the view")
	steps(t, p.Focus("group", "Section; arrow keys"), p.Key("v"))
	require.Eventually(t, vents(4), 10*time.Second, 100*time.Millisecond)
	steps(t, p.Click("button", "More of vent 4"))
	before, err := p.Value("Vent 4, x")
	require.NoError(t, err)
	_, err = browser.Eval[bool](p, `(document.querySelector('g[aria-label^="Foot of vent 4"]').focus(), true)`)
	require.NoError(t, err)
	steps(t, p.Key(kb.ArrowRight), p.Key(kb.ArrowRight))
	require.Eventually(t, func() bool {
		after, err := p.Value("Vent 4, x")
		return err == nil && after != before
	}, 10*time.Second, 100*time.Millisecond, "the foot is led along the surface")
	steps(t, p.Key(kb.Delete))
	require.Eventually(t, vents(3), 10*time.Second, 100*time.Millisecond)
	steps(t, p.Click("button", "Remove vent 3"))
	require.Eventually(t, vents(2), 10*time.Second, 100*time.Millisecond)
	focus, err := browser.Eval[string](p, `document.activeElement.getAttribute('aria-label') ?? document.activeElement.textContent`)
	require.NoError(t, err)
	assert.Equal(t, "Remove vent 2", focus, "the focus stays in the list")
	quiet(t, p)
}

// From none to all of the proposed vents by the arrows; what is not cut from the
// beginning is named, with the air that it spares.
func TestVentsFromFewToMany(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air stays in a high spot"), p.See("2 of 3 proposed"), p.See("To cut later"),
		p.TabTo("slider", "Vents, few to many"), p.Key(kb.Home), p.See("0 of 3 proposed"), p.See("There is no vent"),
		p.Key(kb.ArrowRight), p.See("1 of 3 proposed"), p.See("spares"), p.Key(kb.End), p.See("3 of 3 proposed"),
		p.Gone("Air stays in a high spot"), p.Gone("To cut later"),
		p.Key(kb.ArrowLeft), p.See("place 3"), p.Enter("button", "Cut it now, the vent at place 3"), p.See("3 of 3 proposed"))
	quiet(t, p)
}

// An insert is marked on the part without a mouse, and the focus goes where the work goes.
func TestAnInsertIsMarkedByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Master")
	steps(t, p.See("Volume"), p.Click("tab", "Brief"), p.See("Generation"), p.Drawn(), p.Enter("button", "Add the insert"),
		p.See("Press the part where it sits"), p.TabTo("group", "Deck cleat in 3D"), p.Key("v"), p.See("Enter presses the part there"),
		p.Key(kb.Enter), p.See("at "), p.Gone("Press the part where it sits"))
	marked := func() bool {
		got, err := browser.Eval[bool](p, `document.querySelector('button[aria-label="Show insert 1"]') !== null`)
		return err == nil && got
	}
	waitFor(t, marked)
	quiet(t, p)
}

func TestHowAStageIsLookedAtStandsInTheAddress(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"), p.Click("tab", "Gang"), p.See("Rubber for each cavity"))
	address := func(has string) func() bool {
		return func() bool {
			at, err := browser.Eval[string](p, `location.search`)
			return err == nil && strings.Contains(at, has)
		}
	}
	require.Eventually(t, address("mould=gang"), 10*time.Second, 100*time.Millisecond)
	steps(t, p.Click("link", "Gates"), p.See("Air left in"), p.Key("["), p.Key("["))
	require.Eventually(t, address("level="), 10*time.Second, 100*time.Millisecond)
	level := ""
	require.Eventually(t, func() bool { // both presses are in it once it stays
		before := level
		level, _ = browser.Eval[string](p, `new URLSearchParams(location.search).get('level')`)
		return level == before
	}, 10*time.Second, time.Second)
	var err error
	steps(t, p.Click("link", "Mould"), p.See("Rubber for each cavity"), p.Click("link", "Gates"), p.See("Air left in"))
	require.Eventually(t, address("level="+level), 10*time.Second, 100*time.Millisecond, "kept between stages")
	_, err = browser.Eval[bool](p, `(location.reload(), true)`)
	require.NoError(t, err)
	steps(t, p.See("Air left in"))
	require.Eventually(t, address("level="+level), 10*time.Second, 100*time.Millisecond, "and over a reload")
}

func TestAFileLetGoAnywhereBecomesAMaster(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/rack"), p.See("FL-14"))
	_, err := browser.Eval[bool](p, `fetch('/api/jobs').then((r) => r.json()).then(() => {
		const d = new DataTransfer()
		const corners = (...all) => all.map((v) => 'vertex ' + v.join(' ')).join('\n')
		const facet = (...abc) => 'facet normal 0 0 0\nouter loop\n' + corners(...abc) + '\nendloop\nendfacet\n'
		const [o, x, y, z] = [[0, 0, 0], [30, 0, 0], [0, 30, 0], [0, 0, 30]]
		d.items.add(new File(['solid a\n' + facet(o, y, x) + facet(o, x, z) + facet(o, z, y) + facet(x, y, z) + 'endsolid a\n'], 'wedge.stl'))
		for (const kind of ['dragenter', 'dragover', 'drop']) {
			document.querySelector('main').dispatchEvent(new DragEvent(kind, {bubbles: true, cancelable: true, dataTransfer: d}))
		}
		return true })`)
	require.NoError(t, err)
	steps(t, p.See("Surface closes"), p.See("wedge"))
	quiet(t, p)
}

func TestTheTourShowsTheDemoJobInFiveSteps(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/?tour"), p.See("Five steps on the job"), p.Click("button", "Show me"), p.See("1 of 5"), p.See("Quantity"))
	for range 4 {
		steps(t, p.Click("button", "Next"))
	}
	steps(t, p.See("5 of 5"), p.See("LOG A PULL"), p.Click("button", "Done"), p.Gone("5 of 5"))
	steps(
		t,
		p.Go("/?tour"),
		errors.Join(p.See("Five steps on the job"), p.Click("button", "Leave the tour"), p.Gone("Five steps on the job")),
	)
	quiet(t, p)
}

// What is pressed at the bench is large enough for a finger, and what is
// weighed first stands in sight.
func TestATabletIsPressedByFingers(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Touch(820, 1180))
	openCleat(t, p, "Gates")
	job, err := browser.Eval[string](p, `location.pathname.replace(/\/[a-z]+$/, '')`)
	require.NoError(t, err)
	for _, view := range []struct{ path, says string }{
		{job + "/gates", "Air left in"},
		{job + "/pulls", "LOG A PULL"},
		{job + "/shot", "Part A"},
		{job + "/mould", "BOX, INSIDE"},
		{job + "/mould?mould=gang", "Rubber for each cavity"},
		{job + "/master", "Volume"},
		{job + "/master?master=pour", "TURN IT BY HAND"},
		{"/", "Deck cleat"},
		{"/bench", "TRAINING"},
		{"/rack", "FL-14"},
		{"/stock", "Tin-cure"},
		{"/learnt", "WHAT STAYS IN A CUP OF RESIN"},
		{"/forecasts", "EVERY FORECAST"},
		{job + "/rubber", "Part A"},
	} {
		steps(t, p.Go(view.path), p.See(view.says))
		small, err := browser.Eval[[]string](p, `
			[...document.querySelectorAll('button, a[href], select, summary, input, [role=slider], [role=tab]')]
			.filter((e) => e.getClientRects().length && !e.closest('p, label') && !e.disabled)
			.filter((e) => !e.matches('[type=radio], [type=checkbox], [class*=skip], [class*=Slider]'))
			.map((e) => [e, e.getBoundingClientRect()])
			.filter(([, r]) => r.width > 1 && (r.width < 43.5 || r.height < 43.5))
			.map(([e, r]) => (e.getAttribute('aria-label') ?? e.textContent).slice(0, 40) + ' ' + Math.round(r.width) + 'x' + Math.round(r.height))`)
		require.NoError(t, err)
		assert.Empty(t, small, view.path)
		nested, err := browser.Eval[[]string](p, `(() => {
			const scrolls = (e) => e.scrollHeight > e.clientHeight + 1 && /auto|scroll/.test(getComputedStyle(e).overflowY)
			const all = [...document.querySelectorAll('main, main *')].filter(scrolls)
			return all.filter((e) => all.some((o) => o !== e && o.contains(e))).map((e) => e.tagName + ' ' + e.className)
		})()`)
		require.NoError(t, err)
		assert.Empty(t, nested, "%s: a scroller in a scroller", view.path)
	}
	for _, size := range [][2]int64{{820, 1180}, {1280, 800}} {
		steps(t, p.Touch(size[0], size[1]), p.Click("link", "Rubber"), p.See("Part A"))
		undo, err := browser.Eval[bool](p, `[...document.querySelectorAll('button')]
			.some((e) => e.textContent === 'Undo' && e.getBoundingClientRect().right < innerWidth - 44)`)
		require.NoError(t, err)
		assert.True(t, undo, "%v: undo stands in sight", size)
		inSight, err := browser.Eval[int](p, `[...document.querySelectorAll('button')]
			.filter((e) => /^(Part A|Part B)/.test(e.getAttribute('aria-label') ?? ''))
			.slice(0, 2).filter((e) => e.getBoundingClientRect().bottom < innerHeight).length`)
		require.NoError(t, err)
		assert.Equal(t, 2, inSight, "%v: the first two weights stand in sight", size)
	}
	quiet(t, p)
}

// The log is walked through by arrows, from one entry's button to the same of the next.
func TestTheLogIsWalkedThroughByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Pulls")
	steps(t, p.See("LOG A PULL"), p.Focus("button", "Strike the pull"))
	focus := func() (label string) {
		label, err := browser.Eval[string](p, `document.activeElement.getAttribute('aria-label') ?? ''`)
		require.NoError(t, err)
		return label
	}
	first := focus()
	steps(t, p.Key(kb.ArrowDown))
	assert.Contains(t, focus(), "Strike the pull")
	steps(t, p.Key(kb.ArrowLeft))
	assert.Contains(t, focus(), "Correct the pull")
	steps(t, p.Key(kb.ArrowRight), p.Key(kb.End))
	last := focus()
	assert.NotEqual(t, first, last)
	steps(t, p.Key(kb.Home))
	assert.Equal(t, first, focus())
	quiet(t, p)
}

// Six cleats hang on one well: the ways to feed them are held against one
// another, and a face that shows is marked by a press on the part.
func TestAGangIsFedFromOneWellAndAFaceIsMarked(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(
		t,
		p.Drawn(),
		p.Click("button", "Shows"),
		p.See("press on the face of the part"),
		p.ClickWithin("group", "Deck cleat in its mould", 0.5, 0.5),
		p.See("shows at"),
		p.Click("button", "Remove the mark on face 1"),
		p.See("None marked"),
		p.Click(
			"link",
			"Mould",
		),
		p.Click("tab", "Gang"),
		p.See("Rubber for each cavity"),
		p.Click("button", "Lay 6"),
		p.Gone("Laying them"),
		p.See("rows over one another"),
		p.Click("button", "Build it with these"),
		p.See("This design has these cavities"),
		p.Click("link", "Gates"),
		p.Drawn(),
		p.See("of channels a casting"),
		p.See("each by itself"),
	)
	chosen, err := browser.Eval[string](p, `document.querySelector('[aria-label="Ways to feed the gang"] [data-at] strong').textContent`)
	require.NoError(t, err)
	assert.Equal(t, "ladder", chosen)
	quiet(t, p)
}
