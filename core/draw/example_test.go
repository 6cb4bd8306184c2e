package draw_test

import (
	"context"
	"fmt"

	"bathyform/core/draw"
	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// A reel is locked along its axle, and comes away across it.
func Example() {
	reel := meshtest.Turned(
		48,
		[2]float64{0, 0},
		[2]float64{20, 0},
		[2]float64{20, 4},
		[2]float64{8, 4},
		[2]float64{8, 16},
		[2]float64{20, 16},
		[2]float64{20, 20},
		[2]float64{0, 20},
	)
	for _, along := range []r3.Vec{{Z: 1}, {X: 1}} {
		a, err := draw.Analyse(context.Background(), reel, along, draw.Options{})
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Printf("drawn along %v: %.0f mL of rubber locked\n", along, a.Volume/1000)
	}
	// Output:
	// drawn along {0 0 1}: 13 mL of rubber locked
	// drawn along {1 0 0}: 0 mL of rubber locked
}
