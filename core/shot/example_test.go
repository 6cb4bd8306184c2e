package shot_test

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/gate"
	"bathyform/core/quantity"
	"bathyform/core/shot"
)

// Four cavities of 25 mL without channels, and a tenth for cup and flash.
func Example() {
	part := derive.Of(quantity.Volume, 25, "volume of the master", derive.From("mesh", quantity.Volume, 25, "the mesh, exact"))
	p, err := shot.Make(shot.Ask{Part: part, Gates: gate.Layout{}, Cavities: 4, Over: 10})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, line := range p.Lines {
		fmt.Printf("%s: %.0f mL\n", line.Name, line.Volume.Value)
	}
	fmt.Printf("in all %.0f mL\n", p.Total.Value)
	// Output:
	// Cavity: 25 mL
	// 3 more cavities: 75 mL
	// Cup, flash and margin: 10 mL
	// in all 110 mL
}
