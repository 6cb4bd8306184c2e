package e2e

import (
	"errors"
	"os"
	"path/filepath"
	"testing"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What axe-core is asked for: all of it, or what a scheme alone decides.
const (
	whole   = `['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']`
	colours = `{type: 'rule', values: ['color-contrast', 'link-in-text-block']}`
)

// audit finds what stands in the way of people who see, hear or move
// differently: the rules of axe-core for WCAG 2.2 AA and its best practice.
func audit(t *testing.T, p *browser.Page, what, rules string) {
	t.Helper()
	there, err := browser.Eval[bool](p, `typeof window.axe === 'object'`)
	require.NoError(t, err)
	if !there {
		_, err = browser.Eval[bool](p, axe(t)+"; true")
		require.NoError(t, err)
	}
	found, err := browser.Eval[[]string](p, `axe.run(document, {resultTypes: ['violations'],
			runOnly: `+rules+`}).then((r) =>
		r.violations.flatMap((v) => v.nodes.slice(0, 4).map((n) =>
			v.id + ' (' + v.nodes.length + '): ' + n.target.join(' ') + ' ' + n.html.slice(0, 140) + ' ' +
			n.any.concat(n.all, n.none).map((c) => c.message).join('; ').slice(0, 200))))`)
	require.NoError(t, err, what)
	for _, f := range found {
		t.Errorf("%s: %s", what, f)
	}
}

func axe(t *testing.T) string {
	t.Helper()
	source, err := os.ReadFile(filepath.Join("..", "web", "node_modules", "axe-core", "axe.min.js"))
	require.NoError(t, err, "make test fetches it with the page's other packages")
	return string(source)
}

// fits asserts that the page as such does not scroll.
func fits(t *testing.T, p *browser.Page, where string) {
	t.Helper()
	over, err := browser.Eval[bool](p,
		`document.documentElement.scrollWidth > innerWidth || document.documentElement.scrollHeight > innerHeight`)
	require.NoError(t, err)
	assert.False(t, over, "%s scrolls the page", where)
}

// Every view, tab and dialog, in both schemes at a desk and on a tablet: each
// fits, all that can be used has a name, and the console has nothing to say.
func TestNothingStandsInAnybodysWay(t *testing.T) {
	p, url := serve(t)
	openCleat(t, p, "Gates")
	job, err := browser.Eval[string](p, `location.pathname.replace(/\/[a-z]+$/, '')`)
	require.NoError(t, err)
	night := tab(t, url, 820, 1180)
	steps(t, night.Scheme("dark"))
	opened := func(button, see string) func(v *browser.Page) error {
		return func(v *browser.Page) error {
			if err := v.Click("button", button); err != nil {
				return err
			}
			return v.See(see)
		}
	}
	inTab := func(name, see string) func(v *browser.Page) error {
		return func(v *browser.Page) error {
			if err := v.Click("tab", name); err != nil {
				return err
			}
			return v.See(see)
		}
	}
	key := func(k, see string, with ...chromedp.KeyOption) func(v *browser.Page) error {
		return func(v *browser.Page) error {
			if err := v.Key(k, with...); err != nil {
				return err
			}
			return v.See(see)
		}
	}
	views := []struct {
		name, path, see string
		act             func(v *browser.Page) error
	}{
		{"jobs", "/", "Deck cleat", nil},
		{"new job", "/", "Deck cleat", opened("New job", "Take it on")},
		{"keys", "/", "Deck cleat", key("?", "level down and up")},
		{"words", "/", "Deck cleat", func(v *browser.Page) error {
			return errors.Join(v.Key("?"), v.Click("tab", "Words"), v.See("how far a parting line strays"))
		}},
		{"six ways", job + "/gates", "SECTION ACROSS", opened("Up for the resin", "+x")},
		{"palette", "/", "Deck cleat", key("k", "House practice", chromedp.KeyModifiers(chromedp.ModifierCtrl))},
		{"bench", "/bench", "TRAINING", nil},
		{"session", "/bench", "TRAINING", opened("Begin a run that goes wrong", "Is everything ready?")},
		{"weighing", "/bench?weigh", "OPEN SESSIONS", func(v *browser.Page) error {
			return errors.Join(
				v.Click("button", "Begin a first casting "+
					"run"),
				v.See("Leave out"), // the list of open sessions tells steps as well
				v.Key(kb.Enter),
				v.See("2 of"),
				v.Key(kb.Enter),
				v.See(
					"3 of",
				),
				v.Key(kb.Enter),
				v.See("4 of"),
				v.Key(kb.Enter),
				v.See("5 of"),
				v.Click("button", "Tare"),
				v.See("on the scale"),
			)
		}},
		{"wrong", "/bench?wrong", "OPEN SESSIONS", func(v *browser.Page) error {
			return errors.Join(
				v.Click("link", "Open"),
				v.Click("button", "It goes wrong"),
				v.Click("button", "A mould is torn"),
				v.See("out of this run"),
			)
		}},
		{"rack", "/rack", "FL-14", nil},
		{"season", "/rack", "FL-14", opened("Bring in a season", "Choose a file")},
		{"mould's page", "/rack?page", "FL-12", func(v *browser.Page) error {
			return errors.Join(v.Click("link", "FL-12"), v.See("STORY"))
		}},
		{"stock", "/stock", "Source", nil},
		{"learnt", "/learnt", "MINUTES OF FINISHING A CASTING", nil},
		{"forecasts", "/forecasts", "EVERY FORECAST", nil},
		{"new material", "/stock", "Source", opened("New material", "Parts A")},
		{"practice", "/practice", "House practice", nil},
		{"nowhere", "/nowhere", "Nothing is charted", nil},
		{"order", job + "/order", "Quantity", nil},
		{"bin", job + "/order", "Quantity", opened("Put it into the bin", "Leave it")},
		{"master", job + "/master", "Volume", nil},
		{"block-out", job + "/master", "Volume", inTab("Block-out", "Add a solid")},
		{"by measure", job + "/master", "Volume", inTab("By measure", "Length (x)")},
		{"draw", job + "/master", "Volume", inTab("Draw", "Parting line, about")},
		{"walls", job + "/master", "Volume", inTab("Walls", "Half of it is thinner than")},
		{"pour", job + "/master", "Volume", inTab("Pour", "Search ways up")},
		{"brief", job + "/master", "Volume", inTab("Brief", "Generation")},
		{"kind", job + "/master", "Volume", inTab("Kind", "score")},
		{"prep", job + "/master", "Volume", inTab("Prep", "Humidity")},
		{"box", job + "/mould", "BOX, INSIDE", nil},
		{"pieces", job + "/mould", "BOX, INSIDE", inTab("Pieces", "mL")},
		{"gang", job + "/mould", "BOX, INSIDE", inTab("Gang", "Rubber for each cavity")},
		{"build", job + "/mould", "BOX, INSIDE", inTab("Build", "Build sheet")},
		{"gates", job + "/gates", "SECTION ACROSS", nil},
		{"rubber", job + "/rubber", "First casting out", nil},
		{"shot", job + "/shot", "Part A", nil},
		{"pulls", job + "/pulls", "LOG A PULL", nil},
		{"put right", job + "/pulls", "LOG A PULL", opened("Correct the pull", "Correct it")},
	}
	for _, when := range []struct {
		name, scheme, other string
		page                *browser.Page
	}{{"by day", "light", "dark", p}, {"by night, on a tablet", "dark", "light", night}} {
		t.Run(when.name, func(t *testing.T) {
			t.Parallel() // one is looked at while the other is loaded
			v, at := when.page, ""
			for _, c := range views {
				if c.path != at || c.act == nil {
					steps(t, v.Go(c.path), v.See(c.see))
					at = c.path
				}
				if c.act != nil {
					steps(t, c.act(v))
				}
				audit(t, v, c.name, whole)
				steps(t, v.Scheme(when.other))
				audit(t, v, c.name+", in the other scheme", colours)
				fits(t, v, c.name)
				named(t, v, c.name)
				quiet(t, v)
				steps(t, v.Scheme(when.scheme), v.Key(kb.Escape))
			}
		})
	}
}
