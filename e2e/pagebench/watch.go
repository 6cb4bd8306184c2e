package main

import (
	_ "embed"
	"strings"

	"bathyform/e2e/browser"
)

//go:embed watch.js
var watcher string

// watched is what a page noted of itself, ms since it was opened.
type watched struct {
	Hand []struct {
		Kind string  `json:"kind"`
		At   float64 `json:"at"`
	} `json:"hand"`
	Asked []struct {
		Path  string  `json:"path"`
		Sent  float64 `json:"sent"`
		Shown float64 `json:"shown"`
	} `json:"asked"`
	Painted []float64 `json:"painted"`
	Sent    []float64 `json:"sent"`  // the last byte of a file
	Drawn   []float64 `json:"drawn"` // the first picture in 3D
	Busy    []struct {
		At   float64 `json:"at"`
		Long float64 `json:"long"`
	} `json:"busy"`
}

func forget(p *browser.Page) error {
	_, err := browser.Eval[bool](p, `(() => { const b = window.__bench; for (const k in b) b[k].length = 0; return true })()`)
	return err
}

// rest waits until nothing has been asked of the server for a second.
func rest(p *browser.Page) error {
	_, err := browser.Eval[bool](p, `new Promise((done) => {
		let still = 0
		const look = () => {
			still = window.__benchOpen > 0 ? 0 : still + 1
			if (still > 20) done(true)
			else setTimeout(look, 50)
		}
		look()
	})`)
	return err
}

func notes(p *browser.Page) (watched, error) { return browser.Eval[watched](p, `window.__bench`) }

// painted is how long each act of a hand waited for the page to change.
func (w watched) painted(kind string) (out figures) {
	for _, h := range w.Hand {
		if h.Kind != kind {
			continue
		}
		for _, t := range w.Painted {
			if t > h.At {
				out = append(out, t-h.At)
				break
			}
		}
	}
	return out
}

// answered is how long each act of a hand waited until the answer to a
// question that was put after it was on the page.
func (w watched) answered(kind, path string) (out figures) {
	for _, h := range w.Hand {
		if h.Kind != kind {
			continue
		}
		for _, a := range w.Asked {
			if a.Sent >= h.At && a.Shown > 0 && strings.HasSuffix(a.Path, path) {
				out = append(out, a.Shown-h.At)
				break
			}
		}
	}
	return out
}

// longest is how long the page's own thread was busy at a stretch, at most.
func (w watched) longest() (most float64) {
	for _, b := range w.Busy {
		most = max(most, b.Long)
	}
	return most
}
