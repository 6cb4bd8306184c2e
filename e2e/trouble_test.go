package e2e

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pictured tells whether a picture that the server drew is on the page.
func pictured(t *testing.T, p *browser.Page) bool {
	t.Helper()
	there := false
	for range 100 {
		var err error
		if there, err = browser.Eval[bool](p, `(() => { const i = document.querySelector('img[src*="/pictures/draw"]')
			return i !== null && i.complete && i.naturalWidth > 0 })()`); there || err != nil {
			require.NoError(t, err)
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	return there
}

// A browser that draws nothing in 3D shows what the server draws, and the
// stages go on from section, plan and lists.
func TestWithoutWebGLTheStagesGoOn(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/"), p.See("Deck cleat"))
	_, err := browser.Eval[bool](p, `(() => { const own = HTMLCanvasElement.prototype.getContext
		HTMLCanvasElement.prototype.getContext = function (kind, ...rest) {
			return kind.startsWith('webgl') ? null : own.call(this, kind, ...rest)
		}
		return true })()`)
	require.NoError(t, err)
	steps(t, p.Click("link", "Deck cleat"), p.See("good of 240"), p.Click("link", "Mould"))
	steps(t, p.See("draws nothing in 3D"), p.See("BOX, INSIDE"), p.See("SECTION ACROSS"))
	assert.True(t, pictured(t, p))
	steps(t, p.Click("link", "Master"), p.See("draws nothing in 3D"), p.Click("tab", "Draw"), p.See("Parting line, about"))
	quiet(t, p)
}

// A part of the page that is not there any more, as after an upgrade, takes
// nothing else with it.
func TestAPartOfThePageThatIsGoneTakesNothingWithIt(t *testing.T) {
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.Contains(r.URL.Path, "/assets/Scene") {
				http.NotFound(w, r)
				return
			}
			h.ServeHTTP(w, r)
		})
	})
	openCleat(t, p, "Mould")
	steps(t, p.See("The 3D view broke off"), p.See("BOX, INSIDE"), p.See("SECTION ACROSS"))
	assert.True(t, pictured(t, p))
	assert.NotEmpty(t, p.Complaints(), "the console tells what was not found")
}

// An answer that is not as the page expects breaks its own view at most: the
// way to the others stays.
func TestAnAnswerThatIsNotAsExpectedBreaksItsViewAtMost(t *testing.T) {
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if !strings.HasSuffix(r.URL.Path, "/pulls") || r.Method != http.MethodGet {
				h.ServeHTTP(w, r)
				return
			}
			own := httptest.NewRecorder()
			r.Header.Del("Accept-Encoding")
			h.ServeHTTP(own, r)
			w.Header().Set("Content-Type", "application/json")
			_, _ = w.Write([]byte(strings.ReplaceAll(own.Body.String(), `"results"`, `"outcome"`)))
		})
	})
	openCleat(t, p, "Pulls")
	steps(t, p.See("Pulls cannot be shown"), p.See("What was kept is kept"))
	steps(t, p.Click("link", "Order"), p.See("Quantity"), p.Gone("cannot be shown"))
	assert.NotEmpty(t, p.Complaints(), "the console tells what was wrong")
}
