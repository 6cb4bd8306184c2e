package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"bathyform/core/mesh"
	"bathyform/demo/parts"
	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOrderIsChangedAndAJobGoesIntoTheBinAndComesBack(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/"), p.See("Ballast bulb"), p.Click("link", "Ballast bulb"), p.See("WHAT YOU SET"),
		p.Click("link", "Order"), p.Fill("Quantity", "14"), p.Click("button", "Keep"), p.See("Order kept"), p.See("14 wanted"),
		p.Fill("Quantity", "none"), p.Click("button", "Keep"), p.See("A whole number of at least 1"),
		p.Fill("Quantity", "14"),
		p.Click("button", "Put it into the bin"), p.See("into the bin?"), p.Click("button", "Leave it"), p.Gone("into the bin?"),
		p.Click("button", "Put it into the bin"), p.See("into the bin?"), p.Click("button", "Into the bin"),
		p.See("Ballast bulb is in the bin"), p.See("1 job is in the bin"))
	_, err := browser.Eval[bool](p, `(() => { document.querySelector('summary').click(); return true })()`)
	require.NoError(t, err)
	steps(t, p.Click("button", "Put Ballast bulb back"), p.See("on the list again"), p.Gone("in the bin"),
		p.Click("link", "Ballast bulb"), p.See("14 wanted"))
	quiet(t, p)
}

func TestMouldIsRetiredAndTakenBack(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/rack"), p.See("FL-14"), p.See("about 20 more"),
		p.Click("button", "Retire FL-14"), p.Click("menuitem", "Worn out"), p.Gone("about 20 more"))
	body, err := p.Text()
	require.NoError(t, err)
	assert.Equal(t, 2, strings.Count(body, "worn out "), "both moulds are worn out now")
	steps(t, p.Click("link", "Deck cleat"), p.See("No mould is in use"), p.Click("link", "Rack"),
		p.Click("button", "Back into use: FL-14"), p.See("about 20 more"))
	quiet(t, p)
}

func TestMaterialIsChangedAndTheWeightsFollow(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Rubber")
	steps(t, p.See("HALF A"))
	before, err := p.TextOf("button", "Rubber for Half A")
	require.NoError(t, err)
	steps(t, p.Click("link", "Stock"), p.Click("button", "Change "+tin), p.See("Change the material"),
		p.Fill("Density, mixed", "1.28"))
	time.Sleep(300 * time.Millisecond) // the server reads the number
	steps(t, p.Click("button", "Keep"), p.See("is kept"), p.Go("/"))
	openCleat(t, p, "Rubber")
	steps(t, p.See("HALF A"), p.Gone(before))
	steps(t, p.Go("/stock"), p.Click("button", "New material"), p.Fill("Name", "Quick resin"), p.Choose("Kind", "resin"),
		p.Fill("Parts A", "0"))
	time.Sleep(300 * time.Millisecond)
	steps(t, p.Click("button", "Keep"), p.See("both sides of the ratio must be more than 0"))
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "422")
	}
}

func TestSectionMovesAndTurnsByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("SECTION ACROSS Y"), p.Drawn())
	at := func() string {
		text, err := browser.Eval[string](p, `document.querySelector('[aria-label="Section and sounding rail"] .num').textContent`)
		require.NoError(t, err)
		return text
	}
	focus := func() {
		_, err := browser.Eval[bool](p, `(() => { document.querySelector('[aria-label^="Section; arrow keys"]').focus(); return true })()`)
		require.NoError(t, err)
	}
	first := at()
	focus()
	steps(t, p.Key(kb.ArrowRight), p.Key(kb.ArrowRight))
	waitFor(t, func() bool { return at() != first })
	steps(t, p.Key(kb.ArrowLeft), p.Key(kb.ArrowLeft))
	waitFor(t, func() bool { return at() == first })
	steps(t, p.Key("t"), p.See("SECTION ACROSS X"))
	quiet(t, p)
}

func waitFor(t *testing.T, ready func() bool) {
	t.Helper()
	for range 100 {
		if ready() {
			return
		}
		time.Sleep(40 * time.Millisecond)
	}
	t.Fatal("it did not come about")
}

func TestHalvesCloseAndBothPoursAreShown(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Mould")
	steps(
		t,
		p.Drawn(),
		p.See("bed, later half B"),
		p.Click("button", "half B"),
		p.Gone("bed, later half B"),
		p.Click("button", "closed"),
		p.Drawn(),
		p.Click("button", "drawn apart"),
		p.Drawn(),
		p.Fill(
			"Parting, along the draw",
			"3",
		),
		p.See("Yours. Proposed is the height"),
		p.Click("button", "take the proposal"),
		p.See("Proposed: the outline"),
		p.Fill("Parting, along the draw", "400"),
		p.See("lies outside the box"),
	)
	for _, c := range p.Complaints() {
		assert.Contains(t, c, "422")
	}
}

func TestFeedingFromTheTopNeedsNoVentWhereTheOpeningIs(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Ballast bulb"),
		p.Click("link", "Ballast bulb"),
		p.Click("link", "Gates"),
		p.Drawn(),
		p.See(
			"Air left in",
		),
		p.Gone("all the air stays in"),
		p.Click("button", "Remove vent 1"),
		p.See("There is no vent: all the air stays in"),
		p.Click("button", "Feed from the top"),
		p.Gone("There is no vent"),
		p.See("Opening bore"),
	)
	quiet(t, p)
}

func TestAMeshWithHolesSaysHowSureItsVolumeIs(t *testing.T) {
	p, _ := serve(t)
	demo, ok := parts.ByKey("ballast-bulb")
	require.True(t, ok)
	whole := demo.Mesh()
	holed := &mesh.Mesh{Vertices: whole.Vertices, Triangles: whole.Triangles[60:]}
	path := filepath.Join(t.TempDir(), "torn.stl")
	require.NoError(t, os.WriteFile(path, holed.WriteSTL(), 0o600))
	steps(t, p.Go("/"), p.Click("button", "New job"), p.Fill("Name", "Torn"), p.Fill("Quantity", "1"), p.Click("button", "Take it on"),
		p.See("Drop the master’s mesh here"), p.Upload(path), p.See("The mesh has holes"), p.See("open edges"), p.See("±"), p.Drawn())
	quiet(t, p)
}

func TestASetIsSeenFromItsParts(t *testing.T) {
	p, _ := serve(t)
	steps(
		t,
		p.Go("/"),
		p.See("Drifter kit"),
		p.Click("link", "Drogue hub"),
		p.Click("link", "Order"),
		p.See("No set is complete yet"),
		p.See(
			"the next set waits for it",
		),
		p.Click("button", "Add a master to the set"),
		p.See("Another part of the Drifter kit"),
		p.Fill("Name", "Sensor guard"),
		p.Click("button", "Take it on"),
		p.See("Drop the master’s mesh here"),
		p.Click("link", "Order"),
		p.See("Sensor guard"),
		p.See("× 4 · 88 of 240 good"),
	)
	quiet(t, p)
}
