package main

import (
	"errors"
	"fmt"
	"time"

	"bathyform/e2e/browser"
)

// noTour keeps the tour, which a first visit is offered, out of the way.
const noTour = `localStorage.setItem('bathyform tour', '"done"')`

// until goes on to a view of the page, or not, and waits until it says something.
const until = `new Promise((done) => {
	const from = %t ? performance.now() : 0, path = %q, says = %q
	if (from) {
		history.pushState({}, '', path)
		dispatchEvent(new PopStateEvent('popstate', { state: {} }))
	}
	const look = () => {
		const there = document.body.innerText.toLowerCase().includes(says.toLowerCase())
		if (there) done(performance.now() - from)
		else if (performance.now() - from > 30000) done(-1)
		else setTimeout(look, 20)
	}
	look()
})`

// loads prints how soon each view is there, with an empty and a full cache and from another view.
func (b *runner) loads() error {
	fmt.Printf("\n| view | empty cache, ms | full cache, ms | from another view, ms |\n|---|--:|--:|--:|\n")
	for _, v := range []struct{ name, path, says string }{
		{"Jobs", "/", "Ballast bulb"},
		{"Order", b.cleat + "/order", "Quantity"},
		{"Master", b.cleat + "/master", "Take another master"},
		{"Mould", b.cleat + "/mould", "Mass to mix"},
		{"Gates", b.cleat + "/gates", "Air left in"},
		{"Rubber", b.cleat + "/rubber", "Part A"},
		{"Shot", b.cleat + "/shot", "Part A"},
		{"Pulls", b.cleat + "/pulls", "FL-14"},
		{"Rack", "/rack", "FL-14"},
		{"Stock", "/stock", "Tin-cure"},
		{"House practice", "/practice", "Sprue"},
	} {
		var took [3]float64
		c, err := browser.Start()
		if err != nil {
			return err
		}
		for i := range took {
			p, err := c.Open(b.base, 1280, 800)
			if err != nil {
				return err
			}
			first := v.path
			if i == 2 { // another view of the same kind is open
				first = map[bool]string{true: "/rack", false: b.cleat + "/order"}[v.path == "/"]
			}
			if err := errors.Join(p.Early(watcher), p.Early(noTour), p.Go(first)); err != nil {
				return err
			}
			if i == 2 {
				if err := rest(p); err != nil {
					return err
				}
			}
			took[i], err = browser.Eval[float64](p, fmt.Sprintf(until, i == 2, v.path, v.says))
			if err != nil {
				return err
			}
			time.Sleep(time.Second)
			p.Close()
		}
		c.Close()
		fmt.Printf("| %s | %.0f | %.0f | %.0f |\n", v.name, took[0], took[1], took[2])
	}
	return nil
}
