package e2e

import (
	"errors"
	"io"
	"net/http"
	"regexp"
	"strings"
	"sync/atomic"
	"testing"

	"bathyform/e2e/browser"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// person is how somebody works the page, and what they look for on the way.
type person struct {
	press  func(role, name string) error
	fill   func(label, text string) error
	choose func(label, option string) error
	at     func(place string) // what this person checks at each place
	upload func(path string) error
	log    func() error // presses what logs the pull
}

// byMouse is a person at a desk; the others differ from it.
func byMouse(p *browser.Page) person {
	return person{
		press: p.Click, fill: p.Fill, choose: p.Choose, at: func(string) {},
		upload: p.Upload,
		log:    func() error { return p.Click("button", "Log the pull") },
	}
}

// fromMeshToPull takes the bulb from its file to a pull in the log.
func (who person) fromMeshToPull(t *testing.T, p *browser.Page) {
	t.Helper()
	place := func(name, says string) error {
		if err := p.See(says); err != nil {
			return err
		}
		who.at(name)
		return nil
	}
	steps(t, p.Go("/"), place("jobs", "Deck cleat"), who.press("button", "New job"), who.fill("Name", "Bulb once more"),
		who.fill("Quantity", "12"), who.press("button", "Take it on"), p.See("Drop the master"))
	steps(t, who.upload(stl(t, "ballast-bulb")), p.See("The unit is a guess: mm"), place("master", "Surface closes"),
		who.press("button", "Yes, it is in mm"), p.See("Unit confirmed"),
		who.press("button", "On to the mould"))
	steps(t, p.See("choose a rubber"), who.choose("Rubber", tin), place("mould", "Mass to mix"),
		who.press("link", "Gates"), place("gates", "WHAT FOLLOWS"),
		who.press("link", "Shot"), who.choose("Resin", fast), place("shot", "1:1 by volume"))
	steps(t, who.press("link", "Pulls"), p.See("No mould is in use"), who.fill("Number", "FL-30"),
		who.press("button", "Put it on the rack"), p.See("LOG A PULL"), who.fill("Weight of A", "20"), who.fill("Weight of B", "18"))
	steps(t, who.log(), p.See("1 good of 12"), place("pulls", "FL-30"))
	steps(t, p.Go("/"), p.See("Bulb once more"), p.See("1 of 12"))
}

func TestAPersonWithAKeyboard(t *testing.T) {
	p, _ := serve(t)
	who := byMouse(p)
	who.press, who.fill, who.choose = p.Enter, p.Write, p.Dial
	who.log = func() error { return p.Enter("button", "Log the pull") }
	who.upload = func(path string) error { // the window that chooses a file is the browser's own
		return errors.Join(p.TabTo("button", "Choose an STL, OBJ or 3MF file"), p.Upload(path))
	}
	who.fromMeshToPull(t, p)
	quiet(t, p)
}

func TestAPersonWithATablet(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Touch(820, 1180))
	who := byMouse(p)
	who.press, who.fill = p.Tap, p.TapIn
	who.log = func() error { return p.Tap("button", "Log the pull") }
	who.choose = func(label, option string) error { return errors.Join(p.Tap("field", label), p.Choose(label, option)) }
	who.at = func(place string) {
		over, err := browser.Eval[int](p, `document.documentElement.scrollWidth - innerWidth`)
		require.NoError(t, err)
		assert.LessOrEqual(t, over, 0, "%s is wider than the tablet", place)
	}
	who.fromMeshToPull(t, p)
	quiet(t, p)
}

// All of it is found by what the browser tells a screen reader.
func TestAPersonWithAScreenReader(t *testing.T) {
	p, _ := serve(t)
	who := byMouse(p)
	who.press, who.fill = p.Act, p.Dictate
	who.log = func() error { return p.Act("button", "Log the pull") }
	who.choose = func(label, option string) error {
		_, err := p.Hear("field", label)
		return errors.Join(err, p.Choose(label, option))
	}
	heard := map[string][]string{ // each has its figure in what is heard, not only on the screen
		"master": {"Volume", "Surface"},
		"mould":  {"Mass to mix", "Part A for Half A"},
		"gates":  {"Air left in", "Sprue:"},
		"shot":   {"Part A", "Part B"},
	}
	who.at = func(place string) {
		_, err := p.Hear("heading", "")
		require.NoError(t, err, place)
		for _, name := range heard[place] {
			s, err := p.Hear("button", name)
			require.NoError(t, err, place)
			assert.Regexp(t, `\d`, s.Name+s.Value, "%s: %q is heard without its figure", place, name)
		}
	}
	who.fromMeshToPull(t, p)
	quiet(t, p)
}

var metricOrOunces = regexp.MustCompile(`.{0,20}(\d ?mm[²³]?|cm[²³]|\d ?m[lL]|\d ?(kg|kPa|°C)|\d ?oz)\b`)

func TestAPersonInInchesAndGrams(t *testing.T) {
	p, _ := serve(t)
	steps(t, p.Go("/practice"), p.See("A mould is held closed"), p.Choose("Lengths", "inches"), p.Choose("Volumes", "US fl oz"),
		p.See("Largest bucket"), p.Gone("mm for"), p.See("House practice kept"))
	who := byMouse(p)
	who.at = func(place string) {
		text, err := p.Text()
		require.NoError(t, err)
		assert.Empty(t, metricOrOunces.FindAllString(text, -1), place)
	}
	who.fromMeshToPull(t, p)
	quiet(t, p)
}

// The server dies while the file is on its way, and again when the pull is logged.
func TestAPersonWhoseServerDiesTwice(t *testing.T) {
	var l line
	var cutUpload atomic.Bool
	cutUpload.Store(true)
	p, _ := serveThrough(t, func(h http.Handler) http.Handler {
		h = l.through(h)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.HasSuffix(r.URL.Path, "/master/mesh") && cutUpload.Load() {
				_, _ = io.CopyN(io.Discard, r.Body, 4096)
				panic(http.ErrAbortHandler)
			}
			h.ServeHTTP(w, r)
		})
	})
	who := byMouse(p)
	who.upload = func(path string) error {
		err := errors.Join(p.Upload(path), p.See("The master is as it was"))
		cutUpload.Store(false)
		return errors.Join(err, p.Click("button", "Try it again"))
	}
	who.log = func() error {
		l.cut.Store(true)
		here, err := browser.Eval[string](p, `location.pathname`)
		err = errors.Join(err, p.Click("button", "Log the pull"), p.See("Kept here for now"),
			p.Go(here), p.See("The server does not answer."), p.See("1 change waits")) // the tab was closed and opened again
		l.cut.Store(false)
		return errors.Join(err, p.See("Sent now"), p.Gone("1 change waits"))
	}
	who.fromMeshToPull(t, p)
}
