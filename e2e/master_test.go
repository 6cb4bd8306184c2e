package e2e

import (
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func openMaster(t *testing.T, p *browser.Page, job string) {
	t.Helper()
	steps(t, p.Go("/"), p.See(job), p.Click("link", job), p.Click("link", "Master"), p.See("TAKE ANOTHER MASTER"))
}

func TestTheHubShowsItsSocketsAndABetterDrawIsTaken(t *testing.T) {
	p, _ := serve(t)
	openMaster(t, p, "Drogue hub")
	steps(t, p.See("6 undercuts"), p.See("want a side piece or another draw"),
		p.Click("tab", "Draw"), p.See("Locked rubber"), p.See("side piece"), p.See("drawn up"))
	strain, err := p.TextOf("button", "Strain at undercut 1")
	require.NoError(t, err)
	assert.Regexp(t, `^\d+(\.\d+)?$`, strain)
	steps(
		t,
		p.Click("button", "Locked rubber"),
		p.See("both a ray along the draw and one against it"),
	)
	require.Eventually(t, func() bool { // a slow page may not listen yet
		steps(t, p.Key(kb.Escape))
		words, err := p.Text()
		return err == nil && !strings.Contains(words, "both a ray along")
	}, time.Minute, 300*time.Millisecond)
	steps(t, p.Click("button", "Search the best draws"), p.Gone("Cancel"), p.See("off level"))
	require.Eventually(t, func() bool {
		drawn, err := browser.Eval[int](
			p,
			`[...document.querySelectorAll('img[alt*="standing along draw"]')].filter((i) => i.complete && i.naturalWidth > 100).length`,
		)
		return err == nil && drawn == 3
	}, time.Minute, 100*time.Millisecond, "each offer has its picture")
	steps(t, clickOffer(p, 1), p.See("The part is turned so that this draw points up"), p.Click("button", "Draw it this way"),
		p.See("Turned so that it draws upwards"), p.Click("tab", "Part"), p.See("It was turned"),
		p.Click("button", "Stand it as it was drawn"), p.Gone("It was turned"))
	quiet(t, p)
}

// clickOffer presses one of the offered draws.
func clickOffer(p *browser.Page, n int) error {
	_, err := browser.Eval[bool](
		p,
		`(() => { document.querySelectorAll('ol button[aria-pressed]')[`+string(rune('0'+n))+`].click(); return true })()`,
	)
	return err
}

func TestTurningThePartShowsItsAirAtOnce(t *testing.T) {
	p, _ := serve(t)
	openMaster(t, p, "Deck cleat")
	steps(t, p.Click("tab", "Pour"), p.See("High spots that want a vent 2"))
	focused, err := browser.Eval[bool](
		p,
		`(() => { const s = document.querySelector('[role=slider][aria-label=Tilt]'); s.focus(); return document.activeElement === s })()`,
	)
	require.NoError(t, err)
	require.True(t, focused)
	for range 12 {
		steps(t, p.Key(kb.ArrowRight))
	}
	tilt, err := p.Value("Tilt")
	require.NoError(t, err)
	assert.Regexp(t, `^1[0-2]$`, tilt, "a degree a press")
	steps(t, p.Click("button", "+x"), p.See("Height 99.3"), p.Click("button", "Pour it this way up"), p.See("Turned for the pour"),
		p.Click("tab", "Part"), p.See("Size along z 99.3"))
	quiet(t, p)
}

// pressUntil presses the part in the 3D view until the page says something:
// while findings come in, the view is still being fitted and a press may miss.
func pressUntil(p *browser.Page, x, y float64, text string) error {
	for range 8 {
		if err := p.ClickWithin("image", "", x, y); err != nil {
			return err
		}
		for range 20 {
			page, err := p.Text()
			if err != nil {
				return err
			}
			if strings.Contains(page, text) {
				return nil
			}
			time.Sleep(100 * time.Millisecond)
		}
	}
	return p.See(text)
}

func TestKindBriefAndPrepAreKept(t *testing.T) {
	p, _ := serve(t)
	openMaster(t, p, "Deck cleat")
	steps(
		t,
		p.Click("tab", "Walls"),
		p.See("Half of it is thinner than"),
		p.See("Thickness under"),
		p.Click("tab", "Kind"),
		p.See("to the first casting"),
		p.Click("button", "Choose: Cut block"),
		p.See("chosen"),
		p.Click("tab", "Brief"),
		p.Choose("Made of", "resin print"),
		p.Choose("Rubber", "Platinum-cure silicone 20 A, 1:1"),
		p.See(
			"stays uncured on a resin print",
		),
		p.Click("button", "cured"),
		p.See("Noted: it cured"),
		p.Gone("stays uncured on a resin print"),
		p.Fill("Longest side", "3.9 in"),
		p.Click("button", "Hold it against the mesh"),
		p.Gone("do not agree"),
		p.Fill("Longest side", "140"),
		p.Click("button", "Hold it against the mesh"),
		p.See("The mesh and your own measure do not agree"),
		p.Click("tab", "Prep"),
		p.See("Measure the master again"),
		p.Click("button", "Wipe"),
		p.See("1 OF"),
		p.Fill("In the shop today", "18"),
		p.Fill("Humidity", "86"),
		p.See("Not today: at 86 % humidity"),
	)
	steps(
		t,
		p.Click("tab", "Brief"),
		p.Choose("Kind of insert", "metal core"),
		p.Fill("Note on the insert", "brass rod"),
		p.Fill("Resin that it takes the place of", "2"),
		p.Click("button", "Add the insert"),
		p.See("Press the part where it sits"),
		pressUntil(p, 0.5, 0.52, "move"),
		p.Click("link", "Mould"),
		p.See("The metal core (brass rod)"),
		p.Click("link", "Shot"),
		p.See("Laid in"),
	)
	steps(t, p.Go("/"), p.See("Deck cleat"))
	openMaster(t, p, "Deck cleat")
	steps(t, p.Click("tab", "Prep"), p.See("1 OF"), p.Click("tab", "Kind"), p.See("chosen"))
	quiet(t, p)
}

func TestAPartWithoutAMeshIsBlockedOut(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		takeOn(p, "Bracket"),
		p.Click("tab", "Block-out"),
		p.Click("button", "Add a solid"),
		p.See("Volume of the block-out"),
		p.See("24.0mL"),
		p.Click("button", "Add a solid"),
		p.Choose("Kind of solid 2", "cylinder"),
		p.Click("button", "cut"),
		p.Gone("24.0mL"),
	)
	// a solid follows the hand
	steps(t, p.Drawn())
	grip, err := browser.Eval[[]float64](
		p,
		`(() => { const d = document.querySelector('canvas').dataset; return [Number(d.footX), Number(d.footY)] })()`,
	)
	require.NoError(t, err)
	before, err := p.Value("at x")
	require.NoError(t, err)
	steps(t, p.Drag("image", "", grip[0], grip[1], grip[0]+0.12, grip[1]-0.02), p.Drawn())
	moved, err := browser.Eval[[]string](
		p,
		`[...document.querySelectorAll('input')].filter((e) => e.labels[0]?.textContent.startsWith('at ')).map((e) => e.value)`,
	)
	require.NoError(t, err)
	require.Len(t, moved, 6, "two solids, three places each")
	assert.Equal(t, "0", before)
	assert.NotEqual(t, []string{"0", "0", "0"}, moved[:3], "the solid that was worked on last was dragged")
	assert.Equal(t, []string{"0", "0", "0"}, moved[3:], "the other one stays")
	steps(t, p.Fill("Displaced water", "30"), p.See("% off"),
		p.Click("button", "Take it as the master"), p.See("The block-out is the master now"), p.See("BLOCK-OUT"), p.Drawn(),
		p.Click("tab", "Kind"), p.See("to the first casting"))
	quiet(t, p)
}

func TestTheMouldComesApartInPiecesAndGangs(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/"), p.See("Drogue hub"), p.Click("link", "Drogue hub"), p.Click("link", "Mould"), p.See("cannot be stripped out of"),
		p.Click("button", "Build it in pieces"), p.Click("tab", "Pieces"), p.See("Every piece is moved out in its turn"),
		p.See("Side 6"), p.See("Half B"), p.Gone("cannot be stripped out of"), p.See("6 side pieces spare the rubber"), p.Drawn())
	steps(t, p.Click("button", "Two halves only"), p.See("of it is stripped over the part"), p.Gone("Side 6"))
	steps(t, p.Click("tab", "Gang"), p.See("Rubber for each cavity"), p.See("pour, min"), p.Click("button", "Lay 3"), p.See("3 cavities"),
		p.Click("button", "pressure pot"), p.See("Round box, inside"))
	quiet(t, p)
}

func TestASearchThatBreaksOffIsToldAndCanBeStartedAgain(t *testing.T) {
	broken := true
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if broken && strings.Contains(r.URL.Path, "/searches/") {
				w.Header().Set("Content-Type", "text/event-stream")
				_, _ = io.WriteString(w, "event: progress\ndata: {\"done\": 3, \"total\": 400, \"finished\": false, \"best\": []}\n\n")
				_ = http.NewResponseController(w).Flush()
				panic(http.ErrAbortHandler) // the server is killed
			}
			h.ServeHTTP(w, r)
		})
	})
	openMaster(t, p, "Drogue hub")
	steps(
		t,
		p.Click("tab", "Draw"),
		p.See("Locked rubber"),
		p.Click("button", "Search the best draws"),
		p.See("The search broke off"),
		p.See("Try again"),
	)
	broken = false
	steps(t, p.Click("button", "Try again"), p.Gone("Try again"), p.Gone("Cancel"), p.See("off level"))
}
