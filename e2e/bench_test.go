package e2e

import (
	"fmt"
	"strings"
	"testing"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// glove is how large everything is that is pressed at the bench, px.
const glove = 56

// wideEnough asserts that what is pressed is large enough for a glove.
func wideEnough(t *testing.T, p *browser.Page, where string) {
	t.Helper()
	small, err := browser.Eval[[]string](p, fmt.Sprintf(`
		[...document.querySelectorAll('main button, main a[href], main summary, main input')]
		.filter((e) => e.getClientRects().length && !e.closest('table, dl, p') && !e.matches('[class*=number]'))
		.map((e) => [e, e.getBoundingClientRect()])
		.filter(([, r]) => r.width > 1 && (r.width < %[1]d - 0.5 || r.height < %[1]d - 0.5))
		.map(([e, r]) => (e.getAttribute('aria-label') ?? e.textContent).slice(0, 40) + ' ' + Math.round(r.width) + 'x' + Math.round(r.height))`,
		glove))
	require.NoError(t, err)
	assert.Empty(t, small, where)
}

// A run that goes wrong, with one finger from a tablet: the scale loses its plug, a
// weight is typed in, part B is overshot and the ratio put right, a mould is short
// and topped up. It is scored, and nothing is logged.
func TestARunThatGoesWrongIsSavedWithOneFinger(t *testing.T) {
	p, url := serve(t)
	steps(t, p.Touch(820, 1180), p.Go("/bench"), p.See("TRAINING"))
	wideEnough(t, p, "today")
	steps(t, p.Tap("button", "Begin a run that goes wrong"), p.See("1 of 15"))
	for i := 2; i <= 5; i++ {
		steps(t, p.Tap("button", "Done"), p.See(fmt.Sprintf("%d of 15", i)))
		wideEnough(t, p, fmt.Sprint("step ", i))
	}
	steps(t, p.Tap("button", "Put the cup on"), p.See("38"), p.Tap("button", "Tare"), p.See("6 of 15"), p.See("The plug is pulled"),
		p.See("The instrument does not answer"))
	wideEnough(t, p, "weighing")
	steps(
		t,
		p.TapIn("Weight by hand", "47.3"),
		p.Key(kb.Tab),
		p.Tap("button", "By hand, keep"),
		p.See("7 of 15"),
		p.See("Too much of it fell in"),
		p.TapIn(
			"Weight by hand",
			"53",
		),
		p.Key(kb.Tab),
		p.Tap("button", "By hand, keep"),
		p.See("The ratio is off by 12 %"),
		p.See("pot life"),
		p.Tap("button", "Add 5.7g of part A"),
		p.See("Add more of part A"),
		p.TapIn("Weight by hand", "5.7"),
		p.Key(kb.Tab),
		p.Tap("button", "By hand, keep"),
		p.Gone("The ratio is off"),
		p.See("9 of 16"),
		p.Tap("button", "Done"),
		p.See("Pour T-1"),
	)
	steps(
		t,
		p.Tap("button", "It goes wrong"),
		p.See("A mould is short"),
		p.Tap("button", "A mould is short"),
		p.See("not poured in this session"),
	)
	wideEnough(t, p, "it goes wrong")
	steps(
		t,
		p.Tap("button", "Back to the step"),
		p.Tap("button", "Poured"),
		p.See("11 of 16"),
		p.Tap("button", "It goes wrong"),
		p.Tap(
			"button",
			"A mould is short",
		),
		p.See("Topper"),
		p.See("Left until it gels"),
		p.Tap("button", "Do it"),
		p.See("11 of 16"),
	)
	steps(
		t,
		p.Tap("button", "Done"),
		p.See("The resin cures"),
		p.Tap("button", "Leave out"),
		p.See("Demould"),
		p.Tap("button", "Done"),
		p.See("14 of 16"),
		p.Tap("button", "Done"),
		p.See("how is it"),
		p.Tap("button", "Good"),
		p.See("16 of 16"),
		p.Tap("button", "Show how it went"),
		p.See("The lesson is over"),
		p.See("of 10"),
		p.See("T-1 topped up"),
	)
	var rack struct{ Moulds []struct{ Number string } }
	ask(t, "GET", url+"/api/moulds", "", &rack)
	for _, m := range rack.Moulds {
		assert.NotEqual(t, "T-1", m.Number)
	}
	quiet(t, p)
}

// A first rubber pour with Space, Enter and Backspace alone.
func TestARubberPourByKeysAlone(t *testing.T) {
	p, url := serve(t)
	steps(t, p.Go("/bench"), p.See("TRAINING"), p.TabTo("button", "Begin a first rubber pour"), p.Key(kb.Enter), p.See("1 of 14"),
		p.Key(" "), p.See("2 of 14"), p.Key(kb.Backspace), p.See("1 of 14"), p.Key(kb.Enter), p.See("2 of 14"), p.Key(kb.Enter),
		p.See("3 of 14"), p.Key(" "), p.See("4 of 14"), p.See("tare both"), p.Key(kb.Enter), p.See("Weigh base"))
	var bench struct {
		Sessions []struct{ ID string }
	}
	ask(t, "GET", url+"/api/bench", "", &bench)
	require.Len(t, bench.Sessions, 1)
	say := func(line string) {
		ask(t, "POST", url+"/api/sessions/"+bench.Sessions[0].ID+"/say", fmt.Sprintf(`{"instrument":"scale","line":%q}`, line), nil)
	}
	steps(t, p.See("Keep 0g")) // the cup is taken off what the scale shows
	say("put 280")
	steps(t, p.See("Keep 280.0g"), p.Key(kb.Enter), p.See("6 of 14"), p.See("28"))
	say("put 28")
	steps(t, p.See("pot life"), p.See("Keep 28.0g"), p.Key(" "))
	for i := 7; i < 14; i++ {
		steps(t, p.See(fmt.Sprintf("%d of 14", i)), p.Key(kb.Enter))
	}
	steps(t, p.See("14 of 14"), p.Key(kb.Enter), p.See("The lesson is over"), p.See("Weights"))
	quiet(t, p)
}

// A run of three moulds on a stand-in scale: in the middle the server is away and
// the page is opened anew, a second device follows, and all of it is found in the
// log as it was weighed.
func TestARunOfThreeMouldsIsCarriedOnAndLogged(t *testing.T) {
	var l line
	p, url := serveThrough(t, l.through)
	var jobs []struct {
		ID    string
		Order struct{ Name string }
	}
	ask(t, "GET", url+"/api/jobs", "", &jobs)
	cleat := ""
	for _, j := range jobs {
		if j.Order.Name == "Deck cleat" {
			cleat = j.ID
		}
	}
	for _, n := range []string{"FL-15", "FL-16"} {
		ask(
			t,
			"POST",
			url+"/api/jobs/"+cleat+"/moulds",
			fmt.Sprintf(`{"number":%q,"rubber":"tin","poured":"2026-01-05","cavities":1}`, n),
			nil,
		)
	}
	steps(
		t,
		p.Touch(820, 1180),
		p.Go("/bench"),
		p.See("3 moulds are free"),
		p.Tap("button", "Cast"),
		p.See("Which moulds?"),
		p.See("FL-16"),
		p.Fill("Pots", "3"),
		p.Tap("button", "Begin"),
		p.See("Is everything ready?"),
	)
	here, err := browser.Eval[string](p, `location.pathname`)
	require.NoError(t, err)
	c := caster{t, p, url + "/api/sessions/" + strings.TrimPrefix(here, "/bench/")}
	second := tab(t, url, 1280, 800)
	steps(t, second.Go(here), second.See("Is everything ready?"))
	c.press("Done")
	steps(t, second.See("air the room"), second.See("2 of"))
	l.cut.Store(true)
	steps(t, p.Tap("button", "Done"), p.See("The server is away"))
	l.cut.Store(false)
	steps(t, p.See("3 of"), p.Gone("The server is away"), second.See("3 of"))
	c.until("stir")
	steps(t, p.See("pot life"), p.Go("/rack"), p.See("FL-15"), p.Go(here), p.See("pot life"), p.See("Stir;"))
	slept := `Object.defineProperty(document, 'visibilityState', { get: () => 'visible', configurable: true });
		document.dispatchEvent(new Event('visibilitychange'))`
	_, err = browser.Eval[any](second, slept) // it wakes, and has what happened meanwhile
	require.NoError(t, err)
	steps(t, second.See("Stir;"))
	c.until("look")
	steps(t, p.Tap("button", "short fill"), p.Gone("how is it?"))
	c.until("")
	steps(
		t,
		p.See("It is written down"),
		p.Click("link", "To the log of Deck cleat"),
		p.See("LOG A PULL"),
		p.See("FL-15"),
		p.See("FL-16"),
		p.See("short fill"),
		p.See("at the bench"),
	)
}

// caster works a session off with a finger.
type caster struct {
	t   *testing.T
	p   *browser.Page
	url string
}

type standing struct {
	At, Version int
	Over        bool
	Steps       []struct{ Act, Do string }
	Weighing    *struct{ Target float64 }
}

func (c caster) now() (s standing) {
	c.t.Helper()
	ask(c.t, "GET", c.url, "", &s)
	return s
}

// press does the step that is on by a button, and waits for the next one.
func (c caster) press(button string) {
	c.t.Helper()
	was := c.now()
	steps(c.t, c.p.Tap("button", button))
	next := fmt.Sprintf("%d of %d", was.At+2, len(was.Steps))
	if was.At+1 == len(was.Steps) {
		next = "It is written down"
	}
	steps(c.t, c.p.See(next))
}

// until goes on until an act is on; an empty one is the end.
func (c caster) until(act string) {
	c.t.Helper()
	for s := c.now(); !s.Over && s.Steps[s.At].Act != act; s = c.now() {
		switch s.Steps[s.At].Act {
		case "tare":
			c.press("Tare")
		case "weigh":
			steps(c.t, c.p.See("Weigh part"), c.p.TapIn("Weight by hand", fmt.Sprintf("%.1f", s.Weighing.Target)), c.p.Key(kb.Tab))
			c.press("By hand, keep")
		case "pour":
			c.press("Poured")
		case "pressure":
			c.press("It holds")
		case "wait":
			c.press("Leave out")
		case "look":
			c.press("Good")
		case "record":
			c.press("Write it down")
		default:
			c.press("Done")
		}
	}
}
