package main

import (
	"errors"
	"fmt"
	"math"
	"os"
	"path/filepath"

	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// million prints what a master of a million triangles does to the page.
func (b *runner) million() error {
	path := filepath.Join(os.TempDir(), fmt.Sprintf("million-%d.stl", os.Getpid()))
	defer os.Remove(path) //nolint:errcheck // a temporary file
	m := meshtest.Sphere(40, 1000)
	for i, v := range m.Vertices { // a pebble with dents
		m.Vertices[i] = r3.Scale(1+0.04*math.Sin(v.X/4)*math.Sin(v.Y/5)*math.Sin(v.Z/3), v)
	}
	if err := os.WriteFile(path, m.WriteSTL(), 0o600); err != nil {
		return err
	}
	p, err := b.chromium.Open(b.base, 1280, 800)
	if err != nil {
		return err
	}
	defer p.Close()
	if err := errors.Join(
		p.Early(watcher), p.Early(noTour), p.Scheme("light"),
		p.Go("/"), p.Click("button", "New job"), p.Fill("Name", "Pebble"), p.Fill("Quantity", "12"), p.Click("button", "Take it on"),
		p.See("Drop the master"), p.Upload(path),
		p.See("TAKE ANOTHER MASTER"), p.Drawn(),
	); err != nil {
		return err
	}
	w, err := notes(p)
	if err != nil {
		return err
	}
	if len(w.Sent) == 0 || len(w.Drawn) == 0 {
		return errors.New("the page did not note what it sent or drew")
	}
	fmt.Printf("\n| %d triangles | |\n|---|--:|\n", len(m.Triangles))
	fmt.Printf("| from the last byte sent to the first picture, ms | %.0f |\n", w.Drawn[0]-w.Sent[0])
	fmt.Printf("| longest stretch of the page's thread, ms | %.0f |\n", w.longest())
	for _, s := range []struct{ stage, says string }{
		{"Mould", "Box"}, {"Gates", "Air left in"}, {"Rubber", "Rubber of the mould"}, {"Master", "TAKE ANOTHER MASTER"},
	} {
		if err := errors.Join(forget(p), p.Click("link", s.stage), p.See(s.says), rest(p)); err != nil {
			return err
		}
		if w, err = notes(p); err != nil {
			return err
		}
		fmt.Printf("| to %s: longest stretch of the page's thread, ms | %.0f |\n", s.stage, w.longest())
	}
	return nil
}
