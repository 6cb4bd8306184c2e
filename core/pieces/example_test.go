package pieces_test

import (
	"context"
	"fmt"

	"bathyform/core/mesh/meshtest"
	"bathyform/core/pieces"
	"bathyform/core/practice"

	"gonum.org/v1/gonum/spatial/r3"
)

// The rubber round a ball falls into two halves, which come away.
func Example() {
	p, err := pieces.Make(context.Background(), meshtest.Sphere(20, 32), pieces.Choices{
		Draw: r3.Vec{Z: 1}, Clearance: practice.Usual().Clearance, Cells: 48}, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, piece := range p.Pieces {
		fmt.Printf("%d: %s, %.0f mL, catches %.0f\n", piece.Order, piece.Name, piece.Volume/1000, piece.Catches)
	}
	fmt.Printf("a parting line of %.0f cm\n", p.Line/10)
	// Output:
	// 1: Half A, 146 mL, catches 0
	// 2: Half B, 120 mL, catches 0
	// a parting line of 12 cm
}
