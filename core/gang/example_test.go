package gang_test

import (
	"fmt"

	"bathyform/core/gang"
	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// Six slats in one box, 8 mm of rubber between them and 12 to the wall.
func Example() {
	slat, err := gang.Seen(meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 10, Z: 8}), r3.Vec{Z: 1})
	if err != nil {
		fmt.Println(err)
		return
	}
	l, err := gang.Lay(slat, gang.Ask{Count: 6, Gap: 8, Edge: 12})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%d cavities in %.0f × %.0f mm\n", len(l.Poses), l.Wide, l.Deep)
	// Output: 6 cavities in 84 × 124 mm
}
