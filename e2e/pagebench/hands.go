package main

import (
	"errors"
	"fmt"
	"os"
	"strings"
	"time"

	"bathyform/e2e/browser"

	"github.com/chromedp/chromedp"
)

// act is one thing that a hand does, over and over.
type act struct {
	name  string
	kind  string // the event by which it begins
	asks  string // the end of the address that answers; empty where the page answers itself
	ready func(p *browser.Page) error
	do    func(p *browser.Page) error
}

const (
	again  = 20 // times for what is done once
	pulled = 3 * time.Second
	pause  = 300 * time.Millisecond
)

// times does a thing over and over, with a breath between.
func times(do func(i int) error) error {
	for i := range again {
		if err := do(i); err != nil {
			return err
		}
		time.Sleep(pause)
	}
	return nil
}

func (b *runner) acts() []act {
	gates := func(p *browser.Page) error {
		return errors.Join(p.Go(b.cleat+"/gates"), p.See("Air left in"), p.Drawn(), p.Drawn())
	}
	mould := func(p *browser.Page) error {
		return errors.Join(p.Go(b.cleat+"/mould"), p.See("Mass to mix"), p.Gone("Dividing the rubber"), p.Drawn(), p.Drawn())
	}
	key := func(keys ...string) func(p *browser.Page) error {
		return func(p *browser.Page) error {
			return times(func(i int) error { return p.Key(keys[i%len(keys)]) })
		}
	}
	return []act{
		{"the parting dragged in the section", "pointermove", "/study", mould, func(p *browser.Page) error {
			x, y, err := p.Middle("slider", "Parting")
			if err != nil {
				return err
			}
			return p.Pull(x, y, x+40, y+40, pulled)
		}},
		{"a vent dragged on the part in 3D", "pointermove", "/study", gates, func(p *browser.Page) error {
			x, y, err := b.vent(p)
			if err != nil {
				return err
			}
			return p.Pull(x, y, x-25, y+12, pulled)
		}},
		{"the level dragged on the rail", "pointermove", "", gates, func(p *browser.Page) error {
			x, y, err := p.Middle("slider", "Level")
			if err != nil {
				return err
			}
			return p.Pull(x, y, x, y+150, pulled)
		}},
		{"the section plane moved by a key", "keydown", "/section", func(p *browser.Page) error {
			return errors.Join(gates(p), p.Focus("group", "Section; arrow keys"))
		}, key("ArrowRight")},
		{"the level moved by a key", "keydown", "", gates, key("[", "]")},
		{"undo and redo", "keydown", "", func(p *browser.Page) error {
			return errors.Join(gates(p), p.Fill("Bore of new vents", "2.2"), p.Fill("Sprue bore", "7.5"), p.Gone("keeping"))
		}, func(p *browser.Page) error {
			return times(func(i int) error {
				if i%2 == 0 {
					return p.Key("z", chromedp.KeyModifiers(chromedp.ModifierCtrl))
				}
				return p.Key("z", chromedp.KeyModifiers(chromedp.ModifierCtrl|chromedp.ModifierShift))
			})
		}},
		{"a bore typed", "keydown", "/study", gates, func(p *browser.Page) error {
			return times(func(i int) error {
				return errors.Join(p.Type("Sprue bore", fmt.Sprintf("%.1f", 6+0.1*float64(i))), p.Key("\r"))
			})
		}},
		{"a tab opened", "pointerdown", "", mould, func(p *browser.Page) error {
			return times(func(i int) error { return p.Click("tab", []string{"Pieces", "Box"}[i%2]) })
		}},
		{"a number opened and closed", "pointerdown", "", gates, func(p *browser.Page) error {
			return times(func(int) error { return p.Click("button", "Shot") })
		}},
		{"the palette opened and closed", "keydown", "", gates, func(p *browser.Page) error {
			return times(func(i int) error {
				if i%2 == 0 {
					return p.Key("k", chromedp.KeyModifiers(chromedp.ModifierCtrl))
				}
				return p.Key("\x1b")
			})
		}},
	}
}

// hands prints how soon the page answers a hand.
func (b *runner) hands() error {
	head("what a hand does", "times")
	one := os.Getenv("ONE")
	for _, a := range b.acts() {
		if one != "" && !strings.Contains(a.name, one) {
			continue
		}
		p, err := b.chromium.Open(b.base, 1280, 800)
		if err != nil {
			return err
		}
		if err := errors.Join(p.Early(watcher), p.Early(noTour), p.Scheme("light"), a.ready(p)); err != nil {
			return err
		}
		time.Sleep(2 * time.Second) // what else was asked for is there
		if err := errors.Join(forget(p), a.do(p)); err != nil {
			return err
		}
		time.Sleep(time.Second)
		w, err := notes(p)
		if err != nil {
			return err
		}
		w.painted(a.kind).row(a.name + ": drawn")
		if a.asks != "" {
			w.answered(a.kind, a.asks).row(a.name + ": answered")
		}
		p.Close()
	}
	return nil
}
