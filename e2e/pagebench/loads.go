package main

import (
	"errors"
	"fmt"
	"time"

	"bathyform/e2e/browser"
)

// loads prints how soon each view is there, with an empty and a full cache.
func (b *runner) loads() error {
	fmt.Printf("\n| view | cold, ms | warm, ms |\n|---|--:|--:|\n")
	for _, v := range []struct{ name, path, says string }{
		{"Jobs", "/", "Ballast bulb"},
		{"Order", b.cleat + "/order", "Lantern Bay"},
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
		var took [2]float64
		c, err := browser.Start()
		if err != nil {
			return err
		}
		for i := range took {
			p, err := c.Open(b.base, 1280, 800)
			if err != nil {
				return err
			}
			if err := errors.Join(p.Early(watcher), p.Go(v.path)); err != nil {
				return err
			}
			took[i], err = browser.Eval[float64](p, fmt.Sprintf(`new Promise((done) => {
				const look = () => document.body.innerText.toLowerCase().includes(%q.toLowerCase()) ? done(performance.now()) : setTimeout(look, 20)
				look()
			})`, v.says))
			if err != nil {
				return err
			}
			time.Sleep(time.Second)
			p.Close()
		}
		c.Close()
		fmt.Printf("| %s | %.0f | %.0f |\n", v.name, took[0], took[1])
	}
	return nil
}
