// Package browser drives the page in headless Chromium the way a person
// does: by what is written on things, not by how they are built.
package browser

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
)

// patience is how long a step may take before it counts as failed. A page
// drawn in software on a machine with other work is slow, not wrong.
const patience = 90 * time.Second

// Page is one tab.
type Page struct {
	ctx  context.Context
	dots float64
	quit context.CancelFunc
	base string
	mu   sync.Mutex
	bad  []string
	lost error // the step that failed; those after it have no ground to stand on
}

// Browser is one Chromium with a profile of its own.
type Browser struct {
	ctx     context.Context
	cancel  context.CancelFunc
	profile string
	// Dots are drawn to a px of the page; half of one is drawn in a quarter of the time.
	Dots float64
}

// Start runs a headless Chromium.
func Start() (*Browser, error) {
	profile, err := os.MkdirTemp("", "bathyform-browser")
	if err != nil {
		return nil, err
	}
	opts := []chromedp.ExecAllocatorOption{chromedp.NoSandbox, chromedp.UserDataDir(profile)}
	for name, value := range map[string]any{
		"headless": "new", "use-angle": "swiftshader", "enable-unsafe-swiftshader": true,
		"disable-background-networking": true, "disable-component-update": true, "disable-sync": true, "no-first-run": true,
		"disable-quic": true, "disable-gpu-rasterization": true,
		"disable-dev-shm-usage": true, "force-color-profile": "srgb", "hide-scrollbars": true,
	} {
		opts = append(opts, chromedp.Flag(name, value))
	}
	alloc, stop := chromedp.NewExecAllocator(context.Background(), opts...)
	ctx, cancel := chromedp.NewContext(alloc)
	if err := chromedp.Do(ctx); err != nil {
		cancel()
		stop()
		return nil, fmt.Errorf("start Chromium (apt-get install chromium, or `make setup`): %w", err)
	}
	return &Browser{ctx, func() { cancel(); stop() }, profile, 1}, nil
}

// Close ends the browser.
func (b *Browser) Close() {
	b.cancel()
	_ = os.RemoveAll(b.profile)
}

// Open makes a tab of the given size on a server.
func (b *Browser) Open(base string, width, height int64) (*Page, error) {
	ctx, quit := chromedp.NewContext(b.ctx)
	p := &Page{ctx: ctx, quit: quit, base: base, dots: b.Dots}
	err := chromedp.Do(ctx, chromedp.EmulateViewport(width, height, chromedp.EmulateScale(b.Dots)))
	if err != nil {
		return nil, err
	}
	return p, chromedp.Listen(ctx, p.hear)
}

// Close closes the tab; one with a drawing costs the others time.
func (p *Page) Close() { p.quit() }

// hear collects what the page complains about.
func (p *Page) hear(ev any) {
	p.mu.Lock()
	defer p.mu.Unlock()
	switch e := ev.(type) {
	case *runtime.EventConsoleAPICalled:
		if e.Type == runtime.ConsoleAPICalledTypeError {
			var words []string
			for _, a := range e.Args {
				words = append(words, string(a.Value)+a.Description)
			}
			p.bad = append(p.bad, "console: "+strings.Join(words, " "))
		}
	case *runtime.EventExceptionThrown:
		text := e.ExceptionDetails.Text
		if e.ExceptionDetails.Exception != nil {
			text += " " + e.ExceptionDetails.Exception.Description
		}
		p.bad = append(p.bad, "exception: "+text)
	case *log.EventEntryAdded:
		if e.Entry.Level == log.EntryLevelError {
			p.bad = append(p.bad, "log: "+e.Entry.Text+" "+e.Entry.URL)
		}
	}
}

// Complaints returns the console errors so far and forgets them.
func (p *Page) Complaints() []string {
	p.mu.Lock()
	defer p.mu.Unlock()
	out := p.bad
	p.bad = nil
	return out
}

// Go opens an address of the server.
func (p *Page) Go(path string) error {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	return chromedp.Do(ctx, chromedp.Navigate(p.base+path))
}

// script finds things by role and name. The name of a thing is its label,
// else what is written on it.
const script = `
(() => {
  const roles = {
    button: 'button,[role=button],label.mantine-SegmentedControl-label,label.mantine-Checkbox-label',
    link: 'a[href]', tab: '[role=tab]', field: 'input:not([type=file]):not([type=hidden]),textarea,select', slider: '[role=slider]',
    menuitem: '[role=menuitem]', group: '[role=group],section,aside', image: 'canvas', heading: 'h1,h2', disclosure: 'summary',
  };
  const squash = (s) => (s || '').replace(/\s+/g, ' ').trim();
  const name = (e) => {
    if (e.getAttribute('aria-label')) return squash(e.getAttribute('aria-label'));
    if (e.labels && e.labels.length) return squash(e.labels[0].textContent);
    return squash(e.textContent);
  };
  const shown = (e) => e.getClientRects().length > 0 && getComputedStyle(e).visibility !== 'hidden';
  window.__find = (role, wanted) => {
    const over = [...document.querySelectorAll('[role=dialog][aria-modal=true]')].filter(shown).pop();
    const all = [...(over || document).querySelectorAll(roles[role])].filter(shown);
    return all.find((e) => name(e) === wanted) || all.find((e) => name(e).startsWith(wanted));
  };
})()`

// find runs a piece of script with e as the thing, waiting until it is there.
func find[T any](p *Page, role, name, body string) (T, error) {
	r, _ := json.Marshal(role)
	n, _ := json.Marshal(name)
	expr := fmt.Sprintf(`(() => { %s; const e = window.__find(%s, %s); if (!e) return null; %s })()`, script, r, n, body)
	if p.lost != nil {
		var none T
		return none, p.lost
	}
	deadline := time.Now().Add(patience)
	for {
		got, err := chromedp.Run(p.ctx, chromedp.Evaluate[*T](expr))
		if err == nil && got != nil {
			return *got, nil
		}
		if time.Now().After(deadline) {
			var none T
			text, _ := chromedp.Run(p.ctx, chromedp.Evaluate[string](`document.body.innerText`))
			p.lost = fmt.Errorf("no %s called %q (%w); the page says:\n%s", role, name, err, text)
			return none, p.lost
		}
		time.Sleep(50 * time.Millisecond)
	}
}

type spot struct{ X, Y, W, H float64 }

// spot finds where a thing is, once it has come to rest there.
func (p *Page) spot(role, name string) (spot, error) {
	last, err := p.place(role, name)
	for range 100 {
		if err != nil {
			break
		}
		time.Sleep(60 * time.Millisecond)
		var now spot
		if now, err = p.place(role, name); now == last {
			break
		}
		last = now
	}
	return last, err
}

func (p *Page) place(role, name string) (spot, error) {
	return find[spot](
		p,
		role,
		name,
		`e.scrollIntoView({block: 'nearest'}); const r = e.getBoundingClientRect()
		return e.disabled ? null : {X: r.x, Y: r.y, W: r.width, H: r.height}`,
	)
}

// Click presses the middle of a thing.
func (p *Page) Click(role, name string) error {
	return p.press(role, name, func(s spot) (chromedp.Action[chromedp.Void], error) {
		return chromedp.MouseClickXY(s.X+s.W/2, s.Y+s.H/2), nil
	})
}

// press presses a thing somehow. On a busy machine a thing may move between
// being found and being pressed: a press that landed on something else is made
// again, one that the page has not yet had time for is waited for.
func (p *Page) press(role, name string, how func(spot) (chromedp.Action[chromedp.Void], error)) error {
	for range 4 {
		s, err := p.spot(role, name)
		if err != nil {
			return err
		}
		act, err := how(s)
		if err != nil {
			return err
		}
		_, err = find[bool](p, role, name, `window.__press = 'none';
			const felt = (c) => { window.__press = c.composedPath().includes(e) ? 'felt' : 'missed' }
			window.addEventListener('click', felt, {once: true, capture: true}); return true`)
		if err != nil {
			return err
		}
		if err := chromedp.Do(p.ctx, act); err != nil {
			return err
		}
		deadline := time.Now().Add(patience)
		press := "none"
		for press == "none" && time.Now().Before(deadline) {
			if press, err = Eval[string](p, `window.__press ?? 'felt'`); err != nil || press == "felt" {
				return err // a page that was left has felt it too
			}
			time.Sleep(30 * time.Millisecond)
		}
	}
	return fmt.Errorf("the %s %q does not feel a press", role, name)
}

// ClickWithin presses a thing at a share of its width and height.
func (p *Page) ClickWithin(role, name string, x, y float64) error {
	s, err := p.spot(role, name)
	if err != nil {
		return err
	}
	return chromedp.Do(p.ctx, chromedp.MouseClickXY(s.X+s.W*x, s.Y+s.H*y))
}

// Drag pulls from one share of a thing's size to another in small steps.
func (p *Page) Drag(role, name string, x0, y0, x1, y1 float64) error {
	s, err := p.spot(role, name)
	if err != nil {
		return err
	}
	at := func(f float64) (float64, float64) {
		return s.X + s.W*(x0+f*(x1-x0)), s.Y + s.H*(y0+f*(y1-y0))
	}
	left := func(params *input.DispatchMouseEventParams) {
		params.Button = input.MouseButtonLeft
		params.ClickCount = 1
	}
	x, y := at(0)
	steps := []chromedp.Action[chromedp.Void]{
		chromedp.MouseEvent(chromedp.MouseMoved, x, y),
		chromedp.MouseEvent(chromedp.MousePressed, x, y, left),
	}
	const pieces = 12
	for i := 1; i <= pieces; i++ {
		x, y = at(float64(i) / pieces)
		steps = append(steps, chromedp.MouseEvent(chromedp.MouseMoved, x, y, left))
	}
	steps = append(steps, chromedp.MouseEvent(chromedp.MouseReleased, x, y, left))
	return chromedp.Do(p.ctx, steps...)
}

// Fill types into a field and leaves it.
func (p *Page) Fill(label, text string) error {
	if err := p.Type(label, text); err != nil {
		return err
	}
	_, err := find[bool](p, "field", label, `e.blur(); return true`)
	return err
}

// Type types into a field and stays there.
func (p *Page) Type(label, text string) error {
	_, err := find[bool](p, "field", label, `e.focus(); if (e.select) e.select(); return true`)
	if err != nil {
		return err
	}
	return p.insert(text)
}

// insert types into what has the focus.
func (p *Page) insert(text string) error {
	return chromedp.Do(p.ctx, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, input.InsertText, input.InsertTextParams{Text: text})
		return err
	}))
}

// SetDate enters a date into a date field.
func (p *Page) SetDate(label, iso string) error {
	_, err := find[bool](p, "field", label, fmt.Sprintf(`
		Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(e, %q);
		e.dispatchEvent(new Event('input', {bubbles: true})); return true`, iso))
	return err
}

// Choose picks an option of a drop-down by what it says.
func (p *Page) Choose(label, option string) error {
	_, err := find[bool](p, "field", label, fmt.Sprintf(`
		const o = [...e.options].find((o) => o.text === %q); if (!o) return null;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(e, o.value);
		e.dispatchEvent(new Event('change', {bubbles: true})); return true`, option))
	return err
}

// Value returns what a field holds.
func (p *Page) Value(label string) (string, error) {
	return find[string](p, "field", label, `return e.tagName === 'SELECT' ? e.selectedOptions[0].text : e.value`)
}

// TextOf returns what is written on a thing.
func (p *Page) TextOf(role, name string) (string, error) {
	return find[string](p, role, name, `return e.textContent`)
}

// Upload gives a file to the page's file input.
func (p *Page) Upload(path string) error {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	return chromedp.Do(ctx, chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{path}))
}

// Key presses a key, with modifiers.
func (p *Page) Key(key string, with ...chromedp.KeyOption) error {
	return chromedp.Do(p.ctx, chromedp.KeyEvent(key, with...))
}

// See waits until the page shows a text.
func (p *Page) See(text string) error { return p.wait(text, true) }

// Gone waits until the page does not show a text.
func (p *Page) Gone(text string) error { return p.wait(text, false) }

func (p *Page) wait(text string, there bool) error {
	if p.lost != nil {
		return p.lost
	}
	deadline := time.Now().Add(patience)
	for {
		body, err := p.Text()
		if err == nil && strings.Contains(body, text) == there {
			return nil
		}
		if time.Now().After(deadline) {
			asked, _ := Eval[string](p, `performance.getEntriesByType('resource').filter((e) => e.name.includes('/api/')).slice(-12)
				.map((e) => e.name.slice(-40) + ' ' + e.responseStatus + ' after ' + Math.round(e.duration) + ' ms').join('\n')`)
			p.lost = errors.Join(
				err,
				fmt.Errorf("waited for %q to be there: %v; the page says:\n%s\nand last asked for:\n%s", text, there, body, asked),
			)
			return p.lost
		}
		time.Sleep(40 * time.Millisecond)
	}
}

// Text returns everything that the page shows, white space folded.
func (p *Page) Text() (string, error) {
	text, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](`document.body.innerText`))
	return strings.Join(strings.Fields(text), " "), err
}

// Eval runs an expression.
func Eval[T any](p *Page, expression string) (T, error) {
	return chromedp.Run(p.ctx, chromedp.Evaluate[T](expression, chromedp.EvalAwaitPromise))
}

// Drawn waits until the 3D view has drawn and is at rest: no further frame
// within several turns of the page's own frame clock, which a busy machine slows
// as it slows the drawing.
func (p *Page) Drawn() error {
	deadline := time.Now().Add(patience)
	last, still := "", 0
	for time.Now().Before(deadline) {
		frames, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](`new Promise((done) => {
			const seen = () => (document.querySelector('canvas') || {dataset: {}}).dataset.frames || ''
			let turns = 2
			const turn = () => turns-- > 0 ? requestAnimationFrame(turn) : done(seen())
			turn()
		})`, chromedp.EvalAwaitPromise))
		if err != nil {
			return err
		}
		if still++; frames == "" || frames != last {
			still = 0
		}
		if still >= 3 {
			return nil
		}
		last = frames
		time.Sleep(60 * time.Millisecond)
	}
	return fmt.Errorf("the 3D view did not come to rest; frames %q", last)
}

// Scheme asks for the light or the dark scheme, and for no motion.
func (p *Page) Scheme(name string) error {
	return chromedp.Do(p.ctx, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{
			{Name: "prefers-color-scheme", Value: name}, {Name: "prefers-reduced-motion", Value: "reduce"}}})
		return err
	}))
}

// Shot writes a picture of the page.
func (p *Page) Shot(path string) error {
	png, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	return os.WriteFile(path, png, 0o644)
}
