package e2e

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// aPicture is a file as a telephone leaves one behind.
func aPicture(t *testing.T) string {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for x := range 800 {
		for y := range 600 {
			img.Set(x, y, color.RGBA{R: uint8(x / 4), G: uint8(y / 4), B: 120, A: 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, img, nil))
	path := filepath.Join(t.TempDir(), "casting.jpg")
	require.NoError(t, os.WriteFile(path, out.Bytes(), 0o600))
	return path
}

// A scrapped casting: where on the part, what it weighs, and a picture of it.
func TestADefectIsShownOnThePart(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Pulls")
	steps(t,
		p.See("It is this spot: 6 of 6 marked defects"),
		p.See("less than its like"),
		p.See("a void of about"),
		p.Click("button", "◆ scrap"),
		p.See("show where"),
		p.Click("button", "show where"),
		p.See("Press on the part where the defect is"),
		p.Drawn(),
		p.Focus("group", "Where the defect of cavity 1 is"),
		p.Key("v"), p.See("Enter presses the part there"),
		p.Key(kb.Enter),
		p.See("shown on the part"),
		p.Fill("Note on casting 1", "at the tip"),
		p.Fill("Weight of casting 2", "33.4 g"),
		p.Click("button", "Log the pull"),
		p.See("Pull logged"),
		p.See("at the tip"),
		p.See("6 of 7 marked defects"),
	)
	steps(t, p.Upload(aPicture(t)), p.See("add a picture"))
	steps(t, p.Click("button", "Picture 1 of the pull of"), p.See("take it away"), p.Click("button", "take it away"),
		p.See("bring the picture back"), p.Click("button", "bring the picture back"), p.Gone("bring the picture back"),
		p.Click("button", "Picture 1 of the pull of"), p.See("take it away"))
	quiet(t, p)
}

// The server dies while a picture is on its way: it is still here, and taken once.
func TestAPictureThatWasLostOnTheWayIsSentAgain(t *testing.T) {
	var cut atomic.Bool
	cut.Store(true)
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.HasSuffix(r.URL.Path, "/photos") && r.Method == http.MethodPost && cut.Load() {
				_, _ = io.CopyN(io.Discard, r.Body, 2048)
				panic(http.ErrAbortHandler)
			}
			h.ServeHTTP(w, r)
		})
	})
	openCleat(t, p, "Pulls")
	steps(t, p.See("add a picture"), p.Upload(aPicture(t)), p.See("The connection was lost on the way"), p.See("send casting.jpg again"))
	cut.Store(false)
	steps(t, p.Click("button", "send casting.jpg again"), p.See("add a picture"), p.Gone("send casting.jpg again"))
	steps(t, p.Click("button", "Picture 1 of the pull of"), p.See("take it away"))
	pictures, err := browser.Eval[int](p, `document.querySelectorAll('img[src*="small=true"]').length`)
	require.NoError(t, err)
	assert.Equal(t, 1, pictures)
}

// A lot is bought, counted, and what is short is told with its day.
func TestTheShelfIsKeptCountOf(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/stock"),
		p.See("Rigid urethane, 3 min: runs out on"),
		p.See("lot U-1187 was to be used by"),
		p.Click("button", "Lots of Slow clear epoxy"),
		p.See("Nobody keeps count of it yet"),
		p.Fill("Number on the label", "E-12"),
		p.Fill("Part A, as bought", "2 kg"),
		p.Fill("Part B, as bought", "1 kg"),
		p.Fill("Price of a kilogram", "31"),
		p.Click("button", "Put it on the shelf"),
		p.See("On the shelf"),
		p.Click("button", "Count lot E-12"),
		p.See("A, as it stands on the scale"),
	)
	quiet(t, p)
}

// What was measured is offered in place of the house's figure, and taken at a press.
func TestTheHouseTakesWhatTheLogTeaches(t *testing.T) {
	p, url := serve(t)
	steps(t, p.Go("/practice"), p.Click("link", "What the log teaches"),
		p.See("WHAT STAYS IN A CUP OF RESIN"),
		p.See("mL stay in the cup, beside the 8 % on top of every shot: the house has 0"),
		p.Click("button", "Take 2."),
		p.See("the house reckons with it"),
		p.Click("disclosure", "Write down what was measured"),
		p.Fill("How much", "2.2"),
		p.Click("button", "Write it down"),
		p.See("Written down"),
	)
	var shop struct{ Practice struct{ CupKeeps float64 } }
	ask(t, "GET", url+"/api/shop", "", &shop)
	require.Greater(t, shop.Practice.CupKeeps, 1.5)

	steps(t, p.Click("button", "Keep it with Rigid urethane, 3 min"), p.See("on the sheet of Rigid urethane, 3 min"))
	openCleat(t, p, "Shot")
	steps(t, p.Choose("Recipes that matched in Rigid urethane, 3 min", "Deck cleat: grey 0.8 g in 83 g"), p.See("grey for the whole order"),
		p.Click("link", "Pulls"), p.See("Finishing them takes"),
		p.Click("link", "FL-11"), p.Click("disclosure", "What was forecast of it"), p.See("it gave"),
		p.Click("link", "How good the forecasts were"), p.See("EVERY FORECAST"), p.See("FL-13"))
	quiet(t, p)
}

// A mould's first look is written down, and an accident ends it.
func TestAMouldIsBornAndEndsByAccident(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/rack"), p.Click("link", "FL-12"),
		p.Click("button", "Write down the first look"),
		p.Choose("At the first look it was", "◆ flawed"),
		p.See("Born with"),
		p.Choose("At the first look it was", "✓ clean"),
		p.Click("disclosure", "Where it stands"),
		p.Fill("Where it stands", "shelf 4"),
		p.Click("button", "Correct it"),
		p.See("clean at the first look"),
		p.See("shelf 4"),
		p.See("version 1 of the job"),
		p.Go("/rack"), p.See("FL-12"),
		p.Click("button", "Retire FL-12"), p.Click("menuitem", "Torn by hand"), p.See("torn by hand"),
		p.Click("link", "FL-12"), p.See("Torn by hand, and retired."),
	)
	quiet(t, p)
}

// A session that is over asks what stayed in the cup, and the shop learns from it.
func TestTheBenchAsksWhatStayedInTheCup(t *testing.T) {
	p, url := serve(t)
	var rack struct {
		Moulds []struct{ ID, Number, JobID string }
	}
	ask(t, "GET", url+"/api/moulds?text=FL-14", "", &rack)
	var begun struct{ ID string }
	ask(t, "POST", url+"/api/sessions", `{"kind":"casting","job":"`+rack.Moulds[0].JobID+`","moulds":["`+rack.Moulds[0].ID+`"]}`, &begun)
	ask(t, "POST", url+"/api/sessions/"+begun.ID+"/events", `{"what":"stopped","text":"fire alarm"}`, nil)
	steps(t, p.Go("/bench/"+begun.ID), p.See("Broken off: fire alarm"),
		p.Click("disclosure", "What stayed in the cup?"),
		p.Fill("Left in the cup", "1.8"),
		p.Click("button", "Write it down"),
		p.Click("link", "What the log teaches"),
		p.See("What was measured, the latest first"),
	)
	quiet(t, p)
}
