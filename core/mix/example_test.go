package mix_test

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// 300 mL of a rubber that is mixed 10 to 1 by weight and weighs 1.18 g/mL.
func ExampleSplit() {
	rubber := mix.Material{Name: "rubber", Ratio: mix.Ratio{A: 10, B: 1}, Density: 1.18}
	b, err := mix.Split(rubber, derive.Of(quantity.Volume, 300, "to mix", derive.From("pour", quantity.Volume, 300, "the plan")))
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.1f g of A and %.1f g of B\n", b.A.Value, b.B.Value)
	// Output: 321.8 g of A and 32.2 g of B
}
