package mesh_test

import (
	"fmt"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// A part comes as a file. What it is worth is said at once: how much resin it
// takes, and whether its surface closes.
func Example() {
	file := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 20}).WriteSTL()
	part, report, err := mesh.Load(file, 1) // drawn in millimetres
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%d triangles, %.0f mL, closed: %t\n", len(part.Triangles), part.Volume()/1000, report.Edges.Closed())
	// Output: 12 triangles, 48 mL, closed: true
}
