// Command shots takes the pictures in docs/screenshots of a running demo.
package main

import (
	"cmp"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"bathyform/e2e/browser"
)

func main() {
	base := flag.String("on", "http://127.0.0.1:8440", "address of the running demo")
	dir := flag.String("to", filepath.Join("docs", "screenshots"), "folder for the pictures")
	only := flag.String("only", "", "take only the views whose name contains this")
	flag.Parse()
	if err := run(*base, *dir, *only); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// noTour keeps the tour, which the first visit is offered, out of the pictures.
const noTour = `localStorage.setItem('bathyform tour', '"done"')`

type view struct {
	name          string
	path          string // {cleat} stands for the deck cleat's job
	width, height int64
	scheme        string
	drawn         bool
	act           func(p *browser.Page) error
}

var views = []view{
	{name: "jobs", path: "/"},
	{name: "master", path: "{cleat}/master", drawn: true},
	{name: "master-draw", path: "{hub}/master", drawn: true, act: inTab("Draw", func(p *browser.Page) error {
		return errors.Join(p.See("side piece"), p.Click("button", "Search the best draws"), p.Gone("Cancel"))
	})},
	{name: "master-pour", path: "{cleat}/master", drawn: true, act: inTab("Pour", func(p *browser.Page) error {
		return errors.Join(p.Click("button", "Search ways up"), p.See("air left in"), p.Gone("Cancel"), p.Drawn())
	})},
	{name: "mould", path: "{cleat}/mould", drawn: true, act: func(p *browser.Page) error {
		return errors.Join(p.See("Mass to mix"), p.Gone("Dividing the rubber"), p.Drawn(), p.Drawn())
	}},
	{name: "mould-pieces", path: "{hub}/mould", drawn: true, act: inTab("Pieces", func(p *browser.Page) error {
		return errors.Join(
			p.Click("button", "Give undercuts side pieces"),
			p.See("Side 6"),
			p.See("order of opening"),
			p.Drawn(),
			p.Drawn(),
		)
	})},
	{name: "mould-gang", path: "{cleat}/mould", drawn: true, act: inTab("Gang", func(p *browser.Page) error {
		return errors.Join(
			p.See("Rubber for each cavity"),
			p.See("work"),
			p.Click("button", "Lay 6"),
			p.Gone("Laying them"),
			p.Drawn(),
		)
	})},
	{name: "mould-build", path: "{hub}/mould", drawn: true, act: inTab("Build", func(p *browser.Page) error {
		return errors.Join(p.Choose("Kind of mould", "Three pieces and more"), p.See("6 side pieces"), p.See("Build sheet"))
	})},
	{name: "gates", path: "{cleat}/gates", drawn: true},
	{name: "rubber", path: "{cleat}/rubber", act: func(p *browser.Page) error { return p.See("First casting out") }},
	{name: "shot", path: "{cleat}/shot", act: func(p *browser.Page) error { return p.See("Part A") }},
	{name: "pulls", path: "{collar}/pulls", act: func(p *browser.Page) error {
		return errors.Join(p.See("FL-12"), p.See("WHAT THE SCRAP HAS IN COMMON"))
	}},
	{name: "bench-weighing", path: "/bench", width: 820, height: 1180, scheme: "dark", act: weighing},
	{name: "bench", path: "/bench", act: func(p *browser.Page) error { return p.See("TRAINING") }},
	{name: "rack", path: "/rack"},
	{name: "stock", path: "/stock"},
	{name: "practice", path: "/practice"},
	{name: "learnt", path: "/learnt", act: func(p *browser.Page) error { return p.See("WHAT STAYS IN A CUP OF RESIN") }},
	{name: "mould-page", path: "/rack", act: func(p *browser.Page) error {
		return errors.Join(p.See("FL-12"), p.Click("link", "FL-12"), p.See("STORY"))
	}},
}

// weighing goes on with a casting run until part B is poured.
func weighing(p *browser.Page) error {
	err := errors.Join(p.See("TRAINING"), p.Click("button", "Cast"), p.Click("button", "Begin"), p.See("1 of"))
	for i := 2; i <= 5; i++ {
		err = errors.Join(err, p.Click("button", "Done"), p.See(fmt.Sprintf("%d of", i)))
	}
	return errors.Join(
		err,
		p.Click("button", "Put the cup on"),
		p.See("38"),
		p.Click("button", "Tare"),
		p.See("6 of"),
		p.Click(
			"button",
			"Pour the rest",
		),
		p.Click("button", "Keep"),
		p.See("7 of"),
		p.Click("button", "+10 g"),
		p.Click("button", "+10 g"),
		p.Click("button", "+1 g"),
		p.See("pot life"),
		p.See("Keep"),
	)
}

// inTab opens a tab of the master stage and goes on there.
func inTab(name string, then func(p *browser.Page) error) func(p *browser.Page) error {
	return func(p *browser.Page) error { return errors.Join(p.Click("tab", name), then(p)) }
}

func run(base, dir, only string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	b, err := browser.Start()
	if err != nil {
		return err
	}
	defer b.Close()
	for _, v := range views {
		if !strings.Contains(v.name, only) {
			continue
		}
		if err := take(b, base, filepath.Join(dir, v.name+".png"), v); err != nil {
			return fmt.Errorf("%s: %w", v.name, err)
		}
	}
	return nil
}

func take(b *browser.Browser, base, file string, v view) error {
	p, err := b.Open(base, cmp.Or(v.width, 1280), cmp.Or(v.height, 800))
	if err != nil {
		return err
	}
	if err := errors.Join(p.Scheme(cmp.Or(v.scheme, "light")), p.Early(noTour), p.Go("/"), p.See("Deck cleat")); err != nil {
		return err
	}
	if v.width != 0 {
		if err := p.Touch(v.width, v.height); err != nil {
			return err
		}
	}
	path := v.path
	for key, name := range map[string]string{"{cleat}": "Deck cleat", "{hub}": "Drogue hub", "{collar}": "Collar half"} {
		job, err := browser.Eval[string](
			p,
			fmt.Sprintf(
				`[...document.querySelectorAll('a')].find((a) => a.textContent.includes(%q)).getAttribute('href').replace(/\/[a-z]+$/, '')`,
				name,
			),
		)
		if err != nil {
			return err
		}
		path = strings.ReplaceAll(path, key, job)
	}
	if err := p.Go(path); err != nil {
		return err
	}
	if v.drawn {
		err = p.Drawn()
	} else {
		err = p.See("Bathyform")
	}
	if err == nil && v.act != nil {
		err = v.act(p)
	}
	if err != nil {
		return err
	}
	time.Sleep(400 * time.Millisecond) // fonts and popovers
	for _, c := range p.Complaints() {
		fmt.Fprintln(os.Stderr, v.name+": "+c)
	}
	return p.Shot(file)
}
