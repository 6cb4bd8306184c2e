package e2e

import (
	"strings"
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheHubGoesFromMasterToBuildSheet(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Drogue hub"),
		p.Click("link", "Drogue hub"),
		p.Click("link", "Mould"),
		p.See("cannot be stripped out of"),
		p.Click(
			"tab",
			"Build",
		),
		p.See("Steps"),
		p.See("cannot be stripped out of"),
		p.Click("button", "Build it in pieces"),
		p.See("6 side pieces"),
		p.See("Build sheet, PDF"),
	)
	steps(t, p.Gone("cannot be stripped out of"), p.See("Parting board"), p.See("Keys"), p.See("First casting out"))
	steps(t, p.Click("button", "Compare kinds"), p.See("ALL KINDS FOR THIS ORDER"))
	steps(
		t,
		p.Click("button", "Choose: Cut block"),
		p.See("Cut guide to wrap round"),
		p.See("Hang the master"),
		p.See("First pass of the blade"),
	)
	steps(t, p.Click("link", "Rubber"), p.See("Cut block"), p.See("First casting out"))
	quiet(t, p)
}

func TestAGangIsTakenIntoTheDesign(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Deck cleat"),
		p.Click("link", "Deck cleat"),
		p.Click("link", "Mould"),
		p.Click("tab", "Gang"),
		p.See("Rubber for each cavity"),
		p.Click(
			"button",
			"Pour along the draw, +y up",
		),
		p.Gone("stands upright for the resin"),
		p.Click("button", "Lay 6"),
		p.See("6 cavities"),
		p.Click("button", "Build it with these"),
		p.See("This design has these cavities"),
	)
	steps(t, p.Click("button", "Cavity 2"), p.See("turn 90°"), p.Click("button", "turn 90°"), p.See("move one away"))
	steps(t, p.Click("link", "Shot"), p.See("5 more cavities"))
	steps(t, p.Click("link", "Mould"), p.Click("tab", "Build"), p.See("Bed the 6 masters"), p.See("Plan of the gang"))
	quiet(t, p)
}

func TestACavityIsMovedTurnedAndLockedByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"), p.Click("tab", "Gang"), p.See("Rubber for each cavity"), p.TabTo("button", "Cavity 1"))
	lies := func() string {
		at, err := browser.Eval[string](p, `document.activeElement.getAttribute('transform')`)
		require.NoError(t, err)
		return at
	}
	seen := lies()
	press := func(key string, moves bool, told string) {
		steps(t, p.Key(key), p.See(told))
		if moves {
			waitFor(t, func() bool { return lies() != seen })
			time.Sleep(time.Second) // the server lays the gang in the middle of its box again
		} else {
			assert.Never(t, func() bool { return lies() != seen }, time.Second, 100*time.Millisecond, "%q moves what is locked", key)
		}
		seen = lies()
	}
	press(kb.ArrowLeft, true, "turn 90°")
	press("l", false, "unlock")
	press(kb.ArrowLeft, false, "unlock")
	press("t", false, "unlock")
	steps(t, p.Key("l"), p.Gone("unlock"))
	press("t", true, "turn 90°")
	quiet(t, p)
}

// What a key does never leaves the focus nowhere: not where a button is greyed
// out while it works, takes itself away or leads to another view.
func TestTheFocusStaysWhereTheWorkIs(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Order")
	at := func(words string) {
		var got string
		assert.Eventually(t, func() bool {
			var err error
			got, err = browser.Eval[string](p, `document.activeElement === document.body ? 'nowhere' : document.activeElement.textContent`)
			return err == nil && strings.Contains(got, words)
		}, 10*time.Second, 100*time.Millisecond, words)
		assert.Contains(t, got, words, "the focus")
	}
	steps(t, p.See("Quantity"), p.Enter("button", "Keep"))
	at("Keep")

	steps(t, p.Enter("button", "Go there"), p.See("Log the pull"))
	at("good of")
	steps(t, p.Click("link", "Mould"), p.Click("tab", "Build"), p.Click("button", "Compare kinds"),
		p.Enter("button", "Choose: Open-face block"))
	at("Open-face block")
	steps(t, p.Enter("button", "Rubber of the mould"), p.See("box"), p.Key(kb.Escape))
	at("mL")
	quiet(t, p)
}

func TestTheCasterDecidesWhereTheSeamRunsAndWhatIsStripped(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Drogue hub"),
		p.Click("link", "Drogue hub"),
		p.Click("link", "Mould"),
		p.See("Compare these lines"),
		p.Click(
			"button",
			"Compare these lines",
		),
		p.See("min each"),
		p.See("lower edges"),
		p.Choose("Form", "round, a pipe"),
		p.See("Over all"),
		p.Choose("Keys", "half-round bars"),
		p.See("kept"),
	)
	steps(t, p.Click("tab", "Pieces"), p.Click("button", "Give undercuts side pieces"), p.See("Side 6"), p.See("bars"),
		p.Click("button", "strip it"), p.See("stripped, as you said"), p.See("Side 5"), p.Gone("Side 6"))
	quiet(t, p)
}

func TestThePartingIsDraggedInTheSection(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/"), p.See("Drogue hub"), p.Click("link", "Drogue hub"), p.Click("link", "Mould"), p.See("Proposed:"))
	steps(t, p.Gone("Dividing the rubber"), p.Drawn())
	before, err := p.Value("Parting, along the draw")
	steps(t, err, p.Drag("slider", "Parting", 0.3, 0.5, 0.3, 2.5), p.See("Yours."))
	after, err := p.Value("Parting, along the draw")
	steps(t, err)
	if before == after {
		t.Fatalf("the parting stayed at %s", before)
	}
	quiet(t, p)
}

func TestWhatCannotBeBuiltIsSaidOnThePage(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Deck cleat"),
		p.Click("link", "Deck cleat"),
		p.Click("link", "Mould"),
		p.See("Compare these lines"),
		p.Choose(
			"Form",
			"the shop's own",
		),
		p.See("Say how wide and deep"),
		p.Fill("Its width inside", "40"),
		p.Fill("Its depth inside", "40"),
		p.See("does not go into that box"),
		p.Choose("Form", "rectangle"),
		p.Gone("does not go into that box"),
	)
	steps(
		t,
		p.Click("button", "Up, half A"),
		p.Click("button", "Up, half A: +x"),
		p.Choose("Form", "round, a pipe"),
		p.See("The parting stands upright in a box with bent walls"),
		p.Choose("Form", "rectangle"),
		p.Gone("The parting stands upright in a box with bent walls"),
	)
	steps(
		t,
		p.Click("tab", "Build"),
		p.Choose("Kind of mould", "Soft stretch block"),
		p.See("does not peel like a sock"),
		p.Choose("Kind of mould", "Open-face block"),
		p.See("no flat back"),
	)
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "422", "the refused box is logged by the browser, nothing else")
	}
}

// goOnAsTheAddressIsWritten presses a tab and, just as the page writes that into
// the address, another: the hand has the last word.
const goOnAsTheAddressIsWritten = `(async () => {
	const tab = (name) => [...document.querySelectorAll('[role=tab]')].find((e) => e.textContent.startsWith(name))
	const rest = (ms) => new Promise((done) => setTimeout(done, ms))
	for (let wait = 396; wait < 412; wait += 2) {
		tab('Pieces').click()
		await rest(wait)
		tab('Gang').click()
		await rest(600)
		if (tab('Gang').getAttribute('aria-selected') !== 'true') return 'after ' + wait + ' ms'
	}
	return ''
})()`

func TestTheTabThatAHandPressesStands(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("BOX, INSIDE"))
	left, err := browser.Eval[string](p, goOnAsTheAddressIsWritten)
	require.NoError(t, err)
	assert.Empty(t, left, "a tab that was pressed is left again when the address of the one before is written")
	quiet(t, p)
}

// The seam is led through a place on a wall, and a block's master is held
// where the caster wants: both by pressing the part.
func TestSeamAndSupportsArePlacedOnThePart(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(t, p.See("Mass to mix"), p.Drawn(), p.Click("button", "Lead the line…"), p.See("Press a wall"),
		p.Click("button", "Front"), p.Drawn(), p.ClickWithin("image", "", 0.5, 0.5), p.See("1 within"),
		p.Click("button", "Remove place 1 of the parting line"), p.Gone("1 within"),
		p.Click("tab", "Build"), p.Choose("Kind of mould", "Cut block"), p.See("Bands to close it"),
		p.Click("tab", "Box"), p.See("Proposed. "), p.See("The rubber lifts it by"), p.Drawn(),
		p.Click("button", "Place it"), p.Click("button", "Below"), p.Drawn(), p.ClickWithin("image", "", 0.5, 0.5),
		p.See("The supports are yours."), p.Click("button", "take the proposal"), p.Gone("The supports are yours."))
	quiet(t, p)
}
