package fill_test

import (
	"fmt"

	"bathyform/core/fill"
	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// A ball filled from its lowest point keeps all of its air until it is vented
// at its highest.
func Example() {
	space, err := fill.Prepare(meshtest.Sphere(10, 32), r3.Vec{Z: 1}, fill.Options{})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, vents := range [][]fill.Opening{nil, {{At: r3.Vec{Z: 10}, Bore: 2}}} {
		caught, err := space.Trap(vents)
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Printf("%d vents: %.1f mL of air stays\n", len(vents), caught.Volume/1000)
	}
	// Output:
	// 0 vents: 4.1 mL of air stays
	// 1 vents: 0.0 mL of air stays
}
