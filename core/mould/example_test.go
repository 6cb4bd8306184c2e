package mould_test

import (
	"context"
	"fmt"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/part"
	"bathyform/core/practice"
)

// A master known by calipers and scale, under one pour of rubber on a board.
func Example() {
	m := bench.Take(part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 12, Volume: 20, How: "displaced water"}})
	d, err := m.Start(context.Background(), practice.Usual())
	if err != nil {
		fmt.Println(err)
		return
	}
	p, err := m.Lay(context.Background(), bench.Question{Design: d, Kind: design.OpenFace, House: practice.Usual()})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf(
		"%s: box %.0f × %.0f × %.0f mm, %.1f mL of rubber\n",
		p.Kind.Name,
		p.Box.Wide,
		p.Box.Deep,
		p.Box.Height.Value,
		p.Rubber.Value,
	)
	for _, pour := range p.Pours {
		fmt.Printf("%s, %s up, to %.0f mm\n", pour.Name, pour.Up, pour.Level)
	}
	// Output:
	// Open-face block: box 84 × 64 × 32 mm, 152.0 mL of rubber
	// Block, +z up, to 32 mm
}
