package e2e

import (
	"testing"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The caster shapes the channels: a cone for the sprue, runners half round, a vent
// that ends in a cup and is cut; the rods to cut say so, and undo takes it back.
func TestTheCasterShapesTheChannels(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(
		t,
		p.See("Air left in"),
		p.Drawn(),
		p.Choose("Runners and gates", "half round"),
		p.Fill("Sprue under the well", "14"),
		p.Key(kb.Tab),
		p.Click("button", "More of vent 1"),
		p.Choose("Vent 1 ends", "in a cup"),
		p.See("Cup on a vent"),
		p.Choose("Vent 1 is made", "by cutting it"),
	)
	_, err := browser.Eval[bool](
		p,
		`([...document.querySelectorAll('summary')].find((s) => s.textContent.startsWith('Rods')).click(), true)`,
	)
	require.NoError(t, err)
	steps(t, p.See("half round"), p.See("overflow on vent 1"))
	got, err := browser.Eval[string](p, `document.querySelector('table').innerText.replace(/\s+/g, ' ')`)
	require.NoError(t, err)
	assert.Regexp(t, `sprue 14\.0 ?mm to 8\.0 ?mm`, got)
	steps(t, p.Click("button", "Undo"), p.Click("button", "Undo"), p.Gone("Cup on a vent"))
	quiet(t, p)
}

// Gate and sprue are led in the section by keys, as vents are.
func TestGateAndSprueAreLedByKeys(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Gate as proposed"), p.See("Sprue as proposed"), p.Drawn())
	held := func(name string) {
		t.Helper()
		require.Eventually(t, func() bool {
			ok, err := browser.Eval[bool](p, `((g) => (g?.focus(), !!g))(document.querySelector('g[aria-label^="`+name+`"]'))`)
			return err == nil && ok
		}, 10*time.Second, 100*time.Millisecond, "%s stands in the section", name)
	}
	held("Sprue;")
	steps(t, p.Key(kb.ArrowRight), p.See("Sprue where you put it"))
	held("Gate;")
	steps(t, p.Key(kb.ArrowLeft), p.Key(kb.ArrowLeft), p.See("Gate where you put it"), p.Click("button", "The gate as proposed"),
		p.See("Gate as proposed"))
	quiet(t, p)
}

// A tilt is chosen with the vents that it takes, told as long as it lasts, and
// taken back.
func TestAMouldIsStoodOutOfLevel(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Gates")
	steps(t, p.See("Air left in"), p.Drawn(), p.Click("button", "What a tilt spares"), p.See("15°"),
		p.Click("button", "Choose 8° out of level"), p.See("Poured 8° out of level"), p.See("3 of 3 proposed"),
		p.Click("button", "Level again"), p.Gone("Poured 8° out of level"))
	quiet(t, p)
}

// The parts of a set share a mould, fed from one well.
func TestASetIsLaidInOneMould(t *testing.T) {
	p, _ := serve(t)
	openCleat(t, p, "Order")
	steps(
		t,
		p.See("THE SET"),
		p.Click("button", "Lay the set in one mould"),
		p.See("Drifter kit, in one mould"),
		p.See("Air left in"),
		p.See("Gates"),
		p.Drawn(),
	)
	got, err := browser.Eval[int](
		p,
		`[...document.querySelectorAll('table th[scope=row]')].filter((e) => e.textContent.startsWith('gate')).length`,
	)
	require.NoError(t, err)
	assert.Equal(t, 5, got, "four cleats and a hub, each with its gate")
	quiet(t, p)
}
